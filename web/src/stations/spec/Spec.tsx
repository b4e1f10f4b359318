/** Spec: bands on scales, choices ranked, vetoes struck through, and what moves when an answer changes. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { ask, http, type Schemas, type Spec as SpecData } from "../../api/client";
import { getPath, useDesk } from "../../api/fitting";
import { BandScale } from "../../drawing/kit";
import { Button, Heading, Loading, NumberField, Reason } from "../../ui/parts";
import { Station, useVocabulary, Waiting } from "../Station";
import { CHOICE_NAMES, ROOM_NAMES, valueWord } from "./words";

type Values = Record<string, unknown>;
const ROOM_SCALE = { low: -16, high: 18 };

export default function Spec() {
  const { fitting, bodies, set, locked } = useDesk();
  const words = useVocabulary();
  const [tried, setTried] = useState<Values>({});
  const trying = Object.keys(tried).length > 0;
  const version = fitting.parts.brief.version + fitting.parts.feet.version;
  const path = { fitting_id: fitting.id };
  const now = useQuery({
    queryKey: ["of", fitting.id, "spec", version],
    queryFn: () => ask(http.GET("/api/fittings/{fitting_id}/spec", { params: { path } })),
    placeholderData: keepPreviousData,
  });
  const other = useQuery({
    queryKey: ["of", fitting.id, "what-if", version, tried],
    queryFn: () =>
      ask(http.POST("/api/fittings/{fitting_id}/spec/what-if", { params: { path }, body: { set: tried } })),
    enabled: trying,
    placeholderData: keepPreviousData,
  });
  if (now.error) return <Waiting message={now.error.message} />;
  if (!now.data || !words.data) return <Loading what="the spec" />;
  const shown = trying && other.data ? other.data : now.data;
  const was = trying && other.data ? now.data : undefined;
  const sport = words.data.sports.find((s) => s.slug === now.data.sport);
  const keep = () => {
    set("brief", tried);
    setTried({});
  };
  return (
    <Station margin={<SpecMargin spec={shown} />}>
      {sport && !locked && (
        <WhatIf
          sport={sport}
          tried={tried}
          discipline={bodies.brief.discipline ?? ""}
          onTry={(v) => setTried({ ...tried, ...v })}
        />
      )}
      {trying && (
        <div className="mb-3 border-2 border-ink border-dashed bg-sheet p-3">
          <b>What if.</b> <Moved was={now.data} now={shown} />
          <span className="mt-2 flex gap-2">
            <Button kind="strong" onClick={keep}>
              Keep these answers
            </Button>
            <Button onClick={() => setTried({})}>Back to the brief</Button>
          </span>
          {other.error && <p role="alert">{other.error.message}</p>}
        </div>
      )}
      <div className="grid grid-cols-2 gap-x-6 gap-y-1 max-xl:grid-cols-2 max-md:grid-cols-1">
        {Object.entries(shown.properties).map(([name, band]) => {
          const scale = words.data.scales[name];
          if (!scale) return null;
          const old = was?.properties[name];
          return (
            <figure key={name} data-band={name}>
              <figcaption className="flex justify-between gap-2">
                <b>{scale.name}</b>
                <span className="text-faint text-sm">
                  <span className="font-mono">
                    {band.low}–{band.high}
                  </span>{" "}
                  {scale.unit}, counts <span className="font-mono">{band.weight}</span>
                </span>
              </figcaption>
              <BandScale
                low={scale.low}
                high={scale.high}
                unit={scale.unit}
                band={band}
                was={old}
                width={372}
                thick={6 + Math.min(band.weight, 2) * 5}
              />
            </figure>
          );
        })}
        {Object.entries(shown.fit).map(([name, room]) => (
          <figure key={name} data-band={name}>
            <figcaption className="flex justify-between gap-2">
              <b>{ROOM_NAMES[name]}</b>
              <span className="font-mono text-faint text-sm">
                {room.low} to {room.high} mm
              </span>
            </figcaption>
            <BandScale {...ROOM_SCALE} unit="mm" band={room} was={was?.fit[name]} width={372} thick={9} />
          </figure>
        ))}
      </div>
      <div className="mt-3 grid grid-cols-3 gap-5 max-md:grid-cols-1">
        {Object.entries(shown.choices).map(([name, values]) => (
          <section key={name} aria-label={CHOICE_NAMES[name]}>
            <h2 className="mb-1 font-semibold">{CHOICE_NAMES[name]}</h2>
            <ol>
              {values.map((c) => (
                <li key={c.value} className="mb-1">
                  <span className={c.score === 1 ? "font-semibold" : ""}>{valueWord(c.value)}</span>
                  <span className="block h-1 bg-ink" style={{ width: `${Math.max(c.score * 100, 2)}%` }} />
                </li>
              ))}
              {shown.vetoes
                .filter((v) => v.name === name)
                .map((v) => (
                  <li key={v.rule + v.value} className="mb-1">
                    <s className="decoration-2 decoration-madder">{valueWord(v.value)}</s>
                    <span className="block text-sm">
                      <Reason {...v} />
                    </span>
                  </li>
                ))}
            </ol>
          </section>
        ))}
      </div>
    </Station>
  );
}

interface WhatIfProps {
  sport: Schemas["SportOut"];
  tried: Values;
  discipline: string;
  onTry: (values: Values) => void;
}

/** Every answer, changeable in place without keeping it. */
function WhatIf({ sport, tried, discipline, onTry }: WhatIfProps) {
  const { bodies } = useDesk();
  const value = (field: string) => (field in tried ? tried[field] : getPath(bodies.brief, field));
  const select = "min-h-11 border border-ink/45 bg-sheet px-2 text-base text-ink";
  const asks = sport.asks.filter((a) => !a.disciplines.length || a.disciplines.includes(discipline));
  return (
    <fieldset className="mb-3 flex flex-wrap items-end gap-2 border-line border-b pb-3">
      <legend className="sr-only">Try another answer</legend>
      <label className="text-faint text-xs">
        They do
        <select
          className={`block ${select}`}
          value={String(value("discipline") ?? "")}
          onChange={(e) => onTry({ discipline: e.target.value })}
        >
          {sport.disciplines.map((d) => (
            <option key={d.value} value={d.value}>
              {d.text}
            </option>
          ))}
        </select>
      </label>
      {asks.map((a) => {
        if (a.kind === "choice") {
          return (
            <label key={a.field} className="text-faint text-xs">
              {a.text}
              <select
                className={`block max-w-44 ${select}`}
                value={String(value(a.field) ?? "")}
                onChange={(e) => onTry({ [a.field]: e.target.value || null })}
              >
                {!value(a.field) && <option value="">not said</option>}
                {a.options.map((o) => (
                  <option key={o.value} value={o.value}>
                    {o.text}
                  </option>
                ))}
              </select>
            </label>
          );
        }
        if (a.kind === "number") {
          return (
            <NumberField
              key={a.field}
              label={a.text}
              unit={a.unit}
              width="w-28"
              value={value(a.field) as number | null}
              onChange={(v) => onTry({ [a.field]: v })}
            />
          );
        }
        if (a.kind === "yes") {
          return (
            <label key={a.field} className="flex min-h-11 items-center gap-1.5 text-sm">
              <input
                type="checkbox"
                className="size-5"
                checked={!!value(a.field)}
                onChange={(e) => onTry({ [a.field]: e.target.checked })}
              />
              {a.text}
            </label>
          );
        }
        if (a.field === "history") {
          const has = (value("history") as string[] | undefined) ?? [];
          return (
            <label key={a.field} className="text-faint text-xs">
              Has or had
              <select
                className={`block ${select}`}
                value=""
                onChange={(e) => {
                  const picked = e.target.value;
                  onTry({
                    history: has.includes(picked) ? has.filter((h) => h !== picked) : [...has, picked],
                  });
                }}
              >
                <option value="">{has.length ? has.join(", ").replaceAll("_", " ") : "nothing"}</option>
                {a.options.map((o) => (
                  <option key={o.value} value={o.value}>
                    {has.includes(o.value) ? "without " : "with "}
                    {o.text}
                  </option>
                ))}
              </select>
            </label>
          );
        }
        return null;
      })}
    </fieldset>
  );
}

/** What a change moves, in words. */
function Moved({ was, now }: { was: SpecData; now: SpecData }) {
  const words = useVocabulary().data;
  const said = useMemo(() => {
    const lines: string[] = [];
    for (const [name, band] of Object.entries(now.properties)) {
      const old = was.properties[name];
      const scale = words?.scales[name];
      if (!old) lines.push(`${scale?.name ?? name} now counts`);
      else if (old.low !== band.low || old.high !== band.high)
        lines.push(`${scale?.name}: ${old.low}–${old.high} becomes ${band.low}–${band.high} ${scale?.unit}`);
    }
    for (const [name, room] of Object.entries(now.fit)) {
      const old = was.fit[name];
      if (old && (old.low !== room.low || old.high !== room.high))
        lines.push(`${ROOM_NAMES[name]}: ${old.low} to ${old.high} becomes ${room.low} to ${room.high} mm`);
    }
    for (const [name, values] of Object.entries(now.choices)) {
      const best = values[0]?.value;
      const before = was.choices[name]?.[0]?.value;
      if (best && best !== before) lines.push(`${CHOICE_NAMES[name]}: ${valueWord(best)} first`);
    }
    for (const v of now.vetoes) {
      if (!was.vetoes.some((o) => o.name === v.name && o.value === v.value))
        lines.push(`${valueWord(v.value)} is out`);
    }
    for (const v of was.vetoes) {
      if (!now.vetoes.some((o) => o.name === v.name && o.value === v.value))
        lines.push(`${valueWord(v.value)} is in again`);
    }
    return lines;
  }, [was, now, words]);
  return <span data-moved>{said.length ? `${said.join("; ")}.` : "Nothing moves."}</span>;
}

function SpecMargin({ spec }: { spec: SpecData }) {
  const { bodies, set, locked } = useDesk();
  const done = bodies.spec.acknowledged ?? {};
  const reasons = new Map<string, Schemas["Reason"]>();
  for (const band of [...Object.values(spec.properties), ...Object.values(spec.fit)])
    for (const r of band.reasons) reasons.set(r.rule, r);
  for (const values of Object.values(spec.choices))
    for (const r of values.flatMap((v) => v.reasons)) reasons.set(r.rule, r);
  return (
    <>
      {spec.cautions.length > 0 && <Heading>Cautions</Heading>}
      <ul className="space-y-2">
        {spec.cautions.map((c) => (
          <li
            key={c.rule}
            className={`pl-2 ${c.must_acknowledge ? "border-madder border-l-4" : "border-line border-l-4"}`}
          >
            <Reason {...c} />
            {c.must_acknowledge && (
              <label className="mt-1 flex min-h-11 items-center gap-2 font-semibold">
                <input
                  type="checkbox"
                  className="size-5"
                  checked={!!done[c.rule]}
                  disabled={locked}
                  onChange={(e) => set("spec", { [`acknowledged/${c.rule}`]: e.target.checked || null })}
                />
                Acknowledged
              </label>
            )}
          </li>
        ))}
      </ul>
      <Heading>Why</Heading>
      <ul className="space-y-2">
        {[...reasons.values()].map((r) => (
          <li key={r.rule}>
            <Reason {...r} />
          </li>
        ))}
      </ul>
      <p className="mt-3 text-faint text-xs">Rules {spec.rules_version}</p>
    </>
  );
}
