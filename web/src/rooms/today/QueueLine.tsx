/** Somebody's place in the queue on the day's clock: since when they are here, and when it is likely their turn. */
import { scaleLinear } from "d3-scale";
import type { Place } from "../../api/whoWaits";
import { Frame } from "../../drawing/axis";
import { timeOf } from "../../ui/clock";

const HEIGHT = 40;
const MIDDLE = 20;
const MINUTE_MS = 60_000;
const BACK_LEAST = 15;
const BACK_MOST = 75;
const ON_LEAST = 60;
const ON_MOST = 300;

export type Clock = { from: number; to: number; now: number };

const minutesTo = (now: number, iso: string) => (Date.parse(iso) - now) / MINUTE_MS;

/** Minutes before and after now that tell of everybody in the queue. */
export function clockOf(nowIso: string, places: Place[]): Clock {
  const now = Date.parse(nowIso);
  const since = places.flatMap((p) =>
    [p.came_at, p.taken_at, p.at].flatMap((t) => (t ? [-minutesTo(now, t)] : [])),
  );
  const until = places.map((p) => (p.wait ? p.wait.high_min + p.takes_min : p.takes_min));
  return {
    now,
    from: -Math.min(Math.max(BACK_LEAST, ...since), BACK_MOST),
    to: Math.min(Math.max(ON_LEAST, ...until), ON_MOST),
  };
}

const STEPS = [15, 30, 60];

/** Whole quarters, halves or hours of the clock, as many as have room. */
export function ticksOf({ from, to, now }: Clock, width: number): { at: number; text: string }[] {
  const step = STEPS.find((s) => (width * s) / (to - from) > 52) ?? 60;
  const first = Math.ceil((now / MINUTE_MS + from) / step) * step;
  const found = [];
  for (let m = first; m <= now / MINUTE_MS + to; m += step)
    found.push({ at: m - now / MINUTE_MS, text: timeOf(new Date(m * MINUTE_MS).toISOString()) });
  return found;
}

interface Props {
  place: Place;
  clock: Clock;
  width: number;
}

export function QueueLine({ place, clock, width }: Props) {
  const x = scaleLinear([clock.from, clock.to], [4, width - 4]).clamp(true);
  const at = (iso: string) => x(minutesTo(clock.now, iso));
  const { wait } = place;
  const start = place.taken_at ? at(place.taken_at) : 0;
  return (
    <Frame width={width} height={HEIGHT} label={toldOf(place)} data-queue={place.state}>
      {ticksOf(clock, width).map((t) => (
        <path key={t.at} d={`M${x(t.at)} 0V${HEIGHT}`} stroke="var(--line)" strokeDasharray="2 3" />
      ))}
      {place.came_at && !place.taken_at && (
        <path d={`M${at(place.came_at)} ${MIDDLE}H${x(0)}`} stroke="var(--ink)" strokeWidth="2" />
      )}
      {place.taken_at && (
        <>
          <rect
            x={start}
            y={MIDDLE - 6}
            width={Math.max(
              at(new Date(Date.parse(place.taken_at) + place.takes_min * MINUTE_MS).toISOString()) - start,
              2,
            )}
            height="12"
            fill="none"
            stroke="var(--ink)"
          />
          <rect x={start} y={MIDDLE - 6} width={Math.max(x(0) - start, 2)} height="12" fill="var(--ink)" />
        </>
      )}
      {wait && (
        <>
          <rect
            x={x(wait.mid_min)}
            y={MIDDLE - 6}
            width={Math.max(x(wait.mid_min + place.takes_min) - x(wait.mid_min), 2)}
            height="12"
            fill="var(--sheet)"
            stroke="var(--ink)"
            strokeDasharray="3 2"
          />
          <path
            d={`M${x(wait.low_min)} ${MIDDLE}H${x(wait.high_min)}M${x(wait.low_min)} ${MIDDLE - 5}v10M${x(wait.high_min)} ${MIDDLE - 5}v10`}
            stroke="var(--ink)"
            strokeWidth="1.4"
          />
          <circle cx={x(wait.mid_min)} cy={MIDDLE} r="4" fill="var(--ink)" />
        </>
      )}
      {place.at && (
        <path
          d={`M${at(place.at)} ${MIDDLE - 9}l6 9l-6 9l-6 -9z`}
          fill="var(--sheet)"
          stroke={place.state === "late" ? "var(--madder)" : "var(--ink)"}
          strokeWidth="1.6"
        />
      )}
      <path d={`M${x(0)} 0V${HEIGHT}`} stroke="var(--madder)" strokeWidth="1.6" />
    </Frame>
  );
}

/** The clock over the lines. */
export function QueueClock({ clock, width }: { clock: Clock; width: number }) {
  const x = scaleLinear([clock.from, clock.to], [4, width - 4]);
  return (
    <svg
      width={width}
      height="16"
      aria-hidden="true"
      className="font-mono"
      fontSize="10.5"
      fill="var(--faint)"
    >
      {ticksOf(clock, width).map((t) => (
        <text key={t.at} x={Math.min(Math.max(x(t.at), 16), width - 16)} y="12" textAnchor="middle">
          {t.text}
        </text>
      ))}
    </svg>
  );
}

/** The same in words. */
export function toldOf(place: Place): string {
  if (place.taken_at) return `since ${timeOf(place.taken_at)} with ${place.taken_by ?? "somebody"}`;
  const booked = place.at ? `booked for ${timeOf(place.at)}` : "";
  if (place.state === "late") return `${booked}, not here yet`;
  const here = place.came_at ? `here since ${timeOf(place.came_at)}` : "";
  const turn = place.wait && (place.state === "waits" || place.wait.low_min > 0) ? turnOf(place) : "";
  return [booked, here, turn].filter(Boolean).join(", ");
}

const turnOf = (place: Place) => {
  if (place.state === "to_come") return "";
  return place.wait?.text === "now" ? "next" : (place.wait?.text ?? "");
};
