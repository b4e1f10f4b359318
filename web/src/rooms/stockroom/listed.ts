/** A supplier's list, as it is read. */
import type { Schemas } from "../../api/client";

export type Sheet = Schemas["SheetOut"];
export type Settings = Schemas["Settings"];
export type Verdict = Schemas["SheetRow"]["verdict"];
export const NOTHING = "nothing";
