/** What every station is made of: the sheet with its margin, what it waits for, and the vocabulary it asks with. */
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { ask, http } from "../api/client";
import { useDesk } from "../api/fitting";
import { Note } from "../ui/parts";
import { STATION_NAMES } from "./order";

export const useVocabulary = () =>
  useQuery({
    queryKey: ["vocabulary"],
    queryFn: () => ask(http.GET("/api/vocabulary")),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** The sheet in the middle and the margin beside it. */
export function Station({ children, margin }: { children: ReactNode; margin: ReactNode }) {
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[1fr_276px] max-lg:block max-lg:overflow-auto">
      <main className="drafting min-h-0 min-w-0 overflow-auto px-5 py-4 max-lg:overflow-visible" tabIndex={0}>
        {children}
      </main>
      <aside
        className="overflow-auto border-line border-l px-4 py-3 text-[0.93rem] max-lg:border-t"
        tabIndex={0}
        aria-label="Reasons and cautions"
      >
        {margin}
      </aside>
    </div>
  );
}

/** What a station that can't be computed yet says, and where to go. */
export function Waiting({ message }: { message: string }) {
  const { fitting } = useDesk();
  const doing = fitting.stations.find((s) => s.state === "doing")?.slug;
  return (
    <Station margin={<p className="text-faint">Reasons appear here once there is something to compute.</p>}>
      <Note title="Not yet">
        <p>{message}</p>
        {doing && (
          <Link className="mt-2 inline-block underline" to={`/fittings/${fitting.id}/${doing}`}>
            Go on at {STATION_NAMES[doing]}
          </Link>
        )}
      </Note>
    </Station>
  );
}
