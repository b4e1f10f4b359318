/** What a budget brings: how much of the time is spent in a pair that suits, against money. */
import { scaleLinear } from "d3-scale";
import { curveStepAfter, line } from "d3-shape";
import type { PlanPage } from "../../api/plan";
import { Frame, TicksBelow, TicksLeft, ticksOf } from "../../drawing/axis";

const WIDTH = 420;
const HEIGHT = 190;

export function BudgetCurve({ page, budget }: { page: PlanPage; budget: number }) {
  const { curve, next_step: next, value } = page.out;
  if (curve.length < 2) return null;
  const top = Math.max(curve.at(-1)?.budget ?? 1, budget);
  const x = scaleLinear([0, top], [46, WIDTH - 16]);
  const y = scaleLinear([0, 1], [HEIGHT - 32, 10]);
  const path = line<(typeof curve)[number]>()
    .x((p) => x(p.budget))
    .y((p) => y(p.value))
    .curve(curveStepAfter);
  const told = curve.map((p) => `${Math.round(p.budget)}: ${Math.round(p.value * 100)} %`).join("; ");
  return (
    <figure>
      <Frame
        width={WIDTH}
        height={HEIGHT}
        data-chart="budget"
        label={`What a budget brings, ${page.currency}: ${told}`}
      >
        <TicksLeft
          ticks={[0, 0.25, 0.5, 0.75, 1].map((t) => ({ at: y(t), text: `${t * 100} %` }))}
          place={40}
          line={[46, WIDTH - 16]}
          dashed
        />
        <TicksBelow ticks={ticksOf(x, 5)} place={HEIGHT - 16} line={[HEIGHT - 32, HEIGHT - 28]} />
        <path d={path(curve) ?? ""} fill="none" stroke="var(--ink)" strokeWidth="2" />
        <path d={`M${x(Math.min(budget, top))} 6V${HEIGHT - 28}`} stroke="var(--madder)" strokeWidth="2" />
        <circle cx={x(Math.min(budget, top))} cy={y(value)} r="5" fill="var(--madder)" />
        {next && next.budget <= top && (
          <circle
            cx={x(next.budget)}
            cy={y(next.value)}
            r="5"
            fill="var(--sheet)"
            stroke="var(--madder)"
            strokeWidth="2"
          />
        )}
        <text x={WIDTH - 16} y={HEIGHT - 3} textAnchor="end" fontSize="10.5" fill="var(--faint)">
          budget, {page.currency}
        </text>
      </Frame>
      <figcaption className="text-faint text-sm">
        Share of the time in a pair that suits. Full: this budget; ring: the next step that brings anything.
      </figcaption>
    </figure>
  );
}
