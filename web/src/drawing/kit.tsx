/** The kit every drawing shares: rulers, dimension lines, hatches, and bands on scales. */
import { scaleLinear } from "d3-scale";
import type { ReactNode } from "react";
import { Frame, TicksBelow, ticksOf } from "./axis";

export type FitWord = "slack" | "snug" | "tight" | "too_tight";
export const FIT_WORDS: Record<FitWord, string> = {
  slack: "slack",
  snug: "snug",
  tight: "tight",
  too_tight: "too tight",
};

/** Hatches that tell fit: open dots slack, plain line snug, close hatch tight, cross-hatch too tight. */
export function Hatches() {
  return (
    <defs>
      <pattern id="hatch-slack" width="7" height="7" patternUnits="userSpaceOnUse">
        <circle cx="3.5" cy="3.5" r="1.5" fill="none" stroke="var(--ink)" strokeWidth="0.8" />
      </pattern>
      <pattern id="hatch-snug" width="7" height="7" patternUnits="userSpaceOnUse">
        <path d="M0 3.5H7" stroke="var(--ink)" strokeWidth="0.8" />
      </pattern>
      <pattern
        id="hatch-tight"
        width="4"
        height="4"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <path d="M0 2H4" stroke="var(--ink)" strokeWidth="1.1" />
      </pattern>
      <pattern
        id="hatch-too_tight"
        width="5"
        height="5"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <path d="M0 2.5H5M2.5 0V5" stroke="var(--madder)" strokeWidth="1.2" />
      </pattern>
    </defs>
  );
}

/** A small swatch with the word it stands for, or another one for who isn't of the trade. */
export function FitSwatch({ word, text = FIT_WORDS[word] }: { word: FitWord; text?: string }) {
  return (
    <span className="inline-flex items-center gap-1.5">
      <svg width="22" height="14" aria-hidden="true">
        <rect x="0.5" y="0.5" width="21" height="13" fill={`url(#hatch-${word})`} stroke="var(--ink)" />
      </svg>
      {text}
    </span>
  );
}

interface RulerProps {
  /** Pixels a millimetre. */
  scale: number;
  from: number;
  to: number;
  x: number;
  y: number;
  vertical?: boolean;
}

/** A ruler in millimetres; upward when vertical, with a number every 50 mm. */
export function Ruler({ scale, from, to, x, y, vertical = false }: RulerProps) {
  const marks: ReactNode[] = [];
  for (let mm = from; mm <= to; mm += 10) {
    const at = (mm - from) * scale;
    const long = mm % 50 === 0 ? 9 : 5;
    marks.push(
      vertical ? (
        <path key={mm} d={`M${x} ${y - at}h${long}`} />
      ) : (
        <path key={mm} d={`M${x + at} ${y}v${-long}`} />
      ),
    );
    if (mm % 50 === 0) {
      marks.push(
        <text
          key={`t${mm}`}
          x={vertical ? x + 12 : x + at}
          y={vertical ? y - at + 3.5 : y - 12}
          textAnchor={vertical ? "start" : "middle"}
          stroke="none"
        >
          {mm}
          {mm === to || mm + 50 > to ? " mm" : ""}
        </text>,
      );
    }
  }
  return (
    <g
      stroke="var(--faint)"
      strokeWidth="1"
      fill="var(--faint)"
      className="font-mono"
      fontSize="10"
      aria-hidden="true"
    >
      <path
        d={vertical ? `M${x} ${y}v${-(to - from) * scale}` : `M${x} ${y}h${(to - from) * scale}`}
        fill="none"
      />
      {marks}
    </g>
  );
}

interface DimensionProps {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  label?: string | undefined;
  ink?: string;
  /** Shift of the label from the middle. */
  dx?: number;
  dy?: number;
  /** Not measured: drawn dashed. */
  guessed?: boolean;
}

/** A dimension line with small ticks at both ends. */
export function Dimension({
  x1,
  y1,
  x2,
  y2,
  label,
  ink = "var(--ink)",
  dx = 0,
  dy = -5,
  guessed = false,
}: DimensionProps) {
  const angle = Math.atan2(y2 - y1, x2 - x1);
  const nx = -Math.sin(angle) * 4;
  const ny = Math.cos(angle) * 4;
  return (
    <g stroke={ink} fill="none" strokeWidth="1.1">
      <path
        d={`M${x1} ${y1}L${x2} ${y2}`}
        strokeDasharray={guessed ? "5 4" : undefined}
        data-guessed={guessed || undefined}
      />
      <path d={`M${x1 - nx} ${y1 - ny}l${2 * nx} ${2 * ny}M${x2 - nx} ${y2 - ny}l${2 * nx} ${2 * ny}`} />
      {label && (
        <text
          x={(x1 + x2) / 2 + dx}
          y={(y1 + y2) / 2 + dy}
          fill={ink}
          stroke="var(--sheet)"
          strokeWidth="4"
          paintOrder="stroke"
          textAnchor="middle"
          fontSize="12"
          className="font-mono"
        >
          {label}
        </text>
      )}
    </g>
  );
}

interface BandScaleProps {
  low: number;
  high: number;
  band: { low: number; high: number };
  was?: { low: number; high: number } | undefined;
  unit: string;
  width: number;
  thick?: number;
  /** Where the shoe worn now lies, and how far off that may be. */
  worn?: { value: number; give_or_take: number } | undefined;
}

/** A property's scale with its wanted band, the band as it was before a change, and the shoe worn now. */
export function BandScale({ low, high, band, was, unit, width, thick = 12, worn }: BandScaleProps) {
  const x = scaleLinear([low, high], [13, width - (unit ? 46 : 14)]);
  const moved = was && (was.low !== band.low || was.high !== band.high);
  const span = (b: { low: number; high: number }) => ({
    x: x(b.low),
    width: Math.max(x(b.high) - x(b.low), 3),
  });
  const lies = worn ? `; worn now ${worn.value} ${unit}` : "";
  const text = `${band.low} to ${band.high} ${unit}${lies}`.trim();
  const inside = (v: number) => Math.min(Math.max(v, low), high);
  return (
    <Frame width={width} height={40} label={moved ? `${text}, was ${was.low} to ${was.high}` : text}>
      <path d={`M13 24H${width - (unit ? 46 : 14)}`} stroke="var(--faint)" />
      <TicksBelow ticks={ticksOf(x, 5)} place={38} line={[24, 28]} />
      {unit && (
        <text x={width - 40} y="28" className="font-mono" fontSize="10.5" fill="var(--faint)">
          {unit}
        </text>
      )}
      {moved && (
        <rect
          {...span(was)}
          y={24 - thick - 7}
          height={thick + 7}
          fill="none"
          stroke="var(--faint)"
          strokeDasharray="3 2"
        />
      )}
      <rect
        {...span(band)}
        y={24 - thick}
        height={thick}
        fill="color-mix(in srgb, var(--madder) 22%, transparent)"
        stroke="var(--madder)"
        strokeWidth="1.4"
      />
      {worn && (
        <g stroke="var(--ink)" fill="var(--ink)" data-worn>
          <path
            d={`M${x(inside(worn.value - worn.give_or_take))} 8H${x(inside(worn.value + worn.give_or_take))}`}
            strokeWidth="1.2"
          />
          <path d={`M${x(inside(worn.value))} 14l-4.5-8h9z`} stroke="none" />
          <path d={`M${x(inside(worn.value))} 12V24`} strokeWidth="1" strokeDasharray="2 2" />
        </g>
      )}
    </Frame>
  );
}

/** A number with its sign, one decimal, and a true minus. */
export function signed(mm: number): string {
  const size = Math.abs(mm).toFixed(1);
  return Number(size) === 0 ? size : `${mm < 0 ? "−" : "+"}${size}`;
}
