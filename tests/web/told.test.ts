/** What was acknowledged stands beside the slower store until that has it. */
import type { PersistedClient } from "@tanstack/react-query-persist-client";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { readBack, written } from "../../web/src/api/kept";
import { dropTold, hasTold, noteTold, withTold } from "../../web/src/api/told";

const part = (version: number, length = version * 10) => ({ version, body: { length }, said: [] });
const fitting = (feet: number, brief = 1) => ({ id: "f1", parts: { feet: part(feet), brief: part(brief) } }) as never;
const lengthOf = (kept: unknown) => (kept as { parts: { feet: { body: { length: number } } } }).parts.feet.body.length;
const client = (data: unknown): PersistedClient =>
  ({
    timestamp: 1,
    buster: "x",
    clientState: {
      mutations: [],
      queries: [{ queryKey: ["fitting", "f1"], queryHash: "h", state: { data, dataUpdatedAt: 5 } }],
    },
  }) as unknown as PersistedClient;

beforeEach(() => localStorage.clear());

describe("what was told", () => {
  it("lies over what is older, part by part, and under what is newer", () => {
    noteTold("f1", "feet", part(3));
    expect(lengthOf(withTold(fitting(2)))).toBe(30);
    expect(lengthOf(withTold(fitting(4)))).toBe(40);
    expect(lengthOf(withTold({ ...(fitting(2) as object), id: "f2" } as never))).toBe(20);
  });

  it("never goes back: an older answer that came late replaces nothing", () => {
    noteTold("f1", "feet", part(3));
    noteTold("f1", "feet", part(2));
    expect(lengthOf(withTold(fitting(1)))).toBe(30);
  });

  it("goes when the slower store has as much, and not before", () => {
    noteTold("f1", "feet", part(3));
    hasTold(fitting(2));
    expect(localStorage.length).toBe(1);
    hasTold(fitting(3));
    expect(localStorage.length).toBe(0);
  });

  it("is let go of for one fitting or for all", () => {
    noteTold("f1", "feet", part(3));
    noteTold("f2", "feet", part(3));
    dropTold("f1");
    expect(Object.keys(localStorage)).toEqual(["kalon.told.f2.feet"]);
    dropTold();
    expect(localStorage.length).toBe(0);
  });

  it("is laid over what is read back", () => {
    const text = written(client(fitting(2)));
    noteTold("f1", "feet", part(3));
    expect(lengthOf(readBack(text).clientState.queries[0]?.state.data)).toBe(30);
    localStorage.setItem("kalon.told.f1.feet", "{half");
    expect(lengthOf(readBack(text).clientState.queries[0]?.state.data)).toBe(20);
  });

  it("does no harm where the store is full", () => {
    const full = () => {
      throw new DOMException("full", "QuotaExceededError");
    };
    vi.stubGlobal("localStorage", { getItem: () => null, removeItem: () => undefined, setItem: full });
    expect(() => noteTold("f1", "feet", part(3))).not.toThrow();
    vi.unstubAllGlobals();
    expect(lengthOf(withTold(fitting(2)))).toBe(20);
  });
});
