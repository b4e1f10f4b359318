import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, useSyncExternalStore } from "react";
import { ask, http, type Schemas, Trouble } from "../api/client";
import { signedIn } from "../api/outbox";
import { placeOf, wasTablet } from "../api/place";
import { aheadNow, drop, hold, subscribeAhead } from "../ui/ahead";
import { Button } from "../ui/Button";
import { TextField } from "../ui/TextField";
import { Loading } from "../ui/words";
import { Here } from "./Here";

/** Signing in: on a tablet of the shop's own by one's name and PIN, elsewhere and always by password. */
export function SignIn({ again = false }: { again?: boolean }) {
  const client = useQueryClient();
  // Asked without a session, where this browser was a tablet last; where nothing answers, there is the password.
  const here = useQuery({
    queryKey: ["here"],
    queryFn: () => ask(http.GET("/api/session/here")),
    enabled: wasTablet(),
    retry: false,
    gcTime: 0,
    staleTime: 0,
  });
  /** By password: of whom, nobody yet said where empty; not on a tablet before somebody wants it. */
  const [byPassword, setByPassword] = useState<string | null>(null);
  const isIn = (me: Schemas["Me"]) => {
    if (!again && me.tablet) history.replaceState(null, "", placeOf(me.login));
    client.setQueryData(["me"], me);
    signedIn(me.login);
    void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "me" });
  };
  const people = here.data?.people ?? [];
  if (here.isLoading) return again ? <p role="status">Who works here …</p> : <Loading what="the bench" />;
  const body =
    people.length && byPassword === null ? (
      <Here people={people} onIn={isIn} onPassword={setByPassword} />
    ) : (
      <>
        <ByPassword
          again={again}
          first={byPassword ?? ""}
          shopName={byPassword ? (here.data?.shop_name ?? "") : ""}
          onIn={isIn}
        />
        {people.length > 0 && (
          <Button kind="quiet" className="mt-2" onClick={() => setByPassword(null)}>
            By name and PIN
          </Button>
        )}
      </>
    );
  if (again) return body;
  return (
    <main className="grid min-h-full grid-cols-[1fr_auto] items-center gap-16 p-16 max-lg:grid-cols-1 max-sm:p-6">
      <SignInDrawing />
      <div>
        <h1 className="mb-1 font-semibold text-4xl tracking-tight">Kalon</h1>
        <p className="mb-6 text-faint">
          {here.data?.tablet ? `${here.data.tablet}, ${here.data.shop_name}` : "The fitting bench."}
        </p>
        {body}
      </div>
    </main>
  );
}

interface ByPasswordProps {
  again: boolean;
  first: string;
  shopName: string;
  onIn: (me: Schemas["Me"]) => void;
}

function ByPassword({ again, first, shopName, onIn }: ByPasswordProps) {
  const [login, setLogin] = useState(first);
  const [password, setPassword] = useState("");
  const [shop, setShop] = useState(shopName);
  const signIn = useMutation({
    mutationFn: () => {
      if (!again) hold(); // what is typed from now on is meant for the bench, and no part of the password
      return ask(http.POST("/api/session", { body: { login, password, shop } }));
    },
    onError: drop,
    onSuccess: onIn,
  });
  const asksShop = signIn.error instanceof Trouble && signIn.error.problem.code === "which-shop";
  const { dropped } = useSyncExternalStore(subscribeAhead, aheadNow);
  return (
    <form
      className="w-80 space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        signIn.mutate();
      }}
    >
      <TextField label="Sign-in name" value={login} onChange={setLogin} autoComplete="username" />
      <TextField
        label="Password"
        type="password"
        value={password}
        onChange={setPassword}
        autoComplete="current-password"
        error={signIn.error?.message}
      />
      {dropped > 0 && (
        <p role="status">{dropped === 1 ? "1 key" : `${dropped} keys`} typed for the bench did nothing.</p>
      )}
      {asksShop && <TextField label="Which shop's bench" value={shop} onChange={setShop} />}
      <Button kind="strong" type="submit" disabled={!login || !password || signIn.isPending}>
        Sign in
      </Button>
    </form>
  );
}

/** A foot and a shoe on drafting paper, measured. */
function SignInDrawing() {
  return (
    <svg
      viewBox="0 0 560 360"
      className="drafting max-h-[60vh] w-full border border-line max-lg:hidden"
      aria-hidden="true"
    >
      <g fill="none" stroke="var(--ink)" strokeWidth="1.6">
        <path d="M70 268c-6-38 6-84 22-112 12-18 58-22 66-2 8 30 40 44 78 58 60 22 150 20 214 40 30 10 36 34 20 38H84c-10 0-12-12-14-22z" />
        <path
          d="M92 262c-2-30 6-66 18-92 10-12 36-12 40 2 10 36 48 54 86 66 60 18 140 16 190 32 14 6 12 14 2 14H100c-6 0-8-12-8-22z"
          stroke="var(--left)"
        />
      </g>
      <g stroke="var(--madder)" fill="none">
        <path d="M92 316H432M92 308v16M432 308v16" />
        <path d="M432 316H468M468 308v16" strokeDasharray="3 3" />
      </g>
      <g className="font-mono" fontSize="14" fill="var(--madder)">
        <text x="250" y="338">
          264.0 mm
        </text>
        <text x="438" y="338">
          11.0
        </text>
      </g>
    </svg>
  );
}
