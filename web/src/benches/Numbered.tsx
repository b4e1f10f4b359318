/** A number in a ring, which leads to its part in the list beside. */
import type { PartName } from "../stations/spec/parts";
import type { Point } from "./ShoeParts";

/** A finger's reach round a number, drawing units: 44 px where the drawing is narrowest. */
const FINGER = 28;

interface Props {
  part: PartName;
  number: number;
  at: Point;
  on: boolean;
  onOpen: (part: PartName) => void;
}

export const Numbered = ({ part, number, at: [x, y], on, onOpen }: Props) => (
  <a
    href={`#part-${part}`}
    aria-label={`Part ${number}`}
    data-balloon={part}
    tabIndex={-1}
    onClick={(e) => {
      e.preventDefault();
      onOpen(part);
    }}
  >
    <circle cx={x} cy={y} r={FINGER} fill="transparent" />
    <circle cx={x} cy={y} r="10.5" fill={on ? "var(--ink)" : "var(--sheet)"} stroke="var(--ink)" />
    <text
      x={x}
      y={y + 4}
      textAnchor="middle"
      fontSize="12"
      className="font-mono"
      fill={on ? "var(--sheet)" : "var(--ink)"}
    >
      {number}
    </text>
  </a>
);
