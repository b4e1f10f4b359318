/** Breaking it in: the wears on their days, when it is ready, and how it is cared for. */
import type { Schemas } from "../api/client";
import { WearPlan } from "../stations/settle/WearPlan";
import { day } from "../ui/clock";
import { useSize } from "../ui/useSize";
import { Leaf, Lines, NotYet } from "./Leaf";

const TELLS = 3;

export function WearingIn({ wear }: { wear: Schemas["TurnedWear"] | null }) {
  const [box, size] = useSize();
  if (!wear)
    return <NotYet title="Breaking it in">How a pair is worn in stands here once one has passed.</NotYet>;
  const first = wear.wears.slice(0, TELLS);
  return (
    <Leaf
      title="Breaking it in"
      drawing={
        <div ref={box}>
          <WearPlan plan={wear} width={Math.min(Math.max(size?.width ?? 560, 420), 620)} />
          <ol className="mt-3 space-y-1 text-xl">
            {first.map((w) => (
              <li key={w.on}>
                <b>{day(w.on)}</b>, <span className="font-mono">{w.minutes}</span> minutes: {w.how}.
              </li>
            ))}
          </ol>
        </div>
      }
    >
      <p className="mb-3 font-semibold">{wear.pair}</p>
      <Lines lines={[wear.verdict, ...wear.rules]} />
    </Leaf>
  );
}
