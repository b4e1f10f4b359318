/** Trial: the pulled pairs put through the sport's tests, with pinches marked where they are. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, useSyncExternalStore } from "react";
import { useSearchParams } from "react-router";
import { ask, http, type Schemas } from "../../api/client";
import { useDesk } from "../../api/fitting";
import { useSizeWord } from "../../api/house";
import { startTimer, stopTimer, subscribeTimers, timerKey, timers } from "../../api/timers";
import { useKeys } from "../../shell/keys";
import { Button, Heading, Loading, OneOf, Reason, TextField } from "../../ui/parts";
import { Station, useVocabulary, Waiting } from "../Station";
import { PinchMap } from "./PinchMap";

type Trial = Schemas["PairTrial"];

export default function TrialStation() {
  const { fitting, bodies, set, locked } = useDesk();
  const [params, setParams] = useSearchParams();
  const words = useVocabulary();
  const advice = useQuery({
    queryKey: ["of", fitting.id, "advice", fitting.parts.trial.version],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/trial/advice", { params: { path: { fitting_id: fitting.id } } }),
      ),
  });
  const sizeWord = useSizeWord();
  const running = useSyncExternalStore(subscribeTimers, timers);
  const pair = fitting.tray.find((p) => p.id === params.get("pair")) ?? fitting.tray[0];
  if (!pair) return <Waiting message="Pull a pair first: two to four make a trial." />;
  const tests = words.data?.sports.find((s) => s.slug === bodies.brief.sport)?.tests;
  if (!tests) return <Loading what="the tests" />;
  const trial: Trial = bodies.trial.pairs?.[pair.id] ?? ({} as Trial);
  const isTimed = (id: string) =>
    Object.keys(running).some((key) => key.startsWith(timerKey(fitting.id, id, "")));
  const put = (field: string, value: unknown) => set("trial", { [`pairs/${pair.id}/${field}`]: value });
  return (
    <Station margin={<TrialMargin advice={advice.data?.[pair.id] ?? []} trial={trial} />}>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <OneOf
          label="Pair"
          value={pair.id}
          options={fitting.tray.map((p) => ({
            value: p.id,
            text: `${p.name} ${sizeWord(p)}`,
            hint: `${bodies.trial.pairs?.[p.id]?.verdict ?? "to try"}${isTimed(p.id) ? " · timer runs" : ""}`,
          }))}
          onChange={(v) => setParams({ pair: v }, { replace: true })}
        />
        <div className="flex items-center gap-3">
          <span className="font-semibold">This pair</span>
          <OneOf
            label="This pair"
            value={trial.verdict}
            disabled={locked}
            options={[
              { value: "pass", text: "Passes" },
              { value: "fail", text: "Fails" },
            ]}
            onChange={(v) => put("verdict", v)}
            onClear={() => put("verdict", null)}
          />
        </div>
      </div>
      <div className="mt-3 grid grid-cols-[1fr_310px] gap-6 max-lg:grid-cols-1">
        <div>
          <ul>
            {tests.map((t) => (
              <li
                key={t.slug}
                className="grid grid-cols-[1fr_auto] items-center gap-3 border-line border-b py-1.5"
              >
                <div>
                  <b>{t.name}</b> <span className="text-sm">{t.how}</span>
                  <span className="block text-faint text-sm">Passes: {t.passes}</span>
                  {t.seconds && (
                    <Timer
                      key={pair.id}
                      id={timerKey(fitting.id, pair.id, t.slug)}
                      wanted={t.seconds}
                      done={trial.seconds?.[t.slug] ?? 0}
                      first={t === tests.find((x) => x.seconds)}
                      onStop={(s) => put(`seconds/${t.slug}`, s)}
                      disabled={locked}
                      name={t.name}
                    />
                  )}
                </div>
                <OneOf
                  label={`${t.name}: pass or fail`}
                  value={trial.tests?.[t.slug]}
                  disabled={locked}
                  options={[
                    { value: "pass", text: "Pass" },
                    { value: "fail", text: "Fail" },
                  ]}
                  onChange={(v) => put(`tests/${t.slug}`, v)}
                  onClear={() => put(`tests/${t.slug}`, null)}
                />
              </li>
            ))}
          </ul>
          <div className="mt-3 flex flex-wrap gap-x-6 gap-y-2">
            <Asked
              label="Toes"
              value={trial.toes ?? "fine"}
              options={["fine", "jam", "slack"]}
              onChange={(v) => put("toes", v)}
            />
            <Asked
              label="Slides"
              value={trial.slide ?? "no"}
              options={["no", "in_cuts", "always"]}
              onChange={(v) => put("slide", v)}
            />
            <Asked
              label="Heel slips"
              value={String(trial.heel_slip ?? 0)}
              options={["0", "1", "2", "3"]}
              names={["no", "a little", "clearly", "out"]}
              onChange={(v) => put("heel_slip", v === "0" ? null : Number(v))}
            />
          </div>
          <TextField
            className="mt-3"
            label="Note"
            value={trial.note ?? ""}
            onChange={(v) => put("note", v || null)}
            disabled={locked}
          />
        </div>
        <PinchMap
          feet={bodies.feet}
          found={fitting.found}
          pinches={trial.pinches ?? {}}
          disabled={locked}
          onChange={(key, severity) => put(`pinches/${key}`, severity)}
        />
      </div>
    </Station>
  );
}

function Asked(props: {
  label: string;
  value: string;
  options: string[];
  names?: string[];
  onChange: (v: string) => void;
}) {
  const { locked } = useDesk();
  return (
    <div>
      <span className="block text-faint text-xs">{props.label}</span>
      <OneOf
        label={props.label}
        value={props.value}
        disabled={locked}
        options={props.options.map((o, i) => ({ value: o, text: props.names?.[i] ?? o.replace("_", " ") }))}
        onChange={props.onChange}
      />
    </div>
  );
}

interface TimerProps {
  /** Of the pair and the test it belongs to. */
  id: string;
  name: string;
  wanted: number;
  done: number;
  first: boolean;
  disabled: boolean;
  onStop: (seconds: number) => void;
}

const clock = (s: number) => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, "0")}`;

/** Counts up to what the test wants; runs on while other pairs and stations are shown. Space starts and stops the first one of the list. */
function Timer({ id, name, wanted, done, first, disabled, onStop }: TimerProps) {
  const since = useSyncExternalStore(subscribeTimers, timers)[id] ?? null;
  const [, tick] = useState(0);
  const seconds = since === null ? done : done + (Date.now() - since) / 1000;
  useEffect(() => {
    if (since === null) return;
    const timer = setInterval(() => tick((n) => n + 1), 250);
    return () => clearInterval(timer);
  }, [since]);
  const toggle = () => {
    if (disabled) return;
    if (since === null) return startTimer(id);
    const ran = stopTimer(id);
    if (ran !== null) onStop(Math.round(done + ran));
  };
  useKeys(first ? { " ": toggle } : {});
  return (
    <span className="mt-1 flex items-center gap-2">
      <Button
        onClick={toggle}
        disabled={disabled}
        aria-keyshortcuts={first ? "Space" : undefined}
        aria-label={`${since === null ? "Start" : "Stop"} the timer, ${name}`}
      >
        {since === null ? "Start" : "Stop"}
      </Button>
      <span className="font-mono" role="timer" aria-label={`${name} timer`}>
        {clock(seconds)} of {clock(wanted)}
      </span>
      <span className="h-1.5 w-24 border border-ink" aria-hidden="true">
        <span
          className="block h-full bg-ink"
          style={{ width: `${Math.min((seconds / wanted) * 100, 100)}%` }}
        />
      </span>
    </span>
  );
}

function TrialMargin({ advice, trial }: { advice: Schemas["Advice"][]; trial: Trial }) {
  return (
    <>
      <Heading>What to try next</Heading>
      {!advice.length && <p className="text-faint">Nothing speaks against this pair so far.</p>}
      <ul className="space-y-2">
        {advice.map((a) => (
          <li key={a.text} className="border-madder border-l-4 pl-2">
            <Reason text={a.text} mark={a.mark} />
          </li>
        ))}
      </ul>
      {trial.verdict === "pass" && advice.length > 0 && (
        <p className="mt-3">It passed although the findings above disagree: say so before settling.</p>
      )}
      <Heading>How to mark a pinch</Heading>
      <p className="text-faint text-sm">
        Touch the spot: once noticed, twice it hurts, three times it can't be worn, once more clears it.
      </p>
      <Heading>Don't let a favourite win</Heading>
      <p className="text-faint text-sm">
        Both shoes, own socks, fully laced, standing first. Common practice.
      </p>
    </>
  );
}
