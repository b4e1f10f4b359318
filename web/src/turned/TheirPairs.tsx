/** These two pairs: over your foot, where each presses, gives and slips, and what an hour in it costs. */
import { useState } from "react";
import type { Schemas } from "../api/client";
import { LINES, TwoPairs } from "../benches/TwoPairs";
import { FitSwatch, type FitWord } from "../drawing/kit";
import { Button } from "../ui/Button";
import { money } from "../ui/money";
import { useSize } from "../ui/useSize";
import { HEAD, NotYet } from "./Leaf";

type Pair = Schemas["PairBeside"];
const HATCH: Record<Schemas["ZoneDoes"]["does"], FitWord> = {
  presses: "too_tight",
  gives: "tight",
  slips: "slack",
  right: "snug",
};
/** As it is called for somebody who isn't of the trade. */
const WORDS: Record<Schemas["ZoneDoes"]["does"], string> = {
  presses: "presses",
  gives: "gives",
  slips: "loose",
  right: "right",
};

/** Two pairs say more than one leaf else: a little smaller. */
const SENTENCES = "text-[clamp(1.05rem,1.9vmax,1.6rem)] leading-snug";

export function TheirPairs({ pairs }: { pairs: Pair[] }) {
  const [settled, setSettled] = useState(false);
  const [chosen, setChosen] = useState<string[]>([]);
  const [box, size] = useSize();
  if (!pairs.length)
    return (
      <NotYet title="Your pairs">The pairs that come into question are held beside each other here.</NotYet>
    );
  const two = (chosen.length === 2 ? chosen : pairs.slice(0, 2).map((p) => p.line_id)).flatMap(
    (id) => pairs.find((p) => p.line_id === id) ?? [],
  );
  const show = (id: string) => {
    // The one tapped comes beside the one shown first.
    const first = two[0]?.line_id ?? id;
    setChosen(first === id ? two.map((p) => p.line_id) : [first, id]);
  };
  const title = pairs.length > 1 ? "These two pairs" : "This pair";
  return (
    <section aria-label={title}>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className={HEAD}>{title}</h2>
        <fieldset className="flex gap-2" aria-label="As they are">
          <Button
            kind={settled ? "quiet" : "strong"}
            aria-pressed={!settled}
            className="min-h-14 px-5 text-xl"
            onClick={() => setSettled(false)}
          >
            New
          </Button>
          <Button
            kind={settled ? "strong" : "quiet"}
            aria-pressed={settled}
            className="min-h-14 px-5 text-xl"
            onClick={() => setSettled(true)}
          >
            Worn in
          </Button>
        </fieldset>
      </div>
      <div className="mt-2 grid grid-cols-2 items-start gap-8 max-lg:grid-cols-1">
        <div ref={box} className="min-w-0">
          <TwoPairs pairs={two} settled={settled} width={Math.min(size?.width ?? 560, 620)} figures={false} />
        </div>
        <div className="grid min-w-0 gap-5">
          {two.map((p, i) => (
            <OnePair key={p.line_id} pair={p} line={LINES[i] ?? LINES[0]} />
          ))}
        </div>
      </div>
      {pairs.length > 2 && (
        <fieldset className="mt-5 flex flex-wrap gap-2" aria-label="The others">
          {pairs
            .filter((p) => !two.includes(p))
            .map((p) => (
              <Button key={p.line_id} className="min-h-14 text-lg" onClick={() => show(p.line_id)}>
                Beside {p.name} {p.size}
              </Button>
            ))}
        </fieldset>
      )}
    </section>
  );
}

function OnePair({ pair, line }: { pair: Pair; line: (typeof LINES)[number] }) {
  const off = pair.does.filter((z) => z.does !== "right");
  const shown = off.length ? off : pair.does.slice(0, 1);
  return (
    <section aria-label={pair.name} className={SENTENCES} data-line={line.letter}>
      <h3 className="flex flex-wrap items-center gap-x-3 font-semibold">
        <svg width="44" height="14" aria-hidden="true">
          <path d="M0 7H44" stroke={line.ink} strokeWidth="4" strokeDasharray={line.dash} />
        </svg>
        {line.letter}: {pair.name} <span className="whitespace-nowrap font-mono">{pair.size}</span>
      </h3>
      <ul className="mt-1 space-y-1">
        {shown.map((z, i) => (
          <li key={z.zone} className="grid grid-cols-[6.5rem_1fr] items-baseline gap-2">
            <span className="text-base">
              <FitSwatch word={HATCH[z.does]} text={WORDS[z.does]} />
            </span>
            <span>{pair.in_short[i]}</span>
          </li>
        ))}
      </ul>
      {pair.felt.length > 0 && (
        <p className="mt-1">When you tried it: {pair.felt.join("; ").toLowerCase()}.</p>
      )}
      <p className="mt-1">{pair.gives_up}</p>
      {pair.cost && (
        <p className="mt-1">
          <b className="font-mono">{money(pair.cost.total_minor, pair.cost.currency)}</b>; an hour in it costs
          about <b className="font-mono">{hour(pair.cost.per_hour.mid)}</b>, from{" "}
          <span className="font-mono">{hour(pair.cost.per_hour.low)}</span> to{" "}
          <span className="font-mono">{hour(pair.cost.per_hour.high)}</span>.
        </p>
      )}
    </section>
  );
}

const hour = (whole: number): string => whole.toFixed(2);
