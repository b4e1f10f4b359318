/** Two pairs over the same foot, from the side and from above, to scale: one in a whole line, the other in dashes. */
import type { Schemas, Side } from "../api/client";
import { Frame } from "../drawing/axis";
import {
  closedPath,
  footOutline,
  GIRTH_TO_HEIGHT,
  GIRTH_TO_WIDTH,
  type Point,
  shoeOutline,
  sideProfile,
} from "../drawing/foot";
import { Ruler, signed } from "../drawing/kit";

type Zone = Schemas["ZoneFit"];
const USUAL_ASYMMETRY = 5;
/** The line each pair is drawn in; the letters stand beside the names. */
export const LINES = [
  { letter: "A", ink: "var(--ink)", dash: undefined },
  { letter: "B", ink: "var(--madder)", dash: "9 4" },
] as const;

export interface Beside {
  name: string;
  fit: { zones: Zone[] };
  foot_mm: Record<string, number>;
  side: Side;
  toes: "first_longest" | "second_longest" | "square";
  asymmetry_deg: number | null;
}

interface Props {
  pairs: Beside[];
  /** As they become, worn in; else as they are new. */
  settled: boolean;
  width: number;
  /** Room at the toe in figures. */
  figures?: boolean;
}

export function TwoPairs({ pairs, settled, width, figures = true }: Props) {
  const first = pairs[0];
  if (!first) return null;
  const foot = first.foot_mm;
  const mm = (zone: string) => foot[zone] ?? 0;
  const gap = (pair: Beside, zone: string) => {
    const found = pair.fit.zones.find((z) => z.zone === zone);
    return found ? (settled ? found.settled_mm : found.new_mm) : 0;
  };
  const inner = (pair: Beside, zone: string) => mm(zone) + gap(pair, zone);
  const longest = Math.max(mm("length"), ...pairs.map((p) => inner(p, "length")));
  const scale = (width - 56) / (longest + 10);
  const left = 12;
  const tall = mm("instep_girth") * GIRTH_TO_HEIGHT;
  const sideH = 0.37 * longest * scale + 26;
  const wide = (girth: number) => girth * GIRTH_TO_WIDTH;
  const planH = wide(Math.max(mm("ball_girth"), ...pairs.map((p) => inner(p, "ball_girth")))) * scale + 34;
  const middle = sideH + planH / 2 + 4;
  const height = sideH + planH + 34;
  const ink = `var(--${first.side})`;
  const fromSide = (points: Point[]) =>
    closedPath(points.map(([x, z]): Point => [left + x * scale, sideH - 6 - z * scale]));
  const fromAbove = (points: Point[]) =>
    closedPath(points.map(([x, y]): Point => [left + y * scale, middle + x * scale]));
  const shape = {
    length: mm("length"),
    ballWidth: wide(mm("ball_girth")),
    heelWidth: mm("heel_width"),
    arch: "medium",
    toes: first.toes,
    bunion: false,
  } as const;
  const filled = `color-mix(in srgb, ${ink} 14%, var(--sheet))`;
  const when = settled ? "worn in" : "new";
  const told = pairs
    .map((p, i) => `${LINES[i]?.letter}, ${p.name}: room at the toe ${signed(gap(p, "length"))} mm`)
    .join("; ");
  return (
    <Frame
      width={width}
      height={height}
      label={`Over the ${first.side} foot from the side and from above, ${when}. ${told}.`}
      data-drawing="two-pairs"
    >
      <path d={`M${left} ${sideH - 5}H${width - 20}`} stroke="var(--line)" />
      <path d={fromSide(sideProfile(mm("length"), tall))} fill={filled} stroke={ink} strokeWidth="1.2" />
      <path d={fromAbove(footOutline(shape, true))} fill={filled} stroke={ink} strokeWidth="1.2" />
      {pairs.slice(0, LINES.length).map((pair, i) => {
        const line = LINES[i] ?? LINES[0];
        const toe = left + inner(pair, "length") * scale;
        return (
          <g key={line.letter} fill="none" stroke={line.ink} strokeWidth="2.4" data-pair={line.letter}>
            <path
              d={fromSide(sideProfile(inner(pair, "length"), tall + gap(pair, "instep_girth") / 3))}
              strokeDasharray={line.dash}
            />
            <path
              d={fromAbove(
                shoeOutline(
                  inner(pair, "length"),
                  wide(inner(pair, "ball_girth")),
                  inner(pair, "heel_width"),
                  pair.asymmetry_deg ?? USUAL_ASYMMETRY,
                ),
              )}
              strokeDasharray={line.dash}
            />
            <text
              x={Math.min(toe + 6, width - 40)}
              y={sideH - 12 - i * 16}
              fontSize="14"
              fontWeight="700"
              fill={line.ink}
              stroke="var(--sheet)"
              strokeWidth="4"
              paintOrder="stroke"
            >
              {line.letter}
              {figures && (
                <tspan className="font-mono" fontSize="11" fontWeight="400">
                  {" "}
                  {signed(gap(pair, "length"))}
                </tspan>
              )}
            </text>
          </g>
        );
      })}
      <Ruler scale={scale} from={0} to={Math.floor(longest / 10) * 10} x={left} y={height - 2} />
    </Frame>
  );
}
