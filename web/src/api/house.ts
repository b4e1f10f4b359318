/** The house as the shop has set it, and sizes in the system it shows. */
import { useQuery } from "@tanstack/react-query";
import { euText, labelText } from "../ui/label";
import { ask, http, type Pair } from "./client";
import { SYSTEM_NAMES } from "./sizes";

export const houseKey = ["house"];

/** The house; `asked`: else only what is known of it already. */
export const useHouse = (asked = true) =>
  useQuery({
    queryKey: houseKey,
    queryFn: () => ask(http.GET("/api/house")),
    staleTime: 60_000,
    enabled: asked,
  });

/** Writes a pair's size: EU, as the shelves are kept, and beside it what its box says, or the system the house shows. */
export function useSizeWord(): (
  pair: Pick<Pair, "eu_label" | "labels"> & Partial<Pick<Pair, "system" | "label">>,
) => string {
  const shown = useHouse().data?.house.size_system ?? "eu";
  return (pair) => {
    const boxed = pair.system && pair.system !== "eu" && pair.label != null;
    const system = boxed ? (pair.system ?? shown) : shown;
    const other = boxed ? pair.label : system === "eu" ? undefined : pair.labels[system];
    // What stands on the box is what is said: 45⅓, and not the half that the shelf keeps it by.
    const eu = `EU ${euText(pair)}`;
    return other == null ? eu : `${eu} (${SYSTEM_NAMES[system]} ${labelText(other)})`;
  };
}
