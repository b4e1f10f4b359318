/** What an athlete who agreed tells: in their own words, their shoes, their feet. */
import { useEffect, useState } from "react";
import { useConnection } from "../api/connection";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { NumberField } from "../ui/NumberField";
import { AwayPairs } from "./AwayPairs";
import { Pictures } from "./AwayPictures";
import type { Answers } from "./away";
import { Came } from "./Came";
import type { Props } from "./props";
import { type Shoe, WornShoe } from "./WornShoe";
import { hear, put as tellShop, useWaiting, waitingNow } from "./waiting";

const PAUSE_MS = 600;

/** What is typed and hasn't arrived, from before a reload. */
const answersWaiting = (): Answers | undefined =>
  waitingNow().flatMap((i) => (i.kind === "answers" ? [i.answers] : []))[0];

export function Agreed({ token, page, onPage }: Props) {
  const [answers, setAnswers] = useState<Answers>(() => answersWaiting() ?? page.answers);
  const { offline } = useConnection();
  const item = useWaiting().find((i) => i.kind === "answers");
  const refused = item?.refused ?? "";
  const kept = !item ? "kept" : refused || offline ? "waiting" : "typing";
  useEffect(() => hear({ page: onPage }), [onPage]);
  const put = (more: Partial<Answers>) => {
    const now = { ...answers, ...more };
    setAnswers(now);
    tellShop({ kind: "answers", answers: now }, PAUSE_MS);
  };
  const shoe = (at: number, more: Partial<Shoe>) =>
    put({ worn: answers.worn.map((w, i) => (i === at ? { ...w, ...more } : w)) });
  return (
    <>
      {page.orders.map((o) => (
        <Came key={o.id} order={o} />
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
