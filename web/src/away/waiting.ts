/** What an athlete told and hasn't arrived yet: kept on their phone under their link until it has. */
import { useSyncExternalStore } from "react";
import { queue } from "../api/queue";
import { signal } from "../api/signal";
import { keepText } from "../api/store";
import * as away from "./away";

type Told =
  | { kind: "answers"; answers: away.Answers }
  | { kind: "worn"; pair: string; worn: away.Worn }
  | { kind: "arrival"; order: string; found: away.Arrival };
/** The id is the same for every try. */
export type Waiting = Told & { id: string; refused?: string };

/** As it is kept: 1 was the newest answers alone, without a number. */
const FORMAT = 2;
interface Kept {
  format: typeof FORMAT;
  items: Waiting[];
}
interface Here {
  page: (page: away.Page) => void;
  pairs: (pairs: away.Pair[]) => void;
}

let token = "";
let items: Waiting[] = [];
const here: Here = { page: () => {}, pairs: () => {} };
const { subscribe, tell } = signal();

const going = queue<Waiting>({
  waiting: () => items.filter((i) => i.refused === undefined),
  key: (i) => i.id,
  lane: (i) => (i.kind === "worn" ? i.pair : i.kind),
  send: async (item) => {
    if (item.kind === "worn") here.pairs(await away.logWorn(token, item.pair, item.worn));
    else if (item.kind === "arrival") here.page(await away.tellArrival(token, item.order, item.found));
    else here.page(await away.answer(token, item.id, item.answers));
    drop(item.id);
  },
  failed: (item, trouble, waits) => {
    if (!waits) keep(items.map((i) => (i.id === item.id ? { ...i, refused: trouble.message } : i)));
  },
});

const nameOf = (link: string) => `kalon.away.${link.slice(0, 12)}`;

function keep(next: Waiting[]): void {
  items = next;
  const kept: Kept = { format: FORMAT, items };
  keepText(nameOf(token), items.length ? JSON.stringify(kept) : null); // where there is no room, it is sent all the same
  tell();
}

/** What was kept by this page or an earlier one; nothing of what is spoilt. */
export function restored(text: string | null): Waiting[] {
  try {
    const found = JSON.parse(text ?? "null") as Kept | away.Answers | null;
    if (!found) return [];
    if (!("format" in found)) return [{ kind: "answers", id: crypto.randomUUID(), answers: found }];
    return found.items.map(({ refused: _, ...item }) => item);
  } catch {
    return [];
  }
}

/** Begin for a link: what was told earlier and hasn't arrived is sent now. */
export function begin(link: string): void {
  if (token === link) return;
  token = link;
  items = restored(localStorage.getItem(nameOf(link)));
  tell();
  void going.flush();
}

/** Who takes what the shop answers. */
export const hear = (more: Partial<Here>): void => void Object.assign(here, more);

const same = (a: Told, b: Told): boolean =>
  (a.kind === "answers" && b.kind === "answers") ||
  (a.kind === "arrival" && b.kind === "arrival" && a.order === b.order);

/** Keep it here first, then there; newer answers stand for those before. It is sent in so many ms. */
export function put(told: Told, inMs = 0, id: string = crypto.randomUUID()): void {
  keep([...items.filter((i) => !same(i, told) && i.id !== id), { ...told, id }]);
  going.schedule(inMs);
}

/** It has arrived, or nobody wants it any more. */
export function drop(id: string): void {
  keep(items.filter((i) => i.id !== id));
}

export const waitingNow = (): Waiting[] => items;
export const useWaiting = (): Waiting[] => useSyncExternalStore(subscribe, waitingNow);
