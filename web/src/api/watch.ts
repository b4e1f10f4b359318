/** When the connection is back, what failed meanwhile is asked for again. */
import type { QueryClient } from "@tanstack/react-query";
import { connection, isReady, lost, subscribeConnection } from "./connection";

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
    if (!offline)
      void client.invalidateQueries({ predicate: (q) => q.state.status === "error" || q.isStale() });
  });
  void isReady().then((there) => {
    if (!there) lost();
  });
  return stop;
}
