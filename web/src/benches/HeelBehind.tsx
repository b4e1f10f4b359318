/** The heel from behind, to scale: sole and upper widths, the ankle above, and how far it leans before it tips. */

import { useState } from "react";
import { useCalc } from "../api/calc";
import type { Schemas } from "../api/client";
import { Frame } from "../drawing/axis";
import { Handle } from "../drawing/Handle";
import { Dimension } from "../drawing/kit";
import { Tried } from "./Tried";

export function HeelBehind({ heel, width = 340 }: { heel: Schemas["FromBehind"]; width?: number }) {
  const [tried, setTried] = useState<{ stack_mm?: number; heel_sole_mm?: number }>({});
  const touched = Object.keys(tried).length > 0;
  const given = { ...heel.given, ...tried };
  const { found, trouble } = useCalc<Schemas["SidewaysOut"]>("sideways", given, touched, heel.found);
  const height = 210;
  const scale = 1.45;
  const mid = 118;
  const base = height - 40;
  const top = base - given.stack_mm * scale;
  const ankle = top - given.ankle_height_mm * scale;
  const half = (mm: number) => (mm / 2) * scale;
  const round = Math.min(found.heel_round_mm * scale * 0.6, half(given.heel_sole_mm) - 4);
  const sole = half(given.heel_sole_mm);
  return (
    <figure data-drawing="heel-behind">
      <Frame
        role="group"
        width={width}
        height={height}
        label={`The heel from behind: tips at ${found.tips_at_deg.toFixed(0)} degrees, flare ${found.flare_heel.toFixed(2)}, ${found.word}`}
      >
        <path d={`M8 ${base}H230`} stroke="var(--ink)" strokeWidth="1.6" />
        <path
          d={`M${mid - half(given.heel_upper_mm)} ${top}L${mid - sole} ${base - 4}q0 4 4 4H${mid + sole - 4}q4 0 4-4L${mid + half(given.heel_upper_mm)} ${top}z`}
          fill="color-mix(in srgb, var(--madder) 22%, transparent)"
          stroke="var(--madder)"
          strokeWidth="1.6"
        />
        <path
          d={`M${mid - half(given.heel_upper_mm)} ${top}C${mid - half(given.heel_upper_mm) - 3} ${top - 40} ${mid - 34} ${ankle + 20} ${mid - 30} ${ankle - 20}M${mid + half(given.heel_upper_mm)} ${top}C${mid + half(given.heel_upper_mm) + 3} ${top - 40} ${mid + 34} ${ankle + 20} ${mid + 30} ${ankle - 20}`}
          fill="none"
          stroke="var(--right)"
          strokeWidth="2"
        />
        <circle cx={mid} cy={ankle} r="4" fill="var(--ink)" />
        <path
          d={`M${mid} ${ankle}V${base}M${mid} ${ankle}L${mid + sole} ${base}`}
          stroke="var(--ink)"
          strokeDasharray="4 3"
        />
        <Handle
          label="Heel stack"
          x={mid - half(given.heel_upper_mm) - 16}
          y={top}
          value={given.stack_mm}
          least={2}
          most={50}
          step={1}
          unit="mm"
          along={{ y: -scale }}
          onMove={(v) => setTried({ ...tried, stack_mm: v })}
        />
        <Handle
          label="Width of the heel's sole"
          x={mid + sole + 12}
          y={base - 12}
          value={given.heel_sole_mm}
          least={40}
          most={120}
          step={1}
          unit="mm"
          along={{ x: scale / 2 }}
          onMove={(v) => setTried({ ...tried, heel_sole_mm: v })}
        />
        <text x={mid + 8} y={ankle + 44} fontSize="13" className="font-mono" fill="var(--ink)">
          {found.tips_at_deg.toFixed(0)}°
        </text>
        <Dimension
          x1={mid - sole}
          y1={base + 14}
          x2={mid + sole}
          y2={base + 14}
          label={`${given.heel_sole_mm.toFixed(0)} mm`}
          dy={16}
        />
        <Dimension
          x1={mid - half(given.heel_upper_mm)}
          y1={top}
          x2={mid + half(given.heel_upper_mm)}
          y2={top}
          label={`${given.heel_upper_mm.toFixed(0)} mm`}
        />
        <g fontSize="12.5" fill="var(--ink)">
          <path
            d={`M262 ${base}v-46q0-${round} ${round}-${round}h${60 - round}`}
            fill="none"
            stroke="var(--madder)"
            strokeWidth="2.4"
          />
          <text x={width - 8} y={base + 16} textAnchor="end">
            rounded {found.heel_round_mm.toFixed(0)} mm
          </text>
          <text x="240" y="30">
            flare {found.flare_heel.toFixed(2)} ×
          </text>
          <text x="240" y="48" fontWeight="600">
            {found.word}
          </text>
        </g>
      </Frame>
      <table className="w-full text-sm">
        <tbody>
          <tr>
            <th className="text-left font-normal text-faint">Heel sole</th>
            {found.sweep.map((s) => (
              <td key={s.flare} className="text-right font-mono">
                {s.flare.toFixed(2)} ×
              </td>
            ))}
          </tr>
          <tr>
            <th className="text-left font-normal text-faint">tips at</th>
            {found.sweep.map((s) => (
              <td key={s.flare} className="text-right font-mono">
                {s.tips_at_deg.toFixed(1)}°
              </td>
            ))}
          </tr>
          <tr>
            <td />
            {found.sweep.map((s) => (
              <td key={s.flare} className="text-right">
                {s.word}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      <figcaption className="text-faint text-sm">
        <Tried tried={touched} trouble={trouble} onBack={() => setTried({})} /> A {found.floor_word}. Drawn in
        the middle of the wanted flare and stack.
      </figcaption>
    </figure>
  );
}
