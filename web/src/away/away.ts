/** The link's own calls: the page of one athlete, without a session. */
import { ask, http, type Schemas, Trouble } from "../api/client";
import { send } from "../api/send";
import type { Share } from "../api/uploads";

export type Page = Schemas["AwayPage"];
export type Pair = Schemas["AwayPair"];
export type Answers = Schemas["Answers"];
export type Arrival = Schemas["Arrival"];
export type Worn = Schemas["WornIn"];

const path = (token: string) => ({ params: { path: { token } } });

export const open = (token: string) => ask(http.GET("/api/away/{token}", path(token)));
export const agree = (token: string) => ask(http.POST("/api/away/{token}/agree", path(token)));
export const pairsOf = (token: string) => ask(http.GET("/api/away/{token}/pairs", path(token)));

/** The newest answers, whole; the same change sent again is the same. */
export const answer = (token: string, change_id: string, answers: Answers) =>
  ask(http.PUT("/api/away/{token}/answers", { ...path(token), body: { change_id, answers } }));

export const logWorn = (token: string, pair_id: string, worn: Worn) =>
  ask(
    http.POST("/api/away/{token}/pairs/{pair_id}/worn", {
      params: { path: { token, pair_id } },
      body: worn,
    }),
  );

export const takeWornBack = (token: string, entry_id: string) =>
  ask(http.DELETE("/api/away/{token}/worn/{entry_id}", { params: { path: { token, entry_id } } }));

export const tellArrival = (token: string, order_id: string, found: Arrival) =>
  ask(
    http.PUT("/api/away/{token}/orders/{order_id}/arrival", {
      params: { path: { token, order_id } },
      body: found,
    }),
  );

interface Foot {
  /** The same id again is the same picture. */
  id: string;
  side: "left" | "right";
  paper: "a4" | "letter";
}

export function sendPicture(token: string, foot: Foot, file: File, tell: Share): Promise<Page> {
  const query = new URLSearchParams({ ...foot, name: file.name });
  return send(`/api/away/${token}/pictures?${query}`, file, "measured", tell);
}

export const passing = (error: unknown): boolean => error instanceof Trouble && error.passing;
