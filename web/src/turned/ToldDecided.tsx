/** What you told us, and what you decide. */
import type { Schemas } from "../api/client";
import { Leaf, Lines, NotYet } from "./Leaf";

export function ToldDecided({ said, decided }: Pick<Schemas["TurnedOut"], "said" | "decided">) {
  if (!said.length)
    return <NotYet title="What you told us">It stands here as soon as we have talked.</NotYet>;
  return (
    <Leaf
      title={decided.length ? "What you told us, what you decide" : "What you told us"}
      drawing={
        <dl className="grid grid-cols-[minmax(6rem,auto)_1fr] gap-x-5 gap-y-1.5 text-[clamp(1rem,1.9vmax,1.6rem)] leading-snug">
          {said.map((s) => (
            <div key={s.what} className="contents">
              <dt className="text-faint">{s.what}</dt>
              <dd className="min-w-0 break-words font-semibold">{s.text}</dd>
            </div>
          ))}
        </dl>
      }
    >
      {decided.length ? (
        <Lines lines={decided} />
      ) : (
        <p className="text-faint">Is that right? Say so if not.</p>
      )}
    </Leaf>
  );
}
