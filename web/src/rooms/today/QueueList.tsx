/** Who waits, since when, for what and for how long yet; taken up from here by one fitter each. */
import { lazy, Suspense, useState } from "react";
import { Link } from "react-router";
import { Trouble } from "../../api/client";
import { type Place, type Queue, useQueue, useQueueStep, useTake } from "../../api/whoWaits";
import { useKeys } from "../../shell/keys";
import { hold } from "../../ui/ahead";
import { Button } from "../../ui/Button";
import { day, timeOf } from "../../ui/clock";
import { useSize } from "../../ui/useSize";
import { clockOf, QueueClock, QueueLine, toldOf } from "./QueueLine";

const Waits = lazy(() => import("./Waits").then((m) => ({ default: m.Waits })));
const LATER = 6;

export function QueueList() {
  const queue = useQueue();
  const [joining, setJoining] = useState(false);
  const step = useQueueStep();
  const take = useTake();
  const places = queue.data?.places ?? [];
  const next = places.find((p) => p.state === "waits");
  /** What is typed on is for the dialog, which may be on its way. */
  const join = () => {
    hold("dialog");
    setJoining(true);
  };
  useKeys({
    w: () => join(),
    t: () => next && !take.isPending && take.mutate(next),
  });
  // That there is no connection is said once, above the work.
  const unknown = queue.data || (queue.error instanceof Trouble && queue.error.offline) ? null : queue.error;
  const error = take.error ?? step.error ?? unknown;
  const busy = take.isPending || step.isPending;
  const waiting = places.filter((p) => p.state === "waits").length;
  return (
    <section aria-labelledby="who-waits" className="mb-5">
      <div className="flex flex-wrap items-center gap-3">
        <h2 id="who-waits" className="font-semibold text-lg">
          Who waits{" "}
          <span className="font-normal text-faint text-sm">
            {queue.data ? (waiting ? waiting : "nobody") : queue.error ? "not known" : "…"}
          </span>
        </h2>
        <Button onClick={join} aria-keyshortcuts="w">
          Somebody waits … <span className="font-mono text-faint text-xs">W</span>
        </Button>
        {error && (
          <span role="alert" className="border-madder border-l-4 pl-2">
            {error.message}
          </span>
        )}
      </div>
      {places.length > 0 && queue.data && (
        <Lines
          queue={queue.data}
          next={next?.id}
          busy={busy}
          onTake={(p) => take.mutate(p)}
          onStep={(place, what) => step.mutate({ place, step: what })}
        />
      )}
      {!!queue.data?.later.length && (
        <Later
          places={queue.data.later}
          busy={busy}
          onOff={(place) => step.mutate({ place, step: "left" })}
        />
      )}
      {joining && (
        <Suspense>
          <Waits onClose={() => setJoining(false)} />
        </Suspense>
      )}
    </section>
  );
}

interface LinesProps {
  queue: Queue;
  next: string | undefined;
  busy: boolean;
  onTake: (place: Place) => void;
  onStep: (place: Place, step: "came" | "left" | "done") => void;
}

const ROW =
  "grid grid-cols-[minmax(180px,290px)_1fr_minmax(210px,auto)] items-center gap-x-3 max-lg:grid-cols-[1fr_auto]";

function Lines({ queue, next, busy, onTake, onStep }: LinesProps) {
  const [box, size] = useSize();
  const width = Math.max((size?.width ?? 0) - 1, 0);
  const clock = clockOf(queue.now, queue.places);
  return (
    <>
      <div className={`${ROW} max-lg:hidden`} aria-hidden="true">
        <span />
        <div ref={box} className="min-w-0">
          {width > 0 && <QueueClock clock={clock} width={width} />}
        </div>
        <span />
      </div>
      <ol aria-label="Who waits, in order">
        {queue.places.map((p) => (
          <li key={p.id} className={`${ROW} min-h-14 border-line border-b`}>
            <span className="py-1 leading-snug">
              <b dir="auto">{p.name}</b>
              <span className="block text-faint text-sm">{p.says}</span>
              <span className={`block text-sm ${p.state === "late" ? "font-semibold text-madder" : ""}`}>
                {toldOf(p)}
              </span>
            </span>
            <span className="min-w-0 overflow-hidden max-lg:hidden">
              {width > 0 && <QueueLine place={p} clock={clock} width={width} />}
            </span>
            <span className="flex flex-wrap justify-end gap-1">
              <Steps place={p} next={p.id === next} busy={busy} onTake={onTake} onStep={onStep} />
            </span>
          </li>
        ))}
      </ol>
      <p className="text-faint text-xs">
        {queue.at_once} fitted at once (House, Numbers); in brackets, and between the strokes, eight times in
        ten.{" "}
        <span className="max-lg:hidden">
          Line: waits so far; bar: when it is their turn, and how long it takes; ◇ booked.
        </span>
      </p>
    </>
  );
}

interface StepsProps extends Omit<LinesProps, "queue" | "next"> {
  place: Place;
  next: boolean;
}

function Steps({ place, next, busy, onTake, onStep }: StepsProps) {
  if (place.state === "fitted")
    return place.mine ? (
      <>
        {place.fitting_id && (
          <Link
            to={`/fittings/${place.fitting_id}`}
            className="inline-flex min-h-11 items-center px-2 underline"
          >
            Go on
          </Link>
        )}
        <Button
          kind="quiet"
          disabled={busy}
          aria-label={`Done: ${place.name}`}
          onClick={() => onStep(place, "done")}
        >
          Done
        </Button>
      </>
    ) : null;
  const here = place.state === "waits";
  return (
    <>
      {!here && (
        <Button disabled={busy} aria-label={`Here now: ${place.name}`} onClick={() => onStep(place, "came")}>
          Here now
        </Button>
      )}
      <Button kind={next ? "strong" : "plain"} disabled={busy} onClick={() => onTake(place)}>
        <span>
          Take up <span className="sr-only">{place.name}</span>
        </span>
        {next && <span className="ml-1 font-mono text-xs opacity-80">T</span>}
      </Button>
      <Button
        kind="quiet"
        disabled={busy}
        aria-label={`${here ? "They left" : "Called off"}: ${place.name}`}
        onClick={() => onStep(place, "left")}
      >
        {here ? "They left" : "Called off"}
      </Button>
    </>
  );
}

/** Appointments of the coming days. */
function Later({ places, busy, onOff }: { places: Place[]; busy: boolean; onOff: (place: Place) => void }) {
  const [all, setAll] = useState(false);
  return (
    <details className="mt-1">
      <summary className="min-h-11 cursor-pointer py-2.5 font-semibold">
        Booked for later ({places.length})
      </summary>
      <ul aria-label="Booked for later">
        {(all ? places : places.slice(0, LATER)).map((p) => (
          <li key={p.id} className="flex min-h-12 items-center gap-3 border-line border-b">
            <span className="w-44 font-mono text-sm">
              {day(p.at)}, {p.at ? timeOf(p.at) : ""}
            </span>
            <span className="flex-1">
              <b dir="auto">{p.name}</b> <span className="text-sm">{p.says}</span>
              {p.minutes && <span className="text-faint text-sm">, {p.minutes} min</span>}
            </span>
            <Button
              kind="quiet"
              disabled={busy}
              aria-label={`Called off: ${p.name}`}
              onClick={() => onOff(p)}
            >
              Called off
            </Button>
          </li>
        ))}
      </ul>
      {places.length > LATER && (
        <Button kind="quiet" className="underline" onClick={() => setAll(!all)}>
          {all ? "Fewer" : `All ${places.length}`}
        </Button>
      )}
    </details>
  );
}
