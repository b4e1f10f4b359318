/** Sizes to buy again by maker, on the ruler of sizes: how many, and why. */
import type { Schemas } from "../../api/client";
import type { Purchase } from "../../api/purchases";
import { Button } from "../../ui/Button";
import { printed } from "../../ui/pair";
import { Heading } from "../../ui/words";
import { placeOf, ShelfRuler } from "./Strip";

type Size = Schemas["AdvisedSize"];

export const counted = (n: number, what: string): string => `${n} ${what}${n === 1 ? "" : "s"}`;

interface Props {
  sizes: Size[];
  may: boolean;
  onBegin: (draft: Purchase) => void;
}

export function Advised({ sizes, may, onBegin }: Props) {
  const makers = new Map<string, Size[]>();
  for (const s of sizes) makers.set(s.maker, [...(makers.get(s.maker) ?? []), s]);
  return (
    <section aria-label="What to buy again">
      <Heading>What to buy again</Heading>
      {!sizes.length ? (
        <p className="text-faint">Nothing that sold is missing.</p>
      ) : (
        <div className="grid grid-cols-[17rem_1fr] gap-3 border-ink border-b max-md:grid-cols-1">
          <span className="self-end text-faint text-xs">Maker, and why</span>
          <ShelfRuler />
        </div>
      )}
      <ul>
        {[...makers].map(([maker, own]) => (
          <li key={maker} data-advised={maker} className="border-line border-b py-2">
            <div className="grid grid-cols-[17rem_1fr] items-start gap-3 max-md:grid-cols-1">
              <span className="flex items-center justify-between gap-2">
                <span>
                  <b>{maker}</b>{" "}
                  <span className="text-faint text-sm">
                    {counted(
                      own.reduce((n, s) => n + s.pairs, 0),
                      "pair",
                    )}{" "}
                    of {counted(own.length, "size")}
                  </span>
                </span>
                {may && <Button onClick={() => onBegin(begun(maker, own))}>Order</Button>}
              </span>
              <span className="relative block h-6" aria-hidden="true">
                {own.map((s) => (
                  <span
                    key={s.variant_id}
                    className="absolute top-1 h-4 w-4 -translate-x-1/2 border border-ink bg-sheet text-center font-mono text-[10px] leading-4"
                    style={{ left: `${placeOf(s.eu_label)}%` }}
                  >
                    {s.pairs}
                  </span>
                ))}
              </span>
            </div>
            <ul className="mt-1 text-sm">
              {own.map((s) => (
                <li key={s.variant_id}>
                  {s.pairs} × {s.name} <span className="font-mono">{printed(s)}</span>
                  {s.width !== "regular" && `, ${s.width}`}
                  {s.colour && `, ${s.colour}`} <span className="text-faint">{s.why}</span>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** An order to be, with what is advised of a maker. */
function begun(maker: string, sizes: Size[]): Purchase {
  return {
    id: crypto.randomUUID(),
    number: 0,
    supplier: maker,
    note: "",
    expected_on: null,
    state: "draft",
    version: 0,
    by: "",
    made_at: "",
    sent_at: null,
    chased_at: null,
    missing: 0,
    late: false,
    lines: sizes.map(({ why: _, ...s }) => ({ ...s, received: 0, given_up: false, missing: s.pairs })),
  };
}
