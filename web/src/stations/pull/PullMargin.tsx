/** The margin at Pull: what helps, what it costs, and how the drawing tells fit. */
import type { Schemas } from "../../api/client";
import { FitSwatch } from "../../drawing/kit";
import { Heading, MARKS } from "../../ui/words";

type Place = Schemas["PlaceOut"];

export function PullMargin({
  place,
  vetoed,
  notes,
  liked,
}: {
  place: Place | undefined;
  /** What the pair they like is called here; empty when none was named. */
  liked: string;
  vetoed: Schemas["RuledOut"][];
  notes: string[];
}) {
  return (
    <>
      {place && (
        <>
          {place.like && (
            <>
              <Heading>Beside {liked}</Heading>
              {!place.like.differs.length && <p>Alike in all that is known of both.</p>}
              <ul className="space-y-1" data-differs>
                {place.like.differs.map((d) => (
                  <li key={d.text}>{d.text}</li>
                ))}
              </ul>
              <p className="text-faint text-sm">
                Of what is known of either, {Math.round(place.like.known * 100)} in 100 is known of both.
              </p>
            </>
          )}
          <Heading>What helps</Heading>
          <ul className="space-y-1">
            {place.helps.map((p) => (
              <li key={p.text}>{p.text}</li>
            ))}
          </ul>
          <Heading>What costs</Heading>
          {!place.costs.length && <p className="text-faint">Nothing.</p>}
          <ul className="space-y-1">
            {place.costs.map((p) => (
              <li key={p.text}>{p.text}</li>
            ))}
          </ul>
          {place.lift && <p className="mt-2 text-faint">{place.lift}</p>}
          {place.asks.map((a) => (
            <p key={a} className="mt-2 border-madder border-l-4 pl-2" data-ask>
              {a}
            </p>
          ))}
          {place.unknown.length > 0 && (
            <p className="mt-2 text-faint text-sm">
              Not known of it: {place.unknown.join(", ")}. What is known is {Math.round(place.known * 100)} in
              100 of the spec.
            </p>
          )}
          <p className="mt-2 font-mono text-sm">
            fit {place.fit.toFixed(2)} · spec {place.spec?.toFixed(2) ?? "?"} · score {place.score.toFixed(2)}
          </p>
        </>
      )}
      <Heading>How the drawing tells fit</Heading>
      <ul className="space-y-1">
        {(["slack", "snug", "tight", "too_tight"] as const).map((w) => (
          <li key={w}>
            <FitSwatch word={w} />
          </li>
        ))}
      </ul>
      <p className="mt-1 text-faint text-sm">
        Hollow mark new, full mark settled; the thin bar is how sure (95 in 100).
      </p>
      <Heading>The foot counted</Heading>
      {notes.map((n) => (
        <p key={n} className="text-faint text-sm">
          {n}
        </p>
      ))}
      {vetoed.length > 0 && <Heading>Ruled out</Heading>}
      {[...new Map(vetoed.map((v) => [v.rule, v])).values()].map((v) => (
        <p key={v.rule} className="text-sm">
          {v.text} <span className="text-faint text-xs">{MARKS[v.mark]}</span>
        </p>
      ))}
    </>
  );
}

/** How like another shoe it is, in words. */
export function likeWord(like: { like: number; known: number }): string {
  if (like.known < 0.3) return "hardly known";
  if (like.like >= 0.995) return "itself, or its twin";
  return like.like >= 0.82 ? "much alike" : like.like >= 0.65 ? "somewhat alike" : "unlike";
}
