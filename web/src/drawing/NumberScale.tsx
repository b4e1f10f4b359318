/** A number on the scale it may move on: hollow where it came, full where it is; moved by a finger or arrows. */
import { scaleLinear } from "d3-scale";
import { Frame, TicksBelow, ticksOf } from "./axis";

interface Props {
  label: string;
  unit: string;
  low: number;
  high: number;
  step: number;
  /** As it came. */
  usual: number;
  value: number;
  disabled: boolean;
  onChange: (value: number) => void;
}

const WIDTH = 340;
/** As far in as the browser draws a slider's ends. */
const INSET = 10;
/** A typed number has two decimals. */
const FINEST = 0.01;

export function NumberScale({ label, unit, low, high, step, usual, value, disabled, onChange }: Props) {
  const places = (value - low) / step;
  /** A number typed between two steps is stood at, not the step beside it. */
  const meets = Math.abs(places - Math.round(places)) < 1e-6;
  const x = scaleLinear([low, high], [INSET, WIDTH - INSET]).clamp(true);
  return (
    <span className="relative block" style={{ maxWidth: WIDTH }}>
      <Frame width={WIDTH} height={44} label={`${value} of ${low} to ${high} ${unit}, comes as ${usual}`}>
        <path d={`M${INSET} 20H${WIDTH - INSET}`} stroke="var(--faint)" />
        <TicksBelow ticks={ticksOf(x, 5)} place={37} line={[20, 25]} />
        {usual !== value && (
          <path d={`M${x(usual)} 20H${x(value)}`} stroke="var(--madder)" strokeWidth="2.5" />
        )}
        <circle cx={x(usual)} cy="20" r="6" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.6" />
        <circle cx={x(value)} cy="20" r="5.5" fill="var(--madder)" />
      </Frame>
      <input
        type="range"
        aria-label={`${label}, on its scale`}
        min={low}
        max={high}
        step={meets ? step : FINEST}
        value={value}
        disabled={disabled}
        onChange={(e) => onChange(Number(e.target.value))}
        className="absolute inset-0 h-full min-h-11 w-full cursor-pointer opacity-0 focus-visible:opacity-30 disabled:cursor-default"
      />
    </span>
  );
}
