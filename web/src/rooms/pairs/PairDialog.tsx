/** A pair an athlete owns, by hand: bought elsewhere, or what may be changed of one bought here. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { type OwnedPair, pairIs, useChangeId } from "../../api/pairs";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { DateField } from "../../ui/DateField";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { TextField } from "../../ui/TextField";

type Values = Schemas["PairValues"];

const valuesOf = (p: OwnedPair): Values => ({
  maker: p.maker,
  name: p.name,
  size: p.size,
  sport: p.sport,
  discipline: p.discipline,
  surface: p.surface as Values["surface"],
  upper: p.upper as Values["upper"],
  bought_on: p.bought_on,
  begun_on: p.begun_on,
  price_minor: p.price_minor,
  hours_per_week: p.hours_per_week,
  role: p.role,
  event_on: p.event_on,
  note: p.note,
});

const fresh = (today: string): Values => ({
  maker: "",
  name: "",
  size: "",
  sport: "football",
  discipline: "",
  surface: null,
  upper: null,
  bought_on: today,
  begun_on: today,
  price_minor: null,
  hours_per_week: 3,
  role: "main",
  event_on: null,
  note: "",
});

interface Props {
  athlete: string;
  today: string;
  pair?: OwnedPair | undefined;
  onClose: () => void;
}

export function PairDialog({ athlete, today, pair, onClose }: Props) {
  const client = useQueryClient();
  const change = useChangeId();
  const [id] = useState(() => pair?.id ?? crypto.randomUUID());
  const [v, setV] = useState<Values>(() => (pair ? valuesOf(pair) : fresh(today)));
  const words = useVocabulary().data?.sports ?? [];
  const sport = words.find((s) => s.slug === v.sport);
  const grounds = sport?.asks.find((a) => a.field === "surface")?.options ?? [];
  const put = (more: Partial<Values>) => setV((old) => ({ ...old, ...more }));
  const save = useMutation({
    mutationFn: () =>
      ask(
        http.PUT("/api/athletes/{athlete_id}/pairs/{pair_id}", {
          params: { path: { athlete_id: athlete, pair_id: id } },
          body: { change_id: change.now(), version: pair?.version ?? 0, pair: v },
        }),
      ),
    onSuccess: (page) => {
      pairIs(client, page);
      onClose();
    },
  });
  const here = !!pair?.sold_here;
  const refused = (field: string) => {
    const problem = (save.error as { problem?: Schemas["Problem"] } | null)?.problem;
    return problem?.fields.find((f) => f.field.endsWith(field))?.text;
  };
  return (
    <Dialog open onClose={onClose} title={pair ? "This pair" : "A pair they have"} wide>
      <form
        className="grid grid-cols-6 gap-3 max-md:grid-cols-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (v.name.trim() && v.discipline) save.mutate();
        }}
      >
        <TextField
          className="col-span-2"
          label="Maker, if known"
          value={v.maker}
          disabled={here}
          onChange={(maker) => put({ maker })}
        />
        <TextField
          className="col-span-3"
          label="Model, or what it is"
          value={v.name}
          disabled={here}
          onChange={(name) => put({ name })}
          error={refused("name")}
        />
        <TextField label="Size" value={v.size} disabled={here} onChange={(size) => put({ size })} />
        <Select
          className="col-span-2"
          label="Sport"
          value={v.sport}
          disabled={here}
          options={words.map((s) => ({ value: s.slug, text: s.name }))}
          onChange={(s) => put({ sport: s as Values["sport"], discipline: "", surface: null })}
        />
        <Select
          className="col-span-2"
          label="What for"
          value={v.discipline}
          options={sport?.disciplines ?? []}
          onChange={(discipline) => put({ discipline })}
        />
        {grounds.length > 0 && (
          <Select
            className="col-span-2"
            label="Ground"
            value={v.surface}
            options={grounds}
            onChange={(s) => put({ surface: s as Values["surface"] })}
          />
        )}
        <DateField
          className="col-span-2"
          label="Bought on"
          value={v.bought_on}
          disabled={here}
          onCommit={(d) => d && put({ bought_on: d, begun_on: [d, v.begun_on].sort().at(-1) as string })}
        />
        <DateField
          className="col-span-2"
          label="Worn since"
          value={v.begun_on}
          onCommit={(d) => d && put({ begun_on: d })}
        />
        <NumberField
          label="Worn, where nobody logs"
          unit="h a week"
          width="col-span-2"
          step={0.5}
          value={v.hours_per_week}
          onChange={(n) => put({ hours_per_week: n ?? 0 })}
        />
        <div className="col-span-3">
          <span className="block text-faint text-xs">What it is now</span>
          <OneOf
            label="What it is now"
            value={v.role}
            options={[
              { value: "main", text: "The pair for it" },
              { value: "training", text: "For training" },
            ]}
            onChange={(role) => put({ role: role as Values["role"] })}
          />
        </div>
        <DateField
          className="col-span-3"
          label="An event it has to be ready for"
          value={v.event_on ?? ""}
          onCommit={(event_on) => put({ event_on })}
        />
        <TextField
          className="col-span-6 max-md:col-span-2"
          label="Note"
          value={v.note}
          onChange={(note) => put({ note })}
        />
        {save.error && (
          <p role="alert" className="col-span-6 border-madder border-l-4 pl-2 max-md:col-span-2">
            {save.error.message}
          </p>
        )}
        <Button
          kind="strong"
          type="submit"
          className="col-span-2"
          disabled={!v.name.trim() || !v.discipline || save.isPending}
        >
          {pair ? "Keep the changes" : "Keep this pair"}
        </Button>
      </form>
    </Dialog>
  );
}
