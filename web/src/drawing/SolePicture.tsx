/** A sole from below, small: where studs, spikes, nubs or lugs stand. */
import { SPOTS } from "./spots";

const LONG = 66;
const LEFT = 4;
/** Half the small sole's width along it, by share of its length: heel, waist, ball. */
const half = (share: number): number => (share < 0.3 ? 5.5 : share < 0.5 ? 4.5 : 8);
/** Small pictures draw what stands there larger than it is, or it couldn't be seen. */
const LARGER = 1.35;
const MM = LONG / 280;

/** The picture of a plate or sole; none for a plain one. */
export function SolePicture({ value }: { value: string }) {
  const drawn = SPOTS[value];
  if (!drawn) return null;
  const size = drawn.size * MM * LARGER;
  const [long, thick] = drawn.shape === "bar" ? [size * 0.6, size] : [size, size * 0.45];
  return (
    <svg viewBox="0 0 74 24" width="74" height="24" aria-hidden="true" className="shrink-0">
      <path
        d="M3 12C3 6 8 5 16 6S30 9 36 6 58 1 66 5s6 10 1 14-22 4-30 1-14-1-22 0S3 18 3 12z"
        fill="none"
        stroke="currentColor"
      />
      {drawn.at.map(([share, side]) => {
        const [x, y] = [LEFT + share * LONG, 12 + side * half(share)];
        const key = `${share}/${side}`;
        return drawn.shape === "round" ? (
          <circle key={key} cx={x} cy={y} r={size} fill="currentColor" />
        ) : (
          <rect
            key={key}
            x={x - long}
            y={y - thick}
            width={2 * long}
            height={2 * thick}
            fill="currentColor"
          />
        );
      })}
    </svg>
  );
}
