/** The numbers taken from the side, where they are measured. */
import type { Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import type { SideFoot } from "../../benches/FeetSide";
import type { shapeOf } from "../../benches/footShapes";
import type { Point } from "../../drawing/foot";
import { Figure } from "./Figure";
import { SIDE_FIGURES } from "./layout";
import { SIDES } from "./sides";
import type { useDrawn } from "./useDrawn";

interface SideFiguresProps {
  side: Side;
  shape: { length: number };
  place: (x: number, z: number) => Point;
}

export function SideFigures({ side, shape, place }: SideFiguresProps) {
  const { found } = useDesk().fitting;
  const numbers = found[side].numbers;
  const rest = (["arch_height_index", "arch_index", "ball_angle_deg"] as const).filter((n) => numbers[n]);
  const spots: Record<string, Point> = {
    instep_height_mm: place(0.68 * shape.length, 82),
    toe_height_mm: place(0.92 * shape.length, 46),
    heel_to_ball_mm: place(0.36 * shape.length, 32),
  };
  return (
    <>
      {SIDE_FIGURES.map((f) => {
        const [x, y] = spots[f.name] ?? [0, 0];
        return (
          <div
            key={f.name}
            className="absolute w-38"
            style={{ left: x - 70, top: y - 22, color: `var(--${side})` }}
          >
            <Figure side={side} spec={f} />
          </div>
        );
      })}
      <p
        className="absolute inset-x-0 flex flex-wrap justify-center gap-x-4 text-xs"
        style={{ top: place(0, 0)[1] + 35, color: `var(--${side})` }}
      >
        {rest.map((n) => (
          <span key={n}>
            {
              {
                arch_height_index: "Arch height index",
                arch_index: "Arch index",
                ball_angle_deg: "Ball angle",
              }[n]
            }{" "}
            <b className="font-mono">
              {numbers[n]?.value.toFixed(n === "ball_angle_deg" ? 1 : 3)}
              {n === "ball_angle_deg" ? "°" : ""}
            </b>{" "}
            ±{numbers[n]?.uncertainty.toFixed(n === "ball_angle_deg" ? 1 : 3)} {numbers[n]?.source}
          </span>
        ))}
      </p>
    </>
  );
}

export function sideFeet(
  shapes: Record<Side, ReturnType<typeof shapeOf>>,
  found: ReturnType<typeof useDesk>["fitting"]["found"],
  drawn: Record<Side, ReturnType<typeof useDrawn>>,
): Record<Side, SideFoot> {
  return Object.fromEntries(
    SIDES.map((side): [Side, SideFoot] => {
      const numbers = found[side].numbers;
      const length = shapes[side].length;
      return [
        side,
        {
          shape: shapes[side],
          instepHeight: numbers.instep_height_mm?.value ?? 0.25 * length,
          toeHeight: numbers.toe_height_mm?.value,
          heelToBall: numbers.heel_to_ball_mm?.value ?? 0.72 * length,
          profile: drawn[side].scan.shape?.profile,
        },
      ];
    }),
  ) as Record<Side, SideFoot>;
}
