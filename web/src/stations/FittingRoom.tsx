/** A fitting: the stations down the spine, the sheet, the margin, the tray that follows along. */
import { type ComponentType, lazy, type ReactNode, useEffect, useState } from "react";
import { Link, NavLink, useNavigate, useParams } from "react-router";
import { type Fitting, type Schemas, Trouble } from "../api/client";
import { FittingContext, useDesk, useFittingDesk } from "../api/desk";
import { useFittingQuery } from "../api/fitting";
import { useSizeWord } from "../api/house";
import { flush } from "../api/outbox";
import { Hatches } from "../drawing/kit";
import { EditAthlete } from "../rooms/EditAthlete";
import { Boundary } from "../shell/Boundary";
import { Changed, usePast } from "../shell/Changed";
import { useKeys } from "../shell/keys";
import { InSpine, LYING } from "../shell/Shell";
import { SavedWord } from "../shell/State";
import { turn } from "../turned/turned";
import { hold, holdForLink } from "../ui/ahead";
import { Button } from "../ui/Button";
import { day, timeOf } from "../ui/clock";
import { whenIdle } from "../ui/later";
import { heldWord } from "../ui/pair";
import { FrameContext, Loading, Note } from "../ui/words";
import { useBlind } from "./blind";
import { STATION_NAMES, STATIONS, type StationSlug } from "./order";

const VIEWS = {
  feet: () => import("./feet/Feet"),
  brief: () => import("./brief/Brief"),
  spec: () => import("./spec/Spec"),
  pull: () => import("./pull/Pull"),
  trial: () => import("./trial/Trial"),
  settle: () => import("./settle/Settle"),
  return: () => import("./return/Return"),
} satisfies Record<StationSlug, unknown>;
const DRAWN: Record<StationSlug, ComponentType<{ me: Schemas["Me"] }>> = {
  feet: lazy(VIEWS.feet),
  brief: lazy(VIEWS.brief),
  spec: lazy(VIEWS.spec),
  pull: lazy(VIEWS.pull),
  trial: lazy(VIEWS.trial),
  settle: lazy(VIEWS.settle),
  return: lazy(VIEWS.return),
};
const STATE_SIGNS = { done: "✓", doing: "›", waits: "" } as const;

export default function FittingRoom({ me }: { me: Schemas["Me"] }) {
  const { id = "" } = useParams();
  const found = useFittingQuery(id);
  if (found.isPending) return <Loading what="the fitting" />;
  if (!found.data) {
    return (
      <Note title="This fitting can't be shown">
        <p>{found.error?.message}</p>
        {found.error instanceof Trouble && !found.error.passing ? (
          <Link className="mt-3 inline-flex min-h-11 items-center underline" to="/athletes">
            To the athletes
          </Link>
        ) : (
          <Button className="mt-3" onClick={() => void found.refetch()}>
            Try again
          </Button>
        )}
      </Note>
    );
  }
  return <Room fitting={found.data} me={me} />;
}

function Room({ fitting, me }: { fitting: Fitting; me: Schemas["Me"] }) {
  const { station } = useParams();
  const navigate = useNavigate();
  const desk = useFittingDesk(fitting);
  const doing = fitting.stations.find((s) => s.state === "doing")?.slug ?? "return";
  const slug = STATIONS.find((s) => s === station) ?? doing;
  useEffect(() => {
    if (!station) navigate(`/fittings/${fitting.id}/${doing}`, { replace: true });
  }, [station, doing, fitting.id, navigate]);
  const go = (to: StationSlug | undefined) => {
    if (!to || to === slug) return;
    hold();
    void flush();
    navigate(`/fittings/${fitting.id}/${to}`);
  };
  const next = STATIONS[STATIONS.indexOf(slug) + 1];
  const past = usePast(fitting);
  const [naming, setNaming] = useState(false);
  useKeys({
    ...Object.fromEntries(STATIONS.map((s, i) => [`g ${i + 1}`, () => go(s)])),
    ...(next ? { "ctrl+enter": () => go(next) } : {}),
    "ctrl+shift+enter": () => go(STATIONS[STATIONS.indexOf(slug) - 1]),
    y: () => turnTo(fitting.id),
    F2: () => turnTo(fitting.id),
  });
  useEffect(() => whenIdle([...Object.values(VIEWS), () => import("../turned/Turned")]), []);
  const View = DRAWN[slug];
  return (
    <FittingContext.Provider value={desk}>
      <svg width="0" height="0" className="absolute" aria-hidden="true">
        <Hatches />
      </svg>
      <InSpine>
        <ol className="max-sm:flex">
          {STATIONS.map((s, i) => {
            const state = fitting.stations[i];
            return (
              <li key={s}>
                <NavLink
                  to={`/fittings/${fitting.id}/${s}`}
                  onClick={(e) => s !== slug && holdForLink(e)}
                  aria-keyshortcuts={`g ${i + 1}`}
                  className={({ isActive }) =>
                    `grid min-h-12 grid-cols-[1rem_1fr] items-center gap-x-1 border-l-4 py-0.5 pr-1 pl-2.5 leading-tight ${LYING} max-sm:whitespace-nowrap ${isActive ? "border-madder bg-sheet font-semibold" : "border-transparent hover:bg-sheet"}`
                  }
                >
                  <span aria-hidden="true" className="text-madder">
                    {state ? STATE_SIGNS[state.state] : ""}
                  </span>
                  <span>
                    {STATION_NAMES[s]}
                    <span className="block font-normal text-faint text-xs">
                      {state?.state === "waits" ? `after ${state.waits_for}` : state?.state}
                    </span>
                  </span>
                </NavLink>
              </li>
            );
          })}
        </ol>
      </InSpine>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <title>{`${fitting.athlete.name} · ${STATION_NAMES[slug]} · Kalon`}</title>
        <header className="flex min-h-12 items-center justify-between gap-4 max-md:gap-2 max-md:px-3 border-line border-b px-5">
          <h1 className="max-w-[65%] truncate font-semibold text-xl tracking-tight">
            <Link className="inline-flex min-h-11 items-center" to={`/athletes/${fitting.athlete.id}`}>
              <bdi>{fitting.athlete.name}</bdi>
            </Link>
            <span className="ml-3 font-normal text-base text-faint">
              {[STATION_NAMES[slug], fitting.athlete.squad, `begun ${day(fitting.begun_on)}`]
                .filter(Boolean)
                .join(" · ")}
            </span>
          </h1>
          {fitting.athlete.unnamed_since && (
            <Button kind="quiet" className="shrink-0 underline" onClick={() => setNaming(true)}>
              Say their name
            </Button>
          )}
          {naming && <EditAthlete athlete={fitting.athlete} onClose={() => setNaming(false)} />}
          <Button
            kind="quiet"
            className="shrink-0 underline"
            aria-keyshortcuts="y F2"
            onClick={() => turnTo(fitting.id)}
          >
            Turn to them
          </Button>
          <Changed past={past} />
          <SavedWord fitting={fitting.id} />
        </header>
        {desk.locked && slug !== "settle" && slug !== "return" && (
          <section aria-label="Settled">
            <p className="border-line border-b bg-sheet px-5 py-1.5 text-sm">
              This fitting is settled: it shows what it was settled by. Begin a new one to change it.
            </p>
          </section>
        )}
        <FrameContext.Provider value="titled">
          <Boundary what="This station" at={`${fitting.id}/${slug}`}>
            <View key={`${fitting.id}/${slug}`} me={me} />
          </Boundary>
        </FrameContext.Provider>
      </div>
      <Tray>{next && <Onward to={next} onGo={() => go(next)} />}</Tray>
    </FittingContext.Provider>
  );
}

/** The sheet turned to the athlete; what is typed is on its way first. */
function turnTo(id: string): void {
  void flush();
  turn(id);
}

/** On to the next station: at the same place in every one. */
function Onward({ to, onGo }: { to: StationSlug; onGo: () => void }) {
  return (
    <button
      type="button"
      onClick={onGo}
      data-onward
      aria-keyshortcuts="Control+Enter"
      className="no-print ml-auto min-h-12 shrink-0 rounded-sm border border-ink bg-ink px-4 text-left font-medium text-sheet leading-tight"
    >
      On to {STATION_NAMES[to]}
      <span className="block font-normal text-xs opacity-80">Ctrl Enter</span>
    </button>
  );
}

/** Until when the pairs are held; whoever works on the fitting moves it on. */
function Held({ until }: { until: string }) {
  const [over, setOver] = useState(false);
  useEffect(() => {
    const left = Date.parse(until) - Date.now();
    setOver(left <= 0);
    if (left <= 0) return;
    const timer = setTimeout(() => setOver(true), Math.min(left, 2 ** 30));
    return () => clearTimeout(timer);
  }, [until]);
  return (
    <span className="block whitespace-nowrap text-xs">
      {over ? "no longer held" : `held to ${timeOf(until)}`}
    </span>
  );
}

function Tray({ children }: { children: ReactNode }) {
  const { fitting } = useDesk();
  const sizeWord = useSizeWord();
  const { nameOf } = useBlind();
  return (
    <div className="flex min-h-[68px] items-center gap-3 border-line border-t bg-paper pr-4 pl-5">
      <section className="flex min-w-0 items-center gap-3 overflow-x-auto" aria-label="Tray">
        <span className="text-faint text-sm leading-tight">
          Tray
          {fitting.held_until && <Held until={fitting.held_until} />}
        </span>
        {!fitting.tray.length && <span className="text-faint text-sm">Empty: pull two to four pairs.</span>}
        {fitting.tray.map((pair) => {
          const verdict = fitting.parts.trial.body.pairs?.[pair.id]?.verdict;
          const sold = fitting.sale?.stock_line_id === pair.id;
          return (
            <Link
              key={pair.id}
              to={`/fittings/${fitting.id}/trial?pair=${pair.id}`}
              className={`min-h-12 whitespace-nowrap border bg-sheet px-3 py-1 leading-tight ${sold ? "border-2 border-madder" : "border-ink/50"}`}
            >
              <b>{nameOf(pair)}</b> <span className="font-mono">{sizeWord(pair)}</span>
              <span className="block text-faint text-xs">
                {sold ? "settled" : verdict === "pass" ? "passed" : verdict === "fail" ? "failed" : "to try"}
                {pair.also_pulled ? ` · ${heldWord(pair)}` : ""}
                {!sold && pair.on_hand === 1 ? " · last pair" : ""}
                {!sold && pair.on_hand === 0 ? " · sold out" : ""}
              </span>
            </Link>
          );
        })}
      </section>
      {children}
    </div>
  );
}
