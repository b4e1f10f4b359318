/**
 * Files on their way to be measured, those of one place one after the other. They go on whatever is shown, are sent
 * again by themselves where that may help, and what fails is told wherever one is. The file itself stays in the page.
 */
import { useSyncExternalStore } from "react";
import { ask, http, type Problem, type Trouble } from "./client";
import { ownerNow } from "./own";
import { queue } from "./queue";
import { signal } from "./signal";

export type Share = (share: number) => void;

interface Sent {
  /** The same for every try: sent twice it is measured once. */
  id: string;
  /** What it is of: a fitting, a size in stock, a pair. */
  of: string;
  /** Where that is looked at. */
  place: string;
  name: string;
  /** How far it is measured isn't told to whom it is of. */
  unwatched?: boolean;
  /** Send it, with what was said about it; the share is of the file. */
  run: (said: object, tell: Share) => Promise<void>;
}
export interface Upload extends Sent {
  /** Whose it is: nobody else who signs in on this page sends or sees it. */
  by: string;
  share: number;
  step: string;
  said: object;
  tries: number;
  trouble: Problem | null;
  /** It waits for somebody: to say more about it, to try again, or to let it go. */
  refused: boolean;
}

/** A file that fails so often is the file's fault. House default. */
const MOST_TRIES = 5;
const LOOK_EVERY_MS = 300;
/** Of the bar, for sending; the rest is for measuring. */
const SENDING = 0.05;

let all: Upload[] = [];
/** Those of whoever is signed in. */
let own: { by: string; of: Upload[]; list: Upload[] } = { by: "", of: all, list: all };
const { subscribe, tell } = signal();

export function uploads(): Upload[] {
  const by = ownerNow();
  if (own.by !== by || own.of !== all) own = { by, of: all, list: all.filter((u) => u.by === by) };
  return own.list;
}
export const useUploads = (): Upload[] => useSyncExternalStore(subscribe, uploads);
export const isUploading = (): boolean => uploads().some((u) => !u.refused);

function keep(next: Upload[]): void {
  all = next;
  tell();
}
function change(id: string, part: Partial<Upload>): void {
  keep(all.map((u) => (u.id === id ? { ...u, ...part } : u)));
}

const going = queue<Upload>({
  waiting: () => uploads().filter((u) => !u.refused),
  key: (u) => u.id,
  lane: (u) => u.of,
  send,
  failed: ({ id, tries }, trouble: Trouble, waits) =>
    change(id, {
      tries: tries + 1,
      trouble: trouble.problem,
      refused: !waits || (!trouble.offline && tries + 1 >= MOST_TRIES),
    }),
  abreast: 3,
});

async function send({ id, run, said, unwatched }: Upload): Promise<void> {
  change(id, { share: 0.02, step: "sending", trouble: null });
  const look = setInterval(async () => {
    if (unwatched) return;
    const path = { capture_id: id };
    const at = await ask(http.GET("/api/captures/{capture_id}/progress", { params: { path } })).catch(
      () => null,
    );
    if (at) change(id, { share: at.share, step: at.step });
  }, LOOK_EVERY_MS);
  try {
    await run(said, (share) => change(id, { share: share * SENDING }));
  } catch (error) {
    change(id, { share: 0 });
    throw error;
  } finally {
    clearInterval(look);
  }
  dropUpload(id);
}

/** Send one until it is measured, refused or let go of. */
export function upload(sent: Sent): void {
  const fresh = {
    by: ownerNow(),
    share: 0,
    step: "waiting its turn",
    said: {},
    tries: 0,
    trouble: null,
    refused: false,
  };
  keep([...all.filter((u) => u.id !== sent.id), { ...sent, ...fresh }]);
  void going.flush();
}

/** Try again now, with more said about the file. */
export function uploadAgain(id: string, more: object = {}): void {
  const before = all.find((u) => u.id === id);
  if (!before) return;
  change(id, { said: { ...before.said, ...more }, tries: 0, trouble: null, refused: false });
  going.hurry();
}

/** Nobody wants it any more. */
export function dropUpload(id: string): void {
  keep(all.filter((u) => u.id !== id));
}
