/** A tablet nobody touches, and how it comes to trust a machine. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { forgetConnection, lost, reached } from "../../web/src/api/connection";
import { keepPlace, keepTablet, placeOf, wasTablet } from "../../web/src/api/place";
import { watchRest } from "../../web/src/shell/rest";
import { inPairs } from "../../web/src/trust/marks";
import { KINDS, kindHere } from "../../web/src/trust/steps";

const MINUTE = 60_000;

describe("rest", () => {
  let stop = () => {};
  const lock = vi.fn(() => Promise.resolve());
  beforeEach(() => {
    vi.useFakeTimers();
    localStorage.clear();
    lock.mockClear();
  });
  afterEach(() => {
    stop();
    forgetConnection();
    vi.useRealTimers();
  });
  const touch = (name = "pointerdown") => window.dispatchEvent(new Event(name));

  it("locks once, so long after the last touch or key", () => {
    stop = watchRest(5 * MINUTE, lock);
    vi.advanceTimersByTime(4 * MINUTE);
    touch();
    vi.advanceTimersByTime(4 * MINUTE);
    touch("keydown");
    vi.advanceTimersByTime(4.9 * MINUTE);
    expect(lock).not.toHaveBeenCalled();
    vi.advanceTimersByTime(MINUTE);
    expect(lock).toHaveBeenCalledTimes(1);
    vi.advanceTimersByTime(20 * MINUTE);
    expect(lock).toHaveBeenCalledTimes(1);
  });

  it("takes the touch that wakes it after a sleep for too late", () => {
    stop = watchRest(5 * MINUTE, lock);
    vi.setSystemTime(Date.now() + 30 * MINUTE); // timers stood still meanwhile
    touch();
    expect(lock).toHaveBeenCalledTimes(1);
  });

  it("counts hands on another tab", () => {
    stop = watchRest(5 * MINUTE, lock);
    vi.advanceTimersByTime(4 * MINUTE);
    localStorage.setItem("kalon.touched", String(Date.now()));
    vi.advanceTimersByTime(4 * MINUTE);
    expect(lock).not.toHaveBeenCalled();
  });

  it("waits for the connection, and tries again where it couldn't", async () => {
    stop = watchRest(5 * MINUTE, lock);
    lost();
    vi.advanceTimersByTime(20 * MINUTE);
    expect(lock).not.toHaveBeenCalled();
    reached();
    lock.mockRejectedValueOnce(new Error("no"));
    await vi.advanceTimersByTimeAsync(6_000);
    await vi.advanceTimersByTimeAsync(6_000);
    expect(lock).toHaveBeenCalledTimes(2);
  });
});

describe("a tablet", () => {
  it("knows where each was, and that it is one", () => {
    localStorage.clear();
    keepPlace("ilse", "/athletes");
    expect([placeOf("ilse"), placeOf("bram")]).toEqual(["/athletes", "/"]);
    expect(wasTablet()).toBe(false);
    keepTablet(true);
    expect(wasTablet()).toBe(true);
    keepTablet(false);
    expect(wasTablet()).toBe(false);
  });

  // Of browsers as they call themselves, from memory.
  it.each([
    ["Mozilla/5.0 (iPad; CPU OS 17_5 like Mac OS X)", 5, "ios"],
    ["Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7)", 5, "ios"],
    ["Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7)", 0, "macos"],
    ["Mozilla/5.0 (Linux; Android 14; a tablet)", 5, "android"],
    ["Mozilla/5.0 (X11; CrOS x86_64 14541.0.0)", 10, "chromeos"],
    ["Mozilla/5.0 (Windows NT 10.0; Win64; x64)", 10, "windows"],
    ["Mozilla/5.0 (X11; Linux x86_64; rv:128.0)", 0, "other"],
  ])("is told its own steps: %s", (agent, touches, kind) => {
    expect(kindHere(agent, touches)).toBe(kind);
  });

  it("has steps of which each presses a row there is", () => {
    for (const kind of KINDS) {
      expect(kind.steps.length).toBeGreaterThan(1);
      for (const step of kind.steps) expect(step.rows[step.press]).toBeTruthy();
    }
    expect(inPairs("f86dd1d21605b871ffff")).toBe("F8 6D D1 D2 16 05 B8 71");
  });
});
