/** A test's timer: counts up to what the test wants, and runs on while other pairs and stations are shown. */
import { useEffect, useState, useSyncExternalStore } from "react";
import { startTimer, stopTimer, subscribeTimers, timers } from "../../api/timers";
import { Button } from "../../ui/Button";

interface TimerProps {
  /** Of the pair and the test it belongs to. */
  id: string;
  name: string;
  wanted: number;
  done: number;
  /** Space starts and stops it. */
  keyed: boolean;
  disabled: boolean;
  onStop: (seconds: number) => void;
}

const clock = (s: number) => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, "0")}`;

/** Start a timer, or stop it and tell how long it ran. */
export function useToggle(
  id: string,
  name: string,
  left: number,
  onRan: (seconds: number) => void,
): () => void {
  const since = useSyncExternalStore(subscribeTimers, timers)[id]?.since ?? null;
  return () => {
    if (since === null) return startTimer(id, name, left);
    const ran = stopTimer(id);
    if (ran !== null) onRan(ran);
  };
}

export function Timer({ id, name, wanted, done, keyed, disabled, onStop }: TimerProps) {
  const since = useSyncExternalStore(subscribeTimers, timers)[id]?.since ?? null;
  const [, tick] = useState(0);
  const seconds = since === null ? done : done + (Date.now() - since) / 1000;
  useEffect(() => {
    if (since === null) return;
    const timer = setInterval(() => tick((n) => n + 1), 250);
    return () => clearInterval(timer);
  }, [since]);
  const toggle = useToggle(id, name, wanted - done, (ran) => onStop(Math.round(done + ran)));
  return (
    <span className="mt-1 flex items-center gap-2">
      <Button
        onClick={toggle}
        disabled={disabled}
        aria-keyshortcuts={keyed ? "Space" : undefined}
        aria-label={`${since === null ? "Start" : "Stop"} the timer, ${name}`}
      >
        {since === null ? "Start" : "Stop"}
      </Button>
      {keyed && (
        <span className="font-mono text-faint text-xs" aria-hidden="true">
          Space
        </span>
      )}
      <span className="font-mono" role="timer" aria-label={`${name} timer`}>
        {clock(seconds)} of {clock(wanted)}
      </span>
      <span className="h-1.5 w-24 border border-ink" aria-hidden="true">
        <span
          className="block h-full bg-ink"
          style={{ width: `${Math.min((seconds / wanted) * 100, 100)}%` }}
        />
      </span>
    </span>
  );
}
