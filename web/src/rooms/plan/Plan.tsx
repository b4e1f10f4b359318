/** The plan of pairs: what they do, what they have, a budget; what to buy, in which order, and what if. */
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import {
  type PlanBody,
  type PlanPage,
  sheetOf,
  useKeepPlan,
  useKeptPlan,
  useTriedPlan,
  type Whose,
} from "../../api/plan";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Heading, Loading } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { AddUse } from "./AddUse";
import { BudgetCurve } from "./BudgetCurve";
import { Choose } from "./Choose";
import { NoPlanYet } from "./NoPlanYet";
import { Strip } from "./Strip";

const PAUSE_MS = 180;

const LINK =
  "inline-flex min-h-11 items-center border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper";

const same = (a: PlanBody, b: PlanBody) => JSON.stringify(a) === JSON.stringify(b);

export default function Plan() {
  const [params] = useSearchParams();
  const athlete = params.get("athlete");
  const squad = params.get("squad");
  if (athlete) return <Planning key={athlete} whose={{ athlete }} />;
  if (squad) return <Planning key={squad} whose={{ squad }} />;
  return <Choose />;
}

function Planning({ whose }: { whose: Whose }) {
  const kept = useKeptPlan(whose);
  const [body, setBody] = useState<PlanBody | null>(null);
  const [asked, setAsked] = useState<PlanBody | null>(null);
  const [adding, setAdding] = useState(false);
  const keptBody = kept.data?.body;
  useEffect(() => {
    if (!keptBody) return;
    setBody((now) => now ?? keptBody);
    setAsked((now) => now ?? keptBody);
  }, [keptBody]);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(body), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [body]);
  const quick = useTriedPlan(whose, asked, false);
  const whole = useTriedPlan(whose, asked, true);
  const keep = useKeepPlan(whose);
  if (kept.isPending) return <Loading what="the plan" />;
  if (!kept.data) return <NoPlanYet athlete={whose.athlete} why={kept.error?.message} />;
  const page: PlanPage = quick.data ?? kept.data;
  const curve = whole.data && !whole.isPlaceholderData ? whole.data : null;
  const now = body ?? kept.data.body;
  const put = (more: Partial<PlanBody>) => setBody({ ...now, ...more });
  const changed = !same(now, kept.data.body);
  const { out } = page;
  const people = [...new Map(page.needs.map((n) => [n.id.split(":")[0] ?? "", n.whose || page.name]))].map(
    ([id, name]) => ({ id, name }),
  );
  const trouble = quick.error ?? keep.error;
  return (
    <RoomPage
      title={`Plan of pairs: ${page.name}`}
      side={
        <span className="flex items-end gap-2">
          {(changed || !kept.data.version) && (
            <Button
              kind="strong"
              disabled={keep.isPending}
              onClick={() => keep.mutate({ version: kept.data.version, body: now })}
            >
              Keep the plan
            </Button>
          )}
          {changed && <Button onClick={() => setBody(kept.data.body)}>As kept</Button>}
          <a className={LINK} href={sheetOf(whose, "a4")} target="_blank" rel="noreferrer">
            Sheet, A4
          </a>
          <a className={LINK} href={sheetOf(whose, "letter")} target="_blank" rel="noreferrer">
            Letter
          </a>
        </span>
      }
    >
      {trouble && (
        <p role="alert" className="mb-2 border-madder border-l-4 pl-2">
          {trouble.message}
        </p>
      )}
      <Strip page={page} />
      <div className="mt-3 grid grid-cols-[1fr_420px] gap-6 max-lg:grid-cols-1">
        <div className="min-w-0">
          <p className="text-lg" role="status" data-value>
            In a pair that suits <b>{Math.round(out.value_now * 100)} %</b> of the time now,{" "}
            <b>{Math.round(out.value * 100)} %</b> with this plan, for{" "}
            <span className="font-mono">
              {out.spent.toFixed(0)} {page.currency}
            </span>
            .
          </p>
          <Heading>To buy, in this order</Heading>
          {!out.buy.length && (
            <p className="text-faint">
              Nothing: what they have serves, or nothing on the shelf within the budget does better.
            </p>
          )}
          <ol>
            {out.buy.map((b, i) => (
              <li
                key={b.id}
                className="grid grid-cols-[1.6rem_1fr_auto_auto] items-center gap-2 border-line border-t py-1"
              >
                <span className="font-mono text-faint">{i + 1}</span>
                <span className="leading-snug">
                  <b>{b.name}</b>
                  <span className="block text-sm">{b.why}</span>
                </span>
                <span className="font-mono text-sm">
                  {b.price.toFixed(2)} {page.currency}
                </span>
                <Button onClick={() => put({ bought: [...(now.bought ?? []), b.id.split("/")[0] ?? b.id] })}>
                  As if bought
                </Button>
              </li>
            ))}
          </ol>
          {(now.bought ?? []).length > 0 && (
            <p className="mt-1 flex items-center gap-2 text-sm">
              {now.bought?.length} taken as bought.
              <Button kind="quiet" className="underline" onClick={() => put({ bought: [] })}>
                Not bought after all
              </Button>
            </p>
          )}
          {out.uncovered.length > 0 && (
            <p className="mt-2 border-madder border-l-4 pl-2">
              Nothing serves yet: {out.uncovered.join("; ")}.
            </p>
          )}
          {curve?.out.next_step && (
            <p className="mt-2" data-next>
              The next step: with{" "}
              <span className="font-mono">
                {curve.out.next_step.budget.toFixed(0)} {page.currency}
              </span>{" "}
              it would be {Math.round(curve.out.next_step.value * 100)} %, with{" "}
              {curve.out.next_step.buys.join(" and ")}.
            </p>
          )}
          {out.says.length > 0 && (
            <>
              <Heading>What the trade says</Heading>
              <ul className="space-y-1">
                {out.says.map((s) => (
                  <li key={s}>{s}</li>
                ))}
              </ul>
            </>
          )}
          {page.waiting.map((w) => (
            <p key={w.athlete} className="mt-2 text-faint text-sm">
              Not planned for: {w.athlete}. {w.why}
            </p>
          ))}
        </div>
        <aside aria-label="What it rests on">
          <span className="flex gap-3">
            <NumberField
              label="Budget"
              unit={page.currency}
              step={20}
              decimals={0}
              first
              value={now.budget}
              onChange={(n) => put({ budget: n ?? 0 })}
            />
            <NumberField
              label="Pairs at most"
              decimals={0}
              value={now.most_pairs}
              onChange={(n) => put({ most_pairs: n })}
            />
          </span>
          <label className="mt-1 block">
            <span className="sr-only">Budget, by hand</span>
            <input
              type="range"
              min="0"
              max={Math.max(600, Math.ceil((kept.data.body.budget ?? 300) * 2))}
              step="10"
              value={now.budget}
              onChange={(e) => put({ budget: Number(e.target.value) })}
              className="h-11 w-full accent-madder"
            />
          </label>
          {curve && <BudgetCurve page={curve} budget={now.budget ?? 0} />}
          <span className="flex items-center justify-between">
            <Heading>What they do</Heading>
            <Button onClick={() => setAdding(true)}>Something more …</Button>
          </span>
          <ul>
            {page.needs.map((n) => (
              <li key={n.id} className="flex items-center gap-2 border-line border-t py-1">
                <span className="flex-1 text-sm leading-snug">
                  {n.whose && <b>{n.whose}: </b>}
                  {n.name}
                </span>
                <NumberField
                  label={`Share of the time: ${n.name}`}
                  hideLabel
                  width="w-24"
                  unit="%"
                  step={5}
                  decimals={0}
                  value={Math.round((now.shares?.[n.id] ?? n.share) * 100)}
                  onChange={(v) => {
                    const { [n.id]: _, ...rest } = now.shares ?? {};
                    put({ shares: v === null ? rest : { ...rest, [n.id]: Math.min(v, 100) / 100 } });
                  }}
                />
              </li>
            ))}
          </ul>
          {((now.more ?? []).length > 0 || Object.keys(now.shares ?? {}).length > 0) && (
            <Button kind="quiet" className="underline" onClick={() => put({ more: [], shares: {} })}>
              As their briefs say
            </Button>
          )}
          <Heading>What they have</Heading>
          {!page.owned.length && <p className="text-faint">No pair on record.</p>}
          <ul>
            {page.owned.map((p) => {
              const without = (now.drop ?? []).includes(p.id);
              return (
                <li key={p.id} className="flex items-center gap-2 border-line border-t py-1">
                  <Link
                    to={`/pairs/${p.id}`}
                    className="flex min-h-11 flex-1 items-center text-sm leading-snug"
                  >
                    <span className={without ? "line-through" : ""}>
                      {page.needs.some((n) => n.whose) && <b>{p.athlete.split(" ")[0]}: </b>}
                      {p.name} {p.size}, about {Math.round(p.left_h)} h left
                    </span>
                  </Link>
                  <Button
                    aria-pressed={without}
                    onClick={() =>
                      put({
                        drop: without
                          ? (now.drop ?? []).filter((d) => d !== p.id)
                          : [...(now.drop ?? []), p.id],
                      })
                    }
                  >
                    {without ? "Count it" : "Without it"}
                  </Button>
                </li>
              );
            })}
          </ul>
        </aside>
      </div>
      {adding && (
        <AddUse
          people={people}
          onClose={() => setAdding(false)}
          onAdd={(more) => {
            setAdding(false);
            put({ more: [...(now.more ?? []), more] });
          }}
        />
      )}
    </RoomPage>
  );
}
