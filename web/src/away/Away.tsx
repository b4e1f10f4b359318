/** What an athlete opens by their link, on a phone: agree, answer in their own words, photograph the feet, check a pair. */
import { useCallback, useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { OneOf } from "../ui/choice";
import { day } from "../ui/clock";
import { NumberField } from "../ui/NumberField";
import { Select } from "../ui/Select";
import { TextField } from "../ui/TextField";
import { AwayPairs } from "./AwayPairs";
import {
  type Answers,
  agree,
  open,
  type Page,
  passing,
  send,
  sendPicture,
  tellArrival,
  waiting,
} from "./away";
import { PaperHow } from "./PaperHow";

type Shoe = Answers["worn"][number];

const PAUSE_MS = 600;
const AGAIN_MS = 4_000;
const SYSTEMS = [
  ["eu", "EU"],
  ["uk", "UK"],
  ["us_men", "US men's"],
  ["us_women", "US women's"],
  ["mondopoint_mm", "mm"],
] as const;
const SPORTS = ["street", "football", "climbing", "lifting", "cycling", "court", "field", "ice"] as const;
const SPORT_WORDS: Record<string, string> = {
  street: "every day",
  court: "a hall or court",
  field: "cricket",
  ice: "ice",
};

export function Away({ token }: { token: string }) {
  const [page, setPage] = useState<Page | null>(null);
  const [trouble, setTrouble] = useState<Error | null>(null);
  const ask = useCallback(() => {
    setTrouble(null);
    open(token).then(setPage, setTrouble);
  }, [token]);
  useEffect(() => {
    document.title = "Your feet and your shoes";
    ask();
  }, [ask]);
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

interface Props {
  token: string;
  page: Page;
  onPage: (page: Page) => void;
}

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

type Kept = "kept" | "typing" | "waiting";

function Agreed({ token, page, onPage }: Props) {
  const [answers, setAnswers] = useState<Answers>(() => waiting(token) ?? page.answers);
  const [kept, setKept] = useState<Kept>(() => (waiting(token) ? "typing" : "kept"));
  const [refused, setRefused] = useState("");
  const newest = useRef(answers);
  newest.current = answers;
  useEffect(() => {
    if (kept === "kept") return;
    const change = crypto.randomUUID();
    const timer = setTimeout(
      () => {
        const sent = answers;
        send(token, sent, change).then(
          (now) => {
            onPage(now);
            setRefused("");
            if (newest.current === sent) setKept("kept");
          },
          (error: Error) => {
            setRefused(passing(error) ? "" : error.message);
            // A new try comes of a new state: "waiting" once more, after its pause.
            setKept((k) => (k === "waiting" ? "typing" : "waiting"));
          },
        );
      },
      kept === "typing" ? PAUSE_MS : AGAIN_MS,
    );
    return () => clearTimeout(timer);
  }, [answers, kept, token, onPage]);
  const put = (more: Partial<Answers>) => {
    setAnswers((a) => ({ ...a, ...more }));
    setKept("typing");
  };
  const shoe = (at: number, more: Partial<Shoe>) =>
    put({ worn: answers.worn.map((w, i) => (i === at ? { ...w, ...more } : w)) });
  return (
    <>
      {page.orders.map((o) => (
        <Came key={o.id} token={token} order={o} onPage={onPage} />
      ))}
      {!page.open && !page.orders.length && <p className="mt-3">Your shoes are chosen.</p>}
      {!page.open && <AwayPairs token={token} />}
      {page.open && (
        <>
          <p className="mt-1 text-faint text-sm" role="status" data-kept={kept}>
            {kept === "kept"
              ? "What you answered is with the shop."
              : kept === "typing"
                ? "keeping …"
                : refused
                  ? "not kept yet"
                  : "No connection. It is kept on this phone and sent when it is back."}
          </p>
          {refused && (
            <p role="alert" className="text-madder">
              {refused}
            </p>
          )}
          <h2 className="mt-4 font-semibold text-lg">What do you need shoes for?</h2>
          <label className="block text-faint text-sm">
            In your own words: what, where, how often, what hurts
            <textarea
              className="mt-1 block min-h-28 w-full rounded-sm border border-ink/45 bg-sheet p-2.5 text-base text-ink"
              maxLength={2000}
              value={answers.words}
              onChange={(e) => put({ words: e.target.value })}
            />
          </label>
          <h2 className="mt-5 font-semibold text-lg">How tall are you?</h2>
          <NumberField
            label="Height"
            unit="cm"
            value={answers.stature_cm}
            onChange={(stature_cm) => put({ stature_cm })}
            decimals={0}
            width="w-36"
          />
          <h2 className="mt-5 font-semibold text-lg">Shoes you have, and how long they feel</h2>
          <p className="text-faint text-sm">Look inside the tongue. Two or three shoes are worth a lot.</p>
          <ol>
            {answers.worn.map((w, i) => (
              <li key={i} className="mt-3 border-ink border-l-4 pl-3">
                <WornShoe
                  shoe={w}
                  number={i + 1}
                  onChange={(more) => shoe(i, more)}
                  onRemove={() => put({ worn: answers.worn.filter((_, j) => j !== i) })}
                />
              </li>
            ))}
          </ol>
          {answers.worn.length < 8 && (
            <Button
              className="mt-3"
              onClick={() =>
                put({
                  worn: [
                    ...answers.worn,
                    { maker: "", model: "", system: "eu", label: null, says: null, sport: "street" },
                  ],
                })
              }
            >
              {answers.worn.length ? "Another shoe" : "Add a shoe"}
            </Button>
          )}
          <Pictures token={token} page={page} onPage={onPage} />
          <p className="mt-6 text-faint text-sm">
            You can come back to this page until {day(page.expires_at)}. To have it all sent to you, or
            erased, tell the shop.
          </p>
          <AwayPairs token={token} />
        </>
      )}
    </>
  );
}

interface WornProps {
  shoe: Shoe;
  number: number;
  onChange: (more: Partial<Shoe>) => void;
  onRemove: () => void;
}

function WornShoe({ shoe, number, onChange, onRemove }: WornProps) {
  return (
    <fieldset aria-label={`Shoe ${number}`}>
      <div className="grid grid-cols-2 gap-2">
        <TextField label="Maker" value={shoe.maker} onChange={(maker) => onChange({ maker })} />
        <TextField label="Name, if it has one" value={shoe.model} onChange={(model) => onChange({ model })} />
        <Select
          label="Size in"
          value={shoe.system}
          options={SYSTEMS.map(([value, text]) => ({ value, text }))}
          onChange={(system) => onChange({ system: system as Shoe["system"] })}
        />
        <NumberField
          label="Size"
          value={shoe.label}
          onChange={(label) => onChange({ label })}
          width="w-full"
        />
        <Select
          className="col-span-2"
          label="For"
          value={shoe.sport}
          options={SPORTS.map((value) => ({ value, text: SPORT_WORDS[value] ?? value }))}
          onChange={(sport) => onChange({ sport: sport as Shoe["sport"] })}
        />
      </div>
      <span className="mt-2 block text-faint text-xs">Its length is</span>
      <OneOf
        label={`Shoe ${number}: its length is`}
        value={shoe.says}
        options={[
          { value: "tight", text: "too short" },
          { value: "right", text: "right" },
          { value: "loose", text: "too long" },
        ]}
        onChange={(says) => onChange({ says: says as NonNullable<Shoe["says"]> })}
        onClear={() => onChange({ says: null })}
      />
      <Button kind="quiet" onClick={onRemove}>
        Take this shoe out
      </Button>
    </fieldset>
  );
}

function Pictures({ token, page, onPage }: Props) {
  const [paper, setPaper] = useState<"a4" | "letter">("a4");
  const [busy, setBusy] = useState<"left" | "right" | null>(null);
  const [error, setError] = useState("");
  /** The same picture chosen again, after an answer that was lost, is the same picture there. */
  const ids = useRef(new Map<string, string>());
  const take = (side: "left" | "right", file: File | undefined) => {
    if (!file || busy) return;
    const key = `${side} ${paper} ${file.name} ${file.size} ${file.lastModified}`;
    const id = ids.current.get(key) ?? crypto.randomUUID();
    ids.current.set(key, id);
    setBusy(side);
    setError("");
    sendPicture(token, { id, side, paper, file })
      .then(onPage, (e: Error) => setError(e.message))
      .finally(() => setBusy(null));
  };
  return (
    <section aria-label="Pictures of your feet">
      <h2 className="mt-5 font-semibold text-lg">Photograph each foot on a sheet of paper</h2>
      <PaperHow />
      <OneOf
        label="The sheet is"
        value={paper}
        options={[
          { value: "a4", text: "A4" },
          { value: "letter", text: "Letter" },
        ]}
        onChange={(v) => setPaper(v as "a4" | "letter")}
      />
      <div className="mt-2 grid grid-cols-2 gap-2">
        {(["left", "right"] as const).map((side) => {
          const done = page.pictures.filter((p) => p.side === side).at(-1);
          return (
            <label
              key={side}
              className="flex min-h-20 cursor-pointer flex-col justify-center border border-ink/50 bg-paper px-3 py-2 focus-within:outline-2 focus-within:outline-madder"
            >
              <b>{side === "left" ? "Left foot" : "Right foot"}</b>
              <span className="text-sm" data-picture={side}>
                {busy === side
                  ? "being measured …"
                  : done?.length_mm
                    ? `${(done.length_mm / 10).toFixed(1)} cm long; again?`
                    : done
                      ? "there; again?"
                      : "take the picture"}
              </span>
              <input
                type="file"
                accept="image/jpeg,image/png,image/heic,image/heif,.heic"
                capture="environment"
                className="sr-only"
                disabled={!!busy}
                onChange={(e) => {
                  take(side, e.target.files?.[0]);
                  e.target.value = "";
                }}
              />
            </label>
          );
        })}
      </div>
      {error && (
        <p role="alert" className="mt-2 text-madder">
          {error}
        </p>
      )}
    </section>
  );
}

interface CameProps {
  token: string;
  order: Schemas["AwayOrder"];
  onPage: (page: Page) => void;
}

/** A pair that came: what to check, and how it feels. */
function Came({ token, order, onPage }: CameProps) {
  const [found, setFound] = useState(order.arrival);
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const told = JSON.stringify(found) === JSON.stringify(order.arrival);
  const answered = order.arrival.toes !== null || order.arrival.heel_slip;
  return (
    <section aria-label="Your pair has come" className="mt-4 border-madder border-l-4 bg-paper p-3">
      <h2 className="font-semibold text-lg leading-tight">
        {order.name} {order.size} has come
      </h2>
      <ol className="mt-1 ml-5 list-decimal text-sm">
        {order.check.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ol>
      <span className="mt-3 block text-faint text-sm">Standing, laced, in your own socks: the toes</span>
      <OneOf
        label="The toes"
        value={found.toes}
        options={[
          { value: "jam", text: "touch the end" },
          { value: "fine", text: "are fine" },
          { value: "slack", text: "have too much room" },
        ]}
        onChange={(toes) => setFound({ ...found, toes: toes as "jam" | "fine" | "slack" })}
      />
      <Button
        aria-pressed={found.heel_slip}
        className="mt-2 aria-pressed:bg-ink aria-pressed:text-sheet"
        onClick={() => setFound({ ...found, heel_slip: !found.heel_slip })}
      >
        The heel slips when I walk
      </Button>
      <TextField
        className="mt-2"
        label="Anything that presses or hurts"
        value={found.note}
        onChange={(note) => setFound({ ...found, note })}
      />
      <Button
        kind="strong"
        className="mt-3"
        disabled={told || busy}
        onClick={() => {
          setBusy(true);
          tellArrival(token, order.id, found)
            .then(onPage, (e: Error) => setError(e.message))
            .finally(() => setBusy(false));
        }}
      >
        Tell the shop
      </Button>
      {told && answered && (
        <p className="mt-2 font-semibold" role="status">
          The shop knows. {order.says.text}
        </p>
      )}
      {error && <p role="alert">{error}</p>}
    </section>
  );
}
