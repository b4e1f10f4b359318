/** One pair somebody owns: how it wears, what was logged and seen, what to do about it, the same again. */
import { lazy, Suspense, useState } from "react";
import { Link, useParams } from "react-router";
import { pairName, useEnd, usePair, useTakeBack } from "../../api/pairs";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { price } from "../../ui/money";
import { Heading, Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { Again } from "./Again";
import { Inspect } from "./Inspect";
import { LifeDrawing } from "./LifeDrawing";
import { LogWorn } from "./LogWorn";
import { PairDialog } from "./PairDialog";

const PairPictures = lazy(() => import("./PairPictures").then((m) => ({ default: m.PairPictures })));

const ENDS = [
  ["worn_out", "Worn out"],
  ["given_away", "Given away"],
  ["lost", "Lost"],
] as const;
const ENDED: Record<string, string> = { worn_out: "worn out", given_away: "given away", lost: "lost" };

export default function PairPage() {
  const { id = "" } = useParams();
  const found = usePair(id);
  const [looking, setLooking] = useState(false);
  const [changing, setChanging] = useState(false);
  const end = useEnd(id);
  const back = useTakeBack(id);
  if (found.isPending) return <Loading what="the pair" />;
  if (!found.data)
    return (
      <Note title="This pair can't be shown" again>
        {found.error?.message}
      </Note>
    );
  const page = found.data;
  const { pair } = page;
  const trouble = end.error ?? back.error;
  return (
    <RoomPage
      title={`${pairName(pair)} ${pair.size}`}
      side={
        <span className="flex gap-2">
          <Button onClick={() => setChanging(true)}>Change …</Button>
          {!pair.ended_on && (
            <Button kind="strong" data-first onClick={() => setLooking(true)}>
              Look at it
            </Button>
          )}
        </span>
      }
    >
      <p className="text-faint">
        <Link className="inline-flex min-h-11 items-center underline" to={`/athletes/${pair.athlete_id}`}>
          {pair.athlete}
        </Link>
        {` · ${pair.sold_here ? "bought here" : "bought"} ${day(pair.bought_on)}`}
        {pair.price_minor !== null && ` · ${price(pair.price_minor, pair.currency)}`}
        {pair.role === "training" && " · for training"}
        {pair.fitting_id && (
          <>
            {" · "}
            <Link
              className="inline-flex min-h-11 items-center underline"
              to={`/fittings/${pair.fitting_id}/settle`}
            >
              its fitting
            </Link>
          </>
        )}
      </p>
      {pair.note && <p>{pair.note}</p>}
      {trouble && (
        <p role="alert" className="border-madder border-l-4 pl-2">
          {trouble.message}
        </p>
      )}
      <div className="mt-2 grid grid-cols-[1fr_20rem] gap-6 max-lg:grid-cols-1">
        <div className="min-w-0">
          <LifeDrawing page={page} />
          {!pair.ended_on && <LogWorn pair={pair} today={page.today} />}
          <div className="mt-4">{pair.ended_on ? null : <Again pair={pair} />}</div>
        </div>
        <aside aria-label="What is known of it">
          <Heading>What to do</Heading>
          {pair.ended_on && (
            <p>
              Put away on {day(pair.ended_on)}
              {pair.ended_why && `: ${ENDED[pair.ended_why]}`}.{" "}
              <Button disabled={end.isPending} onClick={() => end.mutate(null)}>
                Take it up again
              </Button>
            </p>
          )}
          <ul className="space-y-1">{!pair.ended_on && pair.says.map((s) => <li key={s}>{s}</li>)}</ul>
          {!pair.ended_on && (
            <p className="mt-2" data-left>
              About <b className="font-mono">{Math.round(pair.wear.left_h.mid)} h</b> left,{" "}
              <span className="font-mono">
                {Math.round(pair.wear.left_h.low)} to {Math.round(pair.wear.left_h.high)}
              </span>
              {pair.wear.retire_on && (
                <>
                  ; at {pair.hours_per_week} h a week until about {day(pair.wear.retire_on)}
                </>
              )}
              .{pair.look_on && <> Look again on {day(pair.look_on)}.</>}
            </p>
          )}
          <p className="mt-1 text-faint text-sm">
            {pair.logged_h.toFixed(1)} h{" "}
            {pair.told_on ? `told (at the follow-up, ${day(pair.told_on)}) and logged since` : "logged"}
            {pair.reckoned_h > 0 &&
              `, ${pair.reckoned_h.toFixed(0)} h reckoned at ${pair.hours_per_week} h a week`}
            .
          </p>
          <Suspense fallback={null}>
            <PairPictures pair={id} />
          </Suspense>
          <Heading>Looked at</Heading>
          {!page.seen.length && <p className="text-faint">Not yet.</p>}
          <ul>
            {page.seen.map((s) => (
              <li key={s.id} className="border-line border-t py-1 text-sm">
                <span className="flex items-center gap-2">
                  <span className="flex-1">
                    {day(s.on_day)}, at {Math.round(s.hours)} h:{" "}
                    {s.worn_share === null
                      ? "nothing that wears it out"
                      : `${Math.round(s.worn_share * 100)} % worn`}
                    {s.by && <span className="text-faint"> · {s.by}</span>}
                  </span>
                  <Button
                    kind="quiet"
                    disabled={back.isPending}
                    onClick={() => back.mutate({ what: "seen", entry_id: s.id })}
                  >
                    Take out
                  </Button>
                </span>
                <span className="text-faint">
                  {page.looked
                    .flatMap((l) => {
                      const f = l.findings.find((x) => x.value === s.seen[l.part]);
                      return f ? [`${l.name}: ${f.text}`] : [];
                    })
                    .join(" · ")}
                </span>
              </li>
            ))}
          </ul>
          <Heading>Logged</Heading>
          {!page.worn.length && <p className="text-faint">Nobody logs it: sessions a week count.</p>}
          <ul
            className="max-h-60 overflow-auto"
            tabIndex={page.worn.length ? 0 : undefined}
            aria-label="Logged wears"
          >
            {page.worn.map((w) => (
              <li key={w.id} className="flex min-h-11 items-center gap-2 border-line border-t text-sm">
                <span className="flex-1">
                  {day(w.on_day)}, {w.minutes} min
                  <span className="text-faint"> · {w.by_link ? "by their link" : w.by}</span>
                </span>
                <Button
                  kind="quiet"
                  disabled={back.isPending}
                  onClick={() => back.mutate({ what: "worn", entry_id: w.id })}
                >
                  Take out
                </Button>
              </li>
            ))}
          </ul>
          {!pair.ended_on && (
            <>
              <Heading>Put it away</Heading>
              <span className="flex flex-wrap gap-1.5">
                {ENDS.map(([why, word]) => (
                  <Button key={why} disabled={end.isPending} onClick={() => end.mutate(why)}>
                    {word}
                  </Button>
                ))}
              </span>
            </>
          )}
        </aside>
      </div>
      {looking && <Inspect page={page} onClose={() => setLooking(false)} />}
      {changing && (
        <PairDialog
          athlete={pair.athlete_id}
          today={page.today}
          pair={pair}
          onClose={() => setChanging(false)}
        />
      )}
    </RoomPage>
  );
}
