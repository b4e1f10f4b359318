/** The toe on the smallest edge: how far the wanted sole gives, and what longer stands or smaller edges ask. */

import { useState } from "react";
import { useCalc } from "../api/calc";
import type { Schemas } from "../api/client";
import { Frame } from "../drawing/axis";
import { closedPath, sideProfile } from "../drawing/foot";
import { Handle } from "../drawing/Handle";
import { Sweep } from "./Sweep";
import { Tried } from "./Tried";

export function ToeOnEdge({ edge, width = 340 }: { edge: Schemas["OnEdge"]; width?: number }) {
  const { wanted } = edge;
  const [edgeMm, setEdge] = useState<number | null>(null);
  const given = edgeMm === null ? edge.given : { ...edge.given, edge_mm: edgeMm };
  const dragged = edgeMm !== null;
  const { found, trouble } = useCalc<Schemas["EdgeOut"]>("edge", given, dragged, edge.found);
  const scale = (width - 70) / given.foot_mm;
  const held = (found.demand_n_m - found.toe_share_n_m) * 1000;
  const sag = Math.min(Math.max(held / wanted, 0), 35);
  const turn = (sag * Math.PI) / 180;
  const top = 0.37 * given.foot_mm * scale + 24;
  const height = top + Math.max(Math.sin(turn) * (given.foot_mm - given.edge_mm) * scale, 46) + 14;
  const wall = width - 24;
  const rest: [number, number] = [wall - given.edge_mm * scale, top];
  /** A point of the foot, x from the heel, z up, with the foot turned down about the edge. */
  const at = (x: number, z: number): [number, number] => {
    const along = (x - (given.foot_mm - given.edge_mm)) * scale;
    const [dx, dz] = [along, z * scale];
    const here = along < 0 ? turn : 0;
    return [
      rest[0] + dx * Math.cos(here) + dz * Math.sin(here) * 0.6,
      rest[1] - dz * Math.cos(here) - dx * Math.sin(here),
    ];
  };
  const foot = sideProfile(given.foot_mm, 0.25 * given.foot_mm).map(([x, z]) => at(x, z));
  const sole = [0, 0.2, 0.4, 0.6, 0.75, 0.9, 1].map((share) => at(share * given.foot_mm, 0));
  const stances = found.sweep.slice(4);
  const text = `${given.edge_mm} mm edge, ${given.stance_min} min: the toes hold ${((100 * found.toe_share_n_m) / Math.max(found.demand_n_m, 0.01)).toFixed(0)} %, the sole the rest.`;
  return (
    <figure data-drawing="toe-on-edge">
      <Frame role="group" width={width} height={height} label={`The toe on the edge. ${text}`}>
        <path d={`M${wall} 6V${height - 8}`} stroke="var(--ink)" strokeWidth="2.4" />
        <rect
          x={rest[0]}
          y={rest[1] + 2}
          width={given.edge_mm * scale}
          height="20"
          fill="color-mix(in srgb, var(--ink) 16%, transparent)"
          stroke="var(--ink)"
        />
        <path
          d={closedPath(foot)}
          fill="color-mix(in srgb, var(--right) 10%, transparent)"
          stroke="var(--right)"
          strokeWidth="1.8"
        />
        <path
          d={`M${sole.map((p) => p.join(" ")).join("L")}`}
          fill="none"
          stroke="var(--madder)"
          strokeWidth="4.5"
          strokeLinecap="round"
        />
        <Handle
          label="Edge"
          x={rest[0]}
          y={rest[1] + 12}
          value={given.edge_mm}
          least={2}
          most={40}
          step={1}
          unit="mm"
          along={{ x: -Math.max(scale, 1) * 2 }}
          onMove={setEdge}
        />
        <g className="font-mono" fontSize="12" fill="var(--ink)">
          <text x={rest[0] - 4} y={rest[1] + 40} textAnchor="middle">
            {given.edge_mm} mm
          </text>
          <text x="0" y="14">
            {found.demand_n_m.toFixed(1)} N·m, toes {found.toe_share_n_m.toFixed(1)}, sags {sag.toFixed(0)}°
          </text>
        </g>
      </Frame>
      <Sweep
        width={width}
        height={104}
        label={`Stiffness asked for longer stands. ${text}`}
        points={stances.map((s) => ({ x: s.stance_min, y: s.sole_n_mm_per_deg }))}
        at={{ x: given.stance_min, y: found.sole_n_mm_per_deg }}
        xUnit="stand, min"
        yUnit="N·mm/°"
        wanted={{ low: 0, high: edge.smear_limit }}
      />
      <figcaption className="text-sm">
        <Tried tried={dragged} trouble={trouble} onBack={() => setEdge(null)} /> {text} Shaded: what still
        smears. With {(100 * edge.edge_share).toFixed(0)} % small edges, about{" "}
        <span className="font-mono">{wanted.toFixed(0)}</span> N·mm/°.
      </figcaption>
    </figure>
  );
}
