/** What can be laid under a foot in plan: the paper it was drawn on, or its print on a mat. */
import type { Schemas } from "../api/client";
import type { Place } from "./FeetPlan";

type Shape = Schemas["ShapeOut"];

const PAPER_MM = { a4: [210, 297], letter: [215.9, 279.4] } as const;
/** Pixels a millimetre of the flattened picture. */
const FLAT = 2;

/** The flattened paper, turned into the foot's frame. */
export function PaperUnder({ shape, src, place }: { shape: Shape; src: string; place: Place }) {
  const [first, second] = shape.turn;
  if (!first || !second || !shape.paper) return null;
  const [width, height] = PAPER_MM[shape.paper];
  const { scale: s, sign, originX, heelY } = place;
  const [a0 = 0, a1 = 0, a2 = 0] = first;
  const [b0 = 0, b1 = 0, b2 = 0] = second;
  const matrix = [
    (s * sign * b0) / FLAT,
    (-s * a0) / FLAT,
    (-s * sign * b1) / FLAT,
    (s * a1) / FLAT,
    originX + s * sign * b2,
    heelY - s * a2,
  ];
  return (
    <image
      href={src}
      width={width * FLAT}
      height={height * FLAT}
      transform={`matrix(${matrix.map((m) => m.toFixed(5)).join(" ")})`}
      opacity="0.55"
      data-under="tracing"
    />
  );
}

const LEVELS: [from: number, hatch: string, text: string][] = [
  [5, "slack", "from 5 kPa"],
  [100, "snug", "from 100"],
  [200, "tight", "from 200"],
  [300, "too_tight", "from 300"],
];

/** A print in our hatches: the closer the hatch, the higher the pressure; with the path of its centre. */
export function PrintUnder({ shape, place }: { shape: Shape; place: Place }) {
  const step = shape.grid_mm ?? 4;
  const [x0 = 0, y0 = 0] = shape.origin;
  const paths = LEVELS.map(() => "");
  shape.grid.forEach((row, i) => {
    row.forEach((kpa, j) => {
      const level = LEVELS.findLastIndex(([from]) => kpa >= from);
      if (level < 0) return;
      const [ax, ay] = place(x0 + i * step, y0 + j * step);
      const [bx, by] = place(x0 + (i + 1) * step, y0 + (j + 1) * step);
      paths[level] +=
        `M${ax.toFixed(1)} ${ay.toFixed(1)}H${bx.toFixed(1)}V${by.toFixed(1)}H${ax.toFixed(1)}Z`;
    });
  });
  const path = shape.path.map(([x = 0, y = 0]) =>
    place(x, y)
      .map((v) => v.toFixed(1))
      .join(" "),
  );
  const columns = shape.grid[0]?.length ?? 0;
  return (
    <g data-under="mat">
      {LEVELS.map(([from, hatch], i) => (
        <path key={from} d={paths[i]} fill={`url(#hatch-${hatch})`} stroke="none" />
      ))}
      {shape.thirds.map((t) => {
        const [ax, ay] = place(t, y0);
        const [bx] = place(t, y0 + columns * step);
        return <path key={t} d={`M${ax} ${ay}H${bx}`} stroke="var(--ink)" strokeDasharray="5 3" />;
      })}
      {path.length > 1 && (
        <path d={`M${path.join("L")}`} fill="none" stroke="var(--madder)" strokeWidth="2" data-path />
      )}
    </g>
  );
}

export function PrintKey() {
  return (
    <p className="flex flex-wrap items-center gap-x-2 text-xs">
      {LEVELS.map(([from, hatch, text]) => (
        <span key={from} className="inline-flex items-center gap-1">
          <svg width="22" height="14" aria-hidden="true">
            <rect x="0.5" y="0.5" width="21" height="13" fill={`url(#hatch-${hatch})`} stroke="var(--ink)" />
          </svg>
          {text}
        </span>
      ))}
    </p>
  );
}
