/**
 * Stock counts on their way: each press is sent under an id of its own, in order, and kept in the browser until it is
 * acknowledged or let go of. The id makes it harmless when two tabs send the same.
 */
import { ask, http, type Schemas, type Trouble } from "./client";
import { remember } from "./history";
import { keepOwn } from "./own";
import { queue } from "./queue";
import { signal } from "./signal";

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
const { subscribe, tell } = signal();

export const allMoves = (): Move[] => moves;
export const subscribeMoves = subscribe;

const counting = queue<Move>({
  waiting: () => moves.filter((m) => !m.refused),
  key: (move) => move.id,
  lane: (move) => move.line,
  send,
  failed: (move, trouble: Trouble, waits) => {
    if (isOurs(move)) keep({ ...move, trouble: trouble.message, refused: !waits });
  },
});

const prefix = () => `kalon.move.${owner}.`;
/** Neither let go of meanwhile, nor of somebody who had the page before. */
const isOurs = (move: Move) => moves.some((m) => m.id === move.id);

function change(next: Move[]): void {
  moves = next;
  tell();
}

function keep(move: Move): void {
  keepOwn(prefix() + move.id, JSON.stringify(move));
  change(isOurs(move) ? moves.map((m) => (m.id === move.id ? move : m)) : [...moves, move]);
}

/** Forget a move: it was counted, or nobody wants it any more. */
export function dropMove(id: string): void {
  keepOwn(prefix() + id, null);
  change(moves.filter((m) => m.id !== id));
}

/** So many pairs more or fewer on the shelf. */
export function count(line: string, by: number, kind: Kind = "counted", why = ""): void {
  keep({ id: crypto.randomUUID(), line, by, kind, why, at: Date.now(), trouble: null, refused: false });
  void counting.flush();
}

/** What was counted can be taken back, as a count of its own. */
export function rememberCount(line: string, by: number, what: string): void {
  const signed = `${by < 0 ? "−" : "+"}${Math.abs(by)}`;
  const on = async (n: number) => count(line, n, "counted", "taken back");
  remember({ where: "stockroom", says: `${what} ${signed}`, back: () => on(-by), again: () => on(by) });
}

/** Try a move again: a refused one, or one that waits for its pause. */
export function countAgain(move: Move): void {
  keep({ ...move, trouble: null, refused: false });
  counting.hurry();
}

async function send(move: Move): Promise<void> {
  const now = await ask(
    http.POST("/api/stock/{line_id}/moves", {
      params: { path: { line_id: move.line } },
      body: { id: move.id, by: move.by, kind: move.kind ?? "counted", why: move.why ?? "" },
    }),
  );
  if (!isOurs(move)) return; // kept for the one before, whose next page sends it again
  counted(move.line, now.on_hand);
  dropMove(move.id);
}

function read(name: string): Move[] {
  try {
    return [JSON.parse(localStorage.getItem(name) ?? "") as Move];
  } catch {
    localStorage.removeItem(name); // spoilt: nothing to send
    return [];
  }
}

/** Begin for a person: what they pressed earlier and was not counted is sent now. */
export function openMoves(login: string, onCounted: Counted): void {
  counted = onCounted;
  if (owner === login) return;
  owner = login;
  counting.reset();
  const names = Object.keys(localStorage).filter((name) => name.startsWith(prefix()));
  change(names.flatMap(read).sort((a, b) => a.at - b.at));
  void counting.flush();
}
