/** The shoe they wear now: in words, by hand tests, or one of the shop's own. */
import { useQuery } from "@tanstack/react-query";
import { ask, http } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useVocabulary } from "../../api/vocabulary";
import { OneOf } from "../../ui/choice";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { TextField } from "../../ui/TextField";

const KINDS = [
  { value: "this_sport", text: "A shoe for this" },
  { value: "other_sport", text: "Another sport's" },
  { value: "running", text: "A running shoe" },
  { value: "street", text: "A street shoe" },
];
export function Present() {
  const { bodies, set, locked } = useDesk();
  const { present, sport, wears_now: wears } = bodies.brief;
  const models = useQuery({
    queryKey: ["models", sport],
    queryFn: () => ask(http.GET("/api/stock/models", { params: { query: { sport: sport ?? "" } } })),
    enabled: !!sport,
    staleTime: 60_000,
  });
  const hands = useVocabulary().data?.sports.find((s) => s.slug === sport)?.hands ?? [];
  const known = Object.keys(present?.model ?? {}).length > 0;
  return (
    <div className="space-y-3">
      <div className="flex flex-wrap items-end gap-3">
        <TextField
          className="w-80"
          label="In words"
          value={wears ?? ""}
          disabled={locked}
          onChange={(v) => set("brief", { wears_now: v || null })}
        />
        <Select
          className="w-56"
          label="One of ours"
          empty={known ? "known" : "not ours"}
          value=""
          disabled={locked}
          options={(models.data ?? []).map((m) => ({ value: m.id, text: `${m.maker} ${m.name}` }))}
          onChange={(id) => {
            const model = models.data?.find((m) => m.id === id);
            if (model)
              set("brief", {
                "present/kind": "this_sport",
                "present/model": model.properties,
                "present/features": model.features,
                wears_now: `${model.maker} ${model.name}`,
              });
          }}
        />
      </div>
      <OneOf
        label="What kind of shoe"
        value={present?.kind}
        options={KINDS}
        disabled={locked}
        onChange={(v) => set("brief", { "present/kind": v })}
      />
      <div className="grid grid-cols-[10rem_1fr] items-center gap-x-3 gap-y-1.5">
        {hands.map((h) => (
          <div key={h.slug} className="contents">
            <span title={h.how}>{h.name}</span>
            <OneOf
              label={h.name}
              value={present?.[h.slug]}
              options={h.findings.map((f) => ({ value: f.slug, text: f.text }))}
              disabled={locked}
              onChange={(v) => set("brief", { [`present/${h.slug}`]: v })}
            />
          </div>
        ))}
      </div>
      <div className="flex gap-3">
        <NumberField
          label="Drop, if known"
          unit="mm"
          value={present?.drop_mm}
          disabled={locked}
          onChange={(v) => set("brief", { "present/drop_mm": v })}
        />
        <NumberField
          label="One shoe weighs"
          unit="g"
          step={5}
          decimals={0}
          value={present?.mass_g}
          disabled={locked}
          onChange={(v) => set("brief", { "present/mass_g": v })}
        />
      </div>
    </div>
  );
}
