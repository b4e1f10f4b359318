/** What was captured of these feet, each with its doubts, to be checked or taken out. */
import { memo, useRef, useState } from "react";
import { useDesk } from "../../api/desk";
import { Button } from "../../ui/Button";
import { day, timeOf } from "../../ui/clock";
import { Heading } from "../../ui/words";
import { sideName } from "./layout";
import type { Capture, Captures } from "./useCaptures";

interface Props {
  captures: Captures;
  onCorrect: (capture: Capture) => void;
}

export function Captured({ captures, onCorrect }: Props) {
  const { fitting, locked } = useDesk();
  const acts = useRef({ remove: captures.remove, correct: onCorrect });
  acts.current = { remove: captures.remove, correct: onCorrect };
  const [hand] = useState(() => ({
    remove: (capture: Capture) => void acts.current.remove(capture),
    correct: (capture: Capture) => acts.current.correct(capture),
  }));
  if (!fitting.captures.length) return null;
  return <List captures={fitting.captures} locked={locked} hand={hand} />;
}

interface ListProps {
  captures: Capture[];
  locked: boolean;
  hand: { remove: (capture: Capture) => void; correct: (capture: Capture) => void };
}

/** Drawn when a capture comes or goes, not with each digit typed. */
const List = memo(function List({ captures, locked, hand }: ListProps) {
  return (
    <>
      <Heading>Captured</Heading>
      <ul className="space-y-2" aria-label="Captured">
        {captures.map((c) => (
          <li key={c.id} className="border-line border-b pb-1" data-capture={`${c.kind}/${c.side}`}>
            <p className="leading-tight">
              <b style={{ color: `var(--${c.side})` }}>{sideName(c.side)}</b> {c.kind}
              <span className="block truncate text-faint text-xs" title={c.name}>
                {c.name || "no name"} · {c.kind === "record" ? day(c.measured_at) : timeOf(c.taken_at)},{" "}
                {c.taken_by}
              </span>
            </p>
            {c.reading.questions?.map((q) => (
              <p key={q} className="mt-1 border-ink border-l-2 border-dashed pl-2 text-sm">
                {q}
              </p>
            ))}
            <span className="-ml-3 flex">
              {c.kind !== "record" && (
                <Button
                  kind="quiet"
                  className="text-sm underline"
                  onClick={() => hand.correct(c)}
                  disabled={locked}
                >
                  Check
                </Button>
              )}
              <Button
                kind="quiet"
                className="text-sm underline"
                onClick={() => hand.remove(c)}
                disabled={locked}
                aria-label={`Take out the ${c.side} ${c.kind}`}
              >
                Take out
              </Button>
            </span>
            {!!c.reading.notes?.length && (
              <details className="text-faint text-xs">
                <summary className="flex min-h-11 cursor-pointer items-center underline">
                  How it was read
                </summary>
                {c.reading.notes.join(" ")}
              </details>
            )}
          </li>
        ))}
      </ul>
    </>
  );
});
