/** Money in above the line, money back below it, to scale: a day by its hours, a month by its days, a year by its months. */
import type { ReactNode } from "react";
import type { JournalLine, Takings } from "../../api/takings";
import { timeOf } from "../../ui/clock";
import { money } from "../../ui/money";
import type { Span } from "./period";

const WIDE = 720;
const TALL = 150;
const SIDE = 8;
const FIRST_H = 8;
const LAST_H = 20;

interface Props {
  found: Takings;
  span: Span;
  onGo: (period: string) => void;
}

interface Bar {
  key: string;
  x: number;
  in: number;
  back: number;
  says: string;
  /** The day or month that pressing it opens. */
  opens?: string;
}

function Column({ bar, onGo, children }: { bar: Bar; onGo: Props["onGo"]; children: ReactNode }) {
  const { opens } = bar;
  if (!opens) return <g data-bar={bar.key}>{children}</g>;
  return (
    <a
      href={`/takings?of=${opens}`}
      aria-label={bar.says}
      data-bar={bar.key}
      onClick={(e) => {
        e.preventDefault();
        onGo(opens);
      }}
    >
      {children}
    </a>
  );
}

export function TakenDrawing({ found, span, onGo }: Props) {
  const currency = found.sums[0]?.currency;
  if (!currency) return null;
  const { bars, wide, ticks } = span === "day" ? ofDay(found, currency) : ofSpan(found, span, currency);
  const most = Math.max(...bars.map((b) => b.in), 1);
  const back = Math.max(...bars.map((b) => b.back), 0);
  const base = 12 + ((TALL - 34) * most) / (most + back);
  const per = (TALL - 34) / (most + back);
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${TALL}`}
      className="mb-4 w-full"
      role={span === "day" ? "img" : undefined}
      aria-label="Taken and given back"
      data-taken
    >
      <text x={SIDE} y={10} className="fill-faint" fontSize={11}>
        {money(most, currency)}
      </text>
      <line x1={SIDE} x2={WIDE - SIDE} y1={base} y2={base} className="stroke-ink" strokeWidth={1} />
      {ticks.map(({ x, text }) => (
        <g key={text + x}>
          <line x1={x} x2={x} y1={base} y2={base + 4} className="stroke-ink" strokeWidth={0.8} />
          <text x={x} y={TALL - 4} textAnchor="middle" className="fill-faint" fontSize={11}>
            {text}
          </text>
        </g>
      ))}
      {bars.map((b) => (
        <Column key={b.key} bar={b} onGo={onGo}>
          <title>{b.says}</title>
          <rect x={b.x - wide / 2} y={0} width={wide} height={TALL - 16} fill="transparent" />
          {b.in > 0 && (
            <rect
              x={b.x - wide * 0.35}
              y={base - b.in * per}
              width={wide * 0.7}
              height={Math.max(b.in * per, 1)}
              className="fill-ink"
            />
          )}
          {b.back > 0 && (
            <rect
              x={b.x - wide * 0.35}
              y={base + 0.5}
              width={wide * 0.7}
              height={Math.max(b.back * per, 1)}
              className="fill-sheet stroke-madder"
              strokeWidth={1.5}
            />
          )}
        </Column>
      ))}
    </svg>
  );
}

function ofDay(found: Takings, currency: string) {
  const hour = (line: JournalLine) => {
    const [h = 12, m = 0] = timeOf(line.at).split(":").map(Number);
    return h + m / 60;
  };
  const lines = found.lines.filter((l) => l.currency === currency);
  const from = Math.min(FIRST_H, ...lines.map((l) => Math.floor(hour(l))));
  const to = Math.max(LAST_H, ...lines.map((l) => Math.ceil(hour(l))));
  const x = (h: number) => SIDE + 14 + ((WIDE - 2 * SIDE - 28) * (h - from)) / (to - from);
  const bars: Bar[] = lines.map((l) => ({
    key: l.id,
    x: x(hour(l)),
    in: Math.max(l.total_minor, 0),
    back: Math.max(-l.total_minor, 0),
    says: `${timeOf(l.at)}, ${l.says}: ${l.what}, ${money(l.total_minor, l.currency)}`,
  }));
  const ticks = [];
  for (let h = from; h <= to; h += 2) ticks.push({ x: x(h), text: `${h}:00` });
  return { bars, wide: 10, ticks };
}

function ofSpan(found: Takings, span: Span, currency: string) {
  const yearly = span === "year";
  const slots = yearly ? 12 : Number(found.last.slice(8));
  const place = (iso: string) => Number(yearly ? iso.slice(5, 7) : iso.slice(8));
  const step = (WIDE - 2 * SIDE) / slots;
  const x = (n: number) => SIDE + step * (n - 0.5);
  const bars: Bar[] = found.bars.map((b) => ({
    key: b.on,
    x: x(place(b.on)),
    in: b.in_minor,
    back: b.back_minor,
    says: `${yearly ? b.on.slice(0, 7) : b.on}: ${money(b.in_minor, currency)} in${b.back_minor ? `, ${money(b.back_minor, currency)} back` : ""}`,
    opens: yearly ? b.on.slice(0, 7) : b.on,
  }));
  const ticks = [];
  for (let n = 1; n <= slots; n += yearly ? 1 : 5) ticks.push({ x: x(n), text: String(n) });
  return { bars, wide: step, ticks };
}
