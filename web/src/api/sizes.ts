/** What the interface takes over of each size system from the core, which writes `sizes.json`. */
import { labelText } from "../ui/label";
import sizes from "./sizes.json";

export type System = keyof typeof sizes;

/** Every system, in the order they are offered. */
export const SYSTEMS = Object.keys(sizes) as System[];

export const SYSTEM_NAMES = Object.fromEntries(SYSTEMS.map((s) => [s, sizes[s].name])) as Record<
  System,
  string
>;

/** Every system, to choose from. */
export const SYSTEM_OPTIONS = SYSTEMS.map((value) => ({ value, text: SYSTEM_NAMES[value] }));

/** Those feet may be typed in by. */
export const TYPED = SYSTEM_OPTIONS.filter((o) => sizes[o.value].typed);

/** What an athlete is asked in who says what they wear, as they call it. */
export const ASKED = SYSTEMS.filter((s) => sizes[s].asked).map((value) => ({
  value,
  text: sizes[value].asked,
}));

/** How far most makers' sizes run ahead in it, where each has a step of its own there; else nothing. */
export const ownStepOf = (system: System): number => sizes[system].own_step;

/** Steps of their own that makers have. */
export const AHEAD = [1, 1.5, 2].map((v) => ({ value: `${v}`, text: labelText(v) }));

/** The step sizes are sold in. */
export const stepOf = (system: System): number => sizes[system].step;
