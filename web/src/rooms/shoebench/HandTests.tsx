/** Hand tests, one at a time: how to do it, what may be found, and what that means. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, http, type Schemas, type Trouble } from "../../api/client";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { NumberField } from "../../ui/NumberField";

export function HandTests({ bench }: { bench: Schemas["ShoeBench"] }) {
  const client = useQueryClient();
  const open = bench.tests.findIndex((t) => t.found === null);
  const [at, setAt] = useState(Math.max(open, 0));
  const [number, setNumber] = useState<number | null>(null);
  const id = useRef(crypto.randomUUID());
  const test = bench.tests[at];
  const go = (to: number) => {
    setNumber(null);
    setAt(Math.min(Math.max(to, 0), bench.tests.length - 1));
  };
  const found = useMutation<
    Schemas["ShoeBench"],
    Trouble,
    { slug: string; finding?: string; value?: number }
  >({
    mutationFn: ({ slug, finding, value }) =>
      ask(
        http.POST("/api/models/{model_id}/tests/{slug}", {
          params: { path: { model_id: bench.model_id, slug } },
          body: { id: id.current, finding: finding ?? null, value: value ?? null },
        }),
      ),
    onSuccess: (now, { slug }) => {
      id.current = crypto.randomUUID();
      client.setQueryData(["shoe-bench", bench.model_id], now);
      for (const key of ["rack", "of", "model"]) void client.invalidateQueries({ queryKey: [key] });
      const next = now.tests.findIndex(
        (t, i) => i > now.tests.findIndex((o) => o.slug === slug) && t.found === null,
      );
      if (next >= 0) go(next);
    },
  });
  if (!test) return null;
  const done = bench.tests.filter((t) => t.found !== null).length;
  return (
    <section aria-label="Hand tests">
      <div className="flex items-center justify-between gap-2">
        <p className="text-faint text-sm">
          Test {at + 1} of {bench.tests.length}, {done} done
        </p>
        <span className="flex gap-1">
          <Button kind="quiet" disabled={at === 0} onClick={() => go(at - 1)}>
            Back
          </Button>
          <Button kind="quiet" disabled={at === bench.tests.length - 1} onClick={() => go(at + 1)}>
            Next
          </Button>
        </span>
      </div>
      <h3 className="font-semibold text-lg">{test.name}</h3>
      <p className="mb-2">{test.how}</p>
      {test.findings.length ? (
        <OneOf
          label={test.name}
          value={test.found}
          disabled={found.isPending}
          columns="grid gap-1.5"
          options={test.findings.map((f) => ({ value: f.slug, text: f.text, hint: f.means }))}
          onChange={(finding) => found.mutate({ slug: test.slug, finding })}
        />
      ) : (
        <form
          className="flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (number !== null && !found.isPending) found.mutate({ slug: test.slug, value: number });
          }}
        >
          <NumberField
            label={test.name}
            unit={test.unit}
            value={number ?? (test.found === null ? null : Number(test.found))}
            onChange={setNumber}
          />
          <Button type="submit" kind="strong" disabled={number === null || found.isPending}>
            Note it
          </Button>
        </form>
      )}
      {found.error && (
        <p role="alert" className="mt-1 text-madder">
          {found.error.message}
        </p>
      )}
    </section>
  );
}
