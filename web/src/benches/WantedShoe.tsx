/** The wanted shoe, side view and sole from below, to scale: what is wanted drawn and hatched, its range as a ghost. */

import type { Schemas } from "../api/client";
import { factsOf } from "../api/sports";
import { Frame } from "../drawing/axis";
import { closedPath } from "../drawing/foot";
import { Dimension, Ruler } from "../drawing/kit";
import {
  bed,
  brokenPath,
  foldDeg,
  folded,
  openPath,
  shoeShape,
  soleBelow,
  soleSide,
  underside,
  upperSide,
  type Values,
} from "../drawing/shoe";
import type { PartName } from "../stations/spec/parts";
import { Blade } from "./Blade";
import { Numbered } from "./Numbered";
import { Cleats, Hand, SideMarks, SoleMarks } from "./ShoeMarks";
import { along, Balloon, Outline, type Point, parts } from "./ShoeParts";
import { StudsBelow, StudsSide, standingOf, usualStanding } from "./ShoeStuds";

export type Spec = Schemas["Spec"];

/** Another shoe laid into the wanted one: the one worn now, or one looked at. */
export interface Laid {
  name: string;
  values: Values;
  choices?: Record<string, string>;
  /** Known to have or not to have. */
  features?: Record<string, boolean>;
}

interface Props {
  spec: Spec;
  /** The spec before an answer was tried. */
  was?: Spec | undefined;
  laid?: Laid | undefined;
  /** The studs of the plate that leads, where it is computed with. */
  plate?: readonly Schemas["Stud"][] | undefined;
  footMm: number;
  /** Where the numbers of the parts stand in the list beside. */
  numbers: Partial<Record<PartName, number>>;
  open: PartName | null;
  onOpen: (part: PartName) => void;
  width?: number;
}

const MATERIAL_MM = 6;

const USUAL_ROOM_MM = 9;

const middles = (spec: Spec): Values =>
  Object.fromEntries(Object.entries(spec.properties).map(([n, b]) => [n, (b.low + b.high) / 2]));

export function WantedShoe({ spec, was, laid, plate, footMm, numbers, open, onOpen, width = 560 }: Props) {
  const room = spec.fit.toe_room_mm;
  const length = footMm + (room ? (room.low + room.high) / 2 : USUAL_ROOM_MM) + MATERIAL_MM;
  const values = middles(spec);
  const shape = shoeShape(values, spec.sport, length);
  const scale = (width - 96) / 330;
  const left = 58;
  const blade = factsOf(spec.sport)?.drawn.blade_mm ?? 0;
  const tall = Math.max(shape.collar, 0.32 * length) + shape.stack + 12;
  const ground = 22 + (tall + blade) * scale;
  const plan = 0.46 * length * scale;
  const below = ground + 62 + plan / 2;
  const height = below + plan / 2 + 20;
  const side = ([x, z]: Point): Point => [left + x * scale, ground - (z + blade) * scale];
  const from = ([x, y]: Point): Point => [left + x * scale, below + y * scale];
  const sides = (points: readonly Point[]) => points.map(side);
  const ends = (name: string): [number, number] | null => {
    const b = spec.properties[name];
    return b ? [b.low, b.high] : null;
  };
  const with_ = (name: string, value: number) => shoeShape({ ...values, [name]: value }, spec.sport, length);
  const ghosts = ["heel_stack_mm", "drop_mm", "downturn_deg"].filter((n) => spec.properties[n]).slice(0, 2);
  const ball = 0.4 * footMm + 4;
  const heel = 0.25 * footMm + 5;
  const outline = soleBelow(shape, ball, heel);
  const upper = soleBelow(shape, ball, heel, false);
  const closure = spec.choices.closure?.[0]?.value;
  const under = spec.choices.plate?.[0]?.value ?? spec.choices.sole?.[0]?.value ?? "";
  const cleat = spec.choices.cleat?.[0]?.value;
  const halfAt = (share: number): [middle: number, half: number] => {
    const near = (sign: number) =>
      outline.filter(([x, y]) => Math.abs(x / length - share) < 0.09 && sign * y >= 0).map(([, y]) => y);
    const up = Math.max(...near(1), 0.16 * ball);
    const down = Math.min(...near(-1), -0.16 * ball);
    return [(up + down) / 2, (up - down) / 2];
  };
  const studs = plate ? standingOf(plate) : usualStanding(under, length, halfAt);
  const other = laid && shoeShape({ ...values, ...laid.values }, spec.sport, length);
  const before = was && shoeShape(middles(was), spec.sport, length);
  const moved = before && JSON.stringify(before) !== JSON.stringify(shape);
  const stackLine = ends("heel_stack_mm");
  const marks: [PartName, Point, Point][] = [
    ["heel", [0, bed(shape, 0) + 0.06 * length], [-0.12 * length, shape.stack + 0.15 * length]],
    ["collar", [0.16 * length, bed(shape, 0.16 * length) + 0.84 * shape.collar], [0.16 * length, tall - 6]],
    ["closure", [0.45 * length, bed(shape, 0.45 * length) + 0.25 * length], [0.52 * length, tall - 6]],
    [
      "upper",
      [0.62 * length, bed(shape, 0.62 * length) + 0.13 * length],
      [0.74 * length, 0.27 * length + shape.stack],
    ],
    ["toe", [0.95 * length, bed(shape, 0.95 * length) + 0.05 * length], [1.06 * length, 0.2 * length]],
    ["sole", [0.86 * length, underside(shape, 0.86 * length)], [1.06 * length, 0.05 * length]],
    ["middle", [0.44 * length, bed(shape, 0.44 * length) - 2], [0.44 * length, -12]],
    ["inside", [0.3 * length, bed(shape, 0.3 * length) + 4], [0.24 * length, -12]],
    ["last", [1.0 * length, 0.0], [1.06 * length, -2]],
  ];
  const told = parts(spec, shape);
  return (
    <Frame
      width={width}
      height={height}
      role="group"
      data-drawing="wanted-shoe"
      label={`The wanted shoe from the side and from below, to scale. ${told}${laid ? ` ${laid.name} laid in.` : ""}`}
    >
      <defs>
        <pattern id="wanted" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 2.5H5" stroke="var(--madder)" strokeWidth="1.3" />
        </pattern>
        <pattern id="breathes" width="9" height="9" patternUnits="userSpaceOnUse">
          <circle cx="4.5" cy="4.5" r="1.3" fill="none" stroke="var(--ink)" strokeWidth="0.8" />
        </pattern>
      </defs>
      <Ruler scale={scale} from={0} to={Math.ceil(length / 10) * 10} x={left} y={ground + 50} />
      <path d={`M${left - 34} ${ground}H${width - 8}`} stroke="var(--ink)" strokeWidth="1.5" />
      {/* the upper */}
      <path
        d={`${openPath(sides(upperSide(shape)))}L${sides(soleSide(shape).slice(49))
          .map((p) => p.join(" "))
          .join("L")}z`}
        fill="color-mix(in srgb, var(--ink) 5%, var(--sheet))"
        stroke="var(--ink)"
        strokeWidth="1.7"
        strokeLinejoin="round"
      />
      <SideMarks shape={shape} spec={spec} side={side} scale={scale} closure={closure} />
      {/* the sole */}
      <path
        d={brokenPath(sides(soleSide(shape)), true)}
        fill="color-mix(in srgb, var(--madder) 16%, var(--sheet))"
        stroke="var(--madder)"
        strokeWidth="1.6"
      />
      {blade > 0 && <Blade tall={blade} length={length} sides={sides} />}
      <StudsSide studs={studs} shape={shape} side={side} scale={scale} />
      {ghosts.map((name) =>
        (ends(name) ?? []).map((end) => (
          <path
            key={name + end}
            d={openPath(sides(along(length).map((x): Point => [x, bed(with_(name, end), x)])))}
            fill="none"
            stroke="var(--madder)"
            strokeDasharray="2 3"
            data-ghost={name}
          />
        )),
      )}
      {shape.bend !== null && (
        <g data-fold={foldDeg(shape.bend).toFixed(0)}>
          <path
            d={openPath(sides(folded(shape)))}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="1.6"
            strokeDasharray="6 3"
          />
          <Hand shape={shape} side={side} />
        </g>
      )}
      {moved && before && <Outline shape={before} sides={sides} dash="4 4" ink="var(--faint)" mark="was" />}
      {other && <Outline shape={other} sides={sides} dash="9 3 2 3" ink="var(--ink)" mark="laid" />}
      {stackLine && (
        <Dimension
          x1={left - 24}
          y1={ground}
          x2={left - 24}
          y2={ground - shape.stack * scale}
          label={`${shape.stack.toFixed(0)}`}
          dx={-16}
          dy={4}
        />
      )}
      {!stackLine && spec.properties.drop_mm && (
        <Dimension
          x1={left - 24}
          y1={ground - (shape.stack - shape.drop) * scale}
          x2={left - 24}
          y2={ground - shape.stack * scale}
          label={`${shape.drop.toFixed(0)}`}
          dx={-16}
          dy={4}
        />
      )}
      {/* from below */}
      <path
        d={closedPath(upper.map(from))}
        fill="none"
        stroke="var(--ink)"
        strokeDasharray="3 3"
        opacity={spec.properties.heel_flare ? 1 : 0}
      />
      <path
        d={closedPath(outline.map(from))}
        fill="color-mix(in srgb, var(--ink) 5%, var(--sheet))"
        stroke="var(--ink)"
        strokeWidth="1.6"
      />
      {moved && before && (
        <path
          d={closedPath(soleBelow(before, ball, heel).map(from))}
          fill="none"
          stroke="var(--faint)"
          strokeDasharray="4 4"
        />
      )}
      {other && (
        <path
          d={closedPath(soleBelow(other, ball, heel).map(from))}
          fill="none"
          stroke="var(--ink)"
          strokeDasharray="9 3 2 3"
        />
      )}
      <SoleMarks spec={spec} shape={shape} from={from} scale={scale} halfAt={halfAt} ball={ball} />
      <StudsBelow studs={studs} from={from} scale={scale} />
      <Cleats cleat={cleat} from={from} length={length} scale={scale} />
      <text x={left + length * scale + 6} y={below + 4} fontSize="11" fill="var(--faint)">
        from below
      </text>
      {marks.map(([part, at, tag]) => {
        const number = numbers[part];
        if (number === undefined) return null;
        const [x1, y1] = side(at);
        const [x2, y2] = part === "last" ? from([0.97 * length, -0.34 * ball]) : side(tag);
        return (
          <Balloon key={part} from={part === "last" ? null : [x1, y1]} at={[x2, y2]} on={open === part}>
            <Numbered part={part} number={number} at={[x2, y2]} on={open === part} onOpen={onOpen} />
          </Balloon>
        );
      })}
    </Frame>
  );
}
