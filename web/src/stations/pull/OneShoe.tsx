/** One shoe on the foot, in every size it is made in; into the tray and back. */
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useLayoutEffect, useState } from "react";
import { ask, http, type Pair, type Schemas, type Side, Trouble } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useSizeWord } from "../../api/house";
import { useTray } from "../../api/tray";
import { useVocabulary } from "../../api/vocabulary";
import { FootInShoe } from "../../benches/FootInShoe";
import { GapScale } from "../../drawing/GapScale";
import { HopeWithNumbers, useHope } from "../../drawing/Hope";
import { useKeys } from "../../shell/keys";
import { Announced } from "../../ui/Announced";
import { arrived, hold } from "../../ui/ahead";
import { Button } from "../../ui/Button";
import { price } from "../../ui/money";
import { boxOf, useUpperWord } from "../../ui/pair";
import { TakeAnyway } from "../../ui/TakeAnyway";
import { Loading } from "../../ui/words";
import { BesideEachOther } from "../Beside";
import { ToAcknowledge } from "../Station";

const Against = lazy(() => import("./Against").then((m) => ({ default: m.Against })));

interface OneShoeProps {
  model: string;
  width: Pair["width"];
  blind: boolean;
  name: (pair: Pair) => string;
  version: number;
  /** The size the list put this shoe at. */
  start: number | null;
}

export function OneShoe({ model, width, blind, name, version, start }: OneShoeProps) {
  const { fitting, bodies, locked } = useDesk();
  const words = useVocabulary();
  const sizeWord = useSizeWord();
  const upperWord = useUpperWord();
  const [label, setLabel] = useState<number | null>(start);
  const [against, setAgainst] = useState(false);
  const path = { fitting_id: fitting.id };
  const shoe = useQuery({
    queryKey: ["of", fitting.id, "shoe", model, width, version],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/pull/{model_id}/{width}", {
          params: { path: { ...path, model_id: model, width } },
        }),
      ),
  });
  const tray = useTray(fitting.id, () => void arrived("tray"));
  // Keys pressed while the shoe is on its way are meant for it.
  const coming = shoe.isPending && shoe.fetchStatus === "fetching";
  useLayoutEffect(() => {
    if (!coming) return;
    hold("shoe");
    return () => void arrived("shoe");
  }, [coming]);
  const sizes = shoe.data?.fit.sizes ?? [];
  const at = sizes.findIndex((s) => s.label === (label ?? shoe.data?.pair.eu_label));
  const step = (by: number) => {
    const next = sizes[at + by];
    if (next) setLabel(next.label);
  };
  const line = shoe.data?.lines[at];
  const inTray = fitting.tray.some((p) => p.id === line?.id);
  const called = shoe.data ? `${name(shoe.data.pair)} ${boxOf(sizes[at])}` : "";
  const move = (out: boolean) => {
    if (!line || locked || tray.isPending || out !== inTray || (!out && line.on_hand < 1)) return;
    hold("tray");
    tray.mutate({ line: line.id, out, name: called });
  };
  useKeys({
    "[": () => step(-1),
    "]": () => step(1),
    Enter: () => move(false),
    Delete: () => move(true),
  });
  useEffect(() => tray.reset(), [label]);
  if (shoe.error && !shoe.data) return <p role="alert">{shoe.error.message}</p>;
  const size = sizes[at];
  if (!shoe.data || !size || !line) return <Loading what="the shoe" />;
  const { pair } = shoe.data;
  const side: Side = size.zones[0]?.foot ?? "left";
  const governing = Object.fromEntries(
    size.zones.map((z) => [
      z.zone,
      Math.max(shoe.data.foot_mm.left?.[z.zone] ?? 0, shoe.data.foot_mm.right?.[z.zone] ?? 0),
    ]),
  );
  return (
    <section aria-label="The shoe on the foot" className="min-w-0">
      <header className="mb-1 flex flex-wrap items-center justify-between gap-2">
        <h2 className="font-semibold text-lg leading-tight">
          {name(pair)}
          <span className="block font-normal text-faint text-sm">
            {!blind && `${pair.maker} · ${price(pair.price_minor, pair.currency)} · `}
            {upperWord(pair.upper)}, {pair.width}
          </span>
        </h2>
        <fieldset className="flex items-center gap-1" aria-label="Size">
          <Button
            onClick={() => step(-1)}
            disabled={at <= 0}
            aria-keyshortcuts="["
            aria-label="Half a size down"
          >
            [
          </Button>
          <span className="min-w-24 text-center leading-tight">
            <span className="font-mono font-semibold text-lg" data-size={size.label}>
              {size.label === pair.eu_label ? sizeWord(pair) : boxOf(size)}
            </span>
            <span className="block text-faint text-xs">
              {shoe.data.fit.recommended === size.label
                ? "recommended"
                : line.on_hand
                  ? `${line.on_hand} on hand`
                  : "sold out"}
            </span>
          </span>
          <Button
            onClick={() => step(1)}
            disabled={at >= sizes.length - 1}
            aria-keyshortcuts="]"
            aria-label="Half a size up"
          >
            ]
          </Button>
          <Button
            kind="strong"
            onClick={() => move(inTray)}
            disabled={locked || (!inTray && line.on_hand < 1)}
            aria-busy={tray.isPending}
            aria-keyshortcuts={inTray ? "Delete" : "Enter"}
          >
            {inTray ? "Put back" : "Into the tray"}
          </Button>
        </fieldset>
      </header>
      {tray.error instanceof Trouble && tray.error.problem.code === "held" && (
        <TakeAnyway
          message={tray.error.message}
          verb="Into the tray all the same"
          busy={tray.isPending}
          onTake={(anyway) => tray.mutate({ line: line.id, out: false, anyway, name: called })}
        />
      )}
      {tray.error && !(tray.error instanceof Trouble && tray.error.problem.code === "held") && (
        <p role="alert" className="mb-1 border-madder border-l-4 pl-2">
          {tray.error.message}{" "}
          {tray.error instanceof Trouble && tray.error.problem.code === "caution-open" && <ToAcknowledge />}
        </p>
      )}
      <div className="grid grid-cols-[410px_1fr] gap-3 max-md:grid-cols-1">
        <FootInShoe
          zones={size.zones}
          foot={governing}
          side={side}
          width={410}
          asymmetry={pair.properties.asymmetry_deg ?? 5}
          toes={bodies.feet[side]?.toe_shape ?? "first_longest"}
        />
        <Neighbours
          sizes={sizes}
          at={at}
          recommended={shoe.data.fit.recommended ?? null}
          lines={shoe.data.lines}
          onPick={setLabel}
        />
      </div>
      <GapScale zones={size.zones} names={words.data?.zones ?? {}} width={560} />
      <p data-verdict>{size.verdict}</p>
      <HopeWithNumbers size={size} />
      <BesideEachOther also={line.on_hand > 0 ? line.id : undefined} first={line.id} />
      <details
        className="mt-1"
        onToggle={(e) => setAgainst(e.currentTarget.open)}
        data-against={against || undefined}
      >
        <summary className="flex min-h-11 cursor-pointer items-center font-semibold">
          Laid into the wanted shoe
        </summary>
        {against && (
          <Suspense fallback={<Loading what="the wanted shoe" />}>
            <Against pair={pair} label={size.label} name={name(pair)} version={version} />
          </Suspense>
        )}
      </details>
      <Announced text={`${name(pair)}, ${boxOf(size)}: ${size.verdict}`} />
    </section>
  );
}

/** The sizes beside this one. */
function Neighbours(props: {
  sizes: Schemas["SizeFit"][];
  at: number;
  recommended: number | null;
  lines: Schemas["SizeLine"][];
  onPick: (label: number) => void;
}) {
  const hope = useHope();
  const from = Math.max(Math.min(props.at - 1, props.sizes.length - 3), 0);
  return (
    <ul className="grid content-start gap-1.5 max-md:grid-cols-3">
      {props.sizes.slice(from, from + 3).map((s, i) => (
        <li key={s.label}>
          <button
            type="button"
            aria-pressed={from + i === props.at}
            onClick={() => props.onPick(s.label)}
            className={`h-full min-h-11 w-full border px-2 py-1 text-left text-xs leading-tight ${from + i === props.at ? "border-2 border-ink" : "border-line"} bg-sheet`}
          >
            <b className="font-mono">{boxOf(s)}</b>
            {props.recommended === s.label && " recommended"}
            {props.lines[from + i]?.on_hand === 0 && " sold out"}
            <span className="block text-faint">
              {hope(s)} {s.verdict}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
