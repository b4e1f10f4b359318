/** How long an answer is waited for: a moment for most, as long as a worker is given for what is measured. */
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { ask, http, troubleOf } from "../../web/src/api/client";

const ID = "11111111-1111-4111-8111-111111111111";

/** Fetch that answers after so many seconds, unless nobody waits for it any more. */
function answeringAfter(seconds: number) {
  vi.stubGlobal(
    "fetch",
    (request: Request, { signal }: { signal: AbortSignal }) =>
      new Promise<Response>((done, fail) => {
        signal.addEventListener("abort", () => fail(signal.reason));
        setTimeout(() => done(new Response("{}", { headers: { "content-type": "application/json" } })), seconds * 1000);
      }),
  );
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.spyOn(AbortSignal, "timeout").mockImplementation((ms) => {
    const late = new AbortController();
    setTimeout(() => late.abort(), ms);
    return late.signal;
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const shoe = { params: { path: { picture_id: ID } } };
const MEASURED = {
  "a practice shoe": () =>
    http.POST("/api/stock/{line_id}/practice-shoe", {
      params: { path: { line_id: ID } },
      body: { id: ID, way: "sole", seed: 1 },
    }),
  "a shoe's picture corrected": () =>
    http.PATCH("/api/shoe-pictures/{picture_id}", { ...shoe, body: { version: 1, said: {} as never } }),
};

it.each(Object.entries(MEASURED))("%s is waited for while a worker may be at it", async (_, call) => {
  answeringAfter(60);
  const found = ask(call());
  await vi.advanceTimersByTimeAsync(61_000);
  await expect(found).resolves.toEqual({});
});

it("anything else that answers so late counts as no answer", async () => {
  answeringAfter(60);
  const found = ask(http.GET("/api/shoe-pictures/{picture_id}", shoe)).catch((e) => e);
  await vi.advanceTimersByTimeAsync(13_000);
  expect(await found).toMatchObject({ offline: true, message: expect.stringContaining("asked for again") });
});

it("what was pressed and not answered isn't said to be kept", async () => {
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("away")));
  const found = ask(http.DELETE("/api/shoe-pictures/{picture_id}", shoe)).catch((e) => e);
  expect(await found).toMatchObject({ offline: true, message: expect.stringContaining("may not be done") });
});

// RFC 9110: 502 and 504 are a gateway's own, whatever stands in them; 503 is ours where it says so.
it.each([
  [502, "<html>Bad gateway</html>", true],
  [504, null, true],
  [503, { title: "The shop's records are away.", code: "store-away" }, true],
  [503, { title: "Measuring is full.", code: "busy" }, false],
  [500, { title: "Something went wrong.", code: "failed" }, false],
])("an answer of %i says whether anybody is there", (status, body, offline) => {
  expect(troubleOf(status, body, null).offline).toBe(offline);
});
