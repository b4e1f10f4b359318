/** Both feet to scale as they were at every visit, the chosen one strong, with what was said where on them. */
import type { Said, Visit } from "../../api/years";
import { FeetPlan, type Place, type PlanSide } from "../../benches/FeetPlan";
import { outlineFrom, type Shaped } from "../../benches/footShapes";
import { placeOf, SEVERITY_FILL } from "../../drawing/foot";
import { Hatches } from "../../drawing/kit";

type Side = "left" | "right";
const LIKE = { arch: "medium", toes: "first_longest", bunion: false, ballWidth: 0, heelWidth: 0 } as const;

const plainly = (numbers: Visit["left"]): Record<string, number> =>
  Object.fromEntries(Object.entries(numbers).map(([name, n]) => [name, n.value]));

function shapeThen(numbers: Record<string, number>): Shaped {
  const length = numbers.length_mm ?? 260;
  return {
    ...LIKE,
    length,
    ballWidth: numbers.ball_width_mm ?? length * 0.39,
    heelWidth: numbers.heel_width_mm ?? length * 0.25,
    guessed: { ball: !numbers.ball_width_mm, heel: !numbers.heel_width_mm },
    typed: !!numbers.length_mm,
  };
}

/** By spot: how often something was said there, and how strong at most; without a strength, 0. */
function spots(said: Said[], side: Side): Map<string, { many: number; worst: number }> {
  const found = new Map<string, { many: number; worst: number }>();
  for (const s of said) {
    if (!s.zone || (s.side && s.side !== side)) continue;
    const had = found.get(s.zone) ?? { many: 0, worst: 0 };
    found.set(s.zone, { many: had.many + 1, worst: Math.max(had.worst, s.severity ?? 0) });
  }
  return found;
}

function Spots({ said, side, shape, place }: { said: Said[]; side: Side; shape: Shaped; place: Place }) {
  return [...spots(said, side)].map(([zone, { many, worst }]) => {
    const [across, along] = placeOf(zone);
    const [x, y] = place(along * shape.length, -across * shape.ballWidth);
    return (
      <g key={zone} data-said={`${side} ${zone}`}>
        <circle cx={x} cy={y} r="11" fill="var(--sheet)" fillOpacity="0.85" />
        <circle
          cx={x}
          cy={y}
          r="11"
          fill={SEVERITY_FILL[worst]}
          stroke={worst === 3 ? "var(--madder)" : "var(--ink)"}
          strokeWidth="1.6"
          strokeDasharray={worst ? undefined : "3 2"}
        />
        <text
          x={x}
          y={y + 4}
          textAnchor="middle"
          fontSize="12"
          fontWeight="700"
          fill="var(--ink)"
          stroke="var(--sheet)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {many}
        </text>
      </g>
    );
  });
}

interface Props {
  visits: Visit[];
  chosen: Visit;
  said: Said[];
  width: number;
  height: number;
}

export function FeetThen({ visits, chosen, said, width, height }: Props) {
  const sideOf = (side: Side): PlanSide => {
    const shape = shapeThen(plainly(chosen[side]));
    return {
      shape,
      outline: chosen.outlines[side],
      under: undefined,
      earlier: visits
        .filter((v) => v !== chosen)
        .flatMap((v) => {
          const outline = v.outlines[side] ?? outlineFrom(plainly(v[side]), shape);
          return outline ? [{ on: `${v.on} ${v.fitting_id}`, outline }] : [];
        }),
      over: (place) => <Spots said={said} side={side} shape={shape} place={place} />,
    };
  };
  return (
    <>
      <svg width="0" height="0" className="absolute" aria-hidden="true">
        <Hatches />
      </svg>
      <FeetPlan
        sides={{ left: sideOf("left"), right: sideOf("right") }}
        width={width}
        height={height}
        leaders={[]}
      />
    </>
  );
}
