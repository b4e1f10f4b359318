/** Your feet: both to scale as they were measured, and in what they are unlike. */
import type { Schemas, Side } from "../api/client";
import { FeetPlan, type PlanSide } from "../benches/FeetPlan";
import { useSize } from "../ui/useSize";
import { Leaf, Lines, NotYet } from "./Leaf";

type Foot = Schemas["TurnedFoot"];
const USUAL = { ball: 0.39, heel: 0.25, length: 260 };

function sideOf(foot: Foot | null, other: Foot | null): PlanSide {
  const length = foot?.length_mm ?? other?.length_mm ?? USUAL.length;
  return {
    shape: {
      length,
      ballWidth: foot?.ball_width_mm ?? length * USUAL.ball,
      heelWidth: foot?.heel_width_mm ?? length * USUAL.heel,
      arch: foot?.arch ?? "medium",
      toes: foot?.toe_shape ?? "first_longest",
      bunion: foot?.bunion ?? false,
      guessed: { ball: !foot?.ball_width_mm, heel: !foot?.heel_width_mm },
      typed: !!foot,
    },
    outline: foot?.outline.length ? foot.outline : undefined,
    under: undefined,
    earlier: [],
  };
}

export function TheirFeet({ feet }: { feet: Schemas["TurnedFeet"] }) {
  const [box, size] = useSize();
  if (!feet.left && !feet.right)
    return <NotYet title="Your feet">They are drawn here as soon as they are measured.</NotYet>;
  const sides: Record<Side, PlanSide> = {
    left: sideOf(feet.left, feet.right),
    right: sideOf(feet.right, feet.left),
  };
  const width = Math.min(size?.width ?? 480, 560);
  return (
    <Leaf
      title="Your feet"
      drawing={
        <div ref={box}>
          <FeetPlan sides={sides} width={width} height={Math.min(width * 1.05, 520)} leaders={[]} />
        </div>
      }
    >
      <Lines lines={feet.lines} />
    </Leaf>
  );
}
