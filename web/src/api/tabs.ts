/**
 * What a tab keeps for itself. Two tabs of one browser must not send each other's changes, and what a closed tab left
 * behind must not be lost: each holds a lock on its name, and a name whose lock is free has nobody behind it.
 */
const NAME = "kalon.tab";

/** Hold a tab's name for as long as the page lives; false when another tab has it. */
function hold(id: string): Promise<boolean> {
  if (!navigator.locks) return Promise.resolve(true);
  return new Promise((done) => {
    void navigator.locks.request(`${NAME}.${id}`, { ifAvailable: true }, (lock) => {
      done(!!lock);
      return lock ? new Promise(() => {}) : undefined;
    });
  });
}

let mine: Promise<string> | undefined;
let former = "";

/** The name this tab had, where it couldn't have it again: a page that was just reloaded may not have let go of it. */
export const formerName = (): string => former;

/** This tab's name: the same after a reload, another one in a tab that was duplicated. */
export function tabName(): Promise<string> {
  mine ??= (async () => {
    const kept = sessionStorage.getItem(NAME);
    if (kept && (await hold(kept))) return kept;
    former = kept ?? "";
    const fresh = crypto.randomUUID();
    sessionStorage.setItem(NAME, fresh);
    await hold(fresh);
    return fresh;
  })();
  return mine;
}

const LETS_GO_MS = 3000;

/** Do something with what a tab left, as soon as it lets go of its name. */
export async function whenGone(id: string, act: () => unknown): Promise<void> {
  if (!navigator.locks) return;
  await navigator.locks
    .request(`${NAME}.${id}`, { signal: AbortSignal.timeout(LETS_GO_MS) }, act)
    .catch(() => undefined); // it lives on
}

/** Do something with what a tab left, if there is no such tab any more. */
export async function ifGone(id: string, act: () => void): Promise<void> {
  if (!navigator.locks) return;
  await navigator.locks.request(`${NAME}.${id}`, { ifAvailable: true }, (lock) => {
    if (lock) act();
  });
}
