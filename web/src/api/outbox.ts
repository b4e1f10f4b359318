/**
 * What was typed and not yet acknowledged. Kept in the browser's storage until the server has it or the fitter lets
 * go of it; sent in order, each bundle under one change id so that sending twice does no harm.
 */
import { ask, http, type PartName, type Trouble } from "./client";
import { connection, forgetConnection, sessionBegun } from "./connection";
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
  withRefusal,
  withSet,
} from "./entries";
import { forgetOwn, keepOwn, openOwn, own, ownerNow } from "./own";
import { queue } from "./queue";
import { signal } from "./signal";
import { formerName, ifGone, tabName, whenGone } from "./tabs";
import { type Acknowledged, dropTold, noteTold } from "./told";

export interface OutboxState {
  entries: Record<string, Entry>;
  /** So many changes were let go of, because whom they were of was erased. */
  erased: number;
}
type Acknowledge = (fitting: string, part: PartName, now: Acknowledged | null) => void;

const EMPTY: OutboxState = { entries: {}, erased: 0 };
const IDLE_MS = 500;
const LOOK_FOR_ORPHANS_MS = 5000;

let state: OutboxState = EMPTY;
let tab = "";
let acknowledge: Acknowledge = () => {};
let orphans: ReturnType<typeof setInterval> | undefined;
/** By entry: the newest answer this browser has been given, its version at least as high as any it was told of. */
const known = new Map<string, Acknowledged>();

const { subscribe, tell } = signal();

export { subscribe };
export const snapshot = (): OutboxState => state;

const waitingToGo = queue<[string, Entry]>({
  waiting: () => Object.entries(state.entries).filter(([, e]) => toSend(e)),
  key: ([key]) => key,
  lane: ([key]) => key,
  send,
  failed: settleTrouble,
});
export const { flush, schedule, hurry } = waitingToGo;

const prefix = (login: string) => `kalon.outbox.${login}`;

function change(next: Partial<OutboxState>): void {
  state = { ...state, ...next };
  if (next.entries && tab) {
    const name = `${prefix(ownerNow())}.${tab}`;
    keepOwn(name, Object.keys(state.entries).length ? JSON.stringify(state.entries) : null);
  }
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
  const first = prefix(ownerNow());
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
  const before = ownerNow();
  own(login, key);
  if (before === login && tab === name) return;
  sessionBegun();
  known.clear();
  waitingToGo.reset();
  const typedAlready = before === "" ? state.entries : {};
  tab = name;
  state = { ...EMPTY, entries: { ...read(`${prefix(login)}.${tab}`), ...typedAlready } };
  tell();
  adoptOrphans();
  const former = formerName();
  if (former) void whenGone(former, () => ownerNow() === login && adopt(`${prefix(login)}.${former}`));
  clearInterval(orphans);
  orphans = setInterval(adoptOrphans, LOOK_FOR_ORPHANS_MS);
  schedule(0);
}

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

/** Somebody signed in again. Whoever else it is begins with an outbox of their own, and sends nothing of another's. */
export function signedIn(login: string): void {
  if (ownerNow() && ownerNow() !== login) return;
  if (connection().signedOut) {
    sessionBegun();
    openOwn(login);
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

async function send([key, entry]: [string, Entry]): Promise<void> {
  const sending = entry.sending ?? { id: crypto.randomUUID(), set: entry.waiting };
  if (!entry.sending) put(key, { ...entry, sending, waiting: {} });
  const { fitting, part, base } = entry;
  const answer = (await ask(
    http.PATCH("/api/fittings/{fitting_id}/parts/{part}", {
      params: { path: { fitting_id: fitting, part } },
      body: { base_version: base, change_id: sending.id, set: sending.set },
    }),
  )) as Acknowledged;
  if (answer.version >= (known.get(key)?.version ?? 0)) known.set(key, answer);
  noteTold(fitting, part, answer);
  const now = state.entries[key];
  if (now) {
    const refused = without(now.refused, Object.keys(sending.set));
    put(key, { ...now, base: answer.version, sending: null, refused, trouble: null });
  }
  acknowledge(fitting, part, answer);
}

function settleTrouble([key]: [string, Entry], error: Trouble, waits: boolean): void {
  const { problem } = error;
  const now = state.entries[key];
  if (!now?.sending) return;
  if (waits) {
    if (!error.offline && problem.status !== 401) put(key, { ...now, trouble: problem.title });
  } else if (problem.code === "changed-elsewhere") {
    put(key, withClash(now, problem));
  } else if (problem.code === "version-ahead") {
    known.delete(key);
    dropTold(now.fitting);
    put(key, { ...now, base: problem.version ?? 0, trouble: null });
    acknowledge(now.fitting, now.part, null);
  } else if (problem.code === "erased") {
    change({ erased: state.erased + typedIn(now) });
    dropTold(now.fitting);
    letGo(key);
  } else {
    put(key, withRefusal(now, problem));
    if (problem.status !== 422) acknowledge(now.fitting, now.part, null);
  }
}

/** It was read that something was let go of. */
export const seenErased = (): void => change({ erased: 0 });

window.addEventListener("pagehide", () => void flush());

/** For tests: as if the page had just been opened. */
export function forget(): void {
  waitingToGo.reset();
  forgetConnection();
  forgetOwn();
  clearInterval(orphans);
  state = EMPTY;
  tab = "";
  known.clear();
}
