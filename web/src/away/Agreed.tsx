/** What an athlete who agreed tells: in their own words, their shoes, their feet. */
import { useEffect, useRef, useState } from "react";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { NumberField } from "../ui/NumberField";
import { AwayPairs } from "./AwayPairs";
import { Pictures } from "./AwayPictures";
import { type Answers, passing, send, waiting } from "./away";
import { Came } from "./Came";
import type { Props } from "./props";
import { type Shoe, WornShoe } from "./WornShoe";

const PAUSE_MS = 600;

const AGAIN_MS = 4_000;

type Kept = "kept" | "typing" | "waiting";

export function Agreed({ token, page, onPage }: Props) {
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
