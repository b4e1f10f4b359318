/** Waiting until what was typed in a fitting is acknowledged, or saying why it isn't. */
import { connection } from "./connection";
import type { Entry } from "./entries";
import { entriesOf, flush, subscribe } from "./outbox";

const SAVE_WAIT_MS = 20_000;

/** Something typed that the server doesn't have, and why. */
export class NotSaved extends Error {}

function obstacle(entries: Entry[]): string | null {
  const { signedOut, offline } = connection();
  if (entries.some((e) => e.clash)) return "Somebody else changed the same meanwhile: decide that first.";
  const refused = entries.flatMap((e) => Object.values(e.refused))[0];
  if (refused) return `Something typed here was not saved: ${refused.text} Mend it or let it go first.`;
  if (!entries.length) return null;
  if (signedOut) return "Sign in again first: what you typed is not saved yet.";
  if (offline) return "No connection: what you typed is not saved yet. Wait till it is back.";
  const failing = entries.find((e) => e.trouble);
  return failing ? `What you typed is not saved yet: ${failing.trouble}` : null;
}

/** Wait until everything typed in a fitting is acknowledged. Throws `NotSaved` with the reason when it isn't. */
export async function whenSaved(fitting: string): Promise<void> {
  const until = Date.now() + SAVE_WAIT_MS;
  void flush();
  for (;;) {
    const entries = entriesOf(fitting);
    const reason = obstacle(entries);
    if (reason) throw new NotSaved(reason);
    if (!entries.length) return;
    if (Date.now() > until) throw new NotSaved("What you typed is still on its way. Try again in a moment.");
    await new Promise<void>((next) => {
      const go = () => {
        stop();
        clearTimeout(limit);
        next();
      };
      const stop = subscribe(go);
      const limit = setTimeout(go, 1000);
    });
  }
}
