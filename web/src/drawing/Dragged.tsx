/** A picture with handles that are dragged, or moved by arrows. */
import { type ReactNode, useRef, useState } from "react";

interface DraggedProps {
  label: string;
  src: string;
  width: number;
  height: number;
  points: number[][];
  /** What the points are of; another, and what was dragged gives way to them. */
  of: string;
  /** Drawn along with the points. */
  curve?: number[][];
  names: string[];
  disabled: boolean;
  /** What is drawn at the points, in the picture's units; `pen` is a line's width. */
  shapes?: (points: number[][], pen: number) => ReactNode;
  /** The point that is looked at more closely. */
  chosen?: number | null;
  onChoose?: (i: number) => void;
  onPut: (points: number[][]) => void;
}

const TALL = 410;

/** The picture; what was there before it stands until it has come. */
function Picture({ src }: { src: string }) {
  const [had, setHad] = useState("");
  return (
    <>
      {had && had !== src && <img key={had} src={had} alt="" draggable={false} className="h-full w-full" />}
      <img
        key={src}
        src={src}
        alt=""
        draggable={false}
        onLoad={() => setHad(src)}
        className={`h-full w-full ${had && had !== src ? "absolute inset-0 opacity-0" : ""}`}
      />
    </>
  );
}

/** A picture with points that can be dragged, or moved by the arrow keys; put when let go. */
export function Dragged(props: DraggedProps) {
  const { label, src, width, height, points, curve, names, disabled, shapes, chosen, onChoose, onPut } =
    props;
  const [now, setNow] = useState(points);
  const latest = useRef(points);
  const [of, setOf] = useState(props.of);
  if (of !== props.of) {
    setOf(props.of);
    setNow(points);
    latest.current = points;
  }
  const held = useRef<number | null>(null);
  const moved = useRef(false);
  const scale = Math.min(TALL / height, 560 / width);
  const move = (i: number, x: number, y: number) => {
    const put = [Math.min(Math.max(x, -width), 2 * width), Math.min(Math.max(y, -height), 2 * height)];
    latest.current = latest.current.map((p, k) => (k === i ? put : p));
    moved.current = true;
    setNow(latest.current);
  };
  const letGo = () => {
    held.current = null;
    if (!moved.current) return;
    moved.current = false;
    onPut(latest.current);
  };
  const at = (e: React.PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    return [(e.clientX - box.left) / scale, (e.clientY - box.top) / scale] as const;
  };
  const ring = curve ?? now;
  return (
    <fieldset
      className="relative mx-auto touch-none select-none"
      style={{ width: width * scale, height: height * scale }}
      aria-label={label}
      onPointerMove={(e) => {
        if (held.current === null) return;
        const [x, y] = at(e);
        move(held.current, x, y);
      }}
      onPointerUp={letGo}
      onLostPointerCapture={letGo}
      onPointerCancel={letGo}
    >
      <Picture src={src} />
      <svg className="absolute inset-0 h-full w-full" viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
        <path
          d={`M${ring.map(([x = 0, y = 0]) => `${x} ${y}`).join("L")}Z`}
          fill="none"
          stroke="var(--madder)"
          strokeWidth={2 / scale}
        />
        {shapes?.(now, 1.5 / scale)}
      </svg>
      {now.map(([x = 0, y = 0], i) => (
        <button
          key={names[i]}
          type="button"
          disabled={disabled && !onChoose}
          aria-disabled={disabled}
          aria-label={`${names[i]}: ${x.toFixed(0)}, ${y.toFixed(0)}. Arrow keys move it, Enter puts it.`}
          data-handle={i}
          aria-current={chosen === i || undefined}
          onFocus={() => onChoose?.(i)}
          onPointerDown={(e) => {
            onChoose?.(i);
            if (disabled) return;
            // The picture follows the pointer wherever it goes, and hears when it is let go there.
            e.currentTarget.closest("fieldset")?.setPointerCapture(e.pointerId);
            held.current = i;
          }}
          onBlur={letGo}
          onKeyDown={(e) => {
            if (disabled) return;
            const by = (e.shiftKey ? 10 : 1) * (curve ? 1 : Math.max(1, 1 / scale));
            const way = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[
              e.key
            ];
            if (way) {
              e.preventDefault();
              move(i, x + (way[0] ?? 0), y + (way[1] ?? 0));
            } else if (e.key === "Enter") {
              e.preventDefault();
              letGo();
            }
          }}
          className="group -translate-x-1/2 -translate-y-1/2 absolute grid size-11 cursor-grab place-items-center rounded-full"
          style={{ left: x * scale, top: y * scale }}
        >
          <span className="size-3.5 rounded-full border-2 border-madder bg-sheet/70 group-aria-[current]:bg-madder" />
        </button>
      ))}
    </fieldset>
  );
}
