/** The rack: a row a model, its sizes on a shelf to scale, gaps seen at once; opened, every size is counted. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { type Narrowed, type RackSize, useRack, useRackTotals } from "../../api/rack";
import { useFurther } from "../../api/useFurther";
import { useVocabulary } from "../../api/vocabulary";
import { Changed, usePastIn } from "../../shell/Changed";
import { useArrival } from "../../ui/ahead";
import { Button } from "../../ui/Button";
import { Select } from "../../ui/Select";
import { usePause } from "../../ui/usePause";
import { FrameContext, Loading, Note } from "../../ui/words";
import { byWidth, Row, Shelf } from "./Shelf";
import { SHELF_HEIGHT, ShelfRuler } from "./Strip";

const SizeDialog = lazy(() => import("./SizeDialog").then((m) => ({ default: m.SizeDialog })));

const ModelDialog = lazy(() => import("./ModelDialog").then((m) => ({ default: m.ModelDialog })));

const Scan = lazy(() => import("./Scan").then((m) => ({ default: m.Scan })));

const TakeOut = lazy(() => import("./TakeOut").then((m) => ({ default: m.TakeOut })));

const ANY = "any";

const BAR_CODE = /^\d{8,14}$/;

export default function Stockroom({ me }: { me: Schemas["Me"] }) {
  const [params, setParams] = useSearchParams();
  const [text, setText] = useState(params.get("find") ?? "");
  const [open, setOpen] = useState<string | null>(null);
  const [size, setSize] = useState<RackSize | null>(null);
  const [out, setOut] = useState(false);
  const [scanning, setScanning] = useState(false);
  /** The model open by hand; null for a new one. */
  const [byHand, setByHand] = useState<{ id: string | null; gtin?: string } | undefined>();
  const words = useVocabulary().data;
  const [paused] = usePause(text);
  const asked = (name: string) => params.get(name) ?? undefined;
  const sport = asked("sport");
  const query: Narrowed = useMemo(
    () => ({
      text: paused.trim(),
      ...(params.get("sport") ? { sport: params.get("sport") as string } : {}),
      ...(params.get("plate") ? { plate: params.get("plate") as string } : {}),
      ...(params.get("width") ? { width: params.get("width") as string } : {}),
      ...(params.get("feature") ? { feature: params.get("feature") as string } : {}),
      ...(params.get("here") ? { here: true } : {}),
    }),
    [paused, params],
  );
  const narrow = (name: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value === ANY) next.delete(name);
    else next.set(name, value);
    if (name === "sport") next.delete("plate");
    setParams(next, { replace: true });
  };
  const rack = useRack(query);
  const totals = useRackTotals(query).data;
  const models = useMemo(() => rack.data?.pages.flatMap((p) => p.models) ?? [], [rack.data]);
  // A bar code read into the field opens the shelf it is of; the next one read takes its place.
  const code = BAR_CODE.test(query.text) && !rack.isPlaceholderData ? query.text.padStart(14, "0") : null;
  const coded = code ? models.find((m) => m.sizes.some((s) => s.gtin === code))?.id : undefined;
  const find = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (!coded) return;
    setOpen(coded);
    find.current?.select();
  }, [coded]);
  useArrival();
  const past = usePastIn("stockroom");
  const box = useRef<HTMLElement>(null);
  const virtual = useVirtualizer({
    count: models.length,
    getScrollElement: () => box.current,
    estimateSize: (i) => 26 + SHELF_HEIGHT * Math.max(byWidth(models[i]?.sizes ?? []).length, 1),
    getItemKey: (i) => models[i]?.id ?? i,
    overscan: 6,
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  useFurther(rack, last >= models.length - 12);
  /** Names, makers and prices stay hidden: somebody who judges is looking. */
  const blind = !!asked("blind");
  const plates = [...new Set(models.map((m) => m.choices.plate).filter((p): p is string => !!p))];
  return (
    <>
      <title>Stockroom · Kalon</title>
      <FrameContext.Provider value="whole">
        <main className="flex min-h-0 min-w-0 flex-1 flex-col px-8 pt-4 max-md:px-4" tabIndex={-1}>
          <header className="mb-2 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
            <h1 className="font-semibold text-3xl tracking-tight">Stockroom</h1>
            <Changed past={past} />
            <div className="flex flex-wrap gap-2">
              <Link
                to="/stockroom/orders"
                className="inline-flex min-h-11 items-center rounded-sm border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper"
              >
                Orders
              </Link>
              {me.role === "manager" && (
                <>
                  <Button onClick={() => setOut(true)}>Take out …</Button>
                  <Button onClick={() => setByHand({ id: null })}>New model</Button>
                  <Link
                    to="/stockroom/lists"
                    className="inline-flex min-h-11 items-center rounded-sm border border-madder bg-madder px-3.5 font-medium text-on-madder hover:brightness-110"
                  >
                    Bring in a list
                  </Link>
                </>
              )}
            </div>
          </header>
          <search className="mb-2 flex flex-wrap items-end gap-2">
            <label className="text-faint text-xs">
              Maker, model, sport, size, width or bar code
              <input
                ref={find}
                value={text}
                onChange={(e) => setText(e.target.value)}
                className="block min-h-11 w-64 rounded-sm border border-ink/45 bg-sheet px-2.5 text-base text-ink"
              />
            </label>
            <Button onClick={() => setScanning(true)}>Scan</Button>
            <Select
              label="Sport"
              value={sport ?? ANY}
              options={[
                { value: ANY, text: "Every sport" },
                ...(words?.sports ?? []).map((s) => ({ value: s.slug, text: s.name })),
              ]}
              onChange={(v) => narrow("sport", v)}
              className="w-32"
            />
            {(asked("plate") || plates.length > 0) && (
              <Select
                label="Ground"
                value={asked("plate") ?? ANY}
                options={[
                  { value: ANY, text: "Every ground" },
                  ...[...new Set([...plates, asked("plate")].filter((p): p is string => !!p))]
                    .toSorted()
                    .map((p) => ({ value: p, text: words?.values[p] ?? p })),
                ]}
                onChange={(v) => narrow("plate", v)}
                className="w-44"
              />
            )}
            <Select
              label="Width"
              value={asked("width") ?? ANY}
              options={[ANY, "narrow", "regular", "wide"].map((w) => ({
                value: w,
                text: w === ANY ? "Every width" : w,
              }))}
              onChange={(v) => narrow("width", v)}
              className="w-32"
            />
            <Select
              label="With"
              value={asked("feature") ?? ANY}
              options={[
                { value: ANY, text: "anything" },
                ...Object.entries(words?.features ?? {}).map(([slug, f]) => ({ value: slug, text: f.name })),
              ]}
              onChange={(v) => narrow("feature", v)}
              className="w-40"
            />
            <Button
              aria-pressed={!!asked("here")}
              className="aria-pressed:bg-ink aria-pressed:text-sheet"
              onClick={() => narrow("here", asked("here") ? ANY : "1")}
            >
              On hand only
            </Button>
            <Button
              aria-pressed={blind}
              className="aria-pressed:bg-ink aria-pressed:text-sheet"
              onClick={() => narrow("blind", blind ? ANY : "1")}
            >
              Blind
            </Button>
          </search>
          {rack.isPending && <Loading what="the shelves" />}
          {rack.error && !rack.data && (
            <Note title="The stock can't be shown" again>
              {rack.error.message}
            </Note>
          )}
          {rack.isFetchNextPageError && (
            <Note title="The rest of the stock can't be shown yet" again>
              {rack.error?.message}
            </Note>
          )}
          <p className="mb-1 text-faint text-sm" role="status">
            {totals
              ? `${totals.models.toLocaleString("en")} models, ${totals.sizes.toLocaleString("en")} sizes, ${totals.pairs.toLocaleString("en")} pairs on hand`
              : "counting …"}
            <span className="ml-4 max-md:hidden">
              A filled box: read inside. A grey one: learned from trials. An open one: by its label. Broken:
              out of it.
            </span>
          </p>
          <div className="grid grid-cols-[minmax(11rem,17rem)_1fr] gap-3 border-ink border-b pr-3 max-md:grid-cols-1">
            <span className="self-end pb-0.5 text-faint text-xs max-md:hidden">Model</span>
            <ShelfRuler />
          </div>
          <section ref={box} className="min-h-0 flex-1 overflow-auto pb-4" tabIndex={0} aria-label="The rack">
            {rack.data && !models.length && (
              <p className="flex flex-wrap items-center gap-3 p-4" role="status">
                Nothing of the kind on these shelves.
                {me.role === "manager" && BAR_CODE.test(query.text) && (
                  <Button onClick={() => setByHand({ id: null, gtin: query.text })}>
                    A new model with this bar code
                  </Button>
                )}
              </p>
            )}
            <ul className="relative" style={{ height: virtual.getTotalSize() }}>
              {items.map((item) => {
                const model = models[item.index];
                return model ? (
                  <li
                    key={item.key}
                    ref={virtual.measureElement}
                    data-index={item.index}
                    data-model={model.id}
                    className="absolute inset-x-0 border-line border-b"
                    style={{ transform: `translateY(${item.start}px)` }}
                  >
                    <Row
                      model={model}
                      called={blind ? `Shoe ${item.index + 1}` : null}
                      open={open === model.id}
                      toggle={() => setOpen(open === model.id ? null : model.id)}
                    />
                    {open === model.id && (
                      <Shelf
                        model={model}
                        called={blind ? `Shoe ${item.index + 1}` : null}
                        canCount={me.role === "manager" && !blind}
                        onSize={setSize}
                        onEdit={() => setByHand({ id: model.id })}
                      />
                    )}
                  </li>
                ) : null;
              })}
            </ul>
          </section>
        </main>
      </FrameContext.Provider>
      <Suspense>
        {size && <SizeDialog me={me} line={size.id} onClose={() => setSize(null)} />}
        {byHand && <ModelDialog {...byHand} onClose={() => setByHand(undefined)} />}
        {scanning && (
          <Scan
            onClose={() => setScanning(false)}
            onCode={(digits) => {
              setScanning(false);
              setText(digits);
            }}
          />
        )}
        {out && <TakeOut onClose={() => setOut(false)} />}
      </Suspense>
    </>
  );
}
