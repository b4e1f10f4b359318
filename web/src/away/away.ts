/** The link's own calls: no session, no outbox; the newest answers whole, kept in this browser until they have arrived. */
import { ask, http, type Schemas, Trouble } from "../api/client";
import { keepText } from "../api/store";

export type Page = Schemas["AwayPage"];
export type Answers = Schemas["Answers"];

const path = (token: string) => ({ params: { path: { token } } });
const kept = (token: string) => `kalon.away.${token.slice(0, 12)}`;

export const open = (token: string) => ask(http.GET("/api/away/{token}", path(token)));
export const agree = (token: string) => ask(http.POST("/api/away/{token}/agree", path(token)));

/** What was typed and hasn't arrived yet, from before a reload. */
export function waiting(token: string): Answers | null {
  const found = localStorage.getItem(kept(token));
  return found ? (JSON.parse(found) as Answers) : null;
}

/** Keep answers here first, then there; what fails is tried again by whoever calls. */
export async function send(token: string, answers: Answers, changeId: string): Promise<Page> {
  keepText(kept(token), JSON.stringify(answers)); // where there is no room, it is sent all the same
  const page = await ask(
    http.PUT("/api/away/{token}/answers", {
      ...path(token),
      body: { change_id: changeId, answers },
    }),
  );
  if (localStorage.getItem(kept(token)) === JSON.stringify(answers)) localStorage.removeItem(kept(token));
  return page;
}

export const pairsOf = (token: string) => ask(http.GET("/api/away/{token}/pairs", path(token)));

export const logWorn = (token: string, pair_id: string, worn: Schemas["WornIn"]) =>
  ask(
    http.POST("/api/away/{token}/pairs/{pair_id}/worn", {
      params: { path: { token, pair_id } },
      body: worn,
    }),
  );

export const takeWornBack = (token: string, entry_id: string) =>
  ask(http.DELETE("/api/away/{token}/worn/{entry_id}", { params: { path: { token, entry_id } } }));

export const tellArrival = (token: string, order_id: string, found: Schemas["Arrival"]) =>
  ask(
    http.PUT("/api/away/{token}/orders/{order_id}/arrival", {
      params: { path: { token, order_id } },
      body: found,
    }),
  );

const LONGEST_MS = 120_000;

/** Send a picture; the same id again is the same picture. */
export async function sendPicture(
  token: string,
  picture: { id: string; side: "left" | "right"; paper: "a4" | "letter"; file: File },
): Promise<Page> {
  const query = new URLSearchParams({
    id: picture.id,
    side: picture.side,
    paper: picture.paper,
    name: picture.file.name,
  });
  let answer: Response;
  try {
    answer = await fetch(`/api/away/${token}/pictures?${query}`, {
      method: "POST",
      body: picture.file,
      headers: { "content-type": "application/octet-stream" },
      signal: AbortSignal.timeout(LONGEST_MS),
    });
  } catch {
    throw new Error("The picture did not get through. It is still on your phone: try again.");
  }
  const body: unknown = await answer.json().catch(() => null);
  if (answer.ok) return body as Page;
  const title = (body as { title?: string } | null)?.title;
  throw new Error(title ?? "The picture can't be read. Take it again in brighter light.");
}

export const passing = (error: unknown): boolean => error instanceof Trouble && error.passing;
