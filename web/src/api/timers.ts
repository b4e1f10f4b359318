/** Running trial timers. Each belongs to its pair and test, runs on whatever is shown, and survives a reload. */
const KEY = "kalon.timers";
type Since = Record<string, number>;

const listeners = new Set<() => void>();
let running: Since = load();

function load(): Since {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "{}") as Since;
  } catch {
    return {};
  }
}

function keep(next: Since): void {
  running = next;
  localStorage.setItem(KEY, JSON.stringify(running));
  for (const listener of listeners) listener();
}

window.addEventListener("storage", (e) => {
  if (e.key !== KEY) return;
  running = load();
  for (const listener of listeners) listener();
});

export const timerKey = (fitting: string, pair: string, test: string) => `${fitting}/${pair}/${test}`;
export const timers = (): Since => running;
export const subscribeTimers = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Start a timer; again is no change. */
export function startTimer(key: string): void {
  if (!(key in running)) keep({ ...running, [key]: Date.now() });
}

/** Stop a timer; the seconds it ran, or null when it didn't. */
export function stopTimer(key: string): number | null {
  const since = running[key];
  if (since === undefined) return null;
  const { [key]: _, ...rest } = running;
  keep(rest);
  return (Date.now() - since) / 1000;
}
