/**
 * What was typed and not yet acknowledged. Kept in the browser's storage until the server has it; sent in
 * order, each bundle under one change id so that sending twice does no harm.
 */
import { ask, http, type PartName, type Problem, Trouble } from "./client";

type Values = Record<string, unknown>;
export interface Entry {
  fitting: string;
  part: PartName;
  base: number;
  waiting: Values;
  sending: { id: string; set: Values } | null;
  refused: Record<string, { value: unknown; text: string }>;
  clash: Problem | null;
}
export interface OutboxState {
  entries: Record<string, Entry>;
  offline: boolean;
  signedOut: boolean;
  notice: string | null;
}
type Acknowledge = (fitting: string, part: PartName, version: number, body: Values) => void;

const EMPTY: OutboxState = { entries: {}, offline: false, signedOut: false, notice: null };
const IDLE_MS = 500;
const RETRY_MS = 1500;

let state: OutboxState = EMPTY;
let owner = "";
let acknowledge: Acknowledge = () => {};
let timer: ReturnType<typeof setTimeout> | undefined;
let busy = false;
const listeners = new Set<() => void>();
/** What can be taken back: the values before a change, one entry for all that was set together. */
const undoable: { fitting: string; part: PartName; before: Values; at: number }[] = [];

const storageKey = () => `kalon.outbox.${owner}`;

function change(next: Partial<OutboxState>): void {
  state = { ...state, ...next };
  localStorage.setItem(storageKey(), JSON.stringify(state.entries));
  for (const listener of listeners) listener();
}

function put(key: string, entry: Entry): void {
  const entries = { ...state.entries };
  const empty =
    !entry.sending &&
    !entry.clash &&
    !Object.keys(entry.waiting).length &&
    !Object.keys(entry.refused).length;
  if (empty) delete entries[key];
  else entries[key] = entry;
  change({ entries });
}

/** Begin for a person: what they typed earlier and wasn't sent is sent now. */
export function openOutbox(login: string, onAcknowledge: Acknowledge): void {
  owner = login;
  acknowledge = onAcknowledge;
  let entries: Record<string, Entry> = {};
  try {
    entries = JSON.parse(localStorage.getItem(storageKey()) ?? "{}") as Record<string, Entry>;
  } catch {
    // A spoilt store holds nothing to send.
  }
  state = { ...EMPTY, entries };
  for (const listener of listeners) listener();
  schedule(0);
}

export const subscribe = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};
export const snapshot = (): OutboxState => state;

export function isWaiting(): boolean {
  return Object.values(state.entries).some((e) => e.sending || Object.keys(e.waiting).length > 0);
}

/** Set fields of a part; `before` lets the change be undone. */
export function setFields(
  fitting: string,
  part: PartName,
  base: number,
  set: Values,
  before: Values = {},
): void {
  const last = undoable.at(-1);
  const typedOn =
    last?.fitting === fitting &&
    last.part === part &&
    Date.now() - last.at < 1500 &&
    Object.keys(before).every((path) => path in last.before);
  if (typedOn) last.at = Date.now();
  else if (Object.keys(before).length) undoable.push({ fitting, part, before, at: Date.now() });
  const key = `${fitting}/${part}`;
  const now = state.entries[key] ?? {
    fitting,
    part,
    base,
    waiting: {},
    sending: null,
    refused: {},
    clash: null,
  };
  const refused = { ...now.refused };
  for (const path of Object.keys(set)) delete refused[path];
  put(key, { ...now, refused, waiting: { ...now.waiting, ...set } });
  schedule(IDLE_MS);
}

/** Take back the last change of this fitting, as a change of its own; false when there is none. */
export function undo(fitting: string, versionOf: (part: PartName) => number): boolean {
  const index = undoable.findLastIndex((u) => u.fitting === fitting);
  const [last] = index < 0 ? [] : undoable.splice(index, 1);
  if (!last) return false;
  setFields(fitting, last.part, versionOf(last.part), last.before);
  void flush();
  return true;
}

/** Decide a clash: keep mine (send again on top of theirs) or theirs (drop mine). */
export function decide(key: string, mine: boolean): void {
  const entry = state.entries[key];
  if (!entry?.clash) return;
  const kept: Values = { ...entry.sending?.set, ...entry.waiting };
  if (!mine) for (const clash of entry.clash.clashes ?? []) delete kept[clash.path];
  put(key, { ...entry, base: entry.clash.version ?? entry.base, sending: null, waiting: kept, clash: null });
  if (!mine) acknowledge(entry.fitting, entry.part, -1, {});
  schedule(0);
}

export function dismissNotice(): void {
  change({ notice: null });
}

export function schedule(ms: number): void {
  clearTimeout(timer);
  timer = setTimeout(() => void flush(), ms);
}

/** Send everything that waits. */
export async function flush(): Promise<void> {
  clearTimeout(timer);
  if (busy) return;
  busy = true;
  try {
    for (;;) {
      const found = Object.entries(state.entries).find(
        ([, e]) => !e.clash && (e.sending || Object.keys(e.waiting).length > 0),
      );
      if (!found) break;
      if (!(await send(...found))) {
        schedule(RETRY_MS);
        break;
      }
    }
  } finally {
    busy = false;
  }
}

/** Send one entry; false when it has to wait for the connection. */
async function send(key: string, entry: Entry): Promise<boolean> {
  const sending = entry.sending ?? { id: crypto.randomUUID(), set: entry.waiting };
  if (!entry.sending) put(key, { ...entry, sending, waiting: {} });
  const { fitting, part, base } = entry;
  try {
    const answer = await ask(
      http.PATCH("/api/fittings/{fitting_id}/parts/{part}", {
        params: { path: { fitting_id: fitting, part } },
        body: { base_version: base, change_id: sending.id, set: sending.set },
      }),
    );
    const now = state.entries[key] ?? entry;
    put(key, { ...now, base: answer.version, sending: null });
    if (state.offline || state.signedOut) change({ offline: false, signedOut: false });
    acknowledge(fitting, part, answer.version, answer.body);
    return true;
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    return settleTrouble(key, sending, error);
  }
}

function settleTrouble(key: string, sending: { id: string; set: Values }, error: Trouble): boolean {
  const { problem } = error;
  const now = state.entries[key];
  if (!now) return true;
  if (error.offline) {
    change({ offline: true });
    return false;
  }
  if (problem.status === 401) {
    change({ signedOut: true });
    return false;
  }
  if (state.offline) change({ offline: false });
  if (problem.code === "changed-elsewhere") {
    put(key, { ...now, clash: problem });
    return true;
  }
  if (problem.status === 422) {
    const text = (path: string) => {
      const dotted = path.replaceAll("/", ".");
      return problem.fields?.find((f) => f.field === dotted || f.field.startsWith(`${dotted}.`))?.text;
    };
    const named = Object.keys(sending.set).filter(text);
    const bad = named.length ? named : Object.keys(sending.set);
    const refused = { ...now.refused };
    for (const path of bad) refused[path] = { value: sending.set[path], text: text(path) ?? problem.title };
    const rest = Object.fromEntries(Object.entries(sending.set).filter(([path]) => !bad.includes(path)));
    put(key, { ...now, sending: null, refused, waiting: { ...rest, ...now.waiting } });
    return true;
  }
  put(key, { ...now, sending: null });
  change({ notice: problem.title });
  acknowledge(now.fitting, now.part, -1, {});
  return true;
}

window.addEventListener("online", () => schedule(0));
window.addEventListener("offline", () => change({ offline: true }));
window.addEventListener("pagehide", () => void flush());
