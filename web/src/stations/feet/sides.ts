/** Left comes first everywhere. */
import type { Side } from "../../api/client";

export const SIDES: Side[] = ["left", "right"];
