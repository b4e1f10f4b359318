/** The days around today on a line: who is to be seen again, and the events fittings are for. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { Frame, type Tick, TicksBelow } from "../drawing/axis";
import { atUtc, day, daysBetween } from "../ui/clock";
import { useSize } from "../ui/useSize";

const BEFORE = 7;
const AFTER = 28;
/** Marks of one day stand on each other up to here; more are counted beside the highest. */
const HIGHEST = 3;
const BASE = 100;
const HEIGHT = 130;
const ROW = 12;
const DAY_MS = 86_400_000;

/** How many fall on each day; all earlier ones together a day before the line begins, all later ones after its end. */
function byDay(today: string, days: string[]): [at: number, many: number][] {
  const found = new Map<number, number>();
  for (const iso of days) {
    const at = Math.min(Math.max(daysBetween(today, iso), -BEFORE - 1), AFTER + 1);
    found.set(at, (found.get(at) ?? 0) + 1);
  }
  return [...found];
}

interface MarksProps {
  days: [at: number, many: number][];
  x: (day: number) => number;
  /** What stands below on each day. */
  onTopOf?: [at: number, many: number][];
  mark: (x: number, y: number, late: boolean) => React.ReactNode;
}

/** Rows a day's marks take: the marks, and their count where there are more. */
const rows = (many: number) => (many > HIGHEST ? HIGHEST + 1 : many);

function Marks({ days, x, onTopOf = [], mark }: MarksProps) {
  const below = new Map(onTopOf);
  const y = (at: number, row: number) => BASE - 8 - (rows(below.get(at) ?? 0) + row) * ROW;
  return days.map(([at, many]) => (
    <g key={at}>
      {Array.from({ length: Math.min(many, HIGHEST) }, (_, i) => (
        <g key={i}>{mark(x(at), y(at, i), at < 0)}</g>
      ))}
      {many > HIGHEST && (
        <text x={x(at)} y={y(at, HIGHEST) + 3} textAnchor="middle" fontSize="11">
          {many}
        </text>
      )}
    </g>
  ));
}

export function TodayLine({ today }: { today: Schemas["TodayOut"] }) {
  const [box, size] = useSize();
  const due = byDay(
    today.today,
    today.due.map((d) => d.due_on),
  );
  const events = byDay(
    today.today,
    today.waiting.flatMap((w) => (w.event_on ? [w.event_on] : [])),
  );
  const late = due.reduce((n, [at, many]) => n + (at < 0 ? many : 0), 0);
  const width = size?.width ?? 0;
  const x = scaleLinear([-BEFORE - 1, AFTER + 1], [28, width - 28]);
  const weeks = width > 560 ? [-7, 0, 7, 14, 21, 28] : [0, 14, 28];
  const ticks: Tick[] = weeks.map((d) => ({
    at: x(d),
    text: d
      ? day(new Date(atUtc(today.today).getTime() + d * DAY_MS).toISOString().slice(0, 10)).replace(
          / \d{4}$/,
          "",
        )
      : "today",
  }));
  const beyond: Tick[] = [
    ...(due.some(([at]) => at < -BEFORE) || events.some(([at]) => at < -BEFORE)
      ? [{ at: x(-BEFORE - 1), text: "earlier" }]
      : []),
    ...(due.some(([at]) => at > AFTER) || events.some(([at]) => at > AFTER)
      ? [{ at: x(AFTER + 1), text: "later" }]
      : []),
  ];
  return (
    <div ref={box}>
      {width > 0 && (
        <Frame
          width={width}
          height={HEIGHT}
          label={`${today.due.length} to see again, ${late} of them late; ${events.reduce((n, [, many]) => n + many, 0)} events.`}
          data-chart="today"
        >
          <path d={`M8 ${BASE}H${width - 8}`} stroke="var(--faint)" />
          <path d={`M${x(0)} 8V${BASE + 6}`} stroke="var(--madder)" strokeWidth="2" />
          <TicksBelow ticks={ticks} place={BASE + 20} line={[BASE, BASE + 6]} />
          <TicksBelow ticks={beyond} place={BASE + 30} />
          <g fill="var(--ink)">
            <Marks
              days={due}
              x={x}
              mark={(cx, cy, isLate) => (
                <circle cx={cx} cy={cy} r="5" fill={isLate ? "var(--madder)" : "var(--ink)"} />
              )}
            />
            <Marks
              days={events}
              x={x}
              onTopOf={due}
              mark={(cx, cy) => (
                <path
                  d={`M${cx} ${cy - 6}l6 6l-6 6l-6 -6z`}
                  fill="var(--sheet)"
                  stroke="var(--ink)"
                  strokeWidth="1.4"
                />
              )}
            />
          </g>
          <text x={width - 8} y="12" textAnchor="end" fontSize="12" fill="var(--faint)">
            ● to see again · ◇ an event
          </text>
        </Frame>
      )}
    </div>
  );
}
