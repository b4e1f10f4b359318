/** The pairs an athlete owns, in their page: a row each, with what is left of it. */
import { useState } from "react";
import { Link } from "react-router";
import { type OwnedPair, pairName, usePairsOf } from "../../api/pairs";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { Heading } from "../../ui/words";
import { LifeBar } from "./LifeBar";
import { PairDialog } from "./PairDialog";

export function AthletePairs({ athlete }: { athlete: string }) {
  const pairs = usePairsOf(athlete);
  const [adding, setAdding] = useState(false);
  const words = useVocabulary().data?.sports ?? [];
  const what = (p: OwnedPair) =>
    words.find((s) => s.slug === p.sport)?.disciplines.find((d) => d.value === p.discipline)?.text ?? p.sport;
  const today = new Date().toISOString().slice(0, 10);
  return (
    <section aria-label="Their pairs" className="mt-4">
      <span className="flex items-center justify-between gap-2">
        <Heading>Their pairs</Heading>
        <span className="flex gap-2">
          <Link
            to={`/pairs?athlete=${athlete}`}
            className="inline-flex min-h-11 items-center border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper"
          >
            Plan of pairs
          </Link>
          <Button onClick={() => setAdding(true)}>A pair they have …</Button>
        </span>
      </span>
      {pairs.error && !pairs.data && <p role="alert">{pairs.error.message}</p>}
      {pairs.data && !pairs.data.length && (
        <p className="text-faint">None on record. Pairs sold here come by themselves.</p>
      )}
      <ul>
        {pairs.data?.map((p) => (
          <li key={p.id} className="border-line border-b">
            <Link
              to={`/pairs/${p.id}`}
              className={`grid min-h-14 grid-cols-[1fr_260px_9rem] items-center gap-4 px-2 py-1 hover:bg-sheet max-md:grid-cols-1 ${p.ended_on ? "text-faint" : ""}`}
            >
              <span className="leading-snug">
                <b>{pairName(p)}</b> <span className="font-mono">{p.size}</span>
                <span className="block text-faint text-sm">
                  {what(p)}
                  {p.role === "training" && ", for training"} · {day(p.bought_on)}
                </span>
              </span>
              {p.ended_on ? (
                <span>put away {day(p.ended_on)}</span>
              ) : (
                <>
                  <LifeBar pair={p} />
                  <span className="text-right text-sm leading-snug">
                    about <b className="font-mono">{Math.round(p.wear.left_h.mid)} h</b> left
                    {p.wear.retire_on && (
                      <span className="block text-faint">until {day(p.wear.retire_on)}</span>
                    )}
                  </span>
                </>
              )}
            </Link>
          </li>
        ))}
      </ul>
      {adding && <PairDialog athlete={athlete} today={today} onClose={() => setAdding(false)} />}
    </section>
  );
}
