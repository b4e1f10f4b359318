/** One line of the journal: what it is made of, the till's own number, and what can be done upon a sale. */
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { type JournalLine, useCorrect, useTill } from "../../api/takings";
import { BroughtBack } from "../../ui/BroughtBack";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/clock";
import { Dialog } from "../../ui/Dialog";
import { minorDigits, money } from "../../ui/money";
import { NumberField } from "../../ui/NumberField";
import { TextField } from "../../ui/TextField";
import { rateWord } from "./SumsOf";

interface Props {
  line: JournalLine;
  me: Schemas["Me"];
  onClose: () => void;
}

export function LineDialog({ line, me, onClose }: Props) {
  const [doing, setDoing] = useState<"back" | "correct" | null>(null);
  const till = useTill(line.id);
  const [number, setNumber] = useState(line.till_number ?? "");
  const of = (minor: number) => money(minor, line.currency);
  if (doing === "back")
    return (
      <BroughtBack line={line} stands={line.stands_minor} onClose={() => setDoing(null)} onDone={onClose} />
    );
  const sums: [string, string][] = [
    ...(line.price_minor !== null
      ? [[line.price_said ? "Price, said for this sale" : "Price", of(line.price_minor)] as [string, string]]
      : []),
    ...(line.discount_minor ? [["Taken off", `−${of(line.discount_minor)}`] as [string, string]] : []),
    ["Total", of(line.total_minor)],
    ...(line.rate_pct === null
      ? []
      : [[`Of which tax, ${rateWord(line.rate_pct)}`, of(line.tax_minor)] as [string, string]]),
    ...(line.kind === "sale" && line.stands_minor !== line.total_minor
      ? [["Stands of it", of(line.stands_minor)] as [string, string]]
      : []),
  ];
  return (
    <Dialog open onClose={onClose} title={`${line.says} ${line.number}`}>
      <p>
        {line.what} <span className="font-mono">{line.size}</span>
        {line.colour && `, ${line.colour}`}
      </p>
      <p className="text-faint text-sm">
        {line.by}, {moment(line.at)}
        {line.upon && ` · upon ${line.upon}`}
        {line.why && ` · ${line.why}`}
        {line.became_says && ` · ${line.became_says}`} · {line.means}
      </p>
      <dl className="my-3 grid grid-cols-[1fr_auto] gap-y-1 border-line border-y py-2">
        {sums.map(([what, amount]) => (
          <div key={what} className="contents">
            <dt>{what}</dt>
            <dd className="text-right font-mono">{amount}</dd>
          </div>
        ))}
      </dl>
      <form
        className="flex items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (!till.isPending) till.mutate(number.trim() || null);
        }}
      >
        <TextField
          className="w-44"
          label="The till's number"
          value={number}
          onChange={(v) => setNumber(v.slice(0, 40))}
        />
        <Button type="submit" disabled={till.isPending || number.trim() === (line.till_number ?? "")}>
          Note it
        </Button>
        {till.isSuccess && <span className="pb-2.5">Noted.</span>}
        {till.error && <span role="alert">{till.error.message}</span>}
      </form>
      {doing === "correct" ? (
        <Correct line={line} onClose={onClose} />
      ) : (
        <span className="mt-4 flex flex-wrap gap-2">
          {line.kind === "sale" && line.stands_minor > 0 && (
            <Button kind="strong" onClick={() => setDoing("back")}>
              It came back
            </Button>
          )}
          {line.kind === "sale" && me.role === "manager" && (
            <Button onClick={() => setDoing("correct")}>Put the sum right</Button>
          )}
          {line.fitting_id && (
            <Link
              to={`/fittings/${line.fitting_id}/settle`}
              className="inline-flex min-h-11 items-center px-2 underline"
            >
              To the fitting
            </Link>
          )}
          <Button onClick={onClose}>Close</Button>
        </span>
      )}
    </Dialog>
  );
}

/** The sum of a sale put right: by how much, and why. */
function Correct({ line, onClose }: { line: JournalLine; onClose: () => void }) {
  const correct = useCorrect(line.id);
  const [by, setBy] = useState<number | null>(null);
  const [why, setWhy] = useState("");
  const unit = 10 ** minorDigits(line.currency);
  const minor = by === null ? 0 : Math.round(by * unit);
  return (
    <form
      className="mt-4 border-line border-t pt-3"
      onSubmit={(e) => e.preventDefault()}
      aria-label="Put the sum right"
    >
      <div className="flex items-end gap-2">
        <NumberField
          label="Wrong by (minus: too much)"
          unit={line.currency}
          decimals={minorDigits(line.currency)}
          value={by}
          min={-line.stands_minor / unit}
          onChange={setBy}
          width="w-44"
        />
        <TextField className="flex-1" label="Why" value={why} onChange={(v) => setWhy(v.slice(0, 200))} />
      </div>
      {correct.error && <p role="alert">{correct.error.message}</p>}
      <span className="mt-3 flex gap-2">
        <Button
          kind="strong"
          weight="seen"
          means={String(minor)}
          disabled={!minor || !why.trim() || correct.isPending}
          onClick={() => correct.mutate({ by_minor: minor, why: why.trim() }, { onSuccess: onClose })}
        >
          {minor ? `Correct by ${money(minor, line.currency)}` : "Correct"}
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </span>
    </form>
  );
}
