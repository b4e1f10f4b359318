/** Sizes, units, money, days and tax of the shop. */
import { useId } from "react";
import type { Schemas } from "../../api/client";
import { SYSTEM_NAMES, SYSTEM_OPTIONS } from "../../api/sizes";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { NumberField } from "../../ui/NumberField";
import { TextField } from "../../ui/TextField";
import { Heading } from "../../ui/words";

type HouseData = Schemas["House"];

interface WordsProps {
  label: string;
  value: string;
  disabled: boolean;
  list?: string[];
  onChange: (value: string) => void;
}

/** A few letters, with a list to choose from where there is one. */
function Words({ label, value, disabled, list, onChange }: WordsProps) {
  const id = useId();
  return (
    <label className="text-faint text-xs">
      {label}
      <input
        value={value}
        disabled={disabled}
        list={list ? id : undefined}
        onChange={(e) => onChange(e.target.value)}
        className="block min-h-11 w-56 rounded-sm border border-ink/45 bg-sheet px-2.5 text-base text-ink"
      />
      {list && (
        <datalist id={id}>
          {list.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      )}
    </label>
  );
}

interface SizesProps {
  now: HouseData;
  disabled: boolean;
  onChange: (values: Partial<HouseData>) => void;
}

export function Sizes({ now, disabled, onChange }: SizesProps) {
  const tax = now.tax ?? { system: "uk" as const, bands: [], price_includes: true };
  const bands = tax.bands ?? [];
  const put = (values: Partial<typeof tax>) => onChange({ tax: { ...tax, ...values } });
  const system = SYSTEM_NAMES[tax.system ?? "uk"];
  return (
    <div className="max-w-3xl">
      <Heading>Sizes are shown in EU and</Heading>
      <OneOf
        label="Size system shown"
        value={now.size_system}
        options={SYSTEM_OPTIONS}
        disabled={disabled}
        onChange={(v) => onChange({ size_system: v as NonNullable<HouseData["size_system"]> })}
      />
      <Heading>Feet are typed in</Heading>
      <OneOf
        label="Unit feet are typed in"
        value={now.length_unit}
        options={[
          { value: "mm", text: "Millimetres" },
          { value: "inch", text: "Inches" },
        ]}
        disabled={disabled}
        onChange={(v) => onChange({ length_unit: v as "mm" | "inch" })}
      />
      <Heading>Money and days</Heading>
      <div className="flex flex-wrap items-end gap-4">
        <Words
          label="Prices are in (three letters)"
          value={now.currency ?? "EUR"}
          disabled={disabled}
          onChange={(currency) => onChange({ currency: currency.trim().toUpperCase() })}
        />
        <Words
          label="Time zone of the shop"
          value={now.time_zone ?? "UTC"}
          disabled={disabled}
          list={Intl.supportedValuesOf("timeZone")}
          onChange={(time_zone) => onChange({ time_zone: time_zone.trim() })}
        />
      </div>
      <p className="mt-2 text-faint text-sm">In lists that don't show it themselves, 12/03/2004 is</p>
      <OneOf
        label="Dates in lists"
        value={now.date_order ?? "ask"}
        options={[
          { value: "dmy", text: "12 March" },
          { value: "mdy", text: "3 December" },
          { value: "ask", text: "asked each time" },
        ]}
        disabled={disabled}
        onChange={(v) => onChange({ date_order: v === "ask" ? null : (v as "dmy" | "mdy") })}
      />
      <p className="mt-1 text-faint text-sm">
        Today, due days and break-in plans go by the shop's days. A sale keeps the currency it was made in,
        and so does a price: in another money none is known until you say it.
      </p>
      <Heading>What athletes agree to before anybody calls or writes</Heading>
      <TextField
        long
        label="The words, kept with each who agrees"
        value={now.reach_words ?? ""}
        disabled={disabled}
        onChange={(v) => v.trim() && onChange({ reach_words: v.slice(0, 600) })}
      />
      <Heading>Sales tax by size</Heading>
      <p className="mb-2 text-faint text-sm">
        In some places children's sizes carry none. Without bands no tax is shown. Whether a size is taxed is
        the law's matter, not ours.
      </p>
      <OneOf
        label="Tax of a day"
        value={tax.rounding ?? "line"}
        options={[
          { value: "line", text: "Line by line", hint: "a day's tax is the sum of its lines'" },
          { value: "total", text: "By the total", hint: "reckoned once a day and rate" },
        ]}
        disabled={disabled}
        onChange={(v) => put({ rounding: v as "line" })}
      />
      <p className="mt-2 text-faint text-xs">Size system tax goes by</p>
      <OneOf
        label="Size system tax goes by"
        value={tax.system}
        options={SYSTEM_OPTIONS}
        disabled={disabled}
        onChange={(v) => put({ system: v as NonNullable<typeof tax.system> })}
      />
      <ol className="my-2">
        {bands.map((b, i) => {
          const last = i === bands.length - 1;
          const set = (values: Partial<typeof b>) =>
            put({ bands: bands.map((x, j) => (j === i ? { ...x, ...values } : x)) });
          return (
            <li key={i} className="flex items-end gap-3 border-line border-b py-1">
              {last ? (
                <span className="min-w-44 self-center">larger sizes</span>
              ) : (
                <NumberField
                  label="Up to and with"
                  unit={system ?? ""}
                  step={0.5}
                  width="w-44"
                  value={b.up_to}
                  disabled={disabled}
                  onChange={(v) => set({ up_to: v })}
                />
              )}
              <NumberField
                label="Rate"
                unit="%"
                value={b.rate_pct}
                disabled={disabled}
                onChange={(v) => v !== null && set({ rate_pct: v })}
              />
              <Button
                kind="quiet"
                disabled={disabled}
                onClick={() => {
                  const rest = bands.filter((_, j) => j !== i);
                  put({ bands: rest.map((x, j) => (j === rest.length - 1 ? { ...x, up_to: null } : x)) });
                }}
              >
                Take out
              </Button>
            </li>
          );
        })}
      </ol>
      <span className="flex flex-wrap gap-2">
        <Button
          disabled={disabled || bands.length >= 6}
          onClick={() =>
            put({
              bands: bands.length
                ? [{ up_to: 6.5, rate_pct: 0 }, ...bands]
                : [
                    { up_to: 6.5, rate_pct: 0 },
                    { up_to: null, rate_pct: 20 },
                  ],
            })
          }
        >
          Add a band
        </Button>
        <OneOf
          label="Prices on the shelf"
          value={tax.price_includes ? "with" : "without"}
          options={[
            { value: "with", text: "Prices include tax" },
            { value: "without", text: "Tax comes on top" },
          ]}
          disabled={disabled}
          onChange={(v) => put({ price_includes: v === "with" })}
        />
      </span>
    </div>
  );
}
