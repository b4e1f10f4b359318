/** The outbox and undo, with a clock and a server of the test's own. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Fitting } from "../../web/src/api/client";
import { withAcknowledged } from "../../web/src/api/fitting";
import { connection, noteTrouble, reached } from "../../web/src/api/connection";
import * as history from "../../web/src/api/history";
import * as outbox from "../../web/src/api/outbox";
import { sealOwn } from "../../web/src/api/own";
import { FIRST_PAUSE_MS, LONGEST_PAUSE_MS } from "../../web/src/api/queue";
import { whenSaved } from "../../web/src/api/saved";
import { isStoreFull } from "../../web/src/api/store";
import type { Acknowledged } from "../../web/src/api/told";

interface Sent {
  url: string;
  body: { base_version: number; change_id: string; set: Record<string, unknown> };
}
type Answer = { status: number; body?: object; headers?: Record<string, string> } | "nothing" | "never";

let sent: Sent[] = [];
let answers: Answer[] = [];
let version = 0;
const told: (Acknowledged | null)[] = [];
const FITTING = "fitting-1";
const SEAL = "5e".repeat(32);
const KEY = `${FITTING}/feet`;

const problem = (status: number, more: object = {}, headers: Record<string, string> = {}): Answer => ({
  status,
  body: { type: "urn:kalon:x", title: `Problem ${status}.`, status, code: "x", fields: [], ...more },
  headers,
});

/** Answers as queued, then as a server that takes everything. */
async function server(request: Request, init?: RequestInit): Promise<Response> {
  const body = (await request.clone().json()) as Sent["body"];
  sent.push({ url: request.url, body });
  const answer = answers.shift();
  if (answer === "nothing") throw new TypeError("Failed to fetch");
  if (answer === "never") {
    return new Promise((_, fail) => {
      init?.signal?.addEventListener("abort", () => fail(new DOMException("timeout", "TimeoutError")));
    });
  }
  if (answer) {
    return new Response(JSON.stringify(answer.body), {
      status: answer.status,
      headers: { "content-type": "application/problem+json", ...answer.headers },
    });
  }
  version += 1;
  return new Response(JSON.stringify({ version, body: body.set, said: [] }), {
    headers: { "content-type": "application/json" },
  });
}

const type = (set: Record<string, unknown>, before: Record<string, unknown> = {}, base = version) => {
  history.rememberFields({ where: FITTING, part: "feet", before, after: set, at: Date.now() });
  outbox.setFields(FITTING, "feet", base, set);
};
const entry = () => outbox.snapshot().entries[KEY];
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);

/** A page just opened by somebody. */
async function open(login = "ilse"): Promise<void> {
  outbox.forget();
  history.forgetPast();
  await outbox.openOutbox(login, SEAL, (_fitting, _part, now) => void told.push(now));
}

beforeEach(async () => {
  vi.useFakeTimers();
  localStorage.clear();
  sent = [];
  answers = [];
  version = 0;
  told.length = 0;
  vi.stubGlobal("fetch", server);
  await open();
  await pass(0);
});
afterEach(() => {
  outbox.forget();
  vi.useRealTimers();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe("what is typed", () => {
  it("is sent once typing rests, as one change", async () => {
    type({ "left/length_mm": 2 });
    await pass(200);
    type({ "left/length_mm": 26 });
    await pass(200);
    type({ "left/length_mm": 261, sock: "thin" });
    expect(sent).toEqual([]);
    await pass(600);
    expect(sent.map((s) => s.body.set)).toEqual([{ "left/length_mm": 261, sock: "thin" }]);
    expect(entry()).toBeUndefined();
    expect(told).toHaveLength(1);
  });

  it("is kept in the browser until it is acknowledged, and sent after a reload under the same id", async () => {
    answers = ["nothing"];
    type({ sock: "thick" });
    await pass(600);
    expect(connection().offline).toBe(true);
    const first = sent[0]?.body.change_id;
    await open();
    await pass(0);
    expect(sent[1]?.body.change_id).toBe(first);
    expect(Object.keys(localStorage).filter((name) => name.startsWith("kalon.outbox"))).toEqual([]);
    expect(JSON.parse(localStorage.getItem(`kalon.told.${FITTING}.feet`) ?? "")).toMatchObject(told.at(-1) ?? {});
  });

  it("is based on the newest version this browser has heard of, whatever an old screen says", async () => {
    type({ sock: "thin" });
    await pass(600);
    type({ sock: "thick" });
    await pass(600);
    type({ sock: "medium" }, {}, 0);
    await pass(600);
    expect(sent.map((s) => s.body.base_version)).toEqual([0, 1, 2]);
  });

  it("once acknowledged stands in an answer that was asked for before it was", async () => {
    type({ "left/length_mm": 254.5 });
    await pass(600);
    const part = (at: number) => ({ version: at, body: {}, said: [] });
    const stale = { id: FITTING, parts: { feet: part(version - 1), brief: part(9) } } as unknown as Fitting;
    expect(withAcknowledged(stale).parts.feet.body).toEqual({ "left/length_mm": 254.5 });
    expect(withAcknowledged(stale).parts.brief).toBe(stale.parts.brief);
    const newer = { ...stale, parts: { ...stale.parts, feet: part(version + 1) } } as unknown as Fitting;
    expect(withAcknowledged(newer).parts.feet.body).toEqual({});
    const other = { ...stale, id: "fitting-2" } as Fitting;
    expect(withAcknowledged(other).parts.feet.body).toEqual({});
  });

  it("of another part or fitting goes on while one is failing", async () => {
    answers = [problem(500)];
    type({ sock: "thin" });
    outbox.setFields("other", "settle", 0, { gives_up: "x" });
    await pass(600);
    expect(Object.keys(outbox.snapshot().entries)).toEqual([KEY]);
    expect(outbox.isWaiting(FITTING)).toBe(true);
    expect(outbox.isWaiting("other")).toBe(false);
  });
});

describe.each([500, 503, 429, 408])("an answer of %i", (status) => {
  it("keeps the value and is tried again after growing pauses, under one id", async () => {
    answers = [problem(status), problem(status), problem(status)];
    type({ "left/length_mm": 260 });
    await pass(600);
    expect(entry()?.sending?.set).toEqual({ "left/length_mm": 260 });
    expect(entry()?.trouble).toBe(`Problem ${status}.`);
    await pass(FIRST_PAUSE_MS - 200);
    expect(sent).toHaveLength(1);
    await pass(400);
    expect(sent).toHaveLength(2);
    await pass(FIRST_PAUSE_MS);
    expect(sent).toHaveLength(2);
    await pass(FIRST_PAUSE_MS + 200);
    expect(sent).toHaveLength(3);
    await pass(60_000);
    expect(sent).toHaveLength(4);
    expect(new Set(sent.map((s) => s.body.change_id)).size).toBe(1);
    expect(entry()).toBeUndefined();
  });
});

describe("a failing server", () => {
  it("is asked no sooner than it says", async () => {
    answers = [problem(503, {}, { "retry-after": "20" })];
    type({ sock: "thin" });
    await pass(15_000);
    expect(sent).toHaveLength(1);
    await pass(7000);
    expect(sent).toHaveLength(2);
  });

  it("never makes the pause longer than half a minute", async () => {
    answers = Array.from({ length: 60 }, () => problem(500));
    type({ sock: "thin" });
    await pass(300_000);
    const before = sent.length;
    await pass(LONGEST_PAUSE_MS + 100);
    expect(sent.length).toBe(before + 1);
  });

  it("isn't waited for when the fitter says now", async () => {
    answers = [problem(503, {}, { "retry-after": "600" })];
    type({ sock: "thin" });
    await pass(2000);
    outbox.hurry();
    await pass(10);
    expect([sent.length, entry()]).toEqual([2, undefined]);
  });

  it("that takes what was let go of meanwhile brings nothing back", async () => {
    let answer = (_: Response) => {};
    vi.stubGlobal("fetch", async (request: Request) => {
      sent.push({ url: request.url, body: await request.clone().json() });
      return new Promise<Response>((done) => (answer = done));
    });
    type({ sock: "thin" });
    await pass(600);
    outbox.letGo(KEY);
    answer(
      new Response(JSON.stringify({ version: 1, body: {}, said: [] }), {
        headers: { "content-type": "application/json" },
      }),
    );
    await pass(60_000);
    expect([sent.length, entry()]).toEqual([1, undefined]);
  });

  it("holds the value until the fitter lets go of it", async () => {
    answers = Array.from({ length: 50 }, () => problem(500));
    type({ sock: "thin" });
    await pass(600);
    outbox.letGo(KEY);
    expect(entry()).toBeUndefined();
    expect(told.at(-1)).toBeNull();
    const before = sent.length;
    await pass(100_000);
    expect(sent.length).toBe(before);
  });
});

describe("no connection", () => {
  it("is what a request without an answer counts as", async () => {
    vi.spyOn(AbortSignal, "timeout").mockImplementation((ms) => {
      const end = new AbortController();
      setTimeout(() => end.abort(), ms);
      return end.signal;
    });
    answers = ["never"];
    type({ sock: "thin" });
    await pass(10_000);
    expect([sent.length, connection().offline]).toEqual([1, false]);
    await pass(2600);
    expect(connection().offline).toBe(true);
    expect(entry()?.sending?.set).toEqual({ sock: "thin" });
    await pass(5000);
    expect(entry()).toBeUndefined();
    expect(sent[1]?.body.change_id).toBe(sent[0]?.body.change_id);
  });

  it("is over when anything else was answered", async () => {
    answers = ["nothing"];
    type({ sock: "thin" });
    await pass(600);
    expect(connection().offline).toBe(true);
    reached();
    await pass(10);
    expect(connection().offline).toBe(false);
    expect(entry()).toBeUndefined();
  });

  it("keeps what is typed on top", async () => {
    answers = ["nothing", "nothing"];
    type({ "left/length_mm": 260 });
    await pass(600);
    type({ "left/length_mm": 265 });
    await pass(30_000);
    expect(sent.at(-1)?.body.set).toEqual({ "left/length_mm": 265 });
    expect(entry()).toBeUndefined();
  });
});

describe("a refusal", () => {
  const refusal = problem(422, { fields: [{ field: "left.length_mm", code: "x", text: "Must be at least 110 mm." }] });

  it("stands beside its field, and the other values are saved", async () => {
    answers = [refusal];
    type({ "left/length_mm": 26, sock: "thin" });
    await pass(1200);
    expect(entry()?.refused).toEqual({ "left/length_mm": { value: 26, text: "Must be at least 110 mm." } });
    expect(sent[1]?.body.set).toEqual({ sock: "thin" });
  });

  it("that comes late does not hide what was typed since", async () => {
    answers = [refusal];
    type({ "left/length_mm": 26 });
    await pass(505);
    type({ "left/length_mm": 260 });
    await pass(2000);
    expect(entry()).toBeUndefined();
    expect(sent.at(-1)?.body.set).toEqual({ "left/length_mm": 260 });
  });

  it("goes when another value of the field is acknowledged", async () => {
    answers = [refusal];
    type({ "left/length_mm": 26 });
    await pass(600);
    expect(entry()?.refused).not.toEqual({});
    type({ "left/length_mm": 260 });
    await pass(600);
    expect(entry()).toBeUndefined();
  });

  it.each([403, 404, 409, 413])("of status %i keeps the value too, with the reason", async (status) => {
    answers = [problem(status, { title: "This fitting is settled." })];
    type({ sock: "thin" });
    await pass(600);
    expect(entry()?.refused).toEqual({ sock: { value: "thin", text: "This fitting is settled." } });
    outbox.letGo(KEY, "sock");
    expect(entry()).toBeUndefined();
  });
});

describe("a sale", () => {
  it("waits for what is on its way", async () => {
    type({ sock: "thin" });
    let saved = false;
    const waiting = whenSaved(FITTING).then(() => {
      saved = true;
    });
    expect(saved).toBe(false);
    await pass(50);
    await waiting;
    expect(saved).toBe(true);
    expect(sent).toHaveLength(1);
  });

  it.each<[string, Answer, RegExp]>([
    ["refused", problem(422), /not saved/],
    ["failing", problem(500), /not saved yet/],
    ["without connection", "nothing", /No connection/],
    ["clashing", problem(409, { code: "changed-elsewhere", clashes: [], version: 4 }), /decide that first/],
    ["signed out", problem(401), /Sign in again/],
  ])("is refused, with the reason, while something in the fitting is %s", async (_, answer, reason) => {
    answers = [answer];
    type({ sock: "thin" });
    const waiting = expect(whenSaved(FITTING)).rejects.toThrow(reason);
    await pass(1500);
    await waiting;
  });

  it("does not wait for another fitting", async () => {
    answers = [problem(500)];
    outbox.setFields("other", "feet", 0, { sock: "thin" });
    await pass(600);
    await whenSaved(FITTING);
  });
});

describe("a clash", () => {
  const clash = problem(409, {
    code: "changed-elsewhere",
    version: 7,
    clashes: [{ path: "sock", mine: "thin", theirs: "thick", by: "Bram", at: "2026-01-01T00:00:00Z" }],
  });

  it.each([true, false])("is decided by the fitter (mine: %s)", async (mine) => {
    answers = [clash];
    type({ sock: "thin", note: "x" });
    await pass(600);
    expect(entry()?.clash?.version).toBe(7);
    await pass(100);
    // What nobody else touched goes on, on top of theirs; what both touched waits.
    expect(sent.slice(1).map((s) => s.body)).toMatchObject([{ base_version: 7, set: { note: "x" } }]);
    version = 8;
    type({ "left/length_mm": 260 });
    await pass(600);
    expect(sent.at(-1)?.body.set).toEqual({ "left/length_mm": 260 });
    const before = sent.length;
    outbox.decide(KEY, mine);
    await pass(100);
    expect(sent.slice(before).map((s) => s.body.set)).toEqual(mine ? [{ sock: "thin" }] : []);
    expect(entry()).toBeUndefined();
  });

  it("is not passed by with a second thought: what is typed there again is part of the choice", async () => {
    answers = [clash];
    type({ sock: "thin" });
    await pass(600);
    type({ sock: "barefoot" });
    await pass(600);
    expect(sent).toHaveLength(1);
    expect(entry()?.held).toEqual({ sock: "barefoot" });
    outbox.decide(KEY, true);
    await pass(100);
    expect(sent.at(-1)?.body).toMatchObject({ base_version: 7, set: { sock: "barefoot" } });
  });

  it("and a second one are decided together, and neither is forgotten", async () => {
    const note = { path: "note", mine: "x", theirs: "y", by: "Bram", at: "2026-01-01T00:00:01Z" };
    answers = [clash, problem(409, { code: "changed-elsewhere", version: 9, clashes: [note] })];
    type({ sock: "thin", note: "x" });
    await pass(1200);
    expect(entry()?.clash?.clashes.map((c) => c.path)).toEqual(["sock", "note"]);
    expect(entry()?.held).toEqual({ sock: "thin", note: "x" });
    outbox.decide(KEY, true);
    await pass(100);
    expect(sent.at(-1)?.body).toMatchObject({ base_version: 9, set: { sock: "thin", note: "x" } });
  });

  it("kept by an earlier version, which held all that was being sent, is taken up", async () => {
    const sending = { id: "a", set: { sock: "thin", note: "x" }, tries: 0 };
    const left = { fitting: FITTING, part: "feet", base: 3, waiting: {}, sending, refused: {}, trouble: null };
    const kept = { [KEY]: { ...left, clash: { version: 7, clashes: [{ path: "sock", mine: "thin" }] } } };
    localStorage.setItem("kalon.outbox.ilse", JSON.stringify(kept));
    await open();
    await pass(100);
    expect(sent.map((s) => s.body)).toMatchObject([{ base_version: 7, set: { note: "x" } }]);
    expect(entry()?.held).toEqual({ sock: "thin" });
  });
});

describe("a full store", () => {
  it("loses nothing that is typed: it is sent from the page, and said not to be kept", async () => {
    const roomy = localStorage;
    const full = () => {
      throw new DOMException("full", "QuotaExceededError");
    };
    vi.stubGlobal("localStorage", new Proxy(roomy, { get: (of, name) => (name === "setItem" ? full : of[name as string]) }));
    answers = ["nothing"];
    type({ sock: "thin" });
    await pass(600);
    expect(isStoreFull()).toBe(true);
    expect(entry()).toBeDefined();
    type({ note: "x" });
    await pass(5000);
    expect(sent.map((s) => s.body.set)).toEqual([{ sock: "thin" }, { sock: "thin" }, { note: "x" }]);
    expect(entry()).toBeUndefined();
    vi.stubGlobal("localStorage", roomy);
    type({ note: "xy" });
    expect(isStoreFull()).toBe(false);
  });

  it("with records put back from a backup is sent on top of them", async () => {
    answers = [problem(409, { code: "version-ahead", version: 1 })];
    type({ sock: "thin" }, {}, 9);
    await pass(3000);
    expect(sent.map((s) => s.body.base_version)).toEqual([9, 1]);
    expect(entry()).toBeUndefined();
  });
});

describe("undo", () => {
  const of = (where: string) => ({ can: (d: history.Deed) => d.where === where, versionOf: () => version });
  const here = of(FITTING);

  it("takes back what was set together, as a change of its own", async () => {
    type({ "left/length_mm": 260, sock: "thin" }, { "left/length_mm": null, sock: "thick" });
    await pass(600);
    expect(await history.undo(here)).toBe(true);
    await pass(100);
    expect(sent.at(-1)?.body).toMatchObject({ base_version: 1, set: { "left/length_mm": null, sock: "thick" } });
    expect(await history.undo(here)).toBe(false);
  });

  it("counts digits typed in a row as one change, and a pause as the next", async () => {
    type({ note: "a" }, { note: "" });
    await pass(300);
    type({ note: "ab" }, { note: "a" });
    await pass(5000);
    type({ note: "abc" }, { note: "ab" });
    await pass(600);
    await history.undo(here);
    await pass(600);
    await history.undo(here);
    await pass(600);
    expect(sent.slice(-2).map((s) => s.body.set)).toEqual([{ note: "ab" }, { note: "" }]);
  });

  it("is of one fitting", async () => {
    type({ sock: "thin" }, { sock: "thick" });
    expect(await history.undo(of("other"))).toBe(false);
  });

  it("can be done again, step by step, until something else is changed", async () => {
    type({ note: "a" }, { note: "" });
    await pass(5000);
    type({ note: "ab" }, { note: "a" });
    await pass(600);
    expect(await history.redo(here)).toBe(false);
    await history.undo(here);
    await history.undo(here);
    expect(history.pastNow().last).toMatchObject({
      how: "undone",
      deed: { before: { note: "" }, after: { note: "a" } },
    });
    await history.redo(here);
    await pass(600);
    expect(sent.at(-1)?.body.set).toEqual({ note: "a" });
    expect(history.pastNow().last?.how).toBe("redone");
    expect(history.pastNow().undone).toHaveLength(1);
    await pass(5000);
    type({ sock: "thin" }, { sock: "thick" });
    expect(await history.redo(here)).toBe(false);
  });

  it("of what is typed on keeps what was there first", async () => {
    type({ note: "a" }, { note: "" });
    await pass(300);
    type({ note: "ab" }, { note: "a" });
    expect(history.pastNow().last?.deed).toMatchObject({ before: { note: "" }, after: { note: "ab" } });
    expect(history.pastNow().done).toHaveLength(1);
  });
});

describe("signing in", () => {
  it("again sends what was kept", async () => {
    answers = [problem(401)];
    type({ sock: "thin" });
    await pass(5000);
    expect(sent).toHaveLength(1);
    expect(connection().signedOut).toBe(true);
    outbox.signedIn("ilse");
    await pass(10);
    expect(entry()).toBeUndefined();
    expect(connection().signedOut).toBe(false);
  });

  it("is needed to read what was kept: on the device it is sealed", async () => {
    answers = [problem(401)];
    type({ note: "sore left heel" });
    await pass(5000);
    const kept = () => Object.entries(localStorage);
    expect(JSON.stringify(kept())).not.toContain("heel");
    expect(kept().map(([name]) => name.startsWith("kalon.sealed.kalon.outbox.ilse"))).toEqual([true]);
    type({ note: "sore left heel, since May" });
    expect(JSON.stringify(kept())).not.toContain("heel");
    // The page is closed; somebody else signs in, whose server tells them another key.
    outbox.forget();
    await outbox.openOutbox("bram", "b0".repeat(32), () => {});
    await pass(60_000);
    expect(sent).toHaveLength(1);
    expect(kept()).toHaveLength(1);
    await open("ilse");
    await pass(5000);
    expect(sent.slice(1).map((s) => s.body.set)).toEqual([
      { note: "sore left heel" },
      { note: "sore left heel, since May" },
    ]);
    expect(sent[1]?.body.change_id).toBe(sent[0]?.body.change_id);
    expect(kept().filter(([name]) => name.startsWith("kalon.sealed"))).toEqual([]);
  });

  it("as somebody else on the same page sends nothing of the one before", async () => {
    answers = [problem(401)];
    type({ note: "of the first" });
    await pass(5000);
    outbox.signedIn("bram");
    await pass(60_000);
    await open("bram");
    await pass(60_000);
    expect(sent).toHaveLength(1);
    expect(JSON.stringify(Object.entries(localStorage))).not.toContain("of the first");
  });

  it("does not forget that there is no connection", async () => {
    const { away } = await import("../../web/src/api/client");
    outbox.forget();
    noteTrouble(away());
    await outbox.openOutbox("ilse", SEAL, () => {});
    expect(connection().offline).toBe(true);
  });

  it("as somebody else leaves the first one's changes to the first one", async () => {
    answers = ["nothing"];
    type({ sock: "thin" });
    await pass(600);
    await open("bram");
    await pass(60_000);
    expect(sent).toHaveLength(1);
    await open("ilse");
    await pass(10);
    expect(sent).toHaveLength(2);
  });
});

describe("two tabs", () => {
  it("take over what a closed one left, and leave alone what is another's", async () => {
    const left = { "fitting-9/feet": { fitting: "fitting-9", part: "feet", base: 3, waiting: { sock: "thin" } } };
    localStorage.setItem("kalon.outbox.ilse.closed", JSON.stringify(left));
    localStorage.setItem("kalon.outbox.ilse.open", JSON.stringify(left));
    vi.stubGlobal("navigator", {
      locks: {
        request: (name: string, _: object, act: (lock: object | null) => unknown) =>
          Promise.resolve(act(name.endsWith(".open") ? null : {})),
      },
    });
    await open();
    await pass(100);
    expect(sent.map((s) => s.body)).toMatchObject([{ base_version: 3, set: { sock: "thin" } }]);
    expect(localStorage.getItem("kalon.outbox.ilse.closed")).toBeNull();
    expect(localStorage.getItem("kalon.outbox.ilse.open")).not.toBeNull();
  });

  it("put what the closed one left under what is newer here, and keep its refusals", async () => {
    answers = Array.from({ length: 4 }, () => problem(500));
    type({ sock: "thick" });
    await pass(600);
    const refused = { "left/length_mm": { value: 26, text: "Too short." } };
    const left = { [KEY]: { fitting: FITTING, part: "feet", base: 0, waiting: { sock: "thin", note: "x" }, refused } };
    localStorage.setItem("kalon.outbox.ilse.closed", JSON.stringify(left));
    vi.stubGlobal("navigator", {
      locks: { request: (_: string, __: object, act: (lock: object | null) => unknown) => Promise.resolve(act({})) },
    });
    await pass(6000);
    expect(entry()).toMatchObject({ waiting: { note: "x" }, sending: { set: { sock: "thick" } }, refused });
    await pass(60_000);
    expect(sent.at(-1)?.body.set).toEqual({ note: "x" });
    expect(outbox.entriesOf(FITTING)[0]?.refused).toEqual(refused);
  });

  it("survive a spoilt store", async () => {
    localStorage.setItem("kalon.outbox.ilse", "{half");
    await open();
    type({ sock: "thin" });
    await pass(600);
    expect(sent).toHaveLength(1);
  });
});
