/** One athlete: their years drawn, fittings, pairs, whom to reach; behind a tab, who changed what. */
import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { ask, http, type Schemas } from "../api/client";
import { useBegin } from "../shell/begin";
import { useKeys } from "../shell/keys";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { Heading, Loading, Note } from "../ui/words";
import { Changes } from "./athlete/Changes";
import { OverYears } from "./athlete/OverYears";
import { EditAthlete } from "./EditAthlete";
import { Consent } from "./Known";
import { AthletePairs } from "./pairs/AthletePairs";
import { Reach } from "./Reach";
import { RoomPage } from "./RoomPage";
import { SamePerson, Together } from "./SamePerson";
import { TheirData } from "./TheirData";
import { Waits } from "./today/Waits";

const THEM = "them";
const CHANGED = "changed";
const TAB =
  "min-h-11 border-b-4 border-transparent px-3 data-[state=active]:border-madder data-[state=active]:font-semibold";

export default function Athlete({ me }: { me: Schemas["Me"] }) {
  const { id = "" } = useParams();
  const page = useQuery({
    queryKey: ["athlete", id],
    queryFn: () => ask(http.GET("/api/athletes/{athlete_id}", { params: { path: { athlete_id: id } } })),
  });
  const begin = useBegin();
  const [asked, setAsked] = useSearchParams();
  const [editing, setEditing] = useState(false);
  const [same, setSame] = useState(false);
  const [waits, setWaits] = useState(false);
  useKeys({ n: () => !begin.isPending && begin.mutate(id) });
  if (page.isPending) return <Loading what="the athlete" />;
  if (!page.data)
    return (
      <Note title="This athlete can't be shown" again>
        {page.error?.message}
      </Note>
    );
  const { athlete, fittings } = page.data;
  return (
    <RoomPage
      title={athlete.name}
      side={
        <span className="flex gap-2">
          {me.role === "manager" && <Button onClick={() => setSame(true)}>Same person as …</Button>}
          <Button onClick={() => setEditing(true)}>
            {athlete.unnamed_since ? "Say their name" : "Put it right"}
          </Button>
          <Button onClick={() => setWaits(true)}>Waits, or is booked …</Button>
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
      {waits && <Waits who={{ id, name: athlete.name }} onClose={() => setWaits(false)} />}
      {same && <SamePerson athlete={athlete} onClose={() => setSame(false)} />}
      {editing && <EditAthlete athlete={athlete} onClose={() => setEditing(false)} />}
      {begin.error && <p role="alert">{begin.error.message}</p>}
      <Tabs.Root
        value={asked.get("show") === CHANGED ? CHANGED : THEM}
        onValueChange={(show) => setAsked(show === CHANGED ? { show } : {}, { replace: true })}
      >
        <Tabs.List aria-label="What is shown" className="mb-3 flex gap-2 border-line border-b">
          <Tabs.Trigger value={THEM} className={TAB}>
            Through the years
          </Tabs.Trigger>
          <Tabs.Trigger value={CHANGED} className={TAB}>
            What was changed
          </Tabs.Trigger>
        </Tabs.List>
        <Tabs.Content value={CHANGED}>
          <Changes athlete={id} />
        </Tabs.Content>
        <Tabs.Content value={THEM}>
          <OverYears athlete={id} fittings={fittings} />
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
        </Tabs.Content>
      </Tabs.Root>
    </RoomPage>
  );
}
