/** The brief's questions in order: what is asked, and how an answer reads. */

import type { Schemas } from "../../api/client";
import type { Bodies } from "../../api/desk";
import { day } from "../../ui/clock";

export type Ask = Schemas["AskOut"];
type Sport = Schemas["SportOut"];
type BriefBody = Bodies["brief"];

export type Question =
  | { key: "sport" | "discipline" | "also" | "present"; text: string; short: string; needed: boolean }
  | { key: "ask"; ask: Ask; text: string; short: string; needed: boolean };

const FIRST: Question[] = [
  { key: "sport", text: "What sport?", short: "Sport", needed: true },
  { key: "discipline", text: "What do they do most?", short: "Mostly", needed: true },
];
const ALSO: Question = {
  key: "also",
  text: "Is the same pair for anything else?",
  short: "Also",
  needed: false,
};
const PRESENT: Question = {
  key: "present",
  text: "What do they wear now, and how does it fit?",
  short: "Wear now",
  needed: false,
};

/** The questions of this brief as they are asked, a screen at a time; those of the sport once it is known. */
export function screensOf(sport: Sport | undefined, brief: BriefBody): Question[][] {
  if (!sport) return [FIRST.slice(0, 1)];
  const asked = (screen: Ask["screen"]): Question[] =>
    sport.asks
      .filter(
        (a) =>
          a.screen === screen && (!a.disciplines.length || a.disciplines.includes(brief.discipline ?? "")),
      )
      .sort((a, b) => Number(sport.needs.includes(b.field)) - Number(sport.needs.includes(a.field)))
      .map((ask) => ({ key: "ask", ask, text: ask.text, short: ask.short, needed: ask.needed }));
  const several = sport.disciplines.length > 1 || sport.needs.length > 0;
  return [
    FIRST,
    asked("use"),
    asked("athlete"),
    [PRESENT],
    [...(several ? [ALSO] : []), ...asked("pair")],
  ].filter((screen) => screen.length);
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
