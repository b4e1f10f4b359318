/** This browser's store, which may be full: then what was to be kept is kept by the page alone, and that is said. */
import { signal } from "./signal";

let full = false;
const changed = signal();

export const isStoreFull = (): boolean => full;
export const subscribeStore = changed.subscribe;

function tell(now: boolean): void {
  if (full === now) return;
  full = now;
  changed.tell();
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
