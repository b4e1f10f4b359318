/** What an athlete found of a pair that came to them. */
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { OneOf } from "../ui/choice";
import { TextField } from "../ui/TextField";
import { type Page, tellArrival } from "./away";

interface CameProps {
  token: string;
  order: Schemas["AwayOrder"];
  onPage: (page: Page) => void;
}

/** A pair that came: what to check, and how it feels. */
export function Came({ token, order, onPage }: CameProps) {
  const [found, setFound] = useState(order.arrival);
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const told = JSON.stringify(found) === JSON.stringify(order.arrival);
  const answered = order.arrival.toes !== null || order.arrival.heel_slip;
  return (
    <section aria-label="Your pair has come" className="mt-4 border-madder border-l-4 bg-paper p-3">
      <h2 className="font-semibold text-lg leading-tight">
        {order.name} {order.size} has come
      </h2>
      <ol className="mt-1 ml-5 list-decimal text-sm">
        {order.check.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ol>
      <span className="mt-3 block text-faint text-sm">Standing, laced, in your own socks: the toes</span>
      <OneOf
        label="The toes"
        value={found.toes}
        options={[
          { value: "jam", text: "touch the end" },
          { value: "fine", text: "are fine" },
          { value: "slack", text: "have too much room" },
        ]}
        onChange={(toes) => setFound({ ...found, toes: toes as "jam" | "fine" | "slack" })}
      />
      <Button
        aria-pressed={found.heel_slip}
        className="mt-2 aria-pressed:bg-ink aria-pressed:text-sheet"
        onClick={() => setFound({ ...found, heel_slip: !found.heel_slip })}
      >
        The heel slips when I walk
      </Button>
      <TextField
        className="mt-2"
        label="Anything that presses or hurts"
        value={found.note}
        onChange={(note) => setFound({ ...found, note })}
      />
      <Button
        kind="strong"
        className="mt-3"
        disabled={told || busy}
        onClick={() => {
          setBusy(true);
          tellArrival(token, order.id, found)
            .then(onPage, (e: Error) => setError(e.message))
            .finally(() => setBusy(false));
        }}
      >
        Tell the shop
      </Button>
      {told && answered && (
        <p className="mt-2 font-semibold" role="status">
          The shop knows. {order.says.text}
        </p>
      )}
      {error && <p role="alert">{error}</p>}
    </section>
  );
}
