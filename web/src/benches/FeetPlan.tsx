/** Both feet in plan, to scale, in the feet's two inks, with dimension lines where the numbers are. */
import type { Schemas, Side } from "../api/client";
import {
  BALL_LATERAL,
  BALL_MEDIAL,
  closedPath,
  type FootShape,
  footOutline,
  HEEL,
  INSTEP,
  mirrored,
  type Point,
  toScreen,
} from "../drawing/foot";
import { Dimension, Ruler } from "../drawing/kit";

type GaugeFoot = Schemas["GaugeFoot"];
const NO_FOOT: FootShape = {
  length: 260,
  ballWidth: 101,
  heelWidth: 65,
  arch: "medium",
  toes: "first_longest",
  bunion: false,
};

/** The shape to draw: typed numbers, and usual shares of length where none is typed yet. */
export function shapeOf(foot: GaugeFoot | undefined): FootShape & { typed: boolean } {
  const usable = (v: number | null | undefined, low: number, high: number) =>
    v && v >= low && v <= high ? v : undefined;
  const length = usable(foot?.length_mm, 110, 380) ?? NO_FOOT.length;
  return {
    length,
    ballWidth: usable(foot?.ball_width_mm, 40, 150) ?? length * 0.39,
    heelWidth: usable(foot?.heel_width_mm, 25, 110) ?? length * 0.25,
    arch: foot?.arch ?? "medium",
    toes: foot?.toe_shape ?? "first_longest",
    bunion: foot?.bunion ?? false,
    typed: usable(foot?.length_mm, 110, 380) !== undefined,
  };
}

interface Props {
  feet: Schemas["Feet"];
  width: number;
  height: number;
}

const TOP = 34;
const BOTTOM = 30;
/** Half the gap between the feet, and the room the ruler takes, pixels. */
const APART = 26;
const RULER = 50;

export function FeetPlan({ feet, width, height }: Props) {
  const shapes = { left: shapeOf(feet.left), right: shapeOf(feet.right) };
  const longest = Math.max(shapes.left.length, shapes.right.length);
  const top = Math.ceil((longest + 12) / 10) * 10;
  const widest = Math.max(shapes.left.ballWidth, shapes.right.ballWidth);
  const scale = Math.min((height - TOP - BOTTOM) / top, (width / 2 - APART - RULER) / widest);
  const heelY = height - BOTTOM;
  const apart = widest * scale * 0.5 + APART;
  const middle = width / 2;
  const origin: Record<Side, number> = { left: middle - apart, right: middle + apart };
  const both = shapes.left.typed && shapes.right.typed;
  const delta = shapes.left.length - shapes.right.length;
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`Both feet from above. Left ${said(shapes.left)}; right ${said(shapes.right)}.`}
      data-drawing="feet"
    >
      <Ruler scale={scale} from={0} to={top} x={4} y={heelY} vertical />
      <Ruler scale={scale} from={0} to={100} x={middle - 50 * scale} y={height - 4} />
      <path d={`M40 ${heelY}H${width - 8}`} stroke="var(--line)" />
      {(["left", "right"] as const).map((side) => (
        <Foot
          key={side}
          side={side}
          shape={shapes[side]}
          other={both ? shapes[side === "left" ? "right" : "left"] : null}
          scale={scale}
          x={origin[side]}
          heelY={heelY}
        />
      ))}
      {both && Math.abs(delta) >= 0.5 && (
        <Dimension
          x1={middle}
          y1={heelY - shapes.left.length * scale}
          x2={middle}
          y2={heelY - shapes.right.length * scale}
          label={`${Math.abs(delta).toFixed(1)} mm`}
          ink="var(--madder)"
          dy={-14 - (Math.abs(delta) * scale) / 2}
        />
      )}
    </svg>
  );
}

const said = (s: FootShape & { typed: boolean }) =>
  s.typed ? `${s.length} mm long, ${s.ballWidth.toFixed(0)} mm wide at the ball` : "not measured yet";

interface FootProps {
  side: Side;
  shape: FootShape & { typed: boolean };
  other: FootShape | null;
  scale: number;
  x: number;
  heelY: number;
}

function Foot({ side, shape, other, scale, x, heelY }: FootProps) {
  const place = (points: readonly Point[]) =>
    closedPath(toScreen(side === "left" ? mirrored(points) : points, scale, x, heelY));
  const ink = `var(--${side})`;
  const out = side === "left" ? -1 : 1;
  const at = (mx: number, my: number): Point => [x + mx * out * scale, heelY - my * scale];
  const { length: l, ballWidth: b, heelWidth: h } = shape;
  const ball = [at(-b * 0.49, BALL_MEDIAL * l), at(b * 0.505, BALL_LATERAL * l)] as const;
  const heel = [at(-h / 2, HEEL * l), at(h / 2, HEEL * l)] as const;
  const instep = [at(-b * 0.36, INSTEP * l), at(b * 0.47, INSTEP * l)] as const;
  return (
    <g data-foot={side}>
      {other && (
        <path
          d={place(footOutline(other))}
          fill="none"
          stroke={`var(--${side === "left" ? "right" : "left"})`}
          strokeDasharray="3 4"
          strokeWidth="1"
        />
      )}
      <path
        d={place(footOutline(shape))}
        fill={`color-mix(in srgb, ${ink} 9%, var(--sheet))`}
        stroke={ink}
        strokeWidth="2.2"
        strokeDasharray={shape.typed ? undefined : "7 5"}
        fillOpacity="0.85"
      />
      <Dimension x1={ball[0][0]} y1={ball[0][1]} x2={ball[1][0]} y2={ball[1][1]} ink={ink} />
      <Dimension x1={heel[0][0]} y1={heel[0][1]} x2={heel[1][0]} y2={heel[1][1]} ink={ink} />
      <path d={`M${instep[0][0]} ${instep[0][1]}H${instep[1][0]}`} stroke={ink} strokeDasharray="2 4" />
      <text x={x} y={heelY - 0.33 * l * scale} textAnchor="middle" fill={ink} fontSize="15" fontWeight="700">
        {side === "left" ? "Left" : "Right"}
      </text>
    </g>
  );
}
