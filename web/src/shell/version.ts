/** A newer version of the interface: noticed however it came, taken only when somebody says so. */

import { useEffect, useRef, useState } from "react";

const WORKER = "/sw.js";
const LOOK_MS = 30 * 60_000;

/**
 * Says when a newer worker waits: found by this tab or another, before or after this was called. The very first
 * worker replaces nothing and is not news. Gives how to stop watching.
 */
export function whenNewer(registration: ServiceWorkerRegistration, say: () => void): () => void {
  const over = new AbortController();
  const look = () => {
    if (registration.waiting && registration.active) say();
  };
  const follow = () =>
    registration.installing?.addEventListener("statechange", look, { signal: over.signal });
  registration.addEventListener("updatefound", follow, { signal: over.signal });
  follow();
  look();
  return () => over.abort();
}

/** Lets the waiting worker serve, then does what needs it; at once when another tab has taken it already. */
export function take(registration: ServiceWorkerRegistration, then: () => void): void {
  const waiting = registration.waiting;
  if (!waiting) {
    then();
    return;
  }
  waiting.addEventListener("statechange", () => waiting.state === "activated" && then());
  waiting.postMessage({ type: "SKIP_WAITING" });
}

/** Whether a newer version is here, and how to take it. Keeps this one for the time without connection. */
export function useNewVersion(): { there: boolean; takeIt: () => void } {
  const [there, setThere] = useState(false);
  const kept = useRef<ServiceWorkerRegistration>(undefined);
  useEffect(() => {
    if (!("serviceWorker" in navigator)) return;
    let stop: (() => void) | undefined;
    let gone = false;
    const again = setInterval(() => void kept.current?.update().catch(() => undefined), LOOK_MS);
    navigator.serviceWorker.register(WORKER).then(
      // Nothing is given where workers are not allowed.
      (registration: ServiceWorkerRegistration | undefined) => {
        if (gone || !registration) return;
        kept.current = registration;
        stop = whenNewer(registration, () => setThere(true));
      },
      () => undefined, // no connection, or not allowed here: Kalon works without
    );
    return () => {
      gone = true;
      clearInterval(again);
      stop?.();
    };
  }, []);
  return { there, takeIt: () => kept.current && take(kept.current, () => window.location.reload()) };
}
