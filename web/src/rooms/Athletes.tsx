/** The athletes, found by name or squad. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { ask, http } from "../api/client";
import { Spine } from "../shell/Shell";
import { Button, Dialog, day, Loading, Note, TextField } from "../ui/parts";
import { RoomPage } from "./RoomPage";

/** As many as the server lists at once. */
const LISTED = 200;
const STATE_WORDS: Record<string, string> = { open: "open", settled: "settled", returned: "seen again" };

export default function Athletes() {
  const [params] = useSearchParams();
  const [text, setText] = useState("");
  const [adding, setAdding] = useState(false);
  const find = useRef<HTMLInputElement>(null);
  const wanted = params.get("find");
  useEffect(() => {
    if (wanted) find.current?.focus();
  }, [wanted]);
  const list = useQuery({
    queryKey: ["athletes", text],
    queryFn: () => ask(http.GET("/api/athletes", { params: { query: { text } } })),
    placeholderData: (old) => old,
  });
  return (
    <RoomPage
      spine={<Spine />}
      title="Athletes"
      side={
        <div className="flex items-end gap-2">
          <label className="text-faint text-xs">
            Find by name or squad
            <input
              ref={find}
              value={text}
              onChange={(e) => setText(e.target.value)}
              className="block min-h-11 w-64 border border-ink/45 bg-sheet px-2.5 text-base text-ink"
            />
          </label>
          <Button kind="strong" onClick={() => setAdding(true)}>
            New athlete
          </Button>
        </div>
      }
    >
      {list.isPending && <Loading what="the list" />}
      {list.error && <Note title="The list can't be shown">{list.error.message}</Note>}
      {list.data && !list.data.length && (
        <p className="text-faint">Nobody by that name. Add them as a new athlete.</p>
      )}
      {list.data && list.data.length >= LISTED && (
        <p className="mb-3 text-faint">The first {LISTED} by name. Type a part of the name to see others.</p>
      )}
      <ul className="columns-2 gap-8 max-lg:columns-1">
        {list.data?.map((a) => (
          <li key={a.id} className="break-inside-avoid border-line border-b">
            <Link
              to={`/athletes/${a.id}`}
              className="grid min-h-14 grid-cols-[1fr_auto] items-center gap-3 px-2 py-1.5 hover:bg-sheet"
            >
              <span>
                <b>{a.name}</b>
                <span className="block text-faint text-sm">{a.squad}</span>
              </span>
              <span className="text-right text-sm">
                {a.state ? STATE_WORDS[a.state] : "no fitting yet"}
                <span className="block text-faint">{a.touched_at ? day(a.touched_at) : ""}</span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {adding && <NewAthlete onClose={() => setAdding(false)} />}
    </RoomPage>
  );
}

function NewAthlete({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [squad, setSquad] = useState("");
  const [born, setBorn] = useState("");
  const [changeId] = useState(() => crypto.randomUUID());
  const add = useMutation({
    mutationFn: () =>
      ask(
        http.POST("/api/athletes", {
          body: { change_id: changeId, name, squad, born_on: born || null, note: "" },
        }),
      ),
    onSuccess: (athlete) => {
      void client.invalidateQueries({ queryKey: ["athletes"] });
      navigate(`/athletes/${athlete.id}`);
    },
  });
  return (
    <Dialog open onClose={onClose} title="New athlete">
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          add.mutate();
        }}
      >
        <TextField label="Name" value={name} onChange={setName} error={add.error?.message} />
        <TextField label="Squad or sport" value={squad} onChange={setSquad} />
        <TextField label="Born" type="date" value={born} onChange={setBorn} />
        <Button kind="strong" type="submit" disabled={!name.trim() || add.isPending}>
          Add
        </Button>
      </form>
    </Dialog>
  );
}
