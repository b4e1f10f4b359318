/** The margin of the feet: conflicts, questions, classes with reasons, what was captured, differences, cautions, time. */
import { lazy, Suspense } from "react";
import type { Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { Heading, MARKS } from "../../ui/words";
import { Captured } from "./Captured";
import { FeetCautions } from "./FeetCautions";
import { PLAN_FIGURES, SIDE_FIGURES, sideName } from "./layout";
import { OverTime } from "./OverTime";
import type { Capture, Captures } from "./useCaptures";

const FromAfar = lazy(() => import("./FromAfar").then((m) => ({ default: m.FromAfar })));

const SIDES: Side[] = ["left", "right"];
const LABELS = Object.fromEntries([...PLAN_FIGURES, ...SIDE_FIGURES].map((f) => [f.name, f.label]));
interface Props {
  captures: Captures;
  onCorrect: (capture: Capture) => void;
}

export function FeetMargin({ captures, onCorrect }: Props) {
  const { fitting } = useDesk();
  const { reading, found } = fitting;
  const conflicts = SIDES.flatMap((side) =>
    Object.entries(found[side].numbers)
      .filter(([, n]) => n.conflict && !n.chosen)
      .map(([name, n]) => ({ side, name, text: n.conflict ?? "" })),
  );
  return (
    <>
      {conflicts.length > 0 && <Heading>Sources that disagree</Heading>}
      <ul className="space-y-1.5">
        {conflicts.map((c) => (
          <li
            key={c.side + c.name}
            className="border-madder border-l-4 pl-2 text-sm"
            data-conflict={`${c.side}/${c.name}`}
          >
            <b style={{ color: `var(--${c.side})` }}>{sideName(c.side)}. </b>
            {c.text}
          </li>
        ))}
      </ul>
      {reading.questions.length > 0 && <Heading>To look at again</Heading>}
      <ul className="space-y-1.5">
        {reading.questions.map((q) => (
          <li key={q.field + q.text} className="border-ink border-l-2 border-dashed pl-2">
            {q.text}
          </li>
        ))}
      </ul>
      <Captured captures={captures} onCorrect={onCorrect} />
      <Heading>Arch and volume</Heading>
      {SIDES.map((side) => (
        <p key={side} className="mb-1.5 leading-snug">
          <b style={{ color: `var(--${side})` }}>{sideName(side)}: </b>
          {found[side].arch.value ? `${found[side].arch.value} arch` : "arch not known yet"}, volume{" "}
          {reading.volume[side] ?? "not known yet"}.{" "}
          <span className="text-faint text-sm">
            {found[side].arch.reason}
            {found[side].arch.value ? ` ${MARKS[found[side].arch.mark]}. ` : " "}
            {reading.volume_reason[side]}
          </span>
        </p>
      ))}
      <Differences />
      <FeetCautions />
      <OverTime />
      <Suspense>
        <FromAfar />
      </Suspense>
      <Heading>How sure</Heading>
      <p className="text-faint text-sm">
        ± is half the interval that holds the truth 95 times in 100. Gauge and tape: house default. The surest
        source counts, unless you choose another.
      </p>
    </>
  );
}

function Differences() {
  const { reading } = useDesk().fitting;
  if (!reading.differences.length) return null;
  return (
    <>
      <Heading>Left against right</Heading>
      <ul className="font-mono text-sm">
        {reading.differences.map((d) => (
          <li key={d.measure} className={`flex justify-between ${d.matters ? "font-bold text-madder" : ""}`}>
            <span>{LABELS[d.measure]}</span>
            <span>
              {d.left_less_right_mm > 0 ? "L +" : d.left_less_right_mm < 0 ? "R +" : ""}
              {Math.abs(d.left_less_right_mm).toFixed(1)} {d.measure.endsWith("_deg") ? "°" : "mm"}
            </span>
          </li>
        ))}
      </ul>
      {reading.remedies.map((r) => (
        <p key={r} className="mt-2">
          {r}
        </p>
      ))}
    </>
  );
}
