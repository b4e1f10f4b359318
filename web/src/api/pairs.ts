/** Pairs athletes own, as the server holds them: asked for, logged, looked at. */
import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { ask, http, type Schemas } from "./client";

export type OwnedPair = Schemas["OwnedPair"];
export type PairPage = Schemas["PairPage"];

const path = (pair_id: string) => ({ params: { path: { pair_id } } });

export const usePairsOf = (athlete: string) =>
  useQuery({
    queryKey: ["pairs-of", athlete],
    queryFn: () =>
      ask(http.GET("/api/athletes/{athlete_id}/pairs", { params: { path: { athlete_id: athlete } } })),
  });

export const usePair = (id: string) =>
  useQuery({ queryKey: ["pair", id], queryFn: () => ask(http.GET("/api/pairs/{pair_id}", path(id))) });

/** A pair is now so: everywhere it is shown, and in what is reckoned from it. */
export function pairIs(client: QueryClient, page: PairPage): void {
  client.setQueryData(["pair", page.pair.id], page);
  client.setQueryData<OwnedPair[]>(["pairs-of", page.pair.athlete_id], (old) =>
    old?.map((p) => (p.id === page.pair.id ? page.pair : p)),
  );
  void client.invalidateQueries({ queryKey: ["pairs-of", page.pair.athlete_id] });
  void client.invalidateQueries({ queryKey: ["plan"] });
  void client.invalidateQueries({ queryKey: ["today"] });
}

/** One change under one id for as long as it has not arrived, so that pressing again sends the same. */
export function useChangeId() {
  const id = useRef(crypto.randomUUID());
  return {
    now: () => id.current,
    done: () => {
      id.current = crypto.randomUUID();
    },
  };
}

export function useLogWorn(pairId: string) {
  const client = useQueryClient();
  const id = useChangeId();
  return useMutation({
    mutationFn: (body: Omit<Schemas["WornIn"], "id">) =>
      ask(http.POST("/api/pairs/{pair_id}/worn", { ...path(pairId), body: { id: id.now(), ...body } })),
    onSuccess: (page) => {
      id.done();
      pairIs(client, page);
    },
  });
}

export function useTakeBack(pairId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ what, entry_id }: { what: "worn" | "seen"; entry_id: string }) =>
      ask(
        http.DELETE("/api/pairs/{pair_id}/{what}/{entry_id}", {
          params: { path: { pair_id: pairId, what, entry_id } },
        }),
      ),
    onSuccess: (page) => pairIs(client, page),
  });
}

export function useLook(pairId: string) {
  const client = useQueryClient();
  const id = useChangeId();
  return useMutation({
    mutationFn: (body: Omit<Schemas["SeenIn"], "id">) =>
      ask(http.POST("/api/pairs/{pair_id}/seen", { ...path(pairId), body: { id: id.now(), ...body } })),
    onSuccess: (page) => {
      id.done();
      pairIs(client, page);
    },
  });
}

export function useEnd(pairId: string) {
  const client = useQueryClient();
  const id = useChangeId();
  return useMutation({
    mutationFn: (why: Schemas["EndIn"]["why"]) =>
      ask(
        http.POST("/api/pairs/{pair_id}/end", {
          ...path(pairId),
          body: { change_id: id.now(), why, on: null },
        }),
      ),
    onSuccess: (page) => {
      id.done();
      pairIs(client, page);
    },
  });
}

export const pairName = (p: { maker: string; name: string }): string => `${p.maker} ${p.name}`.trim();
