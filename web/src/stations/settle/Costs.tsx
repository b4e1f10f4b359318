/** What the pairs of the tray cost by the hour, on one scale, as sure as their lives are. */
import { useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { ask, http, type Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { Frame, TicksBelow, ticksOf } from "../../drawing/axis";
import { price } from "../../ui/money";
import { Heading, MARKS, Untold } from "../../ui/words";

const WIDTH = 244;
const ROW = 44;

export function Costs() {
  const { fitting } = useDesk();
  const tray = fitting.tray.map((p) => p.id).join();
  // What is kept of Settle and moves what a pair costs: nothing else of it asks anew.
  const { lowered, prices } = fitting.parts.settle.body;
  const asks = JSON.stringify([lowered, prices]);
  const asked = useQuery({
    queryKey: ["of", fitting.id, "costs", tray, fitting.parts.brief.version, asks],
    queryFn: () =>
      ask(http.GET("/api/fittings/{fitting_id}/costs", { params: { path: { fitting_id: fitting.id } } })),
    enabled: fitting.tray.length > 0,
  });
  const found = asked.data;
  if (!found?.pairs.length) return <Untold of={asked} what="What the pairs cost by the hour" />;
  const most = Math.max(...found.pairs.map((p) => p.cost.per_hour.high));
  const x = scaleLinear([0, most], [2, WIDTH - 14]);
  const amount = (v: number) => `${found.currency} ${v.toFixed(2)}`;
  const told = found.pairs
    .map(
      (p) =>
        `${p.name} ${amount(p.cost.per_hour.mid)} an hour, lasts about ${Math.round(p.cost.lasts_weeks.mid)} weeks`,
    )
    .join("; ");
  return (
    <section aria-label="What it costs" className="mt-4">
      <Heading>What it costs by the hour</Heading>
      <Frame width={WIDTH} height={found.pairs.length * ROW + 20} label={told}>
        {found.pairs.map((p, i) => {
          const y = i * ROW;
          const { low, mid, high } = p.cost.per_hour;
          return (
            <g key={p.line_id}>
              <text x="2" y={y + 13} fontSize="12" fill="var(--ink)">
                {p.name}, {price(p.total_minor, found.currency)}
              </text>
              <rect
                x={x(low)}
                y={y + 20}
                width={x(high) - x(low)}
                height="9"
                fill="var(--ink)"
                fillOpacity="0.18"
                stroke="var(--ink)"
                strokeWidth="0.8"
              />
              <path d={`M${x(mid)} ${y + 16}V${y + 33}`} stroke="var(--madder)" strokeWidth="3" />
            </g>
          );
        })}
        <TicksBelow ticks={ticksOf(x, 4)} place={found.pairs.length * ROW + 12} />
      </Frame>
      <ul className="text-sm">
        {found.pairs.map((p) => (
          <li key={p.line_id}>
            {p.name}: {amount(p.cost.per_hour.mid)} an hour, about {Math.round(p.cost.lasts_weeks.mid)} weeks
            ({Math.round(p.cost.lasts_weeks.low)} to {Math.round(p.cost.lasts_weeks.high)});{" "}
            {amount(p.cost.per_season)} a season.
          </li>
        ))}
      </ul>
      {found.against && <p className="mt-1 text-sm">{found.against}</p>}
      {found.against && <InARow pairs={found.pairs} />}
      <p className="mt-1 text-faint text-xs">
        With tax, at {found.hours_per_week.toFixed(1)} h a week; nine times in ten within the bar. {MARKS.HD}
      </p>
    </section>
  );
}

const STRIP = 16;

/** The dear pair's life, and as many cheap ones as it costs, one after another: weeks to scale. */
function InARow({ pairs }: { pairs: Schemas["PairCost"][] }) {
  const byPrice = [...pairs].sort((a, b) => b.total_minor - a.total_minor);
  const dear = byPrice[0];
  const cheap = byPrice.at(-1);
  if (!dear || !cheap || dear === cheap) return null;
  const count = Math.max(Math.round(dear.total_minor / cheap.total_minor), 2);
  const each = cheap.cost.lasts_weeks.mid;
  const one = dear.cost.lasts_weeks.mid;
  const x = scaleLinear([0, Math.max(one, each * count)], [2, WIDTH - 14]);
  return (
    <Frame
      width={WIDTH}
      height={2 * STRIP + 34}
      data-chart="in-a-row"
      label={`${dear.name} lasts about ${Math.round(one)} weeks; ${count} of ${cheap.name} in a row about ${Math.round(each * count)}`}
    >
      <rect
        x={x(0)}
        y="2"
        width={x(one) - x(0)}
        height={STRIP}
        fill="var(--ink)"
        fillOpacity="0.25"
        stroke="var(--ink)"
      />
      {Array.from({ length: count }, (_, i) => (
        <rect
          key={i}
          x={x(each * i)}
          y={STRIP + 6}
          width={x(each) - x(0)}
          height={STRIP}
          fill="var(--sheet)"
          stroke="var(--ink)"
        />
      ))}
      <TicksBelow ticks={ticksOf(x, 4)} place={2 * STRIP + 20} />
      <text x={WIDTH - 14} y={2 * STRIP + 31} textAnchor="end" fontSize="10.5" fill="var(--faint)">
        weeks
      </text>
    </Frame>
  );
}
