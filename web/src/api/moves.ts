/**
 * Stock counts on their way: each press is sent under an id of its own, in order, and kept in the browser until it is
 * acknowledged or let go of. The id makes it harmless when two tabs send the same.
 */
import { ask, http, type Schemas, Trouble } from "./client";
import { remember } from "./history";
import {
  FIRST_PAUSE_MS,
  LONGEST_PAUSE_MS,
  noteTrouble,
  reached,
  sealIfOut,
  snapshot,
  subscribe,
} from "./outbox";

import { keepText } from "./store";

type Kind = NonNullable<Schemas["MoveIn"]["kind"]>;

export interface Move {
  id: string;
  line: string;
  by: number;
  /** What it was; a count where that was not kept yet. */
  kind?: Kind;
  why?: string;
  at: number;
  /** Why the last try failed. */
  trouble: string | null;
  /** It will never be taken as it is. */
  refused: boolean;
}
type Counted = (line: string, onHand: number) => void;

let moves: Move[] = [];
let owner = "";
let counted: Counted = () => {};
let busy = false;
let tries = 0;
let timer: ReturnType<typeof setTimeout> | undefined;
const listeners = new Set<() => void>();

export const allMoves = (): Move[] => moves;
export const subscribeMoves = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

const prefix = () => `kalon.move.${owner}.`;

function tell(next: Move[]): void {
  moves = next;
  for (const listener of listeners) listener();
}

function keep(move: Move): void {
  keepText(prefix() + move.id, JSON.stringify(move));
  sealIfOut();
  const known = moves.some((m) => m.id === move.id);
  tell(known ? moves.map((m) => (m.id === move.id ? move : m)) : [...moves, move]);
}

/** Forget a move: it was counted, or nobody wants it any more. */
export function dropMove(id: string): void {
  keepText(prefix() + id, null);
  tell(moves.filter((m) => m.id !== id));
}

function schedule(ms: number): void {
  clearTimeout(timer);
  timer = setTimeout(() => void sendAll(), ms);
}

/** So many pairs more or fewer on the shelf. */
export function count(line: string, by: number, kind: Kind = "counted", why = ""): void {
  keep({ id: crypto.randomUUID(), line, by, kind, why, at: Date.now(), trouble: null, refused: false });
  void sendAll();
}

/** What was counted can be taken back, as a count of its own. */
export function rememberCount(line: string, by: number, what: string): void {
  const signed = `${by < 0 ? "−" : "+"}${Math.abs(by)}`;
  const on = async (n: number) => count(line, n, "counted", "taken back");
  remember({ where: "stockroom", says: `${what} ${signed}`, back: () => on(-by), again: () => on(by) });
}

/** Try a refused move again. */
export function countAgain(move: Move): void {
  keep({ ...move, trouble: null, refused: false });
  void sendAll();
}

async function sendAll(): Promise<void> {
  if (busy || !owner) return;
  const by = owner;
  busy = true;
  clearTimeout(timer);
  try {
    for (let move = next(); move; move = next()) if (!(await send(move))) break;
  } finally {
    busy = false;
  }
  if (owner !== by) schedule(0);
}

const next = (): Move | undefined => moves.find((m) => !m.refused);

/** Send one; false when the others have to wait too. */
async function send(move: Move): Promise<boolean> {
  const by = owner;
  try {
    const now = await ask(
      http.POST("/api/stock/{line_id}/moves", {
        params: { path: { line_id: move.line } },
        body: { id: move.id, by: move.by, kind: move.kind ?? "counted", why: move.why ?? "" },
      }),
    );
    tries = 0;
    reached();
    if (owner !== by) return false; // kept for the one before, whose next page sends it again
    counted(move.line, now.on_hand);
    dropMove(move.id);
    return true;
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    noteTrouble(error);
    if (owner !== by) return false;
    if (!moves.some((m) => m.id === move.id)) return true; // let go of meanwhile
    const waits = error.passing || error.problem.status === 401;
    keep({ ...move, trouble: error.message, refused: !waits });
    if (!waits) return true;
    schedule(Math.max(Math.min(FIRST_PAUSE_MS * 2 ** tries, LONGEST_PAUSE_MS), error.waitMs));
    tries += 1;
    return false;
  }
}

/** Begin for a person: what they pressed earlier and was not counted is sent now. */
export function openMoves(login: string, onCounted: Counted): void {
  counted = onCounted;
  if (owner === login) return;
  owner = login;
  const found: Move[] = [];
  for (const name of Object.keys(localStorage)) {
    if (!name.startsWith(prefix())) continue;
    try {
      found.push(JSON.parse(localStorage.getItem(name) ?? "") as Move);
    } catch {
      localStorage.removeItem(name); // spoilt: nothing to send
    }
  }
  tell(found.sort((a, b) => a.at - b.at));
  void sendAll();
}

let waited = false;
subscribe(() => {
  const { offline, signedOut } = snapshot();
  if (waited && !offline && !signedOut) schedule(0);
  waited = offline || signedOut;
});
window.addEventListener("online", () => schedule(0));
