/** What was changed last, in a line that is read out, with undo and redo. */
import { useSyncExternalStore } from "react";
import type { Fitting, PartName } from "../api/client";
import {
  type Change,
  type Now,
  type Past as PastStore,
  pastNow,
  redo,
  subscribePast,
  undo,
} from "../api/history";
import { useVocabulary } from "../api/vocabulary";
import { Button } from "../ui/Button";
import { useSettled } from "../ui/useSettled";
import { useKeys } from "./keys";
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

/** What was done in a sentence: an act in its words, fields with their values before and after. */
function sentence(last: PastStore["last"], name: (change: Change, path: string) => string): string {
  if (!last) return "";
  const { deed, how } = last;
  if (deed.kind === "act") return `${HOW[how]}${deed.says}`;
  const [from, to] = how === "undone" ? [deed.after, deed.before] : [deed.before, deed.after];
  const all = Object.keys(deed.before);
  const paths = all.filter((path) => !ALONG(path));
  const told = (paths.length ? paths : all).filter((path) => from[path] !== to[path]);
  const parts = told
    .slice(0, SHOWN)
    .map((path) => `${name(deed, path)}: ${written(path, from[path])} → ${written(path, to[path])}`);
  const more = told.length - parts.length;
  return parts.length ? `${HOW[how]}${parts.join("; ")}${more > 0 ? `; and ${more} more` : ""}` : "";
}

/** What a settled fitting was settled by stays; what was found at the follow-up doesn't yet. */
const canChange = (fitting: Fitting, part: PartName): boolean =>
  fitting.state === "open" || (fitting.state === "settled" && part === "return");

interface Past {
  /** What was done last there, while it may still be changed. */
  last: PastStore["last"];
  trouble: string;
  canUndo: boolean;
  canRedo: boolean;
  undo: () => void;
  redo: () => void;
}

function usePastOf(now: Now): Past {
  const past = useSyncExternalStore(subscribePast, pastNow);
  const canUndo = past.done.some(now.can);
  const canRedo = past.undone.some((d) => now.can(d) && (d.kind === "fields" || !!d.again));
  const back = () => void (canUndo && undo(now));
  const again = () => void (canRedo && redo(now));
  useKeys({ "ctrl+z": back, "ctrl+y": again, "ctrl+shift+z": again });
  return {
    last: past.last && now.can(past.last.deed) ? past.last : null,
    trouble: past.trouble,
    canUndo,
    canRedo,
    undo: back,
    redo: again,
  };
}

/** What was done in a fitting here, and the way back and forth. */
export const usePast = (fitting: Fitting): Past =>
  usePastOf({
    can: (deed) => deed.where === fitting.id && (deed.kind === "act" || canChange(fitting, deed.part)),
    versionOf: (part) => fitting.parts[part].version,
  });

/** What was done in a room. */
export const usePastIn = (room: string): Past =>
  usePastOf({ can: (deed) => deed.kind === "act" && deed.where === room, versionOf: () => 0 });

export function Changed({ past, first = false }: { past: Past; first?: boolean }) {
  const name = useNames();
  const text = useSettled(sentence(past.last, name));
  const ways = [
    { word: "Undo", can: past.canUndo, go: past.undo, key: "Control+Z" },
    { word: "Redo", can: past.canRedo, go: past.redo, key: "Control+Y" },
  ];
  return (
    <div
      className={`flex min-w-0 flex-1 items-center gap-1 text-sm ${first ? "" : "justify-end"}`}
      data-changed={past.last?.how}
    >
      <span role="status" aria-live="polite" className="min-w-0 truncate text-faint" title={text}>
        {text}
      </span>
      {past.trouble && (
        <span role="alert" className="text-madder">
          {past.trouble}
        </span>
      )}
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
