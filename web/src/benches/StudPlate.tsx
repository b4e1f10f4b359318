/** Stud plates from below on this ground: where they press, how they grip and what turning takes. */

import { useRef, useState } from "react";
import { useCalc } from "../api/calc";
import type { Schemas } from "../api/client";
import { Frame } from "../drawing/axis";
import { closedPath, shoeOutline } from "../drawing/foot";
import { Handle } from "../drawing/Handle";
import { OneOf } from "../ui/choice";
import { Tried } from "./Tried";

type Stud = Schemas["Stud"];
interface Under {
  traction: { forward: number };
  worst_pressure_kpa: number;
  torque_n_m: number;
}
/** Where a player on the ball of the foot loads the plate, share of the foot. */
const LOADED_AT = 0.6;
/** Plates with more studs than this are dragged by none of them: a finger could not tell them apart. */
const FEW = 16;
/** A finger's reach round a stud, px. */
const FINGER = 22;

const SHORT: Record<string, string> = {
  soft_ground: "Long studs",
  firm_ground_round: "Round studs",
  firm_ground_blade: "Blades",
  hard_ground: "Many short",
  artificial_grass: "Short round",
  turf: "Nubs",
  indoor: "Flat gum",
  own: "Its own",
};

interface Props {
  ground: Schemas["OnGround"];
  word: (value: string) => string;
  width?: number;
}

export function StudPlate({ ground, word, width = 340 }: Props) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [load, setLoad] = useState<number | null>(null);
  /** Studs dragged from their places, by plate and number. */
  const [moved, setMoved] = useState<Record<string, { x_mm: number; y_mm: number }>>({});
  const held = useRef<{ i: number; x: number; y: number } | null>(null);
  const shown = ground.plates.find((p) => p.plate === chosen) ?? ground.plates[0];
  const place = (i: number) => `${shown?.plate}/${i}`;
  const studs: Stud[] = (shown?.studs ?? []).map((s, i) => ({ ...s, ...moved[place(i)] }));
  const touched = load !== null || studs.some((_, i) => moved[place(i)]);
  const under = {
    studs,
    surface: ground.surface,
    wet: ground.wet,
    cop_mm: [LOADED_AT * ground.foot_mm, 0],
    load_n: load ?? ground.load_n,
  };
  const still = {
    traction: { forward: shown?.grip ?? 0 },
    worst_pressure_kpa: shown?.worst_pressure_kpa ?? 0,
    torque_n_m: shown?.torque_n_m ?? 0,
  };
  const running = useCalc<Under>("studs", under, touched, still);
  const turning = useCalc<Under>("studs", { ...under, load_n: ground.turning_load_n }, touched, still);
  if (!shown) return null;
  const plate = {
    ...shown,
    studs,
    grip: running.found.traction.forward,
    worst_pressure_kpa: running.found.worst_pressure_kpa,
    torque_n_m: turning.found.torque_n_m,
  };
  const back = () => {
    setLoad(null);
    setMoved({});
  };
  const scale = (width - 20) / ground.foot_mm;
  const plan = 0.44 * (width - 20) + 6;
  const height = plan + 34;
  const at = (x: number, y: number): [number, number] => [10 + x * scale, plan / 2 - y * scale];
  const put = (i: number, x: number, y: number) =>
    setMoved({
      ...moved,
      [place(i)]: {
        x_mm: Math.round(Math.min(Math.max(x, 5), ground.foot_mm)),
        y_mm: Math.round(Math.min(Math.max(y, -60), 60)),
      },
    });
  const loadX = (n: number) => 60 + ((n - 200) / 3800) * (width - 120);
  const foot = ground.foot_mm;
  const outline = shoeOutline(foot, 0.4 * foot, 0.27 * foot).map(([across, along]) => at(along, -across));
  const bars: [string, number, number, string][] = [
    ["Grip", plate.grip, 1.2, plate.grip.toFixed(2)],
    ["Turning", plate.torque_n_m, ground.torque_high * 1.5, `${plate.torque_n_m.toFixed(0)} N·m`],
    [
      "Pressure",
      plate.worst_pressure_kpa,
      ground.pressure_most * 2,
      `${plate.worst_pressure_kpa.toFixed(0)} kPa`,
    ],
  ];
  const most: Record<string, number> = { Turning: ground.torque_high, Pressure: ground.pressure_most };
  return (
    <figure data-drawing="stud-plate" data-plate={plate.plate}>
      <OneOf
        label="Plate from below"
        value={plate.plate}
        options={ground.plates.map((p) => ({ value: p.plate, text: SHORT[p.plate] ?? p.plate }))}
        onChange={(v) => {
          back();
          setChosen(v);
        }}
        columns="flex flex-wrap gap-1 text-sm *:px-2"
      />
      <Frame
        role="group"
        width={width}
        height={height}
        label={`${word(plate.plate)} from below, ${plate.studs.length} studs, to scale`}
      >
        <path
          d={closedPath(outline)}
          fill="color-mix(in srgb, var(--ink) 6%, var(--sheet))"
          stroke="var(--ink)"
          strokeWidth="1.4"
        />
        {plate.studs.length > FEW &&
          plate.studs.map((s) => (
            <OneStud key={`${s.x_mm}/${s.y_mm}`} stud={s} at={at} scale={scale} loose={false} />
          ))}
        {plate.studs.length <= FEW &&
          plate.studs.map((s, i) => (
            <g
              key={i}
              data-stud={i}
              className="cursor-grab touch-none"
              role="slider"
              tabIndex={0}
              aria-label={`Stud ${i + 1}`}
              aria-valuenow={Math.round(s.x_mm)}
              aria-valuetext={`${s.x_mm.toFixed(0)} mm from the heel, ${s.y_mm.toFixed(0)} mm inward`}
              onKeyDown={(e) => {
                const way = { ArrowRight: [2, 0], ArrowLeft: [-2, 0], ArrowUp: [0, 2], ArrowDown: [0, -2] }[
                  e.key
                ];
                if (!way) return;
                e.preventDefault();
                e.stopPropagation();
                put(i, s.x_mm + (way[0] ?? 0), s.y_mm + (way[1] ?? 0));
              }}
              onPointerDown={(e) => {
                e.currentTarget.setPointerCapture(e.pointerId);
                held.current = {
                  i,
                  x: e.clientX / drawn(e) - s.x_mm * scale,
                  y: e.clientY / drawn(e) + s.y_mm * scale,
                };
              }}
              onPointerMove={(e) => {
                const from = held.current;
                if (from?.i !== i) return;
                put(i, (e.clientX / drawn(e) - from.x) / scale, (from.y - e.clientY / drawn(e)) / scale);
              }}
              onPointerUp={() => {
                held.current = null;
              }}
              onPointerCancel={() => {
                held.current = null;
              }}
            >
              <OneStud stud={s} at={at} scale={scale} loose={!!moved[place(i)]} />
            </g>
          ))}
        <path d={`M60 ${plan + 16}H${width - 60}`} stroke="var(--faint)" />
        <text x="4" y={plan + 20} fontSize="12" fill="var(--ink)">
          Load
        </text>
        <text x={width - 52} y={plan + 20} fontSize="12" className="font-mono" fill="var(--ink)">
          {under.load_n.toFixed(0)} N
        </text>
        <Handle
          label="Load on one foot"
          x={loadX(under.load_n)}
          y={plan + 16}
          value={under.load_n}
          least={200}
          most={4000}
          step={20}
          unit="N"
          along={{ x: (width - 120) / 3800 }}
          onMove={setLoad}
        />
      </Frame>
      <table className="w-full text-sm">
        <tbody>
          {bars.map(([name, value, full, said]) => (
            <tr key={name}>
              <th className="w-20 text-left font-normal">{name}</th>
              <td>
                <svg width="150" height="14" viewBox="0 0 150 14" aria-hidden="true">
                  <rect x="0" y="4" width="150" height="6" fill="none" stroke="var(--line)" />
                  <rect x="0" y="4" width={Math.min(value / full, 1) * 150} height="6" fill="var(--ink)" />
                  {most[name] && (
                    <path
                      d={`M${((most[name] ?? 0) / full) * 150} 0v14`}
                      stroke="var(--madder)"
                      strokeWidth="2"
                    />
                  )}
                </svg>
              </td>
              <td className="text-right font-mono">{said}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <figcaption className="text-faint text-sm">
        <Tried tried={touched} trouble={running.trouble ?? turning.trouble} onBack={back} /> Running on the
        ball of one foot; turning at the turf test's load. The mark is the most wanted.
      </figcaption>
    </figure>
  );
}

/** Drawing units a screen pixel takes. */
const drawn = (e: React.PointerEvent<SVGGElement>): number =>
  e.currentTarget.ownerSVGElement?.getScreenCTM()?.a || 1;

interface OneStudProps {
  stud: Stud;
  at: (x: number, y: number) => [number, number];
  scale: number;
  /** Dragged from its place. */
  loose: boolean;
}

function OneStud({ stud, at, scale, loose }: OneStudProps) {
  const [x, y] = at(stud.x_mm, stud.y_mm);
  const ink = loose ? "var(--madder)" : "var(--ink)";
  if (stud.shape === "blade") {
    const long = (stud.length_mm ?? 20) * scale;
    const thick = (stud.width_mm ?? 6) * scale;
    return (
      <>
        <rect
          x={x - long / 2}
          y={y - thick / 2}
          width={long}
          height={thick}
          rx="1.5"
          transform={`rotate(${-(stud.angle_deg ?? 0)} ${x} ${y})`}
          fill={ink}
        />
        <circle cx={x} cy={y} r={FINGER} fill="transparent" />
      </>
    );
  }
  return (
    <>
      <circle cx={x} cy={y} r={((stud.diameter_mm ?? 8) / 2) * scale} fill={ink} />
      <circle cx={x} cy={y} r={FINGER} fill="transparent" />
    </>
  );
}
