/** Pull: the stock in order, fit first; one shoe on the foot, in every size; the tray. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useLayoutEffect, useState } from "react";
import { Link } from "react-router";
import { ask, http, type Pair, type Schemas } from "../../api/client";
import { useDesk, useTypedThere } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { useVocabulary } from "../../api/vocabulary";
import { useKeys } from "../../shell/keys";
import { arrived, hold } from "../../ui/ahead";
import { euText } from "../../ui/label";
import { heldWord } from "../../ui/pair";
import { Select } from "../../ui/Select";
import { Loading } from "../../ui/words";
import { useBlind } from "../blind";
import { Station, Waiting } from "../Station";
import { NotHere } from "./NotHere";
import { OneShoe } from "./OneShoe";
import { likeWord, PullMargin } from "./PullMargin";

export type Place = Schemas["PlaceOut"];

export default function Pull() {
  const { fitting } = useDesk();
  const version = fitting.parts.brief.version + fitting.parts.feet.version + fitting.parts.spec.version;
  const [shown, setShown] = useState<{ model: string; width: Pair["width"] } | null>(null);
  const { blind, asked, ask: askBlind } = useBlind();
  const words = useVocabulary();
  const [like, setLike] = useState("");
  const there = useTypedThere(fitting);
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
                    <span className="font-mono font-semibold">{euText(p.pair)}</span>
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
