/** Pull: the stock in order, fit first; one shoe on the foot, in every size; the tray. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useLayoutEffect, useState } from "react";
import { Link } from "react-router";
import { ask, http, type Pair, type Schemas, type Side, Trouble } from "../../api/client";
import { useDesk, useTypedThere } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { useSizeWord } from "../../api/house";
import { useTray } from "../../api/tray";
import { useVocabulary } from "../../api/vocabulary";
import { FootInShoe } from "../../benches/FootInShoe";
import { HopeWithNumbers, useHope } from "../../drawing/Hope";
import { FitSwatch, GapScale } from "../../drawing/kit";
import { useKeys } from "../../shell/keys";
import { Announced } from "../../ui/Announced";
import { arrived, hold } from "../../ui/ahead";
import { Button } from "../../ui/Button";
import { price } from "../../ui/money";
import { heldWord, useUpperWord } from "../../ui/pair";
import { Select } from "../../ui/Select";
import { TakeAnyway } from "../../ui/TakeAnyway";
import { Heading, Loading, MARKS } from "../../ui/words";
import { useBlind } from "../blind";
import { Station, ToAcknowledge, Waiting } from "../Station";
import { NotHere } from "./NotHere";

type Place = Schemas["PlaceOut"];

const Against = lazy(() => import("./Against").then((m) => ({ default: m.Against })));

export default function Pull() {
  const { fitting } = useDesk();
  const version = fitting.parts.brief.version + fitting.parts.feet.version + fitting.parts.spec.version;
  const [shown, setShown] = useState<{ model: string; width: Pair["width"] } | null>(null);
  const { blind, asked, ask: askBlind } = useBlind();
  const words = useVocabulary();
  const [like, setLike] = useState("");
  const there = useTypedThere(fitting.id);
  const sport = fitting.parts.brief.body.sport;
  const models = useQuery({
    queryKey: ["models", sport],
    queryFn: () => ask(http.GET("/api/stock/models", { params: { query: { sport: sport ?? "" } } })),
    enabled: !!sport,
    staleTime: 60_000,
  });
  const list = useQuery({
    queryKey: ["of", fitting.id, "pull", version, like],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/pull", {
          params: { path: { fitting_id: fitting.id }, query: like ? { like } : {} },
        }),
      ),
    enabled: there,
    // Only another order of the same shelf may stand in: after an edit the old one is no answer.
    placeholderData: (last, asked) =>
      asked?.queryKey[1] === fitting.id && asked.queryKey[3] === version ? last : undefined,
  });
  // While the shelves are on their way, or come anew after an edit, keys are meant for them.
  const listing = list.isLoading;
  useLayoutEffect(() => {
    if (!listing) return;
    hold("shelves");
    return () => void arrived("shelves");
  }, [listing]);
  const liked = models.data?.find((m) => m.id === like);
  const places = list.data?.places ?? [];
  const first = places[0];
  const chosen = shown ?? { model: first?.pair.model_id ?? "", width: first?.pair.width ?? "regular" };
  const at = places.findIndex((p) => p.pair.model_id === chosen.model);
  const walk = (by: number) => {
    const next = places[at + by]?.pair;
    if (!next) return;
    setShown({ model: next.model_id, width: next.width });
    document.querySelector(`[data-model="${next.model_id}"]`)?.scrollIntoView({ block: "nearest" });
  };
  useKeys({ ArrowUp: () => walk(-1), ArrowDown: () => walk(1) });
  if (list.error && !list.data && there) return <Waiting message={list.error.message} />;
  if (!list.data) return <Loading what="the shelves" />;
  const { vetoed } = list.data;
  if (!first) {
    return (
      <>
        <Waiting message="Nothing on the shelves serves this brief." />
        <div className="w-60 pl-6">
          <NotHere />
        </div>
      </>
    );
  }
  const place = places[at];
  const name = (pair: Pair) =>
    blind ? `Shoe ${places.findIndex((p) => p.pair.model_id === pair.model_id) + 1}` : pair.name;
  return (
    <Station
      margin={
        <PullMargin
          place={place}
          vetoed={vetoed}
          notes={list.data.foot_notes}
          liked={liked && !blind ? liked.name : liked ? "the pair they like" : ""}
        />
      }
    >
      <div className="grid h-full grid-cols-[236px_1fr] gap-5 max-lg:grid-cols-1">
        <section aria-label="Shoes in order" className="min-h-0 overflow-auto pr-1 max-lg:max-h-72">
          <label className="mb-1 flex min-h-11 items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="size-5"
              checked={asked}
              disabled={fitting.state !== "open"}
              onChange={(e) => askBlind(e.target.checked)}
            />
            Judge blind
            {asked && !blind && <span className="text-faint">: every pair is scored</span>}
          </label>
          <NewerLearned />
          {list.data.surer && (
            <p className="mb-1.5 border-madder border-l-4 pl-2 text-sm leading-tight" data-surer>
              {list.data.surer.text}
              <Link
                to={`/fittings/${fitting.id}/feet`}
                className="flex min-h-11 w-fit items-center underline"
              >
                measure it
              </Link>
            </p>
          )}
          <Select
            className="mb-1.5"
            label="Like the pair they like"
            value={like}
            empty="in order of fit"
            options={[
              { value: "none", text: "in order of fit" },
              ...(models.data ?? []).map((m) => ({ value: m.id, text: `${m.name}, ${m.maker}` })),
            ]}
            onChange={(v) => {
              setLike(v === "none" ? "" : v);
              setShown(null);
            }}
            // The arrows are the list's again.
            after={() => document.querySelector("main")}
          />
          <ol>
            {places.map((p, i) => (
              <li key={p.pair.model_id}>
                <button
                  type="button"
                  aria-pressed={p.pair.model_id === chosen.model}
                  data-model={p.pair.model_id}
                  onClick={() => setShown({ model: p.pair.model_id, width: p.pair.width })}
                  className={`mb-1 grid min-h-14 w-full grid-cols-[1.4rem_1fr_auto] items-center gap-1 border px-2 py-1 text-left leading-tight ${p.pair.model_id === chosen.model ? "border-2 border-ink bg-paper" : "border-line bg-sheet"}`}
                >
                  <span className="font-mono text-faint text-sm">{i + 1}</span>
                  <span>
                    <b>{name(p.pair)}</b>
                    <span className="block text-faint text-xs">
                      {!blind && `${p.pair.maker} · `}
                      {p.pair.width}
                      {p.over_budget && !blind && <b> · over budget</b>}
                      {!!p.pair.also_pulled && <b> · {heldWord(p.pair)}</b>}
                    </span>
                  </span>
                  <span className="text-right">
                    <span className="font-mono font-semibold">{p.pair.eu_label}</span>
                    <span className="block text-faint text-xs" title={p.doubt}>
                      {words.data?.values[p.hope]}
                    </span>
                    {p.like && (
                      <span className="block font-mono text-xs" data-like={p.like.like}>
                        {likeWord(p.like)}
                      </span>
                    )}
                  </span>
                </button>
              </li>
            ))}
          </ol>
          {list.data.of > places.length && (
            <p className="px-2 text-faint text-sm">
              The first {places.length} of {list.data.of.toLocaleString("en")}.
            </p>
          )}
          {!blind && fitting.state === "open" && <NotHere />}
          {vetoed.map((v) => (
            <p key={v.maker + v.name} className="mb-1 px-2 text-sm">
              <s className="decoration-2 decoration-madder">{blind ? "One shoe" : v.name}</s>{" "}
              <span className="text-faint">{v.text}</span>
            </p>
          ))}
          {list.data.vetoed_of > vetoed.length && (
            <p className="px-2 text-faint text-sm">
              {(list.data.vetoed_of - vetoed.length).toLocaleString("en")} more are ruled out.
            </p>
          )}
        </section>
        <OneShoe
          key={`${chosen.model}${chosen.width}`}
          model={chosen.model}
          width={chosen.width}
          blind={blind}
          name={name}
          version={version}
          start={place?.pair.eu_label ?? null}
        />
      </div>
    </Station>
  );
}

/** More is known of makers and uppers than when this fitting began: one press takes it. */
function NewerLearned() {
  const { fitting, locked } = useDesk();
  const store = useStoreFitting();
  const client = useQueryClient();
  const take = useMutation({
    mutationFn: () =>
      ask(
        http.POST("/api/fittings/{fitting_id}/learned/newest", {
          params: { path: { fitting_id: fitting.id } },
        }),
      ),
    onSuccess: (whole) => {
      store(whole);
      void client.invalidateQueries({ queryKey: ["of", fitting.id] });
    },
  });
  if (!locked && fitting.learned_lain && fitting.learned >= fitting.learned_newest)
    return (
      <p className="mb-1.5 border-ink border-l-4 pl-2 text-sm leading-tight" data-lain>
        This fitting lay for two months: what was known of shoes when it began is no longer kept. It is
        computed with what is known now.
      </p>
    );
  if (locked || fitting.learned >= fitting.learned_newest) return null;
  return (
    <p className="mb-1.5 border-ink border-l-4 pl-2 text-sm leading-tight" data-newer-learned>
      More was learned of these shoes since the fitting began.
      <button
        type="button"
        className="flex min-h-11 w-fit items-center underline"
        disabled={take.isPending}
        onClick={() => take.mutate()}
      >
        take what is known now
      </button>
      {take.error && <span role="alert">{take.error.message}</span>}
    </p>
  );
}

interface OneShoeProps {
  model: string;
  width: Pair["width"];
  blind: boolean;
  name: (pair: Pair) => string;
  version: number;
  /** The size the list put this shoe at. */
  start: number | null;
}

function OneShoe({ model, width, blind, name, version, start }: OneShoeProps) {
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
  const called = shoe.data ? `${name(shoe.data.pair)} EU ${sizes[at]?.label}` : "";
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
              {size.label === pair.eu_label ? sizeWord(pair) : `EU ${size.label}`}
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
      <Announced text={`${name(pair)}, EU ${size.label}: ${size.verdict}`} />
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
            <b className="font-mono">EU {s.label}</b>
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

function PullMargin({
  place,
  vetoed,
  notes,
  liked,
}: {
  place: Place | undefined;
  /** What the pair they like is called here; empty when none was named. */
  liked: string;
  vetoed: Schemas["RuledOut"][];
  notes: string[];
}) {
  return (
    <>
      {place && (
        <>
          {place.like && (
            <>
              <Heading>Beside {liked}</Heading>
              {!place.like.differs.length && <p>Alike in all that is known of both.</p>}
              <ul className="space-y-1" data-differs>
                {place.like.differs.map((d) => (
                  <li key={d.text}>{d.text}</li>
                ))}
              </ul>
              <p className="text-faint text-sm">
                Of what is known of either, {Math.round(place.like.known * 100)} in 100 is known of both.
              </p>
            </>
          )}
          <Heading>What helps</Heading>
          <ul className="space-y-1">
            {place.helps.map((p) => (
              <li key={p.text}>{p.text}</li>
            ))}
          </ul>
          <Heading>What costs</Heading>
          {!place.costs.length && <p className="text-faint">Nothing.</p>}
          <ul className="space-y-1">
            {place.costs.map((p) => (
              <li key={p.text}>{p.text}</li>
            ))}
          </ul>
          {place.lift && <p className="mt-2 text-faint">{place.lift}</p>}
          {place.asks.map((a) => (
            <p key={a} className="mt-2 border-madder border-l-4 pl-2" data-ask>
              {a}
            </p>
          ))}
          {place.unknown.length > 0 && (
            <p className="mt-2 text-faint text-sm">
              Not known of it: {place.unknown.join(", ")}. What is known is {Math.round(place.known * 100)} in
              100 of the spec.
            </p>
          )}
          <p className="mt-2 font-mono text-sm">
            fit {place.fit.toFixed(2)} · spec {place.spec?.toFixed(2) ?? "?"} · score {place.score.toFixed(2)}
          </p>
        </>
      )}
      <Heading>How the drawing tells fit</Heading>
      <ul className="space-y-1">
        {(["slack", "snug", "tight", "too_tight"] as const).map((w) => (
          <li key={w}>
            <FitSwatch word={w} />
          </li>
        ))}
      </ul>
      <p className="mt-1 text-faint text-sm">
        Hollow mark new, full mark settled; the thin bar is how sure (95 in 100).
      </p>
      <Heading>The foot counted</Heading>
      {notes.map((n) => (
        <p key={n} className="text-faint text-sm">
          {n}
        </p>
      ))}
      {vetoed.length > 0 && <Heading>Ruled out</Heading>}
      {[...new Map(vetoed.map((v) => [v.rule, v])).values()].map((v) => (
        <p key={v.rule} className="text-sm">
          {v.text} <span className="text-faint text-xs">{MARKS[v.mark]}</span>
        </p>
      ))}
    </>
  );
}

/** How like another shoe it is, in words. */
function likeWord(like: { like: number; known: number }): string {
  if (like.known < 0.3) return "hardly known";
  if (like.like >= 0.995) return "itself, or its twin";
  return like.like >= 0.82 ? "much alike" : like.like >= 0.65 ? "somewhat alike" : "unlike";
}
