/** One size: its inside zone by zone and how sure, what was read of it, a reading more; what came and went. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { ask, http, type Schemas, type Trouble } from "../../api/client";
import { useZones } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { moment } from "../../ui/clock";
import { Dialog } from "../../ui/Dialog";
import { NumberField } from "../../ui/NumberField";
import { printed } from "../../ui/pair";
import { Select } from "../../ui/Select";
import { Heading, Loading } from "../../ui/words";
import { Booked } from "./Booked";
import { HeldPairs, InSisterShops } from "./HeldPairs";
import { KNOWN } from "./Line";

type Zone = Schemas["ReadingIn"]["zone"];

type Source = Schemas["ReadingIn"]["source"];

const ZONES: Zone[] = ["length", "ball_girth", "instep_girth", "heel_width"];

const SOURCES: { value: Source; text: string; hint: string }[] = [
  { value: "stick", text: "Inside gauge", hint: "length, ± 1 mm" },
  { value: "insole", text: "Insole on paper", hint: "± 1 mm, ball ± 4" },
  { value: "measured", text: "Tape and calliper", hint: "± 1 to 2.5 mm" },
  { value: "sheet", text: "Maker's sheet", hint: "± 1 to 3 mm" },
];

const MOVED: Record<string, string> = {
  there_before: "there before",
  received: "came in",
  counted: "counted",
  sold: "sold",
  undone: "sale or list taken back",
  returned: "sent back",
  lent: "lent",
  transferred: "to a sister shop",
  written_off: "written off",
};

/** A spread as a band on a scale of this many millimetres either way. */
const SCALE_MM = 14;

export function SizeDialog({ me, line, onClose }: { me: Schemas["Me"]; line: string; onClose: () => void }) {
  const client = useQueryClient();
  const zones = useZones();
  const path = { params: { path: { line_id: line } } };
  const pair = useQuery({
    queryKey: ["line", line, "pair"],
    queryFn: () => ask(http.GET("/api/stock/{line_id}", path)),
  });
  const inside = useQuery({
    queryKey: ["line", line, "inside"],
    queryFn: () => ask(http.GET("/api/stock/{line_id}/inside", path)),
  });
  const moves = useQuery({
    queryKey: ["line", line, "moves"],
    queryFn: () => ask(http.GET("/api/stock/{line_id}/moves", path)),
  });
  const [zone, setZone] = useState<Zone>("length");
  const [source, setSource] = useState<Source>("stick");
  const [mm, setMm] = useState<number | null>(null);
  const id = useRef(crypto.randomUUID());
  const known = (now: Schemas["InsideOut"]) => {
    client.setQueryData(["line", line, "inside"], now);
    void client.invalidateQueries({ queryKey: ["rack"] });
    void client.invalidateQueries({ queryKey: ["of"] });
  };
  const add = useMutation<Schemas["InsideOut"], Trouble, number>({
    mutationFn: (value) =>
      ask(
        http.POST("/api/stock/{line_id}/readings", {
          ...path,
          body: { id: id.current, zone, mm: value, source },
        }),
      ),
    onSuccess: (now) => {
      id.current = crypto.randomUUID();
      setMm(null);
      known(now);
    },
  });
  const aside = useMutation<Schemas["InsideOut"], Trouble, string>({
    mutationFn: (reading_id) =>
      ask(
        http.DELETE("/api/stock/{line_id}/readings/{reading_id}", {
          params: { path: { line_id: line, reading_id } },
        }),
      ),
    onSuccess: known,
  });
  const shown = pair.data;
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={
        shown
          ? `${shown.maker} ${shown.name}, ${printed({ system: shown.system ?? "eu", label: shown.label ?? shown.eu_label })} ${shown.width}`
          : "A size"
      }
    >
      {!inside.data || !shown ? (
        <Loading what="the inside" />
      ) : (
        <>
          <Heading>Inside</Heading>
          <table className="w-full text-sm">
            <thead className="sr-only">
              <tr>
                <th>Zone</th>
                <th>Measure</th>
                <th>How sure</th>
                <th>From</th>
              </tr>
            </thead>
            <tbody>
              {ZONES.map((z) => {
                const found = inside.data.zones[z];
                return (
                  <tr key={z} className="border-line border-b">
                    <th className="py-1 text-left font-normal">{zones[z] ?? z}</th>
                    <td className="whitespace-nowrap text-right font-mono">
                      {found.mm.toFixed(1)} ± {found.sigma_mm.toFixed(1)} mm
                    </td>
                    <td className="px-3">
                      <svg
                        width="150"
                        height="16"
                        role="img"
                        aria-label={`give or take ${found.sigma_mm} mm`}
                      >
                        <path d="M0 8H150" stroke="var(--line)" />
                        <rect
                          x={75 - (75 * Math.min(2 * found.sigma_mm, SCALE_MM)) / SCALE_MM}
                          y="3"
                          width={(150 * Math.min(2 * found.sigma_mm, SCALE_MM)) / SCALE_MM}
                          height="10"
                          fill="var(--ink)"
                          opacity="0.3"
                        />
                        <path d="M75 1V15" stroke="var(--ink)" strokeWidth="1.6" />
                      </svg>
                    </td>
                    <td>{inside.data.rests_on[z]}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          {(inside.data.zones.conflicts ?? []).map((c) => (
            <p key={c} role="alert" className="mt-1 text-madder text-sm">
              {c}
            </p>
          ))}
          {inside.data.readings.length > 0 && (
            <ul aria-label="What was read" className="mt-2 text-sm">
              {inside.data.readings.map((r) => (
                <li key={r.id} className="flex min-h-11 flex-wrap items-center gap-x-2">
                  <span className="font-mono">{r.mm} mm</span> {zones[r.zone]}, {KNOWN[r.source] ?? r.source}
                  {r.at && r.by ? `, ${r.by}, ${moment(r.at)}` : ", there before"}
                  <Button kind="quiet" disabled={aside.isPending} onClick={() => aside.mutate(r.id)}>
                    Set aside
                  </Button>
                </li>
              ))}
            </ul>
          )}
          <Link
            to={`/stockroom/bench/${line}`}
            className="mt-3 inline-flex min-h-11 items-center rounded-sm border border-madder bg-madder px-3.5 font-medium text-on-madder hover:brightness-110"
          >
            On the shoe bench
          </Link>
          <Heading>Read it yourself</Heading>
          <OneOf
            label="How it was read"
            value={source}
            options={SOURCES}
            onChange={(v) => {
              setSource(v as Source);
              if (v === "stick") setZone("length");
            }}
          />
          <form
            className="mt-2 flex flex-wrap items-end gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              if (mm !== null && !add.isPending) add.mutate(mm);
            }}
          >
            <Select
              label="Where"
              value={zone}
              options={ZONES.filter((z) => source !== "stick" || z === "length").map((z) => ({
                value: z,
                text: zones[z] ?? z,
              }))}
              onChange={(v) => setZone(v as Zone)}
              className="w-40"
            />
            <NumberField label="Measure" value={mm} unit="mm" onChange={setMm} error={add.error?.message} />
            <Button type="submit" kind="strong" disabled={mm === null || add.isPending}>
              Add the reading
            </Button>
          </form>
          {shown.variant_id && <InSisterShops line={line} variant={shown.variant_id} />}
          <HeldPairs line={line} />
          <Heading>What came and went</Heading>
          {me.role === "manager" && (
            <Booked
              line={line}
              name={`${shown.name} ${printed({ system: shown.system ?? "eu", label: shown.label ?? shown.eu_label })}`}
            />
          )}
          <ol className="mt-1 text-sm">
            {(moves.data ?? []).map((m) => (
              <li key={m.id} className="flex gap-3 border-line border-b py-1">
                <span className="w-10 text-right font-mono">
                  {m.pairs > 0 ? `+${m.pairs}` : `−${-m.pairs}`}
                </span>
                <span className="flex-1">
                  {MOVED[m.kind]}
                  {m.why && !m.why.startsWith("sale ") ? `: ${m.why}` : ""}
                </span>
                <span className="text-faint">
                  {m.at ? moment(m.at) : ""} {m.by ?? ""}
                </span>
              </li>
            ))}
          </ol>
        </>
      )}
    </Dialog>
  );
}
