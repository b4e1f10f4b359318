/** A field and its value in words, from the path it is stored at. */
import { day } from "../ui/clock";
import { money, shopMoney } from "../ui/money";

const UNITS: [ending: string, unit: string][] = [
  ["_mm", "mm"],
  ["_deg", "°"],
  ["_pct", "%"],
  ["/pct", "%"],
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
  pct: "taken off",
  minor: "taken off",
  why: "why less is asked",
  prices: "price said",
  begun_on: "worn since",
  ended_on: "put away",
  ended_why: "why put away",
  wears_now: "wears now",
  start_on: "break-in begins",
  weekdays: "free days",
};
/** Steps of a path that only say where it is kept. */
const HOLDERS = new Set(["pairs", "tests", "present", "pinches", "lowered"]);
const WEEKDAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const DAY = /^\d{4}-\d{2}-\d{2}$/;
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
  const steps = path.split("/").filter((step) => !isId(step));
  const told = steps.filter((step) => !HOLDERS.has(step));
  const words = (told.length ? told : steps.slice(-1)).map(plain).join(" ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

const isMoney = (value: unknown): value is { minor: number; currency: string } =>
  typeof value === "object" && !!value && "minor" in value && "currency" in value;

/** A value with its unit, or "nothing". */
export function written(path: string, value: unknown): string {
  if (value === null || value === undefined || value === "") return "nothing";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) {
    const names = value.map((v) => (path === "weekdays" ? WEEKDAYS[Number(v)] : written("", v)));
    return names.join(", ") || "nothing";
  }
  if (typeof value === "number" && path.endsWith("/minor")) return shopMoney(value);
  if (isMoney(value)) return money(value.minor, value.currency);
  if (typeof value === "object") {
    const told = Object.entries(value).filter(([, v]) => v !== null && v !== undefined);
    const each = HOLDERS.has(path.split("/").at(-1) ?? "");
    return (
      told.map(([step, v]) => `${each ? `${plain(step)} ` : ""}${written(step, v)}`).join(", ") || "nothing"
    );
  }
  if (typeof value === "string") return DAY.test(value) ? day(value) : value.replaceAll("_", " ");
  const unit = UNITS.find(([end]) => path.endsWith(end))?.[1] ?? "";
  return unit === "°" ? `${value}°` : `${value} ${unit}`.trim();
}

/** Nothing is said of it: neither before nor after. */
const isNothing = (value: unknown) => value === undefined || value === null || value === "";

const isSame = (from: unknown, to: unknown) =>
  (isNothing(from) && isNothing(to)) || JSON.stringify(from) === JSON.stringify(to);

/** Paths that only say where something is kept, or that go with what was typed. */
const UNTOLD = (path: string) =>
  path.startsWith("prefer/") || ["time_of_day", "stock_line_id", "sale_id"].includes(path);
/** What an entry of the trail without fields of its own says, by its part. */
const DEEDS: Record<string, (to: Record<string, unknown>, from: Record<string, unknown>) => string | null> = {
  tray: (to, from) => (to.pair ? `${to.pair} into the tray` : from.pair ? `${from.pair} put back` : null),
  sale: (to) => {
    if (to.undone) return "the sale taken back";
    if (!("became" in to)) return null;
    return `${to.became ? "the pair came back" : "money given back"}: ${to.why ?? ""}`;
  },
  reach: (to) =>
    `how they are reached changed; they ${to.agreed ? "agree to be reached" : "don't agree to be reached"}`,
  follow_up: (to) => {
    if ("done" in to) return to.done ? "closed" : "opened again";
    return to.due_on ? null : "not booked any more";
  },
  link: () => "a page for their phone made",
};

/** An entry of the trail in words with its values; `pairs` are called by the line they are of. */
export function trailLine(
  entry: { part: string; before: Record<string, unknown>; after: Record<string, unknown> },
  pairs: Record<string, string>,
): string {
  const { part, before, after } = entry;
  const deed = DEEDS[part]?.(after, before);
  if (deed) return deed;
  const line = pairs[String(after.stock_line_id ?? "")];
  if (part === "sale") return line ? `settled on ${line}` : "settled";
  const told = Object.keys(after)
    .filter((path) => !UNTOLD(path) && !isSame(before[path], after[path]))
    .map((path) => {
      const of = path.split("/").find((step) => pairs[step]);
      const from = before[path];
      const was = isNothing(from) ? "" : `${written(path, from)} → `;
      return `${of ? `${pairs[of]}, ` : ""}${fieldName(path)}: ${was}${written(path, after[path])}`;
    });
  return told.join("; ") || "nothing that is told";
}
