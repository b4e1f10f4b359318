/** A model on the shelf: its row, and its sizes by width. */
import { useState } from "react";
import type { RackModel, RackSize } from "../../api/rack";
import { useVocabulary } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { money, price } from "../../ui/money";
import { useUpperWord } from "../../ui/pair";
import { Labels } from "./Labels";
import { Line } from "./Line";
import { clearEnd, Strip } from "./Strip";

export const byWidth = (sizes: RackSize[]): [string, RackSize[]][] =>
  [...new Set(sizes.map((s) => s.width))].map((w) => [w, sizes.filter((s) => s.width === w)]);

interface RowProps {
  model: RackModel;
  /** What it goes by where names are hidden. */
  called: string | null;
  open: boolean;
  toggle: () => void;
}

export function Row({ model, called, open, toggle }: RowProps) {
  return (
    <button
      type="button"
      aria-expanded={open}
      onClick={toggle}
      className="grid min-h-14 w-full grid-cols-[minmax(11rem,17rem)_1fr] items-center gap-3 py-1 text-left hover:bg-sheet max-md:grid-cols-1 max-md:gap-0"
    >
      <span className="min-w-0 leading-tight">
        <b>{called ?? model.name}</b> <span className="text-faint text-sm">{called ? "" : model.maker}</span>
        <span className="block text-faint text-sm">
          {model.sport}
          {!called && `, ${price(model.now_minor, model.currency)}`}
          {!called && model.now_minor !== model.price_minor && model.price_minor !== null && (
            <>
              {" "}
              <s>{money(model.price_minor, model.currency)}</s>
            </>
          )}
        </span>
      </span>
      <span>
        {byWidth(model.sizes).map(([width, sizes]) => (
          <span key={width} className="relative block">
            {width !== "regular" && (
              <span
                className={`absolute top-0 text-faint text-xs leading-none ${clearEnd(sizes) === "left" ? "left-0" : "right-0"}`}
              >
                {width}
              </span>
            )}
            <Strip sizes={sizes} width={width} />
          </span>
        ))}
      </span>
    </button>
  );
}

interface ShelfProps {
  model: RackModel;
  called: string | null;
  canCount: boolean;
  onSize: (size: RackSize) => void;
  onEdit: () => void;
}

export function Shelf({ model, called, canCount, onSize, onEdit }: ShelfProps) {
  const upperWord = useUpperWord();
  const words = useVocabulary().data;
  const [labels, setLabels] = useState(false);
  const purposes = words?.sports.find((s) => s.slug === model.sport)?.purposes ?? [];
  const meant = purposes.filter((p) => model.meant_for.includes(p.value)).map((p) => p.text);
  const said = [
    ...(meant.length ? [`meant for ${meant.join(", ")}`] : []),
    ...Object.entries(model.choices).map(
      ([n, v]) => `${words?.choices[n] ?? n}: ${words?.values[v] ?? v.replaceAll("_", " ")}`,
    ),
    ...Object.entries(model.features).flatMap(([n, has]) => (has ? [words?.features[n]?.name ?? n] : [])),
  ];
  return (
    <section aria-label={called ?? `${model.maker} ${model.name}`} className="mb-2 bg-sheet px-3 pb-2">
      <div className="flex items-center justify-between gap-3">
        <p className="py-1 text-sm">
          {model.retired && <b>Retired. </b>}
          {[upperWord(model.upper), ...said].join(" · ")}
        </p>
        <span className="flex shrink-0 whitespace-nowrap">
          <Button kind="quiet" onClick={() => setLabels(true)}>
            Labels
          </Button>
          {canCount && (
            <Button kind="quiet" onClick={onEdit}>
              Change the model
            </Button>
          )}
        </span>
        {labels && (
          <Labels title={called ?? model.name} lines={model.sizes} onClose={() => setLabels(false)} />
        )}
      </div>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(16rem,1fr))] gap-x-5">
        {model.sizes.map((s) => (
          <Line
            key={s.id}
            row={s}
            name={called ?? model.name}
            blind={!!called}
            canCount={canCount}
            onOpen={() => onSize(s)}
          />
        ))}
      </ul>
    </section>
  );
}
