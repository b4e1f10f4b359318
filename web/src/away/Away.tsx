/** What an athlete opens by their link, on a phone: agree, answer in their own words, photograph the feet, check a pair. */
import { useCallback, useEffect, useState } from "react";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { Agreed } from "./Agreed";
import { agree, open, type Page, passing } from "./away";
import type { Props } from "./props";
import { begin } from "./waiting";

export function Away({ token }: { token: string }) {
  const [page, setPage] = useState<Page | null>(null);
  const [trouble, setTrouble] = useState<Error | null>(null);
  const ask = useCallback(() => {
    setTrouble(null);
    open(token).then(setPage, setTrouble);
  }, [token]);
  useEffect(() => {
    document.title = "Your feet and your shoes";
    begin(token);
    ask();
  }, [ask, token]);
  const again = trouble !== null && passing(trouble);
  useEffect(() => {
    if (!again) return;
    window.addEventListener("online", ask);
    return () => window.removeEventListener("online", ask);
  }, [again, ask]);
  if (trouble && !page)
    return (
      <Sheet>
        <h1 className="font-semibold text-2xl">
          {again ? "The shop can't be reached just now" : "This link can't be opened"}
        </h1>
        <p className="mt-3" role="alert">
          {trouble.message}
        </p>
        {again && (
          <Button className="mt-3" onClick={ask}>
            Try again
          </Button>
        )}
      </Sheet>
    );
  if (!page)
    return (
      <Sheet>
        <p role="status">One moment …</p>
      </Sheet>
    );
  return (
    <Sheet>
      <p className="text-faint text-sm">{page.shop}</p>
      <h1 className="font-semibold text-2xl leading-tight">Hello {page.athlete}</h1>
      {page.agreed ? (
        <Agreed token={token} page={page} onPage={setPage} />
      ) : (
        <Agree token={token} page={page} onPage={setPage} />
      )}
    </Sheet>
  );
}

const Sheet = ({ children }: { children: React.ReactNode }) => (
  <main className="h-dvh overflow-auto bg-sheet" tabIndex={-1}>
    <div className="mx-auto w-full max-w-xl px-4 pt-5 pb-16">{children}</div>
  </main>
);

function Agree({ token, page, onPage }: Props) {
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  return (
    <>
      <p className="mt-3">
        {page.open
          ? "The shop would like to know your feet before you come, or send you shoes. It takes about five minutes."
          : "How to wear your new shoes in, and a place to log how long you wear them."}
      </p>
      <h2 className="mt-4 font-semibold">What is kept, and why</h2>
      <blockquote className="mt-1 border-ink border-l-4 pl-3">{page.would_say}</blockquote>
      <p className="mt-2 text-faint text-sm">The link ends by itself on {day(page.expires_at)}.</p>
      <Button
        kind="strong"
        className="mt-4 w-full justify-center"
        disabled={busy}
        onClick={() => {
          setBusy(true);
          agree(token)
            .then(onPage, (e: Error) => setError(e.message))
            .finally(() => setBusy(false));
        }}
      >
        I agree
      </Button>
      <p className="mt-2 text-sm">If you don't, close this page: nothing was kept.</p>
      {error && <p role="alert">{error}</p>}
    </>
  );
}
