/** The brief's questions in order: what is asked, and how an answer reads. */

import type { Schemas } from "../../api/client";
import type { Bodies } from "../../api/fitting";
import { day } from "../../ui/parts";

export type Ask = Schemas["AskOut"];
type Sport = Schemas["SportOut"];
type BriefBody = Bodies["brief"];

export type Question =
  | { key: "sport" | "discipline" | "also" | "present"; text: string; short: string; needed: boolean }
  | { key: "ask"; ask: Ask; text: string; short: string; needed: boolean };

const SHORT: Record<string, string> = {
  surface: "Ground",
  wet: "Wet",
  body_kg: "Body mass",
  sessions_per_week: "How often",
  level: "Level",
  history: "Hurts",
  growing: "Growing",
  feel: "Touch",
  event_on: "First event",
  looks: "Looks",
  budget: "To spend",
  small_edges_pct: "Small edges",
  edge_mm: "Smallest edge",
  stance_min: "Longest stand",
  toe_strength: "Toes",
  bar: "Bar",
  bar_kg: "Weight",
  stature_mm: "Height",
  thigh_mm: "Thigh",
  knee_to_wall_cm: "Knee to wall",
  pedal: "Pedals",
  ride_km: "A ride",
  power_w: "Hardest minute",
  cadence_rpm: "Cadence",
  floor: "Floor",
  lunging: "Lunging",
  wicket: "Wicket",
  role: "Role",
  creased: "Creases",
};

/** Every question of this brief, in order; those of the sport once it is known. */
export function questionsOf(sport: Sport | undefined, brief: BriefBody): Question[] {
  const first: Question[] = [{ key: "sport", text: "What sport?", short: "Sport", needed: true }];
  if (!sport) return first;
  first.push({ key: "discipline", text: "What do they do most?", short: "Mostly", needed: true });
  const asks = sport.asks.filter(
    (a) => !a.disciplines.length || a.disciplines.includes(brief.discipline ?? ""),
  );
  const asked: Question[] = asks.map((ask) => ({
    key: "ask",
    ask,
    text: ask.text,
    short: SHORT[ask.field] ?? ask.text,
    needed: ask.needed,
  }));
  const end = asked.findIndex((q) => q.key === "ask" && q.ask.field === "event_on");
  const present: Question = {
    key: "present",
    text: "What do they wear now, and how does it fit?",
    short: "Wear now",
    needed: false,
  };
  const also: Question = {
    key: "also",
    text: "Is the same pair for anything else?",
    short: "Also",
    needed: false,
  };
  const needed = asked.filter((q) => q.needed && q.key === "ask" && sport.needs.includes(q.ask.field));
  const rest = asked.slice(0, end).filter((q) => !needed.includes(q));
  const several = sport.disciplines.length > 1 || sport.needs.length > 0;
  return [...first, ...needed, ...(several ? [also] : []), ...rest, present, ...asked.slice(end)];
}

/** A question's name for keys and tests. */
export const nameOf = (q: Question): string => (q.key === "ask" ? q.ask.field : q.key);

const worded = (options: { value: string; text: string }[], value: unknown): string =>
  options.find((o) => o.value === value)?.text ?? "";

/** Whether somebody answered; else the value is the usual one. */
export const isSaid = (q: Question, said: ReadonlySet<string>): boolean =>
  q.key !== "ask" || said.has(q.ask.field);

/** The answer in a few words, or the usual one; empty when there is none. */
export function answerOf(q: Question, brief: BriefBody, sport: Sport | undefined, sports: Sport[]): string {
  switch (q.key) {
    case "sport":
      return sports.find((s) => s.slug === brief.sport)?.name ?? "";
    case "discipline":
      return worded(sport?.disciplines ?? [], brief.discipline);
    case "also":
      return (brief.also ?? [])
        .map((o) => `${worded(sport?.disciplines ?? [], o.discipline)} ${o.share_pct} %`)
        .join(", ");
    case "present":
      return brief.wears_now || (brief.present?.kind ?? "").replaceAll("_", " ");
    default: {
      const value = (brief as Record<string, unknown>)[q.ask.field];
      if (value === null || value === undefined || value === "") return "";
      if (q.ask.kind === "choice") return worded(q.ask.options, value);
      if (q.ask.kind === "yes") return value ? "yes" : "no";
      if (q.ask.kind === "many") {
        const list = value as string[];
        return list.length ? list.map((v) => worded(q.ask.options, v)).join(", ") : "nothing";
      }
      if (q.ask.kind === "date") return day(String(value));
      return q.ask.unit ? `${value} ${q.ask.unit}` : String(value);
    }
  }
}
