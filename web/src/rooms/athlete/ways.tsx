/** The ways feet are measured, each by its own mark. */
import type { Visit } from "../../api/years";

export const WAYS: [way: string, text: string][] = [
  ["gauge", "gauge and tape"],
  ["scan", "scan"],
  ["tracing", "tracing"],
  ["mat", "mat"],
  ["record", "record"],
];

/** A mark's path about a point: a ring, a triangle, a square, a diamond. */
export function wayPath(way: string, x: number, y: number): string {
  const r = 5;
  if (way === "scan") return `M${x} ${y - r - 1}l${r + 1} ${2 * r}h${-2 * (r + 1)}z`;
  if (way === "tracing") return `M${x - r} ${y - r}h${2 * r}v${2 * r}h${-2 * r}z`;
  if (way === "mat") return `M${x} ${y - r - 1}l${r + 1} ${r + 1}l${-r - 1} ${r + 1}l${-r - 1} ${-r - 1}z`;
  return `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;
}

/** The way the length of a visit was found, or whatever was measured. */
export const wayOf = (visit: Visit): string => {
  const numbers = { ...visit.right, ...visit.left };
  return (numbers.length_mm ?? Object.values(numbers)[0])?.source ?? "gauge";
};

const wayText = (way: string) => WAYS.find(([w]) => w === way)?.[1] ?? way;

/** A visit's lengths in words: "scan: left 262.4 ± 0.9 mm, right 260.1 ± 0.9 mm". */
export function lengthsOf(visit: Visit): string {
  const each = (["left", "right"] as const).flatMap((side) => {
    const n = visit[side].length_mm;
    return n ? [`${side} ${n.value.toFixed(1)} ± ${n.uncertainty.toFixed(1)} mm`] : [];
  });
  return `${wayText(wayOf(visit))}${each.length ? `: ${each.join(", ")}` : ", no length"}`;
}
