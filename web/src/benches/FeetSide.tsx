/** Both feet from the inner or the outer side, one above the other, to scale, with heights where they are taken. */
import type { ReactNode } from "react";
import type { Side } from "../api/client";
import { closedPath, type FootShape, type Point, sideProfile } from "../drawing/foot";
import { Dimension, Ruler } from "../drawing/kit";

export interface SideFoot {
  shape: FootShape & { typed: boolean };
  instepHeight: number;
  toeHeight: number | undefined;
  heelToBall: number;
  /** A scan's side view: x, lowest and highest z; mm. */
  profile: number[][] | undefined;
}

interface Props {
  feet: Record<Side, SideFoot>;
  view: "inner" | "outer";
  width: number;
  height: number;
  figures: (side: Side, place: (x: number, z: number) => Point) => ReactNode;
}

/** The inner edge of the sole: shares of the length, and of how high the arch rises. */
const ARCH_LINE = [
  [0.24, 0],
  [0.34, 0.72],
  [0.45, 1],
  [0.56, 0.72],
  [0.66, 0],
] as const;
/** Room under each foot for its ruler and a line of text, pixels. */
const BELOW = 54;
/** The leg is cut off here. */
const HIGHEST_MM = 84;
const RISE = { low: 3, medium: 9, high: 16 } as const;

export function FeetSide({ feet, view, width, height, figures }: Props) {
  const longest = Math.max(feet.left.shape.length, feet.right.shape.length);
  const scale = Math.min((width - 120) / (longest + 20), (height - 2 * BELOW - 12) / 2 / 92);
  const row = height / 2;
  const place = (side: Side): ((x: number, z: number) => Point) => {
    // Seen from the inner side the right foot's toes point left, the left foot's right; from outside the reverse.
    const toesRight = (side === "left") === (view === "inner");
    const base = (side === "left" ? row : 2 * row) - BELOW;
    const span = longest * scale;
    const start = width / 2 + (toesRight ? -span / 2 : span / 2);
    return (x, z) => [start + (toesRight ? 1 : -1) * x * scale, base - z * scale];
  };
  return (
    <div className="relative" style={{ width, height }}>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={`Both feet from the ${view} side, to scale.`}
        data-drawing={`feet-${view}`}
      >
        {(["left", "right"] as const).map((side) => (
          <One
            key={side}
            side={side}
            foot={feet[side]}
            view={view}
            place={place(side)}
            scale={scale}
            width={width}
          />
        ))}
      </svg>
      {(["left", "right"] as const).map((side) => (
        <fieldset key={side} aria-label={side === "left" ? "Left" : "Right"} className="contents">
          {figures(side, place(side))}
        </fieldset>
      ))}
    </div>
  );
}

interface OneProps {
  side: Side;
  foot: SideFoot;
  view: "inner" | "outer";
  place: (x: number, z: number) => Point;
  scale: number;
  width: number;
}

function One({ side, foot, view, place, scale, width }: OneProps) {
  const ink = `var(--${side})`;
  const { length: l } = foot.shape;
  const profile = foot.profile;
  const outline: Point[] = profile?.length
    ? [
        ...profile.map(([x = 0, , top = 0]) => place(x, Math.min(top, HIGHEST_MM))),
        ...[...profile].reverse().map(([x = 0, low = 0]) => place(x, low)),
      ]
    : sideProfile(l, foot.instepHeight).map(([x, z]) => place(x, z));
  const rise = RISE[foot.shape.arch];
  const [x0, y0] = place(0, 0);
  const [x1] = place(l, 0);
  const mid = place(0.5 * l, 0);
  const dorsum = place(0.5 * l, foot.instepHeight);
  const toe = foot.toeHeight;
  const ball = place(foot.heelToBall, 0);
  const arch = ARCH_LINE.map(([share, up]) => place(share * l, up * rise));
  const left = Math.min(x0, x1);
  return (
    <g data-foot={side}>
      <path d={`M20 ${y0}H${width - 20}`} stroke="var(--faint)" />
      <Ruler scale={scale} from={0} to={Math.ceil(l / 10) * 10} x={left} y={y0 + 30} />
      <Ruler scale={scale} from={0} to={80} x={6} y={y0} vertical />
      <path
        d={closedPath(outline)}
        fill={`color-mix(in srgb, ${ink} 9%, var(--sheet))`}
        stroke={ink}
        strokeWidth="2.2"
        strokeDasharray={foot.shape.typed ? undefined : "7 5"}
        data-outline={profile ? "captured" : "from numbers"}
      />
      {view === "inner" && (
        <path
          d={`M${arch.map((p) => p.map((v) => v.toFixed(1)).join(" ")).join("L")}`}
          fill="none"
          stroke={ink}
          strokeWidth="1.4"
          strokeDasharray="5 3"
        />
      )}
      <Dimension x1={mid[0]} y1={mid[1]} x2={dorsum[0]} y2={dorsum[1]} ink={ink} />
      {toe !== undefined && (
        <Dimension
          x1={place(0.92 * l, 0)[0]}
          y1={y0}
          x2={place(0.92 * l, toe)[0]}
          y2={place(0.92 * l, toe)[1]}
          ink={ink}
        />
      )}
      <Dimension x1={x0} y1={y0 + 8} x2={ball[0]} y2={y0 + 8} ink={ink} />
      <text
        x={place(0.2 * l, 0)[0]}
        y={y0 - 24}
        fill={ink}
        fontSize="15"
        fontWeight="700"
        textAnchor="middle"
      >
        {side === "left" ? "Left" : "Right"}
      </text>
    </g>
  );
}
