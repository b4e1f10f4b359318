/** Box labels of some sizes: on a sheet of A4 or Letter, or a small roll; one a pair, or one a size. */
import { useState } from "react";
import { OneOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";

const PAPERS = [
  { value: "a4", text: "A4", hint: "3 × 8, 70 × 37 mm", each: 24 },
  { value: "letter", text: "Letter", hint: "3 × 10, 66.7 × 25.4 mm", each: 30 },
  { value: "roll", text: "Roll", hint: "57 × 32 mm", each: 1 },
];
const PAPER = "kalon.labels";
const MOST = 240;

interface Props {
  title: string;
  /** Stock lines, with how many of each are on hand. */
  lines: { id: string; on_hand: number }[];
  onClose: () => void;
}

export function Labels({ title, lines, onClose }: Props) {
  const [paper, setPaper] = useState(() => localStorage.getItem(PAPER) ?? "a4");
  const [per, setPer] = useState("pair");
  const [skip, setSkip] = useState<number | null>(null);
  const wanted = lines.filter((l) => l.on_hand > 0);
  const count = per === "pair" ? wanted.reduce((n, l) => n + l.on_hand, 0) : wanted.length;
  const each = PAPERS.find((p) => p.value === paper)?.each ?? 1;
  const href = `/api/labels.pdf?paper=${paper}&skip=${Math.min(skip ?? 0, each - 1)}&${wanted
    .map((l) => `line=${l.id}${per === "pair" ? `*${l.on_hand}` : ""}`)
    .join("&")}`;
  return (
    <Dialog open onClose={onClose} title={`Labels: ${title}`}>
      <OneOf
        label="Paper"
        value={paper}
        options={PAPERS}
        onChange={(v) => {
          localStorage.setItem(PAPER, v);
          setPaper(v);
        }}
      />
      <div className="mt-3 flex flex-wrap items-end gap-3">
        <OneOf
          label="How many"
          value={per}
          options={[
            { value: "pair", text: "One a pair" },
            { value: "size", text: "One a size" },
          ]}
          onChange={setPer}
        />
        {each > 1 && (
          <NumberField
            label="Used on the sheet already"
            decimals={0}
            min={0}
            max={each - 1}
            value={skip}
            onChange={setSkip}
            width="w-44"
          />
        )}
      </div>
      <p className="my-3 text-sm">
        {!wanted.length
          ? "None of them is on hand."
          : count > MOST
            ? `${count} labels are more than ${MOST} at a time: take one a size.`
            : `${count} ${count === 1 ? "label" : "labels"}${each > 1 ? `, ${Math.ceil((count + (skip ?? 0)) / each)} ${Math.ceil((count + (skip ?? 0)) / each) === 1 ? "sheet" : "sheets"}` : ""}.`}
      </p>
      {wanted.length > 0 && count <= MOST && (
        <a
          href={href}
          target="_blank"
          rel="noreferrer"
          onClick={onClose}
          className="inline-flex min-h-11 items-center rounded-sm border border-madder bg-madder px-4 font-medium text-on-madder hover:brightness-110"
        >
          To print
        </a>
      )}
    </Dialog>
  );
}
