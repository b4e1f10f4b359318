/** Buying again: what sold and isn't there, orders to suppliers, what came of them and what is missing. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, http, type Schemas } from "../../api/client";
import type { Purchase } from "../../api/purchases";
import { Heading, Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { Advised } from "./Advised";
import { PurchaseDialog } from "./PurchaseDialog";
import { PurchaseRow } from "./PurchaseRow";

export default function Restock({ me }: { me: Schemas["Me"] }) {
  const found = useQuery({ queryKey: ["purchases"], queryFn: () => ask(http.GET("/api/purchases")) });
  const [draft, setDraft] = useState<Purchase | null>(null);
  const may = me.role !== "trainee";
  const open = found.data?.orders.filter((o) => o.state === "draft" || o.state === "sent") ?? [];
  const over = found.data?.orders.filter((o) => o.state === "done" || o.state === "cancelled") ?? [];
  return (
    <RoomPage
      title="Buying again"
      side={
        <span className="flex flex-wrap items-center gap-2">
          <Link to="/stockroom/orders" className="inline-flex min-h-11 items-center px-2 underline">
            Athletes' orders
          </Link>
          <Link to="/stockroom" className="inline-flex min-h-11 items-center px-2 underline">
            Back to the rack
          </Link>
        </span>
      }
    >
      {found.isPending && <Loading what="what to buy" />}
      {found.error && !found.data && (
        <Note title="What to buy can't be shown" again>
          {found.error.message}
        </Note>
      )}
      {found.data && (
        <div className="max-w-5xl">
          <Advised sizes={found.data.advised} may={may} onBegin={setDraft} />
          <section aria-label="Orders to suppliers" className="mt-6">
            <Heading>Orders to suppliers</Heading>
            {!open.length && <p className="text-faint">None is open.</p>}
            <ul>
              {open.map((o) => (
                <PurchaseRow key={o.id} order={o} may={may} onEdit={setDraft} />
              ))}
            </ul>
          </section>
          {over.length > 0 && (
            <section aria-label="Done" className="mt-6">
              <Heading>Done</Heading>
              <ul>
                {over.map((o) => (
                  <PurchaseRow key={o.id} order={o} may={false} onEdit={setDraft} />
                ))}
              </ul>
            </section>
          )}
        </div>
      )}
      {draft && <PurchaseDialog order={draft} onClose={() => setDraft(null)} />}
    </RoomPage>
  );
}
