/** Trial: the pulled pairs put through the sport's tests, with pinches marked where they are. */
import { useEffect, useState, useSyncExternalStore } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useSizeWord } from "../../api/house";
import { subscribeTimers, timerKey, timers } from "../../api/timers";
import { useVocabulary } from "../../api/vocabulary";
import { useKeys } from "../../shell/keys";
import { OneOf } from "../../ui/choice";
import { TextField } from "../../ui/TextField";
import { Loading, Untold } from "../../ui/words";
import { BesideEachOther } from "../Beside";
import { useBlind } from "../blind";
import { Station, Waiting } from "../Station";
import { SaidPrice } from "../settle/Asked";
import { Drills } from "./Drills";
import { Run, useNext } from "./Next";
import { PinchMap, SEVERITIES, spotsOf } from "./PinchMap";
import { Row } from "./Row";
import { Timer, useToggle } from "./Timer";
import { TrialMargin } from "./TrialMargin";

type Trial = Schemas["PairTrial"];
type Option = { value: string; text: string };

const plainly = (...values: string[]): Option[] =>
  values.map((value) => ({ value, text: value.replace("_", " ") }));
const PASS: Option[] = [
  { value: "pass", text: "Pass" },
  { value: "fail", text: "Fail" },
];
const SLIPS: Option[] = ["no", "a little", "clearly", "out"].map((text, i) => ({ value: String(i), text }));
/** What may be asked of every pair, whatever the sport; what nobody answered shows no answer. */
const ASKED: { field: "toes" | "slide" | "heel_slip"; label: string; options: Option[] }[] = [
  { field: "toes", label: "Room at the toes", options: plainly("fine", "jam", "slack") },
  { field: "slide", label: "Slides", options: plainly("no", "in_cuts", "always") },
  { field: "heel_slip", label: "Heel slips", options: SLIPS },
];

const answered = (trial: Trial, field: (typeof ASKED)[number]["field"]): string | undefined => {
  const said = trial[field];
  return said === undefined || said === null ? undefined : String(said);
};

/** Whether anything of it was tried and said. */
const tested = (trial: Trial): boolean =>
  Object.values(trial.tests ?? {}).some((v) => v !== null) ||
  ASKED.some((a) => answered(trial, a.field) !== undefined) ||
  Object.values(trial.pinches ?? {}).some((v) => v !== null);

export default function TrialStation() {
  const { fitting, bodies, set, locked } = useDesk();
  const [params, setParams] = useSearchParams();
  const words = useVocabulary();
  const sizeWord = useSizeWord();
  const { nameOf } = useBlind();
  const running = useSyncExternalStore(subscribeTimers, timers);
  const [at, setAt] = useState(0);
  const pair = fitting.tray.find((p) => p.id === params.get("pair")) ?? fitting.tray[0];
  const tests = words.data?.sports.find((s) => s.slug === bodies.brief.sport)?.tests ?? [];
  const trial: Trial = (pair && bodies.trial.pairs?.[pair.id]) ?? ({} as Trial);
  const put = (field: string, value: unknown) =>
    pair && !locked && set("trial", { [`pairs/${pair.id}/${field}`]: value });

  /** After the rows come the spots of the feet, which M leads to. */
  const firstSpot = tests.length + ASKED.length;
  const spots = spotsOf(words.data?.pinches ?? {});
  const spot = spots[at - firstSpot];
  const rows = firstSpot + spots.length;
  /** The keys stay among the rows, or among the spots: a digit too many marks no pinch. */
  const walk = (by: number) => {
    const [first, last] = spot ? [firstSpot, rows - 1] : [0, firstSpot - 1];
    const next = Math.min(Math.max(at + by, first), last);
    setAt(next);
    document.querySelector(`[data-row="${next}"]`)?.scrollIntoView({ block: "nearest" });
  };
  const toPair = (by: number) => {
    const next = fitting.tray[fitting.tray.findIndex((p) => p.id === pair?.id) + by];
    if (!next) return;
    setParams({ pair: next.id }, { replace: true });
    setAt(0);
  };
  /** A digit answers the row that is walked to, and goes on to the next. */
  const digit = (n: number) => () => {
    // One spot is seldom the last one said of it: the keys stay where they are.
    if (spot) return put(`pinches/${spot}`, SEVERITIES[n - 1]);
    const test = tests[at];
    const asked = ASKED[at - tests.length];
    const picked = (test ? PASS : asked?.options)?.[n - 1];
    if (!picked) return;
    if (test) put(`tests/${test.slug}`, picked.value);
    else if (asked) answer(asked.field, picked.value);
    walk(1);
  };
  const answer = (field: (typeof ASKED)[number]["field"], value: string) =>
    put(field, field === "heel_slip" ? Number(value) : value);
  /** Space belongs to the row that is walked to. */
  const timed = tests[at]?.seconds ? tests[at] : undefined;
  const timerOf = (slug: string) => timerKey(fitting.id, pair?.id ?? "", slug);
  const ran = trial.seconds?.[timed?.slug ?? ""] ?? 0;
  const toggle = useToggle(
    timed ? timerOf(timed.slug) : "",
    timed?.name ?? "",
    (timed?.seconds ?? 0) - ran,
    (s) => put(`seconds/${timed?.slug}`, Math.round(ran + s)),
  );
  useKeys({
    ArrowUp: () => walk(-1),
    ArrowDown: () => walk(1),
    Enter: () => walk(1),
    ArrowLeft: () => toPair(-1),
    ArrowRight: () => toPair(1),
    ...Object.fromEntries([1, 2, 3, 4].map((n) => [String(n), digit(n)])),
    m: () => setAt(spot ? 0 : firstSpot),
    p: () => put("verdict", "pass"),
    f: () => put("verdict", "fail"),
    ...(timed && !locked ? { " ": toggle } : {}),
  });
  useEffect(() => {
    if (at >= rows && rows) setAt(rows - 1);
  }, [at, rows]);

  const judged = useNext(pair?.id ?? "");
  const next = judged.data;
  if (!pair) return <Waiting message="Pull a pair first: two to four make a trial." />;
  if (!words.data) return <Loading what="the tests" />;
  const isTimed = (id: string) =>
    Object.keys(running).some((key) => key.startsWith(timerKey(fitting.id, id, "")));
  return (
    <Station
      margin={
        <>
          <Untold of={judged} what="What to try next" />
          <TrialMargin advice={next?.advice[pair.id] ?? []} trial={trial} found={next} pair={pair} />
        </>
      }
    >
      <div className="flex flex-wrap items-center justify-between gap-3">
        <OneOf
          label="Pair"
          arrowsFree
          value={pair.id}
          options={fitting.tray.map((p) => ({
            value: p.id,
            text: `${nameOf(p)} ${sizeWord(p)}`,
            hint: `${bodies.trial.pairs?.[p.id]?.verdict ?? "to try"}${isTimed(p.id) ? " · timer runs" : ""}`,
          }))}
          onChange={(v) => setParams({ pair: v }, { replace: true })}
        />
        <div className="flex items-center gap-3">
          <BesideEachOther first={pair.id} />
          <span className="font-semibold">This pair</span>
          <OneOf
            label="This pair"
            arrowsFree
            value={trial.verdict}
            disabled={locked}
            options={[
              { value: "pass", text: "Passes", picture: <Key name="P" /> },
              { value: "fail", text: "Fails", picture: <Key name="F" /> },
            ]}
            onChange={(v) => put("verdict", v)}
            onClear={() => put("verdict", null)}
          />
        </div>
      </div>
      <SaidPrice pair={pair} />
      <div className="mt-3 grid grid-cols-[1fr_310px] gap-6 max-lg:grid-cols-1">
        <div>
          {trial.verdict === "pass" && !tested(trial) && (
            <p role="status" className="mb-2 border-madder border-l-4 pl-2" data-untested>
              Passed, and no test is answered: what was tried? Nothing is learned of the shoe without one.
            </p>
          )}
          {fitting.unfelt && (
            <p className="mb-2 border-madder border-l-4 pl-2" data-unfelt>
              “Feels fine” proves nothing on feet that don't feel: go by room and by the skin, shoes off after
              each. <span className="text-faint text-xs">from memory</span>
            </p>
          )}
          <ul aria-label="Tests">
            {tests.map((t, i) => (
              <Row
                key={t.slug}
                index={i}
                current={i === at}
                onCurrent={() => setAt(i)}
                label={`${t.name}: pass or fail`}
                value={trial.tests?.[t.slug]}
                options={PASS}
                onChange={(v) => put(`tests/${t.slug}`, v)}
                onClear={() => put(`tests/${t.slug}`, null)}
              >
                <b>{t.name}</b> <span className="text-sm">{t.how}</span>
                <span className="block text-faint text-sm">
                  Passes: {(fitting.unfelt && t.spared) || t.passes}
                </span>
                {t.seconds && (
                  <Timer
                    key={pair.id}
                    id={timerOf(t.slug)}
                    wanted={t.seconds}
                    done={trial.seconds?.[t.slug] ?? 0}
                    keyed={t === timed}
                    onStop={(s) => put(`seconds/${t.slug}`, s)}
                    disabled={locked}
                    name={t.name}
                  />
                )}
              </Row>
            ))}
            {ASKED.map((a, i) => (
              <Row
                key={a.field}
                index={tests.length + i}
                current={tests.length + i === at}
                onCurrent={() => setAt(tests.length + i)}
                label={a.label}
                value={answered(trial, a.field)}
                options={a.options}
                onChange={(v) => answer(a.field, v)}
                onClear={() => put(a.field, null)}
              >
                <b>{a.label}</b>
              </Row>
            ))}
          </ul>
          <Run found={next} model={pair.model_id} />
          <Drills />
        </div>
        <div>
          <PinchMap
            feet={bodies.feet}
            found={fitting.found}
            pinches={trial.pinches ?? {}}
            names={words.data.pinches}
            disabled={locked}
            at={spot}
            onChange={(key, severity) => put(`pinches/${key}`, severity)}
          />
          <TextField
            className="mt-2"
            label="Note"
            value={trial.note ?? ""}
            onChange={(v) => put("note", v || null)}
            disabled={locked}
          />
        </div>
      </div>
    </Station>
  );
}

/** The key that chooses an answer. */
const Key = ({ name }: { name: string }) => (
  <span aria-hidden="true" className="float-right ml-2 font-mono text-xs opacity-70">
    {name}
  </span>
);
