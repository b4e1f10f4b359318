/** The pedal at its hardest: force, the sole bending over the axle, and the watts each sole gives away. */

import { useState } from "react";
import { useCalc } from "../api/calc";
import type { Schemas } from "../api/client";
import { Frame } from "../drawing/axis";
import { closedPath, sideProfile } from "../drawing/foot";
import { Handle } from "../drawing/Handle";
import { Sweep } from "./Sweep";
import { Tried } from "./Tried";

export function PedalStroke({ rider, width = 340 }: { rider: Schemas["Rider"]; width?: number }) {
  const { stiff } = rider;
  const [sole, setSole] = useState<number | null>(null);
  const given = sole === null ? rider.given : { ...rider.given, sole_n_mm_per_deg: sole };
  const dragged = sole !== null;
  const { found: soft, trouble } = useCalc<Schemas["PedalOut"]>("pedal", given, dragged, rider.soft);
  const height = 140;
  const scale = 250 / (given.foot_mm ?? 265);
  const axle: [number, number] = [
    36 + (soft.cleat_from_heel_mm ?? 0.67 * (given.foot_mm ?? 265)) * scale,
    100,
  ];
  const foot = sideProfile(given.foot_mm ?? 265, 0.25 * (given.foot_mm ?? 265)).map(
    ([x, z]): [number, number] => [36 + x * scale, axle[1] - 14 - Math.min(z, 86) * scale],
  );
  const bend = Math.min(((soft.peak_force_n * given.offset_mm) / given.sole_n_mm_per_deg) * 2, 16);
  const cleat = soft.cleat_from_heel_mm;
  return (
    <figure data-drawing="pedal-stroke">
      <Frame
        role="group"
        width={width}
        height={height}
        label={`${soft.peak_force_n.toFixed(0)} N at the hardest point of the stroke`}
      >
        <circle cx={axle[0]} cy={axle[1]} r="6" fill="none" stroke="var(--ink)" strokeWidth="2" />
        <path
          d={`M${axle[0] - 26} ${axle[1]}H${axle[0] + 26}M${axle[0]} ${axle[1]}L${axle[0] + 34} ${height - 4}`}
          stroke="var(--ink)"
          strokeWidth="3"
        />
        <path
          d={`M40 ${axle[1] - 10 + bend / 3}Q${axle[0] - 70} ${axle[1] - 8} ${axle[0]} ${axle[1] - 10}Q${axle[0] + 50} ${axle[1] - 10} 300 ${axle[1] - 10 + bend}`}
          fill="none"
          stroke="var(--madder)"
          strokeWidth="4"
        />
        <path
          d={closedPath(foot)}
          fill="color-mix(in srgb, var(--right) 10%, transparent)"
          stroke="var(--right)"
          strokeWidth="1.8"
        />
        <Handle
          label="Stiffness of the sole"
          x={300}
          y={axle[1] - 10 + bend}
          value={given.sole_n_mm_per_deg}
          least={300}
          most={6500}
          step={100}
          unit="N·mm/°"
          along={{ y: -0.012 }}
          onMove={setSole}
        />
        <path d={`M${axle[0] + 20} 8V58m-5-9l5 10 5-10`} stroke="var(--ink)" strokeWidth="2" fill="none" />
        <text x={axle[0] + 30} y="18" fontSize="13" className="font-mono" fill="var(--ink)">
          {soft.peak_force_n.toFixed(0)} N
        </text>
        {cleat != null && (
          <g>
            <path d={`M40 ${height - 12}H${axle[0]}`} stroke="var(--faint)" />
            <text x="44" y={height - 16} fontSize="12" className="font-mono" fill="var(--faint)">
              {cleat.toFixed(0)} mm
            </text>
          </g>
        )}
      </Frame>
      <Sweep
        width={width}
        height={110}
        label="Watts lost with softer and stiffer soles"
        points={soft.sweep
          .filter((s) => s.sole_n_mm_per_deg >= 700)
          .map((s) => ({ x: s.sole_n_mm_per_deg, y: s.loss_w }))}
        at={{ x: given.sole_n_mm_per_deg, y: soft.loss_w }}
        xUnit="sole, N·mm/°"
        yUnit="W lost"
      />
      <figcaption className="text-sm">
        <Tried tried={dragged} trouble={trouble} onBack={() => setSole(null)} /> {given.power_w} W at{" "}
        {given.cadence_rpm} rpm: {soft.loss_w.toFixed(1)} W lost{" "}
        {sole === null ? "at the soft end of the band" : `with ${given.sole_n_mm_per_deg} N·mm/°`},{" "}
        {stiff.loss_w.toFixed(1)} W at the stiff end ({soft.loss_pct.toFixed(2)} and{" "}
        {stiff.loss_pct.toFixed(2)} %). Whether it matters is disputed.
        {cleat != null && ` Axle under the ball: ${cleat.toFixed(0)} mm from the heel.`}
      </figcaption>
    </figure>
  );
}
