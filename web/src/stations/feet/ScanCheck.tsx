/** A scan's unit, side and pose. */
import { closedPath, type Point } from "../../drawing/foot";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import type { CheckProps } from "./check";

const UNITS = ["mm", "cm", "m", "inch"] as const;

export function ScanCheck({ capture, shape, busy, say }: CheckProps) {
  const length = shape.profile.at(-1)?.[0] ?? 260;
  const s = 0.85;
  const sign = capture.side === "left" ? 1 : -1;
  const plan = shape.outline.map(([x = 0, y = 0]): Point => [90 + sign * y * s, 250 - x * s]);
  const side: Point[] = [
    ...shape.profile.map(([x = 0, , z = 0]): Point => [220 + x * s, 190 - z * s]),
    ...[...shape.profile].reverse().map(([x = 0, z = 0]): Point => [220 + x * s, 190 - z * s]),
  ];
  const ink = `var(--${capture.side})`;
  return (
    <>
      <svg
        viewBox="0 0 500 270"
        className="w-full bg-paper"
        role="img"
        aria-label={`As the scan was understood: ${length.toFixed(0)} mm long, toes up on the left picture, toes right and sole down on the right one.`}
      >
        <path d={closedPath(plan)} fill="none" stroke={ink} strokeWidth="2" />
        <path d={closedPath(side)} fill="none" stroke={ink} strokeWidth="2" />
        <path d="M205 190H490" stroke="var(--faint)" />
        <g fontSize="12" fill="var(--ink)">
          <text x="90" y="266" textAnchor="middle">
            heel
          </text>
          <text x="90" y="14" textAnchor="middle">
            toes
          </text>
          <text x="350" y="210" textAnchor="middle">
            sole on the floor · {length.toFixed(0)} mm
          </text>
          <text x="215" y="120" textAnchor="end">
            heel
          </text>
        </g>
      </svg>
      <span className="block text-faint text-xs">Unit of the file</span>
      <OneOf
        label="Unit of the file"
        value={capture.said.unit ?? shape.unit}
        disabled={busy}
        onChange={(unit) => void say({ unit: unit as (typeof UNITS)[number] })}
        options={UNITS.map((u) => ({ value: u, text: u }))}
      />
      <div className="flex flex-wrap gap-1.5">
        <Button disabled={busy} onClick={() => void say({ flip_ends: !capture.said.flip_ends })}>
          Swap heel and toes
        </Button>
        <Button
          disabled={busy}
          aria-pressed={capture.said.mirrored ?? false}
          onClick={() =>
            void say({ mirrored: !capture.said.mirrored, side: capture.side === "left" ? "right" : "left" })
          }
        >
          {capture.said.mirrored ? "Not mirrored after all" : "The file is mirrored"}
        </Button>
        {shape.feet_in_file > 1 && (
          <Button disabled={busy} onClick={() => void say({ pick: capture.said.pick ? 0 : 1, side: null })}>
            The other foot in the file
          </Button>
        )}
      </div>
      <span className="block text-faint text-xs">Which axis of the file points up from the sole</span>
      <OneOf
        label="Which way was up in the file"
        value={upName(capture.said.up)}
        disabled={busy}
        onChange={(v) => void say({ up: UPS.find(([name]) => name === v)?.[1] ?? null })}
        options={UPS.map(([name]) => ({ value: name, text: name }))}
      />
    </>
  );
}

const UPS: [string, number[] | null][] = [
  ["as found", null],
  ["+z", [0, 0, 1]],
  ["−z", [0, 0, -1]],
  ["+y", [0, 1, 0]],
  ["−y", [0, -1, 0]],
  ["+x", [1, 0, 0]],
  ["−x", [-1, 0, 0]],
];

const upName = (up: number[] | null | undefined) =>
  UPS.find(([, v]) => v && up && v.every((n, i) => n === up[i]))?.[0] ?? "as found";
