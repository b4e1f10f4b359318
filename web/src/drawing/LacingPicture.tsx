/** A way of lacing, drawn from above: six pairs of eyelets, the toe at the top. */
import type { Schemas } from "../api/client";
import { Frame } from "./axis";

type Pattern = NonNullable<Schemas["Help"]["pattern"]>;

const ROWS = 6;
const STEP = 15;
const LEFT = 30;
const RIGHT = 74;
const y = (row: number) => 14 + row * STEP;
const cross = (from: number, to: number) => [
  `M${LEFT} ${y(from)}L${RIGHT} ${y(to)}`,
  `M${RIGHT} ${y(from)}L${LEFT} ${y(to)}`,
];
const straight = (from: number, to: number) => [
  `M${LEFT} ${y(from)}V${y(to)}`,
  `M${RIGHT} ${y(from)}V${y(to)}`,
];
const start = [`M${LEFT} ${y(0)}H${RIGHT}`];
const bow = [
  `M52 ${y(5) + 8}c-16 -8 -22 10 -2 4c20 6 14 -12 -2 -4`,
  `M50 ${y(5) + 12}l-10 10M54 ${y(5) + 12}l10 10`,
];
const rows = (from: number, to: number) =>
  Array.from({ length: to - from }, (_, i) => cross(from + i, from + i + 1)).flat();

const LINES: Record<Pattern, { usual: string[]; own: string[] }> = {
  plain: { usual: [...start, ...rows(0, 5), ...bow], own: [] },
  heel_lock: {
    usual: [...start, ...rows(0, 4), ...bow],
    own: [
      ...straight(4, 5),
      `M${LEFT} ${y(5)}C${LEFT + 14} ${y(5)} ${LEFT + 8} ${y(4.4)} ${RIGHT - 2} ${y(4.5)}`,
      `M${RIGHT} ${y(5)}C${RIGHT - 14} ${y(5)} ${RIGHT - 8} ${y(4.4)} ${LEFT + 2} ${y(4.5)}`,
    ],
  },
  skipped: { usual: [...start, ...rows(0, 2), ...rows(3, 5), ...bow], own: straight(2, 3) },
  wide_forefoot: { usual: [...start, ...rows(2, 5), ...bow], own: straight(0, 2) },
  secure_knot: {
    usual: [...start, ...rows(0, 5)],
    own: [...bow, `M40 ${y(5) + 22}C30 ${y(4)} 34 ${y(3)} 44 ${y(2.5)}`],
  },
};

export function LacingPicture({ pattern, name }: { pattern: Pattern; name: string }) {
  const { usual, own } = LINES[pattern];
  return (
    <Frame width={104} height={124} label={`${name}, drawn from above`} data-lacing={pattern}>
      <path
        d="M18 4C16 40 12 90 22 118M86 4C88 40 92 90 82 118"
        fill="none"
        stroke="var(--line)"
        strokeWidth="1.5"
      />
      <g fill="none" stroke="var(--ink)" strokeWidth="1.6" strokeLinecap="round">
        {usual.map((d) => (
          <path key={d} d={d} />
        ))}
      </g>
      <g fill="none" stroke="var(--madder)" strokeWidth="2.4" strokeLinecap="round">
        {own.map((d) => (
          <path key={d} d={d} />
        ))}
      </g>
      <g fill="var(--sheet)" stroke="var(--ink)">
        {Array.from({ length: ROWS }, (_, row) => [LEFT, RIGHT].map((x) => ({ x, row })))
          .flat()
          .map(({ x, row }) => (
            <circle key={`${x}/${row}`} cx={x} cy={y(row)} r="2.6" />
          ))}
      </g>
    </Frame>
  );
}
