/** A weight moved by hand: how far, and why; what a rule holds goes only up. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { Dialog } from "../../ui/Dialog";
import { TextField } from "../../ui/TextField";

interface Props {
  name: string;
  title: string;
  view: Schemas["SpecView"];
  onClose: () => void;
}

export function WeightDialog({ name, title, view, onClose }: Props) {
  const { bodies, set, locked } = useDesk();
  const band = view.spec.properties[name];
  const choice = view.spec.choice_weights[name];
  const feature = view.spec.features?.[name];
  const now = band ?? choice ?? feature;
  const held = band ? view.spec.held.includes(name) : (choice?.held ?? feature?.wish === "need");
  const computed = now?.by_hand?.computed ?? now?.weight ?? 0;
  const wish = bodies.spec.weights?.[name];
  const [to, setTo] = useState(wish?.to ?? now?.weight ?? 0);
  const [why, setWhy] = useState(wish?.why ?? "");
  const hand = view.hands[name];
  const least = held ? computed : 0;
  const done = (value: { to: number; why: string } | null) => {
    set("spec", { [`weights/${name}`]: value });
    onClose();
  };
  return (
    <Dialog open title={`How much it counts: ${title}`} onClose={onClose}>
      <p className="mb-2">
        The rules give it <b className="font-mono">{computed}</b>, of 3.
        {held && " A rule rules something out here, so it can only count for more."}
      </p>
      {now?.by_hand && hand && (
        <p className="mb-2 border-line border-l-4 pl-2">
          Moved by {hand.by} on {day(hand.at)}: {now.by_hand.why} {now.by_hand.kept}
        </p>
      )}
      <label className="mb-3 block">
        <span className="text-faint text-sm">
          Counts <b className="font-mono text-ink">{to.toFixed(1)}</b>
        </span>
        <input
          type="range"
          className="h-11 w-full accent-(--ink)"
          min={least}
          max={3}
          step={0.1}
          value={to}
          disabled={locked}
          onChange={(e) => setTo(Number(e.target.value))}
        />
      </label>
      <TextField label="Why" value={why} disabled={locked} onChange={setWhy} />
      <p className="mt-4 flex gap-2">
        <Button
          kind="strong"
          disabled={locked || why.trim().length < 3}
          onClick={() => done({ to, why: why.trim() })}
        >
          Set
        </Button>
        {wish && (
          <Button disabled={locked} onClick={() => done(null)}>
            Back to {computed}
          </Button>
        )}
        <Button kind="quiet" onClick={onClose}>
          Leave it
        </Button>
      </p>
    </Dialog>
  );
}
