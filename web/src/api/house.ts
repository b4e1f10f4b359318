/** The house as the shop has set it, and sizes in the system it shows. */
import { useQuery } from "@tanstack/react-query";
import { ask, http, type Pair, type Schemas } from "./client";

export const houseKey = ["house"];

export const useHouse = () =>
  useQuery({ queryKey: houseKey, queryFn: () => ask(http.GET("/api/house")), staleTime: 60_000 });

export const SYSTEM_NAMES: Record<Schemas["House"]["size_system"] & string, string> = {
  eu: "EU",
  uk: "UK",
  us_men: "US men",
  us_women: "US women",
  uk_child: "UK child",
  jp_cm: "JP",
  mondopoint_mm: "Mondopoint",
};

/** Writes a pair's size: EU, as the shelves are kept, and beside it the system the house shows. */
export function useSizeWord(): (pair: Pick<Pair, "eu_label" | "labels">) => string {
  const system = useHouse().data?.house.size_system ?? "eu";
  return (pair) => {
    const other = system === "eu" ? undefined : pair.labels[system];
    const eu = `EU ${pair.eu_label}`;
    return other === undefined ? eu : `${eu} (${SYSTEM_NAMES[system]} ${other})`;
  };
}
