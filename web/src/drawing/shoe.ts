/** A shoe from its properties: side view and sole as lines in millimetres, x from the heel, z up, y to the inner side. */
import { curveCatmullRom, line } from "d3-shape";
import { factsOf } from "../api/sports";
import type { Point } from "./foot";

export type Values = Readonly<Record<string, number | undefined>>;

/** What a shoe of a sport nobody knows is drawn with. House default. */
const OF_ANY = { stack: 16, drop: 4, collar: 66, spring: 8, sole: 4 };

/** Where the shoe folds, and where the foot narrows, shares of its length. */
export const FOLD = 0.7;
const WAIST = 0.42;
/** What two hands put in when they fold a shoe, N·mm. House default. */
export const HAND_N_MM = 9000;
const MOST_FOLD_DEG = 62;

export interface ShoeShape {
  length: number;
  stack: number;
  drop: number;
  collar: number;
  spring: number;
  sole: number;
  downturn: number;
  rounding: number;
  bend: number | null;
  asymmetry: number;
  curve: number;
  flare: number;
  toeBox: number;
}

/** The properties a shoe's outline is drawn from. */
export const DRAWN_FROM = [
  "heel_stack_mm",
  "drop_mm",
  "downturn_deg",
  "collar_mm",
  "heel_round_mm",
  "heel_flare",
  "asymmetry_deg",
  "last_curve_deg",
  "toe_box_mm",
] as const;

/** The shape a shoe is drawn with: what is known of it, the rest as usual in the sport. */
export function shoeShape(values: Values, sport: string, length: number): ShoeShape {
  const usual = factsOf(sport)?.drawn ?? OF_ANY;
  const drop = values.drop_mm ?? usual.drop;
  const stack = values.heel_stack_mm ?? Math.max(usual.stack, drop + usual.stack - usual.drop);
  return {
    length,
    stack,
    drop: Math.min(drop, stack - 1),
    collar: values.collar_mm ?? usual.collar,
    spring: usual.spring,
    sole: values.sole_mm ?? usual.sole,
    downturn: values.downturn_deg ?? 0,
    rounding: values.heel_round_mm ?? 4,
    bend: values.bend_n_mm_per_deg ?? null,
    asymmetry: values.asymmetry_deg ?? 5,
    curve: values.last_curve_deg ?? 6,
    flare: values.heel_flare ?? 1.03,
    toeBox: values.toe_box_mm ?? -14,
  };
}

/** How far hands fold it, degrees: a stiff sole hardly, a soft one in half. */
export const foldDeg = (bend: number): number => Math.min(HAND_N_MM / Math.max(bend, 1), MOST_FOLD_DEG);

/** How far the hook pulls a place along the shoe down, mm. */
function hooked(shape: ShoeShape, x: number): number {
  const from = 0.5 * shape.length;
  if (x <= from || !shape.downturn) return 0;
  const share = (x - from) / (shape.length - from);
  return Math.tan((shape.downturn * Math.PI) / 180) * (shape.length - from) * 0.62 * share * share;
}

/** The underside at x, mm over the ground: a hooked shoe stands on heel and toe, hollow between them. */
export function underside(shape: ShoeShape, x: number): number {
  const l = shape.length;
  const toe = x > FOLD * l ? shape.spring * ((x - FOLD * l) / ((1 - FOLD) * l)) ** 2 : 0;
  const r = Math.min(shape.rounding, 0.2 * l);
  const heel = x < r ? r - Math.sqrt(Math.max(r * r - (r - x) ** 2, 0)) : 0;
  return toe + heel + (hooked(shape, l) * x) / l - hooked(shape, x);
}

/** Where the foot stands at x, mm over the ground. */
export function bed(shape: ShoeShape, x: number): number {
  const l = shape.length;
  const from = 0.28 * l;
  const to = 0.66 * l;
  const share = Math.min(Math.max((x - from) / (to - from), 0), 1);
  const eased = share * share * (3 - 2 * share);
  const under = underside({ ...shape, rounding: 0 }, x);
  return under + shape.stack - shape.drop * eased;
}

const along = (from: number, to: number, n: number): number[] =>
  Array.from({ length: n + 1 }, (_, i) => from + ((to - from) * i) / n);

/** The sole from the side: its underside heel to toe, then the bed back. */
export function soleSide(shape: ShoeShape): Point[] {
  const l = shape.length;
  const down = along(0, l, 48).map((x): Point => [x, underside(shape, x)]);
  const back = along(0.995 * l, 0.004 * l, 30).map((x): Point => [x, bed(shape, x)]);
  return [...down, ...back];
}

/** Height of the upper over the bed along the shoe: shares of length. */
const TOPS: readonly Point[] = [
  [0.4, 0.285],
  [0.5, 0.235],
  [0.6, 0.19],
  [0.7, 0.148],
  [0.8, 0.112],
  [0.89, 0.09],
  [0.955, 0.066],
  [0.99, 0.034],
  [1, 0.012],
];

/** The upper from the side: up the heel, over the opening, down the tongue to the toe. */
export function upperSide(shape: ShoeShape): Point[] {
  const l = shape.length;
  const at = (share: number, up: number): Point => [share * l, bed(shape, share * l) + up];
  const high = shape.collar > 95;
  const tongue = high ? shape.collar * 0.98 : Math.max(shape.collar * 0.9, 0.3 * l);
  return [
    at(0.004, 0),
    at(-0.012, 0.18 * shape.collar),
    at(-0.016, 0.42 * shape.collar),
    at(0.006, 0.72 * shape.collar),
    at(high ? 0.02 : 0.012, shape.collar),
    at(0.07, shape.collar * (high ? 0.99 : 0.93)),
    at(0.15, shape.collar * (high ? 0.97 : 0.82)),
    at(0.23, shape.collar * (high ? 0.97 : 0.86)),
    at(high ? 0.3 : 0.315, tongue),
    ...TOPS.map(([share, up]) => at(share, up * l)),
  ];
}

/** The line the forefoot takes under two hands: the underside from the fold, turned up. */
export function folded(shape: ShoeShape): Point[] {
  if (shape.bend === null) return [];
  const l = shape.length;
  const turn = (foldDeg(shape.bend) * Math.PI) / 180;
  const px = FOLD * l;
  const pz = underside(shape, px);
  return along(px, l, 12).map((x): Point => {
    const [dx, dz] = [x - px, underside(shape, x) - pz];
    return [px + dx * Math.cos(turn) - dz * Math.sin(turn), pz + dx * Math.sin(turn) + dz * Math.cos(turn)];
  });
}

/** The sole from below, a right shoe: y to the big toe's side. `wider` is the heel's flare. */
export function soleBelow(shape: ShoeShape, ball: number, heel: number, flared = true): Point[] {
  const l = shape.length;
  const h = (heel / 2) * (flared ? shape.flare : 1);
  const b = ball / 2;
  const toe = Math.max(b + shape.toeBox / 2, 0.22 * ball);
  const point = (shape.asymmetry / 100) * ball * 1.5;
  const bent = (share: number) =>
    Math.tan((shape.curve * Math.PI) / 180) * Math.max(share - 0.45, 0) * l * 0.32;
  const at = (share: number, y: number): Point => [share * l, y + bent(share)];
  return [
    at(0, 0),
    at(0.02, 0.62 * h),
    at(0.08, 0.96 * h),
    at(0.17, h),
    at(0.3, 0.86 * h),
    at(WAIST, 0.52 * b + 0.16 * h),
    at(0.58, 0.8 * b),
    at(0.7, b),
    at(0.82, 0.35 * b + 0.62 * toe + point * 0.3),
    at(0.92, 0.84 * toe + point * 0.7),
    at(0.98, 0.45 * toe + point),
    at(1, 0.05 * toe + point),
    at(0.985, -0.4 * toe + point * 0.8),
    at(0.93, -0.75 * toe + point * 0.3),
    at(0.83, -0.3 * b - 0.66 * toe),
    at(0.66, -b),
    at(0.52, -0.92 * b),
    at(0.38, -0.9 * h),
    at(0.17, -h),
    at(0.08, -0.96 * h),
    at(0.02, -0.62 * h),
  ];
}

const open = line<Point>().curve(curveCatmullRom.alpha(0.5));
/** A smooth open path through the points. */
export const openPath = (points: readonly Point[]): string => open([...points]) ?? "";
/** A path straight from point to point. */
export const brokenPath = (points: readonly Point[], closed = false): string =>
  points.length
    ? `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L")}${closed ? "z" : ""}`
    : "";
