/** The shoe you need: drawn as it is wanted, and three reasons why. */
import type { Schemas } from "../api/client";
import { WantedShoe } from "../benches/WantedShoe";
import { Leaf, NotYet } from "./Leaf";

export function TheShoe({ shoe }: { shoe: Schemas["TurnedShoe"] | null }) {
  if (!shoe)
    return <NotYet title="The shoe you need">It is drawn here once you have told what you do in it.</NotYet>;
  return (
    <Leaf
      title="The shoe you need"
      drawing={
        <WantedShoe
          spec={shoe.spec}
          plate={shoe.studs ?? undefined}
          footMm={shoe.foot_mm}
          numbers={{}}
          open={null}
          onOpen={() => {}}
        />
      }
    >
      <ol className="space-y-4">
        {shoe.because.map((b) => (
          <li key={b.what}>
            <b className="block">{b.what}</b>
            {b.why}
          </li>
        ))}
      </ol>
    </Leaf>
  );
}
