/** A timer has run as long as its test wants: heard, and told wherever one is, until somebody has read it. */
import { useEffect, useSyncExternalStore } from "react";
import { Link } from "react-router";
import { signal } from "../api/signal";
import { nextEnd, subscribeTimers, timers } from "../api/timers";
import { Button } from "../ui/Button";
import { StateLine } from "./StateLine";

const HIGH_HZ = 880;
const LOW_HZ = 660;
const TONE_S = 0.18;

/** Two short tones; nothing where the browser gives no sound. */
function ring(): void {
  try {
    const sound = new AudioContext();
    [HIGH_HZ, LOW_HZ].forEach((hz, i) => {
      const tone = sound.createOscillator();
      const soft = sound.createGain();
      soft.gain.value = 0.15;
      tone.frequency.value = hz;
      tone.connect(soft).connect(sound.destination);
      tone.start(sound.currentTime + i * (TONE_S + 0.05));
      tone.stop(sound.currentTime + i * (TONE_S + 0.05) + TONE_S);
    });
    setTimeout(() => void sound.close(), 1000);
  } catch {
    // No sound: it is told all the same.
  }
}

interface Over {
  key: string;
  name: string;
}

/** Ends up to here were told, and those that nobody closed yet: kept while the bench is turned to an athlete, too. */
let told = Date.now();
let over: Over[] = [];
const changed = signal();

function say(ends: Over[]): void {
  over = ends;
  changed.tell();
}

/** `only`: of a fitting turned to its athlete, whom other fittings don't concern. */
export function TimerEnds({ only }: { only?: string }) {
  const running = useSyncExternalStore(subscribeTimers, timers);
  const all = useSyncExternalStore(changed.subscribe, () => over);
  useEffect(() => {
    const next = nextEnd(told);
    if (!next) return;
    const timer = setTimeout(
      () => {
        ring();
        told = next.at;
        say([...over, { key: next.key, name: next.timer.name }]);
      },
      Math.max(next.at - Date.now(), 0),
    );
    return () => clearTimeout(timer);
  }, [all, running]);
  // Stopped since: whoever did it knows.
  return all
    .filter((o) => o.key in running && (!only || o.key.startsWith(`${only}/`)))
    .map((o) => {
      const [fitting = "", pair = ""] = o.key.split("/");
      return (
        <StateLine key={o.key} text={`Time is up: ${o.name} has run as long as it should.`}>
          {!only && (
            <Link
              className="inline-flex min-h-11 items-center px-3 underline"
              to={`/fittings/${fitting}/trial?pair=${pair}`}
            >
              Go there
            </Link>
          )}
          <Button kind="quiet" onClick={() => say(over.filter((one) => one !== o))}>
            Close
          </Button>
        </StateLine>
      );
    });
}
