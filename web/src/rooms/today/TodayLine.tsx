/** The days around today on a line: who is to be seen again, other matters with a day, and events. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../../api/client";
import { Frame, type Tick, TicksBelow } from "../../drawing/axis";
import { atUtc, day, daysBetween } from "../../ui/clock";
import { useSize } from "../../ui/useSize";

const BEFORE = 7;
const AFTER = 28;
/** Marks of one day stand on each other up to here; more are counted beside the highest. */
const HIGHEST = 3;
const BASE = 118;
const HEIGHT = 148;
const ROW = 12;
const DAY_MS = 86_400_000;

type Days = Map<number, number>;

/** How many fall on each day; all earlier ones together a day before the line begins, all later ones after its end. */
function byDay(today: string, days: string[]): Days {
  const found: Days = new Map();
  for (const iso of days) {
    const at = Math.min(Math.max(daysBetween(today, iso), -BEFORE - 1), AFTER + 1);
    found.set(at, (found.get(at) ?? 0) + 1);
  }
  return found;
}

/** Rows a day's marks take: the marks, and their count where there are more. */
const rows = (many: number) => (many > HIGHEST ? HIGHEST + 1 : many);

interface MarksProps {
  days: Days;
  x: (day: number) => number;
  /** What stands below on each day. */
  below: Days[];
  mark: (x: number, y: number, late: boolean) => React.ReactNode;
}

function Marks({ days, x, below, mark }: MarksProps) {
  const under = (at: number) => below.reduce((n, d) => n + rows(d.get(at) ?? 0), 0);
  const y = (at: number, row: number) => BASE - 8 - (under(at) + row) * ROW;
  return [...days].map(([at, many]) => (
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

const many = (days: Days) => [...days.values()].reduce((n, v) => n + v, 0);

export function TodayLine({ today, items }: { today: string; items: Schemas["DayItem"][] }) {
  const [box, size] = useSize();
  const on = (drawn: Schemas["DayItem"]["drawn"]) =>
    byDay(
      today,
      items.filter((i) => i.drawn === drawn).map((i) => i.until ?? i.on_day),
    );
  const due = on("see");
  const others = on("look");
  const events = byDay(
    today,
    items.flatMap((i) => (i.event_on ? [i.event_on] : [])),
  );
  const late = [...due].reduce((n, [at, count]) => n + (at < 0 ? count : 0), 0);
  const width = size?.width ?? 0;
  const x = scaleLinear([-BEFORE - 1, AFTER + 1], [28, width - 28]);
  const weeks = width > 560 ? [-7, 0, 7, 14, 21, 28] : [0, 14, 28];
  const ticks: Tick[] = weeks.map((d) => ({
    at: x(d),
    text: d
      ? day(new Date(atUtc(today).getTime() + d * DAY_MS).toISOString().slice(0, 10)).replace(/ \d{4}$/, "")
      : "today",
  }));
  const beyond = (at: number, text: string): Tick[] =>
    [due, others, events].some((d) => d.has(at)) ? [{ at: x(at), text }] : [];
  return (
    <div ref={box}>
      {width > 0 && (
        <Frame
          width={width}
          height={HEIGHT}
          label={`${many(due)} to see again, ${late} of them late; ${many(others)} pairs and feet to look at; ${many(events)} events.`}
          data-chart="today"
        >
          <path d={`M8 ${BASE}H${width - 8}`} stroke="var(--faint)" />
          <path d={`M${x(0)} 8V${BASE + 6}`} stroke="var(--madder)" strokeWidth="2" />
          <TicksBelow ticks={ticks} place={BASE + 20} line={[BASE, BASE + 6]} />
          <TicksBelow
            ticks={[...beyond(-BEFORE - 1, "earlier"), ...beyond(AFTER + 1, "later")]}
            place={BASE + 30}
          />
          <g fill="var(--ink)">
            <Marks
              days={due}
              x={x}
              below={[]}
              mark={(cx, cy, isLate) => (
                <circle cx={cx} cy={cy} r="5" fill={isLate ? "var(--madder)" : "var(--ink)"} />
              )}
            />
            <Marks
              days={others}
              x={x}
              below={[due]}
              mark={(cx, cy) => (
                <rect
                  x={cx - 4.5}
                  y={cy - 4.5}
                  width="9"
                  height="9"
                  fill="var(--sheet)"
                  stroke="var(--ink)"
                />
              )}
            />
            <Marks
              days={events}
              x={x}
              below={[due, others]}
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
            ● to see again · □ a pair or feet to look at · ◇ an event
          </text>
        </Frame>
      )}
    </div>
  );
}
