/** What was last known of the bench, kept in the browser so that a reload without connection still opens it. */
import { createAsyncStoragePersister } from "@tanstack/query-async-storage-persister";
import type { Query } from "@tanstack/react-query";
import type { PersistedClient } from "@tanstack/react-query-persist-client";
import { createStore, del, get, set } from "idb-keyval";
import { type Fitting, Trouble } from "./client";
import { connection } from "./connection";
import { dropTold, hasTold, withTold } from "./told";

/** Questions whose answers are worth keeping; long lists and pictures are not. */
const WORTH = new Set(["me", "fitting", "of", "vocabulary", "house", "today", "queue", "athlete", "shape"]);
const NAME = "kalon.kept";
const store = () => createStore("kalon", "kept");

/** Questions of somebody: their second word says of whom. */
const OF_SOMEBODY = new Set(["fitting", "of", "athlete", "shape"]);
/** So many fittings and athletes are kept, those looked at last. House default. */
export const MOST_KEPT = 24;

/** What is kept of a browser's answers: of the newest few fittings and athletes, and what is of nobody. */
export function limited(client: PersistedClient): PersistedClient {
  const { queries } = client.clientState;
  const newest = new Map<string, number>();
  for (const { queryKey, state } of queries) {
    const [kind, whose] = queryKey.map(String);
    if (kind && whose && OF_SOMEBODY.has(kind))
      newest.set(whose, Math.max(newest.get(whose) ?? 0, state.dataUpdatedAt));
  }
  const kept = new Set(
    [...newest].sort(([, a], [, b]) => b - a).flatMap(([whose], i) => (i < MOST_KEPT ? [whose] : [])),
  );
  const stays = (key: readonly unknown[]) => !OF_SOMEBODY.has(String(key[0])) || kept.has(String(key[1]));
  return {
    ...client,
    clientState: { ...client.clientState, queries: queries.filter((q) => stays(q.queryKey)) },
  };
}

const fittingsOf = (client: PersistedClient) =>
  client.clientState.queries.filter((q) => q.queryKey[0] === "fitting" && q.state.data !== undefined);

/** What was kept as it is written down, and back, with what was acknowledged since. */
export const written = (client: PersistedClient): string => JSON.stringify(limited(client));
export function readBack(text: string): PersistedClient {
  const client = JSON.parse(text) as PersistedClient;
  for (const query of fittingsOf(client)) query.state.data = withTold(query.state.data as Fitting);
  return client;
}

export const persister = createAsyncStoragePersister({
  key: NAME,
  throttleTime: 1000,
  serialize: written,
  deserialize: readBack,
  storage: {
    getItem: async (key: string) => (await get<string>(key, store())) ?? null,
    setItem: async (key: string, value: string) => {
      await set(key, value, store());
      for (const query of fittingsOf(JSON.parse(value) as PersistedClient))
        hasTold(query.state.data as Fitting);
    },
    removeItem: (key: string) => del(key, store()),
  },
});

export const isErased = (error: unknown): boolean =>
  error instanceof Trouble && error.problem.code === "erased";

export const isWorthKeeping = (query: Query): boolean =>
  query.state.data !== undefined && WORTH.has(String(query.queryKey[0])) && !connection().signedOut;

/** What may have changed since it is asked for; what follows from its key alone stands as it was computed. */
const CHANGES = new Set(["me", "fitting", "house", "today", "queue", "athlete"]);

/** Known before this page was opened: shown meanwhile, and never counted as fresh. */
export const isFromBefore = (query: Query): boolean =>
  CHANGES.has(String(query.queryKey[0])) && query.state.dataUpdatedAt < performance.timeOrigin;

/** What was known of somebody who was erased is known no longer, here either. */
export const forgetErased = (error: unknown, query: Query<unknown, unknown>): void => {
  if (!isErased(error)) return;
  query.setState({ data: undefined, dataUpdatedAt: 0 });
  if (query.queryKey[0] === "fitting") dropTold(String(query.queryKey[1]));
};

export const KEPT_FOR_MS = 3 * 86_400_000;

/** Nothing of a person's work stays behind when they sign out. */
export const forgetKept = (): Promise<void> => {
  dropTold();
  return del(NAME, store());
};
