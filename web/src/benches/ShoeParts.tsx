/** Parts of the drawn shoe: a balloon with its number, an outline laid over, the drawing in words. */

import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { brokenPath, foldDeg, openPath, type ShoeShape, soleSide, upperSide } from "../drawing/shoe";

type Spec = Schemas["Spec"];
export type Point = readonly [number, number];

export const along = (length: number): number[] => Array.from({ length: 21 }, (_, i) => (i / 20) * length);

/** The drawing in a few words, for who can't see it. */
export function parts(spec: Spec, shape: ShoeShape): string {
  const said = [
    spec.properties.heel_stack_mm && `heel ${shape.stack.toFixed(0)} mm`,
    spec.properties.drop_mm && `drop ${shape.drop.toFixed(0)} mm`,
    spec.properties.downturn_deg && `downturn ${shape.downturn.toFixed(0)}°`,
    shape.bend !== null && `folds ${foldDeg(shape.bend).toFixed(0)}° under two hands`,
  ].filter(Boolean);
  return said.length ? `${said.join(", ")}.` : "";
}

export function Balloon({
  from,
  at,
  on,
  children,
}: {
  from: Point | null;
  at: Point;
  on: boolean;
  children: ReactNode;
}) {
  return (
    <g>
      {from && (
        <path
          d={`M${from[0]} ${from[1]}L${at[0]} ${at[1]}`}
          stroke="var(--ink)"
          strokeWidth={on ? 1.8 : 0.9}
          opacity={on ? 1 : 0.65}
        />
      )}
      {children}
    </g>
  );
}

export function Outline(props: {
  shape: ShoeShape;
  sides: (points: readonly Point[]) => Point[];
  dash: string;
  ink: string;
  mark: string;
}) {
  const { shape, sides, dash, ink, mark } = props;
  return (
    <g fill="none" stroke={ink} strokeDasharray={dash} strokeWidth="1.4" data-outline={mark}>
      <path d={brokenPath(sides(soleSide(shape)), true)} />
      <path d={openPath(sides(upperSide(shape)))} />
    </g>
  );
}
