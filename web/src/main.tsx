import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { Trouble } from "./api/client";
import { fittingQuery } from "./api/fitting";
import "./app.css";

setNonce(document.querySelector<HTMLMetaElement>("meta[name=csp-nonce]")?.content ?? "");
const wish = localStorage.getItem("kalon.sheet");
const dark = wish ? wish === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
document.documentElement.dataset.sheet = dark ? "dark" : "light";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      networkMode: "always",
      retry: (count, error) => error instanceof Trouble && error.offline && count < 20,
      retryDelay: (count) => Math.min(500 * 2 ** count, 4000),
    },
    mutations: { networkMode: "always" },
  },
});

// An address of a fitting: fetch its code and its data while the session is still being asked for.
const [, room, id] = location.pathname.split("/");
if (room === "fittings" && id) {
  void import("./stations/FittingRoom");
  void client.prefetchQuery(fittingQuery(id));
}

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <App />
      </QueryClientProvider>
    </StrictMode>,
  );
}
