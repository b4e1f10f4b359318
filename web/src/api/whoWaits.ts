/** The shop's queue: asked for again and again, since others take from it; each step with its way back. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { arrived, hold } from "../ui/ahead";
import { ask, http, type Schemas } from "./client";
import { useStoreFitting } from "./fitting";
import { remember } from "./history";

export type Queue = Schemas["QueueOut"];
export type Place = Schemas["QueuePlace"];
export type NewPlace = Omit<Schemas["QueueIn"], "id">;
type Step = Schemas["QueueStep"]["step"];

const KEY = ["queue"];
/** Somebody else's press is seen after so long at most. */
const ASKED_EVERY_MS = 30_000;
/** The words said of a step, and the step that takes it back. */
const STEPS: Record<Step, [says: string, back: Step | null]> = {
  came: ["is here", null],
  left: ["left the queue", "back"],
  done: ["is done", null],
  back: ["is back in the queue", null],
};

export const useQueue = () =>
  useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => ask(http.GET("/api/queue", { signal })),
    refetchInterval: ASKED_EVERY_MS,
  });

const stepped = (id: string, step: Step) =>
  ask(http.POST("/api/queue/{place_id}/steps", { params: { path: { place_id: id } }, body: { step } }));

/** Taking a step with somebody in the queue; whoever else has them is told, and the queue shown as it is. */
export function useQueueStep() {
  const client = useQueryClient();
  const store = (now: Queue) => client.setQueryData(KEY, now);
  return useMutation({
    mutationFn: ({ place, step }: { place: Place; step: Step }) => stepped(place.id, step),
    onSuccess: (now, { place, step }) => {
      store(now);
      const [says, back] = STEPS[step];
      if (back)
        remember({
          where: "today",
          says: `${place.name} ${says}`,
          back: () => stepped(place.id, back).then(store),
          again: () => stepped(place.id, step).then(store),
        });
    },
    onError: () => client.invalidateQueries({ queryKey: KEY }),
  });
}

export const onRecord = (text: string) => ({
  queryKey: ["athletes", text],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    ask(http.GET("/api/athletes", { params: { query: { text } }, signal })),
});

/** Several are called so. */
const WHICH = "More than one on record is called so: choose which, or say how you know them.";

/** Somebody waits or is booked, once however often it is sent. Whose whole name was typed is who is on record. */
export function useJoin(onJoined: () => void) {
  const client = useQueryClient();
  const named = async (name: string): Promise<string | null> => {
    const found = await client.fetchQuery(onRecord(name));
    const same = found.filter((a) => a.name.toLowerCase() === name.toLowerCase());
    if (same.length > 1) throw new Error(WHICH);
    return same[0]?.id ?? null;
  };
  const id = useRef(crypto.randomUUID());
  const store = (now: Queue) => client.setQueryData(KEY, now);
  return useMutation({
    mutationFn: async (given: NewPlace & { says: string }) => {
      const { says, ...body } = given;
      const who = body.athlete_id ?? (await named(body.called ?? ""));
      const called = who ? "" : body.called;
      return ask(http.POST("/api/queue", { body: { ...body, athlete_id: who, called, id: id.current } }));
    },
    onSuccess: (now, { says }) => {
      const mine = id.current;
      id.current = crypto.randomUUID();
      store(now);
      remember({
        where: "today",
        says,
        back: () => stepped(mine, "left").then(store),
        again: () => stepped(mine, "back").then(store),
      });
      onJoined();
    },
  });
}

const fresh = () => ({ fitting_id: crypto.randomUUID(), change_id: crypto.randomUUID() });

/** Taking somebody up, and going where they are: once, however often it is pressed or sent. */
export function useTake() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const store = useStoreFitting();
  const ids = useRef(new Map<string, ReturnType<typeof fresh>>());
  return useMutation({
    mutationFn: (place: Place) => {
      hold("place", "t");
      const mine = ids.current.get(place.id) ?? fresh();
      ids.current.set(place.id, mine);
      return ask(
        http.POST("/api/queue/{place_id}/take", { params: { path: { place_id: place.id } }, body: mine }),
      );
    },
    onSuccess: (taken) => {
      if (taken.fitting) store(taken.fitting);
      void client.invalidateQueries({ queryKey: KEY });
      navigate(taken.place);
    },
    onError: () => {
      void arrived();
      return client.invalidateQueries({ queryKey: KEY });
    },
  });
}
