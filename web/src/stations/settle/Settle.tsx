/** Settle: the pair, what it gives up, the dated break-in plan, the sheet to take home, the day to come back. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { ask, http, type Schemas, Trouble } from "../../api/client";
import { useDesk, useTypedThere } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { forgetPast } from "../../api/history";
import { useSizeWord } from "../../api/house";
import { whenSaved } from "../../api/saved";
import { useZones } from "../../api/vocabulary";
import { GapScale } from "../../drawing/GapScale";
import { Announced } from "../../ui/Announced";
import { Button } from "../../ui/Button";
import { ManyOf, OneOf } from "../../ui/choice";
import { DateField } from "../../ui/DateField";
import { money, price } from "../../ui/money";
import { TakeAnyway } from "../../ui/TakeAnyway";
import { TextField } from "../../ui/TextField";
import { useBlind } from "../blind";
import { Station, ToAcknowledge, Waiting } from "../Station";
import { Lower, SaidPrice } from "./Asked";
import { SettleMargin } from "./SettleMargin";
import { Sold } from "./Sold";
import { TakeHome } from "./TakeHome";
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
  const there = useTypedThere(fitting);
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
  const saleNow = sold?.id;
  const saleBefore = useRef(saleNow);
  useEffect(() => {
    if (saleNow && !saleBefore.current) document.querySelector<HTMLElement>("[data-book]")?.focus();
    saleBefore.current = saleNow;
  }, [saleNow]);
  if (!line) return <Waiting message="Pull and try a pair first." />;
  if (preview.error && !preview.data && there) return <Waiting message={preview.error.message} />;
  const found = preview.data;
  const trouble = sell.error;
  const pair = fitting.tray.find((p) => p.id === line);
  const held = sell.error instanceof Trouble && sell.error.problem.code === "held" ? sell.error : null;
  const toAcknowledge = sell.error instanceof Trouble && sell.error.problem.code === "caution-open";
  return (
    <Station margin={<SettleMargin found={found} passed={passed.length > 0 || !!sold} />}>
      {sold ? (
        <Sold sale={sold} mayNot={me.role === "trainee"} onUndone={() => setSaleId(crypto.randomUUID())} />
      ) : (
        <div className="flex flex-wrap items-start justify-between gap-3">
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
          <Button
            kind="strong"
            weight="seen"
            data-first
            disabled={sell.isPending || me.role === "trainee"}
            onClick={() => sell.mutate("")}
          >
            Settle on this pair
          </Button>
        </div>
      )}
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
      {pair && !sold && <SaidPrice pair={pair} />}
      {!sold && !blind && (
        <Lower line={line} asked={found?.asked} there={there && !preview.isPlaceholderData} />
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
