/** Single keys, while nothing is being typed. They can be turned off (WCAG 2.1.4). */
import { useEffect, useRef, useSyncExternalStore } from "react";

export const KEY_LIST: [string, string][] = [
  ["1 … 7", "Feet, Brief, Spec, Pull, Trial, Settle, Return"],
  ["[ and ]", "Half a size down, half a size up"],
  ["Enter", "Put the shown pair into the tray (Pull)"],
  ["1 … 9 in a question", "Choose that answer (Brief)"],
  ["W", "What if (Spec)"],
  ["V and U", "Next view, next thing laid under (Feet)"],
  ["B and P", "Bring a file, practice devices (Feet)"],
  ["Space", "Start and stop the timer (Trial)"],
  ["/", "Find an athlete"],
  ["Ctrl K", "Commands"],
  ["Ctrl Z", "Undo the last change"],
  ["?", "This list"],
];

type Handlers = Record<string, () => void>;
const OFF = "kalon.keys.off";
const listeners = new Set<() => void>();
const keysOff = () => localStorage.getItem(OFF) === "1";

export function setKeysOff(off: boolean): void {
  localStorage.setItem(OFF, off ? "1" : "0");
  for (const l of listeners) l();
}
export const useKeysOff = () =>
  useSyncExternalStore((l) => {
    listeners.add(l);
    return () => listeners.delete(l);
  }, keysOff);

function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null;
  return !!element?.closest("input, textarea, select, [contenteditable]");
}

/** Whether the key already means something where the focus is. */
function isTaken(key: string, target: EventTarget | null): boolean {
  const element = target as HTMLElement | null;
  return (
    (key === " " || key === "Enter") &&
    !!element?.closest("button, a, [role=radio], [role=button], [role=option]")
  );
}

/** Act on keys as long as the component is there. Names: "a", "[", " ", "ctrl+k". */
export function useKeys(handlers: Handlers): void {
  const now = useRef(handlers);
  now.current = handlers;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const ctrl = event.ctrlKey || event.metaKey;
      const name = ctrl ? `ctrl+${event.key.toLowerCase()}` : event.key;
      const handler = now.current[name];
      if (!handler || event.altKey || event.defaultPrevented) return;
      const typing = isTyping(event.target);
      if (typing && name !== "ctrl+k") return;
      if (!ctrl && (keysOff() || isTaken(event.key, event.target) || document.querySelector("[role=dialog]")))
        return;
      event.preventDefault();
      handler();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
