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
  t.startTimer(one, "Walk", 60);
  vi.advanceTimersByTime(10_000);
  t.startTimer(two, "Walk", 60);
  t.startTimer(one, "Walk", 60);
  vi.advanceTimersByTime(5000);
  expect(t.stopTimer(two)).toBe(5);
  expect(t.stopTimer(two)).toBeNull();
  vi.advanceTimersByTime(5000);
  expect(t.stopTimer(one)).toBe(20);
});

it("survives a reload and a spoilt store", async () => {
  (await load()).startTimer("f/p/stand", "Walk", 60);
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
  t.startTimer("a/b/c", "Walk", 60);
  t.stopTimer("a/b/c");
  stop();
  t.startTimer("a/b/d", "Walk", 60);
  expect(heard).toHaveBeenCalledTimes(2);
});

it("says which will have run long enough next, and begins anew with what is left", async () => {
  const t = await load();
  const now = Date.now();
  t.startTimer("a/b/walk", "Walk", 120);
  t.startTimer("a/b/stand", "Stand", 30);
  t.startTimer("a/c/full", "Full already", 0);
  expect(t.nextEnd(now)).toMatchObject({ key: "a/b/stand", timer: { name: "Stand" }, at: now + 30_000 });
  expect(t.nextEnd(now + 30_000)?.at).toBe(now + 120_000);
  expect(t.nextEnd(now + 120_000)).toBeNull();
  t.stopTimer("a/b/stand");
  expect(t.nextEnd(now)?.key).toBe("a/b/walk");
});

it("kept by an earlier version, as a moment alone, runs on", async () => {
  localStorage.setItem("kalon.timers", JSON.stringify({ "f/p/stand": Date.now() - 5000 }));
  const t = await load();
  expect(t.nextEnd(0)).toBeNull();
  expect(t.stopTimer("f/p/stand")).toBe(5);
});
