/** From numbers to shapes: what is drawn of a foot, as far as anybody measured it. */
import type { Schemas } from "../api/client";
import { type FootShape, footOutline, type Point } from "../drawing/foot";

/** The shape to draw: the numbers that count, and usual shares of length where there is none. */
export function shapeOf(
  foot: Schemas["GaugeFoot"] | undefined,
  found: Schemas["FootFound"],
  estimated: Record<string, Schemas["Estimated"]> = {},
): Shaped {
  const usable = (name: "length_mm" | "ball_width_mm" | "heel_width_mm", low: number, high: number) => {
    const one = found.numbers[name];
    const v = one && one.source !== "gauge" ? one.value : (foot?.[name] ?? one?.value);
    return v && v >= low && v <= high ? v : undefined;
  };
  const known = usable("length_mm", 110, 380);
  const length = known ?? 260;
  const ball = usable("ball_width_mm", 40, 150);
  const heel = usable("heel_width_mm", 25, 110);
  return {
    length,
    ballWidth: ball ?? estimated.ball_width_mm?.mm ?? length * 0.39,
    heelWidth: heel ?? estimated.heel_width_mm?.mm ?? length * 0.25,
    guessed: { ball: ball === undefined, heel: heel === undefined },
    arch: foot?.arch ?? (found.arch.value as FootShape["arch"] | null) ?? "medium",
    toes: foot?.toe_shape ?? found.toe_shape ?? "first_longest",
    bunion: foot?.bunion ?? found.bunion,
    typed: known !== undefined,
  };
}

/** A foot's shape, whether its length was measured, and which widths were not: drawn dashed. */
export type Shaped = FootShape & { typed: boolean; guessed: { ball: boolean; heel: boolean } };

/** An outline of the drawing, in the frame of a right foot. */
export const rightFrame = (points: readonly Point[]): number[][] => points.map(([x, y]) => [y, -x]);

/** An outline in the foot's frame from a visit's numbers; undefined without a length. */
export function outlineFrom(numbers: Record<string, number>, like: FootShape): number[][] | undefined {
  const length = numbers.length_mm;
  if (!length) return undefined;
  return rightFrame(
    footOutline({
      ...like,
      length,
      ballWidth: numbers.ball_width_mm ?? length * 0.39,
      heelWidth: numbers.heel_width_mm ?? length * 0.25,
    }),
  );
}

/** The outline's inner (big toe's side) and outer edge near a place along the foot. */
export function edgesAt(outline: number[][], at: number, span: number): [inner: number[], outer: number[]] {
  const near = outline.filter(([x = 0]) => Math.abs(x - at) <= span);
  const by = (sign: number) =>
    near.reduce((best, p) => (sign * (p[1] ?? 0) > sign * (best[1] ?? 0) ? p : best), near[0] ?? [at, 0]);
  return [by(1), by(-1)];
}
