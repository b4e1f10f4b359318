/** Feet over time: what the day still adds, and how a young foot grows, as curves with their uncertainty. */
import { scaleLinear, scaleUtc } from "d3-scale";
import { area, line } from "d3-shape";
import type { Schemas } from "../api/client";
import { Frame, TicksBelow, TicksLeft, ticksOf } from "../drawing/axis";
import { atUtc, day } from "../ui/clock";

const WIDTH = 244;
const MORNING = 7;
const EVENING = 19;

/** Growth of the ball over the day, mm, with where in it the feet were measured. */
export function DayCurve({ swelling, at }: { swelling: Schemas["Swelling"][]; at: string | null }) {
  const balls = swelling.filter((s) => s.measure === "ball_girth_mm");
  const most = [...balls].sort((a, b) => b.by_evening_mm - a.by_evening_mm)[0];
  if (!most) return null;
  const [h = 13, m = 0] = (at ?? "13:00").split(":").map(Number);
  const now = Math.min(Math.max(h + m / 60, MORNING), EVENING);
  const left = (EVENING - now) / (EVENING - MORNING);
  const whole = left > 0.02 ? most.by_evening_mm / left : most.now_mm * 0.015;
  const height = 92;
  const x = scaleLinear([MORNING, 22], [30, WIDTH - 6]);
  const y = scaleLinear([0, Math.max(whole + most.after_effort_mm, 1)], [height - 20, 8]);
  const share = (hour: number) => (Math.min(hour, EVENING) - MORNING) / (EVENING - MORNING);
  const hours = [MORNING, 10, 13, 16, EVENING, 22];
  const curve = line<number>(
    (t) => x(t),
    (t) => y(share(t) * whole),
  );
  return (
    <Frame
      width={WIDTH}
      height={height}
      label={`Ball girth over the day: ${most.by_evening_mm.toFixed(1)} mm more by evening, ${most.after_effort_mm.toFixed(1)} mm more after a long effort.`}
      data-chart="swelling"
    >
      <TicksBelow
        ticks={[8, 12, 16, 20].map((t) => ({ at: x(t), text: `${t} h` }))}
        place={height - 5}
        size={10}
      />
      <TicksLeft ticks={ticksOf(y, 3)} place={26} size={10} />
      <g className="font-mono" fontSize="10" fill="var(--faint)" stroke="none">
        <text x={2} y={8}>
          mm
        </text>
      </g>
      <path d={curve(hours) ?? ""} fill="none" stroke="var(--ink)" strokeWidth="1.6" />
      <path
        d={
          line<number>(
            (t) => x(t),
            (t) => y(share(t) * whole + most.after_effort_mm),
          )(hours) ?? ""
        }
        fill="none"
        stroke="var(--ink)"
        strokeDasharray="4 3"
      />
      <text
        x={x(21.8)}
        y={y(whole + most.after_effort_mm) - 3}
        textAnchor="end"
        fontSize="10.5"
        fill="var(--ink)"
      >
        after a long effort
      </text>
      <circle cx={x(now)} cy={y(share(now) * whole)} r="5" fill="var(--madder)" />
    </Frame>
  );
}

/** Length from visit to visit and the year to come, one side, with the 95 % band. */
export function GrowthCurve({
  growth,
  side,
  seen,
}: {
  growth: Schemas["GrowthOut"];
  side: "left" | "right";
  seen: { on: string; length: number }[];
}) {
  const height = 120;
  const points = growth.curve.map((p) => ({ ...p, at: atUtc(p.on) }));
  const first = points[0];
  const last = points.at(-1);
  if (!first || !last) return null;
  const all = points.flatMap((p) => [p.low_mm, p.high_mm]);
  const x = scaleUtc([first.at, last.at], [34, WIDTH - 8]);
  const y = scaleLinear([Math.min(...all), Math.max(...all)], [height - 22, 8]).nice();
  type P = (typeof points)[number];
  const ink = `var(--${side})`;
  const again = growth.remeasure_on ? atUtc(growth.remeasure_on) : null;
  return (
    <Frame width={WIDTH} height={height} label={`${side} foot growth: ${growth.text}`} data-chart="growth">
      <TicksLeft ticks={ticksOf(y, 4)} place={30} size={10} />
      <TicksBelow
        ticks={x
          .ticks(5)
          .filter((_, i) => i % 2 === 0)
          .map((t) => ({
            at: x(t),
            text: t.toLocaleDateString("en-GB", { month: "short", year: "2-digit", timeZone: "UTC" }),
          }))}
        place={height - 6}
        size={10}
      />
      <path
        d={
          area<P>(
            (p) => x(p.at),
            (p) => y(p.low_mm),
            (p) => y(p.high_mm),
          )(points) ?? ""
        }
        fill={ink}
        fillOpacity="0.16"
      />
      <path
        d={
          line<P>(
            (p) => x(p.at),
            (p) => y(p.length_mm),
          )(points) ?? ""
        }
        fill="none"
        stroke={ink}
        strokeWidth="1.8"
      />
      {seen.map((s) => (
        <circle key={s.on} cx={x(atUtc(s.on))} cy={y(s.length)} r="4" fill={ink} />
      ))}
      {again && (
        <g>
          <path d={`M${x(again)} 8V${height - 22}`} stroke="var(--madder)" strokeDasharray="4 3" />
          <text x={x(again) - 3} y="14" textAnchor="end" fontSize="10.5" fill="var(--madder)">
            measure again {day(growth.remeasure_on)}
          </text>
        </g>
      )}
    </Frame>
  );
}
