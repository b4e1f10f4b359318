/** The stations in working order. */
export const STATIONS = ["feet", "brief", "spec", "pull", "trial", "settle", "return"] as const;
export type StationSlug = (typeof STATIONS)[number];
export const STATION_NAMES: Record<StationSlug, string> = {
  feet: "Feet",
  brief: "Brief",
  spec: "Spec",
  pull: "Pull",
  trial: "Trial",
  settle: "Settle",
  return: "Return",
};
