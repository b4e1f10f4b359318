/** A tablet's screen as a step finds it, with what is pressed. */
import type { Step } from "./steps";

const WIDE = 260;
const HIGH = 168;
const ROW = 30;
const TOP = 46;

export function StepPicture({ title, rows, press, turns = false }: Omit<Step, "said">) {
  const y = TOP + press * ROW;
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className="w-full max-w-72" aria-hidden="true">
      <rect
        x="3"
        y="3"
        width={WIDE - 6}
        height={HIGH - 6}
        rx="10"
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth="3"
      />
      <text x="20" y="30" fontSize="13" fontWeight="600" fill="var(--ink)">
        {title}
      </text>
      <path d={`M14 40H${WIDE - 14}`} stroke="var(--ink)" />
      {rows.map((text, i) => (
        <g key={text}>
          {i === press && (
            <rect
              x="14"
              y={y}
              width={WIDE - 28}
              height={ROW}
              fill="none"
              stroke="var(--madder)"
              strokeWidth="2.5"
            />
          )}
          <text
            x="22"
            y={TOP + i * ROW + 19}
            fontSize={text.length > 34 ? 9 : 11.5}
            fill="var(--ink)"
            opacity={i === press ? 1 : 0.55}
          >
            {text}
          </text>
          {i !== press && <path d={`M14 ${TOP + (i + 1) * ROW}H${WIDE - 14}`} stroke="var(--line)" />}
        </g>
      ))}
      {turns ? (
        <g transform={`translate(${WIDE - 56} ${y + 7})`}>
          <rect width="32" height="16" rx="8" fill="var(--madder)" />
          <circle cx="24" cy="8" r="6" fill="var(--sheet)" />
        </g>
      ) : (
        <circle cx={WIDE - 36} cy={y + ROW / 2} r="8" fill="var(--madder)" opacity="0.85" />
      )}
    </svg>
  );
}
