/** The margin of the spec: cautions to acknowledge, the story in sentences, and what other schools say. */
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useKeys } from "../../shell/keys";
import { useInSight } from "../../ui/guard";
import { Heading, Reason } from "../../ui/words";

interface Props {
  view: Schemas["SpecView"];
  scales: Record<string, Schemas["ScaleOut"]>;
  rooms: Record<string, string>;
  choices: Record<string, string>;
  features: Record<string, Schemas["FeatureOut"]>;
}

/** Matters in the order they weigh, each with its reasons. */
function story({
  view,
  scales,
  rooms,
  choices,
  features,
}: Props): { head: string; reasons: Schemas["Reason"][] }[] {
  const { spec } = view;
  const said = new Set<string>();
  const once = (reasons: Schemas["Reason"][]) =>
    reasons.filter((r) => !said.has(r.rule) && said.add(r.rule) !== undefined);
  const matters = [
    ...Object.entries(spec.choices).map(([name, values]) => ({
      head: choices[name] ?? name,
      weight: spec.choice_weights[name]?.weight ?? 0,
      reasons: values[0]?.reasons ?? [],
    })),
    ...Object.entries(spec.properties).map(([name, band]) => ({
      head: scales[name]?.name ?? name,
      weight: band.weight,
      reasons: band.reasons,
    })),
    ...Object.entries(spec.features ?? {}).map(([name, feature]) => ({
      head: features[name]?.name ?? name,
      weight: feature.weight,
      reasons: feature.reasons,
    })),
  ].sort((a, b) => b.weight - a.weight);
  const fit = Object.entries(spec.fit).map(([name, room]) => ({
    head: rooms[name] ?? name,
    reasons: room.reasons,
  }));
  return [...matters, ...fit]
    .map((m) => ({ head: m.head, reasons: once(m.reasons) }))
    .filter((m) => m.reasons.length);
}

const FEET = ["feet"];
const ANSWERS: Record<string, string> = {
  history: "what hurts",
  note: "what else they said",
  wears_now: "what they wear now",
  looks: "the wish about looks",
  also: "what else it is for",
  pedal: "the pedals",
  surface: "the ground",
  wicket: "the wicket",
  wet: "wet or dusty",
  level: "the level",
  growing: "still growing",
  budget: "what they want to spend",
  event_on: "the first event",
  present: "what they wear now",
  sessions_per_week: "how often",
  ride_km: "how far they ride",
  knee_to_wall_cm: "the ankle",
};

/** The answer or finding that raised a caution, and the way there. */
function Raised({ about }: { about: string }) {
  const { fitting } = useDesk();
  const feet = FEET.includes(about);
  const word = feet ? "the feet" : ANSWERS[about];
  if (!word) return null;
  return (
    <Link
      to={`/fittings/${fitting.id}/${feet ? "feet" : `brief?ask=${about}`}`}
      className="flex min-h-11 w-fit items-center text-sm underline"
    >
      raised by {word}
    </Link>
  );
}

/** Whether there is anything to heed: a caution to acknowledge, or nobody asked what hurts. */
export function useHeed(spec: Schemas["Spec"] | undefined): {
  unasked: boolean;
  heed: Schemas["SpecCaution"][];
} {
  const { said, locked } = useDesk();
  return {
    unasked: !locked && !said.has("history"),
    heed: (spec?.cautions ?? []).filter((c) => c.must_acknowledge),
  };
}

/** What has to be acknowledged, and whether anybody asked what hurts: in sight before anything else. */
export function ToHeed({ spec }: { spec: Schemas["Spec"] }) {
  const { fitting, bodies, set, locked } = useDesk();
  const { unasked, heed } = useHeed(spec);
  const done = bodies.spec.acknowledged ?? {};
  const open = heed.filter((c) => !done[c.rule]);
  const [params] = useSearchParams();
  const led = params.has("open");
  /** By rule: whether it can have been read. */
  const sights = useRef(new Map<string, () => boolean>());
  /** What was to be acknowledged before it could have been read. */
  const [early, setEarly] = useState("");
  const acknowledge = () => {
    const [next] = open;
    if (!next || locked) return;
    document.querySelector(`[data-caution="${next.rule}"]`)?.scrollIntoView({ block: "nearest" });
    const read = sights.current.get(next.rule)?.() ?? false;
    setEarly(read ? "" : next.rule);
    if (read) set("spec", { [`acknowledged/${next.rule}`]: true });
  };
  useKeys({ a: acknowledge });
  return (
    <>
      <Heading>Cautions</Heading>
      <ul className="space-y-2">
        {unasked && (
          <li data-caution="unasked" className="border-line border-l-4 pl-2">
            {spec?.concerns?.some((c) => c.about !== "growing" && c.about !== "present")
              ? "Nobody has asked in the brief yet what else hurts or has been hurt."
              : "Nobody has asked yet what hurts or has been hurt: this is the spec of sound feet, knees and back."}
            <Link
              to={`/fittings/${fitting.id}/brief?ask=history`}
              className="flex min-h-11 w-fit items-center text-sm underline"
            >
              ask it now
            </Link>
          </li>
        )}
        {heed.map((c) => (
          <Caution
            key={c.rule + c.about}
            caution={c}
            first={open[0] === c}
            led={led && open[0] === c}
            early={early === c.rule}
            done={!!done[c.rule]}
            seen={(can) => void sights.current.set(c.rule, can)}
            onTick={(to) => set("spec", { [`acknowledged/${c.rule}`]: to || null })}
          />
        ))}
      </ul>
    </>
  );
}

interface CautionProps {
  caution: Schemas["SpecCaution"];
  /** The next to acknowledge. */
  first: boolean;
  /** It is what was come here for. */
  led: boolean;
  /** It was to be acknowledged too early. */
  early: boolean;
  done: boolean;
  seen: (can: () => boolean) => void;
  onTick: (to: boolean) => void;
}

/** A caution counts as read a second after it came into sight, however it is acknowledged. */
function Caution({ caution, first, led, early, done, seen, onTick }: CautionProps) {
  const { locked } = useDesk();
  const { ref, ready, canBe } = useInSight<HTMLLIElement>("seen", caution.rule);
  useEffect(() => {
    seen(canBe);
  });
  return (
    <li ref={ref} data-caution={caution.rule} className="border-madder border-l-4 pl-2">
      <Reason {...caution} />
      <Raised about={caution.about} />
      <label className="mt-1 flex min-h-11 items-center gap-2 font-semibold">
        <input
          type="checkbox"
          className="size-5"
          checked={done}
          disabled={locked}
          aria-disabled={(!ready && !done) || undefined}
          onChange={(e) => (done || canBe()) && onTick(e.target.checked)}
          aria-keyshortcuts="a"
          data-open-caution={first || undefined}
          data-weight="seen"
          data-first={led || undefined}
        />
        Acknowledged
        {first && <span className="font-mono font-normal text-faint text-xs">A</span>}
      </label>
      {early && !done && (
        <p role="status" className="text-sm">
          That was before it can have been read: once more, please.
        </p>
      )}
    </li>
  );
}

export function SpecMargin(props: Props) {
  const { spec } = props.view;
  const rest = spec.cautions.filter((c) => !c.must_acknowledge);
  return (
    <>
      {rest.length > 0 && <Heading>To mind</Heading>}
      <ul className="space-y-2">
        {rest.map((c) => (
          <li key={c.rule + c.about} data-caution={c.rule} className="border-line border-l-4 pl-2">
            <Reason {...c} />
            <Raised about={c.about} />
          </li>
        ))}
      </ul>
      <Heading>Why</Heading>
      {story(props).map((m) => (
        <section key={m.head} className="mb-2">
          <h3 className="font-semibold text-sm">{m.head}</h3>
          {m.reasons.map((r) => (
            <p key={r.rule}>
              <Reason {...r} />
            </p>
          ))}
        </section>
      ))}
      {!!spec.schools?.length && <Heading>Another school would have said</Heading>}
      {spec.schools?.map((s) => (
        <section key={s.school + s.side} className="mb-2" data-school={`${s.school}/${s.side}`}>
          <h3 className="font-semibold text-sm">
            {s.text}: {s.says}
          </h3>
          <p>{s.moves.join("; ")}.</p>
        </section>
      ))}
      <p className="mt-3 text-faint text-xs">
        Rules {spec.rules_version}, house {props.view.house_version}
      </p>
    </>
  );
}
