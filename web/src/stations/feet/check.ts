/** What a check of a capture is given, and what it may say. */
import type { Schemas } from "../../api/client";
import type { Capture, Shape } from "./useCaptures";

export type Said = Schemas["Said"];

export interface CheckProps {
  capture: Capture;
  shape: Shape;
  busy: boolean;
  say: (more: Partial<Said>) => Promise<void>;
}
