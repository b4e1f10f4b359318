/** Commands and athletes by name, from the keyboard. Keys typed ahead of the list count as if it had been there. */
import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { type KeyboardEvent, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { ask, http } from "../api/client";
import { Dialog } from "../ui/Dialog";
import { usePause } from "../ui/usePause";

interface Props {
  actions: { name: string; run: () => void }[];
  onClose: () => void;
}

const ROW = "flex min-h-11 items-center px-3 data-[selected=true]:bg-ink data-[selected=true]:text-sheet";

export function Commands({ actions, onClose }: Props) {
  const navigate = useNavigate();
  const [text, setText] = useState("");
  /** Enter was pressed before the list for what is typed had come. */
  const [ahead, setAhead] = useState(false);
  const [paused, atOnce] = usePause(text);
  const athletes = useQuery({
    queryKey: ["athletes", paused],
    queryFn: ({ signal }) => ask(http.GET("/api/athletes", { params: { query: { text: paused } }, signal })),
  });
  /** What there is for what is typed now has come, or failed. */
  const come = paused === text && !athletes.isPending;
  const typed = text.trim().toLowerCase();
  const rows = [
    ...actions
      .filter((a) => a.name.toLowerCase().includes(typed))
      .map((a) => ({ key: a.name, name: a.name, squad: "", run: a.run })),
    ...((come && athletes.data) || []).map((a) => ({
      key: a.id,
      name: a.name,
      squad: a.squad,
      run: () => navigate(`/athletes/${a.id}`),
    })),
  ];
  const pick = (run: () => void) => {
    onClose();
    run();
  };
  const [first] = rows;
  useEffect(() => {
    if (!ahead || !come) return;
    setAhead(false);
    if (!first) return;
    onClose();
    first.run();
  }, [ahead, come, first, onClose]);
  const press = (event: KeyboardEvent) => {
    if (event.key !== "Enter" || rows.length || come) return;
    atOnce();
    setAhead(true);
  };
  return (
    <Dialog open onClose={onClose} title="Commands">
      <Command label="Commands" shouldFilter={false} onKeyDown={press}>
        <Command.Input
          autoFocus
          value={text}
          onValueChange={(now) => {
            setAhead(false);
            setText(now);
          }}
          placeholder="A command or an athlete"
          className="mb-2 min-h-11 w-full border border-ink/50 bg-sheet px-3"
        />
        <Command.List className="max-h-80 overflow-auto">
          {!rows.length && (
            <p className="p-3 text-faint">
              {!come ? "Looking …" : (athletes.error?.message ?? "Nothing by that name.")}
            </p>
          )}
          {rows.map((row) => (
            <Command.Item key={row.key} value={row.key} onSelect={() => pick(row.run)} className={ROW}>
              <bdi>{row.name}</bdi>
              {row.squad && <span className="ml-2 text-sm opacity-75">{row.squad}</span>}
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </Dialog>
  );
}
