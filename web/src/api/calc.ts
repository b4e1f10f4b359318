/** A named computation asked again and again while something is dragged: the last answer stays until the next. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ask, http, Trouble } from "./client";

interface Computed<Out> {
  found: Out;
  /** Why what is shown isn't what was dragged. */
  trouble: string | null;
}

/** `given` computed, or `untouched` as long as nothing was dragged. */
export function useCalc<Out>(name: string, given: object, dragged: boolean, untouched: Out): Computed<Out> {
  const asked = useQuery({
    queryKey: ["calc", name, given],
    queryFn: () =>
      ask(
        http.POST("/api/calc/{name}", { params: { path: { name } }, body: given as never }),
      ) as Promise<unknown> as Promise<Out>,
    enabled: dragged,
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: 1,
  });
  if (!dragged) return { found: untouched, trouble: null };
  const { error } = asked;
  const away = asked.fetchStatus === "paused" || (error instanceof Trouble && error.offline);
  return {
    found: asked.data ?? untouched,
    trouble: away ? "there is no connection." : (error?.message ?? null),
  };
}
