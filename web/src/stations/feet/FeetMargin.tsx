/** The margin of the feet: conflicts, classes with reasons, what was captured, differences, cautions, time. */
import type { Schemas, Side } from "../../api/client";
import { useDesk } from "../../api/desk";
import { DayCurve, GrowthCurve } from "../../benches/OverTime";
import { Button } from "../../ui/Button";
import { day, timeOf } from "../../ui/clock";
import { TextField } from "../../ui/TextField";
import { Heading, MARKS } from "../../ui/words";
import { PLAN_FIGURES, SIDE_FIGURES, sideName } from "./layout";
import type { Capture, Captures } from "./useCaptures";
import { useOverTime } from "./useCaptures";

const SIDES: Side[] = ["left", "right"];
const LABELS = Object.fromEntries([...PLAN_FIGURES, ...SIDE_FIGURES].map((f) => [f.name, f.label]));
type Concern = NonNullable<Schemas["Feet"]["concerns"]>[number];
const CONCERNS: [Concern, string][] = [
  ["pain", "Pain that lasts"],
  ["circulation", "Diabetes, poor circulation"],
  ["surgery", "Recent operation or injury"],
  ["growing_pains", "A child's growing pains"],
];

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
      <Cautions />
      <OverTime />
      <Heading>How sure</Heading>
      <p className="text-faint text-sm">
        ± is half the interval that holds the truth 95 times in 100. Gauge and tape: house default. The surest
        source counts, unless you choose another.
      </p>
    </>
  );
}

function Captured({ captures, onCorrect }: Props) {
  const { fitting, locked } = useDesk();
  if (!fitting.captures.length) return null;
  return (
    <>
      <Heading>Captured</Heading>
      <ul className="space-y-2" aria-label="Captured">
        {fitting.captures.map((c) => (
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
                  onClick={() => onCorrect(c)}
                  disabled={locked}
                >
                  Check
                </Button>
              )}
              <Button
                kind="quiet"
                className="text-sm underline"
                onClick={() => void captures.remove(c)}
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

function Cautions() {
  const { bodies, fitting, set, locked } = useDesk();
  const feet = bodies.feet;
  const concerns = feet.concerns ?? [];
  const tick = (slug: Concern, on: boolean) =>
    set("feet", { concerns: on ? [...concerns, slug] : concerns.filter((c) => c !== slug) });
  return (
    <>
      <Heading>Cautions</Heading>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-5"
          checked={feet.wounds_or_numbness ?? false}
          disabled={locked}
          onChange={(e) => set("feet", { wounds_or_numbness: e.target.checked || null })}
        />
        Wounds or numb spots
      </label>
      {CONCERNS.map(([slug, text]) => (
        <label key={slug} className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5"
            checked={concerns.includes(slug)}
            disabled={locked}
            onChange={(e) => tick(slug, e.target.checked)}
          />
          {text}
        </label>
      ))}
      <TextField
        label="Note on the feet"
        long
        value={feet.note ?? ""}
        onChange={(v) => set("feet", { note: v || null })}
        disabled={locked}
      />
      {fitting.reading.cautions.map((c) => (
        <p key={c.rule} className="mt-2 border-madder border-l-4 pl-2" data-caution={c.rule}>
          {c.text} <span className="text-faint text-xs">{MARKS[c.mark]}</span>
        </p>
      ))}
    </>
  );
}

function OverTime() {
  const { bodies } = useDesk();
  const time = useOverTime();
  if (!time?.swelling.length) return null;
  const largest = (field: "by_evening_mm" | "after_effort_mm", measure: string) =>
    Math.max(...time.swelling.filter((s) => s.measure === measure).map((s) => s[field]), 0).toFixed(1);
  return (
    <>
      <Heading>Over the day</Heading>
      <DayCurve swelling={time.swelling} at={bodies.feet.time_of_day ?? null} />
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
}
