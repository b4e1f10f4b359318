/** The feet over a day and over years: swelling, and growth with the day to measure again. */
import { memo } from "react";
import type { Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { DayCurve, GrowthCurve } from "../../benches/OverTime";
import { day } from "../../ui/clock";
import { Heading } from "../../ui/words";
import { sideName } from "./layout";
import { useOverTime } from "./useCaptures";

const SIDES: Side[] = ["left", "right"];

export function OverTime() {
  const { bodies } = useDesk();
  const time = useOverTime();
  if (!time?.swelling.length) return null;
  return <Curves time={time} at={bodies.feet.time_of_day ?? null} />;
}

interface CurvesProps {
  time: NonNullable<ReturnType<typeof useOverTime>>;
  at: string | null;
}

/** Drawn when what is computed of the feet changes, not with each digit typed. */
const Curves = memo(function Curves({ time, at }: CurvesProps) {
  const largest = (field: "by_evening_mm" | "after_effort_mm", measure: string) =>
    Math.max(...time.swelling.filter((s) => s.measure === measure).map((s) => s[field]), 0).toFixed(1);
  return (
    <>
      <Heading>Over the day</Heading>
      <DayCurve swelling={time.swelling} at={at} />
      <p className="text-faint text-sm">
        By evening: length +{largest("by_evening_mm", "length_mm")} mm, ball +
        {largest("by_evening_mm", "ball_girth_mm")} mm; after a long effort ball +
        {largest("after_effort_mm", "ball_girth_mm")} mm more. Sizing allows for it. House default.
      </p>
      {SIDES.map((side) => {
        const growth = time.growth[side];
        if (!growth) return null;
        const seen = time.visits
          .filter((v) => v[side].length_mm !== undefined)
          .map((v) => ({ on: v.on, length: v[side].length_mm ?? 0 }));
        return (
          <section key={side} aria-label={`${sideName(side)} growth`}>
            <Heading>{sideName(side)} foot growing</Heading>
            <GrowthCurve growth={growth} side={side} seen={seen} />
            <p className="text-sm">
              {growth.text}
              {growth.remeasure_on && <b> Measure again by {day(growth.remeasure_on)}.</b>}
            </p>
          </section>
        );
      })}
    </>
  );
});
