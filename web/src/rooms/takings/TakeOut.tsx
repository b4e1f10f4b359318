/** Takings as files: lines, sums by rate, what models earned, what lies; and the day to print. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";

const FORMS = ["csv", "xlsx", "json"].map((f) => ({ value: f, text: f.toUpperCase() }));
const PAPERS = [
  { value: "a4", text: "PDF, A4" },
  { value: "letter", text: "PDF, Letter" },
];

export function TakeOut({ period, me, onClose }: { period: string; me: Schemas["Me"]; onClose: () => void }) {
  const [kind, setKind] = useState("journal");
  const [form, setForm] = useState("xlsx");
  const kinds = [
    { value: "journal", text: "The journal", hint: "every line" },
    { value: "sums", text: "Sums", hint: "by day and rate of tax" },
    { value: "day", text: "To print", hint: "sums, a day with its lines" },
    ...(me.role === "manager"
      ? [
          { value: "models", text: "Models", hint: "sold, earned, what lies at cost and price" },
          { value: "slow", text: "Slow sizes", hint: "none sold for a long time" },
        ]
      : []),
  ];
  const forms = kind === "day" ? PAPERS : FORMS;
  const as = forms.some((f) => f.value === form) ? form : (forms[0]?.value ?? "");
  const href = kind === "day" ? `day.pdf?paper=${as}&` : `${kind}.${as}?`;
  return (
    <Dialog open onClose={onClose} title={`Take out ${kind === "slow" ? "" : period}`.trim()}>
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
          href={`/api/takings/${href}of=${period}`}
          download={kind !== "day"}
          target={kind === "day" ? "_blank" : undefined}
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
