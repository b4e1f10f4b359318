/** The ledger: what the chain has learned of makers, models and uppers, what it rests on, and how often it came true. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, http, type Schemas } from "../api/client";
import { useVocabulary, useZones } from "../api/vocabulary";
import { Button } from "../ui/Button";
import { day } from "../ui/clock";
import { DateField } from "../ui/DateField";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";
import { Heading, Loading, Note } from "../ui/words";
import { CameTrue, GiveCurve, Habit, HabitRuler, Moved } from "./LedgerDrawings";
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
  const mean = `${of.mean >= 0 ? "+" : "−"}${Math.abs(of.mean).toFixed(1)}`;
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
              {z.mean_mm >= 0 ? "+" : "−"}
              {Math.abs(z.mean_mm).toFixed(1)} ± {z.sd_mm.toFixed(1)} mm
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

/** What this shop found of a maker's shoes; a manager may set a piece aside. */
function Evidence({ maker, manages }: { maker: string; manages: boolean }) {
  const client = useQueryClient();
  const zones = useZones();
  const [aside, setAside] = useState<Schemas["EvidenceOut"] | null>(null);
  const list = useQuery({
    queryKey: ["ledger", "evidence", maker],
    queryFn: () => ask(http.GET("/api/ledger/evidence", { params: { query: { maker } } })),
  });
  const again = useMutation({
    mutationFn: (evidence_id: number) =>
      ask(http.DELETE("/api/ledger/evidence/{evidence_id}/aside", { params: { path: { evidence_id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["ledger"] }),
  });
  if (!list.data?.length)
    return <p className="mt-2 text-faint text-sm">This shop has tried none of theirs yet.</p>;
  return (
    <details className="mt-2 px-3">
      <summary className="flex min-h-11 w-fit cursor-pointer items-center underline">
        What this shop found ({list.data.length})
      </summary>
      <ul>
        {list.data.map((e) => (
          <li
            key={e.id}
            data-evidence={e.id}
            className="grid grid-cols-[1fr_auto] items-center gap-3 border-line border-t py-1 text-sm"
          >
            <span className={e.aside ? "text-faint line-through" : ""}>
              {day(e.at)}, {e.athlete}, {e.pair}, {zones[e.zone]}: {e.text}
            </span>
            {manages &&
              (!e.aside || e.aside_alone) &&
              (e.aside ? (
                <Button kind="quiet" onClick={() => again.mutate(e.id)} disabled={again.isPending}>
                  Count it again
                </Button>
              ) : (
                <Button kind="quiet" onClick={() => setAside(e)}>
                  Set aside …
                </Button>
              ))}
            {e.aside && (
              <span className="col-span-2 text-faint">
                Set aside by {e.aside_by}: {e.aside}
              </span>
            )}
          </li>
        ))}
      </ul>
      {aside && <Aside piece={aside} onClose={() => setAside(null)} />}
    </details>
  );
}

function Aside({ piece, onClose }: { piece: Schemas["EvidenceOut"]; onClose: () => void }) {
  const client = useQueryClient();
  const [reason, setReason] = useState("");
  const [id] = useState(() => crypto.randomUUID());
  const put = useMutation({
    mutationFn: () =>
      ask(
        http.PUT("/api/ledger/evidence/{evidence_id}/aside", {
          params: { path: { evidence_id: piece.id } },
          body: { id, reason: reason.trim() },
        }),
      ),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["ledger"] });
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} title="Set this aside">
      <p className="mb-3">
        {piece.athlete}, {piece.pair}: {piece.text}
      </p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (reason.trim()) put.mutate();
        }}
      >
        <TextField
          label="Why it shouldn't count"
          value={reason}
          onChange={setReason}
          error={put.error?.message}
        />
        <p className="mt-2 text-faint text-sm">Both stay: what was found, and why it doesn't count.</p>
        <Button
          kind="strong"
          weight="weighty"
          type="submit"
          className="mt-3"
          disabled={!reason.trim() || put.isPending}
        >
          Set it aside
        </Button>
      </form>
    </Dialog>
  );
}

/** This shop's fitters, where their verdicts have something of their own; a manager may set a time of theirs aside. */
function Fitters({
  known,
  asides,
  manages,
}: {
  known: Schemas["LedgerFitter"][];
  asides: Schemas["FitterAside"][];
  manages: boolean;
}) {
  const client = useQueryClient();
  const [of, setOf] = useState<Schemas["LedgerFitter"] | null>(null);
  const again = useMutation({
    mutationFn: (aside_id: string) =>
      ask(http.DELETE("/api/ledger/fitters/asides/{aside_id}", { params: { path: { aside_id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["ledger"] }),
  });
  if (!known.length && !asides.length) return null;
  return (
    <section aria-label="Fitters" className="mt-6 max-w-5xl">
      <Heading>Fitters: whose verdicts have something of their own</Heading>
      <ul>
        {known.map((f) => (
          <li
            key={f.staff_id}
            data-fitter={f.name}
            className={`grid min-h-11 grid-cols-[1fr_auto] items-center gap-3 border-line border-b py-1 ${f.careless ? "border-l-4 border-l-madder pl-2" : ""}`}
          >
            <span>
              {f.says.length ? (
                f.says.map((s) => (
                  <span key={s} className="block">
                    {s}
                  </span>
                ))
              ) : (
                <>{f.name} judges as the others do.</>
              )}{" "}
              <span className="text-faint text-sm">From {f.verdicts} verdicts.</span>
            </span>
            {manages && (
              <Button kind="quiet" onClick={() => setOf(f)} aria-label={`Set aside what ${f.name} found`}>
                Set aside …
              </Button>
            )}
          </li>
        ))}
        {asides.map((a) => (
          <li
            key={a.id}
            data-aside={a.fitter}
            className="grid min-h-11 grid-cols-[1fr_auto] items-center gap-3 border-line border-b py-1 text-faint"
          >
            <span>
              {a.fitter}, {spanned(a)}: set aside by {a.by}: {a.reason}
            </span>
            {manages && (
              <Button kind="quiet" onClick={() => again.mutate(a.id)} disabled={again.isPending}>
                Count it again
              </Button>
            )}
          </li>
        ))}
      </ul>
      {again.error && <p role="alert">{again.error.message}</p>}
      {of && <FitterAside of={of} onClose={() => setOf(null)} />}
    </section>
  );
}

function spanned(of: { from_day: string | null; to_day: string | null }): string {
  const from = of.from_day ? `from ${day(of.from_day)}` : "from the first";
  return `${from} ${of.to_day ? `to ${day(of.to_day)}` : "to the last"}`;
}

function FitterAside({ of, onClose }: { of: Schemas["LedgerFitter"]; onClose: () => void }) {
  const client = useQueryClient();
  const [reason, setReason] = useState("");
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [id] = useState(() => crypto.randomUUID());
  const put = useMutation({
    mutationFn: () =>
      ask(
        http.PUT("/api/ledger/fitters/{staff_id}/aside", {
          params: { path: { staff_id: of.staff_id } },
          body: { id, from_day: from || null, to_day: to || null, reason: reason.trim() },
        }),
      ),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["ledger"] });
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} title={`Set aside what ${of.name} found`}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (reason.trim()) put.mutate();
        }}
      >
        <div className="mb-3 grid grid-cols-2 gap-3">
          <DateField label="From (empty: the first)" value={from} onCommit={(day) => setFrom(day ?? "")} />
          <DateField label="To (empty: the last)" value={to} onCommit={(day) => setTo(day ?? "")} />
        </div>
        <TextField
          label="Why it shouldn't count"
          value={reason}
          onChange={setReason}
          error={put.error?.message}
        />
        <p className="mt-2 text-faint text-sm">All is kept: what was found, and why it doesn't count.</p>
        <Button
          kind="strong"
          weight="weighty"
          type="submit"
          className="mt-3"
          disabled={!reason.trim() || put.isPending}
        >
          Set it aside
        </Button>
      </form>
    </Dialog>
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
