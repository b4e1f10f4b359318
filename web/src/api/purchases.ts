/** Orders to suppliers: each act under an id of its own, so that sending it twice does it once. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { ask, http, type Schemas, type Trouble } from "./client";

export type Purchase = Schemas["PurchaseOut"];

function usePurchase<In>(send: (given: In, change_id: string) => Promise<Purchase>) {
  const client = useQueryClient();
  const id = useRef(crypto.randomUUID());
  return useMutation<Purchase, Trouble, In>({
    mutationFn: (given) => send(given, id.current),
    onSuccess: () => {
      id.current = crypto.randomUUID();
      for (const key of ["purchases", "rack", "rack-totals", "stock", "line", "of"])
        void client.invalidateQueries({ queryKey: [key] });
    },
    onError: (error) => {
      if (!error.passing) id.current = crypto.randomUUID();
    },
  });
}

export const useSavePurchase = (purchase_id: string) =>
  usePurchase((given: Omit<Schemas["PurchaseIn"], "change_id">, change_id) =>
    ask(
      http.PUT("/api/purchases/{purchase_id}", {
        params: { path: { purchase_id } },
        body: { ...given, change_id },
      }),
    ),
  );

export const useStepPurchase = (purchase_id: string) =>
  usePurchase((to: Schemas["PurchaseStep"]["to"], change_id) =>
    ask(
      http.POST("/api/purchases/{purchase_id}/steps", {
        params: { path: { purchase_id } },
        body: { change_id, to },
      }),
    ),
  );

export const useReceive = (purchase_id: string) =>
  usePurchase((pairs: Record<string, number>, change_id) =>
    ask(
      http.POST("/api/purchases/{purchase_id}/received", {
        params: { path: { purchase_id } },
        body: { change_id, pairs },
      }),
    ),
  );

export const useChased = (purchase_id: string) =>
  usePurchase((expected_on: string | null, change_id) =>
    ask(
      http.POST("/api/purchases/{purchase_id}/chased", {
        params: { path: { purchase_id } },
        body: { change_id, expected_on },
      }),
    ),
  );

export const useGiveUp = (purchase_id: string) =>
  usePurchase((given: { variant_id: string; yes: boolean }, change_id) =>
    ask(
      http.POST("/api/purchases/{purchase_id}/given-up", {
        params: { path: { purchase_id } },
        body: { change_id, ...given },
      }),
    ),
  );
