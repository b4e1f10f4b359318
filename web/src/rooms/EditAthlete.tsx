/** An athlete's name, birth date, squad and note put right. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, http, type Schemas, type Trouble } from "../api/client";
import { Button } from "../ui/Button";
import { DateField } from "../ui/DateField";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";

type Own = Schemas["AthleteOut"];

export function EditAthlete({ athlete, onClose }: { athlete: Own; onClose: () => void }) {
  const client = useQueryClient();
  const change = useRef(crypto.randomUUID());
  const unnamed = !!athlete.unnamed_since;
  const [now, setNow] = useState(unnamed ? { ...athlete, name: "" } : athlete);
  /** What they are called now is no name either. */
  const [still, setStill] = useState(false);
  /** Nothing typed for a name leaves somebody without one as they are known. */
  const name = now.name.trim() || !unnamed ? now.name : athlete.name;
  const put = (more: Partial<Own>) => {
    change.current = crypto.randomUUID();
    setNow((a) => ({ ...a, ...more }));
  };
  const save = useMutation<Own, Trouble>({
    mutationFn: () =>
      ask(
        http.PUT("/api/athletes/{athlete_id}", {
          params: { path: { athlete_id: athlete.id } },
          body: {
            change_id: change.current,
            version: athlete.version,
            name,
            unnamed: still,
            born_on: now.born_on ?? null,
            squad: now.squad ?? "",
            note: now.note ?? "",
          },
        }),
      ),
    onSuccess: () => {
      for (const key of ["athlete", "athletes", "fitting", "today", "squad"])
        void client.invalidateQueries({ queryKey: [key] });
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} title="The athlete">
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim() && !save.isPending) save.mutate();
        }}
      >
        <TextField
          label={unnamed ? `Name (known here as ${athlete.name})` : "Name"}
          value={now.name}
          onChange={(name) => put({ name: name.slice(0, 120) })}
        />
        {unnamed && (
          <label className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-ink"
              checked={still}
              onChange={(e) => {
                put({});
                setStill(e.target.checked);
              }}
            />
            That is no name, only how we know them
          </label>
        )}
        <TextField
          label="Squad or sport"
          value={now.squad ?? ""}
          onChange={(squad) => put({ squad: squad.slice(0, 120) })}
        />
        <DateField
          label="Born"
          value={now.born_on ?? ""}
          onCommit={(day) => put({ born_on: day || null })}
          error={save.error?.problem.fields.find((f) => f.field.endsWith("born_on"))?.text}
        />
        <TextField
          long
          label="Note"
          value={now.note ?? ""}
          onChange={(note) => put({ note: note.slice(0, 1000) })}
        />
        {save.error && <p role="alert">{save.error.message}</p>}
        <span className="flex gap-2">
          <Button kind="strong" type="submit" disabled={!name.trim() || save.isPending}>
            Keep it so
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </span>
      </form>
    </Dialog>
  );
}
