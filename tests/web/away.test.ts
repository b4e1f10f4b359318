/** What an athlete tells on a telephone that loses its connection, and what an earlier version kept of it. */
import { afterEach, beforeEach, expect, it, vi } from "vitest";

type Sent = [string, string, Record<string, unknown>];
let sent: Sent[];
let up: boolean;
let refuse: Set<string>;
const TOKEN = "abcdefghijklmnop";
const NAME = "kalon.away.abcdefghijkl";
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);
const here = { page: vi.fn(), pairs: vi.fn() };

/** The page, just opened: nothing of an earlier one goes on. */
const opened = async () => {
  vi.clearAllTimers();
  vi.resetModules();
  const waiting = await import("../../web/src/away/waiting");
  waiting.hear(here);
  waiting.begin(TOKEN);
  return waiting;
};
const words = (text: string) => ({ kind: "answers" as const, answers: { words: text } as never });
const worn = (minutes: number) =>
  ({ kind: "worn", pair: "p", worn: { id: `w${minutes}`, on: "2026-05-02", minutes, surface: null } }) as const;

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
  [sent, up, refuse] = [[], true, new Set()];
  vi.clearAllMocks();
  vi.stubGlobal("fetch", async (request: Request | string) => {
    if (!up) throw new TypeError("away");
    if (typeof request === "string") return new Response("{}");
    const { pathname } = new URL(request.url);
    sent.push([request.method, pathname.replace(TOKEN, "T"), await request.json()]);
    const status = [...refuse].some((r) => pathname.includes(r)) ? 422 : 200;
    return new Response(JSON.stringify(status === 200 ? { of: pathname } : { title: "That can't be." }), {
      status,
      headers: { "content-type": "application/json" },
    });
  });
});
afterEach(() => vi.useRealTimers());

it("sends the newest answers once the hand rests, and keeps nothing that arrived", async () => {
  const w = await opened();
  w.put(words("Foot"), 600);
  await pass(300);
  w.put(words("Football"), 600);
  await pass(500);
  expect(sent).toEqual([]);
  expect(localStorage.getItem(NAME)).toContain("Football");
  await pass(200);
  expect(sent.map(([, path, body]) => [path, body.answers])).toEqual([["/api/away/T/answers", { words: "Football" }]]);
  expect([w.waitingNow(), localStorage.getItem(NAME), here.page.mock.calls.length]).toEqual([[], null, 1]);
});

it("keeps answers, wears and what was found of a pair through a reload without connection", async () => {
  up = false;
  const w = await opened();
  w.put(words("Sundays"));
  w.put(worn(30), 0, "w30");
  w.put({ kind: "arrival", order: "o", found: { toes: "jam" } as never });
  await pass(5000);
  expect(w.waitingNow()).toHaveLength(3);
  const again = await opened();
  expect(again.waitingNow().map((i) => i.kind)).toEqual(["answers", "worn", "arrival"]);
  up = true;
  await pass(30_000);
  expect(sent.map(([method, path]) => `${method} ${path}`).sort()).toEqual([
    "POST /api/away/T/pairs/p/worn",
    "PUT /api/away/T/answers",
    "PUT /api/away/T/orders/o/arrival",
  ]);
  expect([again.waitingNow(), localStorage.length]).toEqual([[], 0]);
  expect(here.pairs).toHaveBeenCalledTimes(1);
});

it("a wear that is refused is told and holds nobody up", async () => {
  refuse.add("/worn");
  const w = await opened();
  w.put(worn(30), 0, "w30");
  w.put(words("Sundays"));
  await pass(1000);
  expect(w.waitingNow()).toMatchObject([{ id: "w30", refused: "That can't be." }]);
  w.drop("w30");
  await pass(60_000);
  expect(sent.filter(([, path]) => path.endsWith("/worn"))).toHaveLength(1);
});

it("takes up what the version before kept: the newest answers alone", async () => {
  localStorage.setItem(NAME, JSON.stringify({ words: "Before", worn: [] }));
  await opened();
  await pass(1000);
  expect(sent.map(([, , body]) => body.answers)).toEqual([{ words: "Before", worn: [] }]);
  localStorage.setItem(NAME, "{half");
  const w = await opened();
  expect(w.waitingNow()).toEqual([]);
});
