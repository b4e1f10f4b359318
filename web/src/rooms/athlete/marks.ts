/** What stands on an athlete's line of time, and which of it stands too near for a finger to tell apart. */
import { atUtc } from "../../ui/clock";

export interface Mark {
  /** Unique among its line's. */
  key: string;
  on: string;
  /** What it is, in words. */
  text: string;
  to: string;
  /** Its sign on the line. */
  sign: "fitting" | "settled" | "event" | "said";
}
export interface Cluster {
  x: number;
  marks: Mark[];
}

/** The least a finger can tell apart, px. */
export const FINGER = 44;

/** Marks by their place, those nearer than a finger together. */
export function clustered(marks: Mark[], x: (at: Date) => number): Cluster[] {
  const found: Cluster[] = [];
  let from = Number.NEGATIVE_INFINITY;
  for (const mark of [...marks].sort((a, b) => a.on.localeCompare(b.on) || a.key.localeCompare(b.key))) {
    const at = x(atUtc(mark.on));
    const last = found.at(-1);
    if (last && at - from < FINGER) last.marks.push(mark);
    else {
      found.push({ x: at, marks: [mark] });
      from = at;
    }
  }
  return found;
}

const DAY_MS = 86_400_000;
/** So much of the time before today is drawn of the time after it, and at least so many days. */
const AHEAD = 0.5;
const AHEAD_DAYS = 183;
const AHEAD_MOST = 730;

/** The time drawn: from the first of these days to today and as far on as tells something. */
export function span(today: string, days: string[]): [Date, Date] {
  const now = atUtc(today).getTime();
  const all = days.map((d) => atUtc(d).getTime());
  const first = Math.min(now - 30 * DAY_MS, ...all);
  const most = now + Math.min(Math.max(AHEAD * (now - first), AHEAD_DAYS * DAY_MS), AHEAD_MOST * DAY_MS);
  const last = Math.min(Math.max(now + 30 * DAY_MS, ...all), most);
  const pad = 0.02 * (last - first);
  return [new Date(first - pad), new Date(last + pad)];
}

/** The day so many weeks after another. */
export const weeksAfter = (day: string, weeks: number): string =>
  new Date(atUtc(day).getTime() + Math.min(weeks, 2000) * 7 * DAY_MS).toISOString().slice(0, 10);
