/** Every answer and school, changeable in place without keeping it. */
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { getPath } from "../../api/paths";
import { ManyOf, OneOf } from "../../ui/choice";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";

type Values = Record<string, unknown>;
interface WhatIfProps {
  sport: Schemas["SportOut"];
  tried: Values;
  onTry: (values: Values) => void;
}

const YES_NO = [
  { value: "yes", text: "yes" },
  { value: "no", text: "no" },
];

export function WhatIf({ sport, tried, onTry }: WhatIfProps) {
  const { fitting, bodies } = useDesk();
  const value = (field: string) => (field in tried ? tried[field] : getPath(bodies.brief, field));
  const discipline = String(value("discipline") ?? "");
  const asks = sport.asks.filter((a) => !a.disciplines.length || a.disciplines.includes(discipline));
  const history = asks.find((a) => a.kind === "many");
  return (
    <fieldset className="mb-3 space-y-2 border-line border-b pb-3">
      <legend className="sr-only">Try another answer</legend>
      <div className="grid grid-cols-4 items-end gap-x-3 gap-y-2 max-lg:grid-cols-3">
        <Select
          label="They do"
          value={discipline}
          options={sport.disciplines}
          onChange={(v) => onTry({ discipline: v })}
        />
        {asks.map((a) => {
          switch (a.kind) {
            case "choice":
              return (
                <Select
                  key={a.field}
                  label={a.text}
                  value={value(a.field) as string | null}
                  options={a.options}
                  onChange={(v) => onTry({ [a.field]: v })}
                />
              );
            case "number":
              return (
                <NumberField
                  key={a.field}
                  label={a.text}
                  unit={a.unit}
                  width="w-full min-w-0"
                  value={value(a.field) as number | null}
                  onChange={(v) => onTry({ [a.field]: v })}
                />
              );
            case "yes":
              return (
                <div key={a.field}>
                  <span className="block text-faint text-xs leading-tight">{a.text}</span>
                  <OneOf
                    label={a.text}
                    columns="grid grid-cols-2 gap-1"
                    value={value(a.field) ? "yes" : "no"}
                    options={YES_NO}
                    onChange={(v) => onTry({ [a.field]: v === "yes" })}
                  />
                </div>
              );
            default:
              return null;
          }
        })}
        {sport.schools.map((s) => (
          <Select
            key={s.slug}
            label={s.text}
            value={String(value(`schools/${s.slug}`) ?? fitting.schools[s.slug] ?? "")}
            options={s.options}
            onChange={(v) => onTry({ [`schools/${s.slug}`]: v })}
          />
        ))}
      </div>
      {history && (
        <div>
          <span className="block text-faint text-xs">{history.text}</span>
          <ManyOf
            label={history.text}
            columns="flex flex-wrap gap-1"
            value={(value(history.field) as string[] | undefined) ?? []}
            options={history.options}
            onChange={(v) => onTry({ [history.field]: v })}
          />
        </div>
      )}
    </fieldset>
  );
}
