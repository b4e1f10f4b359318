/** Other things the same pair is for, each with its share of the time and the ground it is done on. */
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";

type Other = Schemas["Also"];
const DIFFERS = ["surface", "floor", "pedal", "role", "wicket"] as const;
const MOST = 3;
const SAME = "same";

export function Also({ sport }: { sport: Schemas["SportOut"] }) {
  const { bodies, set, locked } = useDesk();
  const others = bodies.brief.also ?? [];
  const put = (list: Other[]) => set("brief", { also: list });
  const rest = 100 - others.reduce((sum, o) => sum + o.share_pct, 0);
  const named = (slug: string) => sport.disciplines.find((d) => d.value === slug)?.text ?? slug;
  const asks = sport.asks.filter((a) => DIFFERS.some((f) => f === a.field) && a.kind === "choice");
  const asksOf = (discipline: string) =>
    asks.filter((a) => !a.disciplines.length || a.disciplines.includes(discipline));
  /** An answer not given here is the first discipline's, where it is asked there. */
  const same = (a: (typeof asks)[number]) =>
    asksOf(bodies.brief.discipline ?? "").includes(a) ? "the same" : "not said yet";
  const free = Math.floor(rest / 2 / 5) * 5;
  return (
    <div>
      <p className="mb-2">
        <b>{named(bodies.brief.discipline ?? "")}</b> takes <b className="font-mono">{rest} %</b> of the time.
      </p>
      <ul className="mb-3 space-y-2">
        {others.map((o, i) => (
          <li key={i} className="flex flex-wrap items-end gap-2 border-line border-l-4 pl-3">
            <span className="min-w-40 self-center font-semibold">{named(o.discipline)}</span>
            <NumberField
              label="Share of the time"
              unit="%"
              step={5}
              width="w-32"
              value={o.share_pct}
              disabled={locked}
              onChange={(v) =>
                v !== null && put(others.map((x, j) => (j === i ? { ...x, share_pct: v } : x)))
              }
            />
            {asksOf(o.discipline).map((a) => (
              <Select
                key={a.field}
                className="w-44"
                label={a.text}
                empty={same(a)}
                value={String(o[a.field as (typeof DIFFERS)[number]] ?? SAME)}
                options={[{ value: SAME, text: same(a) }, ...a.options]}
                disabled={locked}
                onChange={(v) =>
                  put(others.map((x, j) => (j === i ? { ...x, [a.field]: v === SAME ? null : v } : x)))
                }
              />
            ))}
            <Button
              kind="quiet"
              disabled={locked}
              aria-label={`Take out ${named(o.discipline)}`}
              onClick={() => put(others.filter((_, j) => j !== i))}
            >
              Take out
            </Button>
          </li>
        ))}
      </ul>
      {others.length < MOST && free >= 5 && (
        <fieldset className="flex flex-wrap gap-1.5">
          <legend className="mb-1 text-faint text-sm">Also for</legend>
          {sport.disciplines
            .filter((d) => asks.length || d.value !== bodies.brief.discipline)
            .map((d) => (
              <Button
                key={d.value}
                disabled={locked}
                onClick={() => put([...others, { discipline: d.value, share_pct: free }])}
              >
                + {d.text}
              </Button>
            ))}
        </fieldset>
      )}
    </div>
  );
}
