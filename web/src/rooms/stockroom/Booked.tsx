/** Pairs that come or go otherwise than by a sale or a count. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { count, rememberCount } from "../../api/moves";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { NumberField } from "../../ui/NumberField";

type Kind = NonNullable<Schemas["MoveIn"]["kind"]>;

const BOOKED: { value: Kind; text: string; sign: number }[] = [
  { value: "received", text: "Came in", sign: 1 },
  { value: "returned", text: "Sent back", sign: -1 },
  { value: "lent", text: "Lent", sign: -1 },
  { value: "written_off", text: "Written off", sign: -1 },
];

/** Pairs that come or go otherwise than by a sale or a count, with the reason. */
export function Booked({ line, name }: { line: string; name: string }) {
  const [kind, setKind] = useState<Kind>("received");
  const [pairs, setPairs] = useState<number | null>(1);
  const [why, setWhy] = useState("");
  const sign = BOOKED.find((b) => b.value === kind)?.sign ?? 1;
  const ready = pairs !== null && pairs > 0 && Number.isInteger(pairs);
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (!ready) return;
        const by = sign * pairs;
        count(line, by, kind, why.trim());
        rememberCount(line, by, `${name}: ${BOOKED.find((b) => b.value === kind)?.text.toLowerCase()}`);
        setPairs(1);
        setWhy("");
      }}
    >
      <OneOf label="What it was" value={kind} options={BOOKED} onChange={(v) => setKind(v as Kind)} />
      <NumberField
        label="Pairs"
        value={pairs}
        min={1}
        decimals={0}
        onChange={setPairs}
        width="w-24 shrink-0"
      />
      <label className="flex-1 text-faint text-xs">
        Why
        <input
          value={why}
          maxLength={300}
          onChange={(e) => setWhy(e.target.value)}
          className="block min-h-11 w-full rounded-sm border border-ink/45 bg-sheet px-2.5 text-base text-ink"
        />
      </label>
      <Button type="submit" disabled={!ready}>
        Book it
      </Button>
    </form>
  );
}
