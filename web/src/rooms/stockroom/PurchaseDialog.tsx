/** An order to a supplier before it is sent: to whom, for when, how many of each size. */
import { useState } from "react";
import type { Purchase } from "../../api/purchases";
import { useSavePurchase } from "../../api/purchases";
import { Button } from "../../ui/Button";
import { DateField } from "../../ui/DateField";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";
import { printed } from "../../ui/pair";
import { TextField } from "../../ui/TextField";

export function PurchaseDialog({ order, onClose }: { order: Purchase; onClose: () => void }) {
  const save = useSavePurchase(order.id);
  const [now, setNow] = useState(order);
  const wanted = now.lines.filter((x) => x.pairs > 0);
  return (
    <Dialog open wide onClose={onClose} title={order.number ? `Order ${order.number}` : "A new order"}>
      <form
        aria-label="The order"
        onSubmit={(e) => {
          e.preventDefault();
          if (save.isPending) return;
          save.mutate(
            {
              version: order.version,
              supplier: now.supplier,
              expected_on: now.expected_on,
              note: now.note,
              lines: wanted.map((x) => ({ variant_id: x.variant_id, pairs: x.pairs })),
            },
            { onSuccess: onClose },
          );
        }}
      >
        <div className="flex flex-wrap items-end gap-2">
          <TextField
            className="min-w-56 flex-1"
            label="Supplier"
            value={now.supplier}
            onChange={(v) => setNow((o) => ({ ...o, supplier: v.slice(0, 80) }))}
          />
          <DateField
            className="w-40"
            label="Expected on"
            value={now.expected_on ?? ""}
            onCommit={(v) => setNow((o) => ({ ...o, expected_on: v || null }))}
          />
        </div>
        <TextField
          className="mt-2"
          label="A word to them"
          value={now.note}
          onChange={(v) => setNow((o) => ({ ...o, note: v.slice(0, 300) }))}
        />
        <ul className="mt-3">
          {now.lines.map((x) => (
            <li
              key={x.variant_id}
              className="flex items-center justify-between gap-3 border-line border-b py-1"
            >
              <span>
                {x.maker} {x.name} <span className="font-mono">{printed(x)}</span>
                {x.width !== "regular" && `, ${x.width}`}
                {x.colour && `, ${x.colour}`}
              </span>
              <NumberField
                hideLabel
                label={`Pairs of ${x.name} ${printed(x)}`}
                unit="pairs"
                decimals={0}
                min={0}
                max={10000}
                value={x.pairs}
                onChange={(v) =>
                  setNow((o) => ({
                    ...o,
                    lines: o.lines.map((y) => (y === x ? { ...y, pairs: Math.round(v ?? 0) } : y)),
                  }))
                }
                width="w-32"
              />
            </li>
          ))}
        </ul>
        {save.error && (
          <p role="alert" className="mt-2 text-madder">
            {save.error.message}
          </p>
        )}
        <span className="mt-3 flex gap-2">
          <Button
            type="submit"
            kind="strong"
            disabled={save.isPending || !wanted.length || !now.supplier.trim()}
          >
            Keep the order
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </span>
      </form>
    </Dialog>
  );
}
