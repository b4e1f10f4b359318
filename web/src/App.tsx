/** Who is signed in decides what there is: the sign-in, or the shell with its rooms and fittings. */
import { useIsRestoring, useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useRef } from "react";
import { BrowserRouter, Route, Routes, useLocation, useNavigate, useParams } from "react-router";
import { ask, type Fitting, http, type Schemas, Trouble } from "./api/client";
import { useConnection } from "./api/connection";
import { fittingKey } from "./api/fitting";
import { forgetPast } from "./api/history";
import { useHouse } from "./api/house";
import { forgetKept } from "./api/kept";
import { openMoves } from "./api/moves";
import { openOutbox } from "./api/outbox";
import { sealOwn } from "./api/own";
import { keepPlace, keepTablet, placeOf } from "./api/place";
import { counted } from "./api/rack";
import { SignIn } from "./rooms/SignIn";
import { Boundary } from "./shell/Boundary";
import { lock } from "./shell/lock";
import { useRest } from "./shell/rest";
import { Shell } from "./shell/Shell";
import { turnBack, useTurned } from "./turned/turned";
import { setShopZone } from "./ui/clock";
import { Dialog } from "./ui/Dialog";
import { whenIdle } from "./ui/later";
import { setShopCurrency } from "./ui/money";
import { Loading, Note } from "./ui/words";

const ROOMS = {
  today: () => import("./rooms/today/Today"),
  athletes: () => import("./rooms/Athletes"),
  athlete: () => import("./rooms/Athlete"),
  plan: () => import("./rooms/plan/Plan"),
  pair: () => import("./rooms/pairs/PairPage"),
  squads: () => import("./rooms/squads/Squad"),
  stockroom: () => import("./rooms/stockroom/Stockroom"),
  sheets: () => import("./rooms/stockroom/Sheets"),
  shoebench: () => import("./rooms/shoebench/ShoeBench"),
  orders: () => import("./rooms/stockroom/Orders"),
  restock: () => import("./rooms/stockroom/Restock"),
  takings: () => import("./rooms/takings/Takings"),
  ledger: () => import("./rooms/Ledger"),
  house: () => import("./rooms/house/House"),
  fitting: () => import("./stations/FittingRoom"),
};
/** Fetched while nothing else is to do: where one goes from Today. */
const NEXT = [ROOMS.fitting, ROOMS.athletes];
/** And what a service worker keeps anyway, where there is none; the house and the ledger are seldom opened. */
const OFTEN = [
  ...NEXT,
  ...[ROOMS.athlete, ROOMS.plan, ROOMS.pair, ROOMS.squads, ROOMS.stockroom, ROOMS.sheets, ROOMS.shoebench],
  ...[ROOMS.orders, ROOMS.restock, ROOMS.takings, ROOMS.today],
];
const Today = lazy(ROOMS.today);
const Athletes = lazy(ROOMS.athletes);
const Athlete = lazy(ROOMS.athlete);
const Plan = lazy(ROOMS.plan);
const PairPage = lazy(ROOMS.pair);
const Squad = lazy(ROOMS.squads);
const Stockroom = lazy(ROOMS.stockroom);
const ShoeBench = lazy(ROOMS.shoebench);
const Sheets = lazy(ROOMS.sheets);
const Orders = lazy(ROOMS.orders);
const Restock = lazy(ROOMS.restock);
const Takings = lazy(ROOMS.takings);
const Ledger = lazy(ROOMS.ledger);
const House = lazy(ROOMS.house);
const FittingRoom = lazy(ROOMS.fitting);
const Turned = lazy(() => import("./turned/Turned"));

export function App() {
  const client = useQueryClient();
  const restoring = useIsRestoring();
  const me = useQuery({
    queryKey: ["me"],
    queryFn: () => ask(http.GET("/api/session")),
    staleTime: 60_000,
    refetchInterval: 60_000, // who was shut out is out, also where nothing else is asked for
  });
  const { login, seal = "" } = me.data ?? {};
  useEffect(() => {
    forgetPast();
    if (!login) return;
    const open = openOutbox(login, seal, (id, name, now) => {
      if (now) {
        client.setQueryData<Fitting>(fittingKey(id), (old) => {
          if (!old || old.parts[name].version >= now.version) return old;
          return { ...old, parts: { ...old.parts, [name]: now } };
        });
      } else {
        // What is known may be newer than what there is now: let it go before asking.
        client.removeQueries({ queryKey: fittingKey(id), type: "inactive" });
      }
      void client.invalidateQueries({ queryKey: fittingKey(id) });
      // What is computed of the part is asked for by its version, and so anew.
      if (!now) void client.invalidateQueries({ queryKey: ["of", id] });
    });
    void open.then(() => openMoves(login, (line, onHand) => counted(client, line, onHand)));
  }, [login, seal, client]);
  const ended = me.error instanceof Trouble && me.error.problem.status === 401;
  useEffect(() => {
    // Whoever signs in again has shown who they are: until then nothing is turned to anybody.
    if (ended) turnBack();
  }, [ended]);
  if (me.isPending || restoring) return <Loading what="the bench" />;
  if (!me.data && ended) return <SignIn />;
  if (!me.data) {
    return (
      <Note title="The bench can't be reached" again>
        <p>{me.error?.message} What was typed before is still kept in this browser.</p>
      </Note>
    );
  }
  return (
    <BrowserRouter>
      <Bench me={me.data} ended={ended} />
    </BrowserRouter>
  );
}

function Bench({ me, ended }: { me: Schemas["Me"]; ended: boolean }) {
  const { signedOut } = useConnection();
  const client = useQueryClient();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const out = signedOut || ended;
  const turned = useTurned();
  const known = useHouse(!turned).data;
  const house = known?.house;
  const zone = house?.time_zone;
  setShopZone(zone);
  setShopCurrency(house?.currency);
  useEffect(() => {
    if (out) turnBack();
  }, [out]);
  useEffect(() => whenIdle("serviceWorker" in navigator ? NEXT : OFTEN), []);
  const who = useRef(`${me.shop_name}/${me.login}`);
  useEffect(() => {
    // Somebody else signed in on this page: nothing of the one before may be shown to them.
    const now = `${me.shop_name}/${me.login}`;
    if (who.current === now) return;
    who.current = now;
    client.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
    if (me.tablet) navigate(placeOf(me.login));
  }, [me, client, navigate]);
  useEffect(() => {
    keepTablet(!!me.tablet);
    if (me.tablet && !out) keepPlace(me.login, pathname);
  }, [me, out, pathname]);
  const rest = known?.defaults.find((d) => d.slug === "tablet.rest_min")?.now ?? null;
  useRest(me.tablet && !out ? rest : null, lock);
  useEffect(() => {
    // Whoever it was: while nobody is signed in, nothing of an athlete stays on the device or on the screen.
    if (!out) return;
    void forgetKept();
    sealOwn(me.login, me.seal);
    client.removeQueries({ type: "inactive", predicate: (q) => q.queryKey[0] !== "me" });
  }, [out, client, me.login, me.seal]);
  return (
    <>
      <div className={out ? "hidden" : "contents"}>
        {turned ? (
          <Boundary what="What is turned to them" at={turned}>
            <Suspense fallback={<Loading what="it" />}>
              <Turned me={me} fittingId={turned} station={stationIn(pathname)} />
            </Suspense>
          </Boundary>
        ) : (
          <Shell key={me.login} me={me}>
            <Boundary what="This room" at={pathname.split("/").slice(0, 3).join("/")}>
              <Routes>
                <Route path="/" element={<Today />} />
                <Route path="/athletes" element={<Athletes />} />
                <Route path="/athletes/:id" element={<OneAthlete me={me} />} />
                <Route path="/pairs" element={<Plan />} />
                <Route path="/pairs/:id" element={<OnePair />} />
                <Route path="/squads" element={<Squad />} />
                <Route path="/stockroom" element={<Stockroom me={me} />} />
                <Route path="/stockroom/buying" element={<Restock me={me} />} />
                <Route path="/stockroom/orders" element={<Orders />} />
                <Route path="/stockroom/bench/:line" element={<ShoeBench />} />
                <Route path="/stockroom/lists/:id?" element={<Sheets me={me} />} />
                <Route path="/takings" element={<Takings me={me} />} />
                <Route path="/ledger" element={<Ledger me={me} />} />
                <Route path="/house" element={<House me={me} />} />
                <Route path="/fittings/:id/:station?" element={<FittingRoom me={me} />} />
                <Route
                  path="*"
                  element={<Note title="There is nothing here">Choose a room on the left.</Note>}
                />
              </Routes>
            </Boundary>
          </Shell>
        )}
      </div>
      <Dialog
        open={out}
        stays
        unasked
        onClose={() => {}}
        title={me.tablet ? "Who is here?" : "Please sign in again"}
      >
        <p className="mb-3">
          {me.tablet
            ? `${me.tablet} is locked. What was typed is kept for whoever typed it, and they come back to where they were.`
            : "Your session ended. What you typed is kept and is sent after signing in."}
        </p>
        <SignIn again />
      </Dialog>
    </>
  );
}

/** The station an address is of. */
const stationIn = (pathname: string): string | undefined => /^\/fittings\/[^/]+\/(\w+)/.exec(pathname)?.[1];

/** An athlete's page is of one athlete: what was begun for one must not be taken for another. */
function OneAthlete({ me }: { me: Schemas["Me"] }) {
  return <Athlete key={useParams().id} me={me} />;
}

/** A pair's page is of one pair. */
function OnePair() {
  return <PairPage key={useParams().id} />;
}
