/** One wear in a tap: how long, today or another day. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { type OwnedPair, useLogWorn, useTakeBack } from "../../api/pairs";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { DateField } from "../../ui/DateField";
import { Select } from "../../ui/Select";

type Surface = Schemas["WornIn"]["surface"];

const USUAL_MIN = [30, 60, 90, 120];

export function LogWorn({ pair, today }: { pair: OwnedPair; today: string }) {
  const log = useLogWorn(pair.id);
  const back = useTakeBack(pair.id);
  const [on, setOn] = useState(today);
  const [last, setLast] = useState<{ id: string; minutes: number } | null>(null);
  const grounds =
    useVocabulary()
      .data?.sports.find((s) => s.slug === pair.sport)
      ?.asks.find((a) => a.field === "surface")?.options ?? [];
  const [ground, setGround] = useState(pair.surface as Surface);
  const busy = log.isPending || back.isPending;
  return (
    <div className="flex flex-wrap items-end gap-1.5">
      <DateField className="w-40" label="Worn on" value={on} onCommit={(v) => setOn(v ?? today)} />
      {grounds.length > 0 && (
        <Select
          className="w-44"
          label="On"
          value={ground}
          options={grounds}
          onChange={(v) => setGround(v as Surface)}
        />
      )}
      {USUAL_MIN.map((minutes) => (
        <Button
          key={minutes}
          disabled={busy}
          onClick={() =>
            log.mutate(
              { on, minutes, surface: ground },
              {
                onSuccess: (page) => {
                  const made = page.worn.find((w) => w.on_day === on && w.minutes === minutes);
                  setLast(made ? { id: made.id, minutes } : null);
                },
              },
            )
          }
        >
          {minutes} min
        </Button>
      ))}
      <span role="status" className="flex min-h-11 items-center text-sm">
        {last && (
          <>
            Logged {last.minutes} min.
            <Button
              kind="quiet"
              className="underline"
              disabled={busy}
              onClick={() =>
                back.mutate({ what: "worn", entry_id: last.id }, { onSuccess: () => setLast(null) })
              }
            >
              Undo
            </Button>
          </>
        )}
      </span>
      {(log.error ?? back.error) && (
        <p role="alert" className="w-full border-madder border-l-4 pl-2 text-sm">
          {(log.error ?? back.error)?.message}
        </p>
      )}
    </div>
  );
}
