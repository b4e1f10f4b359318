/** The connection is looked for while it is away; what failed is asked for again when it is back. */
import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

let up = false;
let looked = 0;

beforeEach(() => {
  vi.useFakeTimers();
  vi.resetModules();
  [up, looked] = [false, 0];
  vi.stubGlobal(
    "fetch",
    vi.fn(async () => {
      looked += 1;
      return up ? new Response("{}") : Promise.reject(new TypeError("away"));
    }),
  );
});
afterEach(() => vi.useRealTimers());

it("looks with growing pauses, and asks again for what failed", async () => {
  const { connection } = await import("../../web/src/api/connection");
  const { away } = await import("../../web/src/api/client");
  expect(connection().offline).toBe(false);
  const { watchConnection } = await import("../../web/src/api/watch");
  const client = new QueryClient();
  const asked = vi.fn(async () => {
    if (!up) throw away();
    return "here";
  });
  await client.prefetchQuery({ queryKey: ["of"], queryFn: asked, retry: false });
  // One that was answered just now, and one that never changes.
  for (const [key, staleTime] of [
    ["fresh", 1e9],
    ["words", Number.POSITIVE_INFINITY],
  ] as const) {
    const options = { queryKey: [key], queryFn: asked, staleTime, initialData: "then" };
    new QueryObserver(client, options).subscribe(() => undefined);
  }
  watchConnection(client);
  await vi.advanceTimersByTimeAsync(0);
  expect(connection().offline).toBe(true);
  await vi.advanceTimersByTimeAsync(60_000);
  expect(looked).toBeGreaterThan(4);
  expect(looked).toBeLessThan(12);
  up = true;
  await vi.advanceTimersByTimeAsync(10_000);
  expect(connection().offline).toBe(false);
  expect(client.getQueryState(["of"])?.isInvalidated).toBe(true);
  expect(client.getQueryData(["fresh"])).toBe("here");
  expect(client.getQueryData(["words"])).toBe("then");
  const before = looked;
  await vi.advanceTimersByTimeAsync(60_000);
  expect(looked).toBe(before);
});
