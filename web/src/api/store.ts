/** This browser's store, which may be full: then what was to be kept is kept by the page alone, and that is said. */

let full = false;
const listeners = new Set<() => void>();

export const isStoreFull = (): boolean => full;
export const subscribeStore = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

function tell(now: boolean): void {
  if (full === now) return;
  full = now;
  for (const listener of listeners) listener();
}

/** Keep a text under a name; nothing takes it away. Whether there was room for it. */
export function keepText(name: string, text: string | null): boolean {
  try {
    if (text === null) localStorage.removeItem(name);
    else localStorage.setItem(name, text);
  } catch {
    tell(true);
    return false;
  }
  tell(false);
  return true;
}
