/** A shoe to scale from its pictures: the insole in plan, the sole with its studs, the side with its stacks. */
import { Frame } from "../../drawing/axis";
import { NUMBER_NAMES, unitOf, WAY_NAMES } from "./names";
import type { Picture, Way } from "./usePictures";

const WIDTH = 340;
const PAD = 12;
/** A shoe's frame in millimetres: one scale for all three. */
const FRAME_MM = 310;
const SCALE = (WIDTH - 2 * PAD) / FRAME_MM;
/** Numbers written beside each drawing, the weightiest first. */
const TOLD: Record<Way, string[]> = {
  insole: ["inner_length_mm", "ball_width_mm", "heel_width_mm", "last_curve_deg"],
  sole: ["sole_length_mm", "sole_ball_mm", "sole_heel_mm", "heel_flare"],
  side: ["heel_stack_mm", "fore_stack_mm", "drop_mm", "downturn_deg", "stud_mm", "collar_mm"],
};

const path = (points: readonly (readonly number[])[], at: (p: readonly number[]) => [number, number]) =>
  `M${points
    .map((p) =>
      at(p)
        .map((v) => v.toFixed(1))
        .join(" "),
    )
    .join("L")}Z`;

interface Props {
  way: Way;
  picture: Picture | undefined;
  /** Laid under it, dashed: how it was. */
  then?: Picture | null | undefined;
  onOpen?: (() => void) | undefined;
}

/** One way of seeing the shoe; an empty frame asks for its picture. */
export function ShoeDrawing({ way, picture, then = null, onOpen }: Props) {
  const side = way === "side";
  const tall = Math.max(100, ...(picture?.shape.outline ?? []).map(([, y = 0]) => y)) * SCALE;
  const height = side ? tall + 44 : 132;
  const at = ([x = 0, y = 0]: readonly number[]): [number, number] => [
    PAD + x * SCALE,
    side ? height - 26 - y * SCALE : height / 2 - 8 - y * SCALE,
  ];
  const numbers = picture
    ? TOLD[way].flatMap((n) => {
        const found = picture.reading.numbers[n];
        return found ? [[n, found] as const] : [];
      })
    : [];
  const said = numbers.map(([n, v]) => `${NUMBER_NAMES[n]} ${v.value.toFixed(1)} ${unitOf(n)}`).join(", ");
  const studs = picture?.reading.studs ?? [];
  return (
    <figure data-drawing={`shoe-${way}`} className="border border-line bg-sheet">
      <Frame
        width={WIDTH}
        height={height}
        label={
          picture ? `${WAY_NAMES[way]}: ${said || "measured"}` : `${WAY_NAMES[way]}: not photographed yet`
        }
      >
        {side && <path d={`M4 ${height - 26}H${WIDTH - 4}`} stroke="var(--ink)" />}
        {then && (
          <path d={path(then.shape.outline, at)} fill="none" stroke="var(--faint)" strokeDasharray="5 3" />
        )}
        {picture ? (
          <path
            d={path(picture.shape.outline, at)}
            fill="color-mix(in srgb, var(--ink) 7%, var(--sheet))"
            fillOpacity={then ? 0.4 : 1}
            stroke="var(--ink)"
            strokeWidth="1.5"
          />
        ) : (
          <text x={WIDTH / 2} y={height / 2} textAnchor="middle" fontSize="13" fill="var(--faint)">
            not photographed yet
          </text>
        )}
        {studs.map((s) => {
          const [x, y] = at([s.x_mm, s.y_mm]);
          const long = ((s.shape === "blade" ? (s.length_mm ?? 20) : (s.diameter_mm ?? 8)) * SCALE) / 2;
          const wide = ((s.shape === "blade" ? (s.width_mm ?? 6) : (s.diameter_mm ?? 8)) * SCALE) / 2;
          return (
            <rect
              key={`${s.x_mm}/${s.y_mm}`}
              x={x - long}
              y={y - wide}
              width={2 * long}
              height={2 * wide}
              rx={s.shape === "blade" ? 1 : wide}
              transform={`rotate(${-(s.angle_deg ?? 0)} ${x} ${y})`}
              fill="var(--ink)"
              data-stud=""
            />
          );
        })}
        <path d={`M${PAD} ${height - 8}h${100 * SCALE}`} stroke="var(--faint)" strokeWidth="2" />
        <text x={PAD + 100 * SCALE + 6} y={height - 4} fontSize="11" fill="var(--faint)">
          100 mm
        </text>
      </Frame>
      <figcaption className="flex flex-wrap items-center gap-x-3 border-line border-t px-2 text-sm">
        <b>{WAY_NAMES[way]}</b>
        {numbers.map(([n, v]) => (
          <span key={n} className="whitespace-nowrap">
            {NUMBER_NAMES[n]}{" "}
            <span className="font-mono">
              {v.value.toFixed(n === "heel_flare" ? 2 : 1)} ± {(1.96 * v.sigma).toFixed(1)} {unitOf(n)}
            </span>
          </span>
        ))}
        {studs.length > 0 && <span>{studs.length} studs</span>}
        {picture?.practice && <span className="text-madder">practice shoe</span>}
        {picture && onOpen && (
          <button type="button" className="min-h-11 underline" onClick={onOpen}>
            Look at the picture
          </button>
        )}
      </figcaption>
    </figure>
  );
}
