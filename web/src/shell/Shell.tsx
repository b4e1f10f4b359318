/** The sheet on the bench: a spine on the left, the work in the middle, what to know of the state above. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";
import { createPortal } from "react-dom";
import { Link, NavLink, useLocation, useNavigate } from "react-router";
import { ask, http, type Schemas, Trouble } from "../api/client";
import { forgetDrafts } from "../api/draft";
import { forgetKept } from "../api/kept";
import { isWaiting } from "../api/outbox";
import { sealOwn } from "../api/own";
import { isUploading } from "../api/uploads";
import { useQueue } from "../api/whoWaits";
import { hold } from "../ui/ahead";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { ClashBar } from "./ClashBar";
import { Commands } from "./Commands";
import { keepFocus } from "./focus";
import { KEY_LIST, setKeysOff, useKeys, useKeysOff } from "./keys";
import { lock } from "./lock";
import { OwnPassword } from "./OwnPassword";
import { OwnPin } from "./OwnPin";
import { StateBar } from "./State";

const ROOMS = [
  ["/", "Today"],
  ["/athletes", "Athletes"],
  ["/pairs", "Pairs"],
  ["/stockroom", "Stockroom"],
  ["/ledger", "Ledger"],
  ["/house", "House"],
] as const;

/** Where what is open puts its own part of the spine. */
const SpineSlot = createContext<HTMLElement | null>(null);

/** A part of the spine: the stations of a fitting. */
export function InSpine({ children }: { children: ReactNode }) {
  const slot = useContext(SpineSlot);
  return slot && createPortal(children, slot);
}

/** On a telephone the spine lies over the work, its marks under the words. */
export const LYING = "max-sm:border-b-4 max-sm:border-l-0 max-sm:px-3";

const roomLink = ({ isActive }: { isActive: boolean }) =>
  `flex min-h-11 shrink-0 items-center border-l-4 px-4 ${LYING} ${isActive ? "border-madder bg-sheet font-semibold" : "border-transparent hover:bg-sheet"}`;

const SMALL = "min-h-11 px-1 text-faint text-xs hover:bg-sheet hover:text-ink";

/** How many wait, wherever one is. */
function HowManyWait() {
  const places = useQueue().data?.places ?? [];
  const many = places.filter((p) => p.state === "waits").length;
  if (!many) return null;
  return (
    <span className="ml-auto whitespace-nowrap font-normal text-sm max-sm:ml-2">
      <b className="font-mono">{many}</b> {many === 1 ? "waits" : "wait"}
    </span>
  );
}

function toggleSheet(): void {
  const root = document.documentElement;
  const dark = root.dataset.sheet !== "dark";
  root.dataset.sheet = dark ? "dark" : "light";
  localStorage.setItem("kalon.sheet", dark ? "dark" : "light");
}

export function Shell({ me, children }: { me: Schemas["Me"]; children: ReactNode }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [commands, setCommands] = useState(false);
  const [list, setList] = useState(false);
  const off = useKeysOff();
  const [slot, setSlot] = useState<HTMLElement | null>(null);
  const { pathname } = useLocation();
  const find = () => {
    const there = pathname === "/athletes";
    if (!there) hold();
    navigate(`/athletes?find=${Date.now()}`, { replace: there });
  };
  useEffect(keepFocus, []);
  useKeys({
    "/": find,
    "?": () => setList(true),
    "ctrl+k": () => setCommands(true),
  });
  useEffect(() => {
    const leave = (event: BeforeUnloadEvent) => {
      if (isWaiting() || isUploading()) event.preventDefault();
    };
    window.addEventListener("beforeunload", leave);
    return () => window.removeEventListener("beforeunload", leave);
  }, []);
  const out = useMutation({
    mutationFn: async () => {
      try {
        await ask(http.DELETE("/api/session"));
      } catch (error) {
        if (!(error instanceof Trouble) || error.problem.status !== 401) throw error;
      }
      client.clear();
      forgetDrafts();
      await forgetKept();
      sealOwn(me.login, me.seal);
      window.location.assign("/");
    },
  });
  const [password, setPassword] = useState(false);
  const [pin, setPin] = useState(false);
  const leave = useMutation({ mutationFn: lock });
  const left = out.error ?? leave.error;
  const again = () => (out.error ? out.mutate() : leave.mutate());
  const stay = () => {
    out.reset();
    leave.reset();
  };
  const signOut = () => out.mutate();
  const actions = [
    { name: "Today", run: () => navigate("/") },
    { name: "Find an athlete", run: find },
    { name: "Plan of pairs", run: () => navigate("/pairs") },
    { name: "Squads", run: () => navigate("/squads") },
    { name: "Stockroom", run: () => navigate("/stockroom") },
    { name: "Buying again", run: () => navigate("/stockroom/buying") },
    { name: "Takings", run: () => navigate("/takings") },
    { name: "Ledger", run: () => navigate("/ledger") },
    { name: "House", run: () => navigate("/house") },
    { name: "Light or dark sheet", run: toggleSheet },
    { name: "Keys", run: () => setList(true) },
    { name: "Your password", run: () => setPassword(true) },
    { name: "Your PIN", run: () => setPin(true) },
    ...(me.tablet ? [{ name: "Lock, or somebody else", run: () => leave.mutate() }] : []),
    { name: "Sign out", run: signOut },
  ];
  return (
    <div className="grid h-full grid-cols-[136px_1fr] max-md:grid-cols-[108px_1fr] max-sm:grid-cols-1 max-sm:grid-rows-[auto_1fr]">
      <nav
        aria-label="Stations and rooms"
        className="no-print flex min-w-0 flex-col overflow-y-auto border-line border-r pt-1 max-sm:grid max-sm:grid-cols-[1fr_auto] max-sm:border-r-0 max-sm:border-b max-sm:pt-0"
      >
        <Link
          to="/"
          className="flex min-h-11 shrink-0 items-center px-4 font-semibold text-2xl tracking-tight max-sm:hidden"
        >
          Kalon
        </Link>
        <div ref={setSlot} className="max-sm:order-3 max-sm:col-span-2 max-sm:overflow-x-auto" />
        <div className="mt-auto pt-2 max-sm:flex max-sm:overflow-x-auto max-sm:pt-0">
          {ROOMS.map(([to, name]) => (
            <NavLink key={to} to={to} end={to === "/"} className={roomLink}>
              {name}
              {to === "/" && <HowManyWait />}
            </NavLink>
          ))}
        </div>
        <button
          type="button"
          className="min-h-11 shrink-0 border-line border-t px-4 pt-1.5 text-left text-faint text-xs leading-tight hover:underline max-sm:hidden"
          title={me.tablet ? "Somebody else, or lock it" : "Your password"}
          onClick={() => (me.tablet ? leave.mutate() : setPassword(true))}
        >
          {me.tablet && <span className="block text-ink underline">Somebody else</span>}
          {me.name}, {me.role} · {me.shop_name}
        </button>
        <div className="grid shrink-0 grid-cols-2 pb-1 max-sm:block max-sm:pb-0 max-sm:[&>:not(:first-child)]:hidden">
          <button
            type="button"
            className={SMALL}
            onClick={() => setCommands(true)}
            aria-keyshortcuts="Control+K"
          >
            Commands
          </button>
          <button type="button" className={SMALL} onClick={() => setList(true)} aria-keyshortcuts="?">
            Keys
          </button>
          <button type="button" className={SMALL} onClick={toggleSheet}>
            Light / dark
          </button>
          <button type="button" className={SMALL} onClick={signOut}>
            Sign out
          </button>
        </div>
      </nav>
      <div className="flex min-h-0 min-w-0 flex-col">
        <StateBar />
        <ClashBar />
        <SpineSlot.Provider value={slot}>
          <div className="flex min-h-0 flex-1 flex-col">{children}</div>
        </SpineSlot.Provider>
      </div>
      <Dialog open={!!left} onClose={stay} title="You are still signed in">
        <p className="mb-4">
          {left instanceof Trouble && left.offline
            ? "There is no connection, so the session can't be ended from here yet. Lock this device, or try again when the connection is back."
            : left?.message}
        </p>
        <span className="flex gap-2">
          <Button kind="strong" onClick={again} disabled={out.isPending || leave.isPending}>
            Try again
          </Button>
          <Button onClick={stay}>Stay signed in</Button>
        </span>
      </Dialog>
      {pin && <OwnPin onClose={() => setPin(false)} />}
      {password && <OwnPassword onClose={() => setPassword(false)} />}
      {commands && <Commands actions={actions} onClose={() => setCommands(false)} />}
      <Dialog open={list} onClose={() => setList(false)} title="Keys">
        <dl className="grid grid-cols-[7rem_1fr] gap-y-1.5">
          {KEY_LIST.map(([key, what]) => (
            <div key={key} className="contents">
              <dt className="font-mono">{key}</dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
        <label className="mt-4 flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5"
            checked={!off}
            onChange={(e) => setKeysOff(!e.target.checked)}
          />
          Single keys act (turn off when using speech)
        </label>
      </Dialog>
    </div>
  );
}
