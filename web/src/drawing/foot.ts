/** A foot in plan from its gauge numbers: a closed outline in millimetres, heel at y = 0, toes up. */
import { curveCatmullRomClosed, line } from "d3-shape";

export interface FootShape {
  length: number;
  ballWidth: number;
  heelWidth: number;
  arch: "low" | "medium" | "high";
  toes: "first_longest" | "second_longest" | "square";
  bunion: boolean;
}
export type Point = readonly [x: number, y: number];

/** Where along the foot the measures are taken, shares of its length. */
export const BALL_MEDIAL = 0.72;
export const BALL_LATERAL = 0.62;
export const INSTEP = 0.5;
export const HEEL = 0.16;
/** An oval of usual shape from its girth: its width round the ball, its height at the instep; only for drawing. House
 * defaults. */
export const GIRTH_TO_WIDTH = 1 / 2.42;
export const GIRTH_TO_HEIGHT = 0.27;

/** Where each spot lies on a right foot: shares of ball width across and of length along. */
const PLACES: Record<string, [across: number, along: number]> = {
  toe_tips: [-0.1, 0.96],
  big_toe_joint: [-0.46, 0.75],
  ball: [-0.02, 0.72],
  outer_ball: [0.46, 0.64],
  instep: [-0.05, 0.5],
  ankle: [-0.25, 0.28],
  heel: [0, 0.13],
  heel_back: [0, 0],
};
export const placeOf = (zone: string): [across: number, along: number] => PLACES[zone] ?? [0, 0.5];
/** How strong a spot hurts, by hatch: none, noticed, hurts, can't be worn. */
export const SEVERITY_FILL = ["none", "url(#hatch-slack)", "url(#hatch-tight)", "url(#hatch-too_tight)"];

const TIPS = {
  first_longest: [1, 0.975, 0.94, 0.895, 0.83],
  second_longest: [0.972, 1, 0.955, 0.9, 0.83],
  square: [1, 0.995, 0.975, 0.935, 0.87],
} as const;
const ARCH = { low: 0.41, medium: 0.33, high: 0.24 } as const;
/** Middles and half-widths of the toes across the ball, shares of its width, big toe first. */
const TOES = [
  [-0.27, 0.145],
  [-0.045, 0.085],
  [0.12, 0.078],
  [0.265, 0.072],
  [0.395, 0.068],
] as const;

/** Outline of a right foot seen from above: the big toe towards negative x. */
export function footOutline(shape: FootShape, toesTogether = false): Point[] {
  const { length: l, ballWidth: b, heelWidth: h } = shape;
  const tips = TIPS[shape.toes];
  const bump = shape.bunion ? 0.045 : 0;
  const toes = TOES.flatMap(([middle, half], i): Point[] => {
    const x = (middle + (i === 0 ? bump : 0)) * b;
    const tip = (tips[i] ?? 0.9) * l;
    const w = half * b;
    const next = TOES[i + 1];
    const valley = next ? ((tips[i] ?? 0.9) + (tips[i + 1] ?? 0.9)) / 2 - (i === 0 ? 0.06 : 0.04) : 0;
    if (toesTogether) return [[x, tip]];
    const points: Point[] = [
      [x - w * 0.82, tip - 0.028 * l],
      [x, tip],
      [x + w * 0.82, tip - 0.026 * l],
    ];
    return next ? [...points, [(x + w + (next[0] - next[1]) * b) / 2, valley * l]] : points;
  });
  return [
    [0, 0],
    [-h * 0.3, 0.018 * l],
    [-h * 0.47, 0.08 * l],
    [-h * 0.5, HEEL * l],
    [-h * 0.46, 0.27 * l],
    [-b * (ARCH[shape.arch] - 0.02), 0.42 * l],
    [-b * (ARCH[shape.arch] + 0.05), 0.56 * l],
    [-b * (0.485 + bump), (BALL_MEDIAL - 0.035) * l],
    [-b * (0.49 + bump), BALL_MEDIAL * l],
    [-b * 0.445, 0.8 * l],
    [-b * (0.41 - bump), 0.88 * l],
    ...toes,
    [b * 0.485, 0.76 * l],
    [b * 0.505, (BALL_LATERAL + 0.05) * l],
    [b * 0.505, BALL_LATERAL * l],
    [b * 0.47, 0.5 * l],
    [b * 0.43, 0.38 * l],
    [h * 0.5, 0.24 * l],
    [h * 0.5, HEEL * l],
    [h * 0.46, 0.08 * l],
    [h * 0.29, 0.016 * l],
  ];
}

/** Outline of the room inside a shoe: a foot without toes, rounder in front. */
export function shoeOutline(length: number, ballWidth: number, heelWidth: number, asymmetry = 6): Point[] {
  const l = length;
  const b = ballWidth;
  const h = heelWidth;
  const lean = (asymmetry / 100) * b;
  return [
    [0, 0],
    [-h * 0.32, 0.02 * l],
    [-h * 0.5, 0.1 * l],
    [-h * 0.52, HEEL * l],
    [-h * 0.48, 0.3 * l],
    [-b * 0.4, 0.5 * l],
    [-b * 0.5, BALL_MEDIAL * l],
    [-b * 0.47, 0.84 * l],
    [-b * 0.34 - lean * 0.4, 0.95 * l],
    [-b * 0.12 - lean, l],
    [b * 0.12 - lean, 0.985 * l],
    [b * 0.34, 0.92 * l],
    [b * 0.48, 0.8 * l],
    [b * 0.51, BALL_LATERAL * l],
    [b * 0.45, 0.42 * l],
    [h * 0.5, 0.25 * l],
    [h * 0.52, HEEL * l],
    [h * 0.5, 0.1 * l],
    [h * 0.32, 0.02 * l],
  ];
}

/** The other foot's mirror image. */
export const mirrored = (points: readonly Point[]): Point[] => points.map(([x, y]) => [-x, y]);

/** Turn heel-up drawing coordinates (y away from the heel) into screen ones, toes up. */
export function toScreen(points: readonly Point[], scale: number, originX: number, heelY: number): Point[] {
  return points.map(([x, y]) => [originX + x * scale, heelY - y * scale]);
}

const smooth = line<Point>().curve(curveCatmullRomClosed.alpha(0.5));

/** A smooth closed path through the points. */
export const closedPath = (points: readonly Point[]): string => smooth([...points]) ?? "";

/** A foot's side profile, toes to the left, sole at z = 0: dorsum from heel to toe, millimetres (x from heel). */
export function sideProfile(length: number, instepHeight: number): Point[] {
  const l = length;
  const z = instepHeight;
  return [
    [0.02 * l, 0.005 * l],
    [-0.005 * l, 0.06 * l],
    [0.005 * l, 0.14 * l],
    [0.03 * l, 0.26 * l],
    [0.06 * l, 0.36 * l],
    [0.24 * l, 0.36 * l],
    [0.3 * l, 0.29 * l],
    [0.5 * l, z],
    [0.66 * l, z * 0.72],
    [0.78 * l, z * 0.5],
    [0.9 * l, z * 0.38],
    [0.985 * l, z * 0.3],
    [l, z * 0.16],
    [0.985 * l, 0.012 * l],
    [0.94 * l, 0],
    [0.72 * l, 0],
    [0.5 * l, 0.004 * l],
    [0.25 * l, 0.002 * l],
    [0.1 * l, 0],
  ];
}
