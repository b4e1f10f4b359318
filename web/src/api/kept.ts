/** What was last known of the bench, kept in the browser so that a reload without connection still opens it. */
import { createAsyncStoragePersister } from "@tanstack/query-async-storage-persister";
import type { Query } from "@tanstack/react-query";
import { createStore, del, get, set } from "idb-keyval";
import { Trouble } from "./client";

/** Questions whose answers are worth keeping; long lists and pictures are not. */
const WORTH = new Set(["me", "fitting", "of", "vocabulary", "house", "today", "athlete", "shape"]);
const NAME = "kalon.kept";
const store = () => createStore("kalon", "kept");

export const persister = createAsyncStoragePersister({
  key: NAME,
  throttleTime: 1000,
  storage: {
    getItem: async (key: string) => (await get<string>(key, store())) ?? null,
    setItem: (key: string, value: string) => set(key, value, store()),
    removeItem: (key: string) => del(key, store()),
  },
});

export const isErased = (error: unknown): boolean =>
  error instanceof Trouble && error.problem.code === "erased";

export const isWorthKeeping = (query: Query): boolean =>
  query.state.data !== undefined && WORTH.has(String(query.queryKey[0]));

/** What was known of somebody who was erased is known no longer, here either. */
export const forgetErased = (error: unknown, query: Query<unknown, unknown>): void => {
  if (isErased(error)) query.setState({ data: undefined, dataUpdatedAt: 0 });
};

export const KEPT_FOR_MS = 3 * 86_400_000;

/** Nothing of a person's work stays behind when they sign out. */
export const forgetKept = (): Promise<void> => del(NAME, store());
