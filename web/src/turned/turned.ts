/** Whether this device is turned to an athlete, and to which fitting: kept, so that a reload shows nothing else. */
import { useSyncExternalStore } from "react";
import { signal } from "../api/signal";

const TURNED = "kalon.turned";
const { subscribe, tell } = signal();

/** The fitting this device is turned to somebody with; null on the fitter's side. */
export const turnedTo = (): string | null => localStorage.getItem(TURNED);

export function turn(fittingId: string): void {
  localStorage.setItem(TURNED, fittingId);
  tell();
}

/** Back to the bench: whoever calls it has seen that it is the fitter. */
export function turnBack(): void {
  localStorage.removeItem(TURNED);
  tell();
}

if (typeof window !== "undefined") {
  // Every tab of this device is turned, and back, together.
  window.addEventListener("storage", (e) => e.key === TURNED && tell());
}

export const useTurned = (): string | null => useSyncExternalStore(subscribe, turnedTo);
