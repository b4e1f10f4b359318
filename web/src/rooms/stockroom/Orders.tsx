/** Orders of this shop, and what sister shops ask of it; the sizes that were wanted and not here, by month. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { ask, http, type Schemas } from "../../api/client";
import { type Order, STEP_WORDS, useOrders, useStep } from "../../api/orders";
import { Arrived } from "../../ui/Arrived";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/clock";
import { SheetText } from "../../ui/OrderSheet";
import { printed } from "../../ui/pair";
import { Heading, Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { Deposit } from "./Deposit";
import { placeOf, ShelfRuler } from "./Strip";
import { Tell } from "./Tell";

const OVER: Order["state"][] = ["arrived", "received", "refused", "cancelled", "back", "credited", "lost"];

export default function Orders() {
  const orders = useOrders();
  const needs = useQuery({ queryKey: ["needs"], queryFn: () => ask(http.GET("/api/needs")) });
  const every = orders.data ?? [];
  /** What was sent is no longer this shop's to do. */
  const over = (o: Order) =>
    OVER.includes(o.state) ||
    (!o.ours && o.state === "sent") ||
    (o.ours && o.state === "sent_back" && !o.steps.length);
  const open = every.filter((o) => !over(o));
  return (
    <RoomPage
      title="Orders"
      side={
        <span className="flex flex-wrap items-center">
          <Link to="/stockroom/buying" className="inline-flex min-h-11 items-center px-3 underline">
            Buying again
          </Link>
          <Link to="/stockroom" className="inline-flex min-h-11 items-center px-3 underline">
            Back to the rack
          </Link>
        </span>
      }
    >
      {orders.error && !orders.data && (
        <Note title="The orders can't be shown" again>
          {orders.error.message}
        </Note>
      )}
      {orders.isPending && <Loading what="the orders" />}
      {orders.data && (
        <div className="max-w-5xl">
          <Group
            title="Asked of this shop"
            orders={open.filter((o) => !o.ours)}
            none="Nobody asks for a pair."
          />
          <Group
            title="On their way here"
            orders={open.filter((o) => o.ours)}
            none="Nothing is ordered. In Pull, “None of these” says what to order."
          />
          <Group title="Done" orders={every.filter(over)} none="Nothing yet." />
        </div>
      )}
      {!!needs.data?.length && <Needs needs={needs.data} />}
    </RoomPage>
  );
}

function Group({ title, orders, none }: { title: string; orders: Order[]; none: string }) {
  return (
    <section aria-label={title} className="mb-4">
      <Heading>{title}</Heading>
      {!orders.length && <p className="text-faint">{none}</p>}
      <ul>
        {orders.map((o) => (
          <One key={o.id} order={o} />
        ))}
      </ul>
    </section>
  );
}

function One({ order }: { order: Order }) {
  const step = useStep();
  return (
    <li data-order={order.id} className="border-line border-b py-1">
      <div className="flex min-h-12 flex-wrap items-center gap-x-3 gap-y-1">
        <span className="min-w-60 flex-1 leading-tight">
          <b>{order.name}</b> <span className="text-faint text-sm">{order.maker}</span>{" "}
          <span className="font-mono">{printed(order)}</span> {order.width}
          {order.colour && ` ${order.colour}`}
          <span className="block text-faint text-sm">
            {order.ours
              ? order.other
                ? `from ${order.other}`
                : order.made
                  ? "made on a last of its own"
                  : "from its supplier"
              : `for ${order.other}`}
            {order.athlete && (
              <>
                {", for "}
                <Link
                  to={`/fittings/${order.fitting_id}/pull`}
                  className="inline-flex min-h-11 items-center underline"
                >
                  {order.athlete}
                </Link>
              </>
            )}
            , {moment(order.asked_at)}
            {order.note && `: ${order.note}`}
          </span>
          {order.told && <b className="block text-sm">{order.told}</b>}
        </span>
        <b data-state={order.state}>
          {order.says}
          {order.held_until && order.state === "held" ? ` until ${moment(order.held_until)}` : ""}
        </b>
        {order.steps.map((to, i) => (
          <Button
            key={to}
            weight="weighty"
            kind={i === 0 && to !== "cancelled" && to !== "sent_back" ? "strong" : "plain"}
            disabled={step.isPending}
            onClick={() => step.mutate({ order: order.id, to })}
          >
            {STEP_WORDS[to]}
          </Button>
        ))}
      </div>
      {step.error && (
        <p role="alert" className="text-madder text-sm">
          {step.error.message}
        </p>
      )}
      {order.ours && (!!order.left_minor || (!!order.athlete && !OVER.slice(1).includes(order.state))) && (
        <Deposit order={order} />
      )}
      {order.ours && order.athlete && (order.state === "arrived" || order.state === "received") && (
        <Tell order={order} />
      )}
      {order.fitting_id && order.state !== "sent_back" && <Arrived order={order} />}
      {!!(order.sheet as { why?: string }).why && (
        <details className="text-sm">
          <summary className="flex min-h-11 w-fit cursor-pointer items-center underline">Order sheet</summary>
          <SheetText sheet={order.sheet} />
        </details>
      )}
    </li>
  );
}

/** A month a row, on the rack's own scale: a mark for each pair wanted, filled where it came. */
function Needs({ needs }: { needs: Schemas["NeedOut"][] }) {
  const months = [...new Set(needs.map((n) => n.month))];
  return (
    <section aria-label="Wanted and not here" className="max-w-5xl">
      <Heading>Wanted and not here: what to buy next</Heading>
      <div className="grid grid-cols-[9rem_1fr] gap-3 max-sm:grid-cols-[4.5rem_1fr] border-ink border-b">
        <span className="text-faint text-xs">Month</span>
        <ShelfRuler />
      </div>
      <ol>
        {months.map((month) => {
          const of = needs.filter((n) => n.month === month);
          const sizes = [...new Set(of.map((n) => n.eu_label))];
          const sum = (eu: number, what: "wanted" | "came") =>
            of.filter((n) => n.eu_label === eu).reduce((n, o) => n + o[what], 0);
          const said = of
            .map(
              (n) => `${n.wanted} × ${n.sport} EU ${n.eu_label}${n.width === "regular" ? "" : ` ${n.width}`}`,
            )
            .join(", ");
          return (
            <li
              key={month}
              className="grid grid-cols-[9rem_1fr] gap-3 max-sm:grid-cols-[4.5rem_1fr] border-line border-b py-1"
            >
              <span className="font-mono text-sm">{month}</span>
              <span>
                <svg
                  viewBox="0 0 100 24"
                  preserveAspectRatio="none"
                  className="block h-7 w-full"
                  role="img"
                  aria-label={said}
                >
                  {sizes.map((eu) => (
                    <rect
                      key={eu}
                      x={placeOf(eu) - 1.2}
                      width="2.4"
                      y={Math.max(22 - 5 * sum(eu, "wanted"), 0)}
                      height={Math.min(5 * sum(eu, "wanted"), 22)}
                      fill={sum(eu, "came") >= sum(eu, "wanted") ? "var(--ink)" : "var(--sheet)"}
                      stroke="var(--ink)"
                      vectorEffect="non-scaling-stroke"
                    />
                  ))}
                </svg>
                <span className="block text-sm">{said}</span>
              </span>
            </li>
          );
        })}
      </ol>
    </section>
  );
}
