/** An ordered pair once it is here: its inside read, how it felt on, and what follows. */
import { useState } from "react";
import { type Order, useArrived } from "../api/orders";
import { useVocabulary } from "../api/vocabulary";
import { Button } from "./Button";
import { ManyOf, OneOf } from "./choice";
import { NumberField } from "./NumberField";

type Found = Order["arrival"];

/** What follows stands first; the findings under it, kept by one press. */
export function Arrived({ order }: { order: Order }) {
  const keep = useArrived();
  const names = useVocabulary().data?.pinches ?? {};
  const [found, setFound] = useState<Found>(order.arrival);
  const [changeId, setChangeId] = useState(() => crypto.randomUUID());
  const put = (more: Partial<Found>) => {
    setFound((f) => ({ ...f, ...more }));
    setChangeId(crypto.randomUUID());
  };
  if (!order.arrival_says) return null;
  const over = order.state === "sent_back";
  const same = JSON.stringify(found) === JSON.stringify(order.arrival);
  return (
    <section
      aria-label="On arrival"
      className="my-1 border-ink border-l-4 bg-paper p-3"
      data-arrival={order.id}
    >
      <p className="mb-2 font-semibold" role="status">
        {order.arrival_says.text}
      </p>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        {!order.made && (
          <NumberField
            label="Inside length"
            unit="mm"
            value={found.inner_mm}
            onChange={(inner_mm) => put({ inner_mm })}
            error={keep.error?.problem.fields.find((f) => f.field.endsWith("inner_mm"))?.text}
            width="w-32"
          />
        )}
        <div>
          <span className="block text-faint text-xs">At the toes</span>
          <OneOf
            label="At the toes"
            value={found.toes}
            options={[
              { value: "jam", text: "They jam" },
              { value: "fine", text: "Fine" },
              { value: "slack", text: "Slack" },
            ]}
            onChange={(toes) => put({ toes: toes as "jam" | "fine" | "slack" })}
            onClear={() => put({ toes: null })}
          />
        </div>
        <Button
          aria-pressed={found.heel_slip}
          className="aria-pressed:bg-ink aria-pressed:text-sheet"
          onClick={() => put({ heel_slip: !found.heel_slip })}
        >
          The heel slips
        </Button>
      </div>
      <span className="mt-2 block text-faint text-xs">Pinches at the</span>
      <ManyOf
        label="Pinches"
        value={found.pinches}
        options={Object.entries(names).map(([value, text]) => ({ value, text }))}
        onChange={(pinches) => put({ pinches: pinches as Found["pinches"] })}
      />
      <span className="mt-2 flex flex-wrap items-center gap-3">
        <Button
          kind="strong"
          weight="weighty"
          disabled={same || keep.isPending}
          onClick={() => keep.mutate({ order: order.id, found: { ...found, change_id: changeId } })}
        >
          Keep what was found
        </Button>
        {same && !over && order.arrival_says.word !== "open" && <span className="text-faint">kept</span>}
        {keep.error && (
          <span role="alert" className="text-madder">
            {keep.error.message}
          </span>
        )}
      </span>
    </section>
  );
}
