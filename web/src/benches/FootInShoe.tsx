/** The foot inside the shoe, from the side and from above, to scale: new in graphite, settled dashed in madder. */

import type { Schemas, Side } from "../api/client";
import { Frame } from "../drawing/axis";
import {
  BALL_LATERAL,
  closedPath,
  footOutline,
  GIRTH_TO_HEIGHT,
  GIRTH_TO_WIDTH,
  HEEL,
  type Point,
  shoeOutline,
  sideProfile,
} from "../drawing/foot";
import { Dimension, type FitWord, Ruler, signed } from "../drawing/kit";

type Zone = Schemas["ZoneFit"];

interface Props {
  zones: Zone[];
  foot: Record<string, number>;
  side: Side;
  width: number;
  asymmetry: number;
  toes: "first_longest" | "second_longest" | "square";
}

export function FootInShoe({ zones, foot, side, width, asymmetry, toes }: Props) {
  const zone = Object.fromEntries(zones.map((z) => [z.zone, z])) as Record<string, Zone>;
  const length = zone.length;
  const ball = zone.ball_girth;
  const instep = zone.instep_girth;
  const heel = zone.heel_width;
  if (!length || !ball || !instep || !heel) return null;
  const mm = (name: string) => foot[name] ?? 0;
  const inner = (z: Zone, settled: boolean) => mm(z.zone) + (settled ? z.settled_mm : z.new_mm);
  const longest = Math.max(mm("length"), inner(length, true), inner(length, false));
  const scale = (width - 44) / (longest + 12);
  const left = 12;
  const footHeight = mm("instep_girth") * GIRTH_TO_HEIGHT;
  const sideH = 0.37 * longest * scale + 26;
  const ballWidth = (girth: number) => girth * GIRTH_TO_WIDTH;
  const planH = ballWidth(Math.max(inner(ball, true), mm("ball_girth"))) * scale + 40;
  const planMiddle = sideH + planH / 2 + 6;
  const height = sideH + planH + 34;
  const ink = `var(--${side})`;

  const fromSide = (points: Point[]) =>
    closedPath(points.map(([x, z]): Point => [left + x * scale, sideH - 6 - z * scale]));
  const fromAbove = (points: Point[]) =>
    closedPath(points.map(([x, y]): Point => [left + y * scale, planMiddle + x * scale]));
  const shell = (settled: boolean) => {
    const gapUp = (settled ? instep.settled_mm : instep.new_mm) / 3;
    return sideProfile(inner(length, settled), footHeight + gapUp);
  };
  const plan = (settled: boolean) =>
    shoeOutline(inner(length, settled), ballWidth(inner(ball, settled)), inner(heel, settled), asymmetry);
  const footPlan = footOutline(
    {
      length: mm("length"),
      ballWidth: ballWidth(mm("ball_girth")),
      heelWidth: mm("heel_width"),
      arch: "medium",
      toes,
      bunion: false,
    },
    true,
  );
  const toeFoot = left + mm("length") * scale;
  const toeShoe = left + inner(length, true) * scale;
  return (
    <Frame
      width={width}
      height={height}
      label={`The ${side} foot in the shoe, from the side and from above. Room at the toe ${signed(length.new_mm)} mm new, ${signed(length.settled_mm)} mm settled.`}
      data-drawing="foot-in-shoe"
    >
      <path d={`M${left} ${sideH - 5}H${width - 20}`} stroke="var(--line)" />
      <path
        d={fromSide(sideProfile(mm("length"), footHeight))}
        fill={`color-mix(in srgb, ${ink} 14%, var(--sheet))`}
        stroke={ink}
        strokeWidth="1.2"
      />
      <path d={fromSide(shell(false))} fill="none" stroke="var(--ink)" strokeWidth="2.2" />
      <path
        d={fromSide(shell(true))}
        fill="none"
        stroke="var(--madder)"
        strokeWidth="1.6"
        strokeDasharray="5 4"
      />
      <Strip
        x={Math.min(toeFoot, toeShoe)}
        y={sideH - 32}
        width={Math.abs(toeShoe - toeFoot)}
        height={26}
        word={length.settled}
      />
      <Dimension
        x1={toeFoot}
        y1={sideH - 44}
        x2={toeShoe}
        y2={sideH - 44}
        label={`${signed(length.settled_mm)} mm`}
        ink="var(--madder)"
        dx={toeShoe > width - 60 ? -26 : 0}
      />
      <ZoneTag
        x={left + 0.5 * mm("length") * scale}
        y={sideH - 16 - footHeight * scale}
        text={`instep ${signed(instep.settled_mm)} mm round`}
      />

      <path
        d={fromAbove(footPlan)}
        fill={`color-mix(in srgb, ${ink} 14%, var(--sheet))`}
        stroke={ink}
        strokeWidth="1.2"
      />
      <path d={fromAbove(plan(false))} fill="none" stroke="var(--ink)" strokeWidth="2.2" />
      <path
        d={fromAbove(plan(true))}
        fill="none"
        stroke="var(--madder)"
        strokeWidth="1.6"
        strokeDasharray="5 4"
      />
      <SidePair
        at={left + BALL_LATERAL * mm("length") * scale}
        middle={planMiddle}
        half={(ballWidth(mm("ball_girth")) / 2) * scale}
        zone={ball}
        scale={scale}
        label="ball"
        unit="mm round"
      />
      <SidePair
        at={left + HEEL * mm("length") * scale}
        middle={planMiddle}
        half={(mm("heel_width") / 2) * scale}
        zone={heel}
        scale={scale}
        label="heel"
        unit="mm"
      />
      <Ruler scale={scale} from={0} to={Math.floor(longest / 10) * 10} x={left} y={height - 2} />
    </Frame>
  );
}

function Strip({
  x,
  y,
  width,
  height,
  word,
}: {
  x: number;
  y: number;
  width: number;
  height: number;
  word: FitWord;
}) {
  return (
    <rect
      x={x}
      y={y}
      width={Math.max(width, 2)}
      height={height}
      fill={`url(#hatch-${word})`}
      stroke="var(--ink)"
      strokeWidth="0.8"
    />
  );
}

function ZoneTag({ x, y, text }: { x: number; y: number; text: string }) {
  return (
    <text
      x={x}
      y={y}
      textAnchor="middle"
      fontSize="12"
      fill="var(--ink)"
      stroke="var(--sheet)"
      strokeWidth="4"
      paintOrder="stroke"
      className="font-mono"
    >
      {text}
    </text>
  );
}

interface SidePairProps {
  at: number;
  middle: number;
  half: number;
  zone: Zone;
  scale: number;
  label: string;
  unit: string;
}

/** Hatched strips on both sides of a zone, half the settled room each. */
function SidePair({ at, middle, half, zone, scale, label, unit }: SidePairProps) {
  const thick = Math.max((Math.abs(zone.settled_mm) / 2) * scale, 3);
  const out = zone.settled_mm >= 0;
  return (
    <g>
      <Strip
        x={at - 16}
        y={out ? middle - half - thick : middle - half}
        width={32}
        height={thick}
        word={zone.settled}
      />
      <Strip
        x={at - 16}
        y={out ? middle + half : middle + half - thick}
        width={32}
        height={thick}
        word={zone.settled}
      />
      <ZoneTag x={at} y={middle + 4} text={`${label} ${signed(zone.settled_mm)} ${unit}`} />
    </g>
  );
}
