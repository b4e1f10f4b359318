/**
 * Single keys, while nothing is being typed. They can be turned off (WCAG 2.1.4).
 *
 * What acts is asked from the newest component to the oldest. "g 3" is g and then 3: a prefix that no answer uses.
 */
import { useEffect, useRef, useSyncExternalStore } from "react";
import { signal } from "../api/signal";

export const KEY_LIST: [string, string][] = [
  ["Ctrl Enter", "On to the next station, also out of a field"],
  ["Ctrl Shift Enter", "Back to the station before"],
  ["G, then 1 … 7", "Feet, Brief, Spec, Pull, Trial, Settle, Return"],
  ["Enter in a number", "The next one, and out (Feet, Return)"],
  ["1 … 9, 0", "Choose that answer (Brief); pass or fail (Trial)"],
  ["Enter", "The next question (Brief); the shown pair into the tray (Pull)"],
  ["Delete", "The shown pair back out of the tray (Pull)"],
  ["Up, Down", "The shoe before, the next (Pull); the test before, the next (Trial)"],
  ["Left, Right", "The pair before, the next (Trial)"],
  ["[ and ]", "Half a size down, half a size up"],
  ["C", "To the choice, where somebody else changed the same"],
  ["A", "Acknowledge the next caution (Spec)"],
  ["W", "What if (Spec); somebody waits (Today)"],
  ["T", "Take up who is next in the queue (Today)"],
  ["S", "Scales or the drawn shoe (Spec)"],
  ["M", "Pinches: walk with Up and Down, 1 to 3 how much, 4 none (Trial)"],
  ["P and F", "This pair passes, fails (Trial)"],
  ["Space", "Start and stop the timer (Trial)"],
  ["B", "Two pairs beside each other, over the foot (Pull, Trial)"],
  ["Y or F2", "The fitting turned to the athlete, and back (F2 also out of a field); 1 to 5 its leaves"],
  ["V and U", "Next view, next thing laid under (Feet)"],
  ["B and P", "Bring a file, practice devices (Feet)"],
  ["N", "A new fitting: of an athlete (their page), of a walk-in without a name (Today, Athletes)"],
  ["/", "Find an athlete; Enter opens the best match"],
  ["Ctrl K", "Commands"],
  ["Ctrl Z, Ctrl Y", "Undo the last change, do it again"],
  ["?", "This list"],
];

type Handlers = Record<string, () => void>;
const OFF = "kalon.keys.off";
/** Keys that go on acting while they are held down. */
const REPEATING = ["[", "]", "ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"];
/** Keys that act while something is typed, too: they write nothing. */
const WHILE_TYPING = ["F2", "ctrl+k", "ctrl+enter", "ctrl+shift+enter"];
const PREFIX_MS = 3000;
const PRESSABLE = "button, a, summary, input, [role=radio], [role=button], [role=option], [role=combobox]";
/** Inputs nothing can be typed into. */
const UNTYPED = ["checkbox", "radio", "range", "button", "file"];

const changed = signal();
const keysOff = () => localStorage.getItem(OFF) === "1";

export function setKeysOff(off: boolean): void {
  localStorage.setItem(OFF, off ? "1" : "0");
  changed.tell();
}
export const useKeysOff = () => useSyncExternalStore(changed.subscribe, keysOff);

export function isTyping(target: EventTarget | null): boolean {
  const field = (target as HTMLElement | null)?.closest?.("input, textarea, select, [contenteditable]");
  return !!field && !(field instanceof HTMLInputElement && UNTYPED.includes(field.type));
}

/** What was last pressed with a finger or the mouse: it has the focus, and yet the keys are the station's. */
let pointed: Element | null = null;
const pressable = (target: EventTarget | null) => (target as Element | null)?.closest?.(PRESSABLE) ?? null;

/** Whether the key already means something where the focus was brought by keys. */
function isTaken(key: string, target: EventTarget | null): boolean {
  const at = pressable(target);
  if (!at || at === pointed) return false;
  if (key === "Enter") return !at.matches("input[type=checkbox], input[type=range]");
  if (key === " ") return true;
  return key.startsWith("Arrow") && at.matches("input[type=range], [role=combobox]");
}

/** The name handlers know a press by. AltGr is part of the sign it writes, not a modifier. */
export function nameOf(event: KeyboardEvent): string {
  const written = event.getModifierState("AltGraph");
  const ctrl = (event.ctrlKey || event.metaKey) && !written;
  if (!ctrl) return event.key.length === 1 && /[A-Z]/.test(event.key) ? event.key.toLowerCase() : event.key;
  return `ctrl+${event.shiftKey ? "shift+" : ""}${event.key.toLowerCase()}`;
}

const layers: { current: Handlers }[] = [];
let prefix = "";
let prefixEnds: ReturnType<typeof setTimeout> | undefined;

function find(name: string): (() => void) | undefined {
  for (let i = layers.length - 1; i >= 0; i--) {
    const found = layers[i]?.current[name];
    if (found) return found;
  }
  return undefined;
}

const isPrefix = (name: string) =>
  layers.some((l) => Object.keys(l.current).some((known) => known.startsWith(`${name} `)));

function setPrefix(name: string): void {
  prefix = name;
  clearTimeout(prefixEnds);
  if (name) prefixEnds = setTimeout(() => setPrefix(""), PREFIX_MS);
}

function press(event: KeyboardEvent): void {
  if (["Shift", "Control", "Alt", "Meta", "AltGraph"].includes(event.key)) return;
  if (event.key === "Tab" || event.key.startsWith("Arrow")) pointed = null;
  if (event.defaultPrevented || event.isComposing) return;
  if (event.altKey && !event.getModifierState("AltGraph")) return;
  const name = nameOf(event);
  const chord = name.startsWith("ctrl+");
  if (document.querySelector("[role=dialog], [role=listbox]")) return;
  if (isTyping(event.target) && !WHILE_TYPING.includes(name)) return;
  if (!chord && (keysOff() || isTaken(event.key, event.target))) return;
  const before = prefix;
  if (before) setPrefix("");
  const handler = find(before ? `${before} ${name}` : name);
  if (before || handler || (!chord && isPrefix(name))) event.preventDefault();
  if (handler) {
    if (!event.repeat || REPEATING.includes(name)) handler();
  } else if (!before && !chord && isPrefix(name)) setPrefix(name);
}

if (typeof window !== "undefined") {
  window.addEventListener("keydown", press);
  window.addEventListener("pointerdown", (e) => (pointed = pressable(e.target)), { capture: true });
}

/** Act on keys as long as the component is there. Names: "a", "[", " ", "ctrl+k", "g 3". */
export function useKeys(handlers: Handlers): void {
  const now = useRef(handlers);
  now.current = handlers;
  useEffect(() => {
    layers.push(now);
    return () => {
      layers.splice(layers.indexOf(now), 1);
    };
  }, []);
}
