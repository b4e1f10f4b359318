/** Stud plates from below on this ground: where they press, how they grip and what turning takes. */

import { useState } from "react";
import type { Schemas } from "../api/client";
import { Frame } from "../drawing/axis";
import { closedPath, shoeOutline } from "../drawing/foot";
import { OneOf } from "../ui/choice";

const SHORT: Record<string, string> = {
  soft_ground: "Long studs",
  firm_ground_round: "Round studs",
  firm_ground_blade: "Blades",
  hard_ground: "Many short",
  artificial_grass: "Short round",
  turf: "Nubs",
  indoor: "Flat gum",
};

interface Props {
  ground: Schemas["OnGround"];
  word: (value: string) => string;
  width?: number;
}

export function StudPlate({ ground, word, width = 340 }: Props) {
  const [chosen, setChosen] = useState<string | null>(null);
  const plate = ground.plates.find((p) => p.plate === chosen) ?? ground.plates[0];
  if (!plate) return null;
  const scale = (width - 20) / ground.foot_mm;
  const height = 0.44 * (width - 20) + 6;
  const at = (x: number, y: number): [number, number] => [10 + x * scale, height / 2 - y * scale];
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
        onChange={setChosen}
        columns="flex flex-wrap gap-1 text-sm *:px-2"
      />
      <Frame
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
        {plate.studs.map((s) => {
          const [x, y] = at(s.x_mm, s.y_mm);
          const key = `${s.x_mm}/${s.y_mm}`;
          if (s.shape === "blade") {
            const long = (s.length_mm ?? 20) * scale;
            const thick = (s.width_mm ?? 6) * scale;
            return (
              <rect
                key={key}
                x={x - long / 2}
                y={y - thick / 2}
                width={long}
                height={thick}
                rx="1.5"
                transform={`rotate(${-s.angle_deg} ${x} ${y})`}
                fill="var(--ink)"
              />
            );
          }
          return <circle key={key} cx={x} cy={y} r={((s.diameter_mm ?? 8) / 2) * scale} fill="var(--ink)" />;
        })}
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
        Running on the ball of one foot; turning at the turf test's load. The mark is the most wanted.
      </figcaption>
    </figure>
  );
}
