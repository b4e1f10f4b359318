/** Running trial timers. Each belongs to its pair and test, runs on whatever is shown, survives a reload, and tells when
 * it has run as long as its test wants. */
import { signal } from "./signal";
import { keepText } from "./store";

const KEY = "kalon.timers";

/** Since when it runs, when it will have run long enough, and what it is called. */
export interface Timer {
  since: number;
  until: number | null;
  name: string;
}
type Timers = Record<string, Timer>;

const changed = signal();
let running: Timers = load();

function load(): Timers {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, Timer | number>;
    const whole = (t: Timer | number): Timer =>
      typeof t === "number" ? { since: t, until: null, name: "" } : t;
    return Object.fromEntries(Object.entries(kept).map(([key, t]) => [key, whole(t)]));
  } catch {
    return {};
  }
}

function keep(next: Timers): void {
  running = next;
  keepText(KEY, JSON.stringify(running));
  changed.tell();
}

window.addEventListener("storage", (e) => {
  if (e.key !== KEY) return;
  running = load();
  changed.tell();
});

export const timerKey = (fitting: string, pair: string, test: string) => `${fitting}/${pair}/${test}`;
export const timers = (): Timers => running;
export const subscribeTimers = changed.subscribe;

/** Start a timer that has so many seconds to go; again is no change. */
export function startTimer(key: string, name: string, seconds: number): void {
  if (key in running) return;
  const since = Date.now();
  keep({ ...running, [key]: { since, until: seconds > 0 ? since + 1000 * seconds : null, name } });
}

/** Stop a timer; the seconds it ran, or null when it didn't. */
export function stopTimer(key: string): number | null {
  const timer = running[key];
  if (timer === undefined) return null;
  const { [key]: _, ...rest } = running;
  keep(rest);
  return (Date.now() - timer.since) / 1000;
}

/** The timer that will have run long enough next, and in how many ms; none where nothing does. */
export function nextEnd(after: number): { key: string; timer: Timer; at: number } | null {
  const ends = Object.entries(running).flatMap(([key, timer]) =>
    timer.until !== null && timer.until > after ? [{ key, timer, at: timer.until }] : [],
  );
  return ends.sort((a, b) => a.at - b.at)[0] ?? null;
}
