/** The journal of takings: read by day, month or year; money given back, sums put right, days closed, each sent once. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { ask, http, type Schemas, type Trouble } from "./client";

export type JournalLine = Schemas["JournalLine"];
export type Takings = Schemas["TakingsOut"];
export type Sums = Schemas["Sums"];

export const useTakings = (of: string) =>
  useQuery({
    queryKey: ["takings", of],
    queryFn: () => ask(http.GET("/api/takings", { params: { query: of ? { of } : {} } })),
    placeholderData: (old) => old,
  });

/** What changes when the journal does. */
function useChanged() {
  const client = useQueryClient();
  return () => {
    for (const key of [
      "takings",
      "fitting",
      "orders",
      "rack",
      "rack-totals",
      "stock",
      "line",
      "of",
      "today",
    ]) {
      void client.invalidateQueries({ queryKey: [key] });
    }
  };
}

/** One act, however often it is pressed or sent: its id stays until it is answered. */
function useOnce<In, Out>(send: (given: In, id: string) => Promise<Out>) {
  const changed = useChanged();
  const id = useRef(crypto.randomUUID());
  return useMutation<Out, Trouble, In>({
    mutationFn: (given) => send(given, id.current),
    onSuccess: () => {
      id.current = crypto.randomUUID();
      changed();
    },
    onError: (error) => {
      if (!error.passing) id.current = crypto.randomUUID();
    },
  });
}

/** Money given back upon a sale, with its pair or without. */
export const useBack = (journal_id: string) =>
  useOnce((given: Omit<Schemas["BackIn"], "id">, id) =>
    ask(
      http.POST("/api/takings/lines/{journal_id}/back", {
        params: { path: { journal_id } },
        body: { ...given, id },
      }),
    ),
  );

export const useCorrect = (journal_id: string) =>
  useOnce((given: Omit<Schemas["CorrectIn"], "id">, id) =>
    ask(
      http.POST("/api/takings/lines/{journal_id}/correct", {
        params: { path: { journal_id } },
        body: { ...given, id },
      }),
    ),
  );

export const useTill = (journal_id: string) =>
  useOnce((number: string | null) =>
    ask(
      http.PUT("/api/takings/lines/{journal_id}/till", {
        params: { path: { journal_id } },
        body: { number },
      }),
    ),
  );

export const useCloseDay = () =>
  useOnce((day: string, id) => ask(http.POST("/api/takings/close", { body: { id, day } })));

export const useDeposit = (order_id: string) =>
  useOnce((amount_minor: number, id) =>
    ask(
      http.POST("/api/orders/{order_id}/deposit", {
        params: { path: { order_id } },
        body: { id, amount_minor },
      }),
    ),
  );

export const useDepositBack = (order_id: string) =>
  useOnce((why: string, id) =>
    ask(
      http.POST("/api/orders/{order_id}/deposit/back", { params: { path: { order_id } }, body: { id, why } }),
    ),
  );
