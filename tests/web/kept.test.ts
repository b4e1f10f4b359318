/** What a device keeps of athletes: those looked at last, and no more of them than it may. */
import { describe, expect, it } from "vitest";
import { limited, MOST_KEPT } from "../../web/src/api/kept";

const asked = (queryKey: string[], dataUpdatedAt: number) =>
  ({ queryKey, queryHash: queryKey.join(), state: { dataUpdatedAt, data: {} } }) as never;

const keysOf = (queries: never[]) =>
  limited({ timestamp: 0, buster: "", clientState: { mutations: [], queries } }).clientState.queries.map((q) =>
    q.queryKey.join("/"),
  );

describe("what is kept", () => {
  it("is of the newest, whole, and of what is of nobody", () => {
    const many = Array.from({ length: MOST_KEPT + 5 }, (_, i) => [
      asked(["fitting", `f${i}`], 1000 + i),
      asked(["of", `f${i}`, "spec", "3"], 10),
    ]).flat();
    const found = keysOf([asked(["house"], 1), ...many, asked(["today", "28"], 2)] as never[]);
    expect(found).toContain("house");
    expect(found).toContain("today/28");
    expect(found).not.toContain("fitting/f4");
    expect(found).not.toContain("of/f4/spec/3");
    expect(found).toContain("fitting/f5");
    expect(found).toContain("of/f5/spec/3");
    expect(found.filter((k) => k.startsWith("fitting/"))).toHaveLength(MOST_KEPT);
  });
});
