/** Parts of the interface that come when they are needed, or when nothing else is to do; a failed one can be asked for again. */
import { type ComponentType, type LazyExoticComponent, lazy } from "react";

// biome-ignore lint/suspicious/noExplicitAny: what a part takes is checked where it is used.
type Part = ComponentType<any>;
type Load<T extends Part> = () => Promise<{ default: T }>;

/** Every part ever asked for, by how it is loaded: so that a part that failed can be made anew. */
const made = new Map<Load<Part>, LazyExoticComponent<Part>>();

/** The part, asked for on first use. */
export function part<T extends Part>(load: Load<T>): LazyExoticComponent<T> {
  const found = made.get(load as Load<Part>) ?? lazy(load as Load<Part>);
  made.set(load as Load<Part>, found);
  return found as LazyExoticComponent<T>;
}

/** Forget what was loaded or failed: the next use asks again. */
export function askAgain(): void {
  made.clear();
}

/** Load parts while nothing else is to do, one after the other. */
export function whenIdle(loads: Load<Part>[]): void {
  const idle = window.requestIdleCallback ?? ((act: () => void) => setTimeout(act, 300));
  const [first, ...rest] = loads;
  if (first)
    idle(
      () =>
        void first().then(
          () => whenIdle(rest),
          () => undefined,
        ),
    );
}
