/** A sole from below, small: where studs, spikes, nubs or lugs stand. */
type Spot = [x: number, y: number];

const grid = (from: number, to: number, step: number, rows: number[]): Spot[] => {
  const found: Spot[] = [];
  for (let x = from; x <= to; x += step) for (const y of rows) found.push([x, y]);
  return found;
};
const FORE: Spot[] = [
  [62, 7],
  [62, 17],
  [52, 5],
  [52, 19],
  [43, 6],
  [43, 18],
];
const REAR: Spot[] = [
  [16, 8],
  [16, 16],
  [7, 9],
  [7, 15],
];
const SPOTS: Record<string, { at: Spot[]; size: number; shape: "round" | "blade" | "bar" }> = {
  soft_ground: { at: [...FORE.slice(0, 2), ...FORE.slice(4), [8, 8], [8, 16]], size: 2.6, shape: "round" },
  firm_ground_round: { at: [...FORE, ...REAR], size: 1.9, shape: "round" },
  firm_ground_blade: { at: [...FORE, ...REAR], size: 2.4, shape: "blade" },
  hard_ground: {
    at: [...grid(40, 64, 6, [6, 10, 14, 18]), ...grid(6, 18, 6, [8, 12, 16])],
    size: 1.3,
    shape: "round",
  },
  artificial_grass: {
    at: [...grid(40, 64, 6, [6, 10, 14, 18]), ...grid(6, 18, 6, [9, 15])],
    size: 1.5,
    shape: "round",
  },
  turf: { at: grid(5, 68, 4, [7, 10, 13, 16]), size: 0.8, shape: "round" },
  spikes_full: { at: [...FORE, ...REAR], size: 1.1, shape: "round" },
  spikes_half: { at: FORE, size: 1.1, shape: "round" },
  rubber_spikes: { at: grid(6, 66, 6, [8, 16]), size: 1.6, shape: "round" },
  pimpled: { at: grid(5, 68, 3.4, [7, 9.5, 12, 14.5, 17]), size: 0.6, shape: "round" },
  lug: { at: [...grid(40, 64, 7, [6, 18]), ...grid(6, 20, 7, [7, 17])], size: 2.6, shape: "bar" },
};

/** The picture of a plate or sole; none for a plain one. */
export function SolePicture({ value }: { value: string }) {
  const drawn = SPOTS[value];
  if (!drawn) return null;
  return (
    <svg viewBox="0 0 74 24" width="74" height="24" aria-hidden="true" className="shrink-0">
      <path
        d="M3 12C3 6 8 5 16 6S30 9 36 6 58 1 66 5s6 10 1 14-22 4-30 1-14-1-22 0S3 18 3 12z"
        fill="none"
        stroke="currentColor"
      />
      {drawn.at.map(([x, y]) =>
        drawn.shape === "round" ? (
          <circle key={`${x}/${y}`} cx={x} cy={y} r={drawn.size} fill="currentColor" />
        ) : (
          <rect
            key={`${x}/${y}`}
            x={x - drawn.size}
            y={y - 0.9}
            width={2 * drawn.size}
            height={drawn.shape === "bar" ? 3 : 1.8}
            fill="currentColor"
          />
        ),
      )}
    </svg>
  );
}
