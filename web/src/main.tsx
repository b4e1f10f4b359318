import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { PersistQueryClientProvider } from "@tanstack/react-query-persist-client";
import { setNonce } from "get-nonce";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { Trouble } from "./api/client";
import { noteTrouble, reached } from "./api/connection";
import { tellFailure } from "./api/failures";
import { fittingQuery } from "./api/fitting";
import { forgetErased, isFromBefore, isWorthKeeping, KEPT_FOR_MS, persister } from "./api/kept";
import { watchConnection } from "./api/watch";
import { Boundary } from "./shell/Boundary";
import { turnedTo } from "./turned/turned";
import "./app.css";

setNonce(document.querySelector<HTMLMetaElement>("meta[name=csp-nonce]")?.content ?? "");
const wish = localStorage.getItem("kalon.sheet");
const dark = wish ? wish === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
document.documentElement.dataset.sheet = dark ? "dark" : "light";

const heard = { onSuccess: reached, onError: noteTrouble };
const client = new QueryClient({
  queryCache: new QueryCache({
    ...heard,
    onError: (error, query) => {
      noteTrouble(error);
      forgetErased(error, query);
    },
  }),
  mutationCache: new MutationCache(heard),
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      gcTime: KEPT_FOR_MS,
      networkMode: "always",
      retry: (count, error) => error instanceof Trouble && error.passing && !error.offline && count < 4,
      retryDelay: (count, error) =>
        Math.max(error instanceof Trouble ? error.waitMs : 0, Math.min(500 * 2 ** count, 8000)),
    },
    mutations: { networkMode: "always" },
  },
});

const [, room, id] = location.pathname.split("/");
const alone = room === "away" || room === "invited" || room === "trust";
if (!alone) watchConnection(client);
// What carries no error is a notice of the browser's own (of a late resize), no failure of ours.
window.addEventListener("error", (e) => e.error && tellFailure(e.error));
window.addEventListener("unhandledrejection", (e) => {
  if (!(e.reason instanceof Trouble)) tellFailure(e.reason);
});

// An address of a fitting: fetch its code and its data while the session is still being asked for.
if (room === "fittings" && id && !turnedTo()) {
  void import("./stations/FittingRoom").catch(() => undefined);
  void client.prefetchQuery(fittingQuery(id));
}

/** A link opened by an athlete: a page of its own, without a session, and without the bench's code. */
const Away = lazy(() => import("./away/Away").then((m) => ({ default: m.Away })));

/** An invitation to set a password. */
const Invited = lazy(() => import("./rooms/Invited"));

/** How a tablet comes to trust this machine. */
const Trust = lazy(() => import("./trust/Trust"));

const root = document.getElementById("root");
if (root && room === "away") {
  document.documentElement.dataset.sheet = "light";
  createRoot(root).render(
    <StrictMode>
      <Boundary what="This page" at="away">
        <Suspense>
          <Away token={id ?? ""} />
        </Suspense>
      </Boundary>
    </StrictMode>,
  );
} else if (root && (room === "invited" || room === "trust")) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <Boundary what="This page" at={room}>
          <Suspense>{room === "trust" ? <Trust /> : <Invited token={id ?? ""} />}</Suspense>
        </Boundary>
      </QueryClientProvider>
    </StrictMode>,
  );
} else if (root) {
  createRoot(root).render(
    <StrictMode>
      <PersistQueryClientProvider
        client={client}
        onSuccess={() => {
          void client.invalidateQueries({ predicate: isFromBefore }, { cancelRefetch: false });
        }}
        persistOptions={{
          persister,
          maxAge: KEPT_FOR_MS,
          buster: __VERSION__,
          dehydrateOptions: { shouldDehydrateQuery: isWorthKeeping },
        }}
      >
        <Boundary what="The bench" at="bench">
          <App />
        </Boundary>
      </PersistQueryClientProvider>
    </StrictMode>,
  );
}
