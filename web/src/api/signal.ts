/** Who wants to know that something changed, and telling them: one set of listeners, made once. */
export interface Signal {
  /** Listen from now on; what it answers ends that. */
  subscribe: (listener: () => void) => () => void;
  tell: () => void;
}

export function signal(): Signal {
  const listeners = new Set<() => void>();
  return {
    subscribe: (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    tell: () => {
      for (const listener of listeners) listener();
    },
  };
}
