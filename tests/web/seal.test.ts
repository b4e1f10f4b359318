/** What is left on a device is sealed, opens for whom it is of, and for nobody else. */
import { beforeEach, expect, it, vi } from "vitest";
import { openAll, opened, sealAll, sealed } from "../../web/src/api/seal";

const KEY = "5e".repeat(32);
const OTHER = "b0".repeat(32);
const all = () => Object.fromEntries(Object.entries(localStorage));

beforeEach(() => localStorage.clear());

it("comes out as it went in, each time sealed anew", () => {
  for (const text of ["", "Größe 42½, 足", "x".repeat(50_000)]) {
    expect(opened(KEY, sealed(KEY, text))).toBe(text);
  }
  expect(sealed(KEY, "same")).not.toBe(sealed(KEY, "same"));
});

it("is opened by no other key, and not when it was altered or isn't sealed at all", () => {
  const text = sealed(KEY, "left heel");
  expect(opened(OTHER, text)).toBeNull();
  expect(opened(KEY, text.slice(0, -1) + (text.endsWith("0") ? "1" : "0"))).toBeNull();
  for (const odd of ["", "zz", "{}", "00".repeat(10)]) expect(opened(KEY, odd)).toBeNull();
});

it("is of the person alone: whose name begins alike is somebody else", () => {
  localStorage.setItem("kalon.outbox.ilse.tab", "hers");
  localStorage.setItem("kalon.outbox.ilsebill.tab", "another's");
  localStorage.setItem("kalon.move.ilse.m1", "her count");
  localStorage.setItem("kalon.sheet", "dark");
  const before = all();
  sealAll("ilse", KEY);
  expect(Object.keys(all()).sort()).toEqual([
    "kalon.outbox.ilsebill.tab",
    "kalon.sealed.kalon.move.ilse.m1",
    "kalon.sealed.kalon.outbox.ilse.tab",
    "kalon.sheet",
  ]);
  openAll("ilse", OTHER);
  openAll("ilsebill", KEY);
  expect(Object.keys(all())).toHaveLength(4);
  openAll("ilse", KEY);
  expect(all()).toEqual(before);
});

it("gives way to what was typed since", () => {
  localStorage.setItem("kalon.outbox.ilse.tab", "first");
  sealAll("ilse", KEY);
  localStorage.setItem("kalon.outbox.ilse.tab", "since");
  openAll("ilse", KEY);
  expect(all()).toEqual({ "kalon.outbox.ilse.tab": "since" });
});

it("loses nothing where there is no room to seal it", () => {
  const kept = new Map([["kalon.outbox.ilse.tab", "left heel"]]);
  const full = new Proxy(
    {
      getItem: (name: string) => kept.get(name) ?? null,
      removeItem: (name: string) => void kept.delete(name),
      setItem: (name: string, value: string) => {
        if (value.length > 20) throw new DOMException("full", "QuotaExceededError");
        kept.set(name, value);
      },
    },
    { ownKeys: () => [...kept.keys()], getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }) },
  );
  vi.stubGlobal("localStorage", full);
  expect(() => sealAll("ilse", KEY)).not.toThrow();
  vi.unstubAllGlobals();
  expect([...kept]).toEqual([["kalon.outbox.ilse.tab", "left heel"]]);
});
