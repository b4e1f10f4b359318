/** One line of time of an athlete: how long the feet were, fittings, pairs with their lives, events, what was said. */
import { scaleLinear, scaleUtc } from "d3-scale";
import { area, line } from "d3-shape";
import { Popover } from "radix-ui";
import { Link } from "react-router";
import { type OwnedPair, pairName } from "../../api/pairs";
import type { Visit, Years } from "../../api/years";
import { Frame, TicksBelow, TicksLeft, ticksOf } from "../../drawing/axis";
import { atUtc, day } from "../../ui/clock";
import { useSize } from "../../ui/useSize";
import { type Cluster, clustered, FINGER, type Mark, span, weeksAfter } from "./marks";
import { wayOf, wayPath } from "./ways";

type Side = "left" | "right";
type X = (at: Date) => number;
const SIDES: Side[] = ["left", "right"];
const GUTTER = 64;
const CHART = 168;
const LANE = FINGER;
/** So short a time is told by its days. */
const SHORT_MS = 200 * 86_400_000;
const SIGNS: Record<Mark["sign"], string> = { fitting: "○", settled: "●", event: "◇", said: "!" };

/** When a pair will likely end: soonest, likeliest and latest; the day it ended where it did. */
export function lifeOf(pair: OwnedPair, today: string): { low: string; mid: string; high: string } {
  if (pair.ended_on) return { low: pair.ended_on, mid: pair.ended_on, high: pair.ended_on };
  const { low, mid, high } = pair.wear.left_h;
  const weeks = (hours: number) => (pair.hours_per_week ? hours / pair.hours_per_week : 2000);
  return {
    low: weeksAfter(today, weeks(low)),
    mid: pair.wear.retire_on ?? weeksAfter(today, weeks(mid)),
    high: weeksAfter(today, weeks(high)),
  };
}

/** The day a pair's life begins: worn before it is said to have been bought, then. */
const sinceOf = (pair: OwnedPair): string => [pair.begun_on, pair.bought_on].sort()[0] ?? pair.bought_on;

interface Props {
  years: Years;
  marks: Mark[];
  pairs: OwnedPair[];
  chosen: Visit | undefined;
}

export function TimeLine({ years, marks, pairs, chosen }: Props) {
  const [box, size] = useSize();
  const width = size?.width ?? 0;
  const measured = years.visits.filter((v) => v.left.length_mm || v.right.length_mm);
  const lives = pairs.map((p) => ({ pair: p, ...lifeOf(p, years.today) }));
  const [from, to] = span(years.today, [
    ...marks.map((m) => m.on),
    ...measured.map((v) => v.on),
    ...SIDES.flatMap((s) => years.growth[s]?.remeasure_on ?? []),
    ...lives.flatMap((l) => [l.pair.bought_on, l.high]),
  ]);
  const scale = scaleUtc([from, to], [GUTTER, Math.max(width - 10, GUTTER + 1)]);
  const right = width - 10;
  const x: X = (at) => Math.min(Math.max(scale(at), GUTTER), right);
  const chart = measured.length ? CHART : 0;
  const lanes = (
    [
      ["Fittings", ["fitting", "settled"]],
      ["Events", ["event"]],
      ["Said", ["said"]],
    ] as [string, Mark["sign"][]][]
  )
    .map(([title, signs]) => ({ title, marks: marks.filter((m) => signs.includes(m.sign)) }))
    .filter((l) => l.marks.length);
  const pairsFrom = chart + (lanes[0]?.title === "Fittings" ? LANE : 0);
  const laneY = (i: number) =>
    i === 0 && lanes[0]?.title === "Fittings"
      ? chart
      : pairsFrom + LANE * (pairs.length + i - (pairsFrom > chart ? 1 : 0));
  const bottom = chart + LANE * (lanes.length + pairs.length);
  const now = x(atUtc(years.today));
  const short = to.getTime() - from.getTime() < SHORT_MS;
  const ticks = scale.ticks(width > 620 ? 7 : 3).map((t) => ({
    at: scale(t),
    text: t.toLocaleDateString("en-GB", {
      ...(short ? { day: "numeric" } : { year: "numeric" }),
      month: "short",
      timeZone: "UTC",
    }),
  }));
  const told = `${years.visits.length} measurings, ${pairs.length} pairs, ${marks.length} other marks since ${day(from.toISOString().slice(0, 10))}.`;
  return (
    <div ref={box} className="relative" style={{ height: bottom + 24 }}>
      {width > 0 && (
        <>
          <Frame width={width} height={bottom + 24} label={told} data-drawing="years">
            <defs>
              <pattern
                id="may-last"
                width="5"
                height="5"
                patternUnits="userSpaceOnUse"
                patternTransform="rotate(45)"
              >
                <path d="M0 2.5H5" stroke="var(--ink)" strokeWidth="0.8" />
              </pattern>
            </defs>
            <TicksBelow ticks={ticks} place={bottom + 18} line={[0, bottom + 4]} dashed />
            {chart > 0 && (
              <Lengths years={years} measured={measured} x={scale} width={width} chosen={chosen} />
            )}
            {lanes.map((l, i) => (
              <text key={l.title} x={0} y={laneY(i) + LANE / 2 + 4} fontSize="12" fill="var(--faint)">
                {l.title}
              </text>
            ))}
            {pairs.length > 0 && (
              <text x={0} y={pairsFrom + LANE / 2 + 4} fontSize="12" fill="var(--faint)">
                Pairs
              </text>
            )}
            <path d={`M${now} 0V${bottom + 4}`} stroke="var(--madder)" strokeWidth="1.6" />
            <text x={now + 4} y={bottom - 4} fontSize="11" fill="var(--madder)">
              today
            </text>
            {lives.map((l, i) => (
              <Life
                key={l.pair.id}
                life={l}
                today={years.today}
                x={x}
                y={pairsFrom + i * LANE}
                width={width}
              />
            ))}
          </Frame>
          {lives.map((l, i) => {
            const left = x(atUtc(sinceOf(l.pair)));
            return (
              <Link
                key={l.pair.id}
                to={`/pairs/${l.pair.id}`}
                aria-label={`${pairName(l.pair)}, since ${day(l.pair.bought_on)}`}
                className="absolute hover:bg-ink/5"
                style={{
                  left: Math.min(left, width - FINGER),
                  top: pairsFrom + i * LANE,
                  width: Math.max(x(atUtc(l.high)) - left, FINGER),
                  height: LANE,
                }}
              />
            );
          })}
          {lanes.map((l, i) =>
            clustered(l.marks, x).map((c) => (
              <Here
                key={`${l.title} ${c.marks[0]?.key}`}
                cluster={c}
                top={laneY(i)}
                width={width}
                lane={l.title}
              />
            )),
          )}
        </>
      )}
    </div>
  );
}

/** What stands at one place of a lane: straight there, or a list where a finger couldn't tell them apart. */
function Here({ cluster, top, width, lane }: { cluster: Cluster; top: number; width: number; lane: string }) {
  const [first] = cluster.marks;
  if (!first) return null;
  const place = { left: Math.min(Math.max(cluster.x - FINGER / 2, 0), width - FINGER), top };
  const look = "absolute grid size-11 place-items-center font-semibold hover:bg-ink/5";
  const called = (m: Mark) => `${day(m.on)}: ${m.text}`;
  if (cluster.marks.length === 1)
    return (
      <Link to={first.to} className={look} style={place} aria-label={called(first)} title={called(first)}>
        {SIGNS[first.sign]}
      </Link>
    );
  const last = cluster.marks.at(-1) ?? first;
  return (
    <Popover.Root>
      <Popover.Trigger
        className={look}
        style={place}
        aria-label={`${lane}: ${cluster.marks.length} from ${day(first.on)} to ${day(last.on)}`}
      >
        <span>
          {SIGNS[last.sign]}
          <sup className="font-mono text-xs">{cluster.marks.length}</sup>
        </span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="z-50 max-h-80 max-w-96 overflow-auto border border-ink bg-sheet p-1 shadow-lg"
          collisionPadding={8}
          aria-label={lane}
        >
          <ul>
            {cluster.marks.map((m) => (
              <li key={m.key}>
                <Link
                  to={m.to}
                  className="grid min-h-11 grid-cols-[6.5rem_1fr] items-center gap-2 px-2 hover:bg-paper"
                >
                  <span className="font-mono text-sm">{day(m.on)}</span>
                  <span className="text-sm leading-snug" dir="auto">
                    {m.text}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

interface LifeProps {
  life: { pair: OwnedPair; low: string; mid: string; high: string };
  today: string;
  x: X;
  y: number;
  width: number;
}

/** A pair as a bar: worn so far, where it will likely end; a training pair thin, one that ended with its end. */
function Life({ life, today, x, y, width }: LifeProps) {
  const { pair } = life;
  const start = x(atUtc(sinceOf(pair)));
  const worn = x(atUtc(pair.ended_on ?? today));
  const thick = pair.role === "training" ? 6 : 11;
  const mid = y + LANE - 14;
  const beyond = start > width * 0.6;
  const ink = pair.ended_on ? "var(--faint)" : "var(--ink)";
  return (
    <g data-pair={pair.id}>
      <text
        x={beyond ? Math.max(worn, start) : start}
        y={y + 16}
        fontSize="12"
        textAnchor={beyond ? "end" : "start"}
        fill={ink}
        stroke="var(--paper)"
        strokeWidth="3"
        paintOrder="stroke"
      >
        {pairName(pair)} {pair.size}
        {pair.role === "training" ? ", training" : ""}
      </text>
      <rect x={start} y={mid - thick / 2} width={Math.max(worn - start, 2)} height={thick} fill={ink} />
      {pair.ended_on ? (
        <path d={`M${worn - 4} ${mid - 6}l8 12m0 -12l-8 12`} stroke="var(--ink)" strokeWidth="1.6" />
      ) : (
        <>
          <rect
            x={worn}
            y={mid - thick / 2}
            width={Math.max(x(atUtc(life.low)) - worn, 0)}
            height={thick}
            fill="none"
            stroke={ink}
          />
          <rect
            x={x(atUtc(life.low))}
            y={mid - thick / 2}
            width={Math.max(x(atUtc(life.high)) - x(atUtc(life.low)), 0)}
            height={thick}
            fill="url(#may-last)"
            stroke={ink}
            strokeWidth="0.7"
          />
          {x(atUtc(life.mid)) < width - 10 ? (
            <path d={`M${x(atUtc(life.mid))} ${mid - 9}v18`} stroke={ink} strokeWidth="1.6" />
          ) : (
            <path d={`M${width - 10} ${mid - 6}l6 6l-6 6`} stroke={ink} fill="none" strokeWidth="1.6" />
          )}
        </>
      )}
    </g>
  );
}

interface LengthsProps {
  years: Years;
  measured: Visit[];
  x: X;
  width: number;
  chosen: Visit | undefined;
}

/** Both feet's lengths with how unsure each is, by the way it was measured, and how a young foot grows. */
function Lengths({ years, measured, x, width, chosen }: LengthsProps) {
  const curves = SIDES.flatMap((side) => {
    const curve = years.growth[side]?.curve;
    return curve?.length ? [{ side, curve }] : [];
  });
  const all = [
    ...measured.flatMap((v) =>
      SIDES.flatMap((s) => {
        const n = v[s].length_mm;
        return n ? [n.value - n.uncertainty, n.value + n.uncertainty] : [];
      }),
    ),
    ...curves.flatMap((c) => c.curve.flatMap((p) => [p.low_mm, p.high_mm])),
  ];
  const y = scaleLinear([Math.min(...all) - 1, Math.max(...all) + 1], [CHART - 16, 22]).nice();
  const next = SIDES.flatMap((s) => years.growth[s]?.remeasure_on ?? []).sort()[0];
  const nextX = next ? x(atUtc(next)) : 0;
  type P = (typeof curves)[number]["curve"][number];
  return (
    <g data-lane="lengths">
      <TicksLeft ticks={ticksOf(y, 5)} place={GUTTER - 6} line={[GUTTER, width - 10]} dashed />
      <text x={0} y={12} fontSize="12" fill="var(--faint)">
        Length, mm
      </text>
      <clipPath id="years-drawn">
        <rect x={GUTTER} width={Math.max(width - 10 - GUTTER, 0)} height={CHART} />
      </clipPath>
      {curves.map(({ side, curve }) => (
        <g key={side} clipPath="url(#years-drawn)">
          <path
            d={
              area<P>(
                (p) => x(atUtc(p.on)),
                (p) => y(p.low_mm),
                (p) => y(p.high_mm),
              )(curve) ?? ""
            }
            fill={`var(--${side})`}
            fillOpacity="0.14"
          />
          <path
            d={
              line<P>(
                (p) => x(atUtc(p.on)),
                (p) => y(p.length_mm),
              )(curve) ?? ""
            }
            fill="none"
            stroke={`var(--${side})`}
            strokeWidth="1.6"
          />
        </g>
      ))}
      {next && (
        <g>
          <path d={`M${nextX} 20V${CHART - 10}`} stroke="var(--madder)" strokeDasharray="4 3" />
          <text
            x={nextX + (nextX > width - 190 ? -4 : 4)}
            y="14"
            textAnchor={nextX > width - 190 ? "end" : "start"}
            fontSize="11.5"
            fill="var(--madder)"
          >
            half a size more by {day(next)}
          </text>
        </g>
      )}
      {measured.flatMap((v) =>
        SIDES.flatMap((side) => {
          const n = v[side].length_mm;
          if (!n) return [];
          const at = x(atUtc(v.on)) + (side === "left" ? -3 : 3);
          const strong = v === chosen;
          return [
            <g key={`${v.fitting_id} ${side}`} stroke={`var(--${side})`}>
              <path d={`M${at} ${y(n.value - n.uncertainty)}V${y(n.value + n.uncertainty)}`} />
              <path
                d={wayPath(wayOf(v), at, y(n.value))}
                fill={strong ? `var(--${side})` : "var(--sheet)"}
                strokeWidth={strong ? 2.4 : 1.5}
              />
            </g>,
          ];
        }),
      )}
    </g>
  );
}
