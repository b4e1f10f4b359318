/** Who is signed in decides what there is: the sign-in, or the shell with its rooms and fittings. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { ask, type Fitting, http, Trouble } from "./api/client";
import { fittingKey, useOutbox } from "./api/fitting";
import { openOutbox } from "./api/outbox";
import { SignIn } from "./rooms/SignIn";
import { Shell } from "./shell/Shell";
import { Dialog, Loading, Note } from "./ui/parts";

const Today = lazy(() => import("./rooms/Today"));
const Athletes = lazy(() => import("./rooms/Athletes"));
const Athlete = lazy(() => import("./rooms/Athlete"));
const Stockroom = lazy(() => import("./rooms/Stockroom"));
const House = lazy(() => import("./rooms/House"));
const FittingRoom = lazy(() => import("./stations/FittingRoom"));

export function App() {
  const client = useQueryClient();
  const box = useOutbox();
  const me = useQuery({ queryKey: ["me"], queryFn: () => ask(http.GET("/api/session")), staleTime: 60_000 });
  const login = me.data?.login;
  useEffect(() => {
    if (!login) return;
    openOutbox(login, (id, part, version, body) => {
      if (version > 0) {
        client.setQueryData<Fitting>(fittingKey(id), (old) => {
          if (!old || old.parts[part].version >= version) return old;
          const state = { version, body: { ...old.parts[part].body, ...body }, said: Object.keys(body) };
          return { ...old, parts: { ...old.parts, [part]: state } };
        });
      }
      void client.invalidateQueries({ queryKey: fittingKey(id) });
      void client.invalidateQueries({ queryKey: ["of", id] });
    });
  }, [login, client]);
  if (me.isPending) return <Loading what="the bench" />;
  const ended = me.error instanceof Trouble && me.error.problem.status === 401;
  if (!me.data && ended) return <SignIn />;
  if (!me.data) {
    return (
      <Note title="The bench can't be reached">
        <p>{me.error?.message} What was typed before is still kept in this browser.</p>
      </Note>
    );
  }
  return (
    <BrowserRouter>
      <Shell me={me.data}>
        <Suspense fallback={<Loading what="the room" />}>
          <Routes>
            <Route path="/" element={<Today />} />
            <Route path="/athletes" element={<Athletes />} />
            <Route path="/athletes/:id" element={<Athlete />} />
            <Route path="/stockroom" element={<Stockroom me={me.data} />} />
            <Route path="/house" element={<House me={me.data} />} />
            <Route path="/fittings/:id/:station?" element={<FittingRoom me={me.data} />} />
            <Route path="*" element={<Note title="There is nothing here">Choose a room on the left.</Note>} />
          </Routes>
        </Suspense>
      </Shell>
      <Dialog open={box.signedOut || ended} onClose={() => {}} title="Please sign in again">
        <p className="mb-3">Your session ended. What you typed is kept and is sent after signing in.</p>
        <SignIn again />
      </Dialog>
    </BrowserRouter>
  );
}
