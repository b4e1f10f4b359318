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

interface Past {
  /** What was done last, while it may still be changed. */
  last: Change | null;
  canUndo: boolean;
  canRedo: boolean;
  undo: () => void;
  redo: () => void;
}

/** What was changed in a fitting here, and the way back and forth. */
export function usePast(fitting: Fitting): Past {
  const past = useSyncExternalStore(subscribe, pastNow);
  const own = (change: Change | null | undefined) =>
    !!change && change.fitting === fitting.id && canChange(fitting, change.part);
  const version = (part: PartName) => fitting.parts[part].version;
  const canUndo = past.done.some(own);
  const canRedo = past.undone.some(own);
  return {
    last: own(past.last) ? past.last : null,
    canUndo,
    canRedo,
    undo: () => canUndo && undo(fitting.id, version),
    redo: () => canRedo && redo(fitting.id, version),
  };
}

export function Changed({ past }: { past: Past }) {
  const name = useNames();
  const text = useSettled(past.last ? sentence(past.last, name) : "");
  const ways = [
    { word: "Undo", can: past.canUndo, go: past.undo, key: "Control+Z" },
    { word: "Redo", can: past.canRedo, go: past.redo, key: "Control+Y" },
  ];
  return (
    <div className="flex min-w-0 flex-1 items-center justify-end gap-1 text-sm" data-changed={past.last?.how}>
      <span role="status" aria-live="polite" className="min-w-0 truncate text-faint" title={text}>
        {text}
      </span>
      {ways.map(
        ({ word, can, go, key }) =>
          can && (
            <Button
              key={word}
              kind="quiet"
              className="shrink-0 !px-2 underline"
              aria-keyshortcuts={key}
              onClick={go}
            >
              {word}
            </Button>
          ),
      )}
    </div>
  );
}
