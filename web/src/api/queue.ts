/**
 * One way of sending what has to arrive: what waits is sent again, with growing pauses, until it has arrived or will
 * never be taken. What is kept, and where, is for whoever has it; sending it twice must do no harm.
 */
import { Trouble } from "./client";
import { answered, connection, noteTrouble, reached, subscribeConnection } from "./connection";

export const FIRST_PAUSE_MS = 1500;
export const LONGEST_PAUSE_MS = 30_000;
/** A connection is looked for sooner. */
const LONGEST_AWAY_MS = 15_000;
const AT_LEAST_MS = 50;

export interface Work<T> {
  /** What waits, in order. */
  waiting: () => T[];
  /** What it is called, the same at every try. */
  key: (item: T) => string;
  /** Of a lane one is sent after the other: the next waits for the one before. */
  lane: (item: T) => string;
  /** Send one, and take in its answer; rejects with `Trouble`. */
  send: (item: T) => Promise<void>;
  /** It was not taken. Where it `waits` it is sent again by itself; else it must no longer be among what waits. */
  failed: (item: T, trouble: Trouble, waits: boolean) => void;
  /** So many lanes at once; one where it isn't said. */
  abreast?: number;
}

export interface Queue {
  /** Send what waits and may be tried now; resolves when no more can be done for now. */
  flush: () => Promise<void>;
  /** The same in so many ms. */
  schedule: (ms: number) => void;
  /** Try again now what waits for its pause. */
  hurry: () => void;
  /** Begin anew: nothing is paused or planned, and what is underway is waited for no longer. */
  reset: () => void;
}

const growing = (tries: number, most: number) => Math.min(FIRST_PAUSE_MS * 2 ** Math.max(tries - 1, 0), most);

export function queue<T>(work: Work<T>): Queue {
  const abreast = work.abreast ?? 1;
  let underway = new Set<string>();
  const pauses = new Map<string, { tries: number; until: number }>();
  let sending: Promise<void>[] = [];
  let timer: ReturnType<typeof setTimeout> | undefined;
  let triesAway = 0;

  /** The first of each lane that nothing is underway in. */
  function firsts(): [string, T][] {
    const passed = new Set(underway);
    return work.waiting().flatMap((item): [string, T][] => {
      const lane = work.lane(item);
      if (passed.has(lane)) return [];
      passed.add(lane);
      return [[lane, item]];
    });
  }
  const untilOf = (item: T) => pauses.get(work.key(item))?.until ?? 0;
  const due = () => firsts().find(([, item]) => untilOf(item) <= Date.now());

  /** Note a failure; false when everything has to wait. */
  function settle(item: T, trouble: Trouble): boolean {
    const key = work.key(item);
    noteTrouble(trouble);
    const out = trouble.problem.status === 401;
    if (trouble.offline) triesAway += 1;
    else if (!out) {
      triesAway = 0;
      reached();
      const tries = (pauses.get(key)?.tries ?? 0) + 1;
      const pause = Math.max(growing(tries, LONGEST_PAUSE_MS), trouble.waitMs);
      if (trouble.passing) pauses.set(key, { tries, until: Date.now() + pause });
      else pauses.delete(key);
    }
    work.failed(item, trouble, trouble.passing || out);
    return !trouble.offline && !out;
  }

  async function one(lane: string, item: T): Promise<boolean> {
    const lanes = underway;
    lanes.add(lane);
    try {
      await work.send(item);
      if (lanes !== underway) return false;
      triesAway = 0;
      pauses.delete(work.key(item));
      answered();
      return true;
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
      if (lanes !== underway) return false;
      return settle(item, error);
    } finally {
      lanes.delete(lane);
    }
  }

  async function sendOn(): Promise<void> {
    for (let next = due(); next; next = due()) if (!(await one(...next))) return;
  }

  async function flush(): Promise<void> {
    clearTimeout(timer);
    while (sending.length < abreast && due()) {
      const going = sendOn().finally(() => {
        const [before, others] = [sending, sending.filter((s) => s !== going)];
        sending = others;
        if (before.length > others.length && !others.length) plan();
      });
      sending = [...sending, going];
    }
    if (!sending.length) plan();
    await Promise.all(sending);
  }

  /** When to try again: when the connection may be back, or the first pause is over. */
  function plan(): void {
    const { offline, signedOut } = connection();
    const waits = firsts().map(([, item]) => untilOf(item) - Date.now());
    if (signedOut || !waits.length) return;
    schedule(offline ? growing(triesAway, LONGEST_AWAY_MS) : Math.max(Math.min(...waits), AT_LEAST_MS));
  }

  function schedule(ms: number): void {
    clearTimeout(timer);
    timer = setTimeout(() => void flush(), ms);
  }

  let waited = false;
  subscribeConnection(() => {
    const { offline, signedOut } = connection();
    if (waited && !offline && !signedOut) schedule(0);
    waited = offline || signedOut;
  });
  window.addEventListener("online", () => schedule(0));

  return {
    flush,
    schedule,
    hurry: () => {
      pauses.clear();
      schedule(0);
    },
    reset: () => {
      clearTimeout(timer);
      pauses.clear();
      underway = new Set();
      sending = [];
      triesAway = 0;
    },
  };
}
