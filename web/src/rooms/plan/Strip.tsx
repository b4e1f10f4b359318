/** The time of a plan on one strip to scale: each use as wide as its share, and which pair serves it. */
import type { PlanPage } from "../../api/plan";
import { Frame } from "../../drawing/axis";
import { useSize } from "../../ui/useSize";

const HEIGHT = 74;
const LETTER = 6.6;

/** A text as far as there is room for it. */
const fitted = (text: string, width: number): string => {
  const room = Math.floor((width - 10) / LETTER);
  if (room < 3) return "";
  return text.length <= room ? text : `${text.slice(0, room - 1)}…`;
};

export function Strip({ page }: { page: PlanPage }) {
  const [box, size] = useSize();
  const width = size?.width ?? 0;
  const { covers } = page.out;
  let at = 0;
  const placed = covers.map((c) => {
    const from = at;
    at += c.share;
    return { ...c, from };
  });
  const x = (share: number) => 1 + share * (width - 2);
  const told = covers
    .map((c) => `${c.name}, ${Math.round(c.share * 100)} %: ${c.pair ? c.pair_name : "nothing"}`)
    .join("; ");
  return (
    <div ref={box}>
      {width > 0 && (
        <Frame width={width} height={HEIGHT} label={told} data-drawing="plan-strip">
          <defs>
            <pattern
              id="to-buy"
              width="6"
              height="6"
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <path d="M0 3H6" stroke="var(--madder)" strokeWidth="1.4" strokeOpacity="0.5" />
            </pattern>
            <pattern id="uncovered" width="8" height="8" patternUnits="userSpaceOnUse">
              <circle cx="4" cy="4" r="1.2" fill="var(--faint)" />
            </pattern>
          </defs>
          {placed.map((c) => {
            const w = x(c.from + c.share) - x(c.from);
            const fill =
              c.kind === "none" ? "url(#uncovered)" : c.kind === "buy" ? "url(#to-buy)" : "var(--sheet)";
            return (
              <g key={c.need}>
                <rect x={x(c.from)} y="18" width={w} height="34" fill="var(--sheet)" />
                <rect x={x(c.from)} y="18" width={w} height="34" fill={fill} stroke="var(--ink)" />
                <text x={x(c.from) + 4} y="12" fontSize="11.5" fill="var(--ink)">
                  {fitted(c.name, w)}
                </text>
                <text x={x(c.from) + 4} y="39" fontSize="12" fontWeight="600" fill="var(--ink)">
                  {fitted(c.pair ? c.pair_name : "nothing yet", w)}
                </text>
                <text x={x(c.from) + 4} y="66" fontSize="11" className="font-mono" fill="var(--faint)">
                  {fitted(`${Math.round(c.share * 100)} %`, w)}
                </text>
              </g>
            );
          })}
        </Frame>
      )}
      <p className="text-faint text-xs">
        Time to scale. Plain: a pair they have · hatched: to buy · dotted: nothing serves it yet.
      </p>
    </div>
  );
}
