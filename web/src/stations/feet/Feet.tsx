/** Feet: gauge numbers typed where they are drawn. */
import { useLayoutEffect, useRef, useState } from "react";
import type { Schemas, Side } from "../../api/client";
import { useDesk } from "../../api/fitting";
import { FeetPlan } from "../../benches/FeetPlan";
import { closedPath, footOutline, mirrored, toScreen } from "../../drawing/foot";
import { Heading, NumberField, OneOf, TextField } from "../../ui/parts";
import { Station } from "../Station";

type Measure = "length_mm" | "ball_width_mm" | "ball_girth_mm" | "instep_girth_mm" | "heel_width_mm";
const MEASURES: [Measure, string][] = [
  ["length_mm", "Length"],
  ["ball_width_mm", "Ball width"],
  ["ball_girth_mm", "Ball girth"],
  ["instep_girth_mm", "Instep girth"],
  ["heel_width_mm", "Heel width"],
];
const INCH = 25.4;
const SOCKS = ["none", "thin", "medium", "thick"].map((s) => ({ value: s, text: s }));
const ARCHES = ["low", "medium", "high"] as const;
const TOES = [
  ["first_longest", "Big toe"],
  ["second_longest", "2nd toe"],
  ["square", "Square"],
] as const;

export default function Feet() {
  const { bodies, fitting, set, locked } = useDesk();
  const feet = bodies.feet;
  const [box, size] = useSize();
  return (
    <Station margin={<FeetMargin feet={feet} reading={fitting.reading} />}>
      <div className="flex h-full min-h-[520px] flex-col gap-3">
        <div className="grid min-h-0 flex-1 grid-cols-[11rem_1fr_11rem] gap-3 max-lg:grid-cols-2">
          <Column side="left" />
          <div
            ref={box}
            className="min-h-0 min-w-0 overflow-hidden max-lg:order-first max-lg:col-span-2 max-lg:h-[440px]"
          >
            {size && <FeetPlan feet={feet} width={size.width} height={size.height} />}
          </div>
          <Column side="right" />
        </div>
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2 border-line border-t pt-2">
          <Picked label="Units">
            <OneOf
              label="Units"
              value={feet.units}
              options={[
                { value: "mm", text: "mm" },
                { value: "inch", text: "inch" },
              ]}
              onChange={(v) => set("feet", { units: v })}
              disabled={locked}
            />
          </Picked>
          <Picked label="Sock">
            <OneOf
              label="Sock"
              value={feet.sock}
              options={SOCKS}
              onChange={(v) => set("feet", { sock: v })}
              disabled={locked}
            />
          </Picked>
          <Picked label="Measured">
            <OneOf
              label="Measured"
              value={feet.stance}
              options={[
                { value: "standing", text: "standing" },
                { value: "sitting", text: "sitting" },
              ]}
              onChange={(v) => set("feet", { stance: v })}
              disabled={locked}
            />
          </Picked>
          <TextField
            className="w-32"
            label="At what time"
            type="time"
            value={feet.time_of_day ?? ""}
            onChange={(v) => set("feet", { time_of_day: v || null })}
            disabled={locked}
          />
        </div>
      </div>
    </Station>
  );
}

function Picked({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div>
      <span className="block text-faint text-xs">{label}</span>
      {children}
    </div>
  );
}

/** The size of an element, kept up to date. */
function useSize() {
  const ref = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<{ width: number; height: number } | null>(null);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const watch = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    watch.observe(element);
    setSize({ width: element.clientWidth, height: element.clientHeight });
    return () => watch.disconnect();
  }, []);
  return [ref, size] as const;
}

function Column({ side }: { side: Side }) {
  const { bodies, set, refusal, fitting, locked } = useDesk();
  const foot = bodies.feet[side];
  const inch = bodies.feet.units === "inch";
  const doubt = (field: string) =>
    fitting.reading.questions.find((q) => q.field === `${side}.${field}`)?.text;
  return (
    <fieldset className="min-w-0 space-y-1.5 overflow-auto" style={{ color: `var(--${side})` }}>
      <legend className="font-bold">{side === "left" ? "Left" : "Right"}</legend>
      {MEASURES.map(([field, label]) => {
        const mm = foot?.[field];
        return (
          <NumberField
            key={field}
            label={label}
            value={mm === null || mm === undefined ? null : inch ? mm / INCH : mm}
            decimals={inch ? 2 : 1}
            step={inch ? 0.05 : 1}
            unit={inch ? "in" : "mm"}
            ink={`var(--${side})`}
            width="w-full"
            inline
            disabled={locked}
            error={refusal("feet", `${side}/${field}`)}
            doubt={doubt(field)}
            onChange={(v) =>
              set("feet", {
                [`${side}/${field}`]: v === null ? null : Number((inch ? v * INCH : v).toFixed(2)),
              })
            }
          />
        );
      })}
      <OneOf
        label={`Arch, ${side}`}
        value={foot?.arch}
        disabled={locked}
        columns="grid grid-cols-3 gap-1 *:px-1 *:text-center *:text-xs"
        options={ARCHES.map((a) => ({ value: a, text: a, picture: <ArchPicture arch={a} /> }))}
        onChange={(v) => set("feet", { [`${side}/arch`]: v })}
      />
      <OneOf
        label={`Longest toe, ${side}`}
        value={foot?.toe_shape}
        disabled={locked}
        columns="grid grid-cols-3 gap-1 *:px-1 *:text-center *:text-xs *:leading-[1.1]"
        options={TOES.map(([value, text]) => ({
          value,
          text,
          picture: <ToesPicture side={side} toes={value} />,
        }))}
        onChange={(v) => set("feet", { [`${side}/toe_shape`]: v })}
      />
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-5"
          checked={foot?.bunion ?? false}
          disabled={locked}
          onChange={(e) => set("feet", { [`${side}/bunion`]: e.target.checked || null })}
        />
        Bunion
      </label>
    </fieldset>
  );
}

function ArchPicture({ arch }: { arch: (typeof ARCHES)[number] }) {
  const rise = { low: 2, medium: 6, high: 11 }[arch];
  return (
    <svg viewBox="0 0 36 16" className="mx-auto h-4 w-8" aria-hidden="true">
      <path
        d={`M1 14H9Q18 ${14 - rise * 1.6} 27 14H35`}
        fill="none"
        stroke="currentColor"
        strokeWidth="1.8"
      />
    </svg>
  );
}

function ToesPicture({ side, toes }: { side: Side; toes: (typeof TOES)[number][0] }) {
  const outline = footOutline({
    length: 260,
    ballWidth: 104,
    heelWidth: 66,
    arch: "medium",
    toes,
    bunion: false,
  });
  const points = toScreen(side === "left" ? mirrored(outline) : outline, 0.3, 18, 80);
  return (
    <svg viewBox="0 0 36 32" className="mx-auto h-7 w-8" aria-hidden="true">
      <path d={closedPath(points)} fill="none" stroke="currentColor" strokeWidth="1.6" />
    </svg>
  );
}

function FeetMargin({ feet, reading }: { feet: Schemas["Feet"]; reading: Schemas["FeetReading"] }) {
  const { set, locked } = useDesk();
  return (
    <>
      <Heading>Volume</Heading>
      {(["left", "right"] as const).map((side) => (
        <p key={side} className="mb-1">
          <b style={{ color: `var(--${side})` }}>{side === "left" ? "Left" : "Right"}: </b>
          {reading.volume[side] ?? "not known yet"}.{" "}
          <span className="text-faint text-sm">{reading.volume_reason[side]}</span>
        </p>
      ))}
      {reading.questions.length > 0 && <Heading>To look at again</Heading>}
      <ul className="space-y-1.5">
        {reading.questions.map((q) => (
          <li key={q.field} className="border-ink border-l-2 border-dashed pl-2">
            {q.text}
          </li>
        ))}
      </ul>
      {reading.differences.length > 0 && (
        <>
          <Heading>Left against right</Heading>
          <ul className="font-mono text-sm">
            {reading.differences.map((d) => (
              <li
                key={d.measure}
                className={`flex justify-between ${d.matters ? "font-bold text-madder" : ""}`}
              >
                <span>{MEASURES.find(([m]) => m === d.measure)?.[1]}</span>
                <span>
                  {d.left_less_right_mm > 0 ? "L +" : d.left_less_right_mm < 0 ? "R +" : ""}
                  {Math.abs(d.left_less_right_mm).toFixed(1)} mm
                </span>
              </li>
            ))}
          </ul>
          {reading.remedies.map((r) => (
            <p key={r} className="mt-2">
              {r}
            </p>
          ))}
        </>
      )}
      <Heading>Cautions</Heading>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-5"
          checked={feet.wounds_or_numbness ?? false}
          disabled={locked}
          onChange={(e) => set("feet", { wounds_or_numbness: e.target.checked || null })}
        />
        Wounds or numb spots
      </label>
      {feet.wounds_or_numbness && (
        <p className="mt-3 border-madder border-l-4 pl-2">
          Wounds or numb spots: before fitting tight, have a physician, physiotherapist or podiatrist look.
          Common practice.
        </p>
      )}
      <Heading>How sure</Heading>
      <p className="text-faint text-sm">
        Gauge ±1 mm, tape ±2 mm, one spread each. Feet grow over the day: the time of day is allowed for.
        House default.
      </p>
    </>
  );
}
