/** What each column of a list says. */
import { useState } from "react";
import { SYSTEM_NAMES } from "../../api/house";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { Select } from "../../ui/Select";
import { NOTHING, type Settings, type Sheet } from "./listed";

interface AllLinesProps {
  sheet: Sheet;
  change: (part: Partial<Settings>) => void;
  disabled: boolean;
}

/** What holds for every line that doesn't say it itself. */
export function AllLines({ sheet, change, disabled }: AllLinesProps) {
  const sports = useVocabulary().data?.sports ?? [];
  const has = (field: string) => sheet.columns.some((c) => c.field === field);
  const told = sheet.columns.some((c) => c.field === "size" && c.system);
  const { settings } = sheet;
  const [maker, setMaker] = useState(settings.maker ?? "");
  return (
    <div className="mb-3 flex flex-wrap items-end gap-3">
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
          options={[
            { value: NOTHING, text: "as they look" },
            ...Object.entries(SYSTEM_NAMES).map(([value, text]) => ({ value, text })),
          ]}
          onChange={(v) => change({ system: v === NOTHING ? null : (v as Settings["system"]) })}
          className="w-40"
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
