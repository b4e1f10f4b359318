/** A field and its value in words, from the path it is stored at. */

const UNITS: [ending: string, unit: string][] = [
  ["_mm", "mm"],
  ["_deg", "°"],
  ["_pct", "%"],
  ["_kg", "kg"],
  ["_km", "km"],
  ["_cm", "cm"],
  ["_min", "min"],
  ["_rpm", "rpm"],
  ["_w", "W"],
  ["_g", "g"],
];
const WORDS: Record<string, string> = {
  prefer: "counts",
  effort: "before measuring",
  stance: "measured",
  time_of_day: "measured at",
  event_on: "first event",
  price_minor: "price",
  begun_on: "worn since",
  ended_on: "put away",
  ended_why: "why put away",
  wears_now: "wears now",
  start_on: "break-in begins",
  weekdays: "free days",
};
/** Steps of a path that only say where it is kept. */
const HOLDERS = new Set(["pairs", "tests", "present", "pinches"]);
const WEEKDAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const isId = (step: string) => /^[0-9a-f]{8}-[0-9a-f-]{27}$/.test(step);

function plain(step: string): string {
  const ending = UNITS.find(([end]) => step.endsWith(end))?.[0] ?? "";
  return (WORDS[step] ?? step.slice(0, step.length - ending.length))
    .replace(/^caution\./, "")
    .replaceAll("_", " ")
    .replace(":", ", ");
}

/** "left/ball_width_mm" is "Left ball width". */
export function fieldName(path: string): string {
  const words = path
    .split("/")
    .filter((step) => !isId(step) && !HOLDERS.has(step))
    .map(plain)
    .join(" ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** A value with its unit, or "nothing". */
export function written(path: string, value: unknown): string {
  if (value === null || value === undefined || value === "") return "nothing";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) {
    const names = value.map((v) => (path === "weekdays" ? WEEKDAYS[Number(v)] : written("", v)));
    return names.join(", ") || "nothing";
  }
  if (typeof value === "object") {
    const told = Object.entries(value).filter(([, v]) => v !== null && v !== undefined);
    return told.map(([step, v]) => written(step, v)).join(", ") || "nothing";
  }
  if (typeof value === "string") return value.replaceAll("_", " ");
  const unit = UNITS.find(([end]) => path.endsWith(end))?.[1] ?? "";
  return unit === "°" ? `${value}°` : `${value} ${unit}`.trim();
}
