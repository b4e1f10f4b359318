/** What stands under a sole, from the side and from below: the plate of this ground, or what is usual of its kind. */
import type { Schemas } from "../api/client";
import { type ShoeShape, underside } from "../drawing/shoe";
import { SPOTS } from "../drawing/spots";

type Point = readonly [number, number];

/** One stud, spike, nub or lug: where it stands, x from the heel and y to the inner side, and half its size, mm. */
export interface Standing {
  x: number;
  y: number;
  half: number;
  tall: number;
  shape: "round" | "blade" | "bar";
  angle: number;
}

/** The foot begins behind this much of the shoe, mm. House default. */
const HEEL_WALL_MM = 3;

/** The very studs a plate is computed with. */
export const standingOf = (studs: readonly Schemas["Stud"][]): Standing[] =>
  studs.map((s) => ({
    x: s.x_mm + HEEL_WALL_MM,
    y: s.y_mm,
    half: (s.shape === "blade" ? (s.length_mm ?? 20) : (s.diameter_mm ?? 8)) / 2,
    tall: s.height_mm,
    shape: s.shape === "blade" ? "blade" : "round",
    angle: s.angle_deg ?? 0,
  }));

/** What is usual under a sole of this kind; none under a plain one. */
export function usualStanding(
  sole: string,
  length: number,
  halfAt: (share: number) => [middle: number, half: number],
): Standing[] {
  const kind = SPOTS[sole];
  if (!kind) return [];
  return kind.at.map(([share, side]) => {
    const [middle, half] = halfAt(share);
    const tall = Math.min(kind.shape === "bar" ? 5 : kind.size * 1.6, 12);
    return {
      x: share * length,
      y: middle + side * half * 0.92,
      half: kind.size,
      tall,
      shape: kind.shape,
      angle: 0,
    };
  });
}

interface SideProps {
  studs: Standing[];
  shape: ShoeShape;
  side: (p: Point) => Point;
  scale: number;
}

export function StudsSide({ studs, shape, side, scale }: SideProps) {
  const seen = new Map(studs.map((s) => [Math.round(s.x / 2), s]));
  return (
    <g fill="var(--ink)">
      {[...seen.values()].map((s) => {
        const [x, y] = side([s.x, underside(shape, s.x)]);
        const w = Math.max(s.half * 1.4 * scale, 2);
        return (
          <path
            key={s.x}
            d={`M${x - w / 2} ${y}L${x - w / 3} ${y + s.tall * scale}H${x + w / 3}L${x + w / 2} ${y}z`}
          />
        );
      })}
    </g>
  );
}

interface BelowProps {
  studs: Standing[];
  from: (p: Point) => Point;
  scale: number;
}

export function StudsBelow({ studs, from, scale }: BelowProps) {
  return (
    <g fill="var(--ink)" data-studs={studs.length}>
      {studs.map((s) => {
        const [cx, cy] = from([s.x, s.y]);
        const key = `${s.x}/${s.y}`;
        const r = s.half * scale;
        if (s.shape === "round") return <circle key={key} cx={cx} cy={cy} r={r} />;
        const [long, thick] = s.shape === "blade" ? [r, r * 0.35] : [r * 0.5, r];
        return (
          <rect
            key={key}
            x={cx - long}
            y={cy - thick}
            width={2 * long}
            height={2 * thick}
            rx="1.5"
            transform={`rotate(${s.angle} ${cx} ${cy})`}
          />
        );
      })}
    </g>
  );
}
