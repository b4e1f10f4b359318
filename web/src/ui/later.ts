/** Parts of the interface are fetched before they are needed, while nothing else is to do. */

type Load = () => Promise<unknown>;

/** Load parts one after the other, each when the browser is idle. */
export function whenIdle(loads: Load[]): void {
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
