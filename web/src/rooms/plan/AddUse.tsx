/** Something more they do, that no brief was answered for yet. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Select } from "../../ui/Select";

type More = Schemas["MoreNeed"];
const APART = ["surface", "floor", "pedal", "role", "wicket"] as const;

interface Props {
  people: { id: string; name: string }[];
  onAdd: (more: More) => void;
  onClose: () => void;
}

export function AddUse({ people, onAdd, onClose }: Props) {
  const words = useVocabulary().data?.sports ?? [];
  const [who, setWho] = useState(people[0]?.id ?? "");
  const [sport, setSport] = useState<string>("");
  const [discipline, setDiscipline] = useState("");
  const [apart, setApart] = useState<Record<string, string>>({});
  const of = words.find((s) => s.slug === sport);
  const asks = (of?.asks ?? []).filter(
    (a) =>
      (APART as readonly string[]).includes(a.field) &&
      (!a.disciplines.length || a.disciplines.includes(discipline)),
  );
  const ready = discipline && asks.every((a) => !a.needed || apart[a.field]);
  return (
    <Dialog open onClose={onClose} title="Something more they do">
      <div className="grid gap-3">
        {people.length > 1 && (
          <Select
            label="Who"
            value={who}
            options={people.map((p) => ({ value: p.id, text: p.name }))}
            onChange={setWho}
          />
        )}
        <Select
          label="Sport"
          value={sport}
          options={words.map((s) => ({ value: s.slug, text: s.name }))}
          onChange={(s) => {
            setSport(s);
            setDiscipline("");
            setApart({});
          }}
        />
        {of && <Select label="Mostly" value={discipline} options={of.disciplines} onChange={setDiscipline} />}
        {discipline &&
          asks.map((a) => (
            <Select
              key={a.field}
              label={a.short || a.text}
              value={apart[a.field]}
              options={a.options}
              onChange={(v) => setApart({ ...apart, [a.field]: v })}
            />
          ))}
        <Button
          kind="strong"
          disabled={!ready}
          onClick={() =>
            onAdd({
              athlete_id: who,
              sport: sport as More["sport"],
              discipline,
              surface: apart.surface ?? null,
              floor: apart.floor ?? null,
              pedal: apart.pedal ?? null,
              role: apart.role ?? null,
              wicket: apart.wicket ?? null,
            })
          }
        >
          Add it
        </Button>
      </div>
    </Dialog>
  );
}
