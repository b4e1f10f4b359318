/** The foot a shoe is drawn for. */
import type { Schemas } from "../../api/client";

const USUAL_FOOT_MM = 260;

/** The longer foot, or a usual one before any was measured. */
export function footOf(fitting: Schemas["FittingOut"]): number {
  const lengths = [fitting.found.left, fitting.found.right].map((f) => f.numbers.length_mm?.value ?? 0);
  return Math.max(...lengths) || USUAL_FOOT_MM;
}
