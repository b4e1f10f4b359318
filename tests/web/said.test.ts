/** Fields and values in words. */
import { describe, expect, it } from "vitest";
import { nameOf } from "../../web/src/shell/keys";
import { fieldName, trailLine, written } from "../../web/src/shell/said";

describe("a field", () => {
  it.each([
    ["left/ball_width_mm", "Left ball width"],
    ["right/first_toe_angle_deg", "Right first toe angle"],
    ["pairs/0190a1b2-1111-7222-8333-444455556666/tests/stand", "Stand"],
    ["pairs/0190a1b2-1111-7222-8333-444455556666/pinches/right:outer_ball", "Right, outer ball"],
    ["event_on", "First event"],
    ["weights/mass_g", "Weights mass"],
    ["lowered/0190a1b2-1111-7222-8333-444455556666/pct", "Taken off"],
    ["prices/0190a1b2-1111-7222-8333-444455556666", "Price said"],
  ])("%s is %s", (path, words) => expect(fieldName(path)).toBe(words));
});

describe("a value", () => {
  it.each([
    ["left/length_mm", 262, "262 mm"],
    ["left/first_toe_angle_deg", 12.5, "12.5°"],
    ["body_kg", 71, "71 kg"],
    ["sock", "thick", "thick"],
    ["slide", "in_cuts", "in cuts"],
    ["wet", true, "yes"],
    ["history", ["heel_pain", "knee"], "heel pain, knee"],
    ["history", [], "nothing"],
    ["weekdays", [0, 5], "Mon, Sat"],
    ["note", null, "nothing"],
    ["lowered/0190a1b2-1111-7222-8333-444455556666/pct", 12.5, "12.5 %"],
    ["lowered/0190a1b2-1111-7222-8333-444455556666/minor", 1050, "EUR\u00a010.50"],
    ["prices/0190a1b2-1111-7222-8333-444455556666", { minor: 8950, currency: "JPY" }, "JPY\u00a08,950"],
    ["weights/mass_g", { to: 2, why: "asked for light" }, "2, asked for light"],
    ["also", [{ discipline: "heavy_squats", share_pct: 40, floor: null }], "heavy squats, 40 %"],
  ])("at %s, %j, is %s", (path, value, words) => expect(written(path, value)).toBe(words));
});

describe("a key", () => {
  const pressed = (key: string, held: Partial<Record<"ctrlKey" | "shiftKey" | "metaKey" | "altGraph", boolean>> = {}) =>
    nameOf({
      ...{ key, ctrlKey: false, shiftKey: false, metaKey: false },
      ...held,
      getModifierState: (name: string) => name === "AltGraph" && !!held.altGraph,
    } as unknown as KeyboardEvent);

  it.each([
    ["a", {}, "a"],
    ["A", { shiftKey: true }, "a"],
    ["?", { shiftKey: true }, "?"],
    ["Enter", {}, "Enter"],
    ["k", { ctrlKey: true }, "ctrl+k"],
    ["k", { metaKey: true }, "ctrl+k"],
    ["Enter", { ctrlKey: true, shiftKey: true }, "ctrl+shift+enter"],
    ["[", { ctrlKey: true, altGraph: true }, "["],
  ] as const)("%s with %j is known as %s", (key, held, name) => expect(pressed(key, held)).toBe(name));
});

describe("an entry of the trail", () => {
  const LINE = "0190a1b2-1111-7222-8333-444455556666";
  const pairs = { [LINE]: "Ridge Ridgeline EU 42" };
  it.each([
    ["sale", {}, { stock_line_id: LINE, sale_id: LINE }, "settled on Ridge Ridgeline EU 42"],
    ["sale", { stock_line_id: LINE }, { undone: true }, "the sale taken back"],
    ["tray", {}, { pair: "Ridge Ridgeline EU 42", stock_line_id: LINE }, "Ridge Ridgeline EU 42 into the tray"],
    ["tray", { pair: "Ridge Ridgeline EU 42" }, {}, "Ridge Ridgeline EU 42 put back"],
    ["trial", {}, { [`pairs/${LINE}/verdict`]: "pass" }, "Ridge Ridgeline EU 42, Verdict: pass"],
    ["feet", { "left/length_mm": 260 }, { "left/length_mm": 262, "prefer/left/length_mm": "gauge" },
      "Left length: 260 mm → 262 mm"],
    ["trial", {}, { [`pairs/${LINE}/tests`]: { stand: "pass", walk: "fail" } },
      "Ridge Ridgeline EU 42, Tests: stand pass, walk fail"],
    ["feet", { sock: "thin" }, { sock: null }, "Sock: thin → nothing"],
    ["follow_up", { due_on: null }, { due_on: "2031-06-01" }, "Due on: 1 Jun 2031"],
    ["follow_up", { due_on: "2031-06-01" }, { due_on: null }, "not booked any more"],
    ["follow_up", { done: true }, { done: false }, "opened again"],
    ["link", {}, { link: "made" }, "a page for their phone made"],
  ])("%s, %j to %j: %s", (part, before, after, words) => expect(trailLine({ part, before, after }, pairs)).toBe(words));
});
