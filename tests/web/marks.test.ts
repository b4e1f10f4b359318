/** What stands on an athlete's line of time, and how a finger tells it apart; the queue's clock. */
import { describe, expect, it } from "vitest";
import { clustered, FINGER, type Mark, span, weeksAfter } from "../../web/src/rooms/athlete/marks";
import { clockOf, ticksOf } from "../../web/src/rooms/today/QueueLine";
import type { Place } from "../../web/src/api/whoWaits";
import { trailLine } from "../../web/src/shell/said";

const mark = (key: string, on: string): Mark => ({ key, on, text: key, to: "/", sign: "fitting" });
const day = (at: Date) => at.getTime() / 86_400_000;

describe("marks of one lane", () => {
  it("stand apart where a finger tells them apart, and together where it doesn't", () => {
    const marks = [mark("c", "2026-03-20"), mark("a", "2026-01-01"), mark("b", "2026-01-03")];
    const found = clustered(marks, (at) => day(at) * 10);
    expect(found.map((c) => c.marks.map((m) => m.key))).toEqual([["a", "b"], ["c"]]);
    for (const [one, other] of found.map((c, i) => [c, found[i + 1]] as const))
      if (other) expect(other.x - one.x).toBeGreaterThanOrEqual(FINGER);
  });

  it("that follow each other closely don't grow into one long chain", () => {
    const marks = Array.from({ length: 9 }, (_, i) => mark(`${i}`, `2026-01-0${i + 1}`));
    const found = clustered(marks, (at) => day(at) * 20);
    expect(found.map((c) => c.marks.length)).toEqual([3, 3, 3]);
  });
});

describe("the time that is drawn", () => {
  it("goes from the first day to today and half as far again", () => {
    const [from, to] = span("2026-12-01", ["2024-12-01", "2040-01-01"]);
    expect(from.getUTCFullYear()).toBe(2024);
    expect(to.toISOString().slice(0, 4)).toBe("2027");
  });

  it("is some weeks for somebody who came today", () => {
    const [from, to] = span("2026-12-01", ["2026-12-01"]);
    expect(day(to) - day(from)).toBeGreaterThan(55);
    expect(day(to) - day(from)).toBeLessThan(70);
  });

  it("knows the day so many weeks on, and none beyond what can be written", () => {
    expect(weeksAfter("2026-12-01", 2)).toBe("2026-12-15");
    expect(weeksAfter("2026-12-01", 1e9).length).toBe(10);
  });
});

const place = (more: Partial<Place>): Place => ({
  id: "1",
  state: "waits",
  name: "x",
  athlete_id: null,
  about: "fitting",
  says: "",
  sport: null,
  at: null,
  minutes: null,
  takes_min: 40,
  came_at: null,
  taken_by: null,
  mine: false,
  taken_at: null,
  fitting_id: null,
  wait: null,
  ...more,
});

describe("the queue's clock", () => {
  const now = "2026-12-01T12:07:00Z";

  it("shows who waits longest and whose turn comes last, within a day's reason", () => {
    const far = { low_min: 60, mid_min: 90, high_min: 130, text: "" };
    const clock = clockOf(now, [place({ came_at: "2026-12-01T11:37:00Z" }), place({ wait: far })]);
    expect([clock.from, clock.to]).toEqual([-30, 170]);
    expect(clockOf(now, []).to).toBe(60);
    expect(clockOf(now, [place({ came_at: "2026-12-01T06:00:00Z" })]).from).toBe(-75);
  });

  it("has its strokes at whole quarters, halves or hours, as many as there is room for", () => {
    const clock = clockOf(now, [place({ wait: { low_min: 0, mid_min: 30, high_min: 80, text: "" } })]);
    const wide = ticksOf(clock, 900);
    expect(wide.every((t) => Math.round(t.at + 7) % 15 === 0)).toBe(true);
    expect(ticksOf(clock, 160).length).toBeLessThan(wide.length);
  });
});

describe("the trail", () => {
  it("says nothing of what stayed as it was, nor of what was and is nothing", () => {
    const entry = {
      part: "feet",
      before: { sock: "thin", "left/length_mm": 262, note: "" },
      after: { sock: "thin", "left/length_mm": 263, note: null },
    };
    expect(trailLine(entry, {})).toBe("Left length: 262 mm → 263 mm");
  });
});
