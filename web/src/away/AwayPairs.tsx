/** After the sale, on the athlete's phone: how a pair is worn in, its sheet and calendar, and logging what was worn. */
import { useCallback, useEffect, useRef, useState } from "react";
import { useConnection } from "../api/connection";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { DateField } from "../ui/DateField";
import { type Pair, pairsOf, takeWornBack } from "./away";
import { drop, hear, put, useWaiting } from "./waiting";

const MINUTES = [30, 60, 90, 120];
const LINK =
  "inline-flex min-h-11 items-center border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper";
const todayHere = (): string => {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
};

/** A tap after this long is another wear; sooner it is a finger that hit twice. */
const SAME_TAP_MS = 20_000;

export function AwayPairs({ token }: { token: string }) {
  const [pairs, setPairs] = useState<Pair[]>([]);
  const [trouble, setTrouble] = useState("");
  const ask = useCallback(() => {
    pairsOf(token).then(
      (now) => {
        setPairs(now);
        setTrouble("");
      },
      (e: Error) => setTrouble(e.message),
    );
  }, [token]);
  useEffect(() => hear({ pairs: setPairs }), []);
  useEffect(() => {
    ask();
    window.addEventListener("online", ask);
    return () => window.removeEventListener("online", ask);
  }, [ask]);
  if (trouble && !pairs.length)
    return (
      <div role="alert" className="mt-5 border-madder border-l-4 pl-3">
        Your pairs can't be shown now. {trouble}
        <Button className="mt-2 block" onClick={ask}>
          Try again
        </Button>
      </div>
    );
  return pairs.map((p) => <OnePair key={p.id} token={token} pair={p} onPairs={setPairs} />);
}

interface Props {
  token: string;
  pair: Pair;
  onPairs: (pairs: Pair[]) => void;
}

function OnePair({ token, pair, onPairs }: Props) {
  const [on, setOn] = useState(todayHere);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState("");
  const [told, setTold] = useState("");
  const { offline } = useConnection();
  const waiting = useWaiting()
    .filter((i) => i.kind === "worn")
    .filter((i) => i.pair === pair.id);
  /** What was tapped last, and of each day and length when: by a finger that hits twice it is the same wear. */
  const [last, setLast] = useState<{ id: string; minutes: number } | null>(null);
  const tapped = useRef(new Map<string, number>());
  const takeOut = (id: string) => {
    setBusy(true);
    setError("");
    setLast(null);
    takeWornBack(token, id)
      .then(
        (now) => {
          onPairs(now);
          setTold("Taken out.");
        },
        (e: Error) => setError(e.message),
      )
      .finally(() => setBusy(false));
  };
  const log = (minutes: number) => {
    const key = `${on} ${minutes}`;
    if (Date.now() - (tapped.current.get(key) ?? 0) < SAME_TAP_MS) {
      setLast(null);
      setTold(`${minutes} minutes are logged already.`);
      return;
    }
    tapped.current.set(key, Date.now());
    const id = crypto.randomUUID();
    setLast({ id, minutes });
    put({ kind: "worn", pair: pair.id, worn: { id, on, minutes, surface: null } }, 0, id);
  };
  const lastItem = waiting.find((i) => i.id === last?.id);
  const says = !last
    ? told
    : lastItem?.refused
      ? ""
      : !lastItem
        ? `Logged ${last.minutes} minutes.`
        : offline
          ? `No connection. ${last.minutes} minutes are kept on this phone and logged when it is back.`
          : "on its way …";
  // The plan's own minutes can be tapped, too.
  const minutes = [...new Set([...(pair.plan?.wears ?? []).map((w) => w.minutes), ...MINUTES])].sort(
    (a, b) => a - b,
  );
  const ahead = pair.plan?.wears.filter((w) => w.on >= todayHere()) ?? [];
  return (
    <section aria-label={`${pair.name} ${pair.size}`} className="mt-5 border-line border-t pt-3">
      <h2 className="font-semibold text-lg leading-tight">
        {pair.name} <span className="font-mono text-base">{pair.size}</span>
      </h2>
      {pair.plan && (
        <>
          <p className={pair.plan.in_time ? "" : "border-madder border-l-4 pl-2 font-semibold"}>
            {pair.plan.verdict}
          </p>
          {pair.plan.old_pair && <p className="mt-1">{pair.plan.old_pair}</p>}
          {ahead.length > 0 && (
            <ol className="mt-2">
              {ahead.map((w) => (
                <li
                  key={w.on}
                  className="grid grid-cols-[7rem_4rem_1fr] gap-2 border-line border-t py-1 text-sm"
                >
                  <span className="font-mono">{day(w.on)}</span>
                  <b className="font-mono">{w.minutes} min</b>
                  <span>{w.how}</span>
                </li>
              ))}
            </ol>
          )}
          <ul className="mt-1 text-sm">
            {pair.plan.rules.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
          <p className="mt-2 flex flex-wrap gap-2">
            <a className={LINK} href={`/api/away/${token}/fit-sheet.pdf`} target="_blank" rel="noreferrer">
              My fit sheet
            </a>
            <a className={LINK} href={`/api/away/${token}/break-in.ics`}>
              Into my calendar
            </a>
          </p>
        </>
      )}
      {pair.follow_up && (
        <p className="mt-2">The shop would like to see it again on {day(pair.follow_up)}.</p>
      )}
      <h3 className="mt-3 font-semibold">I wore it</h3>
      <DateField className="w-44" label="On" value={on} onCommit={(v) => setOn(v ?? todayHere())} />
      <span className="mt-1.5 flex flex-wrap gap-2">
        {minutes.map((m) => (
          <Button key={m} onClick={() => log(m)}>
            {m} min
          </Button>
        ))}
      </span>
      <p role="status" className="mt-1 min-h-6 text-sm">
        {says}
      </p>
      {waiting.map((i) => (
        <p
          key={i.id}
          className={`flex min-h-11 items-center gap-2 text-sm ${i.refused ? "text-madder" : ""}`}
        >
          <span className="flex-1" role={i.refused ? "alert" : undefined}>
            {`${day(i.worn.on)}, ${i.worn.minutes} min: ${i.refused ?? "not with the shop yet"}`}
          </span>
          <Button kind="quiet" onClick={() => drop(i.id)}>
            Let it go
          </Button>
        </p>
      ))}
      {error && (
        <p role="alert" className="text-madder">
          {error}
        </p>
      )}
      <p className="text-sm">
        Worn about {Math.round(pair.worn_h)} h
        {pair.left_h !== null && pair.left_h !== undefined && `, about ${Math.round(pair.left_h)} h left`}.
      </p>
      <ul>
        {pair.worn
          .filter((w) => w.mine)
          .map((w) => (
            <li key={w.id} className="flex min-h-11 items-center gap-2 border-line border-t text-sm">
              <span className="flex-1">
                {day(w.on)}, {w.minutes} min
              </span>
              <Button kind="quiet" disabled={busy} onClick={() => takeOut(w.id)}>
                Take out
              </Button>
            </li>
          ))}
      </ul>
    </section>
  );
}
