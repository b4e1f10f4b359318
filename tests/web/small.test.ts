/** Days, money, failures and merging: small things that must be right in every zone. */
import { afterEach, describe, expect, it } from "vitest";
import type { Fitting } from "../../web/src/api/client";
import { placesIn } from "../../web/src/api/failures";
import { newerParts } from "../../web/src/api/fitting";
import type { RackSize } from "../../web/src/api/rack";
import { troubleOf } from "../../web/src/api/client";
import { clearEnd } from "../../web/src/rooms/stockroom/Strip";
import { atUtc, day, daysBetween, moment, setShopZone } from "../../web/src/ui/clock";
import { labelText } from "../../web/src/ui/label";
import { money } from "../../web/src/ui/money";

afterEach(() => setShopZone(undefined));

describe("days", () => {
  it.each(["Pacific/Kiritimati", "Pacific/Pago_Pago", "UTC", "no/such"])("stay what they are in %s", (zone) => {
    setShopZone(zone);
    expect(day("2026-03-01")).toBe("1 Mar 2026");
    expect(atUtc("2026-03-01").toISOString().slice(0, 10)).toBe("2026-03-01");
  });

  it("of a moment are the shop's", () => {
    setShopZone("Pacific/Kiritimati");
    expect(day("2026-03-01T11:00:00Z")).toBe("2 Mar 2026");
    expect(moment("2026-03-01T11:00:00Z")).toContain("01:00");
    setShopZone("Pacific/Pago_Pago");
    expect(day("2026-03-01T10:00:00Z")).toBe("28 Feb 2026");
    expect(day(null)).toBe("");
  });

  it("are counted across a change of the clocks", () => {
    expect(daysBetween("2026-03-28", "2026-03-30")).toBe(2);
    expect(daysBetween("2026-10-26", "2026-10-25")).toBe(-1);
  });
});

it.each([
  [42, "42"],
  [42.5, "42.5"],
  [45.333, "45⅓"],
  [42.667, "42⅔"],
  [8.25, "8.25"],
  [265, "265"],
])("a label of %f is written as on the box", (label, text) => {
  expect(labelText(label)).toBe(text);
});

it("money is shown to the last unit", () => {
  expect(money(12950, "EUR").replace(/\s/g, " ")).toBe("EUR 129.50");
  expect(money(12950, "JPY").replace(/\s/g, " ")).toBe("JPY 12,950");
  expect(money(5, "GBP").replace(/\s/g, " ")).toBe("GBP 0.05");
});

it("a failure is told by its places and by nothing that was typed", () => {
  const stack =
    "TypeError: cannot read 261.5 mm of 'Anneke'\n    at Feet (http://127.0.0.1:8000/assets/Feet-a1b2.js:10:20)\n    at x (secret)";
  expect(placesIn(stack)).toEqual(["Feet-a1b2.js:10:20"]);
  expect(placesIn(undefined)).toEqual([]);
});

it("an answer asked for earlier does not bring back an older part", () => {
  const fitting = (feet: number, brief: number) =>
    ({
      id: "f",
      state: "open",
      parts: { feet: { version: feet, body: { v: feet } }, brief: { version: brief, body: { v: brief } } },
    }) as unknown as Fitting;
  const merged = newerParts(fitting(5, 1), fitting(4, 2)) as Fitting;
  expect([merged.parts.feet.version, merged.parts.brief.version]).toEqual([5, 2]);
  expect(newerParts(undefined, fitting(1, 1))).toEqual(fitting(1, 1));
});

it("what a server states and what it doesn't becomes one kind of trouble", () => {
  expect(troubleOf(500, "<html>", null)).toMatchObject({ passing: true, offline: false });
  expect(troubleOf(503, { title: "Away.", code: "store-away" }, "2")).toMatchObject({ offline: true, waitMs: 2000 });
  expect(troubleOf(422, { title: "No." }, null)).toMatchObject({ passing: false, message: "No." });
});

it.each([
  [[34, 40], "right"],
  [[37, 49], "left"],
  [[], "left"],
])("a shelf with boxes from and to %j has its word on the %s", (labels, end) => {
  const sizes = [...labels.map((eu_label) => ({ eu_label, on_hand: 2 })), { eu_label: 44, on_hand: 0 }];
  expect(clearEnd(sizes as RackSize[])).toBe(end);
});
