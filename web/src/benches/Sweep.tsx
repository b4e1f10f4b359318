/** A small curve: one number over another, with where we are, and what is wanted as a line or band. */
import { scaleLinear } from "d3-scale";
import { Frame, TicksBelow, TicksLeft, ticksOf } from "../drawing/axis";

interface Props {
  points: { x: number; y: number | null }[];
  at?: { x: number; y: number | null } | undefined;
  xUnit: string;
  yUnit: string;
  /** Wanted: below this line, or within this band. */
  wanted?: { low?: number; high: number } | undefined;
  width?: number;
  height?: number;
  label: string;
}

export function Sweep({ points, at, xUnit, yUnit, wanted, width = 340, height = 120, label }: Props) {
  const real = points.filter((p): p is { x: number; y: number } => p.y !== null);
  const ys = [...real.map((p) => p.y), ...(wanted ? [wanted.high, wanted.low ?? wanted.high] : [])];
  if (at?.y != null) ys.push(at.y);
  const xs = [...points.map((p) => p.x), ...(at ? [at.x] : [])];
  const x = scaleLinear([Math.min(...xs), Math.max(...xs)], [46, width - 14]);
  const y = scaleLinear([Math.min(0, ...ys), Math.max(...ys) * 1.08], [height - 24, 8]).nice(4);
  const line = real.map((p, i) => `${i ? "L" : "M"}${x(p.x).toFixed(1)} ${y(p.y).toFixed(1)}`).join("");
  return (
    <Frame width={width} height={height} label={label}>
      {wanted && (
        <rect
          x="46"
          width={width - 60}
          y={y(wanted.high)}
          height={Math.max(y(wanted.low ?? 0) - y(wanted.high), 1)}
          fill="color-mix(in srgb, var(--madder) 12%, transparent)"
        />
      )}
      <TicksLeft ticks={ticksOf(y, 3)} place={42} line={[46, width - 14]} dashed />
      <TicksBelow ticks={ticksOf(x, 5)} place={height - 10} />
      <g className="font-mono" fontSize="10.5" fill="var(--faint)" stroke="none">
        <text x={width - 14} y={height - 10} textAnchor="end" dy="9">
          {xUnit}
        </text>
        <text x="50" y="12">
          {yUnit}
        </text>
      </g>
      <path d={line} fill="none" stroke="var(--ink)" strokeWidth="1.8" />
      {real.map((p) => (
        <circle key={p.x} cx={x(p.x)} cy={y(p.y)} r="2.6" fill="var(--sheet)" stroke="var(--ink)" />
      ))}
      {at?.y != null && <circle cx={x(at.x)} cy={y(at.y)} r="5" fill="var(--madder)" />}
    </Frame>
  );
}
