/** The shoe's drawing: what the lines must do whatever the numbers. */
import { describe, expect, it } from "vitest";
import { bed, foldDeg, folded, shoeShape, soleBelow, soleSide, underside, upperSide } from "../../web/src/drawing/shoe";

const L = 280;
const SPORTS = ["climbing", "football", "lifting", "cycling", "court", "field", "ice"];

describe("a shoe from its properties", () => {
  it.each(SPORTS)("stands on the ground and nowhere under it: %s", (sport) => {
    for (const downturn_deg of [0, 8, 25]) {
      const shape = shoeShape({ downturn_deg }, sport, L);
      const low = Math.min(...soleSide(shape).map(([, z]) => z));
      expect(low).toBeGreaterThanOrEqual(-0.01);
      expect(low).toBeLessThan(1.5);
    }
  });

  it("lifts the heel over the toe by its drop", () => {
    for (const drop_mm of [0, 4, 12, 20]) {
      const shape = shoeShape({ drop_mm, heel_stack_mm: 26 }, "lifting", L);
      const heel = bed(shape, 0.1 * L) - underside({ ...shape, rounding: 0 }, 0.1 * L);
      const ball = bed(shape, 0.7 * L) - underside(shape, 0.7 * L);
      expect(heel - ball).toBeCloseTo(drop_mm, 5);
      expect(heel).toBeCloseTo(26, 5);
    }
  });

  it("hollows under a hook, the more the steeper", () => {
    const hollow = (downturn_deg: number) => underside(shoeShape({ downturn_deg }, "climbing", L), 0.5 * L);
    expect(hollow(0)).toBeCloseTo(0, 5);
    expect(hollow(20)).toBeGreaterThan(hollow(8));
  });

  it("folds a soft sole further than a stiff one, and never beyond what hands can", () => {
    expect(foldDeg(60)).toBeGreaterThan(foldDeg(300));
    expect(foldDeg(300)).toBeGreaterThan(foldDeg(4000));
    expect(foldDeg(1)).toBeLessThanOrEqual(62);
    const tip = (bend: number) => folded(shoeShape({ bend_n_mm_per_deg: bend }, "court", L)).at(-1)?.[1] ?? 0;
    expect(tip(80)).toBeGreaterThan(tip(600));
    expect(folded(shoeShape({}, "court", L))).toEqual([]);
  });

  it("stands as high as its collar", () => {
    const top = (collar_mm: number) =>
      Math.max(...upperSide(shoeShape({ collar_mm }, "court", L)).filter(([x]) => x < 0.25 * L).map(([, z]) => z));
    expect(top(120) - top(60)).toBeGreaterThan(40);
  });

  it("draws a wider toe box and a flared heel wider", () => {
    const width = (values: Record<string, number>, share: number) => {
      const near = soleBelow(shoeShape(values, "court", L), 104, 70).filter(([x]) => Math.abs(x / L - share) < 0.06);
      return Math.max(...near.map(([, y]) => y)) - Math.min(...near.map(([, y]) => y));
    };
    expect(width({ toe_box_mm: 0 }, 0.93)).toBeGreaterThan(width({ toe_box_mm: -30 }, 0.93));
    expect(width({ heel_flare: 1.15 }, 0.17)).toBeGreaterThan(width({ heel_flare: 1 }, 0.17));
  });
});
