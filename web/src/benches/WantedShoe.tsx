/** The wanted shoe, side view and sole from below, to scale: what is wanted drawn and hatched, its range as a ghost. */
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { Frame } from "../drawing/axis";
import { closedPath } from "../drawing/foot";
import { Dimension, Ruler } from "../drawing/kit";
import {
  bed,
  brokenPath,
  FOLD,
  foldDeg,
  folded,
  openPath,
  type ShoeShape,
  shoeShape,
  soleBelow,
  soleSide,
  underside,
  upperSide,
  type Values,
} from "../drawing/shoe";
import { SPOTS } from "../drawing/spots";
import type { PartName } from "../stations/spec/parts";

type Point = readonly [number, number];
type Spec = Schemas["Spec"];

/** Another shoe laid into the wanted one: the one worn now, or one looked at. */
export interface Laid {
  name: string;
  values: Values;
  choices?: Record<string, string>;
}

interface Props {
  spec: Spec;
  /** The spec before an answer was tried. */
  was?: Spec | undefined;
  laid?: Laid | undefined;
  footMm: number;
  /** Where the numbers of the parts stand in the list beside. */
  numbers: Partial<Record<PartName, number>>;
  open: PartName | null;
  onOpen: (part: PartName) => void;
  width?: number;
}

/** A finger's reach round a number, drawing units: 44 px where the drawing is narrowest. */
const FINGER = 28;
const MATERIAL_MM = 6;
const USUAL_ROOM_MM = 9;
/** Holder and steel under a skate. House default. */
const BLADE_MM = 42;

const middles = (spec: Spec): Values =>
  Object.fromEntries(Object.entries(spec.properties).map(([n, b]) => [n, (b.low + b.high) / 2]));

/** What is drawn of a spec's feature: wanted or needed. */
const wants = (spec: Spec, name: string): boolean =>
  spec.features?.[name] !== undefined && spec.features[name].wish !== "avoid";

export function WantedShoe({ spec, was, laid, footMm, numbers, open, onOpen, width = 560 }: Props) {
  const room = spec.fit.toe_room_mm;
  const length = footMm + (room ? (room.low + room.high) / 2 : USUAL_ROOM_MM) + MATERIAL_MM;
  const values = middles(spec);
  const shape = shoeShape(values, spec.sport, length);
  const scale = (width - 96) / 330;
  const left = 58;
  const blade = spec.sport === "ice" ? BLADE_MM : 0;
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
  const ground_ = spec.choices.plate?.[0]?.value ?? spec.choices.sole?.[0]?.value ?? "";
  const cleat = spec.choices.cleat?.[0]?.value;
  const halfAt = (share: number): [middle: number, half: number] => {
    const near = (sign: number) =>
      outline.filter(([x, y]) => Math.abs(x / length - share) < 0.09 && sign * y >= 0).map(([, y]) => y);
    const up = Math.max(...near(1), 0.16 * ball);
    const down = Math.min(...near(-1), -0.16 * ball);
    return [(up + down) / 2, (up - down) / 2];
  };
  const other = laid && shoeShape({ ...values, ...laid.values }, spec.sport, length);
  const before = was && shoeShape(middles(was), spec.sport, length);
  const moved = before && JSON.stringify(before) !== JSON.stringify(shape);
  const stackLine = ends("heel_stack_mm");
  const marks: [PartName, Point, Point][] = [
    ["heel", [-0.03 * length, 0.35 * shape.stack], [-0.1 * length, 0.2 * shape.stack]],
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
      <Worn shape={shape} spec={spec} side={side} scale={scale} closure={closure} />
      {/* the sole */}
      <path
        d={brokenPath(sides(soleSide(shape)), true)}
        fill="color-mix(in srgb, var(--madder) 16%, var(--sheet))"
        stroke="var(--madder)"
        strokeWidth="1.6"
      />
      {blade > 0 && (
        <g fill="none" stroke="var(--ink)" strokeWidth="1.6" data-drawn="blade">
          <path
            d={`${brokenPath(
              sides([
                [0.06 * length, 0],
                [0.1 * length, -0.5 * BLADE_MM],
                [0.28 * length, -0.5 * BLADE_MM],
                [0.33 * length, 0],
              ]),
            )}${brokenPath(
              sides([
                [0.58 * length, 0.5],
                [0.63 * length, -0.5 * BLADE_MM],
                [0.88 * length, -0.5 * BLADE_MM],
                [0.93 * length, 1],
              ]),
            )}`}
          />
          <path
            d={openPath(
              sides([
                [-0.02 * length, -0.78 * BLADE_MM],
                [0.06 * length, -0.96 * BLADE_MM],
                [0.45 * length, -BLADE_MM],
                [0.9 * length, -0.97 * BLADE_MM],
                [1.02 * length, -0.62 * BLADE_MM],
              ]),
            )}
            strokeWidth="3"
          />
          <path
            d={brokenPath(
              sides([
                [0.02 * length, -0.52 * BLADE_MM],
                [0.98 * length, -0.52 * BLADE_MM],
              ]),
            )}
          />
        </g>
      )}
      <StudsSide at={SPOTS[ground_]} shape={shape} side={side} scale={scale} />
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
      <Below spec={spec} shape={shape} from={from} scale={scale} halfAt={halfAt} ball={ball} />
      <StudsBelow at={SPOTS[ground_]} from={from} scale={scale} length={length} halfAt={halfAt} />
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
            <a
              href={`#part-${part}`}
              aria-label={`Part ${number}`}
              data-balloon={part}
              tabIndex={-1}
              onClick={(e) => {
                e.preventDefault();
                onOpen(part);
              }}
            >
              <circle cx={x2} cy={y2} r={FINGER} fill="transparent" />
              <circle
                cx={x2}
                cy={y2}
                r="10.5"
                fill={open === part ? "var(--ink)" : "var(--sheet)"}
                stroke="var(--ink)"
              />
              <text
                x={x2}
                y={y2 + 4}
                textAnchor="middle"
                fontSize="12"
                className="font-mono"
                fill={open === part ? "var(--sheet)" : "var(--ink)"}
              >
                {number}
              </text>
            </a>
          </Balloon>
        );
      })}
    </Frame>
  );
}

const along = (length: number): number[] => Array.from({ length: 21 }, (_, i) => (i / 20) * length);

/** The drawing in a few words, for who can't see it. */
function parts(spec: Spec, shape: ShoeShape): string {
  const said = [
    spec.properties.heel_stack_mm && `heel ${shape.stack.toFixed(0)} mm`,
    spec.properties.drop_mm && `drop ${shape.drop.toFixed(0)} mm`,
    spec.properties.downturn_deg && `downturn ${shape.downturn.toFixed(0)}°`,
    shape.bend !== null && `folds ${foldDeg(shape.bend).toFixed(0)}° under two hands`,
  ].filter(Boolean);
  return said.length ? `${said.join(", ")}.` : "";
}

function Balloon({
  from,
  at,
  on,
  children,
}: {
  from: Point | null;
  at: Point;
  on: boolean;
  children: ReactNode;
}) {
  return (
    <g>
      {from && (
        <path
          d={`M${from[0]} ${from[1]}L${at[0]} ${at[1]}`}
          stroke="var(--ink)"
          strokeWidth={on ? 1.8 : 0.9}
          opacity={on ? 1 : 0.65}
        />
      )}
      {children}
    </g>
  );
}

function Outline(props: {
  shape: ShoeShape;
  sides: (points: readonly Point[]) => Point[];
  dash: string;
  ink: string;
  mark: string;
}) {
  const { shape, sides, dash, ink, mark } = props;
  return (
    <g fill="none" stroke={ink} strokeDasharray={dash} strokeWidth="1.4" data-outline={mark}>
      <path d={brokenPath(sides(soleSide(shape)), true)} />
      <path d={openPath(sides(upperSide(shape)))} />
    </g>
  );
}

/** A hand pressing the toe up where the sole is folded. */
function Hand({ shape, side }: { shape: ShoeShape; side: (p: Point) => Point }) {
  const line = folded(shape);
  const tip = line[line.length - 1];
  if (!tip) return null;
  const [x, y] = side(tip);
  const [px, py] = side([FOLD * shape.length, underside(shape, FOLD * shape.length)]);
  const away = Math.hypot(x - px, y - py) || 1;
  const [ux, uy] = [(x - px) / away, (y - py) / away];
  const [bx, by] = [x + uy * -26 - ux * 6, y + ux * 26 - uy * 6];
  return (
    <g stroke="var(--ink)" fill="none" strokeWidth="1.4" aria-hidden="true">
      <path d={`M${bx} ${by}L${x - ux * 6} ${y - uy * 6}`} />
      <path
        d={`M${x - ux * 6} ${y - uy * 6}l${-uy * 7 - ux * 4} ${ux * 7 - uy * 4}m${uy * 7 + ux * 4} ${-ux * 7 + uy * 4}l${-uy * 7 + ux * 4} ${ux * 7 + uy * 4}`}
      />
      <circle cx={px} cy={py} r="3" fill="var(--ink)" />
    </g>
  );
}

interface WornProps {
  shape: ShoeShape;
  spec: Spec;
  side: (p: Point) => Point;
  scale: number;
  closure: string | undefined;
}

/** What sits on the upper: guards and cups hatched where they are wanted, closure, insole, tabs. */
function Worn({ shape, spec, side, scale, closure }: WornProps) {
  const l = shape.length;
  const at = (share: number, up: number): Point => side([share * l, bed(shape, share * l) + up]);
  const path = (points: readonly Point[]) => brokenPath(points, true);
  const firm = (spec.properties.heel_counter?.low ?? 0) >= 5;
  const cup = Math.min(shape.collar * 0.6, 46);
  const rubber = spec.properties.toe_rubber;
  const cap = rubber ? 0.99 - 0.22 * ((rubber.low + rubber.high) / 2) : 0.88;
  const guarded = wants(spec, "toe_guard") || wants(spec, "toe_patch") || (rubber?.low ?? 0) >= 0.4;
  const laced = closure === "laces" || closure === "laces_strap" || closure === undefined;
  const straps = { strap_1: 1, strap_2: 2, strap_3: 3, laces_strap: 1 }[closure ?? ""] ?? 0;
  const strapAt = straps === 1 ? [0.47] : straps === 2 ? [0.42, 0.55] : [0.38, 0.49, 0.6];
  const tied = wants(spec, "tie_down") && !straps;
  const instep = (share: number): number =>
    (share < 0.5 ? 0.285 - (share - 0.4) * 0.5 : 0.235 - (share - 0.5) * 0.45) * l;
  return (
    <g strokeLinejoin="round">
      {firm && (
        <path
          d={path([at(0.004, 1), at(-0.012, cup * 0.4), at(0.0, cup), at(0.1, cup * 0.9), at(0.17, 1)])}
          fill="url(#wanted)"
          stroke="var(--madder)"
          data-wanted="heel_counter"
        />
      )}
      {guarded && (
        <path
          d={path([
            at(1, 1),
            at(0.99, 0.034 * l),
            at(0.955, 0.066 * l),
            at(Math.max(cap, 0.8), (cap < 0.87 ? 0.1 : 0.088) * l),
            at(Math.max(cap, 0.8) - 0.01, 1),
          ])}
          fill="url(#wanted)"
          stroke="var(--madder)"
          data-wanted="toe_guard"
        />
      )}
      {(wants(spec, "medial_guard") || wants(spec, "rope_guard")) && (
        <path
          d={path(
            wants(spec, "medial_guard")
              ? [at(0.52, 1), at(0.56, 0.06 * l), at(0.8, 0.055 * l), at(0.86, 1)]
              : [at(0.34, 1), at(0.38, 0.1 * l), at(0.52, 0.1 * l), at(0.56, 1)],
          )}
          fill="url(#wanted)"
          stroke="var(--madder)"
          data-wanted="guard"
        />
      )}
      {wants(spec, "breathable") && (
        <path
          d={path([at(0.62, 0.05 * l), at(0.62, 0.14 * l), at(0.8, 0.095 * l), at(0.84, 0.05 * l)])}
          fill="url(#breathes)"
        />
      )}
      {wants(spec, "membrane") && (
        <path
          d={openPath([at(0.34, 0.2 * l), at(0.5, 0.17 * l), at(0.7, 0.11 * l), at(0.93, 0.05 * l)])}
          fill="none"
          stroke="var(--madder)"
          strokeDasharray="7 2"
        />
      )}
      {wants(spec, "removable_insole") && (
        <path
          d={openPath([at(0.03, 4), at(0.25, 4), at(0.5, 4), at(0.75, 4), at(0.94, 4)])}
          fill="none"
          stroke="var(--madder)"
          strokeWidth="2.2"
          strokeDasharray="9 3"
          data-wanted="removable_insole"
        />
      )}
      {spec.properties.arch_support && (
        <path
          d={openPath([
            at(0.28, 3),
            at(0.42, 3 + 1.6 * ((spec.properties.arch_support.low + spec.properties.arch_support.high) / 2)),
            at(0.6, 3),
          ])}
          fill="none"
          stroke="var(--madder)"
          strokeWidth="1.6"
        />
      )}
      {wants(spec, "heel_tab") && (
        <path
          d={openPath([at(-0.004, shape.collar), at(-0.022, shape.collar + 12), at(0.012, shape.collar + 8)])}
          fill="none"
          stroke="var(--madder)"
          strokeWidth="2.4"
        />
      )}
      {laced &&
        [0.42, 0.475, 0.53, 0.585].map((share) => {
          const [x, y] = at(share, instep(share));
          return (
            <path
              key={share}
              d={`M${x - 9 * scale} ${y + 9 * scale}L${x + 2} ${y}`}
              stroke="var(--ink)"
              strokeWidth="2"
              strokeLinecap="round"
            />
          );
        })}
      {wants(spec, "high_eyelet") && <circle {...spot(at(0.34, 0.27 * l))} r="3.4" fill="var(--madder)" />}
      {(straps > 0 || tied) &&
        (tied ? [0.47] : strapAt).map((share) => {
          const [x, y] = at(share, instep(share));
          const [, low] = at(share, instep(share) * 0.36);
          return (
            <path
              key={share}
              d={`M${x - 12} ${y - 1}L${x + 8} ${y + 4}L${x - 2} ${low}L${x - 22} ${low}z`}
              fill="var(--sheet)"
              stroke={tied ? "var(--madder)" : "var(--ink)"}
              strokeWidth="1.6"
            />
          );
        })}
      {(closure === "dial" || closure === "ratchet") && (
        <g stroke="var(--ink)" fill="var(--sheet)" strokeWidth="1.6">
          <circle {...spot(at(0.44, 0.2 * l))} r={9 * scale} />
          <circle {...spot(at(0.44, 0.2 * l))} r={4 * scale} strokeDasharray="2 2" />
        </g>
      )}
      {closure === "slipper" && (
        <path
          d={openPath([at(0.3, 0.22 * l), at(0.38, 0.16 * l), at(0.44, 0.06 * l)])}
          stroke="var(--ink)"
          strokeWidth="5"
          strokeDasharray="1.5 2"
          fill="none"
        />
      )}
    </g>
  );
}

const spot = ([cx, cy]: Point) => ({ cx, cy });

/** Studs seen from the side, under the sole. */
function StudsSide({
  at,
  shape,
  side,
  scale,
}: {
  at: (typeof SPOTS)[string] | undefined;
  shape: ShoeShape;
  side: (p: Point) => Point;
  scale: number;
}) {
  if (!at) return null;
  const tall = Math.min(at.shape === "bar" ? 5 : at.size * 1.6, 12) * scale;
  const shares = [...new Set(at.at.map(([share]) => share))];
  return (
    <g fill="var(--ink)">
      {shares.map((share) => {
        const [x, y] = side([share * shape.length, underside(shape, share * shape.length)]);
        const w = Math.max(at.size * 1.4 * scale, 2);
        return (
          <path
            key={share}
            d={`M${x - w / 2} ${y}L${x - w / 3} ${y + tall}H${x + w / 3}L${x + w / 2} ${y}z`}
          />
        );
      })}
    </g>
  );
}

interface BelowProps {
  spec: Spec;
  shape: ShoeShape;
  from: (p: Point) => Point;
  scale: number;
  halfAt: (share: number) => [number, number];
  ball: number;
}

/** What is wanted of the sole, from below. */
function Below({ spec, shape, from, scale, halfAt, ball }: BelowProps) {
  const l = shape.length;
  const [middle, half] = halfAt(0.72);
  const across = (share: number, side: number): Point => {
    const [m, h] = halfAt(share);
    return from([share * l, m + side * h]);
  };
  return (
    <g fill="none" stroke="var(--madder)" strokeWidth="1.6">
      {(wants(spec, "shank") || wants(spec, "bridged_midsole")) && (
        <path
          d={brokenPath([across(0.33, 0.5), across(0.5, 0.4), across(0.5, -0.4), across(0.33, -0.5)], true)}
          fill="url(#wanted)"
          data-wanted="shank"
        />
      )}
      {wants(spec, "turning_spot") && (
        <circle
          {...spot(from([0.72 * l, middle + 0.15 * half]))}
          r={0.17 * ball * scale}
          data-wanted="turning_spot"
        />
      )}
      {wants(spec, "lateral_guard") && (
        <path d={openPath([across(0.56, -1.08), across(0.68, -1.1), across(0.8, -1.06)])} strokeWidth="5" />
      )}
      {wants(spec, "medial_guard") && (
        <path d={openPath([across(0.56, 1.06), across(0.7, 1.08), across(0.84, 1.05)])} strokeWidth="5" />
      )}
      {wants(spec, "drain_holes") &&
        [0.6, 0.68, 0.76].map((share) => <circle key={share} {...spot(across(share, 0.1))} r="2.6" />)}
      {spec.properties.twist_n_mm_per_deg && (
        <path
          d={openPath([across(0.38, 0.75), across(0.42, 0), across(0.46, -0.75)])}
          strokeDasharray="3 3"
          stroke="var(--faint)"
        />
      )}
    </g>
  );
}

function StudsBelow({
  at,
  from,
  scale,
  length,
  halfAt,
}: {
  at: (typeof SPOTS)[string] | undefined;
  from: (p: Point) => Point;
  scale: number;
  length: number;
  halfAt: (share: number) => [number, number];
}) {
  if (!at) return null;
  return (
    <g fill="var(--ink)" data-studs={at.at.length}>
      {at.at.map(([share, y]) => {
        const [m, h] = halfAt(share);
        const [cx, cy] = from([share * length, m + y * h * 0.92]);
        const key = `${share}/${y}`;
        const r = at.size * scale;
        if (at.shape === "round") return <circle key={key} cx={cx} cy={cy} r={r} />;
        const thin = at.shape === "blade" ? r * 0.35 : r * 0.5;
        return at.shape === "blade" ? (
          <rect key={key} x={cx - r} y={cy - thin} width={2 * r} height={2 * thin} rx="1.5" />
        ) : (
          <rect key={key} x={cx - thin} y={cy - r} width={2 * thin} height={2 * r} rx="1.5" />
        );
      })}
    </g>
  );
}

/** Where cleats are bolted on. */
function Cleats({
  cleat,
  from,
  length,
  scale,
}: {
  cleat: string | undefined;
  from: (p: Point) => Point;
  length: number;
  scale: number;
}) {
  const two: Point[] = [
    [0.66, 7],
    [0.66, -7],
    [0.72, 7],
    [0.72, -7],
  ];
  const three: Point[] = [
    [0.76, 0],
    [0.63, 19],
    [0.63, -19],
  ];
  const holes =
    cleat === "two_bolt" ? two : cleat === "three_bolt" ? three : cleat === "both" ? [...two, ...three] : [];
  return (
    <g fill="var(--sheet)" stroke="var(--madder)" strokeWidth="1.8">
      {holes.map(([share, y]) => (
        <circle key={`${share}/${y}`} {...spot(from([share * length, y]))} r={3.4 * scale} />
      ))}
    </g>
  );
}
