/** A squad: a list of names brought in, fitted in a row, and a sheet for the coach. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ask, http } from "../../api/client";
import { useVocabulary } from "../../api/vocabulary";
import { useBegin } from "../../shell/begin";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { BringList } from "./BringList";

const LINK =
  "inline-flex min-h-11 items-center border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper";

const STATE: Record<string, string> = {
  open: "fitting open",
  settled: "settled",
  returned: "seen again",
};

export default function Squad() {
  const [params, setParams] = useSearchParams();
  const name = params.get("name") ?? "";
  const [bringing, setBringing] = useState(false);
  const found = useQuery({
    queryKey: ["squad", name],
    queryFn: () => ask(http.GET("/api/squad", { params: { query: { name } } })),
    enabled: !!name,
    retry: false,
  });
  const begin = useBegin();
  const values = useVocabulary().data?.values ?? {};
  const bring = bringing && (
    <BringList
      squad={name}
      onClose={() => setBringing(false)}
      onDone={(to) => {
        setBringing(false);
        setParams({ name: to });
      }}
    />
  );
  if (!name)
    return (
      <RoomPage
        title="Squads"
        side={
          <Button kind="strong" onClick={() => setBringing(true)}>
            Bring a list …
          </Button>
        }
      >
        <Listing />
        {bring}
      </RoomPage>
    );
  if (found.isPending) return <Loading what="the squad" />;
  if (!found.data)
    return (
      <Note title="This squad can't be shown" again>
        {found.error?.message}
      </Note>
    );
  const squad = found.data;
  const next = squad.members.find((m) => m.id === squad.next);
  const sheet = (kind: string, paper = "a4") =>
    `/api/squad/sheet.${kind}?${new URLSearchParams({ name, ...(kind === "pdf" ? { paper } : {}) })}`;
  const fitted = squad.members.filter((m) => m.state === "settled" || m.state === "returned").length;
  return (
    <RoomPage
      title={squad.name}
      side={
        <span className="flex flex-wrap items-end justify-end gap-2">
          <a className={LINK} href={sheet("pdf")} target="_blank" rel="noreferrer">
            Coach's sheet, A4
          </a>
          <a className={LINK} href={sheet("pdf", "letter")} target="_blank" rel="noreferrer">
            Letter
          </a>
          <a className={LINK} href={sheet("csv")} download="squad.csv">
            CSV
          </a>
          <Link className={LINK} to={`/pairs?squad=${encodeURIComponent(name)}`}>
            Plan of pairs
          </Link>
          <Button onClick={() => setBringing(true)}>Bring a list …</Button>
        </span>
      }
    >
      <p className="flex min-h-12 items-center gap-3 text-lg" role="status">
        {fitted} of {squad.members.length} fitted.
        {next ? (
          next.state === "open" && next.fitting_id ? (
            <Link
              data-first
              className="inline-flex min-h-11 items-center border border-madder bg-madder px-3.5 font-medium text-base text-on-madder"
              to={`/fittings/${next.fitting_id}`}
            >
              On with {next.name}
            </Link>
          ) : (
            <Button kind="strong" data-first disabled={begin.isPending} onClick={() => begin.mutate(next.id)}>
              Next: {next.name}
            </Button>
          )
        ) : (
          <span className="text-faint">Everybody has been seen in the last months.</span>
        )}
      </p>
      {begin.error && <p role="alert">{begin.error.message}</p>}
      <table className="w-full text-left">
        <thead className="text-faint text-xs">
          <tr>
            <th className="py-1 font-normal">Name</th>
            <th className="font-normal">How far</th>
            <th className="font-normal">Pair</th>
            <th className="font-normal">Size</th>
            <th className="font-normal">Plate or sole</th>
            <th className="font-normal">Broken in</th>
            <th className="font-normal">Event</th>
            <th className="font-normal">Seen again</th>
          </tr>
        </thead>
        <tbody>
          {squad.members.map((m) => (
            <tr key={m.id} className={`border-line border-t ${m.id === squad.next ? "bg-sheet" : ""}`}>
              <td>
                <Link className="flex min-h-11 items-center font-semibold" to={`/athletes/${m.id}`}>
                  {m.name}
                </Link>
              </td>
              <td>
                {m.fitting_id ? (
                  <Link className="flex min-h-11 items-center" to={`/fittings/${m.fitting_id}`}>
                    {STATE[m.state ?? ""] ?? m.state}
                  </Link>
                ) : (
                  <span className="text-faint">no fitting yet</span>
                )}
                {m.measure_on && m.measure_on <= squad.today && (
                  <span className="block text-madder text-xs">measure again</span>
                )}
              </td>
              <td>
                {m.pair_id ? (
                  <Link className="flex min-h-11 items-center" to={`/pairs/${m.pair_id}`}>
                    {m.pair}
                  </Link>
                ) : (
                  ""
                )}
              </td>
              <td className="font-mono">{m.size ?? ""}</td>
              <td>{m.plate ? (values[m.plate] ?? m.plate) : ""}</td>
              <td className="font-mono text-sm">{day(m.ready_on)}</td>
              <td className="font-mono text-sm">{day(m.event_on)}</td>
              <td className="font-mono text-sm">{day(m.due_on)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {bring}
    </RoomPage>
  );
}

function Listing() {
  const squads = useQuery({ queryKey: ["squads"], queryFn: () => ask(http.GET("/api/squads")) });
  if (squads.isPending) return <Loading what="the squads" />;
  if (!squads.data?.length) return <p className="text-faint">No squads yet. Bring a list of names.</p>;
  return (
    <ul className="columns-2 gap-8 max-md:columns-1">
      {squads.data.map((s) => (
        <li key={s.name} className="break-inside-avoid border-line border-b">
          <Link
            to={`/squads?name=${encodeURIComponent(s.name)}`}
            className="flex min-h-12 items-center gap-3 px-2 hover:bg-sheet"
          >
            <b className="flex-1">{s.name}</b>
            <span className="text-faint text-sm">{s.athletes}</span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
