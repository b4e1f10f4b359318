/** Every answer and school, changeable in place without keeping it. */
import type { Schemas } from "../../api/client";
import { getPath, useDesk } from "../../api/fitting";
import { NumberField } from "../../ui/parts";

type Values = Record<string, unknown>;
interface WhatIfProps {
  sport: Schemas["SportOut"];
  tried: Values;
  onTry: (values: Values) => void;
}

export function WhatIf({ sport, tried, onTry }: WhatIfProps) {
  const { fitting, bodies } = useDesk();
  const value = (field: string) => (field in tried ? tried[field] : getPath(bodies.brief, field));
  const select = "min-h-11 border border-ink/45 bg-sheet px-2 text-ink text-sm";
  const discipline = String(value("discipline") ?? "");
  const asks = sport.asks.filter((a) => !a.disciplines.length || a.disciplines.includes(discipline));
  return (
    <fieldset className="mb-3 grid grid-cols-6 items-end gap-2 border-line border-b pb-3 max-lg:grid-cols-3">
      <legend className="sr-only">Try another answer</legend>
      <label className="min-w-0 truncate text-faint text-xs">
        They do
        <select
          className={`block w-full ${select}`}
          value={String(value("discipline") ?? "")}
          onChange={(e) => onTry({ discipline: e.target.value })}
        >
          {sport.disciplines.map((d) => (
            <option key={d.value} value={d.value}>
              {d.text}
            </option>
          ))}
        </select>
      </label>
      {asks.map((a) => {
        if (a.kind === "choice") {
          return (
            <label key={a.field} className="min-w-0 truncate text-faint text-xs">
              {a.text}
              <select
                className={`block w-full ${select}`}
                value={String(value(a.field) ?? "")}
                onChange={(e) => onTry({ [a.field]: e.target.value || null })}
              >
                {!value(a.field) && <option value="">not said</option>}
                {a.options.map((o) => (
                  <option key={o.value} value={o.value}>
                    {o.text}
                  </option>
                ))}
              </select>
            </label>
          );
        }
        if (a.kind === "number") {
          return (
            <NumberField
              key={a.field}
              label={a.text}
              unit={a.unit}
              width="w-full min-w-0 [&>label]:truncate"
              value={value(a.field) as number | null}
              onChange={(v) => onTry({ [a.field]: v })}
            />
          );
        }
        if (a.kind === "yes") {
          return (
            <label key={a.field} className="flex min-h-11 items-center gap-1.5 text-sm">
              <input
                type="checkbox"
                className="size-5"
                checked={!!value(a.field)}
                onChange={(e) => onTry({ [a.field]: e.target.checked })}
              />
              {a.text}
            </label>
          );
        }
        if (a.field === "history") {
          const has = (value("history") as string[] | undefined) ?? [];
          return (
            <label key={a.field} className="min-w-0 truncate text-faint text-xs">
              Has or had
              <select
                className={`block w-full ${select}`}
                value=""
                onChange={(e) => {
                  const picked = e.target.value;
                  onTry({
                    history: has.includes(picked) ? has.filter((h) => h !== picked) : [...has, picked],
                  });
                }}
              >
                <option value="">{has.length ? has.join(", ").replaceAll("_", " ") : "nothing"}</option>
                {a.options.map((o) => (
                  <option key={o.value} value={o.value}>
                    {has.includes(o.value) ? "without " : "with "}
                    {o.text}
                  </option>
                ))}
              </select>
            </label>
          );
        }
        return null;
      })}
      {sport.schools.map((s) => (
        <label key={s.slug} className="min-w-0 truncate text-faint text-xs">
          {s.text}
          <select
            className={`block w-full ${select}`}
            value={String(value(`schools/${s.slug}`) ?? fitting.schools[s.slug] ?? "")}
            onChange={(e) => onTry({ [`schools/${s.slug}`]: e.target.value })}
          >
            {s.options.map((o) => (
              <option key={o.value} value={o.value}>
                {o.text}
              </option>
            ))}
          </select>
        </label>
      ))}
    </fieldset>
  );
}
