/** Settle: the pair, what it gives up, the dated break-in plan, the sheet to take home, the day to come back. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { ask, http, type Schemas, Trouble } from "../../api/client";
import { useDesk, useTypedThere } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { forgetPast, remember } from "../../api/history";
import { useSizeWord } from "../../api/house";
import { whenSaved } from "../../api/saved";
import { useZones } from "../../api/vocabulary";
import { HopeWithNumbers } from "../../drawing/Hope";
import { GapScale } from "../../drawing/kit";
import { Announced } from "../../ui/Announced";
import { Button } from "../../ui/Button";
import { ManyOf, OneOf } from "../../ui/choice";
import { day } from "../../ui/clock";
import { DateField } from "../../ui/DateField";
import { money, price } from "../../ui/money";
import { TakeAnyway } from "../../ui/TakeAnyway";
import { TextField } from "../../ui/TextField";
import { Heading } from "../../ui/words";
import { useBlind } from "../blind";
import { Station, ToAcknowledge, Waiting } from "../Station";
import { AthletePage } from "./AthletePage";
import { Costs } from "./Costs";
import { WearPlan } from "./WearPlan";

const WEEKDAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"].map((text, i) => ({
  value: String(i),
  text,
}));

export default function Settle({ me }: { me: Schemas["Me"] }) {
  const { fitting, bodies, set, refusal } = useDesk();
  const store = useStoreFitting();
  const sold = fitting.sale;
  const passed = fitting.tray.filter((p) => bodies.trial.pairs?.[p.id]?.verdict === "pass");
  const candidates = passed.length ? passed : fitting.tray;
  const [picked, setPicked] = useState<string | null>(null);
  const line = sold?.stock_line_id ?? picked ?? candidates[0]?.id;
  const [saleId, setSaleId] = useState(() => crypto.randomUUID());
  const path = { fitting_id: fitting.id };
  const sizeWord = useSizeWord();
  const { blind, nameOf } = useBlind();
  const zones = useZones();
  const there = useTypedThere(fitting.id);
  const preview = useQuery({
    queryKey: [
      "of",
      fitting.id,
      "settle",
      line,
      fitting.parts.settle.version,
      fitting.parts.brief.version,
      fitting.parts.feet.version,
      fitting.parts.spec.version,
      fitting.parts.trial.version,
    ],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/settle/{line_id}", {
          params: { path: { ...path, line_id: line ?? "" } },
        }),
      ),
    enabled: !!line && there,
    placeholderData: (old) => old,
  });
  const sell = useMutation({
    mutationFn: async (anyway: string) => {
      await whenSaved(fitting.id);
      return ask(
        http.POST("/api/fittings/{fitting_id}/sale", {
          params: { path },
          body: { sale_id: saleId, line_id: line ?? "", anyway },
        }),
      );
    },
    onSuccess: (whole) => {
      store(whole);
      forgetPast(fitting.id); // what was before the sale is what it was settled by
    },
    onError: (error) => {
      // A sale that was refused is over; one whose answer was lost is sent again as the same.
      if (error instanceof Trouble && !error.passing) setSaleId(crypto.randomUUID());
    },
  });
  const undoSale = useMutation({
    mutationFn: () =>
      ask(
        http.DELETE("/api/fittings/{fitting_id}/sale/{sale_id}", {
          params: { path: { ...path, sale_id: sold?.id ?? "" } },
        }),
      ),
    onSuccess: (whole) => {
      setSaleId(crypto.randomUUID());
      forgetPast(fitting.id);
      store(whole);
    },
  });
  const saleNow = sold?.id;
  const saleBefore = useRef(saleNow);
  useEffect(() => {
    if (saleNow && !saleBefore.current) document.querySelector<HTMLElement>("[data-book]")?.focus();
    saleBefore.current = saleNow;
  }, [saleNow]);
  if (!line) return <Waiting message="Pull and try a pair first." />;
  if (preview.error && !preview.data && there) return <Waiting message={preview.error.message} />;
  const found = preview.data;
  const trouble = sell.error ?? undoSale.error;
  const held = sell.error instanceof Trouble && sell.error.problem.code === "held" ? sell.error : null;
  const toAcknowledge = sell.error instanceof Trouble && sell.error.problem.code === "caution-open";
  return (
    <Station margin={<SettleMargin found={found} passed={passed.length > 0 || !!sold} />}>
      <div className="flex flex-wrap items-start justify-between gap-3">
        {sold ? (
          <p className="text-lg">
            Settled on <b>{`${sold.maker} ${sold.name}`}</b>,{" "}
            <span className="font-mono">EU {sold.eu_label}</span>, by {sold.sold_by} on {day(sold.sold_on)}.
          </p>
        ) : (
          <OneOf
            label="Pair to settle on"
            value={line}
            options={candidates.map((p) => ({
              value: p.id,
              text: `${nameOf(p)} ${sizeWord(p)}`,
              hint: `${blind ? "" : `${price(p.price_minor, p.currency)}, `}${p.on_hand ? `${p.on_hand} on hand` : "sold out"}`,
            }))}
            onChange={setPicked}
          />
        )}
        <span className="flex gap-2">
          {!sold && (
            <Button
              kind="strong"
              weight="seen"
              data-first
              disabled={sell.isPending || me.role === "trainee"}
              onClick={() => sell.mutate("")}
            >
              Settle on this pair
            </Button>
          )}
          {sold && fitting.state === "settled" && (
            <Button
              weight="weighty"
              disabled={undoSale.isPending || me.role === "trainee"}
              onClick={() => undoSale.mutate()}
            >
              Undo the sale
            </Button>
          )}
        </span>
      </div>
      {me.role === "trainee" && !sold && (
        <p className="mt-1 text-faint text-sm">A trainee prepares; a fitter or manager settles.</p>
      )}
      {held && (
        <TakeAnyway
          message={held.message}
          verb="Sell it all the same"
          busy={sell.isPending}
          onTake={(anyway) => sell.mutate(anyway)}
        />
      )}
      {trouble && !held && (
        <p role="alert" className="mt-2 border-madder border-l-4 pl-2">
          {trouble.message} {toAcknowledge && <ToAcknowledge />}
        </p>
      )}
      {found?.tax && (
        <p className="mt-1 text-sm" data-tax>
          <span className="font-mono">{money(found.tax.total_minor, found.tax.currency)}</span>, of which{" "}
          <span className="font-mono">{money(found.tax.tax_minor, found.tax.currency)}</span> is sales tax.{" "}
          <span className="text-faint">{found.tax.why}</span>
        </p>
      )}
      {found && (
        <>
          <div className="mt-3">
            <GapScale zones={found.size.zones} names={zones} width={720} />
          </div>
          <div className="mt-2 flex flex-wrap items-end gap-4 border-line border-t pt-3">
            <DateField
              className="w-40"
              label="Break-in begins"
              value={bodies.settle.start_on ?? found.plan.wears[0]?.on ?? ""}
              disabled={fitting.state !== "open"}
              onCommit={(v) => set("settle", { start_on: v })}
              error={refusal("settle", "start_on")}
            />
            <div>
              <span className="block text-faint text-xs">Free days</span>
              <ManyOf
                label="Free days"
                value={(bodies.settle.weekdays ?? []).map(String)}
                options={WEEKDAYS}
                disabled={fitting.state !== "open"}
                onChange={(v) => v.length && set("settle", { weekdays: v.map(Number).sort() })}
              />
            </div>
          </div>
          <WearPlan plan={found.plan} width={760} />
          {fitting.state === "open" && (
            <TextField
              className="mt-2"
              long
              label="What it gives up, in your words (printed on the sheet)"
              value={bodies.settle.gives_up ?? ""}
              onChange={(v) => set("settle", { gives_up: v || null })}
              error={refusal("settle", "gives_up")}
            />
          )}
        </>
      )}
      <Announced text={found ? `${found.size.verdict} ${found.plan.verdict}` : ""} />
      {sold && <TakeHome fittingId={fitting.id} />}
    </Station>
  );
}

/** The sheet, the calendar and the follow-up. */
function TakeHome({ fittingId }: { fittingId: string }) {
  const { fitting } = useDesk();
  const store = useStoreFitting();
  const [due, setDue] = useState(fitting.follow_up?.due_on ?? "");
  const proposed = fitting.follow_up_proposed ?? "";
  const booked = fitting.follow_up?.due_on;
  useEffect(() => {
    if (booked) setDue(booked);
  }, [booked]);
  const book = useMutation({
    mutationFn: () =>
      ask(
        http.PUT("/api/fittings/{fitting_id}/follow-up", {
          params: { path: { fitting_id: fittingId } },
          body: { due_on: due || proposed },
        }),
      ),
    onSuccess: (whole) => {
      store(whole);
      const was = booked;
      const now = whole.follow_up?.due_on;
      if (!now || was === now) return;
      const path = { params: { path: { fitting_id: fittingId } } };
      const to = (due_on: string) =>
        ask(http.PUT("/api/fittings/{fitting_id}/follow-up", { ...path, body: { due_on } })).then(store);
      remember({
        where: fittingId,
        says: `Follow-up booked for ${day(now)}`,
        back: () =>
          was ? to(was) : ask(http.DELETE("/api/fittings/{fitting_id}/follow-up", path)).then(store),
        again: () => to(now),
      });
    },
  });
  const link =
    "inline-flex min-h-11 items-center border border-ink/60 bg-sheet px-3.5 font-medium hover:bg-paper";
  return (
    <div className="mt-4 flex flex-wrap items-end gap-x-6 gap-y-3 border-line border-t pt-3">
      <span className="flex flex-wrap gap-2">
        <a
          className={link}
          href={`/api/fittings/${fittingId}/fit-sheet.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Fit sheet, A4
        </a>
        <a
          className={link}
          href={`/api/fittings/${fittingId}/fit-sheet.pdf?paper=letter`}
          target="_blank"
          rel="noreferrer"
        >
          Letter
        </a>
        <a className={link} href={`/api/fittings/${fittingId}/fit-sheet.json`} download="fit-sheet.json">
          JSON
        </a>
        <a className={link} href={`/api/fittings/${fittingId}/break-in.ics`}>
          Break-in (calendar)
        </a>
        <AthletePage fittingId={fittingId} name={fitting.athlete.name} />
      </span>
      <span className="flex items-end gap-2">
        <DateField
          className="w-40"
          label="See again on"
          value={due || proposed}
          onCommit={(v) => setDue(v ?? "")}
          error={book.error?.message}
        />
        <Button
          weight="weighty"
          kind={booked ? "plain" : "strong"}
          data-book
          disabled={book.isPending || fitting.state === "returned"}
          onClick={() => book.mutate()}
        >
          {booked ? "Move it" : "Book the follow-up"}
        </Button>
        {booked && <span className="pb-2.5">Booked for {day(booked)}.</span>}
      </span>
    </div>
  );
}

function SettleMargin({ found, passed }: { found: Schemas["SettlePreview"] | undefined; passed: boolean }) {
  if (!found) return null;
  const { blind } = useBlind();
  return (
    <>
      {!passed && <p className="mb-3 border-madder border-l-4 pl-2">No pair has passed the trial yet.</p>}
      <Heading>This size</Heading>
      <p>{found.size.verdict}</p>
      <HopeWithNumbers size={found.size} />
      <Heading>What it gives up</Heading>
      {found.in_a_word && <p className="mb-1 font-semibold">{found.in_a_word}</p>}
      {!found.gives_up.length && <p className="text-faint">Nothing the spec asked for.</p>}
      <ul className="space-y-1">
        {found.gives_up.map((p) => (
          <li key={p.text}>{p.text}</li>
        ))}
      </ul>
      {(blind ? [] : found.older).map((o) => (
        <p key={o.line_id} className="mt-2 border-ink border-l-4 pl-2" data-older>
          <b>
            {o.name}, {price(o.price_minor, found.pair.currency)}.
          </b>{" "}
          {o.text}
        </p>
      ))}
      {!blind && <Costs />}
      <Heading>Breaking in</Heading>
      <p className={found.plan.in_time ? "" : "border-madder border-l-4 pl-2 font-semibold"}>
        {found.plan.verdict}
      </p>
      {found.by_zone.length > 0 && (
        <ul className="mt-1" data-by-zone>
          {found.by_zone.map((z) => (
            <li key={z.zone}>{z.text}</li>
          ))}
        </ul>
      )}
      {found.plan.old_pair && <p className="mt-1">{found.plan.old_pair}</p>}
      {found.old_pair && <p className="mt-1 font-semibold">{found.old_pair}</p>}
      <ul className="mt-2 space-y-1">
        {found.plan.rules.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
    </>
  );
}
