/** A handle on a drawing: dragged, or moved by arrows; it tells its value as a slider does. */
import { useRef } from "react";

interface HandleProps {
  label: string;
  x: number;
  y: number;
  value: number;
  least: number;
  most: number;
  step: number;
  unit: string;
  /** Drawing units that one of the value's unit takes, along the screen: right and down are positive. */
  along: { x?: number; y?: number };
  onMove: (value: number) => void;
}

export function Handle({ label, x, y, value, least, most, step, unit, along, onMove }: HandleProps) {
  const held = useRef<{ at: number; from: number } | null>(null);
  const upright = along.y !== undefined;
  const per = along.y ?? along.x ?? 1;
  const put = (to: number) => onMove(Math.min(Math.max(Math.round(to / step) * step, least), most));
  const place = (e: React.PointerEvent<SVGGElement>) => {
    const matrix = e.currentTarget.ownerSVGElement?.getScreenCTM();
    const scale = matrix?.a || 1;
    return (upright ? e.clientY : e.clientX) / scale;
  };
  const keys: Record<string, number> = {
    ArrowUp: 1,
    ArrowRight: 1,
    ArrowDown: -1,
    ArrowLeft: -1,
    PageUp: 5,
    PageDown: -5,
  };
  const said = Math.round(value * 100) / 100;
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuenow={said}
      aria-valuetext={`${said} ${unit}`}
      aria-orientation={upright ? "vertical" : "horizontal"}
      data-handle
      className="cursor-grab touch-none"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        held.current = { at: place(e), from: value };
      }}
      onPointerMove={(e) => {
        if (held.current) put(held.current.from + (place(e) - held.current.at) / per);
      }}
      onPointerUp={() => {
        held.current = null;
      }}
      onPointerCancel={() => {
        held.current = null;
      }}
      onKeyDown={(e) => {
        const to = { Home: least, End: most }[e.key] ?? value + (keys[e.key] ?? Number.NaN) * step;
        if (Number.isNaN(to)) return;
        e.preventDefault();
        e.stopPropagation();
        put(to);
      }}
    >
      <circle cx={x} cy={y} r="22" fill="transparent" />
      <circle cx={x} cy={y} r="7" fill="var(--sheet)" stroke="var(--madder)" strokeWidth="2.4" />
      <path
        d={upright ? `M${x} ${y - 13}v5M${x} ${y + 8}v5` : `M${x - 13} ${y}h5M${x + 8} ${y}h5`}
        stroke="var(--madder)"
        strokeWidth="2"
      />
    </g>
  );
}
