/** Commands and athletes by name, from the keyboard. */
import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useNavigate } from "react-router";
import { ask, http } from "../api/client";
import { Dialog } from "../ui/parts";

interface Props {
  actions: { name: string; run: () => void }[];
  onClose: () => void;
}

const ROW = "flex min-h-11 items-center px-3 data-[selected=true]:bg-ink data-[selected=true]:text-sheet";

export default function Commands({ actions, onClose }: Props) {
  const navigate = useNavigate();
  const athletes = useQuery({ queryKey: ["athletes", ""], queryFn: () => ask(http.GET("/api/athletes")) });
  const pick = (run: () => void) => {
    onClose();
    run();
  };
  return (
    <Dialog open onClose={onClose} title="Commands">
      <Command label="Commands">
        <Command.Input
          autoFocus
          placeholder="A command or an athlete"
          className="mb-2 min-h-11 w-full border border-ink/50 bg-sheet px-3"
        />
        <Command.List className="max-h-80 overflow-auto">
          <Command.Empty className="p-3 text-faint">Nothing by that name.</Command.Empty>
          {actions.map((a) => (
            <Command.Item key={a.name} value={a.name} onSelect={() => pick(a.run)} className={ROW}>
              {a.name}
            </Command.Item>
          ))}
          {athletes.data?.map((a) => (
            <Command.Item
              key={a.id}
              value={`${a.name} ${a.squad}`}
              onSelect={() => pick(() => navigate(`/athletes/${a.id}`))}
              className={ROW}
            >
              {a.name}
              <span className="ml-2 text-sm opacity-75">{a.squad}</span>
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </Dialog>
  );
}
