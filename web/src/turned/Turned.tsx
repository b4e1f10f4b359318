/** The same moment of a fitting, turned to the person on the chair: five leaves in their words, and nothing else. */
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { ask, http, type Schemas } from "../api/client";
import { whenSaved } from "../api/saved";
import { Hatches } from "../drawing/kit";
import { useKeys } from "../shell/keys";
import { TimerEnds } from "../shell/TimerEnds";
import { Button } from "../ui/Button";
import { FrameContext } from "../ui/words";
import { GoBack } from "./GoBack";
import { TheirFeet } from "./TheirFeet";
import { TheirPairs } from "./TheirPairs";
import { TheShoe } from "./TheShoe";
import { ToldDecided } from "./ToldDecided";
import { turnBack } from "./turned";
import { WearingIn } from "./WearingIn";

const LEAVES = ["Your feet", "The shoe", "Your pairs", "Breaking in", "What you said"] as const;
/** The leaf of the moment, by the station that was open. */
const AT: Record<string, number> = { feet: 0, brief: 1, spec: 1, pull: 2, trial: 2, settle: 3, return: 0 };

interface Props {
  me: Schemas["Me"];
  fittingId: string;
  /** The station that was open. */
  station: string | undefined;
}

export default function Turned({ me, fittingId, station }: Props) {
  const [at, setAt] = useState(AT[station ?? ""] ?? 0);
  const [leaving, setLeaving] = useState(false);
  const main = useRef<HTMLElement>(null);
  const found = useQuery({
    queryKey: ["turned", fittingId],
    queryFn: async () => {
      // What was typed just now stands in it; where it can't be saved, what was known before.
      await whenSaved(fittingId).catch(() => undefined);
      return ask(
        http.GET("/api/fittings/{fitting_id}/turned", { params: { path: { fitting_id: fittingId } } }),
      );
    },
    staleTime: 0,
  });
  const go = (to: number) => {
    setAt(Math.min(Math.max(to, 0), LEAVES.length - 1));
    main.current?.scrollTo(0, 0);
  };
  useKeys({
    y: turnBack,
    F2: turnBack,
    ArrowRight: () => go(at + 1),
    ArrowLeft: () => go(at - 1),
    ...Object.fromEntries(LEAVES.map((_, i) => [String(i + 1), () => go(i)])),
  });
  useEffect(() => main.current?.focus(), []);
  const data = found.data;
  const leaf: ReactNode[] = data
    ? [
        <TheirFeet key="feet" feet={data.feet} />,
        <TheShoe key="shoe" shoe={data.shoe} />,
        <TheirPairs key="pairs" pairs={data.pairs} />,
        <WearingIn key="wear" wear={data.wear} />,
        <ToldDecided key="told" said={data.said} decided={data.decided} />,
      ]
    : [];
  return (
    <FrameContext.Provider value="whole">
      <title>{`${data?.athlete ?? "For you"} · Kalon`}</title>
      <svg width="0" height="0" className="absolute" aria-hidden="true">
        <Hatches />
      </svg>
      <div className="flex h-full flex-col bg-sheet" data-turned>
        <header className="flex items-center justify-between gap-4 border-line border-b px-6 py-1 text-lg">
          <h1 className="min-w-0 truncate font-semibold">
            <bdi>{data?.athlete ?? "For you"}</bdi>
            {data && <span className="ml-3 font-normal text-faint">{data.shop}</span>}
          </h1>
          <Button kind="quiet" className="shrink-0" onClick={() => setLeaving(true)}>
            Back to the bench
          </Button>
        </header>
        <TimerEnds only={fittingId} />
        <main ref={main} tabIndex={0} className="drafting min-h-0 flex-1 overflow-auto px-8 py-5 max-sm:px-4">
          {data ? (
            leaf[at]
          ) : (
            <div className="text-2xl">
              <p role={found.error ? "alert" : "status"}>
                {found.error ? found.error.message : "One moment …"}
              </p>
              {found.error && (
                <Button className="mt-3" onClick={() => void found.refetch()}>
                  Try again
                </Button>
              )}
            </div>
          )}
        </main>
        <nav aria-label="Leaves" className="flex border-line border-t max-sm:flex-wrap">
          {LEAVES.map((name, i) => (
            <button
              key={name}
              type="button"
              aria-current={i === at ? "page" : undefined}
              aria-keyshortcuts={String(i + 1)}
              onClick={() => go(i)}
              className={`min-h-16 flex-1 border-t-4 px-2 text-[clamp(0.95rem,1.6vw,1.35rem)] leading-tight ${i === at ? "border-madder font-semibold" : "border-transparent hover:bg-paper"}`}
            >
              {name}
            </button>
          ))}
        </nav>
      </div>
      {leaving && <GoBack me={me} onClose={() => setLeaving(false)} />}
    </FrameContext.Provider>
  );
}
