/** Spec: bands on scales, choices ranked, vetoes struck through, the mechanics drawn, and what moves when. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { useDesk, useTypedThere } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { useVocabulary } from "../../api/vocabulary";
import { BandScale } from "../../drawing/kit";
import { useKeys } from "../../shell/keys";
import { Announced } from "../../ui/Announced";
import { Button } from "../../ui/Button";
import { euText } from "../../ui/label";
import { choicesOf } from "../../ui/pair";
import { Loading } from "../../ui/words";
import { useBlind } from "../blind";
import { Station, Waiting } from "../Station";
import { Choices } from "./Choices";
import { CountsButton } from "./CountsButton";
import { SpecMargin, ToHeed, useHeed } from "./SpecMargin";
import { WeightDialog } from "./WeightDialog";
import { WhatIf } from "./WhatIf";

type Values = Record<string, unknown>;
/** The client reads pairs as plain arrays; the contract says they are pairs. */
type View = Schemas["SpecView"];

const Parts = lazy(() => import("./Parts").then((m) => ({ default: m.Parts })));
const Lifter = lazy(() => import("../../benches/Lifter").then((m) => ({ default: m.Lifter })));
const ToeOnEdge = lazy(() => import("../../benches/ToeOnEdge").then((m) => ({ default: m.ToeOnEdge })));
const OwnMechanics = lazy(() =>
  import("../../benches/OwnMechanics").then((m) => ({ default: m.OwnMechanics })),
);
const StudPlate = lazy(() => import("../../benches/StudPlate").then((m) => ({ default: m.StudPlate })));
const PedalStroke = lazy(() => import("../../benches/PedalStroke").then((m) => ({ default: m.PedalStroke })));
const HeelBehind = lazy(() => import("../../benches/HeelBehind").then((m) => ({ default: m.HeelBehind })));

/** Whether scales were last asked for, kept while the tab is open. */
const AS_SCALES = "kalon.spec.scales";

export default function Spec() {
  const { fitting, set, locked, bodies } = useDesk();
  const words = useVocabulary();
  const [tried, setTried] = useState<Values>({});
  const [asking, setAsking] = useState(false);
  const [weighing, setWeighing] = useState<string | null>(null);
  const [scales, setScales] = useState(() => sessionStorage.getItem(AS_SCALES) === "1");
  const trying = Object.keys(tried).length > 0;
  const { parts } = fitting;
  const version = parts.brief.version + parts.feet.version + parts.spec.version;
  const path = { fitting_id: fitting.id };
  const there = useTypedThere(fitting);
  const { nameOf } = useBlind();
  const now = useQuery({
    queryKey: ["of", fitting.id, "spec", version],
    queryFn: () => ask(http.GET("/api/fittings/{fitting_id}/spec", { params: { path } })) as Promise<View>,
    enabled: there,
    placeholderData: keepPreviousData,
  });
  const other = useQuery({
    queryKey: ["of", fitting.id, "what-if", version, tried],
    queryFn: () =>
      ask(
        http.POST("/api/fittings/{fitting_id}/spec/what-if", { params: { path }, body: { set: tried } }),
      ) as Promise<View>,
    enabled: trying,
    placeholderData: keepPreviousData,
  });
  const open = asking && !locked;
  const toggle = () => {
    setAsking(!asking);
    setTried({});
  };
  const asScales = (on: boolean) => {
    setScales(on);
    sessionStorage.setItem(AS_SCALES, on ? "1" : "0");
  };
  useKeys({ w: () => !locked && toggle(), s: () => asScales(!scales) });
  const view = trying && other.data ? other.data : now.data;
  const toHeed = useHeed(view?.spec);
  if (now.error && !now.data && there) return <Waiting message={now.error.message} />;
  if (!now.data || !view || !words.data) return <Loading what="the spec" />;
  const shown = view.spec;
  const was = trying && other.data ? now.data.spec : undefined;
  const sport = words.data.sports.find((s) => s.slug === shown.sport);
  const word = (value: string) => words.data?.values[value] ?? value.replaceAll("_", " ");
  const bands = Object.entries(shown.properties).sort(([, a], [, b]) => b.weight - a.weight);
  const worn = Object.fromEntries(Object.entries(view.present).map(([n, p]) => [n, p.value]));
  const heeded = toHeed.unasked || toHeed.heed.length > 0;
  const others = [
    ...(Object.keys(worn).length
      ? [{ name: "worn now", values: worn, features: bodies.brief.present?.features ?? {} }]
      : []),
    ...fitting.tray.map((p) => ({
      name: `${nameOf(p)} ${euText(p)}, ${p.width}`,
      values: p.properties,
      choices: choicesOf(p),
      features: p.features ?? {},
    })),
  ];
  return (
    <Station
      asked={
        ((open && sport) || heeded) && (
          <>
            {open && sport && (
              <WhatIf
                sport={sport}
                tried={tried}
                onTry={(v) => setTried({ ...tried, ...v })}
                moved={other.data?.moved}
                trouble={other.error?.message}
                onKeep={() => {
                  set("brief", tried);
                  setTried({});
                }}
                onBack={() => setTried({})}
              />
            )}
            {heeded && <ToHeed spec={shown} />}
          </>
        )
      }
      margin={
        <SpecMargin
          view={view}
          scales={sport?.scales ?? {}}
          rooms={words.data.rooms}
          choices={words.data.choices}
          features={words.data.features}
        />
      }
    >
      <Announced text={`${view.sentence} ${shown.cautions.length} cautions.`} />
      <div className="mb-2 flex items-start justify-between gap-4 max-md:block">
        <p data-sentence className="max-w-[44rem] font-semibold text-lg leading-snug">
          {view.sentence}
        </p>
        <span className="flex shrink-0 gap-2">
          <Button aria-pressed={scales} aria-keyshortcuts="s" onClick={() => asScales(!scales)}>
            Scales <span className="font-mono text-faint text-xs">S</span>
          </Button>
          {!locked && (
            <Button aria-expanded={open} onClick={toggle}>
              What if … <span className="font-mono text-faint text-xs">W</span>
            </Button>
          )}
        </span>
      </div>
      {trying && (
        <b className="mb-2 block w-fit border-2 border-ink border-dashed px-2 py-1">Tried, not kept</b>
      )}
      <Newer view={now.data} />
      <div className="grid grid-cols-[minmax(0,1fr)_350px] gap-6 max-lg:grid-cols-1">
        {!scales && (
          <Suspense fallback={<Loading what="the shoe" />}>
            <Parts
              view={view}
              was={was}
              scales={sport?.scales ?? {}}
              choices={words.data.choices}
              features={words.data.features}
              word={word}
              footMm={view.foot_mm}
              others={others}
              onWeigh={setWeighing}
            />
          </Suspense>
        )}
        {scales && (
          <section aria-label="Wanted, weightiest first">
            {bands.map(([name, band]) => {
              const scale = sport?.scales[name];
              if (!scale) return null;
              return (
                <figure
                  key={name}
                  data-band={name}
                  className="grid grid-cols-[1fr_6.4rem] border-line border-b"
                >
                  <div>
                    <figcaption className="pt-1 leading-tight">
                      <b>{scale.name}</b> {view.words[name]}{" "}
                      <span className="whitespace-nowrap font-mono text-faint text-sm">
                        {band.low}–{band.high}
                      </span>{" "}
                      <span className="text-faint text-sm">{scale.unit}</span>
                    </figcaption>
                    <BandScale
                      low={scale.low}
                      high={scale.high}
                      unit=""
                      band={band}
                      was={was?.properties[name]}
                      worn={view.present[name]}
                      width={372}
                      thick={6 + Math.min(band.weight, 2) * 5}
                    />
                  </div>
                  <CountsButton
                    weight={band.weight}
                    byHand={!!band.by_hand}
                    name={scale.name}
                    onClick={() => setWeighing(name)}
                  />
                </figure>
              );
            })}
            {Object.entries(shown.fit).map(([name, room]) => (
              <figure key={name} data-band={name} className="border-line border-b pr-[6.4rem]">
                <figcaption className="pt-1 leading-tight">
                  <b>{words.data.rooms[name]}</b>{" "}
                  <span className="font-mono text-sm">
                    {room.low} to {room.high}
                  </span>{" "}
                  <span className="text-faint text-sm">mm</span>
                </figcaption>
                <BandScale
                  low={words.data?.room_scale.low ?? 0}
                  high={words.data?.room_scale.high ?? 0}
                  unit=""
                  band={room}
                  was={was?.fit[name]}
                  width={372}
                  thick={9}
                />
              </figure>
            ))}
            {Object.keys(view.present).length > 0 && (
              <p className="text-faint text-sm">The black mark is the shoe worn now, and how sure that is.</p>
            )}
          </section>
        )}
        <div>
          <Suspense fallback={<Loading what="the mechanics" />}>
            <Mechanics view={view} word={word} />
            {[...new Set(fitting.tray.map((p) => p.model_id))].map((model) => (
              <OwnMechanics
                key={model}
                fitting={fitting.id}
                model={model}
                word={word}
                version={fitting.parts.brief.version}
                studsOnly
              />
            ))}
          </Suspense>
          <Choices spec={shown} names={words.data.choices} word={word} onWeigh={setWeighing} />
        </div>
      </div>
      {weighing && (
        <WeightDialog
          name={weighing}
          title={
            sport?.scales[weighing]?.name ??
            words.data.choices[weighing] ??
            words.data.features[weighing]?.name ??
            weighing
          }
          view={view}
          onClose={() => setWeighing(null)}
        />
      )}
    </Station>
  );
}

function Newer({ view }: { view: View }) {
  const { fitting, locked } = useDesk();
  const store = useStoreFitting();
  if (view.house_version === view.newest_house || locked) return null;
  return (
    <p className="flex items-center gap-2 text-sm">
      The house has changed since this fitting was begun; this one keeps version {view.house_version}.
      <Button
        onClick={async () =>
          store(
            await ask(
              http.POST("/api/fittings/{fitting_id}/spec/newest-house", {
                params: { path: { fitting_id: fitting.id } },
              }),
            ),
          )
        }
      >
        Take version {view.newest_house}
      </Button>
    </p>
  );
}

function Mechanics({ view, word }: { view: View; word: (value: string) => string }) {
  const m = view.mechanics;
  if (m.lifter) return <Lifter lifter={m.lifter} />;
  if (m.on_edge) return <ToeOnEdge edge={m.on_edge} />;
  if (m.on_ground) return <StudPlate ground={m.on_ground} word={word} />;
  if (m.rider) return <PedalStroke rider={m.rider} />;
  if (m.from_behind) return <HeelBehind heel={m.from_behind} />;
  return null;
}
