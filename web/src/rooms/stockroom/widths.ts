/** How sizes and widths of a model are called. */
import type { Schemas } from "../../api/client";

export type System = NonNullable<Schemas["SizesIn"]["system"]>;
export const WIDTHS = ["narrow", "regular", "wide", "A", "B", "D", "E", "2E", "4E"];
