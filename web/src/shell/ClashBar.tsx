/** Somebody else changed the same field: who, when, to what, and a choice. It takes no keys from what is being typed, and
 * counts as chosen only once it can have been read. */
import { useLocation } from "react-router";
import { useOutbox } from "../api/desk";
import type { Entry } from "../api/entries";
import { decide } from "../api/outbox";
import { Button } from "../ui/Button";
import { timeOf } from "../ui/clock";
import { useKeys } from "./keys";
import { fieldName, written } from "./said";

export function ClashBar() {
  const { entries } = useOutbox();
  const all = Object.entries(entries).filter(([, e]) => e.clash);
  useKeys(all.length ? { c: () => document.querySelector<HTMLElement>("[data-clash] button")?.focus() } : {});
  return (
    <div role="status" aria-live="polite">
      {all.map(([key, entry]) => (
        <Clash key={key} name={key} entry={entry} />
      ))}
    </div>
  );
}

function Clash({ name, entry }: { name: string; entry: Entry }) {
  const { pathname } = useLocation();
  const clashes = entry.clash?.clashes ?? [];
  const means = JSON.stringify(clashes);
  const here = pathname.includes(entry.fitting);
  return (
    <section
      aria-label="Changed by somebody else meanwhile"
      data-clash
      className="flex flex-wrap items-center justify-between gap-x-4 border-madder border-b-2 bg-sheet px-4 py-1"
    >
      <ul className="min-w-0 flex-1">
        {clashes.map((c) => (
          <li key={c.path}>
            <b>{fieldName(c.path)}</b>
            {here ? "" : " (another fitting)"}: {c.by} put{" "}
            <b className="font-mono">{written(c.path, c.theirs)}</b> at {timeOf(c.at)}; you put{" "}
            <b className="font-mono">{written(c.path, c.path in entry.held ? entry.held[c.path] : c.mine)}</b>
            .
          </li>
        ))}
      </ul>
      <span className="flex shrink-0 items-center gap-1">
        <kbd className="font-mono text-faint text-xs">C</kbd>
        <Button weight="seen" means={means} onClick={() => decide(name, false)}>
          Keep theirs
        </Button>
        <Button kind="strong" weight="seen" means={means} onClick={() => decide(name, true)}>
          Put mine
        </Button>
      </span>
    </section>
  );
}
