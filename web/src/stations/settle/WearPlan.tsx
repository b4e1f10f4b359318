/** The break-in as dated bars: minutes of each wear, on a line of days. */
import { scaleLinear, scaleTime } from "d3-scale";
import type { Schemas } from "../../api/client";
import { Frame, TicksLeft } from "../../drawing/axis";

const noon = (iso: string) => new Date(`${iso}T12:00`);

export function WearPlan({
  plan,
  width,
}: {
  plan: Pick<Schemas["BreakInOut"], "wears" | "ready_on" | "verdict">;
  width: number;
}) {
  const first = plan.wears[0];
  if (!first) return null;
  const height = 150;
  const base = height - 34;
  const x = scaleTime([noon(first.on), noon(plan.ready_on)], [72, width - 70]);
  const longest = Math.max(90, ...plan.wears.map((w) => w.minutes));
  const y = scaleLinear([0, longest + 10], [base, 12]);
  const word = (d: Date) => d.toLocaleDateString("en-GB", { day: "numeric", month: "short" });
  return (
    <figure className="mt-2">
      <Frame
        width={width}
        height={height}
        label={`Break-in plan: ${plan.wears.map((w) => `${w.on} ${w.minutes} minutes`).join(", ")}. ${plan.verdict}`}
      >
        <TicksLeft
          ticks={[0, 30, 60, 90, 120]
            .filter((m) => m <= longest)
            .map((m, i, all) => ({ at: y(m), text: i === all.length - 1 ? `${m} min` : m }))}
          place={48}
          line={[52, width - 60]}
        />
        {plan.wears.map((w, i) => {
          const at = x(noon(w.on));
          return (
            <g key={w.on}>
              <rect x={at - 6} y={y(w.minutes)} width="12" height={base - y(w.minutes)} fill="var(--ink)" />
              <text
                x={at}
                y={y(w.minutes) - 4}
                textAnchor="middle"
                fontSize="11"
                className="font-mono"
                fill="var(--ink)"
              >
                {w.minutes}
              </text>
              {(i === 0 || i === plan.wears.length - 1 || plan.wears.length < 9) && (
                <text x={at} y={base + 14} textAnchor="middle" fontSize="11" fill="var(--ink)">
                  {word(noon(w.on))}
                </text>
              )}
            </g>
          );
        })}
        <text
          x={x(noon(plan.ready_on))}
          y={base + 29}
          textAnchor="middle"
          fontSize="12"
          fontWeight="700"
          fill="var(--madder)"
        >
          ready
        </text>
      </Frame>
      <figcaption className="sr-only">{plan.verdict}</figcaption>
    </figure>
  );
}
