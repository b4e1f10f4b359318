/**
 * What was done on this page, in the order it was seen to happen: fields, and acts with their reverse. One way back and
 * forth for all of it, of a fitting or of a room at a time.
 */
import { type PartName, Trouble } from "./client";
import { flush, setFields } from "./outbox";
import { signal } from "./signal";

type Values = Record<string, unknown>;

/** Fields of a part that were set together: what stood there before and after. */
export interface Change {
  kind: "fields";
  /** The fitting. */
  where: string;
  part: PartName;
  before: Values;
  after: Values;
  at: number;
}

/** Something else that was done: in words, with its reverse, and how it is done again where that can be. */
export interface Act {
  kind: "act";
  /** The fitting, or the room. */
  where: string;
  says: string;
  back: () => Promise<unknown>;
  again?: () => Promise<unknown>;
}
export type Deed = Change | Act;

export interface Past {
  done: readonly Deed[];
  undone: readonly Deed[];
  /** What was seen to happen last, anywhere: it was done, taken back, or done again. */
  last: { deed: Deed; how: "made" | "undone" | "redone" } | null;
  /** Why something could not be taken back or done again. */
  trouble: string;
}

/** What is typed into the same fields within this time is one change. */
const TYPED_ON_MS = 1500;
/** So much is remembered: more than anybody takes back. */
const MOST = 200;
const NOTHING: Past = { done: [], undone: [], last: null, trouble: "" };

let past = NOTHING;
/** One after the other: a second press waits for the first. */
let going: Promise<unknown> = Promise.resolve();

export const pastNow = (): Past => past;
const changed = signal();
export const subscribePast = changed.subscribe;

function tell(next: Past): void {
  past = next;
  changed.tell();
}

function done(deed: Deed, inPlaceOf?: Deed): void {
  const before = past.done.filter((d) => d !== inPlaceOf);
  tell({
    done: [...before, deed].slice(-MOST),
    undone: past.undone.filter((d) => d.where !== deed.where),
    last: { deed, how: "made" },
    trouble: "",
  });
}

/** One more act that was seen to happen. */
export const remember = (act: Omit<Act, "kind">): void => done({ kind: "act", ...act });

/** One more change of fields; what is typed on in the same ones is still the same change. */
export function rememberFields(change: Omit<Change, "kind">): void {
  if (!Object.keys(change.before).length) return;
  const open = past.last?.deed;
  const goesOn =
    open?.kind === "fields" &&
    past.last?.how === "made" &&
    open.where === change.where &&
    open.part === change.part &&
    change.at - open.at < TYPED_ON_MS &&
    Object.keys(change.before).every((path) => path in open.before);
  if (goesOn) done({ ...open, after: { ...open.after, ...change.after }, at: change.at }, open);
  else done({ kind: "fields", ...change });
}

/** Nothing of it can be taken back any more: of one place, or at all. */
export function forgetPast(where?: string): void {
  const others = (deeds: readonly Deed[]) => deeds.filter((d) => where && d.where !== where);
  const last = past.last && where && past.last.deed.where !== where ? past.last : null;
  tell({ done: others(past.done), undone: others(past.undone), last, trouble: "" });
}

/** Which deeds may be taken back now, and of what version a part is. */
export interface Now {
  can: (deed: Deed) => boolean;
  versionOf: (part: PartName) => number;
}

async function doIt(deed: Deed, back: boolean, now: Now): Promise<void> {
  if (deed.kind === "act") {
    await (back ? deed.back() : deed.again?.());
    return;
  }
  setFields(deed.where, deed.part, now.versionOf(deed.part), back ? deed.before : deed.after);
  void flush();
}

function move(how: "undone" | "redone", find: () => Deed | undefined, now: Now): Promise<boolean> {
  const turn = going.then(async () => {
    const deed = find();
    if (!deed) return false;
    const back = how === "undone";
    try {
      await doIt(deed, back, now);
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
      tell({ ...past, trouble: `That could not be ${back ? "taken back" : "done again"}. ${error.message}` });
      return false;
    }
    const without = (deeds: readonly Deed[]) => deeds.filter((d) => d !== deed);
    tell({
      done: back ? without(past.done) : [...past.done, deed],
      undone: back ? [...past.undone, deed] : without(past.undone),
      last: { deed, how },
      trouble: "",
    });
    return true;
  });
  going = turn.catch(() => undefined);
  return turn;
}

/** Take back what was done last and may be taken back; false when there is nothing, or it could not be. */
export const undo = (now: Now): Promise<boolean> => move("undone", () => past.done.findLast(now.can), now);

/** Do again what was taken back last; false when there is nothing, or it could not be. */
export const redo = (now: Now): Promise<boolean> =>
  move("redone", () => past.undone.findLast((d) => now.can(d) && (d.kind === "fields" || !!d.again)), now);
