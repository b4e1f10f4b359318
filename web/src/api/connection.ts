/** Whether the server answers, and whether somebody is signed in. While it doesn't, it is looked for. */
import { useSyncExternalStore } from "react";
import { Trouble } from "./client";
import { signal } from "./signal";

export interface Connection {
  offline: boolean;
  signedOut: boolean;
}
const THERE: Connection = { offline: false, signedOut: false };

const FIRST_LOOK_MS = 1500;
const LONGEST_MS = 10_000;
const WAIT_MS = 8000;

let now = THERE;
/** Somebody has been signed in on this page: only then can they be out. */
let somebody = false;
let timer: ReturnType<typeof setTimeout> | undefined;
let looks = 0;
const { subscribe, tell } = signal();

export const connection = (): Connection => now;
export const subscribeConnection = subscribe;
export const useConnection = (): Connection => useSyncExternalStore(subscribe, connection);

function change(next: Partial<Connection>): void {
  const then = { ...now, ...next };
  if (then.offline === now.offline && then.signedOut === now.signedOut) return;
  const lost = then.offline && !now.offline;
  now = then;
  if (lost) {
    looks = 0;
    lookLater();
  }
  tell();
}

/** Whether the server and its store answer. */
export async function isReady(): Promise<boolean> {
  try {
    return (await fetch("/ready", { cache: "no-store", signal: AbortSignal.timeout(WAIT_MS) })).ok;
  } catch {
    return false;
  }
}

function lookLater(): void {
  clearTimeout(timer);
  const pause = Math.min(FIRST_LOOK_MS * 2 ** looks++, LONGEST_MS);
  timer = setTimeout(async () => {
    if (!now.offline) return;
    if (await isReady()) reached();
    else lookLater();
  }, pause);
}

/** A question was answered: there is a connection. */
export const reached = (): void => change({ offline: false });

/** A question that needs a session was answered. */
export const answered = (): void => change(THERE);

/** Nothing answers. */
export const lost = (): void => change({ offline: true });

/** A question failed: is there no connection, or nobody signed in? */
export function noteTrouble(error: unknown): void {
  if (!(error instanceof Trouble)) return;
  if (error.offline) lost();
  if (error.problem.status === 401 && somebody) change({ signedOut: true });
}

/** Somebody is signed in. */
export function sessionBegun(): void {
  somebody = true;
  change({ signedOut: false });
}

/** Whoever was signed in has left this device to the next. */
export const nobodyThere = (): void => change({ signedOut: true });

window.addEventListener("offline", lost);

/** For tests: as if the page had just been opened. */
export function forgetConnection(): void {
  clearTimeout(timer);
  now = THERE;
  somebody = false;
}
