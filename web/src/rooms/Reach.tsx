/** How an athlete is reached, through whom where they are no adult, and the words they agreed to. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, http, type Schemas, type Trouble } from "../api/client";
import { Button } from "../ui/Button";
import { OneOf } from "../ui/choice";
import { day } from "../ui/clock";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";
import { Heading } from "../ui/words";

type Found = Schemas["ReachOut"];
type Way = NonNullable<Schemas["Reach"]["way"]>;
const WAYS: { value: Way; text: string }[] = [
  { value: "call", text: "A call" },
  { value: "message", text: "A message" },
  { value: "email", text: "E-mail" },
];

export function Reach({ athlete, mayNot }: { athlete: Schemas["AthleteOut"]; mayNot: boolean }) {
  const found = useQuery({
    queryKey: ["reach", athlete.id],
    queryFn: () =>
      ask(http.GET("/api/athletes/{athlete_id}/reach", { params: { path: { athlete_id: athlete.id } } })),
  });
  const [asking, setAsking] = useState(false);
  if (!found.data) return null;
  const { reach, said, agreed_at } = found.data;
  const ways = [reach.phone, reach.email].filter(Boolean).join(" · ");
  const guardian = [reach.guardian, reach.guardian_phone, reach.guardian_email].filter(Boolean).join(" · ");
  return (
    <section aria-label="How they are reached" className="mb-4">
      <Heading>How they are reached</Heading>
      <p>
        {ways || (guardian ? "" : "Nobody has said.")}
        {reach.way && `, rather by ${WAYS.find((w) => w.value === reach.way)?.text.toLowerCase()}`}
      </p>
      {guardian && <p>Guardian: {guardian}</p>}
      <p className="text-faint text-sm">
        {said ? `Agreed on ${day(agreed_at)}: “${said}”` : "They haven't agreed to be called or written to."}
      </p>
      {mayNot ? (
        <p className="text-faint text-sm">A fitter or manager asks them and writes it down.</p>
      ) : (
        <Button kind="quiet" className="underline" onClick={() => setAsking(true)}>
          Change
        </Button>
      )}
      {asking && <Form athlete={athlete.id} found={found.data} onClose={() => setAsking(false)} />}
    </section>
  );
}

function Form({ athlete, found, onClose }: { athlete: string; found: Found; onClose: () => void }) {
  const client = useQueryClient();
  const change = useRef(crypto.randomUUID());
  const [now, setNow] = useState(found.reach);
  const [agrees, setAgrees] = useState(!!found.said);
  const put = (more: Partial<Found["reach"]>) => {
    change.current = crypto.randomUUID();
    setNow((r) => ({ ...r, ...more }));
  };
  const save = useMutation<Found, Trouble>({
    mutationFn: () =>
      ask(
        http.PUT("/api/athletes/{athlete_id}/reach", {
          params: { path: { athlete_id: athlete } },
          body: { change_id: change.current, version: found.version, reach: now, agrees },
        }),
      ),
    onSuccess: (kept) => {
      client.setQueryData(["reach", athlete], kept);
      void client.invalidateQueries({ queryKey: ["tell"] });
      void client.invalidateQueries({ queryKey: ["athlete", athlete] });
      onClose();
    },
  });
  const trouble = (field: string) =>
    save.error?.problem.fields.some((f) => f.field.endsWith(field)) ? "This can't be right." : undefined;
  return (
    <Dialog open onClose={onClose} title="How they are reached">
      <form
        className="space-y-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (!save.isPending) save.mutate();
        }}
      >
        <div className="grid grid-cols-2 gap-2 max-sm:grid-cols-1">
          <TextField
            label="Telephone"
            type="tel"
            value={now.phone ?? ""}
            onChange={(v) => put({ phone: v.trim().slice(0, 40) })}
            error={trouble("reach.phone")}
          />
          <TextField
            label="E-mail"
            type="email"
            value={now.email ?? ""}
            onChange={(v) => put({ email: v.trim().slice(0, 200) })}
            error={trouble("reach.email")}
          />
        </div>
        <OneOf
          label="Rather by"
          value={now.way ?? ""}
          options={WAYS}
          onChange={(v) => put({ way: v as Way })}
          onClear={() => put({ way: "" })}
        />
        <TextField
          label="Guardian, where they are no adult"
          value={now.guardian ?? ""}
          onChange={(v) => put({ guardian: v.slice(0, 120) })}
        />
        <div className="grid grid-cols-2 gap-2 max-sm:grid-cols-1">
          <TextField
            label="The guardian's telephone"
            type="tel"
            value={now.guardian_phone ?? ""}
            onChange={(v) => put({ guardian_phone: v.trim().slice(0, 40) })}
            error={trouble("guardian_phone")}
          />
          <TextField
            label="The guardian's e-mail"
            type="email"
            value={now.guardian_email ?? ""}
            onChange={(v) => put({ guardian_email: v.trim().slice(0, 200) })}
            error={trouble("guardian_email")}
          />
        </div>
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 shrink-0"
            checked={agrees}
            onChange={(e) => {
              change.current = crypto.randomUUID();
              setAgrees(e.target.checked);
            }}
          />
          They agree: “{found.said || found.would_say}”
        </label>
        {save.error && <p role="alert">{save.error.message}</p>}
        <span className="flex gap-2">
          <Button kind="strong" type="submit" disabled={save.isPending}>
            Keep it so
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </span>
      </form>
    </Dialog>
  );
}
