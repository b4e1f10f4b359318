/** Where studs, spikes, nubs and lugs stand under a sole: shares of its length, and of its half width there. */
export interface Spots {
  at: readonly (readonly [share: number, side: number])[];
  /** Half its size, mm. */
  size: number;
  shape: "round" | "blade" | "bar";
}

const grid = (from: number, to: number, step: number, sides: number[]): [number, number][] => {
  const found: [number, number][] = [];
  for (let x = from; x <= to + 1e-9; x += step) for (const y of sides) found.push([x, y]);
  return found;
};
const FORE: [number, number][] = [
  [0.86, 0.5],
  [0.86, -0.5],
  [0.73, 0.7],
  [0.73, -0.7],
  [0.6, 0.66],
  [0.6, -0.66],
];
const REAR: [number, number][] = [
  [0.22, 0.6],
  [0.22, -0.6],
  [0.09, 0.5],
  [0.09, -0.5],
];
const AT = [-0.72, -0.25, 0.25, 0.72];

export const SPOTS: Record<string, Spots> = {
  soft_ground: {
    at: [...FORE.slice(0, 2), ...FORE.slice(4), [0.12, 0.5], [0.12, -0.5]],
    size: 7,
    shape: "round",
  },
  firm_ground_round: { at: [...FORE, ...REAR], size: 5, shape: "round" },
  firm_ground_blade: { at: [...FORE, ...REAR], size: 7, shape: "blade" },
  hard_ground: {
    at: [...grid(0.56, 0.9, 0.085, AT), ...grid(0.08, 0.24, 0.08, [-0.6, 0, 0.6])],
    size: 3.4,
    shape: "round",
  },
  artificial_grass: {
    at: [...grid(0.56, 0.9, 0.085, AT), ...grid(0.08, 0.24, 0.08, [-0.55, 0.55])],
    size: 4,
    shape: "round",
  },
  turf: { at: [...grid(0.05, 0.33, 0.047, AT), ...grid(0.5, 0.94, 0.047, AT)], size: 2.2, shape: "round" },
  spikes_full: { at: [...FORE, ...REAR], size: 3, shape: "round" },
  spikes_half: { at: FORE, size: 3, shape: "round" },
  rubber_spikes: {
    at: [...grid(0.08, 0.26, 0.09, [-0.6, 0.6]), ...grid(0.54, 0.9, 0.09, [-0.6, 0.6])],
    size: 4,
    shape: "round",
  },
  pimpled: {
    at: [
      ...grid(0.05, 0.33, 0.04, [-0.8, -0.4, 0, 0.4, 0.8]),
      ...grid(0.48, 0.94, 0.04, [-0.8, -0.4, 0, 0.4, 0.8]),
    ],
    size: 1.6,
    shape: "round",
  },
  lug: {
    at: [...grid(0.5, 0.92, 0.085, [-0.72, 0.72]), ...grid(0.06, 0.28, 0.08, [-0.66, 0.66])],
    size: 6,
    shape: "bar",
  },
};
