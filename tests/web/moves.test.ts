/** Stock counts: in order, once, kept until they are counted. */
import { afterEach, beforeEach, expect, it, vi } from "vitest";

let sent: { id: string; by: number }[];
let answers: (() => Promise<Response>)[];
const json = (status: number, body: object) => async () =>
  new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });
const away = async () => {
  throw new TypeError("no connection");
};

const load = async (counted = vi.fn()) => {
  vi.resetModules();
  const m = await import("../../web/src/api/moves");
  m.openMoves("mara", counted);
  return m;
};
const settle = () => vi.advanceTimersByTimeAsync(0);

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
  sent = [];
  answers = [];
  vi.stubGlobal(
    "fetch",
    vi.fn(async (request: Request) => {
      sent.push(await request.json());
      return (answers.shift() ?? json(200, { on_hand: 7 }))();
    }),
  );
});
afterEach(() => vi.useRealTimers());

it("sends every press once, in order, and forgets it when it is counted", async () => {
  const counted = vi.fn();
  const m = await load(counted);
  m.count("a", 1);
  m.count("a", 1);
  m.count("a", -1);
  await settle();
  expect(sent.map((s) => s.by)).toEqual([1, 1, -1]);
  expect(new Set(sent.map((s) => s.id)).size).toBe(3);
  expect(counted).toHaveBeenLastCalledWith("a", 7);
  expect([m.allMoves(), localStorage.length]).toEqual([[], 0]);
});

it("tries again under the same id, with growing pauses, and survives a reload", async () => {
  answers = [away, away, json(500, { title: "It failed." })];
  const m = await load();
  m.count("a", 2);
  await settle();
  expect(m.allMoves()[0]).toMatchObject({ by: 2, refused: false });
  await vi.advanceTimersByTimeAsync(1500);
  expect(sent).toHaveLength(2);
  await vi.advanceTimersByTimeAsync(1500);
  expect(sent).toHaveLength(2);
  const after = await load();
  expect(after.allMoves()).toHaveLength(1);
  await vi.advanceTimersByTimeAsync(60_000);
  expect(after.allMoves()).toEqual([]);
  expect(new Set(sent.map((s) => s.id)).size).toBe(1);
});

it("keeps a refused one until it is let go of, and does not hold up the others", async () => {
  answers = [json(409, { title: "There are fewer than that." })];
  const m = await load();
  m.count("a", -9);
  m.count("b", 1);
  await settle();
  const [refused] = m.allMoves();
  expect(refused).toMatchObject({ line: "a", refused: true, trouble: "There are fewer than that." });
  expect(m.allMoves()).toHaveLength(1);
  await vi.advanceTimersByTimeAsync(120_000);
  expect(sent).toHaveLength(2);
  m.dropMove(refused?.id ?? "");
  expect([m.allMoves(), localStorage.length]).toEqual([[], 0]);
});

it("leaves another person's counts alone", async () => {
  localStorage.setItem("kalon.move.other.x", JSON.stringify({ id: "x", line: "a", by: 1, at: 1 }));
  localStorage.setItem("kalon.move.mara.spoilt", "{half");
  const m = await load();
  await settle();
  expect([m.allMoves(), sent]).toEqual([[], []]);
  expect(localStorage.getItem("kalon.move.other.x")).not.toBeNull();
  expect(localStorage.getItem("kalon.move.mara.spoilt")).toBeNull();
});

it("on its way when somebody else takes the page stays the first one's", async () => {
  let answer = (_: Response) => {};
  answers = [() => new Promise<Response>((done) => (answer = done))];
  const counted = vi.fn();
  const m = await load(counted);
  m.count("a", 1);
  await settle();
  m.openMoves("other", counted);
  m.count("b", 2);
  answer(await json(409, { title: "No." })());
  await vi.advanceTimersByTimeAsync(100);
  expect(Object.keys(localStorage).filter((k) => k.startsWith("kalon.move.mara."))).toHaveLength(1);
  expect(m.allMoves()).toEqual([]);
  expect(sent.map((s) => s.by)).toEqual([1, 2]);
});
