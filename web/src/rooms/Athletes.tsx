/** The athletes, found by name or squad. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { ask, http } from "../api/client";
import { useBegin, useWalkIn } from "../shell/begin";
import { useKeys } from "../shell/keys";
import { arrived, hold } from "../ui/ahead";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { DateField } from "../ui/DateField";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";
import { usePause } from "../ui/usePause";
import { Loading, Note } from "../ui/words";
import { KnownElsewhere } from "./Known";
import { RoomPage } from "./RoomPage";

/** As many as the server lists at once. */
const LISTED = 200;
const STATE_WORDS: Record<string, string> = { open: "open", settled: "settled", returned: "seen again" };

export default function Athletes() {
  const [params] = useSearchParams();
  const [text, setText] = useState("");
  const [adding, setAdding] = useState<string | null>(null);
  /** Enter was pressed before the list for what is typed had come. */
  const [entered, setEntered] = useState(false);
  const navigate = useNavigate();
  const find = useRef<HTMLInputElement>(null);
  const wanted = params.get("find");
  useEffect(() => {
    if (wanted) find.current?.focus();
    find.current?.select();
  }, [wanted]);
  const [paused, atOnce] = usePause(text);
  const list = useQuery({
    queryKey: ["athletes", paused],
    queryFn: ({ signal }) => ask(http.GET("/api/athletes", { params: { query: { text: paused } }, signal })),
    placeholderData: (old) => old,
  });
  const known = list.data && !list.isPlaceholderData && paused === text ? list.data : null;
  const best = known?.[0];
  const typed = text.trim();
  const walkIn = useWalkIn();
  const comesIn = () => !walkIn.isPending && walkIn.mutate("");
  useKeys({ n: comesIn });
  useEffect(() => {
    if (!entered || (!known && !list.error)) return;
    setEntered(false);
    if (best) navigate(`/athletes/${best.id}`);
    else if (known && typed) setAdding(typed);
    else void arrived();
  }, [entered, known, best, typed, list.error, navigate]);
  return (
    <RoomPage
      title="Athletes"
      side={
        <div className="flex flex-wrap items-end gap-2">
          <label className="text-faint text-xs">
            Find by name or squad
            <input
              dir="auto"
              ref={find}
              value={text}
              onChange={(e) => {
                setEntered(false);
                setText(e.target.value);
              }}
              onKeyDown={(e) => {
                if (e.key !== "Enter" || !typed) return;
                e.preventDefault();
                hold();
                atOnce();
                setEntered(true);
              }}
              className="block min-h-11 w-64 max-w-full border border-ink/45 bg-sheet px-2.5 text-base text-ink"
            />
          </label>
          <Button onClick={comesIn} disabled={walkIn.isPending} aria-keyshortcuts="n">
            Walk-in <span className="font-mono text-xs opacity-80">N</span>
          </Button>
          <Button kind="strong" onClick={() => setAdding("")}>
            New athlete
          </Button>
        </div>
      }
    >
      {walkIn.error && <p role="alert">{walkIn.error.message}</p>}
      {list.isPending && <Loading what="the list" />}
      {list.error && !list.data && (
        <Note title="The list can't be shown" again>
          {list.error.message}
        </Note>
      )}
      {list.data && !list.data.length && (
        <p className="flex flex-wrap items-center gap-3" role="status">
          Nobody by that name.
          <Button onClick={() => setAdding(typed)}>
            Add {typed || "a new athlete"} <span className="font-mono text-faint text-xs">Enter</span>
          </Button>
        </p>
      )}
      {list.data && list.data.length >= LISTED && (
        <p className="mb-3 text-faint">The first {LISTED} by name. Type a part of the name to see others.</p>
      )}
      <KnownElsewhere text={paused.trim()} />
      <ul className="columns-2 gap-8 max-lg:columns-1">
        {list.data?.map((a) => (
          <li
            key={a.id}
            className={`break-inside-avoid border-line border-b ${typed && a === best ? "bg-sheet" : ""}`}
          >
            <Link
              to={`/athletes/${a.id}`}
              className="grid min-h-14 grid-cols-[1fr_auto] items-center gap-3 px-2 py-1.5 hover:bg-sheet"
            >
              <span>
                <b dir="auto">{a.name}</b>
                <span className="block text-faint text-sm">{a.unnamed_since ? "no name yet" : a.squad}</span>
              </span>
              <span className="text-right text-sm">
                {typed && a === best && <span className="mr-2 font-mono text-faint text-xs">Enter</span>}
                {a.state ? STATE_WORDS[a.state] : "no fitting yet"}
                <span className="block text-faint">{a.touched_at ? day(a.touched_at) : ""}</span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {adding !== null && <NewAthlete called={adding} onClose={() => setAdding(null)} />}
    </RoomPage>
  );
}

function NewAthlete({ called, onClose }: { called: string; onClose: () => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [name, setName] = useState(called);
  const [squad, setSquad] = useState("");
  const [born, setBorn] = useState("");
  const [changeId] = useState(() => crypto.randomUUID());
  useEffect(() => void arrived(), []);
  const add = useMutation({
    mutationFn: (begins: boolean) =>
      ask(
        http.POST("/api/athletes", {
          body: { change_id: changeId, name, squad, born_on: born || null, note: "" },
        }),
      ).then((athlete) => ({ athlete, begins })),
    onSuccess: ({ athlete, begins }) => {
      void client.invalidateQueries({ queryKey: ["athletes"] });
      if (begins) begin.mutate(athlete.id);
      else navigate(`/athletes/${athlete.id}`);
    },
    onError: () => void arrived(),
  });
  const begin = useBegin();
  const walkIn = useWalkIn();
  const busy = add.isPending || begin.isPending || walkIn.isPending;
  return (
    <Dialog open onClose={onClose} title="New athlete">
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (!name.trim() || busy) return;
          hold();
          add.mutate(true);
        }}
      >
        <TextField
          label="Name"
          value={name}
          onChange={setName}
          error={(add.error ?? begin.error ?? walkIn.error)?.message}
        />
        <TextField label="Squad or sport" value={squad} onChange={setSquad} />
        <DateField label="Born" value={born} onCommit={(day) => setBorn(day ?? "")} />
        <span className="flex gap-2">
          <Button kind="strong" type="submit" disabled={!name.trim() || busy}>
            Add and begin a fitting
          </Button>
          <Button disabled={!name.trim() || busy} onClick={() => add.mutate(false)}>
            Add only
          </Button>
          <Button kind="quiet" disabled={busy} onClick={() => walkIn.mutate(name.trim().slice(0, 80))}>
            That is no name: begin
          </Button>
        </span>
      </form>
    </Dialog>
  );
}
