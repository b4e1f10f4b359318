/** Return: what was found after wearing in, against what was predicted. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Link } from "react-router";
import { ask, http, type Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { remember } from "../../api/history";
import { useStep } from "../../api/orders";
import { whenSaved } from "../../api/saved";
import { useZones } from "../../api/vocabulary";
import { GapScale } from "../../drawing/GapScale";
import { signed } from "../../drawing/kit";
import { useKeys } from "../../shell/keys";
import { Announced } from "../../ui/Announced";
import { Arrived } from "../../ui/Arrived";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { NumberField } from "../../ui/NumberField";
import { printed } from "../../ui/pair";
import { TextField } from "../../ui/TextField";
import { Heading, Untold } from "../../ui/words";
import { Station, Waiting } from "../Station";

const PairPictures = lazy(() =>
  import("../../rooms/pairs/PairPictures").then((m) => ({ default: m.PairPictures })),
);

const DONE = "/api/fittings/{fitting_id}/follow-up/done";
const GAPS = [
  ["length_mm", "Room at the toe"],
  ["ball_girth_mm", "Room at the ball, round"],
  ["instep_girth_mm", "Room at the instep, round"],
  ["heel_width_mm", "Room at the heel"],
] as const;

export default function Return() {
  const { fitting, bodies, set, refusal } = useDesk();
  const store = useStoreFitting();
  const path = { fitting_id: fitting.id };
  const line = fitting.sale?.stock_line_id;
  const zones = useZones();
  const preview = useQuery({
    queryKey: ["of", fitting.id, "settle", line, fitting.parts.settle.version],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/settle/{line_id}", {
          params: { path: { ...path, line_id: line ?? "" } },
        }),
      ),
    enabled: !!line,
  });
  const outcome = useQuery({
    queryKey: ["of", fitting.id, "outcome", fitting.parts.return.version],
    queryFn: () => ask(http.GET("/api/fittings/{fitting_id}/outcome", { params: { path } })),
    placeholderData: (old) => old,
  });
  const close = useMutation({
    mutationFn: async () => {
      await whenSaved(fitting.id);
      return ask(http.POST(DONE, { params: { path } }));
    },
    onSuccess: (whole) => {
      store(whole);
      remember({
        where: fitting.id,
        says: "Follow-up closed",
        back: () => ask(http.DELETE(DONE, { params: { path } })).then(store),
        again: () => ask(http.POST(DONE, { params: { path } })).then(store),
      });
    },
  });
  const reopen = useMutation({
    mutationFn: () => ask(http.DELETE(DONE, { params: { path } })),
    onSuccess: store,
  });
  useKeys({ "ctrl+enter": () => document.querySelector<HTMLElement>("[data-close]")?.focus() });
  if (!fitting.sale)
    return (
      <Waiting message="Nothing is settled yet; the follow-up comes after that.">
        <Ordered />
      </Waiting>
    );
  const cameBack = fitting.sale.lines.find((l) => l.kind === "refund" && l.pairs < 0);
  if (!fitting.follow_up && cameBack)
    return (
      <Waiting
        message={`The pair came back on ${day(cameBack.day)} (${cameBack.number}): ${cameBack.why}. There is nothing to follow up.`}
      />
    );
  if (!fitting.follow_up) return <Waiting message="Book the follow-up at Settle first." />;
  const back = bodies.return;
  const done = fitting.state === "returned";
  const seen = Object.fromEntries(
    GAPS.flatMap(([field]) =>
      typeof back[field] === "number" ? [[field.replace(/_mm$/, ""), back[field]]] : [],
    ),
  ) as Record<string, number>;
  return (
    <Station
      margin={
        <>
          <Untold of={outcome} what="What the follow-up shows" />
          <OutcomeMargin outcome={outcome.data ?? null} />
        </>
      }
    >
      <Announced text={(outcome.data?.zones ?? []).map((z) => `${zones[z.zone]}: ${z.text}`).join(" ")} />
      <p className="mb-3">
        <b>{`${fitting.sale.maker} ${fitting.sale.name}`}</b>,{" "}
        <span className="font-mono">
          {fitting.sale.label == null
            ? `EU ${fitting.sale.eu_label}`
            : printed({ system: fitting.sale.system ?? "eu", label: fitting.sale.label })}
        </span>
        , settled {day(fitting.sale.sold_on)}. {done ? "Seen again" : "To be seen again"} on{" "}
        {day(fitting.follow_up.done_at ?? fitting.follow_up.due_on)}.
      </p>
      <fieldset
        aria-label="What was found"
        className="flex flex-wrap items-start gap-4"
        onKeyDown={(e) => e.key === "Enter" && !e.ctrlKey && leaveField(e)}
      >
        <NumberField
          first
          label="Hours worn"
          unit="h"
          value={back.hours}
          onChange={(v) => set("return", { hours: v })}
          error={refusal("return", "hours")}
          disabled={done}
          width="w-28"
        />
        {GAPS.map(([field, label]) => (
          <NumberField
            key={field}
            label={label}
            unit="mm"
            value={back[field]}
            onChange={(v) => set("return", { [field]: v })}
            error={refusal("return", field)}
            disabled={done}
            width="w-40"
          />
        ))}
      </fieldset>
      <p className="mt-1 text-faint text-sm">
        Measure on the larger foot, in the worn shoe; a minus is tight.
      </p>
      {preview.data && (
        <div className="mt-4">
          <GapScale zones={preview.data.size.zones} names={zones} width={760} seen={seen} />
          <p className="text-faint text-sm">
            Hollow mark predicted new, full mark predicted settled with how sure (95 in 100); the flag is what
            was measured now.
          </p>
        </div>
      )}
      <div className="mt-4 flex flex-wrap gap-4">
        <TextField
          className="w-72"
          label="Sore spots"
          value={back.sore ?? ""}
          onChange={(v) => set("return", { sore: v || null })}
        />
        <TextField
          className="w-96"
          label="Note"
          value={back.note ?? ""}
          onChange={(v) => set("return", { note: v || null })}
        />
      </div>
      <div className="mt-4">
        <Button
          kind="strong"
          weight="weighty"
          data-close
          disabled={done || !outcome.data || close.isPending}
          onClick={() => close.mutate()}
        >
          {done ? "Follow-up closed" : "Close the follow-up"}
        </Button>
        {done && (
          <Button
            className="ml-2"
            weight="weighty"
            disabled={reopen.isPending}
            onClick={() => reopen.mutate()}
          >
            Open it again
          </Button>
        )}
        {(close.error ?? reopen.error) && <p role="alert">{(close.error ?? reopen.error)?.message}</p>}
      </div>
      <div className="mt-6 max-w-[24rem]">
        <Suspense fallback={null}>
          <PairPictures pair={fitting.sale.id} />
        </Suspense>
      </div>
    </Station>
  );
}

/** What this fitting, with all the others, has taught of the makers it tried. */
function LearnedHere() {
  const { fitting } = useDesk();
  const told = useQuery({
    queryKey: ["of", fitting.id, "learned", fitting.parts.return.version, fitting.learned_newest],
    queryFn: () =>
      ask(http.GET("/api/fittings/{fitting_id}/learned", { params: { path: { fitting_id: fitting.id } } })),
  });
  const length = (told.data ?? []).filter((t) => t.zone === "length");
  if (!length.length) return <Untold of={told} what="What was learned" />;
  return (
    <section aria-label="What was learned">
      <Heading>What was learned</Heading>
      {length.map((t) => (
        <p key={t.maker} className="mb-1" data-learned={t.maker}>
          {t.text}
        </p>
      ))}
      <Link to="/ledger" className="inline-flex min-h-11 items-center underline">
        The ledger
      </Link>
    </section>
  );
}

/** Pairs ordered for this fitting and here by now: checked before they are kept or sent back. */
function Ordered() {
  const { fitting } = useDesk();
  const step = useStep();
  const orders = useQuery({
    queryKey: ["orders", fitting.id],
    queryFn: () =>
      ask(http.GET("/api/fittings/{fitting_id}/orders", { params: { path: { fitting_id: fitting.id } } })),
  });
  const here = (orders.data ?? []).filter((o) => o.arrival_says);
  return here.map((o) => (
    <section key={o.id} aria-label="Ordered for this fitting" className="mt-4">
      <Heading>Ordered, and here</Heading>
      <p className="flex flex-wrap items-center gap-3">
        <span>
          <b>
            {o.maker} {o.name} {printed(o)}
          </b>{" "}
          {o.says}
        </span>
        {o.steps.includes("sent_back") && (
          <Button disabled={step.isPending} onClick={() => step.mutate({ order: o.id, to: "sent_back" })}>
            Send it back
          </Button>
        )}
      </p>
      {step.error && <p role="alert">{step.error.message}</p>}
      <Arrived order={o} />
    </section>
  ));
}

/** Enter leads from number to number, and out to closing the follow-up. */
function leaveField(e: React.KeyboardEvent<HTMLElement>): void {
  e.preventDefault();
  const fields = [...e.currentTarget.querySelectorAll("input")];
  const next = fields[fields.indexOf(e.target as HTMLInputElement) + 1];
  (next ?? document.querySelector<HTMLElement>("[data-close]"))?.focus();
}

function OutcomeMargin({ outcome }: { outcome: Schemas["FollowUpOut"] | null }) {
  const zones = useZones();
  if (!outcome)
    return (
      <p className="text-faint">Note the hours worn and what you measure; the comparison appears here.</p>
    );
  return (
    <>
      <Heading>Seen against predicted</Heading>
      <ul className="space-y-2">
        {outcome.zones.map((z) => (
          <li key={z.zone} className={z.surprising ? "border-madder border-l-4 pl-2" : "pl-3"}>
            <b>{zones[z.zone]}</b>{" "}
            <span className="font-mono text-sm">
              {signed(z.seen_mm)} seen, {signed(z.predicted_mm)} ±{(2 * z.sigma_mm).toFixed(1)} predicted
            </span>
            <span className="block">{z.text}</span>
          </li>
        ))}
      </ul>
      <LearnedHere />
      <Heading>What to do</Heading>
      {outcome.advice.map((a) => (
        <p key={a} className="mb-1">
          {a}
        </p>
      ))}
    </>
  );
}
