/** Something taken along as a file: what, as what, and the file itself. */
import { useState } from "react";
import { OneOf } from "./choice";
import { Dialog } from "./Dialog";

export const TABLES = ["csv", "xlsx", "json"].map((form) => ({ value: form, text: form.toUpperCase() }));

export interface Taken {
  value: string;
  text: string;
  hint?: string;
  /** What it can be taken as; a table's forms where nothing else is said. */
  forms?: { value: string; text: string }[];
  /** Shown in a page of its own, to be printed. */
  shown?: boolean;
}

interface Props {
  title: string;
  kinds: Taken[];
  href: (kind: string, form: string) => string;
  onClose: () => void;
}

export function TakeFile({ title, kinds, href, onClose }: Props) {
  const [kind, setKind] = useState(kinds[0]?.value ?? "");
  const [form, setForm] = useState("csv");
  const what = kinds.find((k) => k.value === kind);
  const forms = what?.forms ?? TABLES;
  const as = forms.some((f) => f.value === form) ? form : (forms[0]?.value ?? "");
  return (
    <Dialog open onClose={onClose} title={title}>
      <OneOf
        label="What"
        value={kind}
        options={kinds}
        onChange={setKind}
        columns="grid grid-cols-2 gap-1.5"
      />
      <div className="mt-4 flex items-end justify-between gap-3">
        <OneOf label="As" value={as} options={forms} onChange={setForm} />
        <a
          href={href(kind, as)}
          download={!what?.shown}
          target={what?.shown ? "_blank" : undefined}
          rel="noreferrer"
          onClick={onClose}
          className="inline-flex min-h-11 items-center rounded-sm border border-madder bg-madder px-4 font-medium text-on-madder hover:brightness-110"
        >
          Take the file
        </a>
      </div>
    </Dialog>
  );
}
