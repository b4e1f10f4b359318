/** One order to a supplier: sent, received in part, chased, given up. */
import { useState } from "react";
import type { Purchase } from "../../api/purchases";
import { useChased, useGiveUp, useReceive, useStepPurchase } from "../../api/purchases";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { DateField } from "../../ui/DateField";
import { NumberField } from "../../ui/NumberField";
import { printed } from "../../ui/pair";
import { counted } from "./Advised";

const WORDS: Record<Purchase["state"], string> = {
  draft: "not sent",
  sent: "sent",
  done: "done",
  cancelled: "let go",
};
const link =
  "inline-flex min-h-11 items-center rounded-sm border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper";

interface Props {
  order: Purchase;
  may: boolean;
  onEdit: (order: Purchase) => void;
}

export function PurchaseRow({ order, may, onEdit }: Props) {
  const [open, setOpen] = useState(false);
  const step = useStepPurchase(order.id);
  const pairs = order.lines.reduce((n, x) => n + x.pairs, 0);
  return (
    <li data-purchase={order.number} className="border-line border-b py-1">
      <div className="flex min-h-12 flex-wrap items-center gap-x-3 gap-y-1">
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="min-h-11 min-w-60 flex-1 text-left leading-tight hover:bg-sheet"
        >
          <span className="font-mono">{order.number}</span> <b>{order.supplier}</b>
          <span className="block text-faint text-sm">
            {counted(pairs, "pair")}, {day(order.made_at)}, by {order.by}
            {order.expected_on && `, expected ${day(order.expected_on)}`}
            {order.chased_at && `, asked after ${day(order.chased_at)}`}
            {order.note && `: ${order.note}`}
          </span>
        </button>
        <b>
          {WORDS[order.state]}
          {order.state === "sent" && `, ${order.missing} missing`}
          {order.late && " and late"}
        </b>
        <a className={link} href={`/api/purchases/${order.id}/order.pdf`} target="_blank" rel="noreferrer">
          PDF
        </a>
        <a className={link} href={`/api/purchases/${order.id}/order.csv`} download>
          CSV
        </a>
        {may && order.state === "draft" && (
          <>
            <Button onClick={() => onEdit(order)}>Change</Button>
            <Button weight="weighty" disabled={step.isPending} onClick={() => step.mutate("cancelled")}>
              Let it go
            </Button>
            <Button
              kind="strong"
              weight="weighty"
              disabled={step.isPending}
              onClick={() => step.mutate("sent")}
            >
              It is sent
            </Button>
          </>
        )}
        {may && order.state === "sent" && (
          <Button kind="strong" onClick={() => setOpen(true)}>
            Some came
          </Button>
        )}
      </div>
      {step.error && (
        <p role="alert" className="text-madder text-sm">
          {step.error.message}
        </p>
      )}
      {open && <Came order={order} may={may && order.state === "sent"} />}
    </li>
  );
}

/** What came of each size; what is missing is asked after or given up. */
function Came({ order, may }: { order: Purchase; may: boolean }) {
  const receive = useReceive(order.id);
  const chase = useChased(order.id);
  const giveUp = useGiveUp(order.id);
  const step = useStepPurchase(order.id);
  const [came, setCame] = useState<Record<string, number>>({});
  const some = Object.fromEntries(Object.entries(came).filter(([, n]) => n > 0));
  const count = Object.values(some).reduce((n, x) => n + x, 0);
  const all = Object.fromEntries(
    order.lines.filter((x) => x.missing > 0).map((x) => [x.variant_id, x.missing]),
  );
  const trouble = receive.error ?? chase.error ?? giveUp.error ?? step.error;
  return (
    <div className="pb-2 pl-4">
      <ul>
        {order.lines.map((x) => (
          <li key={x.variant_id} className="flex flex-wrap items-center justify-between gap-2 py-0.5">
            <span>
              {x.name} <span className="font-mono">{printed(x)}</span>
              {x.width !== "regular" && `, ${x.width}`}
              {x.colour && `, ${x.colour}`}
              <span className="text-faint text-sm">
                {" "}
                {x.received} of {x.pairs} came
                {x.given_up && x.received < x.pairs && ", the rest comes no more"}
              </span>
            </span>
            {may && (x.missing > 0 || x.given_up) && (
              <span className="flex items-center gap-2">
                {x.missing > 0 && (
                  <NumberField
                    hideLabel
                    label={`Came of ${x.name} ${printed(x)}`}
                    unit="pairs"
                    decimals={0}
                    min={0}
                    value={came[x.variant_id] ?? null}
                    usual={x.missing}
                    onChange={(v) => setCame((c) => ({ ...c, [x.variant_id]: Math.round(v ?? 0) }))}
                    width="w-28"
                  />
                )}
                <Button
                  kind="quiet"
                  disabled={giveUp.isPending}
                  onClick={() => giveUp.mutate({ variant_id: x.variant_id, yes: !x.given_up })}
                >
                  {x.given_up ? "Awaited after all" : "Comes no more"}
                </Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {trouble && (
        <p role="alert" className="text-madder text-sm">
          {trouble.message}
        </p>
      )}
      {may && (
        <div className="mt-2 flex flex-wrap items-end gap-2">
          <Button
            kind="strong"
            weight="weighty"
            means={`${count}`}
            disabled={receive.isPending || !order.missing}
            onClick={() => receive.mutate(count ? some : all, { onSuccess: () => setCame({}) })}
          >
            {count ? `${count} came` : order.missing === 1 ? "It came" : `All ${order.missing} came`}
          </Button>
          <DateField
            className="w-44"
            label="Asked after: expected now on"
            value={order.expected_on ?? ""}
            onCommit={(v) => chase.mutate(v || null)}
          />
          <Button weight="weighty" disabled={step.isPending} onClick={() => step.mutate("done")}>
            Nothing more comes
          </Button>
        </div>
      )}
    </div>
  );
}
