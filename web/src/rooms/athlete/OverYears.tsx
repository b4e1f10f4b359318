/** An athlete through the years, drawn: their feet at every visit, and one line of time beneath. */
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { usePairsOf } from "../../api/pairs";
import { useVocabulary } from "../../api/vocabulary";
import { type Said, useYears, type Visit, type Years } from "../../api/years";
import { OneOf } from "../../ui/choice";
import { day } from "../../ui/clock";
import { useSize } from "../../ui/useSize";
import { Heading } from "../../ui/words";
import { FeetThen } from "./FeetThen";
import type { Mark } from "./marks";
import { TimeLine } from "./TimeLine";
import { lengthsOf, WAYS, wayOf, wayPath } from "./ways";

type Fitting = Schemas["FittingListed"];
const EVERY = "every";
const FEET_HIGH = 360;
const ON_ITS_WAY = FEET_HIGH + 340;
/** So much of what was said is shown before the rest is asked for. */
const SHOWN = 6;

const stationOf = (s: Said) => `/fittings/${s.fitting_id}/${s.station}`;

/** What stands on the line of time of one sport, or of every. */
function marksOf(years: Years, fittings: Fitting[], sport: string, called: (slug: string) => string): Mark[] {
  const of = new Map(fittings.map((f) => [f.id, f]));
  const counts = (fitting: string) => sport === EVERY || of.get(fitting)?.sport === sport;
  return [
    ...fittings
      .filter((f) => counts(f.id))
      .map(
        (f): Mark => ({
          key: f.id,
          on: f.opened_at,
          text: [f.sport ? called(f.sport) : "no brief yet", f.pair && `${f.pair} ${f.size ?? ""}`]
            .filter(Boolean)
            .join(": "),
          to: `/fittings/${f.id}`,
          sign: f.pair ? "settled" : "fitting",
        }),
      ),
    ...years.events
      .filter((e) => sport === EVERY || e.sport === sport)
      .map(
        (e): Mark => ({
          key: `${e.fitting_id} ${e.on}`,
          on: e.on,
          text: `Event${e.sport ? `, ${called(e.sport)}` : ""}`,
          to: `/fittings/${e.fitting_id}/brief`,
          sign: "event",
        }),
      ),
    ...years.said
      .filter((s) => counts(s.fitting_id))
      .map((s, i): Mark => ({ key: `${i}`, on: s.on, text: saidText(s), to: stationOf(s), sign: "said" })),
  ];
}

const saidText = (s: Said) =>
  s.side && !s.text.toLowerCase().includes(s.side) ? `${s.text} (${s.side})` : s.text;

export function OverYears({ athlete, fittings }: { athlete: string; fittings: Fitting[] }) {
  const found = useYears(athlete);
  const pairs = usePairsOf(athlete).data ?? [];
  const words = useVocabulary().data?.sports ?? [];
  const [sport, setSport] = useState(EVERY);
  // Its room is kept while it is on its way: what stands below isn't moved from under a finger.
  if (!found.data)
    return found.error ? (
      <p role="alert">{found.error.message}</p>
    ) : (
      <div style={{ minHeight: fittings.length ? ON_ITS_WAY : 0 }} aria-busy="true" />
    );
  const years = found.data;
  if (!years.visits.length && !fittings.length && !pairs.length) return null;
  const sports = [...new Set([...fittings.map((f) => f.sport), ...pairs.map((p) => p.sport)])].flatMap((s) =>
    s ? [s] : [],
  );
  const called = (slug: string) => words.find((s) => s.slug === slug)?.name ?? slug;
  const counted = sports.includes(sport) ? sport : EVERY;
  const marks = marksOf(years, fittings, counted, called);
  return (
    <section aria-label="Through the years" className="mb-4">
      {sports.length > 1 && (
        <OneOf
          label="Of which sport"
          value={counted}
          options={[
            { value: EVERY, text: "Every sport" },
            ...sports.map((s) => ({ value: s, text: called(s) })),
          ]}
          onChange={setSport}
        />
      )}
      <Drawn
        years={years}
        said={years.said.filter(
          (s) => counted === EVERY || fittings.find((f) => f.id === s.fitting_id)?.sport === counted,
        )}
        marks={marks}
        pairs={pairs.filter((p) => counted === EVERY || p.sport === counted)}
      />
    </section>
  );
}

interface DrawnProps {
  years: Years;
  said: Said[];
  marks: Mark[];
  pairs: NonNullable<ReturnType<typeof usePairsOf>["data"]>;
}

function Drawn({ years, said, marks, pairs }: DrawnProps) {
  const { visits } = years;
  const [at, setAt] = useState<number | null>(null);
  const place = Math.min(at ?? visits.length - 1, visits.length - 1);
  const chosen = visits[place];
  const last = place === visits.length - 1;
  const then = chosen && !last ? said.filter((s) => s.on <= chosen.on) : said;
  return (
    <>
      {chosen && <Feet visits={visits} chosen={chosen} said={then} place={place} onPlace={setAt} />}
      {!chosen && then.length > 0 && <WhatWasSaid said={then} />}
      <TimeLine years={years} marks={marks} pairs={pairs} chosen={chosen} />
      <p className="text-faint text-xs">
        ○ a fitting · ● one with a pair · ◇ an event · ! said of the feet · bar: worn so far, then open while
        it will likely last, hatched where it may end (nine in ten), × put away
      </p>
    </>
  );
}

interface FeetProps {
  visits: Visit[];
  chosen: Visit;
  said: Said[];
  place: number;
  onPlace: (place: number) => void;
}

/** The feet as they were at the chosen visit, beside it what was measured and said. */
function Feet({ visits, chosen, said, place, onPlace }: FeetProps) {
  const [box, size] = useSize();
  const first = visits[0];
  const ways = [...new Set(visits.map(wayOf))];
  const grown = (["left", "right"] as const).flatMap((side) => {
    const now = chosen[side].length_mm;
    const then = first?.[side].length_mm;
    return now && then && first !== chosen ? [`${side} ${signedMm(now.value - then.value)}`] : [];
  });
  return (
    <div className="grid grid-cols-[minmax(300px,460px)_1fr] gap-x-6 max-lg:grid-cols-1">
      <div ref={box} style={{ height: FEET_HIGH }}>
        {size && size.width > 0 && (
          <FeetThen visits={visits} chosen={chosen} said={said} width={size.width} height={FEET_HIGH} />
        )}
      </div>
      <div className="min-w-0">
        <p className="leading-snug">
          <Link
            to={`/fittings/${chosen.fitting_id}/feet`}
            className="inline-flex min-h-11 items-center font-semibold underline"
          >
            {day(chosen.on)}
          </Link>{" "}
          <span data-then>{lengthsOf(chosen)}</span>
          {first && grown.length > 0 && (
            <span className="block text-faint text-sm">
              Since {day(first.on)}: {grown.join(", ")} mm.
            </span>
          )}
        </p>
        {visits.length > 1 && (
          <label className="block text-sm">
            Measured {visits.length} times: move through them
            <input
              type="range"
              min={0}
              max={visits.length - 1}
              step={1}
              value={place}
              aria-valuetext={`${day(chosen.on)}, ${lengthsOf(chosen)}`}
              onChange={(e) => onPlace(Number(e.target.value))}
              className="h-11 w-full accent-madder"
            />
          </label>
        )}
        <p className="flex flex-wrap gap-x-4 text-faint text-xs">
          {WAYS.filter(([way]) => ways.includes(way as Visit["left"][string]["source"])).map(
            ([way, text]) => (
              <span key={way} className="inline-flex items-center gap-1">
                <svg width="16" height="16" aria-hidden="true">
                  <path d={wayPath(way, 8, 9)} fill="none" stroke="currentColor" strokeWidth="1.5" />
                </svg>
                {text}
              </span>
            ),
          )}
          {visits.length > 1 && <span>broken outlines: the other days</span>}
        </p>
        <WhatWasSaid said={said} />
      </div>
    </div>
  );
}

const signedMm = (mm: number) => `${mm < -0.05 ? "−" : "+"}${Math.abs(mm).toFixed(1)}`;

/** What was said of the feet, the newest first, each straight to where it was said. */
function WhatWasSaid({ said }: { said: Said[] }) {
  const [all, setAll] = useState(false);
  if (!said.length) return null;
  const lines = [...said].reverse();
  return (
    <>
      <Heading>What was said of them</Heading>
      <ul aria-label="What was said of them">
        {(all ? lines : lines.slice(0, SHOWN)).map((s, i) => (
          <li key={`${s.fitting_id} ${i}`} className="border-line border-b">
            <Link
              to={stationOf(s)}
              className="grid min-h-11 grid-cols-[6.5rem_1fr] items-center gap-2 text-sm leading-snug hover:bg-sheet"
            >
              <span className="font-mono">{day(s.on)}</span>
              <span dir="auto">{saidText(s)}</span>
            </Link>
          </li>
        ))}
      </ul>
      {lines.length > SHOWN && (
        <button type="button" className="min-h-11 underline" onClick={() => setAll(!all)}>
          {all ? "Fewer" : `All ${lines.length}`}
        </button>
      )}
    </>
  );
}
