/** Lists brought in: a file, how it is read, every line that would be new, changed, odd or refused; then all or nothing. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ask, http, type Schemas, type Trouble } from "../../api/client";
import { send } from "../../api/send";
import { Button } from "../../ui/Button";
import { OneOf } from "../../ui/choice";
import { moment } from "../../ui/clock";
import { Select } from "../../ui/Select";
import { Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import type { Settings, Sheet, Verdict } from "./listed";
import { Reasons, SheetAsks } from "./SheetAsks";
import { Lines } from "./SheetLines";
import { AllLines } from "./SheetMapping";

const VERDICTS: Verdict[] = ["refused", "odd", "changed", "new", "same"];

const TELL_EVERY_MS = 400;

export default function Sheets({ me }: { me: Schemas["Me"] }) {
  const { id } = useParams();
  if (me.role !== "manager") return <Note title="Only a manager brings lists in">Ask one of yours.</Note>;
  return id ? <OneSheet key={id} id={id} /> : <Begin />;
}

/** How far the server is with a sheet, asked now and then while it works. */
function useProgress(id: string | null, working: boolean): Schemas["ProgressOut"] | null {
  const found = useQuery({
    queryKey: ["sheet-progress", id],
    queryFn: () =>
      ask(http.GET("/api/sheets/{sheet_id}/progress", { params: { path: { sheet_id: id ?? "" } } })),
    enabled: working && !!id,
    refetchInterval: TELL_EVERY_MS,
    gcTime: 0,
  });
  return working ? (found.data ?? null) : null;
}

function Progress({ at, word }: { at: Schemas["ProgressOut"] | null; word: string }) {
  return (
    <p role="status" className="flex items-center gap-3 py-2">
      <progress value={at?.share ?? 0.02} max={1} aria-label={word} className="h-3 w-56" />
      {word}
      {at?.step ? `: ${at.step}` : " …"}
    </p>
  );
}

function Begin() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [over, setOver] = useState(false);
  const [sending, setSending] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const recent = useQuery({ queryKey: ["sheets"], queryFn: () => ask(http.GET("/api/sheets")) });
  const bring = useMutation<Sheet, Trouble, File>({
    mutationFn: (file) => {
      const id = crypto.randomUUID();
      setSending(id);
      const query = new URLSearchParams({ id, name: file.name });
      return send<Sheet>(`/api/sheets?${query}`, file, "read");
    },
    onSuccess: (sheet) => {
      client.setQueryData(["sheet", sheet.id], sheet);
      void client.invalidateQueries({ queryKey: ["sheets"] });
      navigate(`/stockroom/lists/${sheet.id}`);
    },
  });
  const at = useProgress(sending, bring.isPending);
  const take = (files: FileList | null) => {
    const file = files?.[0];
    if (file && !bring.isPending) bring.mutate(file);
  };
  return (
    <RoomPage
      title="Lists"
      side={
        <Link to="/stockroom" className="inline-flex min-h-11 items-center px-3 underline">
          Back to the rack
        </Link>
      }
    >
      {/* biome-ignore lint/a11y/noStaticElementInteractions: files may be dropped here; the button does the same. */}
      <div
        className={`grid max-w-4xl place-items-center gap-2 border-2 border-dashed p-8 text-center ${over ? "border-madder bg-sheet" : "border-ink/50"}`}
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          setOver(false);
          take(e.dataTransfer.files);
        }}
      >
        <p className="max-w-prose">
          A supplier's list, a stock count or a price list, as CSV, XLSX or JSON. Nothing is written before
          you have seen every line.
        </p>
        <input
          ref={input}
          type="file"
          accept=".csv,.txt,.tsv,.xlsx,.xlsm,.json"
          className="sr-only"
          aria-label="The list"
          tabIndex={-1}
          onChange={(e) => {
            take(e.target.files);
            e.target.value = "";
          }}
        />
        <Button kind="strong" data-first onClick={() => input.current?.click()} disabled={bring.isPending}>
          Choose the file
        </Button>
        {bring.isPending && <Progress at={at} word="Reading the list" />}
        {bring.error && (
          <p role="alert" className="text-madder">
            {bring.error.message}
          </p>
        )}
      </div>
      {!!recent.data?.length && (
        <section aria-label="Lists brought in before" className="mt-6 max-w-4xl">
          <h2 className="mb-1 font-semibold text-lg">Brought in before</h2>
          <ul>
            {recent.data.map((s) => (
              <li key={s.id} className="border-line border-b">
                <Link
                  to={`/stockroom/lists/${s.id}`}
                  className="flex min-h-11 items-center justify-between gap-4 hover:bg-sheet"
                >
                  <b className="min-w-0 truncate">{s.name}</b>
                  <span className="whitespace-nowrap text-faint text-sm">
                    {s.rows.toLocaleString("en")} lines, {s.by}, {moment(s.began_at)},{" "}
                    {s.undone_at ? "taken back" : s.done_at ? "written" : "not written"}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
    </RoomPage>
  );
}

function OneSheet({ id }: { id: string }) {
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["sheet", id],
    queryFn: () => ask(http.GET("/api/sheets/{sheet_id}", { params: { path: { sheet_id: id } } })),
  });
  const fields = useQuery({
    queryKey: ["sheet-fields"],
    queryFn: () => ask(http.GET("/api/sheets/fields")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const store = (sheet: Sheet) => {
    client.setQueryData(["sheet", id], sheet);
    for (const key of ["sheet-rows", "sheets", "rack", "rack-totals", "stock", "line", "of"]) {
      void client.invalidateQueries({ queryKey: [key] });
    }
  };
  const path = { params: { path: { sheet_id: id } } };
  const again = useMutation<Sheet, Trouble, Settings>({
    mutationFn: (body) => ask(http.PUT("/api/sheets/{sheet_id}/settings", { ...path, body })),
    onSuccess: store,
  });
  const write = useMutation<Sheet, Trouble, boolean>({
    mutationFn: (anyway) =>
      ask(
        http.POST("/api/sheets/{sheet_id}/write", {
          params: { path: { sheet_id: id }, query: anyway ? { anyway } : {} },
        }),
      ),
    onSuccess: store,
  });
  const code = write.error?.problem.code ?? "";
  const cameBefore = code === "delivered-before" || code === "file-before";
  const undo = useMutation<Sheet, Trouble>({
    mutationFn: () => ask(http.POST("/api/sheets/{sheet_id}/undo", path)),
    onSuccess: store,
  });
  const working = again.isPending || write.isPending || undo.isPending;
  const at = useProgress(id, again.isPending);
  const [only, setOnly] = useState<Verdict | null>(null);
  if (found.error && !found.data)
    return (
      <Note title="This list can't be shown" again>
        {found.error.message}
      </Note>
    );
  const sheet = found.data;
  if (!sheet) return <Loading what="the list" />;
  const count = (v: Verdict) => sheet.counts[v] ?? 0;
  const usable = sheet.rows - count("refused");
  // An answer lost on its way is no trouble any more once the list itself says it was done.
  const trouble =
    again.error ?? (sheet.done_at ? null : write.error) ?? (sheet.undone_at ? null : undo.error);
  const shown = only ?? VERDICTS.find((v) => count(v)) ?? "new";
  const change = (part: Partial<Settings>) => !working && again.mutate({ ...sheet.settings, ...part });
  return (
    <RoomPage
      title={sheet.name}
      side={
        <span className="flex items-center gap-2">
          <Link to="/stockroom/lists" className="inline-flex min-h-11 items-center px-3 underline">
            All lists
          </Link>
          {sheet.undone_at ? (
            <b>taken back {moment(sheet.undone_at)}</b>
          ) : sheet.done_at ? (
            <>
              <b>written {moment(sheet.done_at)}</b>
              <Button weight="weighty" onClick={() => undo.mutate()} disabled={working}>
                Take it back
              </Button>
            </>
          ) : (
            <Button
              weight={cameBefore ? "seen" : "weighty"}
              means={cameBefore ? "twice" : "once"}
              kind="strong"
              onClick={() => write.mutate(cameBefore)}
              disabled={working || !usable}
            >
              {!cameBefore
                ? "Write"
                : code === "file-before"
                  ? "It is meant: write"
                  : "They came twice: write"}{" "}
              {usable.toLocaleString("en")} {usable === 1 ? "line" : "lines"}
            </Button>
          )}
        </span>
      }
    >
      {again.isPending && <Progress at={at} word="Reading it again" />}
      {write.isPending && <Progress at={null} word="Writing it, all or nothing" />}
      {undo.isPending && <Progress at={null} word="Taking it back" />}
      {trouble && (
        <p role="alert" className="mb-2 border-madder border-l-4 bg-sheet p-2">
          {trouble.message}
        </p>
      )}
      {sheet.stayed.length > 0 && (
        <p className="mb-2 border-ink border-l-4 bg-sheet p-2">
          Changed by somebody since, and left as it is now: {sheet.stayed.join(", ")}.
        </p>
      )}
      {sheet.notes.map((n) => (
        <p key={n} className="text-sm">
          {n}
        </p>
      ))}
      {sheet.again && (
        <p className="mb-2 border-madder border-l-4 bg-sheet p-2" role="status">
          This very file was brought in on {moment(sheet.again.done_at)} as “{sheet.again.name}” by{" "}
          {sheet.again.by}.
        </p>
      )}
      {!sheet.done_at && (
        <SheetAsks key={JSON.stringify(sheet.asks)} sheet={sheet} change={change} disabled={working} />
      )}
      {!sheet.done_at && <AllLines sheet={sheet} change={change} disabled={working} />}
      <ol aria-label="Columns" className="mb-3 flex gap-2 overflow-x-auto pb-2">
        {sheet.columns.map((c, i) => (
          <li key={`${i} ${c.heading}`} className="w-44 shrink-0 border border-line bg-sheet p-1.5">
            <Select
              label={c.heading || `column ${i + 1}`}
              value={c.field}
              disabled={working || !!sheet.done_at}
              options={[
                { value: "keep", text: "kept as it is" },
                { value: "ignore", text: "left out" },
                ...(fields.data ?? []).map((f) => ({ value: f.slug, text: f.name })),
              ]}
              onChange={(field) =>
                change({ columns: sheet.columns.map((o, n) => (n === i ? field : o.field)) })
              }
            />
            <span className="block truncate font-mono text-faint text-xs" title={c.samples.join(", ")}>
              {c.samples.join(", ") || "empty"}
            </span>
          </li>
        ))}
      </ol>
      <OneOf
        label="Which lines"
        value={shown}
        options={VERDICTS.map((v) => ({ value: v, text: `${count(v).toLocaleString("en")} ${v}` }))}
        onChange={(v) => setOnly(v as Verdict)}
      />
      {shown === "refused" && <Reasons sheet={sheet} />}
      <Lines key={shown} id={id} verdict={shown} count={count(shown)} />
    </RoomPage>
  );
}
