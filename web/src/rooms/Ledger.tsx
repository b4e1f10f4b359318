/** The ledger: what the chain has learned of makers, models and uppers, what it rests on, and how often it came true. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, http, type Schemas } from "../api/client";
import { useVocabulary, useZones } from "../api/vocabulary";
import { signed } from "../drawing/kit";
import { Heading, Loading, Note } from "../ui/words";
import { CameTrue, GiveCurve, Habit, HabitRuler, Moved } from "./LedgerDrawings";
import { Evidence } from "./LedgerEvidence";
import { Fitters } from "./LedgerFitters";
import { RoomPage } from "./RoomPage";

type Maker = Schemas["LedgerMaker"];

export default function Ledger({ me }: { me: Schemas["Me"] }) {
  const ledger = useQuery({ queryKey: ["ledger"], queryFn: () => ask(http.GET("/api/ledger")) });
  const [open, setOpen] = useState<string | null>(null);
  const [upper, setUpper] = useState<string | null>(null);
  const zones = useZones();
  const words = useKindWords();
  if (ledger.isPending) return <Loading what="the ledger" />;
  if (!ledger.data)
    return (
      <RoomPage title="Ledger">
        <Note title="The ledger can't be shown" again>
          {ledger.error?.message}
        </Note>
      </RoomPage>
    );
  const { makers, gives, calibration, wrong, teach, version, changed, parked } = ledger.data;
  return (
    <RoomPage
      title="Ledger"
      side={
        me.role === "manager" ? (
          <a
            href="/api/export/learned.xlsx"
            className="inline-flex min-h-11 items-center rounded-sm border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper"
          >
            Take it out as a sheet
          </a>
        ) : null
      }
    >
      {!makers.length && (
        <p>
          Nothing is learned yet. Every verdict in a trial, every reading inside a shoe and every follow-up is
          learned from as it comes.
        </p>
      )}
      {teach && (
        <p className="mb-3 border-madder border-l-4 pl-3" data-teach>
          <b>What would teach most next.</b> {teach.text}{" "}
          <Link
            to={`/stockroom?find=${encodeURIComponent(teach.maker)}`}
            className="inline-flex min-h-11 items-center underline"
          >
            To the shelf
          </Link>
        </p>
      )}
      {[...changed, ...parked].map((text) => (
        <p key={text} className="mb-3 border-madder border-l-4 pl-3" data-noticed>
          {text}
        </p>
      ))}
      {makers.length > 0 && (
        <section aria-label="Makers" className="max-w-5xl">
          <Heading>Makers: inside length against the label</Heading>
          <div className="grid grid-cols-[15rem_1fr] gap-4 border-ink border-b max-md:grid-cols-1">
            <span className="self-end text-faint text-xs">Version {version} of what was learned</span>
            <HabitRuler />
          </div>
          <ul>
            {makers.map((m) => (
              <li key={m.maker} data-maker={m.maker} className="border-line border-b">
                <button
                  type="button"
                  aria-expanded={open === m.maker}
                  onClick={() => setOpen(open === m.maker ? null : m.maker)}
                  className="grid min-h-14 w-full grid-cols-[15rem_1fr] items-center gap-4 py-1 text-left hover:bg-sheet max-md:grid-cols-1"
                >
                  <span className="leading-tight">
                    <b>{m.maker}</b>
                    <span className="block text-faint text-sm">
                      {m.text.replace(`${m.maker} shoes `, "")}
                    </span>
                  </span>
                  <Habit known={m.zones.find((z) => z.zone === "length")} name={m.maker} />
                </button>
                {open === m.maker && <OneMaker maker={m} zones={zones} manages={me.role === "manager"} />}
              </li>
            ))}
          </ul>
        </section>
      )}
      {gives.length > 0 && (
        <section aria-label="Uppers" className="mt-6 max-w-5xl">
          <Heading>Uppers: how much they give, against the table</Heading>
          <ul className="grid grid-cols-2 gap-x-8 max-lg:grid-cols-1">
            {gives.map((g) => (
              <li key={g.kind} data-kind={g.kind} className="border-line border-b">
                <button
                  type="button"
                  aria-expanded={upper === g.kind}
                  onClick={() => setUpper(upper === g.kind ? null : g.kind)}
                  className="grid min-h-12 w-full grid-cols-[1fr_auto] items-center gap-3 text-left hover:bg-sheet"
                >
                  <span>{words(g.kind)}</span>
                  <span className="text-right text-sm">
                    <b className="font-mono">{g.factor.toFixed(2)} ×</b>{" "}
                    <span className="text-faint">
                      {g.low.toFixed(2)} to {g.high.toFixed(2)}, from {g.seen} gaps
                    </span>
                  </span>
                </button>
                {upper === g.kind && <GiveCurve give={g} name={words(g.kind)} />}
              </li>
            ))}
          </ul>
        </section>
      )}
      <Lives />
      <Fitters known={ledger.data.fitters} asides={ledger.data.asides} manages={me.role === "manager"} />
      <section aria-label="How often it came true" className="mt-6 max-w-5xl">
        <Heading>How often it came true</Heading>
        <div className="grid grid-cols-[auto_1fr] items-start gap-8 max-md:grid-cols-1">
          <CameTrue steps={calibration.steps} />
          <table className="w-full text-left text-sm">
            <thead>
              <tr className="border-ink border-b text-faint">
                <th className="py-1 font-normal">Of</th>
                <th className="pr-3 font-normal">Verdicts</th>
                <th className="pr-3 font-normal">“Fine” was said</th>
                <th className="pr-3 font-normal">came true</th>
                <th className="pr-3 font-normal">Gaps in the 90 %</th>
                <th className="font-normal">Seen less predicted</th>
              </tr>
            </thead>
            <tbody>
              {calibration.groups
                .filter((g) => g.verdicts + g.gaps > 0)
                .map((g) => (
                  <tr key={`${g.group}/${g.of}`} className="border-line border-b">
                    <th scope="row" className="py-1 font-medium">
                      {g.group === "upper" ? words(g.of) : g.group ? g.of : "everything"}{" "}
                      <span className="font-normal text-faint">{g.group === "fitter" ? "by" : ""}</span>
                    </th>
                    <td className="font-mono">{g.verdicts || ""}</td>
                    <td className="pr-3 font-mono">{share(g.said)}</td>
                    <td className="pr-3 font-mono">{share(g.came)}</td>
                    <td className="pr-3 font-mono">{g.gaps ? `${share(g.held)} of ${g.gaps}` : ""}</td>
                    <td className="font-mono">{off(g.off)}</td>
                  </tr>
                ))}
            </tbody>
          </table>
        </div>
      </section>
      {wrong.length > 0 && (
        <section aria-label="Wrong most" className="mt-6 max-w-5xl">
          <Heading>Where it was wrong most, here</Heading>
          <ul>
            {wrong.map((w) => (
              <li key={w.id} className="border-line border-b py-1">
                <Link
                  to={`/fittings/${w.fitting_id}/trial`}
                  className="inline-flex min-h-11 items-center underline"
                >
                  {w.athlete}
                </Link>
                , {w.pair}: {w.text}{" "}
                <span className="text-faint text-sm">{w.off_by.toFixed(1)} spreads off</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </RoomPage>
  );
}

const share = (of: number | null): string => (of === null ? "" : `${Math.round(of * 100)} in 100`);

function off(of: Schemas["Paired"] | null): string {
  if (!of) return "";
  const mean = signed(of.mean);
  if (of.low == null || of.high == null) return `${mean} mm`;
  return `${mean} ± ${((of.high - of.low) / 2).toFixed(1)} mm`;
}

/** An upper on its build in words. */
function useKindWords(): (kind: string) => string {
  const values = useVocabulary().data?.values ?? {};
  return (kind) => {
    const [upper = "", build] = kind.split("/");
    return `${values[upper] ?? upper.replaceAll("_", " ")}, ${build === "slip" ? "slip-lasted" : "on a plate or board"}`;
  };
}

interface OneMakerProps {
  maker: Maker;
  zones: Record<string, string>;
  manages: boolean;
}

function OneMaker({ maker, zones, manages }: OneMakerProps) {
  return (
    <section aria-label={maker.maker} className="mb-3 bg-sheet py-2">
      <p className="px-3 text-sm">
        {maker.zones.map((z) => (
          <span key={z.zone} className="mr-5 inline-block">
            {zones[z.zone]}:{" "}
            <span className="font-mono">
              {signed(z.mean_mm)} ± {z.sd_mm.toFixed(1)} mm
            </span>{" "}
            <span className="text-faint">from {z.seen}</span>
          </span>
        ))}
      </p>
      {maker.then.length > 1 && <Moved then={maker.then} name={maker.maker} />}
      <ul>
        {maker.models.map((m) => (
          <li
            key={m.model_id}
            className="grid min-h-10 grid-cols-[15rem_1fr] items-center gap-4 border-line border-t max-md:grid-cols-1"
          >
            <span className="pl-3 leading-tight">
              {m.name}{" "}
              <span className="text-faint text-sm">
                {m.sport}, from {m.seen}
              </span>
            </span>
            <Habit known={m} name={m.name} />
          </li>
        ))}
      </ul>
      <Evidence maker={maker.maker} manages={manages} />
    </section>
  );
}

/** How long pairs last here, against the table. */
function Lives() {
  const lives = useQuery({ queryKey: ["lives"], queryFn: () => ask(http.GET("/api/lives")) });
  if (!lives.data?.seen) return null;
  return (
    <section aria-label="How long pairs last" className="mt-6 max-w-5xl">
      <Heading>How long pairs last, against the table</Heading>
      <ul>
        {lives.data.says.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
      {!lives.data.says.length && <p>As the table says, as far as {lives.data.seen} pairs tell.</p>}
      <p className="text-faint text-sm">From {lives.data.seen} pairs looked at or worn out.</p>
    </section>
  );
}
