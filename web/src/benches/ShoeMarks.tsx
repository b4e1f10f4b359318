/** What is wanted of a shoe, hatched or drawn where it sits: on its side, and on its sole from below. */
import type { Schemas } from "../api/client";
import { bed, brokenPath, FOLD, folded, openPath, type ShoeShape, underside } from "../drawing/shoe";

type Point = readonly [number, number];
type Spec = Schemas["Spec"];

/** What is drawn of a spec's feature: wanted or needed. */
const wants = (spec: Spec, name: string): boolean =>
  spec.features?.[name] !== undefined && spec.features[name].wish !== "avoid";

const spot = ([cx, cy]: Point) => ({ cx, cy });

/** A hand pressing the toe up where the sole is folded. */
export function Hand({ shape, side }: { shape: ShoeShape; side: (p: Point) => Point }) {
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

interface SideProps {
  shape: ShoeShape;
  spec: Spec;
  side: (p: Point) => Point;
  scale: number;
  closure: string | undefined;
}

/** What sits on the upper: guards and cups hatched where they are wanted, closure, insole, tabs. */
export function SideMarks({ shape, spec, side, scale, closure }: SideProps) {
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

interface SoleProps {
  spec: Spec;
  shape: ShoeShape;
  from: (p: Point) => Point;
  scale: number;
  halfAt: (share: number) => [number, number];
  ball: number;
}

/** What is wanted of the sole, from below. */
export function SoleMarks({ spec, shape, from, scale, halfAt, ball }: SoleProps) {
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

/** Where cleats are bolted on. */
export function Cleats({
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
