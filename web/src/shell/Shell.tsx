/** The sheet on the bench: a spine on the left, the work in the middle, what to know of the state above. */
import { useQueryClient } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense, useEffect, useState } from "react";
import { Link, NavLink, useNavigate } from "react-router";
import { ask, http, type Schemas } from "../api/client";
import { useOutbox } from "../api/fitting";
import { dismissNotice, isWaiting, schedule } from "../api/outbox";
import { Button, Dialog } from "../ui/parts";
import { ClashDialog } from "./ClashDialog";
import { KEY_LIST, setKeysOff, useKeys, useKeysOff } from "./keys";

const Commands = lazy(() => import("./Commands"));

const ROOMS = [
  ["/", "Today"],
  ["/athletes", "Athletes"],
  ["/stockroom", "Stockroom"],
  ["/house", "House"],
] as const;

export function Spine({ children }: { children?: ReactNode }) {
  const link = ({ isActive }: { isActive: boolean }) =>
    `flex min-h-11 items-center px-4 ${isActive ? "border-madder border-l-4 bg-sheet font-semibold" : "border-transparent border-l-4 hover:bg-sheet"}`;
  return (
    <nav aria-label="Stations and rooms" className="flex flex-col overflow-y-auto border-line border-r py-3">
      <Link to="/" className="px-4 pb-3 font-semibold text-2xl tracking-tight">
        Kalon
      </Link>
      {children}
      <div className="mt-auto pt-4">
        {ROOMS.map(([to, name]) => (
          <NavLink key={to} to={to} end={to === "/"} className={link}>
            {name}
          </NavLink>
        ))}
      </div>
    </nav>
  );
}

function StateBar() {
  const box = useOutbox();
  const kept = Object.values(box.entries).reduce(
    (n, e) => n + Object.keys(e.waiting).length + Object.keys(e.sending?.set ?? {}).length,
    0,
  );
  const text = box.offline
    ? `No connection. ${kept ? `${kept} change${kept > 1 ? "s are" : " is"} kept here and will be sent when it is back.` : "What you type is kept here."}`
    : box.notice;
  return (
    <div role="status" aria-live="polite">
      {text && (
        <p className="flex items-center justify-between gap-4 border-madder border-b-2 bg-sheet px-4 py-2">
          <span>{text}</span>
          {box.offline ? (
            <Button kind="quiet" onClick={() => schedule(0)}>
              Try now
            </Button>
          ) : (
            <Button kind="quiet" onClick={dismissNotice}>
              Close
            </Button>
          )}
        </p>
      )}
    </div>
  );
}

/** Saved, saving, or kept here: one word at the top right. */
export function SavedWord() {
  const box = useOutbox();
  const refused = Object.values(box.entries).some((e) => Object.keys(e.refused).length > 0);
  const word = box.offline
    ? "kept here"
    : isWaiting()
      ? "saving …"
      : refused
        ? "not saved: see the field"
        : "saved";
  return (
    <span data-saved={word} className="text-faint text-sm">
      {word}
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
  useKeys({
    "/": () => navigate("/athletes?find=1"),
    "?": () => setList(true),
    "ctrl+k": () => setCommands(true),
  });
  useEffect(() => {
    const leave = (event: BeforeUnloadEvent) => {
      if (isWaiting()) event.preventDefault();
    };
    window.addEventListener("beforeunload", leave);
    return () => window.removeEventListener("beforeunload", leave);
  }, []);
  const signOut = async () => {
    await ask(http.DELETE("/api/session"));
    client.clear();
    window.location.assign("/");
  };
  const actions = [
    { name: "Today", run: () => navigate("/") },
    { name: "Find an athlete", run: () => navigate("/athletes?find=1") },
    { name: "Stockroom", run: () => navigate("/stockroom") },
    { name: "House", run: () => navigate("/house") },
    { name: "Light or dark sheet", run: toggleSheet },
    { name: "Keys", run: () => setList(true) },
    { name: "Sign out", run: () => void signOut() },
  ];
  return (
    <div className="flex h-full flex-col">
      <StateBar />
      <div className="flex min-h-0 flex-1 flex-col">{children}</div>
      <footer className="no-print flex items-center justify-between border-line border-t px-4 text-faint text-sm">
        <span>
          {me.name}, {me.role} · {me.shop_name}
        </span>
        <span className="flex gap-1">
          <Button kind="quiet" onClick={() => setCommands(true)} aria-keyshortcuts="Control+K">
            Commands
          </Button>
          <Button kind="quiet" onClick={toggleSheet}>
            Light / dark
          </Button>
          <Button kind="quiet" onClick={() => setList(true)} aria-keyshortcuts="?">
            Keys
          </Button>
          <Button kind="quiet" onClick={() => void signOut()}>
            Sign out
          </Button>
        </span>
      </footer>
      <Suspense>{commands && <Commands actions={actions} onClose={() => setCommands(false)} />}</Suspense>
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
      <ClashDialog />
    </div>
  );
}
