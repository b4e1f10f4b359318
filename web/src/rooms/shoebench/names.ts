/** What a shoe's pictures, numbers and marks are called. */
import type { Picture } from "./usePictures";

export const WAY_NAMES: Record<Picture["way"], string> = { insole: "Insole", sole: "Sole", side: "Side" };
/** Files a telephone takes. */
export const PICTURES = "image/jpeg,image/png,image/heic,image/heif,.heic";
export const HOW: Record<Picture["way"], string> = {
  insole: "Insole face down on a white sheet on a dark floor; straight from above, all four corners in view.",
  sole: "Sheet on the counter's front, a finger's breadth below the top; the shoe on its outer side, sole flush with the front.",
  side: "Sheet on the counter's front; the shoe stands over it, outer side flush. Telephone level with the counter, a big step away.",
};
export const NUMBER_NAMES: Record<string, string> = {
  inner_length_mm: "Inner length",
  ball_width_mm: "Width at the ball",
  ball_girth_mm: "Girth at the ball, from the width",
  heel_width_mm: "Width at the heel",
  last_curve_deg: "Curve of the last",
  sole_length_mm: "Length of the sole",
  sole_ball_mm: "Sole's width at the ball",
  sole_heel_mm: "Sole's width at the heel",
  heel_flare: "Heel flare",
  heel_stack_mm: "Heel stack",
  fore_stack_mm: "Forefoot stack",
  drop_mm: "Drop",
  collar_mm: "Height of the collar",
  downturn_deg: "Downturn",
  heel_round_mm: "Rounding of the heel",
  stud_mm: "Height of the studs",
};
export const MARK_NAMES: Record<string, string> = {
  heel: "Rearmost of the heel",
  toe: "Foremost of the toe",
  heel_seam: "Seam at the heel",
  fore_seam: "Seam at the ball",
  heel_ground: "Ground at the heel",
  fore_ground: "Ground at the ball",
  collar: "Top of the collar",
  under_rear: "Underside before the heel",
  under_ball: "Underside behind the ball",
  under_fore: "Underside before the ball",
  under_toe: "Underside at the toe",
  rounding: "Where the heel meets the ground",
  stud_root: "Underside between the studs",
};
export const unitOf = (name: string): string =>
  name.endsWith("_deg") ? "°" : name === "heel_flare" ? "×" : "mm";
