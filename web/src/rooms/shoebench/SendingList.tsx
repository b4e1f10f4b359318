/** Pictures on their way: how far, at what, and what went wrong. */
import { Button } from "../../ui/Button";
import type { Sending } from "./usePictures";

export function SendingList({ sending, drop }: { sending: Sending[]; drop: (id: string) => void }) {
  if (!sending.length) return null;
  return (
    <ul className="mt-2 space-y-1" aria-label="Being measured">
      {sending.map((s) => (
        <li key={s.id} className="border border-ink bg-sheet px-2 py-1">
          {s.trouble ? (
            <>
              <p role="alert" className="text-madder">
                <b>{s.name}: </b>
                {s.trouble.title}
              </p>
              <Button kind="quiet" onClick={s.again}>
                Try again
              </Button>
              <Button kind="quiet" onClick={() => drop(s.id)}>
                Close
              </Button>
            </>
          ) : (
            <span className="flex items-center gap-2">
              <span className="truncate">{s.name}</span>
              <progress
                className="h-3 flex-1 accent-(--madder)"
                value={s.share}
                max={1}
                aria-label={`${s.name}: ${s.step}`}
              />
              <span className="text-faint text-sm" role="status">
                {s.step} …
              </span>
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}
