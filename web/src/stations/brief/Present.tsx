/** The shoe they wear now: in words, by hand tests, or one of the shop's own. */
import { useQuery } from "@tanstack/react-query";
import { ask, http } from "../../api/client";
import { useDesk } from "../../api/desk";
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
const TESTS = [
  [
    "fold",
    "Fold it",
    [
      ["in_half", "in half"],
      ["at_ball", "at the ball"],
      ["hardly", "hardly"],
    ],
  ],
  [
    "wring",
    "Wring it",
    [
      ["easily", "easily"],
      ["resists", "resists"],
      ["stiff", "stiff"],
    ],
  ],
  [
    "heel_foam",
    "Press the heel",
    [
      ["soft", "soft"],
      ["middle", "middle"],
      ["hard", "hard"],
    ],
  ],
  [
    "heel_cup",
    "Squeeze the heel cup",
    [
      ["gives", "gives"],
      ["firm", "firm"],
      ["rigid", "rigid"],
    ],
  ],
  [
    "collar",
    "Push the collar",
    [
      ["flops", "flops"],
      ["stands", "stands"],
      ["high", "is high"],
    ],
  ],
] as const;

export function Present() {
  const { bodies, set, locked } = useDesk();
  const { present, sport, wears_now: wears } = bodies.brief;
  const models = useQuery({
    queryKey: ["models", sport],
    queryFn: () => ask(http.GET("/api/stock/models", { params: { query: { sport: sport ?? "" } } })),
    enabled: !!sport,
    staleTime: 60_000,
  });
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
        {TESTS.map(([field, text, options]) => (
          <div key={field} className="contents">
            <span>{text}</span>
            <OneOf
              label={text}
              value={present?.[field]}
              options={options.map(([value, word]) => ({ value, text: word }))}
              disabled={locked}
              onChange={(v) => set("brief", { [`present/${field}`]: v })}
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
