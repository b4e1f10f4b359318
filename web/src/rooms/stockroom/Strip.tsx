/** A model's sizes as a shelf to scale: a box for every pair on hand, a gap where a size of the run is out. */
import { memo } from "react";
import type { RackSize } from "../../api/rack";
import { printed } from "../../ui/pair";

export const FROM_EU = 34;
export const TO_EU = 49;
const PX = 100 / (TO_EU - FROM_EU);
const BOX = { width: PX * 0.4, height: 6.5 };
const MOST_BOXES = 3;
export const SHELF_HEIGHT = 30;

/** Where a label stands, share of the shelf's width in hundredths; sizes beyond an end stand at it. */
export const placeOf = (eu: number): number =>
  Math.min(Math.max((eu - FROM_EU) * PX, 0), 100 - PX * 0.5) + PX * 0.25;

/** The shelf's ruler: whole EU sizes. */
export function ShelfRuler() {
  const labels = Array.from({ length: TO_EU - FROM_EU }, (_, i) => FROM_EU + i);
  return (
    <div className="relative h-5 font-mono text-faint text-xs" aria-hidden="true">
      {labels.map((eu) => (
        <span
          key={eu}
          className="absolute -translate-x-1/2 data-[odd=true]:max-lg:hidden"
          data-odd={eu % 2 === 1}
          style={{ left: `${placeOf(eu)}%` }}
        >
          {eu}
        </span>
      ))}
    </div>
  );
}

/** The end of the shelf with more room beside the boxes, for a word. */
export function clearEnd(sizes: RackSize[]): "left" | "right" {
  const here = sizes.filter((s) => s.on_hand > 0).map((s) => s.eu_label);
  return Math.min(...here) - FROM_EU >= TO_EU - Math.max(...here) ? "left" : "right";
}

export const wordOf = (sizes: RackSize[]): string => {
  const here = sizes.filter((s) => s.on_hand > 0);
  if (!here.length) return "nothing on hand";
  const gaps = sizes.filter((s) => !s.on_hand).map((s) => s.eu_label);
  const pairs = here.reduce((n, s) => n + s.on_hand, 0);
  const said = gaps.length ? `; out: ${gaps.join(", ")}` : "";
  return `${pairs} ${pairs === 1 ? "pair" : "pairs"} in ${here.length} sizes, EU ${here[0]?.eu_label} to ${here.at(-1)?.eu_label}${said}`;
};

/** One width's shelf. What only its label tells stands in open boxes, what was read inside in filled ones. */
export const Strip = memo(function Strip({ sizes, width }: { sizes: RackSize[]; width: string }) {
  return (
    <svg
      viewBox={`0 0 100 ${SHELF_HEIGHT}`}
      preserveAspectRatio="none"
      className="block w-full"
      style={{ height: SHELF_HEIGHT }}
      role="img"
      aria-label={`${width}: ${wordOf(sizes)}`}
    >
      <path
        d={`M0 ${SHELF_HEIGHT - 2}H100`}
        stroke="var(--ink)"
        strokeWidth="1"
        vectorEffect="non-scaling-stroke"
      />
      {sizes.map((s) => (
        <g key={s.id} data-size={s.eu_label}>
          <title>{`${printed(s)}: ${s.on_hand || "none"} on hand`}</title>
          {s.on_hand ? (
            Array.from({ length: Math.min(s.on_hand, MOST_BOXES) }, (_, i) => (
              <rect
                key={i}
                x={placeOf(s.eu_label) - BOX.width / 2}
                y={SHELF_HEIGHT - 3 - (i + 1) * (BOX.height + 1.6)}
                width={BOX.width}
                height={BOX.height}
                fill={s.known_from === "label" ? "var(--sheet)" : "var(--ink)"}
                fillOpacity={s.known_from === "learned" ? 0.4 : 1}
                stroke="var(--ink)"
                strokeWidth="1.2"
                vectorEffect="non-scaling-stroke"
              />
            ))
          ) : (
            <path
              d={`M${placeOf(s.eu_label) - BOX.width / 2} ${SHELF_HEIGHT - 7}h${BOX.width}`}
              stroke="var(--madder)"
              strokeWidth="1.6"
              strokeDasharray="2 2"
              vectorEffect="non-scaling-stroke"
            />
          )}
          {s.on_hand > MOST_BOXES && (
            <path
              d={`M${placeOf(s.eu_label) - BOX.width / 2} 1.5h${BOX.width}`}
              stroke="var(--ink)"
              strokeWidth="2"
              vectorEffect="non-scaling-stroke"
            />
          )}
        </g>
      ))}
    </svg>
  );
});
