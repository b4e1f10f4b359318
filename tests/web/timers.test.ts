/** Trial timers: each of its pair, running on, surviving a reload. */
import { afterEach, beforeEach, expect, it, vi } from "vitest";

const load = async () => {
  vi.resetModules();
  return import("../../web/src/api/timers");
};

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
});
afterEach(() => vi.useRealTimers());

it("belongs to its pair and test and runs while others are started and stopped", async () => {
  const t = await load();
  const [one, two] = [t.timerKey("f", "pair-1", "walk"), t.timerKey("f", "pair-2", "walk")];
  t.startTimer(one);
  vi.advanceTimersByTime(10_000);
  t.startTimer(two);
  t.startTimer(one);
  vi.advanceTimersByTime(5000);
  expect(t.stopTimer(two)).toBe(5);
  expect(t.stopTimer(two)).toBeNull();
  vi.advanceTimersByTime(5000);
  expect(t.stopTimer(one)).toBe(20);
});

it("survives a reload and a spoilt store", async () => {
  (await load()).startTimer("f/p/stand");
  vi.advanceTimersByTime(30_000);
  const after = await load();
  expect(after.stopTimer("f/p/stand")).toBe(30);
  localStorage.setItem("kalon.timers", "{half");
  expect((await load()).timers()).toEqual({});
});

it("tells whoever listens", async () => {
  const t = await load();
  const heard = vi.fn();
  const stop = t.subscribeTimers(heard);
  t.startTimer("a/b/c");
  t.stopTimer("a/b/c");
  stop();
  t.startTimer("a/b/d");
  expect(heard).toHaveBeenCalledTimes(2);
});
