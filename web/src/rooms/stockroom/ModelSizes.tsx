/** The sizes a model is made in, added by a run. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, http, type Schemas, type Trouble } from "../../api/client";
import { AHEAD, ownStepOf, SYSTEM_OPTIONS, stepOf } from "../../api/sizes";
import { Button } from "../../ui/Button";
import { labelText } from "../../ui/label";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { TextField } from "../../ui/TextField";
import { Heading } from "../../ui/words";
import { type System, WIDTHS } from "./widths";

const AS_MOST = "as-most";

/** Sizes kept from now on: a run, or the one a bar code is of. */
export function Sizes({ model, gtin }: { model: string; gtin: string }) {
  const client = useQueryClient();
  const [system, setSystem] = useState<System>("eu");
  const [ahead, setAhead] = useState(AS_MOST);
  const [width, setWidth] = useState("regular");
  const [colour, setColour] = useState("");
  const [from, setFrom] = useState<number | null>(null);
  const [to, setTo] = useState<number | null>(null);
  const [code, setCode] = useState(gtin);
  const change = useRef(crypto.randomUUID());
  const last = to ?? from;
  const step = stepOf(system);
  const sizes: string[] = [];
  if (from !== null && last !== null && last >= from && (last - from) / step < 80) {
    for (let s = from; s <= last + 1e-6; s += step) sizes.push(`${Math.round(s * 100) / 100}`);
  }
  const add = useMutation<Schemas["RackSize"][], Trouble>({
    mutationFn: () =>
      ask(
        http.POST("/api/models/{model_id}/sizes", {
          params: { path: { model_id: model } },
          body: {
            change_id: change.current,
            width,
            colour,
            system,
            runs_ahead: ahead !== AS_MOST && ownStepOf(system) > 0 ? Number(ahead) : null,
            sizes,
            gtin: code.trim() || null,
          },
        }),
      ),
    onSuccess: () => {
      change.current = crypto.randomUUID();
      setCode("");
      for (const key of ["rack", "rack-totals", "stock"]) void client.invalidateQueries({ queryKey: [key] });
    },
  });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (sizes.length && !add.isPending) add.mutate();
      }}
    >
      <Heading>Sizes kept of it</Heading>
      <div className="flex flex-wrap items-end gap-2">
        <Select
          label="System"
          value={system}
          options={SYSTEM_OPTIONS}
          onChange={(v) => setSystem(v as System)}
          className="w-32"
        />
        {ownStepOf(system) > 0 && (
          <Select
            label="They run ahead"
            value={ahead}
            options={[{ value: AS_MOST, text: `as most: ${labelText(ownStepOf(system))}` }, ...AHEAD]}
            onChange={setAhead}
            className="w-36"
          />
        )}
        <NumberField label="From" value={from} decimals={1} onChange={setFrom} width="w-20" />
        <NumberField label="To" value={to} decimals={1} onChange={setTo} width="w-20" />
        <Select
          label="Width"
          value={width}
          options={WIDTHS.map((w) => ({ value: w, text: w }))}
          onChange={setWidth}
          className="w-28"
        />
        <TextField className="w-24" label="Colour" value={colour} onChange={setColour} />
        <TextField className="w-40" label="Bar code (of one size)" value={code} onChange={setCode} />
        <Button type="submit" disabled={!sizes.length || add.isPending}>
          Add {sizes.length || ""} {sizes.length === 1 ? "size" : "sizes"}
        </Button>
      </div>
      {add.error && (
        <p role="alert" className="mt-1 text-madder">
          {add.error.message}
        </p>
      )}
      {add.data && (
        <p role="status">
          {add.data.length === 1 ? "One size is" : `${add.data.length} sizes are`} kept of it now; count them
          on the rack.
        </p>
      )}
    </form>
  );
}
