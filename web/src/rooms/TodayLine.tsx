/** The days around today on a line: who is to be seen again, and the events fittings are for. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { Frame, TicksBelow } from "../drawing/axis";
import { day, daysBetween } from "../ui/clock";

const WIDTH = 1040;
const BASE = 62;
const BEFORE = 7;
const AFTER = 28;
const HIGHEST = 4;

/** Marks of one day stand on each other. */
function stacked(days: number[]): { at: number; level: number }[] {
  const seen = new Map<number, number>();
  return days.map((at) => {
    const level = seen.get(at) ?? 0;
    seen.set(at, level + 1);
    return { at, level: Math.min(level, HIGHEST) };
  });
}

export function TodayLine({ today }: { today: Schemas["TodayOut"] }) {
  const from = (iso: string) => Math.min(Math.max(daysBetween(today.today, iso), -BEFORE), AFTER);
  const due = stacked(today.due.map((d) => from(d.due_on)));
  const events = stacked(today.waiting.flatMap((w) => (w.event_on ? [from(w.event_on)] : [])));
  const x = scaleLinear([-BEFORE, AFTER], [20, WIDTH - 30]);
  const late = due.filter((d) => d.at < 0).length;
  const words = (days: number) =>
    days === 0
      ? "today"
      : day(new Date(Date.parse(today.today) + days * 86_400_000).toISOString().slice(0, 10)).slice(0, 6);
  return (
    <Frame
      width={WIDTH}
      height={92}
      label={`${today.due.length} to see again, ${late} of them late; ${events.length} events coming.`}
      data-chart="today"
    >
      <rect
        x={x(-BEFORE) - 10}
        y="4"
        width={x(0) - x(-BEFORE) + 10}
        height={BASE - 4}
        fill="url(#hatch-late)"
        opacity="0.35"
      />
      <pattern
        id="hatch-late"
        width="6"
        height="6"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <path d="M0 3H6" stroke="var(--madder)" strokeWidth="0.8" />
      </pattern>
      <path d={`M10 ${BASE}H${WIDTH - 20}`} stroke="var(--faint)" />
      <path d={`M${x(0)} 4V${BASE + 6}`} stroke="var(--madder)" strokeWidth="2" />
      <TicksBelow
        ticks={[-7, 0, 7, 14, 21, 28].map((d) => ({ at: x(d), text: words(d) }))}
        place={BASE + 22}
        line={[BASE, BASE + 6]}
      />
      {due.map((d, i) => (
        <circle
          key={`due ${today.due[i]?.fitting_id}`}
          cx={x(d.at)}
          cy={BASE - 8 - d.level * 12}
          r="5"
          fill={d.at < 0 ? "var(--madder)" : "var(--ink)"}
        />
      ))}
      {events.map((e, i) => (
        <path
          key={`event ${String(i)}`}
          d={`M${x(e.at) + 13} ${BASE - 14 - e.level * 12}l6 6l-6 6l-6 -6z`}
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth="1.4"
        />
      ))}
      <text x={WIDTH - 20} y="14" textAnchor="end" fontSize="12" fill="var(--faint)">
        ● to see again · ◇ an event
      </text>
    </Frame>
  );
}
