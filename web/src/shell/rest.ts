/** A shop's own tablet that nobody touches: after a while nobody is signed in on it any more. */
import { useEffect } from "react";
import { connection } from "../api/connection";

const LOOK_MS = 5_000;
/** So often at most a touch is written down for the other tabs. */
const WRITE_MS = 2_000;
const TOUCHED = "kalon.touched";
const TOUCHES = ["pointerdown", "keydown", "wheel", "touchmove"] as const;

const kept = (): number => Number(localStorage.getItem(TOUCHED) ?? 0);

/**
 * Watches hands on all tabs of this browser; `lock` is called once nobody has touched it for so long, also at the very
 * touch that comes later than that (a tablet that slept). Without connection it waits: nobody could come back in.
 * Gives how to stop.
 */
export function watchRest(afterMs: number, lock: () => Promise<unknown>): () => void {
  let last = Date.now();
  let written = 0;
  let over = false;
  const look = (): boolean => {
    const since = Date.now() - Math.max(last, kept());
    if (!over && since >= afterMs && !connection().offline) {
      over = true;
      lock().catch(() => {
        over = false; // it couldn't be: looked at again
      });
    }
    return over;
  };
  const touched = () => {
    if (look()) return;
    last = Date.now();
    if (last - written < WRITE_MS) return;
    written = last;
    try {
      localStorage.setItem(TOUCHED, String(last));
    } catch {
      // the store is full: this tab alone knows
    }
  };
  const timer = setInterval(look, Math.min(LOOK_MS, afterMs));
  for (const name of TOUCHES) window.addEventListener(name, touched, { capture: true, passive: true });
  return () => {
    clearInterval(timer);
    for (const name of TOUCHES) window.removeEventListener(name, touched, { capture: true });
  };
}

/** Watch as long as there is a time to wait. */
export function useRest(minutes: number | null, lock: () => Promise<unknown>): void {
  useEffect(() => (minutes ? watchRest(minutes * 60_000, lock) : undefined), [minutes, lock]);
}
