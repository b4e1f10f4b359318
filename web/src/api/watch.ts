/** When the connection is back, what failed meanwhile and what may have changed is asked for again. */
import type { Query, QueryClient } from "@tanstack/react-query";
import { connection, isReady, lost, subscribeConnection } from "./connection";

/** What never changes once it is known. */
const lasts = (query: Query): boolean =>
  query.observers.some((o) => o.options.staleTime === Number.POSITIVE_INFINITY);

/**
 * Keep watch for as long as the page lives. It looks once at the beginning: a page opened from what was last known
 * may have nothing to ask for a while.
 */
export function watchConnection(client: QueryClient): () => void {
  let was = connection().offline;
  const stop = subscribeConnection(() => {
    const { offline } = connection();
    if (offline === was) return;
    was = offline;
    // Fresh or not: what was sent when it went may have been done, its answer lost.
    if (!offline)
      void client.invalidateQueries({ predicate: (q) => q.state.status === "error" || !lasts(q) });
  });
  void isReady().then((there) => {
    if (!there) lost();
  });
  return stop;
}
