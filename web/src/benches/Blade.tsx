/** The steel under a skate and what holds it, from the side. */
import { brokenPath, openPath } from "../drawing/shoe";
import type { Point } from "./ShoeParts";

interface Props {
  /** Holder and steel under a skate, mm. */
  tall: number;
  length: number;
  /** From the shoe (mm) to the drawing. */
  sides: (points: readonly Point[]) => Point[];
}

export const Blade = ({ tall, length, sides }: Props) => (
  <g fill="none" stroke="var(--ink)" strokeWidth="1.6" data-drawn="blade">
    <path
      d={`${brokenPath(
        sides([
          [0.06 * length, 0],
          [0.1 * length, -0.5 * tall],
          [0.28 * length, -0.5 * tall],
          [0.33 * length, 0],
        ]),
      )}${brokenPath(
        sides([
          [0.58 * length, 0.5],
          [0.63 * length, -0.5 * tall],
          [0.88 * length, -0.5 * tall],
          [0.93 * length, 1],
        ]),
      )}`}
    />
    <path
      d={openPath(
        sides([
          [-0.02 * length, -0.78 * tall],
          [0.06 * length, -0.96 * tall],
          [0.45 * length, -tall],
          [0.9 * length, -0.97 * tall],
          [1.02 * length, -0.62 * tall],
        ]),
      )}
      strokeWidth="3"
    />
    <path
      d={brokenPath(
        sides([
          [0.02 * length, -0.52 * tall],
          [0.98 * length, -0.52 * tall],
        ]),
      )}
    />
  </g>
);
