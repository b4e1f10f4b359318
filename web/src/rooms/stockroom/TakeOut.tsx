/** What the shop has, taken along as a file. */
import { useState } from "react";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";

const KINDS = [
  { value: "stock", text: "Stock", hint: "every size, what is on hand, how it is made" },
  { value: "models", text: "Models", hint: "a line each" },
  { value: "movements", text: "Movements", hint: "every pair that came or went" },
  { value: "athletes", text: "Athletes" },
  { value: "fittings", text: "Fittings", hint: "with what was sold" },
  { value: "follow-ups", text: "Follow-ups", hint: "with what was measured" },
  { value: "learned", text: "What was learned", hint: "of makers, models and sizes" },
];
const FORMS = [
  { value: "csv", text: "CSV" },
  { value: "xlsx", text: "XLSX" },
  { value: "json", text: "JSON" },
];

export function TakeOut({ onClose }: { onClose: () => void }) {
  const [kind, setKind] = useState("stock");
  const [form, setForm] = useState("csv");
  return (
    <Dialog open onClose={onClose} title="Take out">
      <OneOf
        label="What"
        value={kind}
        options={KINDS}
        onChange={setKind}
        columns="grid grid-cols-2 gap-1.5"
      />
      <div className="mt-4 flex items-end justify-between gap-3">
        <OneOf label="As" value={form} options={FORMS} onChange={setForm} />
        <a
          href={`/api/export/${kind}.${form}`}
          download
          onClick={onClose}
          className="inline-flex min-h-11 items-center rounded-sm border border-madder bg-madder px-4 font-medium text-on-madder hover:brightness-110"
        >
          Take the file
        </a>
      </div>
    </Dialog>
  );
}
