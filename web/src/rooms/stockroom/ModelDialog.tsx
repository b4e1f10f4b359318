/** A model by hand: what it is, what it costs, how it is made as far as somebody looked, and the sizes kept of it. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, http, type Schemas, type Trouble } from "../../api/client";
import { useDraft } from "../../api/draft";
import { useHouse } from "../../api/house";
import { factsOf } from "../../api/sports";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { ManyOf } from "../../ui/choice";
import { Dialog } from "../../ui/Dialog";
import { minorDigits } from "../../ui/money";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { TextField } from "../../ui/TextField";
import { Loading } from "../../ui/words";
import { ModelDetails, without } from "./ModelDetails";
import { ModelPrices } from "./ModelPrices";
import { Sizes } from "./ModelSizes";

type Made = Schemas["Made"];

const UNKNOWN = "unknown";

const BUILDS = [
  { value: "slip", text: "slip-lasted (climbing)" },
  { value: "plate", text: "on a plate" },
  { value: "board", text: "on a board" },
];

interface Props {
  /** The model's id; a new one's where there is none yet. */
  id: string | null;
  /** A bar code nobody knew: the new model's first size has it. */
  gtin?: string;
  onClose: () => void;
}

export function ModelDialog({ id, gtin = "", onClose }: Props) {
  const found = useQuery({
    queryKey: ["model", id],
    queryFn: () => ask(http.GET("/api/models/{model_id}", { params: { path: { model_id: id ?? "" } } })),
    enabled: !!id,
    gcTime: 0,
  });
  const fresh: Made = {
    maker: "", name: "", sport: "football", build: "plate", upper: null, price_minor: null, code: "", last: "",
    meant_for: [], choices: {}, properties: {}, features: {},
  }; // biome-ignore format: a row of nothing known
  return (
    <Dialog open wide onClose={onClose} title={id ? "The model" : "A new model"}>
      {id && !found.data ? (
        found.error ? (
          <p role="alert">{found.error.message}</p>
        ) : (
          <Loading what="the model" />
        )
      ) : (
        <Form
          id={id ?? undefined}
          start={found.data?.model ?? fresh}
          retired={found.data?.retired ?? false}
          gtin={gtin}
          onClose={onClose}
        />
      )}
    </Dialog>
  );
}

interface FormProps {
  id: string | undefined;
  start: Made;
  retired: boolean;
  gtin: string;
  onClose: () => void;
}

function Form({ id, start, retired, gtin, onClose }: FormProps) {
  const client = useQueryClient();
  const words = useVocabulary().data;
  const currency = useHouse().data?.house.currency ?? "EUR";
  /** `was` is as it was read: what somebody else changes meanwhile isn't written over. */
  const draft = useDraft(`model.${id ?? `new.${gtin}`}`, {
    made: start,
    was: start,
    own: id ?? crypto.randomUUID(),
    kept: !!id,
  });
  const { made, own } = draft.value;
  const kept = draft.value.kept ? own : undefined;
  const [left, setLeft] = useState(draft.left);
  const change = useRef(crypto.randomUUID());
  const part = (more: Partial<Made>) => {
    change.current = crypto.randomUUID();
    draft.change((d) => ({ ...d, made: { ...d.made, ...more } }));
  };
  const save = useMutation<Schemas["ModelMade"], Trouble, boolean>({
    mutationFn: (out) =>
      ask(
        http.PUT("/api/models/{model_id}", {
          params: { path: { model_id: own } },
          body: { change_id: change.current, model: made, was: kept ? draft.value.was : null, retired: out },
        }),
      ),
    onSuccess: (now) => {
      change.current = crypto.randomUUID();
      draft.change((d) => ({ ...d, was: now.model, kept: true }));
      draft.letGo();
      setLeft(false);
      for (const key of ["rack", "rack-totals", "stock", "line", "of", "model", "prices"]) {
        void client.invalidateQueries({ queryKey: [key] });
      }
    },
  });
  const trouble = (field: string) => save.error?.problem.fields.find((f) => f.field.endsWith(field))?.text;
  const digits = 10 ** minorDigits(currency);
  const known = (name: string, value: string) => ({
    value: value,
    text: words?.values[value] ?? value.replaceAll("_", " "),
    name,
  });
  return (
    <>
      <form
        className="grid grid-cols-6 items-start gap-2 max-md:grid-cols-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (!save.isPending) save.mutate(retired);
        }}
      >
        <TextField
          className="col-span-2"
          label="Maker"
          value={made.maker}
          onChange={(maker) => part({ maker })}
          error={trouble("maker")}
        />
        <TextField
          className="col-span-2"
          label="Model"
          value={made.name}
          onChange={(name) => part({ name })}
          error={trouble("model.name")}
        />
        <TextField label="Name of its last" value={made.last ?? ""} onChange={(last) => part({ last })} />
        <NumberField
          width="col-span-2"
          label="Price in this shop"
          value={made.price_minor == null ? null : made.price_minor / digits}
          decimals={2}
          unit={currency}
          onChange={(v) => part({ price_minor: v === null ? null : Math.round(v * digits) })}
          error={trouble("price_minor")}
        />
        <Select
          className="col-span-2"
          label="Sport"
          value={made.sport}
          disabled={!!kept}
          options={(words?.sports ?? []).map((s) => ({ value: s.slug, text: s.name }))}
          onChange={(sport) =>
            part({
              sport: sport as Made["sport"],
              build: factsOf(sport)?.build ?? "board",
              properties: {},
              meant_for: [],
            })
          }
        />
        <Select
          className="col-span-2"
          label="Upper"
          value={made.upper ?? UNKNOWN}
          options={[
            { value: UNKNOWN, text: "not known" },
            ...(words?.kinds.upper ?? []).map((v) => known("upper", v)),
          ]}
          onChange={(v) => part({ upper: v === UNKNOWN ? null : (v as Made["upper"]) })}
        />
        <Select
          className="col-span-2"
          label="Build"
          value={made.build}
          options={BUILDS}
          onChange={(v) => part({ build: v as Made["build"] })}
        />
        {Object.entries(words?.kinds ?? {})
          .filter(([name]) => name !== "upper")
          .map(([name, values]) => (
            <Select
              key={name}
              className="col-span-2"
              label={words?.choices[name] ?? name}
              value={made.choices?.[name] ?? UNKNOWN}
              options={[{ value: UNKNOWN, text: "not known" }, ...values.map((v) => known(name, v))]}
              onChange={(v) =>
                part({
                  choices: v === UNKNOWN ? without(made.choices ?? {}, name) : { ...made.choices, [name]: v },
                })
              }
            />
          ))}
        <fieldset className="col-span-full">
          <legend className="text-faint text-xs">
            Meant for, as its maker says{made.meant_for?.length ? "" : ": not said"}
          </legend>
          <ManyOf
            label="Meant for"
            value={made.meant_for ?? []}
            options={words?.sports.find((s) => s.slug === made.sport)?.purposes ?? []}
            onChange={(meant_for) => part({ meant_for })}
          />
        </fieldset>
        <ModelDetails made={made} part={part} trouble={trouble} />
        {left && (
          <p className="col-span-full flex flex-wrap items-center gap-2" role="status">
            Typed here before and not kept yet.
            <Button
              kind="quiet"
              onClick={() => {
                draft.change(() => ({ made: start, was: start, own: id ?? crypto.randomUUID(), kept: !!id }));
                draft.letGo();
                setLeft(false);
              }}
            >
              Begin anew
            </Button>
          </p>
        )}
        {save.error && (
          <p role="alert" className="col-span-full text-madder">
            {save.error.message}
          </p>
        )}
        <div className="col-span-full flex flex-wrap items-center justify-end gap-2">
          {save.isSuccess && <span role="status">kept</span>}
          {kept && (
            <Button disabled={save.isPending} onClick={() => save.mutate(!retired, { onSuccess: onClose })}>
              {retired ? "Take it up again" : "Retire it"}
            </Button>
          )}
          <Button type="submit" kind="strong" disabled={save.isPending || !made.maker || !made.name}>
            {kept ? "Keep it so" : "Begin the model"}
          </Button>
        </div>
      </form>
      {kept && <ModelPrices model={kept} />}
      {kept && <Sizes model={kept} gtin={gtin} />}
    </>
  );
}
