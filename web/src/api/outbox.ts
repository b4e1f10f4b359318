/**
 * What was typed and not yet acknowledged. Kept in the browser's storage until the server has it or the fitter lets
 * go of it; sent in order, each bundle under one change id so that sending twice does no harm.
 */
import { ask, http, type PartName, type Problem, Trouble } from "./client";
import {
  blank,
  decided,
  type Entry,
  isEmpty,
  keyOf,
  merged,
  restored,
  toSend,
  typedIn,
  type Values,
  withClash,
  without,
  withSet,
} from "./entries";
import { openAll, sealAll } from "./seal";
import { keepText } from "./store";
import { formerName, ifGone, tabName, whenGone } from "./tabs";
import { type Acknowledged, dropTold, noteTold } from "./told";

export interface OutboxState {
  entries: Record<string, Entry>;
  offline: boolean;
  signedOut: boolean;
  /** So many changes were let go of, because whom they were of was erased. */
  erased: number;
}
type Acknowledge = (fitting: string, part: PartName, now: Acknowledged | null) => void;

const EMPTY: OutboxState = { entries: {}, offline: false, signedOut: false, erased: 0 };
const IDLE_MS = 500;
export const FIRST_PAUSE_MS = 1500;
export const LONGEST_PAUSE_MS = 30_000;
const LOOK_FOR_ORPHANS_MS = 5000;

let state: OutboxState = EMPTY;
let owner = "";
let tab = "";
/** With what the owner's words are sealed once nobody is signed in. */
let seal = "";
let acknowledge: Acknowledge = () => {};
let timer: ReturnType<typeof setTimeout> | undefined;
let orphans: ReturnType<typeof setInterval> | undefined;
let busy = false;
let again = false;
let triesAway = 0;
/** By entry: not before this moment. */
const notBefore = new Map<string, number>();
/** By entry: the newest answer this browser has been given, its version at least as high as any it was told of. */
const known = new Map<string, Acknowledged>();
const listeners = new Set<() => void>();

const prefix = (login: string) => `kalon.outbox.${login}`;
function tell(): void {
  for (const listener of listeners) listener();
}

function change(next: Partial<OutboxState>): void {
  state = { ...state, ...next };
  if (next.entries && tab) {
    const name = `${prefix(owner)}.${tab}`;
    keepText(name, Object.keys(state.entries).length ? JSON.stringify(state.entries) : null);
  }
  sealIfOut();
  tell();
}

function put(key: string, entry: Entry): void {
  const entries = { ...state.entries };
  if (isEmpty(entry)) delete entries[key];
  else entries[key] = entry;
  change({ entries });
}

function read(name: string): Record<string, Entry> {
  try {
    const found = JSON.parse(localStorage.getItem(name) ?? "{}") as Record<string, Partial<Entry>>;
    return Object.fromEntries(Object.entries(found).map(([key, e]) => [key, restored(e)]));
  } catch {
    return {}; // A spoilt store holds nothing to send.
  }
}

/** Take over what somebody left. */
function adopt(name: string): void {
  const entries = { ...state.entries };
  for (const [key, left] of Object.entries(read(name))) {
    const own = entries[key];
    entries[key] = own ? merged(own, left) : { ...left, trouble: null };
  }
  localStorage.removeItem(name);
  change({ entries });
  schedule(0);
}

function adoptOrphans(): void {
  const first = prefix(owner);
  for (const name of Object.keys(localStorage)) {
    if (name === first) adopt(name);
    const id = name.startsWith(`${first}.`) ? name.slice(first.length + 1) : "";
    if (id && id !== tab && !id.includes(".")) void ifGone(id, () => adopt(name));
  }
}

/** Begin for a person: what they typed earlier and wasn't sent is sent now. */
export async function openOutbox(login: string, key: string, onAcknowledge: Acknowledge): Promise<void> {
  acknowledge = onAcknowledge;
  const name = await tabName();
  if (key && (owner !== login || !state.signedOut)) openAll(login, key);
  seal = key;
  if (owner === login && tab === name) return;
  known.clear();
  notBefore.clear();
  const typedAlready = owner === "" ? state.entries : {};
  owner = login;
  tab = name;
  state = {
    ...EMPTY,
    offline: state.offline,
    entries: { ...read(`${prefix(owner)}.${tab}`), ...typedAlready },
  };
  tell();
  adoptOrphans();
  const before = formerName();
  if (before) void whenGone(before, () => owner === login && adopt(`${prefix(login)}.${before}`));
  clearInterval(orphans);
  orphans = setInterval(adoptOrphans, LOOK_FOR_ORPHANS_MS);
  schedule(0);
}

export const subscribe = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};
export const snapshot = (): OutboxState => state;

export const entriesOf = (fitting: string): Entry[] =>
  Object.values(state.entries).filter((e) => e.fitting === fitting);

/** What the server last acknowledged of a part from here: an answer asked for before that doesn't have it yet. */
export const acknowledgedOf = (fitting: string, part: PartName): Acknowledged | undefined =>
  known.get(keyOf(fitting, part));

/** Whether something is still on its way, of one fitting or of any. */
export function isWaiting(fitting?: string): boolean {
  const entries = fitting ? entriesOf(fitting) : Object.values(state.entries);
  return entries.some((e) => toSend(e) || !!e.clash);
}

/** A question of the interface was answered: there is a connection. */
export function reached(): void {
  triesAway = 0;
  if (!state.offline) return;
  change({ offline: false });
  schedule(0);
}

/** A question of the interface failed: is there no connection, or nobody signed in? */
export function noteTrouble(error: unknown): void {
  if (!(error instanceof Trouble)) return;
  if (error.offline && !state.offline) change({ offline: true });
  if (error.problem.status === 401 && owner && !state.signedOut) change({ signedOut: true });
}

/** Nobody is signed in any more: what is unsent stays, sealed. */
export function sealOutbox(login: string, key: string): void {
  if (!key) return;
  if (owner === login) seal = key;
  sealAll(login, key);
}

/** What was written while nobody is signed in is sealed as well. */
export function sealIfOut(): void {
  if (state.signedOut && seal) sealAll(owner, seal);
}

/** Somebody signed in again. Whoever else it is begins with an outbox of their own, and sends nothing of another's. */
export function signedIn(login: string): void {
  if (owner && owner !== login) return;
  if (state.signedOut) {
    change({ signedOut: false });
    if (seal) openAll(login, seal);
  }
  schedule(0);
}

/** Set fields of a part. */
export function setFields(fitting: string, part: PartName, base: number, set: Values): void {
  const key = keyOf(fitting, part);
  const now = state.entries[key] ?? blank(fitting, part, Math.max(base, known.get(key)?.version ?? 0));
  put(key, withSet(now, set));
  schedule(IDLE_MS);
}

/** Decide a clash: keep mine (send again on top of theirs) or theirs (drop mine). */
export function decide(key: string, mine: boolean): void {
  const entry = state.entries[key];
  if (!entry?.clash) return;
  put(key, decided(entry, mine));
  if (!mine) acknowledge(entry.fitting, entry.part, null);
  schedule(0);
}

/** Let go of what was not saved: of one refused value, or of everything that keeps failing in an entry. */
export function letGo(key: string, path?: string): void {
  const entry = state.entries[key];
  if (!entry) return;
  if (path) put(key, { ...entry, refused: without(entry.refused, [path]) });
  else put(key, blank(entry.fitting, entry.part, entry.base));
  acknowledge(entry.fitting, entry.part, null);
}

export function schedule(ms: number): void {
  clearTimeout(timer);
  timer = setTimeout(() => void flush(), ms);
}

const sendable = (key: string, e: Entry): boolean => toSend(e) && (notBefore.get(key) ?? 0) <= Date.now();

/** Send everything that waits and may be tried now. */
export async function flush(): Promise<void> {
  clearTimeout(timer);
  if (busy) {
    again = true;
    return;
  }
  busy = true;
  try {
    do {
      again = false;
      for (;;) {
        const found = Object.entries(state.entries).find(([key, e]) => sendable(key, e));
        if (!found || !(await send(...found))) break;
      }
    } while (again && !state.offline && !state.signedOut);
  } finally {
    busy = false;
  }
  planNext();
}

/** When to try again: when the connection may be back, or the first pause is over. */
function planNext(): void {
  if (state.signedOut || !Object.values(state.entries).some(toSend)) return;
  if (state.offline) {
    schedule(Math.min(FIRST_PAUSE_MS * 2 ** Math.max(triesAway - 1, 0), LONGEST_PAUSE_MS / 2));
    return;
  }
  const waits = Object.entries(state.entries)
    .filter(([, e]) => toSend(e))
    .map(([key]) => (notBefore.get(key) ?? 0) - Date.now());
  if (waits.length) schedule(Math.max(Math.min(...waits), 50));
}

/** Send one entry; false when everything has to wait for the connection. */
async function send(key: string, entry: Entry): Promise<boolean> {
  const sending = entry.sending ?? { id: crypto.randomUUID(), set: entry.waiting, tries: 0 };
  if (!entry.sending) put(key, { ...entry, sending, waiting: {} });
  const { fitting, part, base } = entry;
  try {
    const answer = await ask(
      http.PATCH("/api/fittings/{fitting_id}/parts/{part}", {
        params: { path: { fitting_id: fitting, part } },
        body: { base_version: base, change_id: sending.id, set: sending.set },
      }),
    );
    triesAway = 0;
    if (answer.version >= (known.get(key)?.version ?? 0)) known.set(key, answer as Acknowledged);
    noteTold(fitting, part, answer as Acknowledged);
    notBefore.delete(key);
    const now = state.entries[key] ?? entry;
    const refused = without(now.refused, Object.keys(sending.set));
    put(key, { ...now, base: answer.version, sending: null, refused, trouble: null });
    if (state.offline || state.signedOut) change({ offline: false, signedOut: false });
    acknowledge(fitting, part, answer as Acknowledged);
    return true;
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    return settleTrouble(key, sending, error);
  }
}

function settleTrouble(key: string, sending: NonNullable<Entry["sending"]>, error: Trouble): boolean {
  const { problem } = error;
  const now = state.entries[key];
  if (!now) return true;
  if (error.offline) {
    triesAway += 1;
    change({ offline: true });
    return false;
  }
  if (problem.status === 401) {
    change({ signedOut: true });
    return false;
  }
  triesAway = 0;
  if (state.offline) change({ offline: false });
  if (error.passing) {
    const tries = sending.tries + 1;
    const pause = Math.min(FIRST_PAUSE_MS * 2 ** (tries - 1), LONGEST_PAUSE_MS);
    notBefore.set(key, Date.now() + Math.max(pause, error.waitMs));
    put(key, { ...now, sending: { ...sending, tries }, trouble: problem.title });
    return true;
  }
  if (problem.code === "changed-elsewhere") {
    put(key, withClash(now, problem));
    return true;
  }
  if (problem.code === "version-ahead") {
    known.delete(key);
    dropTold(now.fitting);
    put(key, { ...now, base: problem.version ?? 0, trouble: null });
    acknowledge(now.fitting, now.part, null);
    return true;
  }
  if (problem.code === "erased") {
    change({ erased: state.erased + typedIn(now) });
    dropTold(now.fitting);
    letGo(key);
    return true;
  }
  refuse(key, now, sending.set, problem);
  return true;
}

/** It was read that something was let go of. */
export const seenErased = (): void => change({ erased: 0 });

/** Values that will never be taken as they are: kept beside their fields, with the reason, out of the way of others. */
function refuse(key: string, now: Entry, set: Values, problem: Problem): void {
  const text = (path: string) => {
    const dotted = path.replaceAll("/", ".");
    return problem.fields?.find((f) => f.field === dotted || f.field.startsWith(`${dotted}.`))?.text;
  };
  const named = problem.status === 422 ? Object.keys(set).filter(text) : [];
  const bad = named.length ? named : Object.keys(set);
  const refused = { ...now.refused };
  for (const path of bad) {
    if (!(path in now.waiting)) refused[path] = { value: set[path], text: text(path) ?? problem.title };
  }
  put(key, {
    ...now,
    sending: null,
    refused,
    trouble: null,
    waiting: { ...without(set, bad), ...now.waiting },
  });
  if (problem.status !== 422) acknowledge(now.fitting, now.part, null);
}

window.addEventListener("online", () => schedule(0));
window.addEventListener("offline", () => change({ offline: true }));
window.addEventListener("pagehide", () => void flush());

/** For tests: as if the page had just been opened. */
export function forget(): void {
  clearTimeout(timer);
  clearInterval(orphans);
  state = EMPTY;
  owner = tab = seal = "";
  busy = again = false;
  triesAway = 0;
  notBefore.clear();
  known.clear();
}
