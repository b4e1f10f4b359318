/** A pair's life on one line of hours: what was worn, and where it is likely to end. */
import { scaleLinear } from "d3-scale";
import type { OwnedPair } from "../../api/pairs";
import { Frame } from "../../drawing/axis";

const WIDTH = 260;
const HEIGHT = 26;

/** Where a pair is likely to end, given what it has already lasted: the very hours its sentence tells. */
export const endsBetween = (pair: OwnedPair) => {
  const worn = pair.logged_h + pair.reckoned_h;
  const { low, mid, high } = pair.wear.left_h;
  return { low: worn + low, mid: worn + mid, high: worn + high };
};

export function LifeBar({ pair }: { pair: OwnedPair }) {
  const { low, mid, high } = endsBetween(pair);
  const worn = pair.logged_h + pair.reckoned_h;
  const x = scaleLinear([0, Math.max(high, worn) * 1.04], [2, WIDTH - 2]);
  return (
    <Frame
      width={WIDTH}
      height={HEIGHT}
      label={`${Math.round(worn)} h worn; likely worn out between ${Math.round(low)} and ${Math.round(high)} h, about ${Math.round(mid)}`}
    >
      <path d={`M2 ${HEIGHT / 2}H${WIDTH - 2}`} stroke="var(--faint)" />
      <rect
        x={x(low)}
        y="5"
        width={x(high) - x(low)}
        height="16"
        fill="var(--ink)"
        fillOpacity="0.12"
        stroke="var(--ink)"
        strokeWidth="0.7"
      />
      <path d={`M${x(mid)} 3V23`} stroke="var(--ink)" strokeWidth="1.4" />
      <rect x="2" y="10" width={Math.max(x(worn) - 2, 1)} height="6" fill="var(--madder)" />
    </Frame>
  );
}
