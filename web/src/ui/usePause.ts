import { useCallback, useEffect, useState } from "react";

/** A hand that types is not asked after every letter. */
const PAUSE_MS = 180;

/** What was typed, once the hand pauses; and a way to take it at once. */
export function usePause(text: string): [paused: string, atOnce: () => void] {
  const [paused, setPaused] = useState(text);
  useEffect(() => {
    if (text === paused) return;
    const timer = setTimeout(() => setPaused(text), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [text, paused]);
  const atOnce = useCallback(() => setPaused(text), [text]);
  return [paused, atOnce];
}
