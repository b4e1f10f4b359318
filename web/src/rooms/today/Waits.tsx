/** Somebody waits, or has an appointment: who, for what, now or when. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Trouble } from "../../api/client";
import { useVocabulary } from "../../api/vocabulary";
import { type NewPlace, onRecord, useJoin, useQueue } from "../../api/whoWaits";
import { arrived } from "../../ui/ahead";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { day } from "../../ui/clock";
import { DateField } from "../../ui/DateField";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { TextField } from "../../ui/TextField";
import { usePause } from "../../ui/usePause";

type About = NonNullable<NewPlace["about"]>;
export interface Who {
  id: string;
  name: string;
}
const ABOUT: { value: About; text: string }[] = [
  { value: "fitting", text: "A fitting" },
  { value: "return", text: "Seen again" },
  { value: "growth", text: "Growth check" },
  { value: "pick_up", text: "Picks a pair up" },
];
const NOW = "now";
const BOOKED = "booked";
const LEAST_LETTERS = 2;
const OFFERED = 5;
const ANY_SPORT = "";

interface Props {
  /** Who it is, where that is known already. */
  who?: Who | undefined;
  about?: About;
  booked?: boolean;
  onClose: () => void;
}

export function Waits({ who, about: first = "fitting", booked = false, onClose }: Props) {
  const [text, setText] = useState("");
  const [chosen, setChosen] = useState<Who | undefined>(who);
  const [about, setAbout] = useState<About>(first);
  const [sport, setSport] = useState(ANY_SPORT);
  const [when, setWhen] = useState(booked ? BOOKED : NOW);
  const today = useQueue().data?.today ?? "";
  const [chosenDay, setDay] = useState<string | null>(null);
  const on = chosenDay ?? today;
  const [at, setAt] = useState("");
  const [minutes, setMinutes] = useState<number | null>(null);
  useEffect(() => void arrived("dialog"), []);
  const sports = useVocabulary().data?.sports ?? [];
  const join = useJoin(onClose);
  const past =
    join.error instanceof Trouble ? join.error.problem.fields.find((f) => f.field === "at")?.text : undefined;
  const name = chosen?.name ?? text.trim();
  const ready = !!name && (when === NOW || (!!on && !!at));
  const send = () =>
    join.mutate({
      athlete_id: chosen?.id ?? null,
      called: chosen ? "" : name,
      about,
      sport: (sport || null) as NewPlace["sport"],
      on: when === BOOKED ? on : null,
      at: when === BOOKED ? at : null,
      minutes: when === BOOKED ? minutes : null,
      says: when === BOOKED ? `${name} is booked for ${day(on)}, ${at}` : `${name} waits`,
    });
  return (
    <Dialog open onClose={onClose} title={when === BOOKED ? "An appointment" : "Somebody waits"}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (ready && !join.isPending) send();
        }}
      >
        {chosen ? (
          <p className="flex min-h-11 items-center gap-3">
            <b dir="auto">{chosen.name}</b>
            {!who && <Button onClick={() => setChosen(undefined)}>Somebody else</Button>}
          </p>
        ) : (
          <>
            <TextField
              label="Who (a name, or how you know them)"
              value={text}
              onChange={(t) => setText(t.slice(0, 80))}
            />
            <OnRecord text={text} onChoose={setChosen} />
          </>
        )}
        <OneOf label="For what" value={about} options={ABOUT} onChange={(v) => setAbout(v as About)} />
        {about === "fitting" && (
          <Select
            label="For which sport"
            value={sport}
            empty="not said"
            options={sports.map((s) => ({ value: s.slug, text: s.name }))}
            onChange={setSport}
          />
        )}
        <OneOf
          label="When"
          value={when}
          options={[
            { value: NOW, text: "Here now" },
            { value: BOOKED, text: "At a time" },
          ]}
          onChange={setWhen}
        />
        {when === BOOKED && (
          <span className="flex flex-wrap gap-3">
            <DateField label="On" value={on} onCommit={(d) => setDay(d)} />
            <TextField label="At" type="time" value={at} onChange={setAt} error={past} />
            <span className="w-32">
              <NumberField label="Minutes kept for it" decimals={0} value={minutes} onChange={setMinutes} />
            </span>
          </span>
        )}
        {join.error && !past && <p role="alert">{join.error.message}</p>}
        <span className="flex gap-2">
          <Button kind="strong" type="submit" disabled={!ready || join.isPending}>
            {when === BOOKED ? "Book it" : "They wait"}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </span>
      </form>
    </Dialog>
  );
}

/** Who is on record by what is typed. */
function OnRecord({ text, onChoose }: { text: string; onChoose: (who: Who) => void }) {
  const [paused] = usePause(text.trim());
  const asks = paused.length >= LEAST_LETTERS;
  const found = useQuery({
    ...onRecord(paused),
    enabled: asks,
    placeholderData: (old) => old,
  });
  if (!asks || !found.data?.length) return null;
  return (
    <ul aria-label="On record here" className="flex flex-wrap gap-1.5">
      {found.data.slice(0, OFFERED).map((a) => (
        <li key={a.id}>
          <Button onClick={() => onChoose({ id: a.id, name: a.name })}>
            <span dir="auto">{a.name}</span>
            {a.squad && <span className="ml-2 text-faint text-sm">{a.squad}</span>}
          </Button>
        </li>
      ))}
    </ul>
  );
}
