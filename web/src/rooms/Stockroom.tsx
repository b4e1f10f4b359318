// biome-ignore-all lint/a11y/useSemanticElements: a table of which only the rows in sight are drawn can have no elements of its own.
// biome-ignore-all lint/a11y/useFocusableInteractive: nor is a heading or a row a control.
/** Every stock line: what is on hand, and its inner measures. */
import { useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useDeferredValue, useRef, useState, useSyncExternalStore } from "react";
import { ask, http, type Pair, type Schemas } from "../api/client";
import { allMoves, count, countAgain, dropMove, subscribeMoves } from "../api/moves";
import { useArrival } from "../ui/ahead";
import { Button } from "../ui/Button";
import { Loading, Note } from "../ui/words";

const COLUMNS =
  "grid grid-cols-[minmax(12rem,2fr)_6rem_6rem_5rem_4rem_repeat(4,4.6rem)_7.5rem] items-center gap-2 px-2 max-lg:grid-cols-[minmax(9rem,2fr)_5rem_5rem_4rem_3rem_8rem]";
/** The inner measures are left out where there is no room for them. */
const MEASURE = "max-lg:hidden";
const ROW = 48;

export default function Stockroom({ me }: { me: Schemas["Me"] }) {
  const [text, setText] = useState("");
  const wanted = useDeferredValue(text);
  const list = useQuery({
    queryKey: ["stock", wanted],
    queryFn: () => ask(http.GET("/api/stock", { params: { query: { text: wanted } } })),
    placeholderData: (old) => old,
  });
  const rows = list.data ?? [];
  useArrival();
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  return (
    <>
      <title>Stockroom · Kalon</title>
      <main className="flex min-h-0 min-w-0 flex-1 flex-col px-8 pt-4 max-md:px-4" tabIndex={-1}>
        <header className="mb-3 flex items-end justify-between">
          <h1 className="font-semibold text-3xl tracking-tight">Stockroom</h1>
          <label className="text-faint text-xs">
            Maker, model, sport, size or width
            <input
              value={text}
              onChange={(e) => setText(e.target.value)}
              className="block min-h-11 w-72 border border-ink/45 bg-sheet px-2.5 text-base text-ink"
            />
          </label>
        </header>
        {list.isPending && <Loading what="the shelves" />}
        {list.error && <Note title="The stock can't be shown">{list.error.message}</Note>}
        <p className="mb-1 text-faint text-sm" role="status">
          {rows.length} lines, {rows.reduce((n, r) => n + r.on_hand, 0)} pairs on hand
        </p>
        <section
          ref={box}
          className="min-h-0 flex-1 overflow-auto pb-4"
          tabIndex={0}
          aria-label="Stock lines"
        >
          <div role="table" aria-label="Stock lines" aria-rowcount={rows.length + 1}>
            <div
              role="row"
              aria-rowindex={1}
              className={`${COLUMNS} sticky top-0 z-10 border-ink border-b bg-paper py-1 text-faint text-xs`}
            >
              {[
                "Model",
                "Sport",
                "Upper",
                "Width",
                "EU",
                "Length mm",
                "Ball mm",
                "Instep mm",
                "Heel mm",
                "On hand",
              ].map((h) => (
                <span key={h} role="columnheader" className={h.endsWith(" mm") ? MEASURE : ""}>
                  {h}
                </span>
              ))}
            </div>
            <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
              {virtual.getVirtualItems().map((item) => {
                const row = rows[item.index];
                return row ? (
                  <Line
                    key={row.id}
                    row={row}
                    index={item.index}
                    top={item.start}
                    canCount={me.role === "manager"}
                  />
                ) : null;
              })}
            </div>
          </div>
        </section>
      </main>
    </>
  );
}

interface LineProps {
  row: Pair;
  index: number;
  top: number;
  canCount: boolean;
}

function Line({ row, index, top, canCount }: LineProps) {
  const moves = useSyncExternalStore(subscribeMoves, allMoves).filter((m) => m.line === row.id);
  const shown = row.on_hand + moves.filter((m) => !m.refused).reduce((n, m) => n + m.by, 0);
  const failed = moves.find((m) => m.refused) ?? moves.find((m) => m.trouble);
  /** Those the message is about: the one refused, or all that wait together. */
  const told = failed?.refused ? [failed] : moves.filter((m) => !m.refused);
  const by = told.reduce((n, m) => n + m.by, 0);
  const step = (by: number) => count(row.id, by);
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      data-line={row.id}
      className={`${COLUMNS} absolute inset-x-0 border-line border-b`}
      style={{ top, height: ROW }}
    >
      <span role="cell">
        <b>{row.name}</b> <span className="text-faint text-sm">{row.maker}</span>
      </span>
      {failed ? (
        <span
          role="cell"
          className="col-span-8 flex items-center gap-2 text-madder text-sm leading-tight lg:whitespace-nowrap max-lg:col-span-4"
        >
          <span role="alert">
            {by < 0 ? "−" : "+"}
            {Math.abs(by)}{" "}
            {failed.refused ? `was not counted: ${failed.trouble}` : "is kept here and sent again"}
          </span>
          <Button kind="quiet" onClick={() => countAgain(failed)}>
            Again
          </Button>
          <Button
            kind="quiet"
            onClick={() => {
              for (const m of told) dropMove(m.id);
            }}
          >
            Let it go
          </Button>
        </span>
      ) : (
        <>
          <span role="cell" className="text-sm">
            {row.sport}
          </span>
          <span role="cell" className="text-sm">
            {row.upper.replaceAll("_", " ")}
          </span>
          <span role="cell" className="text-sm">
            {row.width}
          </span>
          <span role="cell" className="font-mono font-semibold">
            {row.eu_label}
          </span>
          {[row.length_mm, row.ball_girth_mm, row.instep_girth_mm, row.heel_width_mm].map((mm, i) => (
            <span key={i} role="cell" className={`font-mono text-sm ${MEASURE}`}>
              {mm.toFixed(1)}
            </span>
          ))}
        </>
      )}
      <span
        role="cell"
        data-on-hand={shown}
        data-moving={moves.length}
        className={`flex items-center gap-1 font-mono ${shown ? "" : "text-madder"}`}
      >
        {canCount && (
          <button
            type="button"
            className="size-11"
            aria-label={`One ${row.name} ${row.eu_label} less`}
            disabled={shown < 1}
            onClick={() => step(-1)}
          >
            −
          </button>
        )}
        {shown || "none"}
        {canCount && (
          <button
            type="button"
            className="size-11"
            aria-label={`One ${row.name} ${row.eu_label} more`}
            onClick={() => step(1)}
          >
            +
          </button>
        )}
      </span>
    </div>
  );
}
