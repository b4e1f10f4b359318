/** The ledger drawn: habits on one scale, how they moved, giving with its points, and what came true. */
import { scaleLinear, scaleTime } from "d3-scale";
import { area, line } from "d3-shape";
import type { Schemas } from "../api/client";
import { Frame, TicksBelow, TicksLeft, ticksOf } from "../drawing/axis";
import { day } from "../ui/clock";

/** Spreads from the mean that hold 90 in 100. */
const NINETY = 1.645;
const REACH_MM = 7;
const VIEW = 600;
const mm = scaleLinear([-REACH_MM, REACH_MM], [10, VIEW - 10]).clamp(true);
const signed = (v: number) => (v === 0 ? "0" : `${v > 0 ? "+" : "−"}${Math.abs(v)}`);

export function HabitRuler() {
  return (
    <svg viewBox={`0 0 ${VIEW} 30`} className="block h-auto w-full" aria-hidden="true">
      <text x={mm(-REACH_MM)} y="11" fontSize="11" fill="var(--faint)">
        shorter than the label
      </text>
      <text x={mm(REACH_MM)} y="11" fontSize="11" textAnchor="end" fill="var(--faint)">
        longer, mm
      </text>
      <g className="font-mono" fontSize="11" fill="var(--faint)" textAnchor="middle">
        {mm.ticks(7).map((t) => (
          <text key={t} x={mm(t)} y="27">
            {signed(t)}
          </text>
        ))}
      </g>
    </svg>
  );
}

/** A mean with the interval that holds 90 in 100; nought is the label. */
export function Habit({
  known,
  name,
}: {
  known: { mean_mm: number; sd_mm: number } | undefined;
  name: string;
}) {
  if (!known) return <span className="text-faint text-sm">nothing yet of its length</span>;
  const { mean_mm: mean, sd_mm: sd } = known;
  return (
    <svg
      viewBox={`0 0 ${VIEW} 26`}
      className="block h-auto w-full"
      role="img"
      aria-label={`${name}: ${mean.toFixed(1)} mm, nine times in ten between ${(mean - NINETY * sd).toFixed(1)} and ${(mean + NINETY * sd).toFixed(1)}`}
    >
      {mm.ticks(7).map((t) => (
        <path key={t} d={`M${mm(t)} 0V26`} stroke="var(--line)" strokeWidth={t === 0 ? 2 : 0.7} />
      ))}
      <rect
        x={mm(mean - NINETY * sd)}
        y="8"
        width={mm(mean + NINETY * sd) - mm(mean - NINETY * sd)}
        height="10"
        fill="var(--ink)"
        fillOpacity="0.18"
        stroke="var(--ink)"
        strokeWidth="0.8"
      />
      <path d={`M${mm(mean)} 4V22`} stroke="var(--madder)" strokeWidth="3" />
    </svg>
  );
}

/** A maker's length, version by version. */
export function Moved({ then, name }: { then: Schemas["LedgerThen"][]; name: string }) {
  const width = 560;
  const height = 120;
  const ends = then.flatMap((t) => [t.mean_mm - NINETY * t.sd_mm, t.mean_mm + NINETY * t.sd_mm]);
  const y = scaleLinear([Math.min(...ends, 0), Math.max(...ends, 0)], [height - 22, 6]).nice();
  const first = new Date(then[0]?.at ?? 0);
  const last = new Date(then.at(-1)?.at ?? 0);
  const same = last.getTime() - first.getTime() < 3_600_000;
  const x = same
    ? scaleLinear([0, Math.max(then.length - 1, 1)], [46, width - 40])
    : scaleTime([first, last], [46, width - 40]);
  const at = (t: Schemas["LedgerThen"], i: number) => (same ? x(i) : x(new Date(t.at)));
  const band = area<Schemas["LedgerThen"]>()
    .x(at)
    .y0((t) => y(t.mean_mm - NINETY * t.sd_mm))
    .y1((t) => y(t.mean_mm + NINETY * t.sd_mm));
  const mean = line<Schemas["LedgerThen"]>()
    .x(at)
    .y((t) => y(t.mean_mm));
  return (
    <figure data-moved={name}>
      <figcaption className="text-faint text-sm">
        How it moved, mm, with 90 in 100: {day(first.toISOString())} to {day(last.toISOString())},{" "}
        {then.length} versions
      </figcaption>
      <Frame
        width={width}
        height={height}
        label={`How what is known of ${name} moved over ${then.length} versions`}
      >
        <TicksLeft ticks={ticksOf(y, 4)} place={38} line={[44, width - 40]} dashed />
        <path d={band(then) ?? ""} fill="var(--ink)" fillOpacity="0.15" />
        <path d={mean(then) ?? ""} fill="none" stroke="var(--madder)" strokeWidth="2" />
      </Frame>
    </figure>
  );
}

/** What was given against what pressed: the table's curve, the learned one with its interval, and the follow-ups. */
export function GiveCurve({ give, name }: { give: Schemas["LedgerGive"]; name: string }) {
  const width = 460;
  const height = 220;
  const points = give.points.filter((p) => p.new_mm < 0);
  const most = Math.max(8, ...points.map((p) => -p.new_mm));
  const c = points.length ? points.reduce((n, p) => n + p.c_mm, 0) / points.length : 6;
  const x = scaleLinear([0, most], [44, width - 12]);
  const top = Math.max(c * give.high, ...points.map((p) => p.seen_mm - p.new_mm), 2);
  const y = scaleLinear(
    [Math.min(0, ...points.map((p) => p.seen_mm - p.new_mm)), top],
    [height - 30, 8],
  ).nice();
  const steps = Array.from({ length: 41 }, (_, i) => (most * i) / 40);
  const given = (pressed: number, factor: number) => c * factor * -Math.expm1(-pressed / (c * factor));
  const curve = (factor: number) =>
    line<number>()
      .x((p) => x(p))
      .y((p) => y(given(p, factor)))(steps) ?? "";
  const between = area<number>()
    .x((p) => x(p))
    .y0((p) => y(given(p, give.low)))
    .y1((p) => y(given(p, give.high)));
  return (
    <figure data-curve={give.kind} className="pb-2">
      <Frame
        width={width}
        height={height}
        label={`${name}: gives ${give.factor.toFixed(2)} of the table, ${points.length} follow-ups`}
      >
        <TicksLeft ticks={ticksOf(y, 4)} place={38} line={[44, width - 12]} dashed />
        <TicksBelow ticks={ticksOf(x, 6)} place={height - 16} />
        <path d={between(steps) ?? ""} fill="var(--ink)" fillOpacity="0.14" />
        <path d={curve(1)} fill="none" stroke="var(--faint)" strokeDasharray="4 3" strokeWidth="1.4" />
        <path d={curve(give.factor)} fill="none" stroke="var(--madder)" strokeWidth="2" />
        {points.map((p, i) => (
          <circle
            key={i}
            cx={x(-p.new_mm)}
            cy={y(p.seen_mm - p.new_mm)}
            r="3.4"
            fill="var(--sheet)"
            stroke="var(--ink)"
            strokeOpacity={Math.min(1, 0.35 + p.hours / 40)}
          />
        ))}
        <text x={width - 12} y={height - 3} textAnchor="end" fontSize="10.5" fill="var(--faint)">
          pressed new, mm
        </text>
      </Frame>
      <figcaption className="text-faint text-sm">
        Given, mm. Broken: the table. Madder: learned, 90 in 100 round it. Rings: follow-ups, fainter where
        hardly worn.
      </figcaption>
    </figure>
  );
}

/** What was said against what came true, as large as it rests on many. */
export function CameTrue({ steps }: { steps: Schemas["Step"][] }) {
  const size = 240;
  const place = scaleLinear([0, 1], [34, size - 16]);
  const up = scaleLinear([0, 1], [size - 30, 6]);
  const ticks = [0, 0.25, 0.5, 0.75, 1];
  return (
    <figure>
      <Frame
        width={size}
        height={size}
        label={`“Fine” said and come true: ${steps.map((s) => `${Math.round(s.said * 100)} said, ${Math.round(s.came * 100)} came, of ${s.count}`).join("; ")}`}
      >
        <TicksLeft
          ticks={ticks.map((t) => ({ at: up(t), text: t * 100 }))}
          place={28}
          line={[34, size - 8]}
          dashed
        />
        <TicksBelow ticks={ticks.map((t) => ({ at: place(t), text: t * 100 }))} place={size - 14} />
        <path d={`M${place(0)} ${up(0)}L${place(1)} ${up(1)}`} stroke="var(--faint)" strokeDasharray="4 3" />
        {steps.map(({ said, came, count }) => (
          <circle
            key={said}
            cx={place(said)}
            cy={up(came)}
            r={Math.min(4 + Math.sqrt(count) * 0.7, 18)}
            fill="var(--madder)"
            fillOpacity="0.35"
            stroke="var(--madder)"
          />
        ))}
        <text x={size - 8} y={size - 2} textAnchor="end" fontSize="10.5" fill="var(--faint)">
          “fine” said, in 100
        </text>
      </Frame>
      <figcaption className="max-w-60 text-faint text-sm">
        How many of 100 came true. On the broken line, what is said is what happens.
      </figcaption>
    </figure>
  );
}
