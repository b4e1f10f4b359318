/** What a fitter says of a picture, sent in the order typed: each on what the one before made of it, so that typing on
 * while it is measured again loses nothing. */
import { useCallback, useEffect, useRef, useState } from "react";
import { ask, away, http, KEPT, Trouble } from "../../api/client";
import type { Picture, ShoeSaid } from "./usePictures";

const TYPING_MS = 500;
const AGAIN_MS = 3000;

export function useSaid(picture: Picture, told: (picture: Picture) => void) {
  const newest = useRef(picture);
  if (picture.id !== newest.current.id || picture.version > newest.current.version) newest.current = picture;
  const waiting = useRef<ShoeSaid | null>(null);
  const sent = useRef<ShoeSaid | null>(null);
  /** Somebody is in the middle of a number. */
  const typing = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const tell = useRef(told);
  tell.current = told;
  const [busy, setBusy] = useState(false);
  /** Something is typed that isn't said yet. */
  const [unsaid, setUnsaid] = useState(false);
  const [trouble, setTrouble] = useState<Trouble | null>(null);

  const send = useCallback(async () => {
    clearTimeout(timer.current);
    typing.current = false;
    if (sent.current) return; // what waits follows it
    while (waiting.current && !typing.current) {
      const more = waiting.current;
      sent.current = more;
      waiting.current = null;
      setBusy(true);
      try {
        newest.current = await put(newest.current, more);
        sent.current = null;
        setTrouble(null);
        tell.current(newest.current);
      } catch (error) {
        sent.current = null;
        if (!(error instanceof Trouble)) throw error;
        // Kept, and said again: with what is typed next, when the line is back, or at a press.
        waiting.current = { ...more, ...(waiting.current ?? {}) };
        setTrouble(error.offline ? away(KEPT) : error);
        if (error.problem.code === "changed-elsewhere") {
          const theirs = await ask(http.GET("/api/shoe-pictures/{picture_id}", at(newest.current))).catch(
            () => null,
          );
          if (theirs) {
            newest.current = theirs;
            tell.current(theirs);
          }
        } else if (error.passing) {
          timer.current = setTimeout(() => void send(), Math.max(error.waitMs, AGAIN_MS));
        }
        break;
      }
    }
    setBusy(false);
    setUnsaid(!!waiting.current);
  }, []);
  useEffect(() => () => void send(), [send]);

  /** Say more of it; what is `typed` waits for the last key. */
  const say = useCallback(
    (more: ShoeSaid, typed = false) => {
      waiting.current = { ...(waiting.current ?? {}), ...more };
      clearTimeout(timer.current);
      typing.current = typed;
      setUnsaid(true);
      if (typed) timer.current = setTimeout(() => void send(), TYPING_MS);
      else void send();
    },
    [send],
  );
  /** Its studs as last said, answered or not. */
  const spots = () => waiting.current?.spots ?? sent.current?.spots ?? null;
  return { say, again: send, spots, busy, unsaid, trouble };
}

/** What is wrong with a part of what was said, by its path: "stud_mm", "spots.2.long". */
export const wrongAt = (trouble: Trouble | null, path: string): string | undefined =>
  trouble?.problem.fields.find((f) => f.field === `said.${path}`)?.text;

/** What isn't said where it was typed: a trouble of the line or of somebody else, a stud nobody looks at. */
export function refusal(trouble: Trouble, shown: readonly string[]): string {
  const paths = trouble.problem.fields.map((f) => f.field.replace(/^said\./, ""));
  const stud = paths.map((p) => /^spots\.(\d+)\./.exec(p)?.[1]).find(Boolean);
  if (stud !== undefined) return `Stud ${Number(stud) + 1} has a number that can't be.`;
  return paths.length && paths.every((p) => shown.includes(p)) ? "" : trouble.message;
}

const at = (picture: Picture) => ({ params: { path: { picture_id: picture.id } } });
const put = (picture: Picture, more: ShoeSaid) =>
  ask(
    http.PATCH("/api/shoe-pictures/{picture_id}", {
      ...at(picture),
      body: { version: picture.version, said: { ...picture.said, ...more } as never },
    }),
  );
