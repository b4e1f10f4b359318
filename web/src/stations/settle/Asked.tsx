/** What the pair is asked for in this sale: the shelf's price or one said for it, lowered with a reason. */
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useHouse } from "../../api/house";
import { OneOf } from "../../ui/choice";
import { minorDigits, money } from "../../ui/money";
import { NumberField } from "../../ui/NumberField";
import { TextField } from "../../ui/TextField";

/** A pair nobody knows a price of is asked for one before it is tried; what is said counts for this fitting alone. */
export function SaidPrice({ pair }: { pair: Schemas["PairOut"] }) {
  const { fitting, bodies, set, refusal } = useDesk();
  const currency = useHouse().data?.house.currency ?? "EUR";
  if (fitting.state !== "open" || (pair.price_minor !== null && !pair.price_said)) return null;
  const unit = 10 ** minorDigits(currency);
  const said = bodies.settle.prices?.[pair.id];
  return (
    <div className="mt-2 flex flex-wrap items-end gap-3 border-ink border-l-4 pl-2" data-said-price>
      <NumberField
        label="Nobody knows its price: what does it cost?"
        unit={currency}
        decimals={minorDigits(currency)}
        min={0}
        value={said && said.currency === currency ? said.minor / unit : null}
        onChange={(v) =>
          set("settle", {
            [`prices/${pair.id}`]: v === null ? null : { minor: Math.round(v * unit), currency },
          })
        }
        error={refusal("settle", `prices.${pair.id}`)}
        width="w-64"
      />
      <span className="pb-2.5 text-faint text-sm">For this sale alone; the stockroom keeps its own.</span>
    </div>
  );
}

const WAYS = [
  { value: "pct", text: "%" },
  { value: "minor", text: "amount" },
];

/** By how much the price is lowered, and why; with what it comes to. */
interface LowerProps {
  line: string;
  asked: Schemas["AskedOut"] | null | undefined;
  /** What is typed has arrived, so that what is asked was reckoned with it. */
  there: boolean;
}

export function Lower({ line, asked, there }: LowerProps) {
  const { bodies, set, refusal } = useDesk();
  const lowered: Partial<Schemas["Lowered"]> = bodies.settle.lowered?.[line] ?? {};
  const house = useHouse().data?.house;
  const currency = asked?.currency ?? house?.currency ?? "EUR";
  const unit = 10 ** minorDigits(currency);
  const way = lowered.minor ? "minor" : lowered.pct ? "pct" : lastWay();
  const put = (to: string, v: number | null) => {
    localStorage.setItem(WAY, to);
    set("settle", {
      [`lowered/${line}/pct`]: to === "pct" ? v || null : null,
      [`lowered/${line}/minor`]: to === "minor" && v ? Math.round(v * unit) : null,
    });
  };
  const off = !!(lowered.pct || lowered.minor);
  return (
    <div className="mt-2 flex flex-wrap items-end gap-3" data-lower>
      <NumberField
        label="Taken off"
        unit={way === "pct" ? "%" : currency}
        decimals={way === "pct" ? 1 : minorDigits(currency)}
        min={0}
        {...(way === "pct" ? { max: 100 } : asked ? { max: asked.price_minor / unit } : {})}
        value={way === "pct" ? lowered.pct : lowered.minor ? lowered.minor / unit : null}
        usual={10}
        onChange={(v) => put(way, v)}
        error={refusal("settle", `lowered.${line}`)}
        width="w-32"
      />
      <OneOf label="Taken off as" value={way} options={WAYS} onChange={(to) => put(to, null)} />
      {off && (
        <TextField
          className="min-w-56 flex-1"
          label="Why (stands in the journal)"
          value={lowered.why ?? ""}
          onChange={(v) => set("settle", { [`lowered/${line}/why`]: v.slice(0, 200) || null })}
          error={refusal("settle", `lowered.${line}.why`)}
        />
      )}
      {off && there && !!asked?.discount_minor && (
        <span className="pb-2.5">
          <span className="font-mono text-faint line-through">{money(asked.price_minor, currency)}</span>{" "}
          <b className="font-mono" data-total>
            {money(asked.total_minor, currency)}
          </b>
        </span>
      )}
    </div>
  );
}

const WAY = "kalon.lowered";
const lastWay = () => (localStorage.getItem(WAY) === "minor" ? "minor" : "pct");
