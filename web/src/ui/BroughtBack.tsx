/** A pair comes back, or money for it: why, what becomes of the pair, how much is given back. A line of the journal. */
import { useState } from "react";
import { type JournalLine, useBack } from "../api/takings";
import { Button } from "./Button";
import { OneOf } from "./choice";
import { Dialog } from "./Dialog";
import { minorDigits, money } from "./money";
import { NumberField } from "./NumberField";
import { TextField } from "./TextField";

const WHY = ["too small", "too big", "rubs", "faulty", "not what was wanted"];
const STAYS = "stays";
const BECAME = [
  { value: "shelf", text: "Back on the shelf", hint: "as good as new" },
  { value: "worn", text: "Worn", hint: "written off" },
  { value: "supplier", text: "To its supplier", hint: "faulty" },
  { value: STAYS, text: "Stays with them", hint: "money alone" },
];

interface Props {
  /** The sale's line. */
  line: JournalLine;
  /** What stands of it still, in minor units. */
  stands: number;
  onClose: () => void;
  /** Once it is in the journal; whether another pair is wanted for it. */
  onDone?: (exchange: boolean) => void;
}

export function BroughtBack({ line, stands, onClose, onDone }: Props) {
  const back = useBack(line.id);
  const [why, setWhy] = useState("");
  const [became, setBecame] = useState(line.back_already ? STAYS : "");
  const [amount, setAmount] = useState<number | null>(null);
  const [exchange, setExchange] = useState(false);
  const unit = 10 ** minorDigits(line.currency);
  const minor = amount === null ? null : Math.round(amount * unit);
  const stays = became === STAYS;
  const given = minor ?? (stays ? null : stands);
  const ready = !!why.trim() && !!became && given !== null && (given > 0 || !stays);
  const send = () =>
    back.mutate(
      {
        why: why.trim(),
        became: stays ? null : (became as "shelf"),
        amount_minor: minor,
        exchange: exchange && !stays,
      },
      {
        onSuccess: () => {
          onClose();
          onDone?.(exchange && !stays);
        },
      },
    );
  return (
    <Dialog open onClose={onClose} title={`${line.what}, ${line.size}: it came back`}>
      <p className="mb-2 text-faint text-sm">
        Sale {line.number}, {money(line.total_minor, line.currency)}
        {stands === line.total_minor ? "" : `, of which ${money(stands, line.currency)} stands`}. What is
        given back is a line of its own.
      </p>
      <OneOf
        label="Usual reasons"
        value={WHY.includes(why) ? why : ""}
        options={WHY.map((w) => ({ value: w, text: w }))}
        onChange={setWhy}
      />
      <TextField
        className="mt-1"
        label="Why it came back"
        value={why}
        onChange={(v) => setWhy(v.slice(0, 200))}
      />
      <div className="mt-3">
        <span className="block text-faint text-xs">What becomes of the pair</span>
        <OneOf
          label="What becomes of the pair"
          value={became}
          options={line.back_already ? BECAME.slice(-1) : BECAME}
          onChange={setBecame}
          columns="grid grid-cols-2 gap-1.5"
        />
      </div>
      <div className="mt-3 flex flex-wrap items-end gap-4">
        <NumberField
          label={stays ? "Given back" : "Given back, if not all"}
          unit={line.currency}
          step={1}
          min={0}
          max={stands / unit}
          decimals={minorDigits(line.currency)}
          value={amount}
          usual={stands / unit}
          onChange={setAmount}
          width="w-44"
        />
        {became && !stays && (
          <label className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-5"
              checked={exchange}
              onChange={(e) => setExchange(e.target.checked)}
            />
            In exchange for another pair
          </label>
        )}
      </div>
      {back.error && (
        <p role="alert" className="mt-2 border-madder border-l-4 pl-2">
          {back.error.message}
        </p>
      )}
      <span className="mt-4 flex gap-2">
        <Button
          kind="strong"
          weight="seen"
          means={`${given} ${became}`}
          disabled={!ready || back.isPending}
          onClick={send}
        >
          {given === null ? "Give back" : `Give ${money(given, line.currency)} back`}
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </span>
    </Dialog>
  );
}
