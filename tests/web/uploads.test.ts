/** Files on their way: sent again by themselves where that may help, told where it doesn't. */
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { away, Trouble } from "../../web/src/api/client";
import { forgetConnection, reached } from "../../web/src/api/connection";
import { forgetOwn, own } from "../../web/src/api/own";
import { dropUpload, isUploading, type Share, upload, uploadAgain, uploads } from "../../web/src/api/uploads";

const failing = (status: number) => new Trouble({ title: "Damaged.", status } as never);
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);
let looked: string[];
/** A file sent for a fitting, and how it goes. */
const file = (id: string, run: (said: object, tell: Share) => Promise<void>, of = "f") =>
  upload({ id, of, place: `/fittings/${of}/feet`, name: `${id}.stl`, run });

beforeEach(() => {
  vi.useFakeTimers();
  forgetConnection();
  looked = [];
  vi.stubGlobal("fetch", async (request: Request | string) => {
    const url = typeof request === "string" ? request : request.url;
    looked.push(new URL(url, "http://here").pathname);
    return new Response(JSON.stringify({ share: 0.5, step: "finding the toes" }), {
      headers: { "content-type": "application/json" },
    });
  });
});
afterEach(() => {
  for (const u of uploads()) dropUpload(u.id);
  vi.useRealTimers();
});

it("tells how far it is, and is gone when it is measured", async () => {
  let done = () => {};
  file("a", (_, tell) => {
    tell(1);
    return new Promise((on) => (done = on));
  });
  await pass(10);
  expect(uploads()).toMatchObject([{ step: "sending", share: 0.05 }]);
  await pass(350);
  expect(uploads()).toMatchObject([{ step: "finding the toes", share: 0.5 }]);
  expect([looked, isUploading()]).toEqual([["/api/captures/a/progress"], true]);
  done();
  await pass(10);
  expect([uploads(), isUploading()]).toEqual([[], false]);
});

it("refused, it waits for somebody: with more said it goes again under the same id", async () => {
  const said = vi.fn(async (more: object) => {
    if (!("cell_mm" in more)) throw failing(422);
  });
  file("mat", said);
  await pass(60_000);
  expect(said).toHaveBeenCalledTimes(1);
  expect(uploads()).toMatchObject([{ id: "mat", refused: true, trouble: { title: "Damaged." } }]);
  expect(isUploading()).toBe(false);
  uploadAgain("mat", { cell_mm: 5 });
  await pass(10);
  expect([said.mock.lastCall?.[0], uploads()]).toEqual([{ cell_mm: 5 }, []]);
});

it("without a connection it stays, and goes by itself when that is back", async () => {
  const run = vi.fn(async () => {});
  run.mockRejectedValueOnce(away("No connection."));
  file("a", run);
  await pass(10);
  expect(uploads()).toMatchObject([{ refused: false, trouble: { title: "No connection." } }]);
  reached();
  await pass(10);
  expect([run.mock.calls.length, uploads()]).toEqual([2, []]);
});

it("whose it is alone sends and sees it, whoever signs in on the page meanwhile", async () => {
  own("ilse", "");
  const run = vi.fn(async () => {});
  run.mockRejectedValueOnce(failing(401));
  file("i", run);
  await pass(10);
  own("bram", "");
  expect([uploads(), isUploading()]).toEqual([[], false]);
  file("b", async () => {});
  await pass(60_000);
  expect(run).toHaveBeenCalledTimes(1);
  own("ilse", "");
  reached();
  uploadAgain("i");
  await pass(10);
  expect([run.mock.calls.length, uploads()]).toEqual([2, []]);
  forgetOwn();
});

it("what breaks the server five times is not sent a sixth time by itself", async () => {
  const run = vi.fn(async () => Promise.reject(failing(500)));
  file("a", run);
  await pass(600_000);
  expect(run).toHaveBeenCalledTimes(5);
  expect(uploads()).toMatchObject([{ refused: true }]);
  uploadAgain("a");
  await pass(10);
  expect(run).toHaveBeenCalledTimes(6);
});

it("those of one fitting go one after the other, those of two beside each other", async () => {
  const going: string[] = [];
  const slow = (id: string) => async () => {
    going.push(id);
    await new Promise((on) => setTimeout(on, 1000));
  };
  file("x", slow("x"));
  file("y", slow("y"));
  file("z", slow("z"), "g");
  await pass(500);
  expect(going).toEqual(["x", "z"]);
  await pass(1000);
  expect(going).toEqual(["x", "z", "y"]);
});
