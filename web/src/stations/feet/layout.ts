/** Where each number of a foot belongs on the drawing, and how numbers are shown in the units chosen. */
import type { Schemas } from "../../api/client";
import { SYSTEM_NAMES, stepOf } from "../../api/sizes";

export type NumberName =
  | "length_mm"
  | "ball_width_mm"
  | "ball_girth_mm"
  | "instep_height_mm"
  | "instep_girth_mm"
  | "heel_width_mm"
  | "toe_height_mm"
  | "heel_to_ball_mm"
  | "first_toe_angle_deg";
export type View = "plan" | "inner" | "outer" | "turned";
export const VIEW_NAMES: Record<View, string> = {
  plan: "Plan",
  inner: "Inner side",
  outer: "Outer side",
  turned: "3-D",
};

export interface FigureSpec {
  name: NumberName;
  label: string;
  /** Share of the foot's length the number is taken at. */
  at: number;
  /** Measured only where it shows: Enter passes it by while it is empty. */
  seldom?: boolean;
}

/** In the order they are measured, from the toes to the heel. */
export const PLAN_FIGURES: FigureSpec[] = [
  { name: "length_mm", label: "Length", at: 0.98 },
  { name: "first_toe_angle_deg", label: "Big toe angle", at: 0.86, seldom: true },
  { name: "ball_width_mm", label: "Ball width", at: 0.72 },
  { name: "ball_girth_mm", label: "Ball girth", at: 0.62 },
  { name: "instep_girth_mm", label: "Instep girth", at: 0.5 },
  { name: "heel_width_mm", label: "Heel width", at: 0.16 },
];
export const SIDE_FIGURES: FigureSpec[] = [
  { name: "instep_height_mm", label: "Instep height", at: 0.5 },
  { name: "toe_height_mm", label: "Toe height", at: 0.92 },
  { name: "heel_to_ball_mm", label: "Heel to ball", at: 0.36 },
];

/** Move wanted places apart until none is nearer than `least`, keeping order and staying within the ends. */
export function spread(wanted: number[], least: number, low: number, high: number): number[] {
  const found = wanted.map((w) => Math.min(Math.max(w, low), high));
  for (let i = 1; i < found.length; i++) {
    found[i] = Math.max(found[i] ?? 0, (found[i - 1] ?? 0) + least);
  }
  let limit = high;
  for (let i = found.length - 1; i >= 0; i--) {
    found[i] = Math.min(found[i] ?? 0, limit);
    limit = (found[i] ?? 0) - least;
  }
  return found;
}

type Units = NonNullable<Schemas["Feet"]["units"]>;
const INCH = 25.4;

export interface Unit {
  text: string;
  step: number;
  decimals: number;
  show: (mm: number) => number;
  read: (shown: number) => number;
}
const MM: Unit = { text: "mm", step: 1, decimals: 1, show: (mm) => mm, read: (v) => v };
const DEGREES: Unit = { ...MM, text: "°" };
const INCHES: Unit = {
  text: "in",
  step: 0.05,
  decimals: 2,
  show: (mm) => mm / INCH,
  read: (v) => v * INCH,
};
export type FootByLabel = Schemas["Vocabulary"]["foot_by_label"];

/** The unit a number is typed in. Size systems count for the length only; their lines come with the vocabulary. */
export function unitFor(name: NumberName, units: Units | undefined, labels: FootByLabel | undefined): Unit {
  if (name.endsWith("_deg")) return DEGREES;
  if (units === "inch") return INCHES;
  const line = units && units !== "mm" ? labels?.[units] : undefined;
  if (!units || units === "mm" || !line || name !== "length_mm") return MM;
  return {
    text: SYSTEM_NAMES[units],
    step: stepOf(units),
    decimals: 1,
    show: (mm) => (mm - line.mm_at_zero) / line.mm_per_size,
    read: (v) => line.mm_at_zero + v * line.mm_per_size,
  };
}

export const sideName = (side: "left" | "right") => (side === "left" ? "Left" : "Right");

/** The clock's time now, as the feet keep it. */
export { clock } from "../../ui/clock";
