/** What was changed last, in a line that is read out, with undo and redo. */
import { useSyncExternalStore } from "react";
import type { Fitting, PartName } from "../api/client";
import { type Change, pastNow, redo, subscribe, undo } from "../api/outbox";
import { useVocabulary } from "../api/vocabulary";
import { Button } from "../ui/Button";
import { useSettled } from "../ui/useSettled";
import { fieldName, written } from "./said";

const SHOWN = 2;
const HOW = { made: "", undone: "Taken back. ", redone: "Done again. " } as const;
/** Set along with what was typed, by the interface itself. */
const ALONG = (path: string) => path.startsWith("prefer/") || path === "time_of_day";

function useNames(): (change: Change, path: string) => string {
  const words = useVocabulary();
  const asks = words.data?.sports.flatMap((s) => s.asks) ?? [];
  return (change, path) =>
    (change.part === "brief" && asks.find((a) => a.field === path)?.short) || fieldName(path);
}

/** A change in a sentence: the fields with their values before and after. */
function sentence(change: Change, name: (change: Change, path: string) => string): string {
  const [from, to] = change.how === "undone" ? [change.after, change.before] : [change.before, change.after];
  const all = Object.keys(change.before);
  const paths = all.filter((path) => !ALONG(path));
  const told = (paths.length ? paths : all).filter((path) => from[path] !== to[path]);
  const parts = told
    .slice(0, SHOWN)
    .map((path) => `${name(change, path)}: ${written(path, from[path])} → ${written(path, to[path])}`);
  const more = told.length - parts.length;
  return parts.length ? `${HOW[change.how]}${parts.join("; ")}${more > 0 ? `; and ${more} more` : ""}` : "";
}

/** What a settled fitting was settled by stays; what was found at the follow-up doesn't yet. */
const canChange = (fitting: Fitting, part: PartName): boolean =>
  fitting.state === "open" || (fitting.state === "settled" && part === "return");

export function Changed({ fitting }: { fitting: Fitting }) {
  const past = useSyncExternalStore(subscribe, pastNow);
  const name = useNames();
  const own = (change: Change) => change.fitting === fitting.id && canChange(fitting, change.part);
  const last = past.last && own(past.last) ? past.last : null;
  const version = (part: PartName) => fitting.parts[part].version;
  const text = useSettled(last ? sentence(last, name) : "");
  return (
    <div className="flex min-w-0 flex-1 items-center justify-end gap-1 text-sm" data-changed={last?.how}>
      <span role="status" aria-live="polite" className="min-w-0 truncate text-faint" title={text}>
        {text}
      </span>
      {past.done.some(own) && (
        <Button
          kind="quiet"
          className="shrink-0 !px-2 underline"
          aria-keyshortcuts="Control+Z"
          onClick={() => undo(fitting.id, version)}
        >
          Undo
        </Button>
      )}
      {past.undone.some(own) && (
        <Button
          kind="quiet"
          className="shrink-0 !px-2 underline"
          aria-keyshortcuts="Control+Y"
          onClick={() => redo(fitting.id, version)}
        >
          Redo
        </Button>
      )}
    </div>
  );
}
