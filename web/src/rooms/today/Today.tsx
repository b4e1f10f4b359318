/** The bench's day: what came, who is due, what is near its end, what waits; done or put off from here. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useRef, useState } from "react";
import { Link } from "react-router";
import { ask, http, type Schemas } from "../../api/client";
import { remember } from "../../api/history";
import { useWalkIn } from "../../shell/begin";
import { Changed, usePastIn } from "../../shell/Changed";
import { useKeys } from "../../shell/keys";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { day } from "../../ui/clock";
import { Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { Calendars } from "./Calendars";
import { QueueList } from "./QueueList";
import { StillToDo } from "./StillToDo";
import { TodayLine } from "./TodayLine";

const Waits = lazy(() => import("./Waits").then((m) => ({ default: m.Waits })));

export type Item = Schemas["DayItem"];
type Marked = Pick<Item, "key" | "text"> & { name?: string | null };
/** So many of a kind are shown before the rest is asked for. */
const SHOWN = 6;
const WHOSE = "kalon.today.whose";
const LATER: [string, number][] = [
  ["tomorrow", 1],
  ["in a week", 7],
  ["in a month", 30],
];

/** The matters somebody is asked in for, and what they come for. */
const BOOKED_FOR: Record<string, "return" | "growth" | undefined> = { follow_up: "return", junior: "growth" };

const plus = (iso: string, days: number) =>
  new Date(Date.parse(`${iso}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);

const unmark = (id: string) =>
  ask(http.DELETE("/api/today/marks/{mark_id}", { params: { path: { mark_id: id } } }));

/** Marking a matter done or put off, and taking marks back. */
function useMarks() {
  const client = useQueryClient();
  const ids = useRef(new Map<string, string>());
  const refresh = () => client.invalidateQueries({ queryKey: ["today"] });
  const mark = useMutation({
    mutationFn: async ({ item, until }: { item: Marked; until: string | null }) => {
      const what = `${item.key} ${until}`;
      const id = ids.current.get(what) ?? crypto.randomUUID();
      ids.current.set(what, id);
      await ask(http.POST("/api/today/marks", { body: { id, key: item.key, until } }));
      return { id, what, item, until };
    },
    onSuccess: ({ id, what, item, until }) => {
      ids.current.delete(what);
      const body = { id, key: item.key, until };
      remember({
        where: "today",
        says: `${item.name ?? item.text}: ${until ? `put off to ${day(until)}` : "done"}.`,
        back: () => unmark(body.id).then(refresh),
        again: () => {
          body.id = crypto.randomUUID();
          return ask(http.POST("/api/today/marks", { body: { ...body } })).then(refresh);
        },
      });
      return refresh();
    },
  });
  const undo = useMutation({
    mutationFn: unmark,
    onSuccess: refresh,
  });
  return { mark, undo, error: mark.error ?? undo.error };
}

export default function Today() {
  const today = useQuery({ queryKey: ["today"], queryFn: () => ask(http.GET("/api/today")) });
  const [whose, setWhose] = useState(() => localStorage.getItem(WHOSE) ?? "shop");
  const marks = useMarks();
  const past = usePastIn("today");
  const walkIn = useWalkIn();
  const comesIn = () => !walkIn.isPending && walkIn.mutate("");
  useKeys({ n: comesIn });
  if (today.isPending) return <Loading what="the day" />;
  if (!today.data)
    return (
      <Note title="Today can't be shown" again>
        {today.error?.message}
      </Note>
    );
  const { items, kinds, today: now } = today.data;
  const ours = whose === "mine" ? items.filter((i) => i.mine || !i.staff) : items;
  const standing = ours.filter((i) => !i.until || i.until <= now);
  const later = ours.filter((i) => i.until && i.until > now);
  return (
    <RoomPage
      title="Today"
      side={
        <span className="flex flex-wrap items-end justify-end gap-2">
          <OneOf
            label="Whose day"
            value={whose}
            options={[
              { value: "shop", text: "Everybody's" },
              { value: "mine", text: "Mine" },
            ]}
            onChange={(v) => {
              localStorage.setItem(WHOSE, v);
              setWhose(v);
            }}
          />
          <Link to="/takings" className="inline-flex min-h-11 items-center px-2 underline">
            Takings
          </Link>
          <Calendars />
          <Button kind="strong" onClick={comesIn} disabled={walkIn.isPending} aria-keyshortcuts="n">
            Walk-in <span className="font-mono text-xs opacity-80">N</span>
          </Button>
        </span>
      }
    >
      <TodayLine today={now} items={standing} />
      <div className="flex min-h-11 items-center gap-2">
        <Changed past={past} first />
        {(marks.error ?? walkIn.error) && (
          <span role="alert" className="border-madder border-l-4 pl-2">
            {(marks.error ?? walkIn.error)?.message}
          </span>
        )}
      </div>
      <QueueList />
      <StillToDo
        items={today.data.begin}
        busy={marks.mark.isPending}
        onDone={(item) => marks.mark.mutate({ item, until: null })}
      />
      {!standing.length && (
        <p className="text-faint">Nothing stands in the day. Follow-ups booked at Settle appear here.</p>
      )}
      <div className="columns-2 gap-8 max-lg:columns-1">
        {Object.entries(kinds).map(([kind, title]) => (
          <Matters
            key={kind}
            title={title}
            kind={kind}
            today={now}
            items={standing.filter((i) => i.kind === kind)}
            busy={marks.mark.isPending}
            onMark={(item, until) => marks.mark.mutate({ item, until })}
          />
        ))}
      </div>
      {[
        { word: "Done today", those: today.data.done },
        { word: "Put off", those: later },
      ].map(({ word, those }) => (
        <Away
          key={word}
          word={word}
          items={those}
          kinds={kinds}
          busy={marks.undo.isPending}
          onBack={(mark) => marks.undo.mutate(mark)}
        />
      ))}
    </RoomPage>
  );
}

interface AwayProps {
  word: string;
  items: Item[];
  kinds: Record<string, string>;
  busy: boolean;
  onBack: (mark: string) => void;
}

/** Matters out of the day for now: done, or put off. Each can come back. */
function Away({ word, items, kinds, busy, onBack }: AwayProps) {
  if (!items.length) return null;
  return (
    <details className="mt-2">
      <summary className="min-h-11 cursor-pointer py-2.5 font-semibold">
        {word} ({items.length})
      </summary>
      <ul aria-label={word}>
        {items.map((i) => (
          <li key={i.key} className="flex min-h-12 items-center gap-3 border-line border-b">
            <span className="flex-1">
              <b>{i.name ?? kinds[i.kind]}</b> <span className="text-sm">{i.text}</span>
            </span>
            {i.until && <span>{day(i.until)}</span>}
            <Button
              aria-label={`Back into the day: ${i.name ?? i.text}`}
              disabled={busy}
              onClick={() => i.mark_id && onBack(i.mark_id)}
            >
              Back into the day
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}

interface MattersProps {
  title: string;
  kind: string;
  items: Item[];
  today: string;
  busy: boolean;
  onMark: (item: Item, until: string | null) => void;
}

/** The matters of one kind. */
function Matters({ title, kind, items, today, busy, onMark }: MattersProps) {
  const [all, setAll] = useState(false);
  const [putting, setPutting] = useState<string | null>(null);
  const [booking, setBooking] = useState<Item | null>(null);
  const about = BOOKED_FOR[kind];
  if (!items.length) return null;
  const shown = all ? items : items.slice(0, SHOWN);
  return (
    <section aria-labelledby={`day-${kind}`} className="mb-5">
      <h2 id={`day-${kind}`} className="mb-1 break-after-avoid font-semibold text-lg">
        {title} <span className="font-normal text-faint text-sm">{items.length}</span>
      </h2>
      <ul>
        {shown.map((i) => {
          return (
            <li key={i.key} className="break-inside-avoid border-line border-b">
              <div className="grid min-h-14 grid-cols-[1fr_auto] items-center gap-1">
                <Link
                  to={i.place}
                  className="grid min-h-14 grid-cols-[1fr_auto] items-center gap-3 px-2 py-1 hover:bg-sheet"
                >
                  <span className="leading-snug">
                    {i.name && (
                      <b className="block" dir="auto">
                        {i.name}
                      </b>
                    )}
                    <span className="text-sm">{i.text}</span>
                  </span>
                  <span className={`text-right text-sm ${i.late ? "font-semibold text-madder" : ""}`}>
                    {i.when}
                    <span className="block text-faint">{i.staff ?? ""}</span>
                  </span>
                </Link>
                <span className="flex">
                  <Button
                    kind="quiet"
                    aria-label={`Done: ${i.name ?? i.text}`}
                    disabled={busy}
                    onClick={() => onMark(i, null)}
                  >
                    Done
                  </Button>
                  <Button
                    kind="quiet"
                    aria-label={`Later: ${i.name ?? i.text}`}
                    aria-expanded={putting === i.key}
                    onClick={() => setPutting(putting === i.key ? null : i.key)}
                  >
                    Later
                  </Button>
                  {about && i.athlete_id && (
                    <Button
                      kind="quiet"
                      aria-label={`Book: ${i.name ?? i.text}`}
                      onClick={() => setBooking(i)}
                    >
                      Book
                    </Button>
                  )}
                </span>
              </div>
              {putting === i.key && (
                <span className="flex flex-wrap items-center justify-end gap-1.5 pb-1.5">
                  {LATER.map(([word, in_]) => (
                    <Button
                      key={word}
                      disabled={busy}
                      onClick={() => {
                        setPutting(null);
                        onMark(i, plus(today, in_));
                      }}
                    >
                      {word}
                    </Button>
                  ))}
                </span>
              )}
            </li>
          );
        })}
      </ul>
      {items.length > SHOWN && (
        <Button kind="quiet" className="underline" onClick={() => setAll(!all)}>
          {all ? "Fewer" : `All ${items.length}`}
        </Button>
      )}
      {booking?.athlete_id && about && (
        <Suspense>
          <Waits
            who={{ id: booking.athlete_id, name: booking.name ?? "" }}
            about={about}
            booked
            onClose={() => setBooking(null)}
          />
        </Suspense>
      )}
    </section>
  );
}
