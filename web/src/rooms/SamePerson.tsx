/** Two records of one person: found, put together, and parted again. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, http, type Schemas, type Trouble } from "../api/client";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";
import { useSettled } from "../ui/useSettled";

type Page = Schemas["AthletePage"];
type Alike = Schemas["AlikeOut"];

/** What either act changes is asked for anew, wherever it is shown. */
function useTogether(onDone: () => void) {
  const client = useQueryClient();
  return (page: Page) => {
    client.setQueryData(["athlete", page.athlete.id], page);
    for (const key of ["athlete", "athletes", "fitting", "today", "squad", "squads", "pairs", "reach"])
      void client.invalidateQueries({ queryKey: [key] });
    onDone();
  };
}

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;
const hangs = (a: Alike) =>
  [
    a.born_on && `born ${day(a.born_on)}`,
    a.squad,
    counted(a.fittings, "fitting"),
    counted(a.pairs, "pair"),
    a.last_at && `last seen ${day(a.last_at)}`,
  ]
    .filter(Boolean)
    .join(" · ");

export function SamePerson({ athlete, onClose }: { athlete: Schemas["AthleteOut"]; onClose: () => void }) {
  const [text, setText] = useState("");
  const settled = useSettled(text.trim(), 250);
  const [chosen, setChosen] = useState<Alike | null>(null);
  const id = useRef(crypto.randomUUID());
  const done = useTogether(onClose);
  const found = useQuery({
    queryKey: ["athlete", athlete.id, "alike", settled],
    queryFn: () =>
      ask(
        http.GET("/api/athletes/{athlete_id}/alike", {
          params: { path: { athlete_id: athlete.id }, query: { text: settled } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const merge = useMutation<Page, Trouble, string>({
    mutationFn: (other) =>
      ask(
        http.POST("/api/athletes/{athlete_id}/merged", {
          params: { path: { athlete_id: athlete.id } },
          body: { id: id.current, other_id: other },
        }),
      ),
    onSuccess: done,
  });
  return (
    <Dialog open onClose={onClose} title={`Another record of ${athlete.name}`}>
      {chosen ? (
        <>
          <p>
            Everything of <b>{chosen.name}</b> ({hangs(chosen)}) goes to <b>{athlete.name}</b>: fittings,
            feet, pairs, links and what is kept back. What is said of {athlete.name} here stays; what is
            missing comes from the other, and both notes are kept. It can be parted again.
          </p>
          {athlete.born_on && chosen.born_on && athlete.born_on !== chosen.born_on && (
            <p className="mt-2 border-madder border-l-4 pl-3">
              <b>They are not born on the same day:</b> {day(athlete.born_on)} here, {day(chosen.born_on)}{" "}
              there.
            </p>
          )}
          {merge.error && (
            <p role="alert" className="mt-2 text-madder">
              {merge.error.message}
            </p>
          )}
          <span className="mt-3 flex gap-2">
            <Button
              kind="strong"
              weight="weighty"
              disabled={merge.isPending}
              onClick={() => merge.mutate(chosen.id)}
            >
              Put them together
            </Button>
            <Button
              onClick={() => {
                id.current = crypto.randomUUID();
                merge.reset();
                setChosen(null);
              }}
            >
              Another
            </Button>
          </span>
        </>
      ) : (
        <>
          <TextField label="Name of the other record" value={text} onChange={setText} />
          <p className="mt-2 text-faint text-sm">{settled ? "By that name:" : "Written alike:"}</p>
          {found.error && <p role="alert">{found.error.message}</p>}
          {found.data && !found.data.length && <p>{settled ? "Nobody of that name." : "Nobody."}</p>}
          <ul>
            {found.data?.map((a) => (
              <li key={a.id} className="border-line border-b">
                <button
                  type="button"
                  onClick={() => setChosen(a)}
                  className="block min-h-12 w-full px-2 py-1 text-left hover:bg-paper"
                >
                  <b>{a.name}</b>
                  <span className="block text-faint text-sm">{hangs(a)}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </Dialog>
  );
}

/** The records that were put together with this one, each with its way back. */
export function Together({ page, canPart }: { page: Page; canPart: boolean }) {
  const change = useRef(crypto.randomUUID());
  const done = useTogether(() => {
    change.current = crypto.randomUUID();
  });
  const part = useMutation<Page, Trouble, string>({
    mutationFn: (merge) =>
      ask(
        http.POST("/api/athletes/{athlete_id}/merged/{merge_id}/parted", {
          params: { path: { athlete_id: page.athlete.id, merge_id: merge } },
          body: { change_id: change.current },
        }),
      ),
    onSuccess: done,
  });
  return (
    <>
      {page.merged.map((m) => (
        <p key={m.id} className="mt-1 flex flex-wrap items-center gap-x-3 text-sm">
          <span>
            Put together with the record of <b>{m.name}</b> on {day(m.at)} by {m.by}.
          </span>
          {canPart && (
            <Button kind="quiet" weight="weighty" disabled={part.isPending} onClick={() => part.mutate(m.id)}>
              Part them again
            </Button>
          )}
        </p>
      ))}
      {part.error && <p role="alert">{part.error.message}</p>}
    </>
  );
}
