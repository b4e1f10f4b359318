/** A fitting as the server knows it: how it is asked for and kept. */
import { queryOptions, replaceEqualDeep, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { ask, type Fitting, http, type PartName } from "./client";
import { acknowledgedOf } from "./outbox";

export const fittingKey = (id: string) => ["fitting", id] as const;

/** The newer of what is known of a fitting, part by part: an answer asked for before a change was acknowledged must
 * not bring back what it replaced. */
export function newerParts(known: unknown, came: unknown): unknown {
  const old = known as Fitting | undefined;
  const now = came as Fitting;
  if (!old || old.id !== now.id) return now;
  const parts = Object.fromEntries(
    (Object.keys(now.parts) as PartName[]).map((name) => [
      name,
      old.parts[name].version > now.parts[name].version ? old.parts[name] : now.parts[name],
    ]),
  ) as unknown as Fitting["parts"];
  return replaceEqualDeep(old, { ...now, parts });
}

/** A fitting with what was acknowledged from here since it was asked for: on a page just opened nothing older is known
 * that could hold it against the answer. */
export function withAcknowledged(came: Fitting): Fitting {
  const parts = { ...came.parts };
  for (const name of Object.keys(parts) as PartName[]) {
    const told = acknowledgedOf(came.id, name);
    if (told && told.version > parts[name].version) Object.assign(parts, { [name]: told });
  }
  return { ...came, parts };
}

/** How a fitting is asked for. */
export const fittingQuery = (id: string) =>
  queryOptions({
    queryKey: fittingKey(id),
    structuralSharing: newerParts,
    queryFn: async () =>
      withAcknowledged(
        await ask(http.GET("/api/fittings/{fitting_id}", { params: { path: { fitting_id: id } } })),
      ),
  });

export const useFittingQuery = (id: string) => useQuery({ ...fittingQuery(id), refetchInterval: 15_000 });

/** Put an answer that carries the whole fitting into the cache. */
export function useStoreFitting() {
  const client = useQueryClient();
  return useCallback(
    (fitting: Fitting) => {
      client.setQueryData(fittingKey(fitting.id), fitting);
      void client.invalidateQueries({ queryKey: ["of", fitting.id] });
      void client.invalidateQueries({ queryKey: ["today"] });
      void client.invalidateQueries({ queryKey: ["athlete", fitting.athlete.id] });
    },
    [client],
  );
}
