/** What the shop pays and asks for a model: by colour where they differ, and for some days in a sale. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, http, type Schemas, type Trouble } from "../../api/client";
import { Button } from "../../ui/Button";
import { DateField } from "../../ui/DateField";
import { minorDigits } from "../../ui/money";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";

type Row = Schemas["PriceRow"];
const AMOUNTS = [
  ["price_minor", "Price"],
  ["cost_minor", "What it costs the shop, without tax"],
  ["sale_minor", "Sale price"],
] as const;

export function ModelPrices({ model }: { model: string }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-3 border-line border-t" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="flex min-h-11 w-fit cursor-pointer items-center font-semibold underline">
        More of its prices: in a sale, by colour, what the shop pays
      </summary>
      {open && <Loaded model={model} />}
    </details>
  );
}

function Loaded({ model }: { model: string }) {
  const found = useQuery({
    queryKey: ["prices", model],
    queryFn: () => ask(http.GET("/api/models/{model_id}/prices", { params: { path: { model_id: model } } })),
    gcTime: 0,
  });
  if (!found.data) return <p role={found.error ? "alert" : undefined}>{found.error?.message ?? "…"}</p>;
  return <Form key={JSON.stringify(found.data)} model={model} found={found.data} />;
}

function Form({ model, found }: { model: string; found: Schemas["PricesOut"] }) {
  const client = useQueryClient();
  const change = useRef(crypto.randomUUID());
  const [rows, setRows] = useState<Row[]>(found.prices.length ? found.prices : [{ colour: "" }]);
  const digits = minorDigits(found.currency);
  const unit = 10 ** digits;
  const put = (at: number, more: Partial<Row>) => {
    change.current = crypto.randomUUID();
    setRows((old) => old.map((r, i) => (i === at ? { ...r, ...more } : r)));
  };
  const save = useMutation<Schemas["PricesOut"], Trouble>({
    mutationFn: () =>
      ask(
        http.PUT("/api/models/{model_id}/prices", {
          params: { path: { model_id: model } },
          body: { change_id: change.current, prices: rows, was: found.prices },
        }),
      ),
    onSuccess: (now) => {
      client.setQueryData(["prices", model], now);
      for (const key of ["rack", "stock", "line", "of", "model"])
        void client.invalidateQueries({ queryKey: [key] });
    },
  });
  const free = found.colours.filter((c) => !rows.some((r) => r.colour === c));
  return (
    <form
      aria-label="Prices"
      onSubmit={(e) => {
        e.preventDefault();
        if (!save.isPending) save.mutate();
      }}
    >
      {rows.map((row, at) => (
        <fieldset
          key={row.colour}
          className="mb-2 border-line border-b pb-2"
          data-price={row.colour || "all"}
        >
          <legend className="font-semibold">
            {row.colour || (rows.length > 1 ? "Every other colour" : "Every colour")}
          </legend>
          <div className="flex flex-wrap items-end gap-2">
            {(row.colour ? AMOUNTS : AMOUNTS.slice(1)).map(([field, label]) => (
              <NumberField
                key={field}
                label={label}
                unit={found.currency}
                decimals={digits}
                min={0}
                value={row[field] == null ? null : row[field] / unit}
                onChange={(v) => put(at, { [field]: v === null ? null : Math.round(v * unit) })}
                width={field === "cost_minor" ? "w-56" : "w-36"}
              />
            ))}
            {row.sale_minor != null && (
              <>
                <DateField
                  className="w-40"
                  label="Sale from"
                  value={row.sale_from ?? ""}
                  onCommit={(v) => put(at, { sale_from: v || null })}
                />
                <DateField
                  className="w-40"
                  label="to, with that day"
                  value={row.sale_until ?? ""}
                  onCommit={(v) => put(at, { sale_until: v || null })}
                />
              </>
            )}
            {row.colour && (
              <Button kind="quiet" onClick={() => setRows((old) => old.filter((_, i) => i !== at))}>
                Take out
              </Button>
            )}
          </div>
        </fieldset>
      ))}
      {save.error && (
        <p role="alert" className="text-madder">
          {save.error.message}
        </p>
      )}
      <div className="flex flex-wrap items-end justify-between gap-2">
        {free.length > 0 ? (
          <Select
            className="w-56"
            label="A price of its own for"
            value=""
            options={free.map((c) => ({ value: c, text: c }))}
            onChange={(colour) => setRows((old) => [...old, { colour }])}
          />
        ) : (
          <span />
        )}
        <span className="flex items-center gap-2">
          {save.isSuccess && <span role="status">kept</span>}
          <Button type="submit" disabled={save.isPending}>
            Keep the prices
          </Button>
        </span>
      </div>
    </form>
  );
}
