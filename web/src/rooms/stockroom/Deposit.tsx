/** Money left for an order: taken, and given back where the order comes to nothing. */
import { useState } from "react";
import { useHouse } from "../../api/house";
import type { Order } from "../../api/orders";
import { useDeposit, useDepositBack } from "../../api/takings";
import { Button } from "../../ui/Button";
import { minorDigits, money } from "../../ui/money";
import { NumberField } from "../../ui/NumberField";
import { TextField } from "../../ui/TextField";

export function Deposit({ order }: { order: Order }) {
  const currency = useHouse().data?.house.currency ?? "EUR";
  const left = useDeposit(order.id);
  const back = useDepositBack(order.id);
  const [asking, setAsking] = useState(false);
  const [amount, setAmount] = useState<number | null>(null);
  const [why, setWhy] = useState("");
  const there = order.left_minor ?? 0;
  const minor = Math.round((amount ?? 0) * 10 ** minorDigits(currency));
  const trouble = left.error ?? back.error;
  if (!asking)
    return (
      <p className="flex flex-wrap items-center gap-2 text-sm" data-deposit>
        {there > 0 && <b>{money(there, order.left_currency ?? currency)} left for it.</b>}
        <Button kind="quiet" onClick={() => setAsking(true)}>
          {there > 0 ? "Give it back" : "A deposit"}
        </Button>
      </p>
    );
  const done = { onSuccess: () => setAsking(false) };
  return (
    <form
      className="flex flex-wrap items-end gap-2 pb-2"
      aria-label="Deposit"
      onSubmit={(e) => e.preventDefault()}
    >
      {there > 0 ? (
        <TextField
          className="min-w-56"
          label="Why it is given back"
          value={why}
          onChange={(v) => setWhy(v.slice(0, 200))}
        />
      ) : (
        <NumberField
          label="Left for it"
          unit={currency}
          decimals={minorDigits(currency)}
          min={0}
          value={amount}
          onChange={setAmount}
          width="w-36"
        />
      )}
      <Button
        kind="strong"
        weight="seen"
        means={`${minor} ${there}`}
        disabled={there > 0 ? !why.trim() || back.isPending : !minor || left.isPending}
        onClick={() => (there > 0 ? back.mutate(why.trim(), done) : left.mutate(minor, done))}
      >
        {there > 0 ? `Give ${money(there, order.left_currency ?? currency)} back` : "Take the deposit"}
      </Button>
      <Button onClick={() => setAsking(false)}>Leave it</Button>
      {trouble && (
        <p role="alert" className="text-madder text-sm">
          {trouble.message}
        </p>
      )}
    </form>
  );
}
