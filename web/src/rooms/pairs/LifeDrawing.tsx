/** How a pair wears: the share worn away over its hours, what was seen, and where it is likely to end. */
import { scaleLinear } from "d3-scale";
import type { PairPage } from "../../api/pairs";
import { Frame, TicksBelow, TicksLeft, ticksOf } from "../../drawing/axis";
import { endsBetween } from "./LifeBar";

const WIDTH = 620;
const HEIGHT = 250;
const TOP = 1.2;

export function LifeDrawing({ page }: { page: PairPage }) {
  const { pair, usual, seen } = page;
  const worn = pair.logged_h + pair.reckoned_h;
  const ends = endsBetween(pair);
  const reach = Math.max(ends.high * 1.05, worn * 1.15, usual.median_h);
  const x = scaleLinear([0, reach], [46, WIDTH - 14]);
  const y = scaleLinear([0, TOP], [HEIGHT - 34, 10]);
  const line = (life: number) => {
    const until = Math.min(life * TOP, reach);
    return `${x(until)} ${y(until / life)}`;
  };
  const looked = seen.filter((s) => s.worn_share !== null && s.sigma !== null);
  return (
    <figure>
      <Frame
        width={WIDTH}
        height={HEIGHT}
        data-drawing="life"
        label={`${Math.round(worn)} h worn. Worn out likely at ${Math.round(ends.mid)} h, between ${Math.round(ends.low)} and ${Math.round(ends.high)}. ${looked.length} times looked at.`}
      >
        <TicksLeft
          ticks={[0, 0.25, 0.5, 0.75, 1].map((t) => ({ at: y(t), text: `${t * 100} %` }))}
          place={40}
          line={[46, WIDTH - 14]}
          dashed
        />
        <TicksBelow ticks={ticksOf(x, 6)} place={HEIGHT - 18} line={[HEIGHT - 34, HEIGHT - 30]} />
        <path
          d={`M${x(0)} ${y(0)}L${line(ends.low)}L${line(ends.high)}Z`}
          fill="var(--ink)"
          fillOpacity="0.12"
        />
        <path
          d={`M${x(0)} ${y(0)}L${line(usual.median_h)}`}
          stroke="var(--faint)"
          strokeDasharray="4 3"
          fill="none"
        />
        <path d={`M${x(0)} ${y(0)}L${line(ends.mid)}`} stroke="var(--ink)" strokeWidth="2" />
        <path d={`M46 ${y(1)}H${WIDTH - 14}`} stroke="var(--ink)" strokeWidth="1" />
        <text x="50" y={y(1) - 5} fontSize="11" fill="var(--faint)">
          worn out
        </text>
        <path
          d={`M${x(ends.low)} ${y(1)}H${x(Math.min(ends.high, reach))}`}
          stroke="var(--ink)"
          strokeWidth="5"
          strokeOpacity="0.45"
        />
        {looked.map((s) => {
          const share = s.worn_share ?? 0;
          const sigma = s.sigma ?? 0;
          return (
            <g key={s.id} stroke="var(--ink)" fill="var(--sheet)">
              <path
                d={`M${x(s.hours)} ${y(Math.max(share - 1.645 * sigma, 0))}V${y(Math.min(share + 1.645 * sigma, TOP))}`}
              />
              <circle cx={x(s.hours)} cy={y(share)} r="4.5" />
            </g>
          );
        })}
        <path d={`M${x(worn)} 8V${HEIGHT - 30}`} stroke="var(--madder)" strokeWidth="2" />
        <text
          x={x(worn) + (x(worn) > WIDTH / 2 ? -5 : 5)}
          y="18"
          fontSize="11"
          textAnchor={x(worn) > WIDTH / 2 ? "end" : "start"}
          fill="var(--madder)"
        >
          now, {Math.round(worn)} h
        </text>
        <text x={WIDTH - 14} y={HEIGHT - 4} textAnchor="end" fontSize="10.5" fill="var(--faint)">
          hours worn
        </text>
      </Frame>
      <figcaption className="text-faint text-sm">
        Share worn away. Band: nine times in ten. Broken: the usual life of its kind. Rings: what was seen.
      </figcaption>
    </figure>
  );
}
