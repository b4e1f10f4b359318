/** What every chart shares: its frame, told in words, and its ticks. */
import type { ReactNode, SVGProps } from "react";

interface FrameProps extends Omit<SVGProps<SVGSVGElement>, "width" | "height"> {
  width: number;
  height: number;
  /** What is drawn, in words. */
  label: string;
  children: ReactNode;
}

/** A drawing of this size in its own units; narrower where there is no room. */
export function Frame({ width, height, label, children, ...rest }: FrameProps) {
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      className="h-auto max-w-full"
      role="img"
      aria-label={label}
      {...rest}
    >
      {children}
    </svg>
  );
}

export interface Tick {
  at: number;
  text: ReactNode;
}

/** Ticks of any scale, each in its words. */
export const ticksOf = (scale: { (v: number): number; ticks: (n: number) => number[] }, n: number): Tick[] =>
  scale.ticks(n).map((t) => ({ at: scale(t), text: t }));

interface TicksProps {
  ticks: Tick[];
  /** Where the text stands: its line below the axis, or its right edge left of it. */
  place: number;
  /** A line at each tick, from there to there. */
  line?: [from: number, to: number] | undefined;
  dashed?: boolean;
  size?: number;
}

/** Texts below a level axis, with a line up each when wanted. */
export function TicksBelow({ ticks, place, line, dashed = false, size = 10.5 }: TicksProps) {
  return (
    <g className="font-mono" fontSize={size} fill="var(--faint)" stroke="none" aria-hidden="true">
      {ticks.map((t) => (
        <g key={t.at}>
          {line && (
            <path
              d={`M${t.at} ${line[0]}V${line[1]}`}
              stroke={dashed ? "var(--line)" : "var(--faint)"}
              strokeDasharray={dashed ? "2 3" : undefined}
            />
          )}
          <text x={t.at} y={place} textAnchor="middle">
            {t.text}
          </text>
        </g>
      ))}
    </g>
  );
}

/** Texts left of an upright axis, with a line along each when wanted. */
export function TicksLeft({ ticks, place, line, dashed = false, size = 10.5 }: TicksProps) {
  return (
    <g className="font-mono" fontSize={size} fill="var(--faint)" stroke="none" aria-hidden="true">
      {ticks.map((t) => (
        <g key={t.at}>
          {line && (
            <path
              d={`M${line[0]} ${t.at}H${line[1]}`}
              stroke="var(--line)"
              strokeDasharray={dashed ? "2 3" : undefined}
            />
          )}
          <text x={place} y={t.at + 3.5} textAnchor="end">
            {t.text}
          </text>
        </g>
      ))}
    </g>
  );
}

/** Millimetres of room below a scale of zones, nought drawn through. */
export function RoomAxis({
  x,
  height,
}: {
  x: { (mm: number): number; ticks: (n: number) => number[] };
  height: number;
}) {
  return (
    <>
      <path d={`M${x(0)} 0V${height - 18}`} stroke="var(--line)" />
      <TicksBelow
        ticks={x.ticks(6).map((t) => ({ at: x(t), text: t === 0 ? "0 mm" : t }))}
        place={height - 5}
        line={[0, height - 18]}
        dashed
      />
    </>
  );
}
