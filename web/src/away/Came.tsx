/** What an athlete found of a pair that came to them. */
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useConnection } from "../api/connection";
import { Button } from "../ui/Button";
import { OneOf } from "../ui/choice";
import { TextField } from "../ui/TextField";
import { put, useWaiting } from "./waiting";

interface CameProps {
  order: Schemas["AwayOrder"];
}

/** A pair that came: what to check, and how it feels. */
export function Came({ order }: CameProps) {
  const item = useWaiting().find((i) => i.kind === "arrival" && i.order === order.id);
  const { offline } = useConnection();
  const [found, setFound] = useState(item?.kind === "arrival" ? item.found : order.arrival);
  const onItsWay = !!item && item.refused === undefined;
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
        disabled={told || onItsWay}
        onClick={() => put({ kind: "arrival", order: order.id, found })}
      >
        Tell the shop
      </Button>
      {onItsWay && (
        <p className="mt-2" role="status">
          {offline ? "No connection. It is kept on this phone and sent when it is back." : "on its way …"}
        </p>
      )}
      {told && answered && !item && (
        <p className="mt-2 font-semibold" role="status">
          The shop knows. {order.says.text}
        </p>
      )}
      {item?.refused && <p role="alert">{item.refused}</p>}
    </section>
  );
}
