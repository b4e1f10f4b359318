/** What to know of the state of things: no connection, not saved, a file that failed, a new version. */

import { useEffect, useState, useSyncExternalStore } from "react";
import { Link } from "react-router";
import { useConnection } from "../api/connection";
import { useOutbox } from "../api/desk";
import { typedIn } from "../api/entries";
import { allMoves, dropMove, subscribeMoves } from "../api/moves";
import { entriesOf, hurry, isWaiting, letGo, seenErased } from "../api/outbox";
import { isStoreFull, subscribeStore } from "../api/store";
import { dropUpload, useUploads } from "../api/uploads";
import { aheadNow, forgetDropped, subscribeAhead } from "../ui/ahead";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { forgetUnread, subscribeUnread, unreadNow } from "../ui/unread";
import { StateLine } from "./StateLine";
import { fieldName, written } from "./said";
import { TimerEnds } from "./TimerEnds";
import { useNewVersion } from "./version";

/** Sooner nobody has noticed that it takes its time. */
const SHOW_KEYS_MS = 600;

export function StateBar() {
  const box = useOutbox();
  const entries = Object.entries(box.entries);
  const moves = useSyncExternalStore(subscribeMoves, allMoves);
  const n = Object.values(box.entries).reduce((sum, e) => sum + typedIn(e), 0) + moves.length;
  const full = useSyncExternalStore(subscribeStore, isStoreFull);
  const unread = useSyncExternalStore(subscribeUnread, unreadNow);
  const uncounted = moves.find((m) => m.trouble);
  const failing = entries.find(([, e]) => e.trouble);
  const { offline } = useConnection();
  const failed = useUploads().filter((u) => u.refused && !window.location.pathname.includes(u.of));
  return (
    <div role="status" aria-live="polite">
      {offline && (
        <StateLine
          text={`No connection. ${n ? `${n} change${n > 1 ? "s are" : " is"} kept here and will be sent when it is back.` : "You see what was last known; what you type is kept here."}`}
        >
          <Button kind="quiet" onClick={() => hurry()}>
            Try now
          </Button>
        </StateLine>
      )}
      {full && (
        <StateLine text="This browser's store is full: what you type is sent, but would be lost if this page closed before it is saved." />
      )}
      {box.erased > 0 && (
        <StateLine
          text={`An athlete was erased at their request: ${box.erased} change${box.erased > 1 ? "s" : ""} kept here for them ${box.erased > 1 ? "were" : "was"} let go, and nothing of them stays on this device.`}
        >
          <Button kind="quiet" onClick={seenErased}>
            Close
          </Button>
        </StateLine>
      )}
      {!offline && failing && (
        <StateLine text={`Not saved yet, and being tried again: ${failing[1].trouble}`}>
          <Button kind="quiet" onClick={() => hurry()}>
            Try now
          </Button>
          <Button kind="quiet" weight="seen" onClick={() => letGo(failing[0])}>
            Let it go
          </Button>
        </StateLine>
      )}
      {!offline && uncounted && !window.location.pathname.startsWith("/stockroom") && (
        <StateLine text={`A stock count is not saved yet: ${uncounted.trouble}`}>
          <Link className="inline-flex min-h-11 items-center px-3 underline" to="/stockroom">
            Go there
          </Link>
          <Button kind="quiet" weight="seen" onClick={() => dropMove(uncounted.id)}>
            Let it go
          </Button>
        </StateLine>
      )}
      {failed.map((j) => (
        <StateLine key={j.id} text={`${j.name} was not measured: ${j.trouble?.title}`}>
          <Link className="inline-flex min-h-11 items-center px-3 underline" to={j.place}>
            Go there
          </Link>
          <Button kind="quiet" onClick={() => dropUpload(j.id)}>
            Let it go
          </Button>
        </StateLine>
      ))}
      {unread.length > 0 && (
        <StateLine
          text={`Left behind in a field and not taken: ${unread.map((u) => `${u.name} “${u.text}”`).join(", ")}.`}
        >
          <Button kind="quiet" onClick={forgetUnread}>
            Close
          </Button>
        </StateLine>
      )}
      <TimerEnds />
      <TypedAhead />
      <NewVersion />
    </div>
  );
}

/** Keys that wait for what is on its way, or went with it. */
function TypedAhead() {
  const { kept: keys, dropped } = useSyncExternalStore(subscribeAhead, aheadNow);
  const [late, setLate] = useState(false);
  const some = keys > 0;
  useEffect(() => {
    setLate(false);
    if (!some) return;
    const timer = setTimeout(() => setLate(true), SHOW_KEYS_MS);
    return () => clearTimeout(timer);
  }, [some]);
  const counted = (n: number) => `${n} key${n > 1 ? "s" : ""}`;
  if (some && late)
    return <StateLine text={`Still on its way; ${counted(keys)} kept for it. Escape lets them go.`} />;
  if (!dropped) return null;
  return (
    <StateLine
      text={`${counted(dropped)} typed ahead did nothing: what they were for did not come, or has to be seen first.`}
    >
      <Button kind="quiet" onClick={forgetDropped}>
        Close
      </Button>
    </StateLine>
  );
}

/** A new version waits until somebody takes it; never in the middle of a fitting by itself. */
function NewVersion() {
  const { there, takeIt } = useNewVersion();
  if (!there) return null;
  return (
    <StateLine text="A newer version of Kalon is here. It is taken when you say so, or when all its tabs are closed.">
      <Button kind="quiet" onClick={takeIt}>
        Take it now
      </Button>
    </StateLine>
  );
}

/** Saved, saving, kept here, or not saved: one word at the top right, of this fitting alone. */
export function SavedWord({ fitting }: { fitting: string }) {
  const box = useOutbox();
  const { offline } = useConnection();
  const [open, setOpen] = useState(false);
  const entries = entriesOf(fitting);
  const refused = entries.some((e) => Object.keys(e.refused).length > 0);
  const failing = entries.some((e) => e.trouble);
  const clashing = entries.some((e) => e.clash);
  const waiting = isWaiting(fitting);
  const word = refused
    ? "not saved: see why"
    : clashing
      ? "not saved: choose"
      : waiting && offline
        ? "kept here"
        : waiting && failing
          ? "not saved yet"
          : waiting
            ? "saving …"
            : offline
              ? "as last known"
              : "saved";
  return (
    <>
      {refused ? (
        <button
          type="button"
          data-saved={word}
          className="min-h-11 px-2 text-madder text-sm underline"
          onClick={() => setOpen(true)}
        >
          {word}
        </button>
      ) : (
        <span data-saved={word} className="text-faint text-sm">
          {word}
        </span>
      )}
      <Dialog open={open && refused} onClose={() => setOpen(false)} title="Not saved">
        <ul className="space-y-2">
          {Object.entries(box.entries)
            .filter(([, e]) => e.fitting === fitting)
            .flatMap(([key, e]) =>
              Object.entries(e.refused).map(([path, r]) => (
                <li
                  key={key + path}
                  className="flex items-center justify-between gap-3 border-madder border-l-4 pl-2"
                >
                  <span>
                    <b>{fieldName(path)}</b>: <span className="font-mono">{written(path, r.value)}</span>
                    <span className="block text-sm">{r.text}</span>
                  </span>
                  <Button onClick={() => letGo(key, path)}>Let it go</Button>
                </li>
              )),
            )}
        </ul>
        <Button className="mt-4" kind="strong" onClick={() => setOpen(false)}>
          Back to mend it
        </Button>
      </Dialog>
    </>
  );
}
