/** What every station is made of: the sheet with its margin, and what it waits for. */
import type { ReactNode } from "react";
import { Link } from "react-router";
import { useDesk } from "../api/desk";
import { useArrival } from "../ui/ahead";
import { FrameContext, Note } from "../ui/words";
import { STATION_NAMES } from "./order";

interface StationProps {
  children: ReactNode;
  margin: ReactNode;
  /** What is asked in the margin: on a standing tablet it comes before the sheet, the reasons below. */
  asked?: ReactNode;
}

/** The sheet in the middle and the margin beside it. */
export function Station({ children, margin, asked }: StationProps) {
  useArrival();
  return (
    <FrameContext.Provider value="whole">
      <div className="grid min-h-0 flex-1 grid-cols-[1fr_276px] max-lg:flex max-lg:flex-col max-lg:overflow-auto">
        <main
          className="drafting min-h-0 min-w-0 overflow-auto px-5 py-4 max-lg:shrink-0 max-lg:overflow-visible"
          tabIndex={0}
        >
          {children}
        </main>
        <aside
          className={`overflow-auto border-line border-l text-[0.93rem] max-lg:shrink-0 max-lg:border-t ${asked ? "max-lg:contents" : ""}`}
          tabIndex={0}
          aria-label="Reasons and cautions"
        >
          {asked && (
            <div className="border-line border-b px-4 py-3 max-lg:-order-1 max-lg:shrink-0">{asked}</div>
          )}
          <div className="px-4 py-3 max-lg:shrink-0">{margin}</div>
        </aside>
      </div>
    </FrameContext.Provider>
  );
}

/** The way to a caution that has to be acknowledged first. */
export function ToAcknowledge() {
  const { fitting } = useDesk();
  return (
    <Link
      className="inline-flex min-h-11 items-center underline"
      to={`/fittings/${fitting.id}/spec?open=caution`}
    >
      Go to the caution
    </Link>
  );
}

/** What a station that can't be computed yet says, and where to go. */
export function Waiting({ message, children }: { message: string; children?: ReactNode }) {
  const { fitting } = useDesk();
  const doing = fitting.stations.find((s) => s.state === "doing")?.slug;
  return (
    <Station margin={<p className="text-faint">Reasons appear here once there is something to compute.</p>}>
      <Note title="Not yet">
        <p role="alert">{message}</p>
        {doing && (
          <Link
            data-first
            className="mt-2 inline-flex min-h-11 items-center underline"
            to={`/fittings/${fitting.id}/${doing}`}
          >
            Go on at {STATION_NAMES[doing]}
          </Link>
        )}
      </Note>
      {children}
    </Station>
  );
}
