/** An outline by as few handles as fingers can tell apart, and bent after them where they are dragged. */
type Point = readonly number[];

const placeOf = (k: number, count: number, many: number) => Math.round((k * count) / many);

/** At most `most` of the curve's points, evenly along it. */
export function handlesOf(curve: readonly Point[], most: number): number[][] {
  const many = Math.min(most, curve.length);
  return Array.from({ length: many }, (_, k) => [...(curve[placeOf(k, curve.length, many)] ?? [0, 0])]);
}

/** The closed curve after its handles were moved: points between two follow both, by how near they are along it. */
export function bent(curve: readonly Point[], moved: readonly Point[]): [number, number][] {
  const count = curve.length;
  const handles = handlesOf(curve, moved.length);
  const many = handles.length;
  const by = (k: number, axis: 0 | 1) => (moved[k % many]?.[axis] ?? 0) - (handles[k % many]?.[axis] ?? 0);
  return curve.map(([x = 0, y = 0], i) => {
    const next = handles.findIndex((_, k) => placeOf(k, count, many) > i);
    const a = (next < 0 ? many : next) - 1;
    const start = placeOf(a, count, many);
    const share = (i - start) / Math.max(placeOf(a + 1, count, many) - start, 1);
    return [
      x + by(a, 0) * (1 - share) + by(a + 1, 0) * share,
      y + by(a, 1) * (1 - share) + by(a + 1, 1) * share,
    ];
  });
}
