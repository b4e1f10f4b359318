/** Room in each zone of two pairs on one scale: hollow new, full settled, the letters of the pairs in them. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { Frame, RoomAxis } from "./axis";
import { FIT_WORDS, signed } from "./kit";

type Zone = Schemas["ZoneFit"];
const ROW = 52;
const WORDS = 210;
const NAMES = 62;

interface Props {
  pairs: { letter: string; ink: string; zones: Zone[] }[];
  names: Record<string, string>;
  width: number;
}

export function BesideScale({ pairs, names, width }: Props) {
  const zones = pairs[0]?.zones ?? [];
  const all = pairs.flatMap((p) => p.zones.flatMap((z) => [z.low_mm, z.high_mm, z.new_mm, z.settled_mm]));
  const x = scaleLinear([Math.min(...all) - 3, Math.max(...all) + 3], [NAMES, width - WORDS - 8]).nice();
  const height = zones.length * ROW + 24;
  const of = (zone: string, i: number) => pairs[i]?.zones.find((z) => z.zone === zone);
  const told = zones
    .map((z) => `${names[z.zone]}: ${pairs.map((p, i) => `${p.letter} ${words(of(z.zone, i))}`).join(", ")}.`)
    .join(" ");
  return (
    <Frame width={width} height={height} label={`Room by zone. ${told}`} data-drawing="beside-scale">
      <RoomAxis x={x} height={height} />
      {zones.map((zone, i) => {
        const top = i * ROW + 4;
        return (
          <g key={zone.zone}>
            <text x="0" y={top + 28} fontSize="14" fontWeight="600" fill="var(--ink)">
              {names[zone.zone]}
            </text>
            {pairs.map((pair, n) => {
              const z = of(zone.zone, n);
              if (!z) return null;
              const y = top + 12 + n * 22;
              return (
                <g key={pair.letter} data-zone={`${pair.letter} ${z.zone}`}>
                  <rect
                    x={x(z.low_mm)}
                    y={y - 10}
                    width={x(z.high_mm) - x(z.low_mm)}
                    height="20"
                    fill={`url(#hatch-${z.settled})`}
                    fillOpacity="0.35"
                    stroke="var(--ink)"
                    strokeWidth="0.8"
                  />
                  <path d={`M${x(z.new_mm)} ${y}H${x(z.settled_mm)}`} stroke={pair.ink} strokeWidth="2.5" />
                  <circle
                    cx={x(z.new_mm)}
                    cy={y}
                    r="6"
                    fill="var(--sheet)"
                    stroke={pair.ink}
                    strokeWidth="1.6"
                  />
                  <circle cx={x(z.settled_mm)} cy={y} r="8" fill={pair.ink} />
                  <text
                    x={x(z.settled_mm)}
                    y={y + 4}
                    textAnchor="middle"
                    fontSize="11"
                    fontWeight="700"
                    fill="var(--sheet)"
                  >
                    {pair.letter}
                  </text>
                  <text x={width - WORDS} y={y + 4} fontSize="12.5" fill="var(--ink)">
                    <tspan fontWeight="700">{pair.letter}</tspan> {words(z)}
                  </text>
                </g>
              );
            })}
          </g>
        );
      })}
    </Frame>
  );
}

/** "new −4.0 tight, settled 1.0 snug", once where nothing changes. */
function words(z: Zone | undefined): string {
  if (!z) return "";
  const settled = `${signed(z.settled_mm)} ${FIT_WORDS[z.settled]}`;
  if (z.new === z.settled && Math.abs(z.new_mm - z.settled_mm) < 0.5) return `${settled}, stays so`;
  return `${signed(z.new_mm)} ${FIT_WORDS[z.new]} → ${settled}`;
}
