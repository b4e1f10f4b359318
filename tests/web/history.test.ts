/** What was done, back and forth: fields and acts in the order they were seen to happen. */
import { beforeEach, expect, test, vi } from "vitest";

const sent: unknown[][] = [];
vi.mock("../../web/src/api/outbox", () => ({ setFields: (...all: unknown[]) => sent.push(all), flush: async () => {} }));
const { Trouble, away } = await import("../../web/src/api/client");
const history = await import("../../web/src/api/history");

const HERE = "a-fitting";
const now = { can: (d: { where: string }) => d.where === HERE, versionOf: () => 7 };
let clock = 0;

beforeEach(() => {
  sent.length = 0;
  history.forgetPast();
});

const typed = (path: string, from: unknown, to: unknown, after = 5000) => {
  clock += after;
  history.rememberFields({ where: HERE, part: "feet", before: { [path]: from }, after: { [path]: to }, at: clock });
};
/** An act whose way back and forth is written down. */
const acted = (says: string, where = HERE, fails = false) => {
  const log: string[] = [];
  const go = (word: string) => async () => {
    if (fails) throw away("No connection.");
    log.push(word);
  };
  history.remember({ where, says, back: go("back"), again: go("again") });
  return log;
};

test("what is taken back is what was done last, a pair in the tray before the body mass", async () => {
  typed("body_kg", null, 71);
  const tray = acted("Ridgeline EU 42 into the tray");
  expect(await history.undo(now)).toBe(true);
  expect([tray, sent]).toEqual([["back"], []]);
  expect(history.pastNow().last).toMatchObject({ how: "undone", deed: { says: "Ridgeline EU 42 into the tray" } });
  expect(await history.undo(now)).toBe(true);
  expect(sent).toEqual([[HERE, "feet", 7, { body_kg: null }]]);
  expect(await history.undo(now)).toBe(false);
  await history.redo(now);
  await history.redo(now);
  expect(sent.at(-1)?.[3]).toEqual({ body_kg: 71 });
  expect(tray).toEqual(["back", "again"]);
});

test("pressed twice at once, two are taken back, one after the other", async () => {
  const first = acted("Avon Tell: done.");
  const second = acted("Bo Renn: done.");
  await Promise.all([history.undo(now), history.undo(now)]);
  expect([first, second]).toEqual([["back"], ["back"]]);
  expect(history.pastNow().undone).toHaveLength(2);
});

test("what can't be taken back stays done, and says why", async () => {
  acted("Follow-up closed", HERE, true);
  expect(await history.undo(now)).toBe(false);
  expect(history.pastNow().trouble).toBe("That could not be taken back. No connection.");
  expect(history.pastNow().done).toHaveLength(1);
  expect(new Trouble({ ...away().problem }).offline).toBe(false);
  acted("Another");
  expect(history.pastNow().trouble).toBe("");
});

test("what was done elsewhere is left alone", async () => {
  const elsewhere = acted("one more", "stockroom");
  expect(await history.undo(now)).toBe(false);
  expect(elsewhere).toEqual([]);
});

test("something new done leaves nothing to do again, there alone", async () => {
  acted("a");
  const other = acted("b", "stockroom");
  await history.undo({ ...now, can: () => true });
  await history.undo(now);
  acted("c");
  expect(await history.redo(now)).toBe(false);
  expect(await history.redo({ ...now, can: () => true })).toBe(true);
  expect(other).toEqual(["back", "again"]);
});

test("an act between two letters parts them", () => {
  typed("note", "", "a");
  typed("note", "a", "ab", 300);
  expect(history.pastNow().done).toHaveLength(1);
  acted("Ridgeline EU 42 into the tray");
  typed("note", "ab", "abc", 300);
  expect(history.pastNow().done).toHaveLength(3);
});

test("after a sale nothing before it can be taken back", async () => {
  typed("note", "", "a");
  const tray = acted("in");
  acted("one more", "stockroom");
  history.forgetPast(HERE);
  expect(await history.undo(now)).toBe(false);
  expect(tray).toEqual([]);
  expect(history.pastNow().done).toHaveLength(1);
});

test("what can't be done again isn't offered", async () => {
  history.remember({ where: HERE, says: "Wanted: Ridgeline EU 42", back: async () => {} });
  await history.undo(now);
  expect(await history.redo(now)).toBe(false);
});
