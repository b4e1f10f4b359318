/** The lifter at depth from the side, flat and with the wanted heel, to scale; and trunk lean over heel. */

import { useState } from "react";
import { useCalc } from "../api/calc";
import type { Schemas } from "../api/client";
import { Frame } from "../drawing/axis";
import { Handle } from "../drawing/Handle";
import { Sweep } from "./Sweep";
import { Tried } from "./Tried";

type Point = [number, number];

export function Lifter({ lifter, width = 340 }: { lifter: Schemas["Lifter"]; width?: number }) {
  const { flat } = lifter;
  const [heel_, setHeel] = useState<number | null>(null);
  const given = heel_ === null ? lifter.given : { ...lifter.given, drop_mm: heel_ };
  const dragged = heel_ !== null;
  const { found, trouble } = useCalc<Schemas["SquatOut"]>("squat", given, dragged, lifter.found);
  const height = 216;
  const all = [...found.joints, ...flat.joints] as Point[];
  const low = Math.min(...all.map((p) => p[1])) - 30;
  const top = Math.max(...all.map((p) => p[1]), ...[found, flat].map((f) => (f.joints[6]?.[1] ?? 0) + 225));
  const scale = (height - 16) / (top - low);
  const middle = (Math.min(...all.map((p) => p[0])) + Math.max(...all.map((p) => p[0]))) / 2;
  const at = ([x, z]: Point): Point => [width / 2 + (x - middle) * scale, height - 8 - (z - low) * scale];
  const body = (joints: Point[], ink: string, dash?: string) => {
    const [toe, heel, ankle, knee, hip, shoulder, bar] = joints.map(at) as Point[];
    if (!toe || !heel || !ankle || !knee || !hip || !shoulder || !bar) return null;
    const line = [ankle, knee, hip, shoulder].map((p) => p.map((v) => v.toFixed(1)).join(" ")).join("L");
    return (
      <g stroke={ink} fill="none" strokeDasharray={dash}>
        <path
          d={`M${heel.join(" ")}L${toe.join(" ")}M${heel.join(" ")}L${ankle.join(" ")}L${toe.join(" ")}`}
          strokeWidth="2"
        />
        <path d={`M${line}`} strokeWidth={dash ? 2 : 4.5} strokeLinecap="round" strokeLinejoin="round" />
        <circle cx={bar[0]} cy={bar[1]} r="5" fill={dash ? "none" : ink} />
        {!dash && <circle cx={bar[0]} cy={bar[1]} r={225 * scale} strokeWidth="1.2" strokeDasharray="4 4" />}
      </g>
    );
  };
  const [toe, heel] = found.joints.map((p) => at(p as Point)) as [Point, Point];
  const ground = at([0, low + 30])[1];
  const lean = found.trunk_lean_deg;
  const hip = at(found.joints[4] as Point);
  const text =
    lean == null
      ? "No balance over the foot with this heel."
      : `Trunk ${lean.toFixed(0)}° with ${given.drop_mm} mm, ${flat.trunk_lean_deg?.toFixed(0) ?? "no balance"}° flat.`;
  return (
    <figure data-drawing="lifter">
      <Frame role="group" width={width} height={height} label={`The lifter at depth. ${text}`}>
        <path d={`M8 ${ground}H${width - 8}`} stroke="var(--ink)" strokeWidth="1.6" />
        <path
          d={`M${heel[0]} ${heel[1]}V${ground}H${toe[0]}z`}
          fill="color-mix(in srgb, var(--madder) 30%, transparent)"
          stroke="var(--madder)"
        />
        {body(flat.joints as Point[], "var(--faint)", "5 4")}
        {body(found.joints as Point[], "var(--ink)")}
        <Handle
          label="Heel"
          x={heel[0] - 14}
          y={heel[1]}
          value={given.drop_mm ?? 0}
          least={0}
          most={25}
          step={1}
          unit="mm"
          along={{ y: -Math.max(scale, 0.8) * 3 }}
          onMove={setHeel}
        />
        {lean != null && (
          <g>
            <path d={`M${hip[0]} ${hip[1]}v-70`} stroke="var(--madder)" strokeDasharray="3 3" />
            <text
              x={hip[0] - 6}
              y={hip[1] - 56}
              textAnchor="end"
              fontSize="13"
              className="font-mono"
              fill="var(--madder)"
            >
              {lean.toFixed(0)}°
            </text>
          </g>
        )}
      </Frame>
      <Sweep
        width={width}
        height={104}
        label={`Trunk lean for each heel sold. ${text}`}
        points={found.sweep.map((s) => ({ x: s.drop_mm, y: s.trunk_lean_deg ?? null }))}
        at={{ x: given.drop_mm, y: lean ?? null }}
        xUnit="heel, mm"
        yUnit="trunk, °"
        wanted={{ low: 0, high: lifter.wanted_lean_deg }}
      />
      <figcaption className="text-sm">
        <Tried tried={dragged} trouble={trouble} onBack={() => setHeel(null)} /> {text} Wanted:{" "}
        {lifter.wanted_lean_deg}° or less. Dashed: flat.
      </figcaption>
    </figure>
  );
}
