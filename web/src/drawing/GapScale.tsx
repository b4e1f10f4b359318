/** Room in each zone of a foot in a shoe, new and settled, on one scale. */
import { scaleLinear } from "d3-scale";
import { Frame, RoomAxis } from "./axis";
import { FIT_WORDS, type FitWord, signed } from "./kit";

interface ZoneGap {
  zone: string;
  new_mm: number;
  settled_mm: number;
  sigma_mm: number;
  low_mm: number;
  high_mm: number;
  new: FitWord;
  settled: FitWord;
}

/** Room by zone on one scale: box wanted, hollow mark new, full mark settled, thin bar its uncertainty. */
export function GapScale({
  zones,
  names,
  width,
  seen = {},
}: {
  zones: ZoneGap[];
  /** Of the zones, as the vocabulary gives them. */
  names: Record<string, string>;
  width: number;
  seen?: Record<string, number>;
}) {
  const values = zones.flatMap((z) => [z.low_mm, z.high_mm, z.new_mm, z.settled_mm, seen[z.zone] ?? 0]);
  const words = 190;
  const x = scaleLinear([Math.min(...values) - 3, Math.max(...values) + 3], [56, width - words - 8]).nice();
  // Where nobody measured, the bar is longer than the scale.
  const within = (place: number) => Math.min(Math.max(place, 58), width - words - 10);
  const row = 36;
  const height = zones.length * row + 26;
  return (
    <Frame
      width={width}
      height={height}
      label={`Room by zone. ${zones.map((z) => describe(z, names)).join(" ")}`}
    >
      <RoomAxis x={x} height={height} />
      {zones.map((z, i) => {
        const y = i * row + 24;
        const found = seen[z.zone];
        return (
          <g key={z.zone}>
            <text x="0" y={y + 5} fontSize="14" fontWeight="600" fill="var(--ink)">
              {names[z.zone]}
            </text>
            <rect
              x={x(z.low_mm)}
              y={y - 12}
              width={x(z.high_mm) - x(z.low_mm)}
              height="24"
              fill={`url(#hatch-${z.settled})`}
              stroke="var(--ink)"
              fillOpacity="0.35"
            />
            <path
              d={`M${within(x(z.settled_mm - 1.96 * z.sigma_mm))} ${y}H${within(x(z.settled_mm + 1.96 * z.sigma_mm))}`}
              stroke="var(--ink)"
              strokeWidth="1.2"
            />
            <path d={`M${x(z.new_mm)} ${y}H${x(z.settled_mm)}`} stroke="var(--madder)" strokeWidth="2.5" />
            <circle cx={x(z.new_mm)} cy={y} r="6" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.6" />
            <circle cx={x(z.settled_mm)} cy={y} r="5.5" fill="var(--madder)" />
            {found !== undefined && (
              <path
                d={`M${x(found)} ${y - 13}l6 -8h-12zM${x(found)} ${y - 13}v26`}
                fill="var(--ink)"
                stroke="var(--ink)"
              />
            )}
            <text x={width - words} y={y - 2} fontSize="12.5" fill="var(--ink)">
              new <tspan className="font-mono">{signed(z.new_mm)}</tspan> {FIT_WORDS[z.new]}
            </text>
            <text x={width - words} y={y + 14} fontSize="12.5" fill="var(--ink)">
              settled <tspan className="font-mono">{signed(z.settled_mm)}</tspan> {FIT_WORDS[z.settled]}
            </text>
          </g>
        );
      })}
    </Frame>
  );
}

const describe = (z: ZoneGap, names: Record<string, string>): string =>
  `${names[z.zone]}: new ${signed(z.new_mm)} mm ${FIT_WORDS[z.new]}, settled ${signed(z.settled_mm)} mm ${FIT_WORDS[z.settled]}, wanted ${z.low_mm} to ${z.high_mm}.`;
