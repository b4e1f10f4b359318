/** What each column of a list says. */
import { useState } from "react";
import { AHEAD, ownStepOf, SYSTEM_NAMES, SYSTEM_OPTIONS, SYSTEMS, type System } from "../../api/sizes";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { labelText } from "../../ui/label";
import { Select } from "../../ui/Select";
import { NOTHING, type Settings, type Sheet } from "./listed";

/** What lists are often priced in; another is said by a column of the list. */
const CURRENCIES = "EUR USD GBP CHF SEK NOK DKK PLN CZK HUF CAD AUD NZD JPY".split(" ");

/** Stands for all sheets of a workbook; no sheet can be called so. */
const EVERY = "*";

interface AllLinesProps {
  sheet: Sheet;
  change: (part: Partial<Settings>) => void;
  disabled: boolean;
}

/** The system among a list's in which makers have a step of their own; of a grid in that land's sizes it may be one. */
function steppedIn(sheet: Sheet): System | undefined {
  const sizes = sheet.columns.filter((c) => c.field === "size");
  const of = (system: System) =>
    ownStepOf(system) > 0 &&
    (sheet.settings.system === system ||
      sizes.some(
        (c) =>
          c.system === system ||
          c.samples.some((s) => s.startsWith(SYSTEM_NAMES[system].split(" ")[0] ?? "no land")),
      ));
  return SYSTEMS.find(of);
}

/** What holds for every line that doesn't say it itself. */
export function AllLines({ sheet, change, disabled }: AllLinesProps) {
  const sports = useVocabulary().data?.sports ?? [];
  const has = (field: string) => sheet.columns.some((c) => c.field === field);
  const told = sheet.columns.some((c) => c.field === "size" && c.system);
  const { settings } = sheet;
  const own = steppedIn(sheet);
  const [maker, setMaker] = useState(settings.maker ?? "");
  return (
    <div className="mb-3 flex flex-wrap items-end gap-3">
      {sheet.sheets.length > 1 && (
        <Select
          label="Its sheet"
          value={settings.sheet || NOTHING}
          disabled={disabled}
          options={[
            { value: NOTHING, text: "the first with a list" },
            { value: EVERY, text: "all that hold a list" },
            ...sheet.sheets.map((name) => ({ value: name, text: name })),
          ]}
          onChange={(v) => change({ sheet: v === NOTHING ? "" : v, columns: [] })}
          className="w-44"
        />
      )}
      {(sheet.grid || !settings.grids) && (
        <OneOf
          label="How it is laid out"
          value={settings.grids === false ? "lines" : "grid"}
          disabled={disabled}
          options={[
            { value: "grid", text: "a grid", hint: "a line for each cell" },
            { value: "lines", text: "a plain list", hint: "as it stands" },
          ]}
          onChange={(v) => change({ grids: v === "grid", columns: [] })}
        />
      )}
      {has("price") && !has("currency") && (
        <Select
          label="Its prices are in"
          value={settings.list_currency ?? NOTHING}
          disabled={disabled}
          options={[
            { value: NOTHING, text: `the shop's ${settings.currency ?? ""}` },
            ...CURRENCIES.filter((c) => c !== settings.currency).map((c) => ({ value: c, text: c })),
          ]}
          onChange={(v) => change({ list_currency: v === NOTHING ? null : v })}
          className="w-36"
        />
      )}
      {has("pairs") && (
        <div>
          <span className="block text-faint text-xs">The pairs in it</span>
          <OneOf
            label="The pairs in it"
            value={settings.pairs ?? "ignored"}
            disabled={disabled}
            options={[
              { value: "received", text: "came in", hint: "added" },
              { value: "counted", text: "were counted", hint: "set" },
              { value: "ignored", text: "are the supplier's", hint: "left out" },
            ]}
            onChange={(v) => change({ pairs: v as Settings["pairs"] })}
          />
        </div>
      )}
      {has("model") && !has("sport") && (
        <Select
          label="Its shoes are for"
          value={settings.sport ?? NOTHING}
          disabled={disabled}
          options={[
            { value: NOTHING, text: "not said" },
            ...sports.map((s) => ({ value: s.slug, text: s.name })),
          ]}
          onChange={(v) => change({ sport: v === NOTHING ? null : (v as Settings["sport"]) })}
          className="w-40"
        />
      )}
      {has("size") && !has("system") && !told && (
        <Select
          label="Its sizes are"
          value={settings.system ?? NOTHING}
          disabled={disabled}
          options={[{ value: NOTHING, text: "as they look" }, ...SYSTEM_OPTIONS]}
          onChange={(v) => change({ system: v === NOTHING ? null : (v as Settings["system"]) })}
          className="w-40"
        />
      )}
      {own && !has("runs_ahead") && (
        <Select
          label={`Its ${SYSTEM_NAMES[own]}'s sizes run ahead`}
          value={settings.runs_ahead == null ? NOTHING : `${settings.runs_ahead}`}
          disabled={disabled}
          options={[{ value: NOTHING, text: `as most: ${labelText(ownStepOf(own))}` }, ...AHEAD]}
          onChange={(v) => change({ runs_ahead: v === NOTHING ? null : Number(v) })}
          className="w-56"
        />
      )}
      {has("model") && !has("maker") && (
        <form
          className="flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            change({ maker: maker.trim() });
          }}
        >
          <label className="text-faint text-xs">
            Its maker
            <input
              value={maker}
              maxLength={80}
              onChange={(e) => setMaker(e.target.value)}
              className="block min-h-11 w-48 rounded-sm border border-ink/45 bg-sheet px-2.5 text-base text-ink"
            />
          </label>
          <Button type="submit" disabled={disabled}>
            Read again
          </Button>
        </form>
      )}
    </div>
  );
}
