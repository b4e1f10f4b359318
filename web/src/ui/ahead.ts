/**
 * Keys pressed while a station or room is on its way are held, and count as pressed once it is there. What never
 * arrives takes its keys with it, and what is typed on in the same breath; and says so.
 */
import { type MouseEvent, useEffect } from "react";
import { isAsking } from "../api/client";
import { signal } from "../api/signal";

/** As many beats as something may take that is asked of nobody; a slow machine's are longer. */
const BEAT_MS = 250;
const MOST_BEATS = 52;
/** A key this soon after another was typed on, without having looked. House default. */
const BREATH_MS = 800;
/** Keys the interface or a field can mean; others, and the browser's own chords, go their way. */
const NAMED = ["Enter", "Tab", "Backspace", "Delete", "ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"];
const CHORDS = ["Enter", "k", "z", "y"];

/** How many keys wait, and how many were let go the last time. */
export interface Ahead {
  kept: number;
  dropped: number;
}
const NONE: Ahead = { kept: 0, dropped: 0 };

let state = NONE;
let held: KeyboardEvent[] | null = null;
/** What is still on its way: a place, or something in it that the keys are meant for. */
const waiting = new Set<string>();
let beating: ReturnType<typeof setInterval> | undefined;
let draining = false;
/** When a key was last pressed, and whether what it was pressed for was let go in that breath. */
let pressedAt = Number.NEGATIVE_INFINITY;
let lettingGo = false;
/** The key that brought what is on its way, until another follows. */
let broughtBy = "";
const changed = signal();

function tell(next: Ahead): void {
  if (next.kept === state.kept && next.dropped === state.dropped) return;
  state = next;
  changed.tell();
}
export const aheadNow = (): Ahead => state;
export const subscribeAhead = changed.subscribe;

/** From now on keys wait for what is on its way. The key it was brought by, pressed twice, is one press. */
export function hold(what = "place", by = ""): void {
  held ??= [];
  broughtBy = by;
  waiting.add(what);
  clearInterval(beating);
  let beats = 0;
  beating = setInterval(() => {
    if (!isAsking() && ++beats > MOST_BEATS) drop();
  }, BEAT_MS);
}

/** A link leads on: hold, unless it opens elsewhere. */
export function holdForLink(event: MouseEvent): void {
  if (!event.ctrlKey && !event.metaKey && !event.shiftKey && !event.altKey) hold();
}

/** What was let go is said until somebody has read it. */
function end(dropped: number): void {
  clearInterval(beating);
  held = null;
  waiting.clear();
  tell({ kept: 0, dropped: state.dropped + dropped });
}

/** Nothing will arrive: what was held was meant for it. */
export function drop(): void {
  end(held?.length ?? 0);
  lettingGo = true;
}

/** The message was read. */
export const forgetDropped = (): void => tell({ ...state, dropped: 0 });

function isOurs(event: KeyboardEvent): boolean {
  if (event.getModifierState("AltGraph")) return event.key.length === 1;
  if (event.altKey) return false;
  if (event.ctrlKey || event.metaKey) return CHORDS.includes(event.key);
  return event.key.length === 1 || NAMED.includes(event.key);
}

function keep(event: KeyboardEvent): void {
  if (!event.isTrusted) return;
  const typedOn = performance.now() - pressedAt < BREATH_MS;
  pressedAt = performance.now();
  lettingGo &&= typedOn && event.key !== "Escape";
  if (event.key === "Escape" && held) end(0);
  if ((!held && !lettingGo) || !isOurs(event)) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  if (event.repeat || (typedOn && event.key.toLowerCase() === broughtBy)) return;
  broughtBy = "";
  held?.push(event);
  tell(held ? { ...state, kept: held.length } : { ...state, dropped: state.dropped + 1 });
}

const turn = () => new Promise<void>((next) => setTimeout(next));

function focusNext(back: boolean): void {
  const stops = [
    ...document.querySelectorAll<HTMLElement>("input, button, a[href], textarea, [tabindex='0']"),
  ].filter((e) => e.offsetParent && !(e as HTMLButtonElement).disabled && e.tabIndex >= 0);
  stops[stops.indexOf(document.activeElement as HTMLElement) + (back ? -1 : 1)]?.focus();
}

/** Enter in a field: what its form is for, unless that has to be meant. */
function submit(form: HTMLFormElement | null): void {
  const by = form?.querySelector<HTMLElement>("[type=submit]");
  if (!by?.matches("[data-weight]")) form?.requestSubmit();
}

/** Press a held key where the focus is now; whether it meant anything there. What must be seen before it is pressed isn't
 * pressed unseen. */
function pressAgain(was: KeyboardEvent): boolean {
  const at = document.activeElement ?? document.body;
  const { key, code, ctrlKey, shiftKey, altKey, metaKey } = was;
  const altGraph = was.getModifierState("AltGraph");
  const again = new KeyboardEvent("keydown", {
    ...{ key, code, ctrlKey, shiftKey, altKey, metaKey },
    modifierAltGraph: altGraph,
    bubbles: true,
    cancelable: true,
  });
  if (!at.dispatchEvent(again)) return true;
  if ((ctrlKey || metaKey) && !altGraph) return false;
  if (key === "Tab") focusNext(shiftKey);
  else if (at.matches("input, textarea")) {
    if (key.length === 1) document.execCommand("insertText", false, key);
    else if (key === "Backspace") document.execCommand("delete");
    else if (key === "Delete") document.execCommand("forwardDelete");
    else if (key === "Enter" && at instanceof HTMLInputElement) submit(at.form);
  } else if ((key === "Enter" || key === " ") && at instanceof HTMLElement && !at.matches("[data-weight]")) {
    at.click();
  } else return false;
  return true;
}

/** It is there, or failed: press what was held, one after the other, until there is nothing or it led on. */
export async function arrived(what = "place"): Promise<void> {
  waiting.delete(what);
  if (waiting.size) return;
  clearInterval(beating); // it came: however long its keys take
  if (draining) return;
  draining = true;
  for (;;) {
    await turn();
    if (waiting.size || !held) break;
    const next = held.shift();
    if (!next) end(0);
    else if (!pressAgain(next)) tell({ ...state, dropped: state.dropped + 1 });
  }
  draining = false;
  if (held) tell({ ...state, kept: held.length });
}

if (typeof window !== "undefined") window.addEventListener("keydown", keep, { capture: true });

/** A place has come: give it the focus, at what is to be done first, and the keys pressed meanwhile. */
export function useArrival(): void {
  useEffect(() => {
    // Once it has been measured and drawn.
    const timer = setTimeout(() => {
      const main = document.querySelector<HTMLElement>("main");
      const first = document.querySelector<HTMLElement>(":is(main, aside) [data-first]:not(:disabled)");
      const at = document.activeElement;
      if (at === main || !main?.contains(at)) (first ?? main)?.focus({ preventScroll: !first });
      void arrived();
    });
    return () => clearTimeout(timer);
  }, []);
}
