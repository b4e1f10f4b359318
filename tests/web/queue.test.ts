/** Sending what has to arrive: lanes, pauses, a connection that goes, somebody who lets go. */
import { afterEach, beforeEach, expect, it, vi } from "vitest";

let client: typeof import("../../web/src/api/client");
let connected: typeof import("../../web/src/api/connection");
let queue: typeof import("../../web/src/api/queue")["queue"];
type Trouble = InstanceType<typeof client.Trouble>;

interface Item {
  id: number;
  lane: string;
}
let all: Item[];
let tried: number[];
/** How many are on their way, and the most there were at once. */
let [now, most] = [0, 0];
/** By item, what its tries come to; taken where nothing is said. */
let fates: Record<number, (Trouble | "never")[]>;
const failed = vi.fn();
const failing = (status: number, waitMs = 0) => new client.Trouble({ title: "No.", status } as never, false, waitMs);

const made = (abreast?: number) =>
  queue<Item>({
    waiting: () => all,
    key: (i) => `${i.id}`,
    lane: (i) => i.lane,
    send: async (item) => {
      tried.push(item.id);
      now += 1;
      most = Math.max(most, now);
      await new Promise((on) => setTimeout(on, 100));
      now -= 1;
      const fate = fates[item.id]?.shift();
      if (fate === "never") await new Promise(() => {});
      if (fate) throw fate;
      all = all.filter((i) => i !== item);
    },
    failed: (item, trouble, waits) => {
      failed(item.id, waits);
      if (!waits) all = all.filter((i) => i !== item);
      void trouble;
    },
    abreast,
  });
const items = (...lanes: string[]) => lanes.map((lane, id) => ({ id, lane }));
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);

beforeEach(async () => {
  vi.useFakeTimers();
  vi.resetModules();
  client = await import("../../web/src/api/client");
  connected = await import("../../web/src/api/connection");
  ({ queue } = await import("../../web/src/api/queue"));
  vi.stubGlobal("fetch", async () => Promise.reject(new TypeError("away")));
  [tried, fates, now, most] = [[], {}, 0, 0];
  failed.mockClear();
});
afterEach(() => vi.useRealTimers());

it("sends what waits once, in order, one at a time", async () => {
  all = items("a", "b", "a", "c");
  const q = made();
  void q.flush();
  void q.flush();
  await pass(1000);
  expect([tried, all, most]).toEqual([[0, 1, 2, 3], [], 1]);
});

it("sends lanes abreast, and what is of one lane one after the other", async () => {
  all = items("a", "a", "b", "c", "c");
  void made(2).flush();
  await pass(1000);
  expect(most).toBe(2);
  expect(all).toEqual([]);
  expect(tried.indexOf(0)).toBeLessThan(tried.indexOf(1));
  expect(tried.indexOf(3)).toBeLessThan(tried.indexOf(4));
});

it("lets one lane wait for its pause while others go on, and keeps its order", async () => {
  all = items("a", "a", "b");
  fates[0] = [failing(503, 20_000), failing(500)];
  void made().flush();
  await pass(1000);
  expect([tried, failed.mock.calls]).toEqual([[0, 2], [[0, true]]]);
  await pass(18_000);
  expect(tried).toEqual([0, 2]);
  await pass(1500);
  expect(tried).toEqual([0, 2, 0]);
  await pass(5000);
  expect([tried, all]).toEqual([[0, 2, 0, 0, 1], []]);
});

it("waits with everything while there is no connection, and goes on when it is back", async () => {
  all = items("a", "b");
  fates[0] = [client.away(), client.away()];
  void made().flush();
  await pass(200);
  expect([tried, connected.connection().offline]).toEqual([[0], true]);
  connected.reached();
  await pass(200);
  expect(tried).toEqual([0, 0]);
  expect(connected.connection().offline).toBe(true);
  await pass(10_000);
  expect([tried, all, connected.connection().offline]).toEqual([[0, 0, 0, 1], [], false]);
});

it("does not wait for the pause of what was let go of", async () => {
  all = items("a", "a");
  fates[0] = [failing(503, 500_000)];
  const q = made();
  void q.flush();
  await pass(500);
  all = all.slice(1);
  void q.flush();
  await pass(500);
  expect([tried, all]).toEqual([[0, 1], []]);
});

it("goes past what will never be taken", async () => {
  all = items("a", "a", "b");
  fates[0] = [failing(409)];
  void made().flush();
  await pass(1000);
  expect([tried, failed.mock.calls, all]).toEqual([[0, 1, 2], [[0, false]], []]);
});

it("is hurried by a hand", async () => {
  all = items("a");
  fates[0] = [failing(503, 500_000)];
  const q = made();
  void q.flush();
  await pass(5000);
  q.schedule(0);
  await pass(200);
  expect(tried).toEqual([0]);
  q.hurry();
  await pass(200);
  expect([tried, all]).toEqual([[0, 0], []]);
});

it("begins anew without what was underway", async () => {
  all = items("a");
  fates[0] = ["never"];
  const q = made();
  void q.flush();
  await pass(500);
  all = items("b", "a");
  void q.flush();
  await pass(1000);
  expect(tried).toEqual([0]); // one at a time: it waits
  q.reset();
  void q.flush();
  await pass(1000);
  expect([tried.slice(1), all]).toEqual([[0, 1], []]);
});
