/** Orders and transfers: asked for, and taken a step on, each under an id that makes sending it twice harmless. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { printed } from "../ui/pair";
import { ask, http, type Schemas, type Trouble } from "./client";
import { remember } from "./history";

export type Order = Schemas["OrderOut"];
export type Step = Order["steps"][number];

export const STEP_WORDS: Record<Step, string> = {
  wanted: "Want it",
  ordered: "It is ordered",
  arrived: "It is here",
  asked: "Ask for it",
  held: "Hold it for them",
  sent: "Send it",
  received: "It is here",
  refused: "Refuse",
  cancelled: "Let it go",
  sent_back: "Send it back",
  back: "It is back here",
  credited: "It is credited",
  lost: "It never came: write it off",
};

export const useOrders = () =>
  useQuery({ queryKey: ["orders"], queryFn: () => ask(http.GET("/api/orders")) });

type Wanted = Omit<Schemas["OrderIn"], "id" | "note">;
const keyOf = (wanted: Wanted) => `${wanted.variant_id ?? wanted.fitting_id} ${wanted.from_shop ?? ""}`;

function useChanged() {
  const client = useQueryClient();
  return () => {
    for (const key of ["orders", "needs", "rack", "rack-totals", "stock", "line", "of"]) {
      void client.invalidateQueries({ queryKey: [key] });
    }
  };
}

/** Want a pair; pressed again after a lost answer it is the same order. `where` it is wanted can take it back. */
export function useWant(where: string) {
  const changed = useChanged();
  const ids = useRef(new Map<string, string>());
  return useMutation<Order, Trouble, Wanted>({
    mutationFn: (wanted) => {
      const key = keyOf(wanted);
      const id = ids.current.get(key) ?? crypto.randomUUID();
      ids.current.set(key, id);
      return ask(http.POST("/api/orders", { body: { ...wanted, id, note: "" } }));
    },
    onSuccess: (order, wanted) => {
      ids.current.delete(keyOf(wanted)); // wanted again after this, it is another
      changed();
      const change_id = crypto.randomUUID();
      remember({
        where,
        says: `Wanted: ${order.maker} ${order.name} ${printed(order)}`,
        back: () =>
          ask(
            http.POST("/api/orders/{order_id}/steps", {
              params: { path: { order_id: order.id } },
              body: { change_id, to: "cancelled" },
            }),
          ).then(changed),
      });
    },
  });
}

export function useStep() {
  const changed = useChanged();
  const ids = useRef(new Map<string, string>());
  return useMutation<Order, Trouble, { order: string; to: Step }>({
    mutationFn: ({ order, to }) => {
      const key = `${order} ${to}`;
      const change_id = ids.current.get(key) ?? crypto.randomUUID();
      ids.current.set(key, change_id);
      return ask(
        http.POST("/api/orders/{order_id}/steps", {
          params: { path: { order_id: order } },
          body: { change_id, to },
        }),
      );
    },
    onSettled: changed,
  });
}

/** Keep what was found of a pair when it came. */
export function useArrived() {
  const changed = useChanged();
  return useMutation<Order, Trouble, { order: string; found: Schemas["ArrivalIn"] }>({
    mutationFn: ({ order, found }) =>
      ask(http.PUT("/api/orders/{order_id}/arrival", { params: { path: { order_id: order } }, body: found })),
    onSuccess: changed,
  });
}
