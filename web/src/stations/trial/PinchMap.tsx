/** Both feet from above: touch a spot to mark a pinch, one to three strong. */
import type { Schemas, Side } from "../../api/client";
import { shapeOf } from "../../benches/footShapes";
import {
  closedPath,
  footOutline,
  mirrored,
  type Point,
  placeOf,
  SEVERITY_FILL,
  toScreen,
} from "../../drawing/foot";

const WORDS = ["none", "noticed", "hurts", "can't be worn"];
/** What each digit says of a spot. */
export const SEVERITIES = [1, 2, 3, null];
const DIGITS = SEVERITIES.map((s) => WORDS[s ?? 0]);

interface Props {
  feet: Schemas["Feet"];
  found: Schemas["FeetFound"];
  pinches: Record<string, number>;
  /** Of the zones, as the vocabulary gives them. */
  names: Record<string, string>;
  disabled: boolean;
  /** The spot the keys are at. */
  at: string | undefined;
  onChange: (key: string, severity: number | null) => void;
}

const SIDES: Side[] = ["left", "right"];

/** Every spot in the order the keys walk: the left foot from the toes to the heel, then the right. */
export const spotsOf = (names: Record<string, string>): string[] =>
  SIDES.flatMap((side) => Object.keys(names).map((zone) => `${side}:${zone}`));

export function PinchMap({ feet, found, pinches, names, disabled, at, onChange }: Props) {
  const [atSide = "", atZone = ""] = at?.split(":") ?? [];
  const width = 310;
  const height = 380;
  const scale = 1.14;
  const heelY = height - 34;
  return (
    <div className="relative" style={{ width, height: height + 22 }}>
      <svg width={width} height={height} role="img" aria-label="Where it pinches, both feet from above">
        {SIDES.map((side) => {
          const outline = footOutline(shapeOf(feet[side], found[side]));
          const points: Point[] = toScreen(
            side === "left" ? mirrored(outline) : outline,
            scale,
            middle(side, width),
            heelY,
          );
          return (
            <g key={side}>
              <path
                d={closedPath(points)}
                fill={`color-mix(in srgb, var(--${side}) 9%, var(--sheet))`}
                stroke={`var(--${side})`}
                strokeWidth="2"
              />
              <text
                x={middle(side, width)}
                y={height - 4}
                textAnchor="middle"
                fill={`var(--${side})`}
                fontWeight="700"
                fontSize="14"
              >
                {side === "left" ? "Left" : "Right"}
              </text>
            </g>
          );
        })}
      </svg>
      {SIDES.flatMap((side) =>
        Object.entries(names).map(([zone, name]) => {
          const [across, along] = placeOf(zone);
          const shape = shapeOf(feet[side], found[side]);
          const severity = pinches[`${side}:${zone}`] ?? 0;
          const x = middle(side, width) + (side === "left" ? -1 : 1) * across * shape.ballWidth * scale;
          const y = heelY - along * shape.length * scale;
          return (
            <button
              key={side + zone}
              type="button"
              disabled={disabled}
              aria-label={`${side} ${name}: ${WORDS[severity]}`}
              onClick={() => onChange(`${side}:${zone}`, severity === 3 ? null : severity + 1)}
              className="absolute grid size-11 -translate-x-1/2 -translate-y-1/2 place-items-center"
              style={{ left: x, top: y }}
            >
              <svg width="34" height="34" aria-hidden="true">
                {at === `${side}:${zone}` && (
                  <rect
                    x="1"
                    y="1"
                    width="32"
                    height="32"
                    fill="none"
                    stroke="var(--madder)"
                    strokeWidth="2"
                  />
                )}
                <circle cx="17" cy="17" r={severity ? 15 : 5} fill="var(--sheet)" />
                <circle
                  cx="17"
                  cy="17"
                  r={severity ? 15 : 5}
                  fill={SEVERITY_FILL[severity]}
                  stroke={severity === 3 ? "var(--madder)" : "var(--ink)"}
                  strokeWidth={severity ? 2 : 1}
                />
                {severity > 0 && (
                  <text
                    x="17"
                    y="22"
                    textAnchor="middle"
                    fontSize="15"
                    fontWeight="700"
                    fill="var(--ink)"
                    stroke="var(--sheet)"
                    strokeWidth="4"
                    paintOrder="stroke"
                  >
                    {severity}
                  </text>
                )}
              </svg>
            </button>
          );
        }),
      )}
      <p className="absolute inset-x-0 bottom-0 text-center text-faint text-xs" data-pinch-keys role="status">
        {at
          ? `${atSide} ${names[atZone]}: ${DIGITS.map((d, i) => `${i + 1} ${d}`).join(" · ")}`
          : "M: mark by keys"}
      </p>
    </div>
  );
}

const middle = (side: Side, width: number) => width / 2 + (side === "left" ? -84 : 84);
