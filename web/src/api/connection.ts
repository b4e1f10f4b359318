/** While there is no connection it is looked for; when it is back, what failed meanwhile is asked for again. */
import type { QueryClient } from "@tanstack/react-query";
import { away } from "./client";
import { noteTrouble, reached, snapshot, subscribe } from "./outbox";

const FIRST_LOOK_MS = 1500;
const LONGEST_MS = 10_000;
const WAIT_MS = 8000;

let timer: ReturnType<typeof setTimeout> | undefined;
let looks = 0;
let was = false;

/** Whether the server and its store answer. */
async function ready(): Promise<boolean> {
  try {
    return (await fetch("/ready", { cache: "no-store", signal: AbortSignal.timeout(WAIT_MS) })).ok;
  } catch {
    return false;
  }
}

function lookLater(): void {
  clearTimeout(timer);
  timer = setTimeout(
    async () => {
      if (!snapshot().offline) return;
      if (await ready()) reached();
      else lookLater();
    },
    Math.min(FIRST_LOOK_MS * 2 ** looks++, LONGEST_MS),
  );
}

/**
 * Keep watch for as long as the page lives. It looks once at the beginning: a page opened from what was last known
 * may have nothing to ask for a while.
 */
export function watchConnection(client: QueryClient): () => void {
  const stop = subscribe(() => {
    const { offline } = snapshot();
    if (offline === was) return;
    was = offline;
    looks = 0;
    if (offline) lookLater();
    else void client.invalidateQueries({ predicate: (q) => q.state.status === "error" || q.isStale() });
  });
  void ready().then((there) => {
    if (!there) noteTrouble(away());
  });
  return stop;
}
