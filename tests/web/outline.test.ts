import { expect, test } from "vitest";
import { bent, handlesOf } from "../../web/src/drawing/outline";

const round = (n: number) => Array.from({ length: n }, (_, i) => [Math.cos((2 * Math.PI * i) / n), Math.sin((2 * Math.PI * i) / n)]);

test("handles lie on the outline, as many as asked for or as there are points", () => {
  const curve = round(113);
  const handles = handlesOf(curve, 20);
  expect(handles).toHaveLength(20);
  for (const h of handles) expect(curve).toContainEqual(h);
  expect(handlesOf(round(7), 20)).toEqual(round(7));
  expect(handlesOf([], 20)).toEqual([]);
});

test("an outline whose handles stay is the same; all moved by one vector, it moves by it", () => {
  const curve = round(113);
  expect(bent(curve, handlesOf(curve, 20))).toEqual(curve);
  const moved = bent(curve, handlesOf(curve, 20).map(([x = 0, y = 0]) => [x + 3, y - 2]));
  moved.forEach(([x, y], i) => {
    expect(x).toBeCloseTo((curve[i]?.[0] ?? 0) + 3);
    expect(y).toBeCloseTo((curve[i]?.[1] ?? 0) - 2);
  });
});

test("one handle pulls what lies between its neighbours, most beside it, and nothing else; the first as well", () => {
  const curve = round(100);
  for (const pulled of [0, 7, 19]) {
    const handles = handlesOf(curve, 20).map(([x = 0, y = 0], k) => (k === pulled ? [x + 1, y] : [x, y]));
    const by = bent(curve, handles).map(([x], i) => x - (curve[i]?.[0] ?? 0));
    const far = (i: number) => Math.min(Math.abs(i - 5 * pulled), 100 - Math.abs(i - 5 * pulled));
    by.forEach((d, i) => expect(d).toBeCloseTo(Math.max(1 - far(i) / 5, 0)));
  }
});
