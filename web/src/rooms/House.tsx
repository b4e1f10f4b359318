/** The house: schools, numbers, sizes and tax as the shop sets them, version by version; and who works here. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { ask, http, type Schemas } from "../api/client";
import { houseKey, SYSTEM_NAMES, useHouse } from "../api/house";
import { Button, day, Heading, Loading, MARKS, Note, NumberField, OneOf } from "../ui/parts";
import { People } from "./People";
import { RoomPage } from "./RoomPage";

type HouseData = Schemas["House"];
type Numbers = Schemas["HouseNumber"][];

const GROUPS: [string, string][] = [
  ["room.", "Room wanted at the toe"],
  ["climbing.", "Climbing"],
  ["toes.", "Toes on an edge"],
  ["squat.", "Squats"],
  ["studs.", "Studs"],
  ["football.", "Football"],
  ["pedal.", "Pedals"],
  ["court.", "Court"],
  ["ice.", "Ice"],
  ["rank.", "Order of the shelves"],
  ["breakin.", "Breaking in"],
];

export default function House({ me }: { me: Schemas["Me"] }) {
  const house = useHouse();
  const [draft, setDraft] = useState<HouseData | null>(null);
  const [part, setPart] = useState("schools");
  if (house.error) return <Note title="The house can't be shown">{house.error.message}</Note>;
  if (!house.data) return <Loading what="the house" />;
  const manages = me.role === "manager";
  const now = draft ?? house.data.house;
  const change = (values: Partial<HouseData>) => setDraft({ ...now, ...values });
  const pages = [
    { value: "schools", text: "Schools" },
    { value: "numbers", text: "Numbers" },
    { value: "sizes", text: "Sizes and tax" },
    ...(manages ? [{ value: "people", text: "People" }] : []),
  ];
  return (
    <RoomPage
      title="House"
      side={<OneOf label="Part of the house" value={part} options={pages} onChange={setPart} />}
    >
      <p className="mb-2 text-faint">
        {me.shop_name}. Version {house.data.house.version}
        {house.data.versions[0] &&
          `, set by ${house.data.versions[0].set_by} on ${day(house.data.versions[0].set_at)}`}
        . Fittings begun before keep theirs.{!manages && " A manager changes it."}
      </p>
      {draft && <Save draft={draft} base={house.data.house.version ?? 0} onDone={() => setDraft(null)} />}
      {part === "schools" && (
        <Schools
          schools={house.data.schools}
          now={now}
          disabled={!manages}
          onChange={(slug, side) => change({ schools: { ...now.schools, [slug]: side } })}
        />
      )}
      {part === "numbers" && (
        <HouseNumbers
          defaults={house.data.defaults}
          now={now}
          disabled={!manages}
          onChange={(slug, value) => {
            const numbers = { ...now.numbers };
            if (value === null) delete numbers[slug];
            else numbers[slug] = value;
            change({ numbers });
          }}
        />
      )}
      {part === "sizes" && <Sizes now={now} disabled={!manages} onChange={change} />}
      {part === "people" && manages && <People />}
    </RoomPage>
  );
}

function Save({ draft, base, onDone }: { draft: HouseData; base: number; onDone: () => void }) {
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: () => {
      const { version: _, ...house } = draft;
      return ask(http.PUT("/api/house", { body: { base_version: base, house } }));
    },
    onSuccess: (found) => {
      client.setQueryData(houseKey, found);
      void client.invalidateQueries({ queryKey: ["vocabulary"] });
      onDone();
    },
  });
  return (
    <div className="sticky top-0 z-10 mb-3 flex flex-wrap items-center gap-3 border-2 border-ink border-dashed bg-sheet p-2">
      <span>Changed, not set yet: new fittings will be computed under version {base + 1}.</span>
      <Button kind="strong" disabled={save.isPending} onClick={() => save.mutate()}>
        Set version {base + 1}
      </Button>
      <Button onClick={onDone}>Leave it as it was</Button>
      {save.error && (
        <p role="alert" className="basis-full text-madder">
          {save.error.message}
        </p>
      )}
    </div>
  );
}

interface SchoolsProps {
  schools: Schemas["SchoolOut"][];
  now: HouseData;
  disabled: boolean;
  onChange: (slug: string, side: string) => void;
}

function Schools({ schools, now, disabled, onChange }: SchoolsProps) {
  return (
    <ul className="grid grid-cols-2 gap-x-8 gap-y-4 max-lg:grid-cols-1">
      {schools.map((s) => (
        <li key={s.slug}>
          <p className="mb-1 font-semibold">{s.text}</p>
          <OneOf
            label={s.text}
            value={now.schools?.[s.slug] ?? s.options[0]?.value}
            options={s.options}
            disabled={disabled}
            onChange={(v) => onChange(s.slug, v)}
          />
        </li>
      ))}
    </ul>
  );
}

interface NumbersProps {
  defaults: Numbers;
  now: HouseData;
  disabled: boolean;
  onChange: (slug: string, value: number | null) => void;
}

/** Every number with where it lies in its range, its mark, and the way back to how it came. */
function HouseNumbers({ defaults, now, disabled, onChange }: NumbersProps) {
  return (
    <>
      {GROUPS.map(([prefix, title]) => {
        const group = defaults.filter((d) => d.slug.startsWith(prefix));
        return (
          <section key={prefix} aria-label={title}>
            <Heading>{title}</Heading>
            <ul className="grid grid-cols-2 gap-x-8 max-lg:grid-cols-1">
              {group.map((d) => {
                const own = now.numbers?.[d.slug];
                const value = own ?? d.value;
                const share = (v: number) => ((v - d.low) / (d.high - d.low)) * 100;
                return (
                  <li
                    key={d.slug}
                    className="grid min-h-13 grid-cols-[1fr_8.5rem_5.5rem] items-center gap-2 border-line border-b"
                  >
                    <span className="leading-tight">
                      {d.text}
                      <span className="block text-faint text-xs">
                        {MARKS[d.mark]}; {d.low} to {d.high}, comes as {d.value}
                      </span>
                      <span className="relative block h-1.5 bg-line" aria-hidden="true">
                        <span
                          className="absolute h-1.5 w-0.5 bg-ink"
                          style={{ left: `${share(d.value)}%` }}
                        />
                        <span
                          className="absolute -top-0.5 h-2.5 w-1 bg-madder"
                          style={{ left: `${Math.min(Math.max(share(value), 0), 100)}%` }}
                        />
                      </span>
                    </span>
                    <NumberField
                      label={d.text}
                      hideLabel
                      unit={d.unit}
                      decimals={2}
                      step={d.high - d.low > 20 ? 1 : 0.1}
                      value={value}
                      disabled={disabled}
                      width="w-34"
                      onChange={(v) => onChange(d.slug, v)}
                    />
                    <span>
                      {own !== undefined && own !== d.value && (
                        <Button kind="quiet" disabled={disabled} onClick={() => onChange(d.slug, null)}>
                          Undo
                        </Button>
                      )}
                    </span>
                  </li>
                );
              })}
            </ul>
          </section>
        );
      })}
    </>
  );
}

interface WordsProps {
  label: string;
  value: string;
  disabled: boolean;
  list?: string[];
  onChange: (value: string) => void;
}

/** A few letters, with a list to choose from where there is one. */
function Words({ label, value, disabled, list, onChange }: WordsProps) {
  const id = useId();
  return (
    <label className="text-faint text-xs">
      {label}
      <input
        value={value}
        disabled={disabled}
        list={list ? id : undefined}
        onChange={(e) => onChange(e.target.value)}
        className="block min-h-11 w-56 rounded-sm border border-ink/45 bg-sheet px-2.5 text-base text-ink"
      />
      {list && (
        <datalist id={id}>
          {list.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      )}
    </label>
  );
}

interface SizesProps {
  now: HouseData;
  disabled: boolean;
  onChange: (values: Partial<HouseData>) => void;
}

function Sizes({ now, disabled, onChange }: SizesProps) {
  const tax = now.tax ?? { system: "uk" as const, bands: [], price_includes: true };
  const bands = tax.bands ?? [];
  const put = (values: Partial<typeof tax>) => onChange({ tax: { ...tax, ...values } });
  const systems = Object.entries(SYSTEM_NAMES).map(([value, text]) => ({ value, text }));
  const system = SYSTEM_NAMES[tax.system ?? "uk"];
  return (
    <div className="max-w-3xl">
      <Heading>Sizes are shown in EU and</Heading>
      <OneOf
        label="Size system shown"
        value={now.size_system}
        options={systems}
        disabled={disabled}
        onChange={(v) => onChange({ size_system: v as NonNullable<HouseData["size_system"]> })}
      />
      <Heading>Feet are typed in</Heading>
      <OneOf
        label="Unit feet are typed in"
        value={now.length_unit}
        options={[
          { value: "mm", text: "Millimetres" },
          { value: "inch", text: "Inches" },
        ]}
        disabled={disabled}
        onChange={(v) => onChange({ length_unit: v as "mm" | "inch" })}
      />
      <Heading>Money and days</Heading>
      <div className="flex flex-wrap items-end gap-4">
        <Words
          label="Prices are in (three letters)"
          value={now.currency ?? "EUR"}
          disabled={disabled}
          onChange={(currency) => onChange({ currency: currency.trim().toUpperCase() })}
        />
        <Words
          label="Time zone of the shop"
          value={now.time_zone ?? "UTC"}
          disabled={disabled}
          list={Intl.supportedValuesOf("timeZone")}
          onChange={(time_zone) => onChange({ time_zone: time_zone.trim() })}
        />
      </div>
      <p className="mt-1 text-faint text-sm">
        Today, due days and break-in plans go by the shop's days. A sale keeps the currency it was made in.
      </p>
      <Heading>Sales tax by size</Heading>
      <p className="mb-2 text-faint text-sm">
        In some places children's sizes carry none. Without bands no tax is shown. Whether a size is taxed is
        the law's matter, not ours.
      </p>
      <OneOf
        label="Size system tax goes by"
        value={tax.system}
        options={systems.filter((s) => s.value !== "mondopoint_mm")}
        disabled={disabled}
        onChange={(v) => put({ system: v as NonNullable<typeof tax.system> })}
      />
      <ol className="my-2">
        {bands.map((b, i) => {
          const last = i === bands.length - 1;
          const set = (values: Partial<typeof b>) =>
            put({ bands: bands.map((x, j) => (j === i ? { ...x, ...values } : x)) });
          return (
            <li key={i} className="flex items-end gap-3 border-line border-b py-1">
              {last ? (
                <span className="min-w-44 self-center">larger sizes</span>
              ) : (
                <NumberField
                  label="Up to and with"
                  unit={system ?? ""}
                  step={0.5}
                  width="w-44"
                  value={b.up_to}
                  disabled={disabled}
                  onChange={(v) => set({ up_to: v })}
                />
              )}
              <NumberField
                label="Rate"
                unit="%"
                value={b.rate_pct}
                disabled={disabled}
                onChange={(v) => v !== null && set({ rate_pct: v })}
              />
              <Button
                kind="quiet"
                disabled={disabled}
                onClick={() => {
                  const rest = bands.filter((_, j) => j !== i);
                  put({ bands: rest.map((x, j) => (j === rest.length - 1 ? { ...x, up_to: null } : x)) });
                }}
              >
                Take out
              </Button>
            </li>
          );
        })}
      </ol>
      <span className="flex flex-wrap gap-2">
        <Button
          disabled={disabled || bands.length >= 6}
          onClick={() =>
            put({
              bands: bands.length
                ? [{ up_to: 6.5, rate_pct: 0 }, ...bands]
                : [
                    { up_to: 6.5, rate_pct: 0 },
                    { up_to: null, rate_pct: 20 },
                  ],
            })
          }
        >
          Add a band
        </Button>
        <OneOf
          label="Prices on the shelf"
          value={tax.price_includes ? "with" : "without"}
          options={[
            { value: "with", text: "Prices include tax" },
            { value: "without", text: "Tax comes on top" },
          ]}
          disabled={disabled}
          onChange={(v) => put({ price_includes: v === "with" })}
        />
      </span>
    </div>
  );
}
