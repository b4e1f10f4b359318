/** Who else has a size, and who holds pairs of it. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { ask, http, type Schemas, type Trouble } from "../../api/client";
import { useWant } from "../../api/orders";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Heading } from "../../ui/words";

/** Who else in the chain has it, and asking for a pair. */
export function InSisterShops({ line, variant }: { line: string; variant: string }) {
  const found = useQuery({
    queryKey: ["line", line, "elsewhere"],
    queryFn: () => ask(http.GET("/api/stock/{line_id}/elsewhere", { params: { path: { line_id: line } } })),
  });
  const want = useWant("stockroom");
  if (!found.data?.length) return null;
  return (
    <>
      <Heading>In sister shops</Heading>
      <ul className="flex flex-wrap gap-2">
        {found.data.map((e) => (
          <li key={e.shop_id}>
            <Button
              disabled={want.isPending || want.data?.variant_id === variant}
              onClick={() => want.mutate({ variant_id: variant, from_shop: e.shop_id, fitting_id: null })}
            >
              Ask {e.shop.split(", ").at(-1)} ({e.free})
            </Button>
          </li>
        ))}
      </ul>
      {want.data && <p role="status">Asked for; it stands under Orders.</p>}
      {want.error && (
        <p role="alert" className="text-madder text-sm">
          {want.error.message}
        </p>
      )}
    </>
  );
}

/** Who holds pairs of it, and keeping one back for a customer. */
export function HeldPairs({ line }: { line: string }) {
  const client = useQueryClient();
  const path = { params: { path: { line_id: line } } };
  const key = ["line", line, "held"];
  const held = useQuery({
    queryKey: key,
    queryFn: () => ask(http.GET("/api/stock/{line_id}/held", path)),
  });
  const [name, setName] = useState("");
  const [days, setDays] = useState<number | null>(2);
  const id = useRef(crypto.randomUUID());
  const known = (now: Schemas["HeldOut"][]) => {
    client.setQueryData(key, now);
    for (const of of ["rack", "of"]) void client.invalidateQueries({ queryKey: [of] });
  };
  const keep = useMutation<Schemas["HeldOut"][], Trouble, string>({
    mutationFn: (whom) =>
      ask(
        http.POST("/api/stock/{line_id}/held", {
          ...path,
          body: { id: id.current, name: whom, days: days ?? 2 },
        }),
      ),
    onSuccess: (now) => {
      id.current = crypto.randomUUID();
      setName("");
      known(now);
    },
  });
  const giveUp = useMutation<Schemas["HeldOut"][], Trouble, string>({
    mutationFn: (held_id) =>
      ask(
        http.DELETE("/api/stock/{line_id}/held/{held_id}", {
          params: { path: { line_id: line, held_id } },
        }),
      ),
    onSuccess: known,
  });
  const trouble = keep.error ?? giveUp.error;
  return (
    <>
      <Heading>Held</Heading>
      <ul aria-label="Held" className="text-sm">
        {(held.data ?? []).map((h) => (
          <li key={h.id} className="flex min-h-11 flex-wrap items-center gap-x-2">
            <span className="inline-block first-letter:uppercase">{h.says}</span>
            {h.by && <span className="text-faint">{h.by}</span>}
            {h.fitting_id && (
              <Link
                to={`/fittings/${h.fitting_id}/pull`}
                className="inline-flex min-h-11 items-center underline"
              >
                Their fitting
              </Link>
            )}
            {h.kind === "customer" && (
              <Button kind="quiet" disabled={giveUp.isPending} onClick={() => giveUp.mutate(h.id)}>
                Let it go
              </Button>
            )}
          </li>
        ))}
      </ul>
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim() && !keep.isPending) keep.mutate(name.trim());
        }}
      >
        <label className="min-w-48 flex-1 text-faint text-xs">
          Keep one back for
          <input
            value={name}
            maxLength={120}
            onChange={(e) => setName(e.target.value)}
            className="block min-h-11 w-full rounded-sm border border-ink/45 bg-sheet px-2.5 text-base text-ink"
          />
        </label>
        <NumberField
          label="For"
          value={days}
          unit="days"
          min={1}
          max={60}
          decimals={0}
          onChange={setDays}
          width="w-28 shrink-0"
        />
        <Button type="submit" disabled={!name.trim() || !days || days < 1 || keep.isPending}>
          Keep it
        </Button>
      </form>
      {trouble && (
        <p role="alert" className="text-madder text-sm">
          {trouble.message}
        </p>
      )}
    </>
  );
}
