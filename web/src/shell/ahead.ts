/**
 * Keys pressed while a station or room is on its way are held, and count as pressed once it is there. What never
 * arrives takes its keys with it.
 */
import { useEffect } from "react";

const LONGEST_MS = 8000;
const MODIFIERS = ["Shift", "Control", "Alt", "Meta", "AltGraph"];

let held: KeyboardEvent[] | null = null;
/** What is still on its way: a place, or something in it that the keys are meant for. */
const waiting = new Set<string>();
let limit: ReturnType<typeof setTimeout> | undefined;
let draining = false;

/** From now on keys wait for what is on its way. */
export function hold(what = "place"): void {
  held ??= [];
  waiting.add(what);
  clearTimeout(limit);
  limit = setTimeout(drop, LONGEST_MS);
}

/** Nothing will arrive: what was held was meant for it. */
export function drop(): void {
  clearTimeout(limit);
  held = null;
  waiting.clear();
}

function keep(event: KeyboardEvent): void {
  if (!held || !event.isTrusted) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  if (event.key === "Escape") drop();
  if (!MODIFIERS.includes(event.key) && !event.repeat) held?.push(event);
}

const turn = () => new Promise<void>((next) => setTimeout(next));

function focusNext(back: boolean): void {
  const stops = [
    ...document.querySelectorAll<HTMLElement>("input, button, a[href], textarea, [tabindex='0']"),
  ].filter((e) => e.offsetParent && !(e as HTMLButtonElement).disabled && e.tabIndex >= 0);
  stops[stops.indexOf(document.activeElement as HTMLElement) + (back ? -1 : 1)]?.focus();
}

/** Press a held key where the focus is now. */
function pressAgain(was: KeyboardEvent): void {
  const at = document.activeElement ?? document.body;
  const { key, code, ctrlKey, shiftKey, altKey, metaKey } = was;
  const again = new KeyboardEvent("keydown", {
    ...{ key, code, ctrlKey, shiftKey, altKey, metaKey },
    modifierAltGraph: was.getModifierState("AltGraph"),
    bubbles: true,
    cancelable: true,
  });
  if (!at.dispatchEvent(again)) return;
  const typed = key.length === 1 && (!ctrlKey || was.getModifierState("AltGraph")) && !metaKey;
  if (typed && at.matches("input, textarea")) document.execCommand("insertText", false, key);
  else if (key === "Tab") focusNext(shiftKey);
  else if (key === "Enter" && at instanceof HTMLInputElement) at.form?.requestSubmit();
  else if ((key === "Enter" || key === " ") && at instanceof HTMLElement) at.click();
}

/** It is there, or failed: press what was held, one after the other, until there is nothing or it led on. */
export async function arrived(what = "place"): Promise<void> {
  waiting.delete(what);
  if (draining || waiting.size) return;
  draining = true;
  for (;;) {
    await turn();
    if (waiting.size || !held) break;
    const next = held.shift();
    if (next) pressAgain(next);
    else drop();
  }
  draining = false;
}

if (typeof window !== "undefined") window.addEventListener("keydown", keep, { capture: true });

/** The place has come: give it the focus, at what is to be done first, and the keys pressed meanwhile. */
export function useArrival(place: string): void {
  useEffect(() => {
    // Once it has been measured and drawn.
    const timer = setTimeout(() => {
      const main = document.querySelector<HTMLElement>("main");
      const first = document.querySelector<HTMLElement>(":is(main, aside) [data-first]:not(:disabled)");
      const at = document.activeElement;
      if (place && (at === main || !main?.contains(at))) (first ?? main)?.focus({ preventScroll: !first });
      void arrived();
    });
    return () => clearTimeout(timer);
  }, [place]);
}
