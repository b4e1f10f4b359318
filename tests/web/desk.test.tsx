// @vitest-environment jsdom
/** What was typed is on the desk from the first sign to the acknowledged answer, without a moment between the two. */
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { type Fitting, http } from "../../web/src/api/client";
import { useFittingDesk } from "../../web/src/api/desk";
import * as outbox from "../../web/src/api/outbox";

const part = (version: number, body: object = {}, said: string[] = []) => ({ version, body, said });
const FITTING = {
  id: "fitting-1",
  state: "open",
  parts: {
    ...Object.fromEntries(["feet", "spec", "trial", "settle", "return"].map((name) => [name, part(0)])),
    brief: part(0, { sport: null, surface: null }),
  },
} as unknown as Fitting;

/** The shop's machine: what is sent lies upon what it has, one version on. */
let there = part(0);
type Sent = { body: { set: Record<string, unknown> } };
const server = async (_path: unknown, { body }: Sent) => {
  there = part(there.version + 1, { ...there.body, ...body.set }, Object.keys(body.set));
  return { data: there, response: new Response() };
};

beforeEach(async () => {
  localStorage.clear();
  there = part(0, FITTING.parts.brief.body);
  vi.spyOn(http, "PATCH").mockImplementation(server as unknown as typeof http.PATCH);
  outbox.forget();
  await outbox.openOutbox("ilse", "a0".repeat(32), () => {}); // the fitting itself is drawn anew some turns later
});
afterEach(() => {
  cleanup();
  outbox.forget();
  vi.restoreAllMocks();
});

test("what is acknowledged never leaves the desk, also before the fitting came with it", async () => {
  const drawn: [unknown, boolean][] = [];
  const { result, rerender } = renderHook(
    ({ fitting }) => {
      const desk = useFittingDesk(fitting);
      drawn.push([desk.bodies.brief.sport, desk.said.has("sport")]);
      return desk;
    },
    { initialProps: { fitting: FITTING } },
  );
  act(() => result.current.set("brief", { sport: "football" }));
  const from = drawn.length - 1;
  const acknowledged = () => expect(outbox.entriesOf(FITTING.id)).toEqual([]);
  await act(() => vi.waitFor(acknowledged, { timeout: 5_000 }));
  expect(drawn.slice(from)).toEqual(drawn.slice(from).map(() => ["football", true]));
  const newer = { ...FITTING.parts.brief, ...part(9, { sport: "climbing" }) };
  rerender({ fitting: { ...FITTING, parts: { ...FITTING.parts, brief: newer } } as Fitting });
  expect(result.current.bodies.brief.sport).toBe("climbing"); // somebody's since
});
