/** The typed client, and problems as errors. No request waits for ever. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];
export type Fitting = Schemas["FittingOut"];
export type Spec = Schemas["Spec"];
export type Pair = Schemas["PairOut"];
export type PartName = "feet" | "brief" | "spec" | "trial" | "settle" | "return";
export type Side = "left" | "right";

/** How long an answer is waited for. */
const WAIT_MS = 12_000;
/** Measuring and reading lists take as long as they take; a worker is given a minute. */
const MEASURING_MS = 100_000;
const MEASURES =
  /\/(practice|practice-shoe|captures\/[^/]+|shoe-pictures\/[^/]+|sheets\/[^/]+\/(settings|write|undo))$/;

let asked = 0;
/** Whether an answer is being waited for that comes soon or not at all. */
export const isAsking = (): boolean => asked > 0;

const http = createClient<paths>({
  baseUrl: "/",
  fetch: (request) => {
    const seen = request.method === "GET";
    const long = !seen && MEASURES.test(new URL(request.url).pathname);
    const late = AbortSignal.timeout(long ? MEASURING_MS : WAIT_MS);
    if (!long) asked++;
    return fetch(request, { signal: AbortSignal.any([request.signal, late]) })
      .catch(() => {
        throw away(seen ? UNSEEN : UNDONE);
      })
      .finally(() => {
        if (!long) asked--;
      });
  },
});

/** A problem the server stated; `offline` when nothing (or no store) answered, `passing` when asking again may help. */
export class Trouble extends Error {
  readonly problem: Problem;
  readonly offline: boolean;
  readonly passing: boolean;
  /** How long the server asks to wait, where it says so. */
  readonly waitMs: number;
  constructor(problem: Problem, offline = false, waitMs = 0) {
    super(problem.title);
    this.problem = problem;
    this.offline = offline;
    this.waitMs = waitMs;
    this.passing = offline || problem.status >= 500 || problem.status === 429 || problem.status === 408;
  }
}

const UNSEEN = "No connection. It is asked for again when it is back.";
const UNDONE = "No connection: nothing answered, so this may not be done. Try again when it is back.";
/** For what is kept in this browser until it has arrived. */
export const KEPT = "No connection. What you type is kept here and sent when it is back.";

const AWAY: Problem = {
  type: "urn:kalon:offline",
  title: UNSEEN,
  status: 0,
  code: "offline",
  fields: [],
  clashes: [],
  version: null,
};

/** The trouble of a request that nothing answered, in time or at all. */
export const away = (title = AWAY.title): Trouble => new Trouble({ ...AWAY, title }, true);

/** The trouble an answer states. */
export function troubleOf(status: number, body: unknown, retryAfter: string | null): Trouble {
  const known = body as Partial<Problem> | null | undefined;
  const stated = known && typeof known === "object" && typeof known.title === "string" ? known : {};
  const problem: Problem = {
    ...AWAY,
    title: `The server answered ${status}.`,
    code: "http",
    ...stated,
    status,
  };
  const storeAway = [502, 504].includes(status) || (status === 503 && problem.code === "store-away");
  return new Trouble(problem, storeAway, Number(retryAfter ?? 0) * 1000 || 0);
}

/** Await a client call; returns its data or throws `Trouble`. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer: { data?: T; error?: unknown; response: Response };
  try {
    answer = await call;
  } catch (error) {
    throw error instanceof Trouble ? error : away();
  }
  if (answer.response.ok) return answer.data as T;
  throw troubleOf(answer.response.status, answer.error, answer.response.headers.get("retry-after"));
}

export { http };
