/** Who is due, and what waits. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { ask, http } from "../api/client";
import { day, daysBetween } from "../ui/clock";
import { Loading, Note } from "../ui/words";
import { RoomPage } from "./RoomPage";
import { TodayLine } from "./TodayLine";

function dueWord(days: number): string {
  if (days < 0) return days === -1 ? "a day late" : `${-days} days late`;
  if (days === 0) return "today";
  return days === 1 ? "tomorrow" : `in ${days} days`;
}

export default function Today() {
  const today = useQuery({ queryKey: ["today"], queryFn: () => ask(http.GET("/api/today")) });
  if (today.isPending) return <Loading what="the day" />;
  if (!today.data) return <Note title="Today can't be shown">{today.error?.message}</Note>;
  const { due, waiting } = today.data;
  const until = (iso: string) => daysBetween(today.data.today, iso);
  return (
    <RoomPage title="Today">
      <TodayLine today={today.data} />
      <div className="mt-3 grid grid-cols-2 gap-8 max-lg:grid-cols-1">
        <section aria-labelledby="due">
          <h2 id="due" className="mb-2 font-semibold text-lg">
            To see again
          </h2>
          {!due.length && (
            <p className="text-faint">Nobody is due. Follow-ups booked at Settle appear here.</p>
          )}
          <ul>
            {due.map((d) => (
              <li key={d.fitting_id} className="border-line border-b">
                <Link
                  to={`/fittings/${d.fitting_id}/return`}
                  className="grid min-h-14 grid-cols-[1fr_auto] items-center gap-3 px-2 py-1.5 hover:bg-sheet"
                >
                  <span>
                    <b>{d.name}</b>
                    <span className="block text-faint text-sm">
                      {d.pair} EU {d.eu_label}
                    </span>
                  </span>
                  <span className={`text-right ${until(d.due_on) < 0 ? "font-semibold text-madder" : ""}`}>
                    {dueWord(until(d.due_on))}
                    <span className="block text-faint text-sm">{day(d.due_on)}</span>
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
        <section aria-labelledby="waiting">
          <h2 id="waiting" className="mb-2 font-semibold text-lg">
            Fittings left open
          </h2>
          {!waiting.length && <p className="text-faint">Nothing waits. Begin one from Athletes.</p>}
          <ul>
            {waiting.map((w) => (
              <li key={w.fitting_id} className="border-line border-b">
                <Link
                  to={`/fittings/${w.fitting_id}`}
                  className="grid min-h-14 grid-cols-[1fr_auto] items-center gap-3 px-2 py-1.5 hover:bg-sheet"
                >
                  <span>
                    <b>{w.name}</b>
                    <span className="block text-faint text-sm">{w.squad}</span>
                  </span>
                  <span className="text-right">
                    {w.sport ?? "no brief yet"}
                    {w.event_on && (
                      <span className="block text-faint text-sm">event {dueWord(until(w.event_on))}</span>
                    )}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </RoomPage>
  );
}
