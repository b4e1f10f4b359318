/** The typed client, and problems as errors. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];
export type Fitting = Schemas["FittingOut"];
export type Spec = Schemas["Spec"];
export type Pair = Schemas["PairOut"];
export type PartName = "feet" | "brief" | "spec" | "trial" | "settle" | "return";
export type Side = "left" | "right";

const http = createClient<paths>({ baseUrl: "/" });

/** A problem the server stated; `offline` when nothing (or no store) answered. */
export class Trouble extends Error {
  readonly problem: Problem;
  readonly offline: boolean;
  constructor(problem: Problem, offline = false) {
    super(problem.title);
    this.problem = problem;
    this.offline = offline;
  }
}

const AWAY: Problem = {
  type: "urn:kalon:offline",
  title: "No connection. What you type is kept here and sent when it is back.",
  status: 0,
  code: "offline",
  fields: [],
  clashes: [],
  version: null,
};

/** Await a client call; returns its data or throws `Trouble`. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer: { data?: T; error?: unknown; response: Response };
  try {
    answer = await call;
  } catch {
    throw new Trouble(AWAY, true);
  }
  if (answer.response.ok) return answer.data as T;
  const known = answer.error as Partial<Problem> | undefined;
  const problem: Problem = {
    ...AWAY,
    title: `The server answered ${answer.response.status}.`,
    status: answer.response.status,
    code: "http",
    ...(known && typeof known === "object" ? known : {}),
  };
  throw new Trouble(problem, answer.response.status >= 502);
}

export { http };
