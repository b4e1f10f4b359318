/** None of these: the sizes of the range that aren't here and promise most, who has them, and the order with its sheet. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, http } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useSizeWord } from "../../api/house";
import { type Order, useWant } from "../../api/orders";
import { useTray } from "../../api/tray";
import { useHope } from "../../drawing/Hope";
import { Arrived } from "../../ui/Arrived";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { SheetText } from "../../ui/OrderSheet";
import { printed } from "../../ui/pair";
import { Loading, Untold } from "../../ui/words";

export function NotHere() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button className="mt-2 w-full" onClick={() => setOpen(true)}>
        None of these …
      </Button>
      {open && <NotHereDialog onClose={() => setOpen(false)} />}
    </>
  );
}

function NotHereDialog({ onClose }: { onClose: () => void }) {
  const { fitting } = useDesk();
  const hope = useHope();
  const path = { params: { path: { fitting_id: fitting.id } } };
  const found = useQuery({
    queryKey: ["of", fitting.id, "to-order"],
    queryFn: () => ask(http.GET("/api/fittings/{fitting_id}/to-order", path)),
    gcTime: 0,
  });
  const before = useQuery({
    queryKey: ["orders", fitting.id],
    queryFn: () => ask(http.GET("/api/fittings/{fitting_id}/orders", path)),
  });
  const want = useWant(fitting.id);
  const orders: Order[] = before.data ?? [];
  return (
    <Dialog open wide onClose={onClose} title="None of these: what to order">
      {orders.map((o) => (
        <section key={o.id} aria-label="Ordered" className="mb-3 border-ink border-l-4 bg-paper p-2">
          <p>
            <b>
              {o.maker} {o.name} {printed(o)}
            </b>{" "}
            {o.says}
            {o.other ? `, ${o.other}` : ""}.{" "}
            <Link to="/stockroom/orders" className="inline-flex min-h-11 items-center underline">
              All orders
            </Link>
          </p>
          <Arrived order={o} />
          <SheetText sheet={o.sheet} />
        </section>
      ))}
      {found.error && <p role="alert">{found.error.message}</p>}
      {found.isPending && <Loading what="the range" />}
      {want.error && (
        <p role="alert" className="text-madder">
          {want.error.message}
        </p>
      )}
      {found.data && !found.data.length && <p>Nothing of the range that isn't here would fit better.</p>}
      <Substitutes onClose={onClose} />
      <h3 className="mt-4 font-semibold">Not on hand here</h3>
      <ol aria-label="What to order">
        {(found.data ?? []).map((p) => {
          const done = orders.some((o) => o.variant_id === p.variant_id && o.state !== "cancelled");
          return (
            <li
              key={p.variant_id}
              className="flex min-h-14 flex-wrap items-center gap-x-3 gap-y-1 border-line border-b py-1"
            >
              <span className="min-w-48 flex-1 leading-tight">
                <b>{p.name}</b> <span className="text-faint text-sm">{p.maker}</span>{" "}
                <span className="whitespace-nowrap font-mono">{printed(p)}</span> {p.width}
                <span className="block text-faint text-sm">{hope(p)}</span>
              </span>
              {p.elsewhere.map((e) => (
                <Button
                  key={e.shop_id}
                  weight="weighty"
                  aria-label={`Ask ${e.shop.split(", ").at(-1)} for ${p.name} ${printed(p)}`}
                  disabled={done || want.isPending}
                  onClick={() =>
                    want.mutate({ variant_id: p.variant_id, from_shop: e.shop_id, fitting_id: fitting.id })
                  }
                >
                  Ask {e.shop.split(", ").at(-1)} ({e.free})
                </Button>
              ))}
              <Button
                weight="weighty"
                aria-label={`Order it: ${p.name} ${printed(p)}`}
                disabled={done || want.isPending}
                onClick={() =>
                  want.mutate({ variant_id: p.variant_id, from_shop: null, fitting_id: fitting.id })
                }
              >
                Order it
              </Button>
            </li>
          );
        })}
      </ol>
      <h3 className="mt-4 font-semibold">The last resort</h3>
      <p className="flex min-h-14 flex-wrap items-center gap-3">
        <span className="min-w-48 flex-1">
          A last made for these feet. The sheet for its maker has the feet, the room wanted, and the shoe in a
          hand's words.
        </span>
        <Button
          weight="seen"
          disabled={orders.some((o) => o.made && o.state !== "cancelled") || want.isPending}
          onClick={() => want.mutate({ variant_id: null, from_shop: null, fitting_id: fitting.id })}
        >
          Have a pair made
        </Button>
      </p>
    </Dialog>
  );
}

/** Pairs of other sports on hand that may serve, with what each gives up. */
function Substitutes({ onClose }: { onClose: () => void }) {
  const sizeWord = useSizeWord();
  const { fitting } = useDesk();
  const hope = useHope();
  const found = useQuery({
    queryKey: ["of", fitting.id, "substitutes"],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/substitutes", { params: { path: { fitting_id: fitting.id } } }),
      ),
    gcTime: 0,
  });
  const pull = useTray(fitting.id);
  if (!found.data?.length) return <Untold of={found} what="What else may serve" />;
  return (
    <>
      <h3 className="mt-2 font-semibold">Made for something else, and may serve</h3>
      {pull.error && (
        <p role="alert" className="text-madder">
          {pull.error.message}
        </p>
      )}
      <ol aria-label="Made for something else">
        {found.data.map((p) => (
          <li
            key={p.pair.id}
            className="flex min-h-14 flex-wrap items-center gap-x-3 border-line border-b py-1"
          >
            <span className="min-w-48 flex-1 leading-tight">
              <b>{p.pair.name}</b>{" "}
              <span className="text-faint text-sm">
                {p.pair.maker}, {p.sport}
              </span>{" "}
              <span className="whitespace-nowrap font-mono">{sizeWord(p.pair)}</span> {p.pair.width}
              <span className="block text-faint text-sm">
                {hope(p)} {p.gives_up.length > 0 && `Gives up: ${p.gives_up.slice(0, 2).join(" ")}`}
              </span>
            </span>
            <Button
              aria-label={`Into the tray: ${p.pair.name} ${p.pair.eu_label}`}
              disabled={pull.isPending || fitting.tray.some((t) => t.id === p.pair.id)}
              onClick={() =>
                pull.mutate(
                  { line: p.pair.id, out: false, name: `${p.pair.name} ${sizeWord(p.pair)}` },
                  { onSuccess: onClose },
                )
              }
            >
              Into the tray
            </Button>
          </li>
        ))}
      </ol>
    </>
  );
}
