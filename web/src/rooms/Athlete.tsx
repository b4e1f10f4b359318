/** One athlete: fittings, and who changed what. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { ask, http, type Schemas } from "../api/client";
import { useBegin } from "../shell/begin";
import { useKeys } from "../shell/keys";
import { trailLine } from "../shell/said";
import { Button } from "../ui/Button";
import { day, moment } from "../ui/clock";
import { Heading, Loading, Note } from "../ui/words";
import { EditAthlete } from "./EditAthlete";
import { Consent } from "./Known";
import { AthletePairs } from "./pairs/AthletePairs";
import { Reach } from "./Reach";
import { RoomPage } from "./RoomPage";
import { SamePerson, Together } from "./SamePerson";
import { TheirData } from "./TheirData";

/** So many entries of the trail are shown before the rest is asked for. */
const SHOWN = 40;

export default function Athlete({ me }: { me: Schemas["Me"] }) {
  const { id = "" } = useParams();
  const page = useQuery({
    queryKey: ["athlete", id],
    queryFn: () => ask(http.GET("/api/athletes/{athlete_id}", { params: { path: { athlete_id: id } } })),
  });
  const begin = useBegin();
  const [all, setAll] = useState(false);
  const [editing, setEditing] = useState(false);
  const [same, setSame] = useState(false);
  useKeys({ n: () => !begin.isPending && begin.mutate(id) });
  if (page.isPending) return <Loading what="the athlete" />;
  if (!page.data)
    return (
      <Note title="This athlete can't be shown" again>
        {page.error?.message}
      </Note>
    );
  const { athlete, fittings, changes } = page.data;
  return (
    <RoomPage
      title={athlete.name}
      side={
        <span className="flex gap-2">
          {me.role === "manager" && <Button onClick={() => setSame(true)}>Same person as …</Button>}
          <Button onClick={() => setEditing(true)}>
            {athlete.unnamed_since ? "Say their name" : "Put it right"}
          </Button>
          <Button kind="strong" onClick={() => begin.mutate(id)} disabled={begin.isPending}>
            Begin a fitting <span className="font-mono text-xs opacity-80">N</span>
          </Button>
        </span>
      }
    >
      <p className="text-faint">
        {athlete.squad && (
          <Link
            className="inline-flex min-h-11 items-center underline"
            to={`/squads?name=${encodeURIComponent(athlete.squad)}`}
          >
            {athlete.squad}
          </Link>
        )}
        {athlete.born_on && ` · born ${day(athlete.born_on)}`}
      </p>
      {athlete.unnamed_since && (
        <p className="mt-1">
          No name yet.{" "}
          {page.data.forgotten_on
            ? `Without one, all that is kept of them is forgotten on ${day(page.data.forgotten_on)}.`
            : "They are kept for as long as they wait for a pair."}
        </p>
      )}
      {athlete.note && <p className="mt-1">{athlete.note}</p>}
      <Together page={page.data} canPart={me.role === "manager"} />
      {same && <SamePerson athlete={athlete} onClose={() => setSame(false)} />}
      {editing && <EditAthlete athlete={athlete} onClose={() => setEditing(false)} />}
      {begin.error && <p role="alert">{begin.error.message}</p>}
      <Heading>Fittings</Heading>
      {!fittings.length && <p className="text-faint">None yet.</p>}
      <ul>
        {fittings.map((f) => (
          <li key={f.id} className="border-line border-b">
            <Link
              to={`/fittings/${f.id}`}
              data-first={f.state === "open" || undefined}
              className="grid min-h-12 grid-cols-[8rem_1fr_auto] items-center gap-4 px-2 hover:bg-sheet"
            >
              <span className="font-mono">{day(f.opened_at)}</span>
              <span>
                {f.sport ?? "no brief yet"} {f.discipline?.replaceAll("_", " ")}
                {f.pair && <b className="ml-3">{`${f.pair} ${f.size ?? ""}`}</b>}
              </span>
              <span>{f.state === "returned" ? "seen again" : f.state}</span>
            </Link>
          </li>
        ))}
      </ul>
      <AthletePairs athlete={id} />
      <Reach athlete={athlete} mayNot={me.role === "trainee"} />
      <Consent page={page.data} />
      {me.role === "manager" && <TheirData athlete={athlete} />}
      <Heading>What was changed, and by whom</Heading>
      <table className="w-full text-left text-sm">
        <thead className="sr-only">
          <tr>
            <th>When</th>
            <th>By whom</th>
            <th>Where</th>
            <th>What</th>
          </tr>
        </thead>
        <tbody>
          {(all ? changes : changes.slice(0, SHOWN)).map((c) => (
            <tr key={c.id} className="border-line border-b">
              <td className="whitespace-nowrap py-1 pr-3 font-mono">{moment(c.at)}</td>
              <td className="whitespace-nowrap pr-3">{c.by}</td>
              <td className="whitespace-nowrap pr-3">{c.part.replace("_", " ")}</td>
              <td dir="auto">{trailLine(c, page.data.pairs)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {changes.length > SHOWN && (
        <Button kind="quiet" className="underline" onClick={() => setAll(!all)}>
          {all ? "Fewer" : `All ${changes.length}`}
        </Button>
      )}
    </RoomPage>
  );
}
