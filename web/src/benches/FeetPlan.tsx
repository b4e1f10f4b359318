/** Both feet in plan, to scale, as they were captured or as their numbers make them, with what is laid under. */
import { memo, type ReactNode } from "react";
import type { Side } from "../api/client";
import {
  BALL_LATERAL,
  BALL_MEDIAL,
  closedPath,
  type FootShape,
  footOutline,
  HEEL,
  INSTEP,
  type Point,
} from "../drawing/foot";
import { Dimension, Ruler } from "../drawing/kit";
import { edgesAt, rightFrame, type Shaped } from "./footShapes";

export interface PlanSide {
  shape: Shaped;
  /** An outline as captured, in the foot's frame (x forward, y towards the big toe), mm. */
  outline: number[][] | undefined;
  /** What is laid under the drawing, drawn in that frame by `place`. */
  under: ((place: Place) => ReactNode) | undefined;
  earlier: { on: string; outline: number[][] }[];
  /** What is drawn over the foot, in the same frame. */
  over?: ((place: Place) => ReactNode) | undefined;
}
/** From the foot's frame (mm) to the drawing (pixels). */
export interface Place {
  (x: number, y: number): Point;
  scale: number;
  /** −1 where the big toe lies to the left. */
  sign: number;
  originX: number;
  heelY: number;
}

interface Props {
  sides: Record<Side, PlanSide>;
  width: number;
  height: number;
  /** Heights (pixels) at which the numbers stand beside the drawing, by number. */
  leaders: { at: number; y: number }[];
}

const TOP = 26;
const BOTTOM = 26;
const RULER = 58;

/** Scale and origins: the same for the drawing and for the numbers beside it. */
export function planScale(sides: Record<Side, PlanSide>, width: number, height: number) {
  const longest = Math.max(sides.left.shape.length, sides.right.shape.length);
  const top = Math.ceil((longest + 8) / 10) * 10;
  const widest = Math.max(sides.left.shape.ballWidth, sides.right.shape.ballWidth);
  const scale = Math.min((height - TOP - BOTTOM) / top, (width - RULER - 44) / (2 * widest + 16));
  const heelY = height - BOTTOM;
  const apart = widest * scale * 0.5 + 14;
  const middle = RULER + (width - RULER) / 2;
  return {
    scale,
    heelY,
    top,
    middle,
    origin: { left: middle - apart, right: middle + apart } as Record<Side, number>,
  };
}

function placed(side: Side, scale: number, originX: number, heelY: number): Place {
  const sign = side === "left" ? 1 : -1;
  const at = (fx: number, fy: number): Point => [originX + sign * fy * scale, heelY - fx * scale];
  return Object.assign(at, { scale, sign, originX, heelY });
}

const outlineOf = (foot: PlanSide): number[][] =>
  foot.outline && foot.outline.length > 12 ? foot.outline : rightFrame(footOutline(foot.shape));
const lessRough = (points: number[][]) => points.map(([x = 0, y = 0]) => [x, y] as const);

export function FeetPlan({ sides, width, height, leaders }: Props) {
  const { scale, heelY, top, middle, origin } = planScale(sides, width, height);
  const both = sides.left.shape.typed && sides.right.shape.typed;
  const delta = sides.left.shape.length - sides.right.shape.length;
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`Both feet from above. Left ${said(sides.left.shape)}; right ${said(sides.right.shape)}.`}
      data-drawing="feet"
    >
      <Ruler scale={scale} from={0} to={top} x={22} y={heelY} vertical />
      <Ruler scale={scale} from={0} to={100} x={middle - 50 * scale} y={height - 3} />
      <path d={`M${RULER} ${heelY}H${width - 8}`} stroke="var(--line)" />
      {(["left", "right"] as const).map((side) => (
        <g key={side} clipPath={`url(#half-${side})`}>
          <clipPath id={`half-${side}`}>
            <rect
              x={side === "left" ? 0 : middle}
              width={side === "left" ? middle : width - middle}
              height={height}
            />
          </clipPath>
          {sides[side].under?.(placed(side, scale, origin[side], heelY))}
        </g>
      ))}
      {(["left", "right"] as const).map((side) => (
        <Foot
          key={side}
          side={side}
          of={sides[side]}
          other={both ? outlineOf(sides[side === "left" ? "right" : "left"]) : null}
          scale={scale}
          x={origin[side]}
          heelY={heelY}
          edge={side === "left" ? 0 : width}
          leaders={leaders}
        />
      ))}
      {both && Math.abs(delta) >= 0.5 && (
        <Dimension
          x1={middle}
          y1={heelY - sides.left.shape.length * scale}
          x2={middle}
          y2={heelY - sides.right.shape.length * scale}
          label={`${Math.abs(delta).toFixed(1)} mm`}
          ink="var(--madder)"
          dy={-10 - (Math.abs(delta) * scale) / 2}
        />
      )}
    </svg>
  );
}

const said = (s: FootShape & { typed: boolean }) =>
  s.typed
    ? `${Number(s.length.toFixed(1))} mm long, ${s.ballWidth.toFixed(0)} mm wide at the ball`
    : "not measured yet";

interface EarlierProps {
  earlier: PlanSide["earlier"];
  ink: string;
}

/** Outlines of earlier visits in millimetres, drawn once and not with each digit typed over them. */
const EarlierOutlines = memo(function EarlierOutlines({ earlier, ink }: EarlierProps) {
  return earlier.map((e) => (
    <path
      key={e.on}
      d={closedPath(e.outline.map(([fx = 0, fy = 0]) => [fy, -fx] as const))}
      fill="none"
      stroke={ink}
      strokeWidth="1"
      vectorEffect="non-scaling-stroke"
      strokeDasharray="2 3"
      data-earlier={e.on}
    />
  ));
});

interface FootProps {
  side: Side;
  of: PlanSide;
  other: number[][] | null;
  scale: number;
  x: number;
  heelY: number;
  edge: number;
  leaders: { at: number; y: number }[];
}

function Foot({ side, of, other, scale, x, heelY, edge, leaders }: FootProps) {
  const place = placed(side, scale, x, heelY);
  const path = (points: number[][]) => closedPath(lessRough(points).map(([fx, fy]) => place(fx, fy)));
  const ink = `var(--${side})`;
  const { shape } = of;
  const { length: l, ballWidth: b, heelWidth: h } = shape;
  const outlined = outlineOf(of);
  const spot = (p: number[]) => place(p[0] ?? 0, p[1] ?? 0);
  const level = (share: number) =>
    edgesAt(outlined, share * l, 5).map((p) => place(share * l, p[1] ?? 0)) as [Point, Point];
  const ball = [
    spot(edgesAt(outlined, BALL_MEDIAL * l, 0.05 * l)[0]),
    spot(edgesAt(outlined, BALL_LATERAL * l, 0.06 * l)[1]),
  ] as const;
  const heel = level(HEEL);
  const instep = level(INSTEP);
  const outer = side === "left" ? -1 : 1;
  return (
    <g data-foot={side}>
      {leaders.map(({ at: share, y }) => {
        const wide = share < 0.2 ? h * 0.5 : share > 0.8 ? b * 0.3 : b * 0.5;
        const start = x + outer * wide * scale;
        return (
          <path
            key={share}
            d={`M${start} ${heelY - share * l * scale}L${edge - outer * 16} ${y}H${edge}`}
            fill="none"
            stroke={ink}
            strokeWidth="0.8"
            strokeOpacity="0.6"
          />
        );
      })}
      <g transform={`translate(${x} ${heelY}) scale(${place.sign * scale} ${scale})`}>
        <EarlierOutlines earlier={of.earlier} ink={ink} />
      </g>
      {other && !of.under && !of.earlier.length && (
        <path
          d={path(other)}
          fill="none"
          stroke={`var(--${side === "left" ? "right" : "left"})`}
          strokeDasharray="3 4"
          strokeWidth="1"
        />
      )}
      <path
        d={path(outlined)}
        fill={of.under || of.earlier.length ? "none" : `color-mix(in srgb, ${ink} 9%, var(--sheet))`}
        stroke={ink}
        strokeWidth="2.2"
        strokeDasharray={shape.typed ? undefined : "7 5"}
        fillOpacity="0.85"
        data-outline={of.outline ? "captured" : "from numbers"}
      />
      <Dimension
        x1={ball[0][0]}
        y1={ball[0][1]}
        x2={ball[1][0]}
        y2={ball[1][1]}
        ink={ink}
        guessed={shape.guessed.ball}
      />
      <Dimension
        x1={heel[0][0]}
        y1={heel[0][1]}
        x2={heel[1][0]}
        y2={heel[1][1]}
        ink={ink}
        guessed={shape.guessed.heel}
      />
      <path d={`M${instep[0][0]} ${instep[0][1]}H${instep[1][0]}`} stroke={ink} strokeDasharray="2 4" />
      <text
        x={x}
        y={heelY - 0.33 * l * scale}
        textAnchor="middle"
        fill={ink}
        stroke="var(--sheet)"
        strokeWidth="4"
        paintOrder="stroke"
        fontSize="15"
        fontWeight="700"
      >
        {side === "left" ? "Left" : "Right"}
      </text>
      {of.over?.(place)}
    </g>
  );
}
