/** Leaving a shop's tablet to somebody else: what was typed is sent first, then nobody is signed in. */
import { ask, http, Trouble } from "../api/client";
import { nobodyThere } from "../api/connection";
import { hurry, isWaiting } from "../api/outbox";

const SEND_MS = 3_000;
const STEP_MS = 100;

/** End the session here, keeping the page for whoever comes back to it. Throws `Trouble` without connection. */
export async function lock(): Promise<void> {
  hurry();
  for (let waited = 0; isWaiting() && waited < SEND_MS; waited += STEP_MS)
    await new Promise((on) => setTimeout(on, STEP_MS));
  try {
    await ask(http.DELETE("/api/session"));
  } catch (error) {
    if (!(error instanceof Trouble) || error.problem.status !== 401) throw error;
  }
  nobodyThere();
}
