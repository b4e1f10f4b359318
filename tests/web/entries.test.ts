/** What becomes of what is typed, as values. */
import { expect, it } from "vitest";
import type { Problem } from "../../web/src/api/client";
import { blank, merged, withClash, withSet } from "../../web/src/api/entries";

const clash = (path: string) => ({ version: 7, clashes: [{ path, mine: "a", theirs: "b", by: "Bram", at: "" }] }) as unknown as Problem;
const clashing = (path: string) => withClash(withSet(blank("f", "feet", 1), { [path]: "a" }), clash(path));

it("what two tabs left clashing is shown and decided together", () => {
  const now = merged(clashing("sock"), clashing("note"));
  expect(now.clash?.clashes?.map((c) => c.path)).toEqual(["note", "sock"]);
  expect(now.held).toEqual({ note: "a", sock: "a" });
});
