/**
 * One gate for what acts. Every act says what it weighs: *harmless* acts at once; *weighty* ones only when they have stood
 * there long enough to be meant, and by no key that was pressed for what was there before; what *must be seen* counts a
 * second after it came into sight, for every key and every finger.
 */
import { type RefCallback, useCallback, useEffect, useRef, useState } from "react";

export type Weight = "harmless" | "weighty" | "seen";

/** How long each has to have been in sight before it can be meant, ms. */
export const IN_SIGHT_MS: Record<Weight, number> = { harmless: 0, weighty: 400, seen: 1000 };

/** Whether what came into sight then has been there long enough by now. */
export const canBeMeant = (weight: Weight, since: number | null, now: number): boolean =>
  weight === "harmless" || (since !== null && now - since >= IN_SIGHT_MS[weight]);

/** Most of it is to be seen; or as much as there is room for. */
const MOST_OF_IT = 0.6;
const isInSight = (e: IntersectionObserverEntry | undefined): boolean =>
  !!e?.isIntersecting &&
  (e.intersectionRatio >= MOST_OF_IT ||
    e.intersectionRect.height >= MOST_OF_IT * (e.rootBounds?.height ?? Number.POSITIVE_INFINITY));

interface Sight<E extends Element> {
  ref: RefCallback<E>;
  /** It may be pressed by now, as far as was drawn. */
  ready: boolean;
  /** Asked at the press itself. */
  canBe: () => boolean;
}

/** Since when an element is in sight. What it means may change in its place: then it is a new one. */
export function useInSight<E extends Element>(weight: Weight, means = ""): Sight<E> {
  const since = useRef<number | null>(null);
  const at = useRef<E | null>(null);
  const [ready, setReady] = useState(weight === "harmless");
  const canBe = useCallback(() => canBeMeant(weight, since.current, Date.now()), [weight]);
  const ref = useCallback((element: E | null) => {
    at.current = element;
  }, []);
  useEffect(() => {
    if (weight === "harmless" || !at.current) return setReady(true);
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = () => {
      if (canBe()) setReady(true);
      else timer = setTimeout(look, IN_SIGHT_MS[weight]);
    };
    const came = () => {
      since.current ??= Date.now();
      clearTimeout(timer);
      timer = setTimeout(look, IN_SIGHT_MS[weight]);
    };
    const went = () => {
      if (canBe()) return; // it was seen
      since.current = null;
      clearTimeout(timer);
    };
    since.current = null;
    setReady(false);
    const watch = new IntersectionObserver((all) => (isInSight(all.at(-1)) ? came() : went()), {
      threshold: [0, MOST_OF_IT],
    });
    watch.observe(at.current);
    return () => {
      watch.disconnect();
      clearTimeout(timer);
    };
  }, [weight, means]);
  return { ref, ready, canBe };
}

/** A key this soon after the focus moved by itself was meant for what had it before. */
const MOVED_MS = 500;
const moved = new WeakMap<EventTarget, number>();

/** The focus comes to an element by no hand of its own. */
export const noteMoved = (to: Element): void => void moved.set(to, performance.now());

/** A key that is held down presses nothing twice, and one that was pressed for another thing presses nothing. */
function pressOnce(event: KeyboardEvent): void {
  const on = (event.target as Element | null)?.closest?.("button, a, summary, input[type=submit]");
  if (!on || (event.key !== "Enter" && event.key !== " ")) return;
  const late = performance.now() - (moved.get(on) ?? Number.NEGATIVE_INFINITY) < MOVED_MS;
  if (event.repeat || late) event.preventDefault();
}

if (typeof window !== "undefined") window.addEventListener("keydown", pressOnce, { capture: true });
