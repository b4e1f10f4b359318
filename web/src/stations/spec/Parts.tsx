/** The wanted shoe drawn, its parts in words, each opening its bands and reasons. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { type Laid, WantedShoe } from "../../benches/WantedShoe";
import { DRAWN_FROM } from "../../drawing/shoe";
import { Select } from "../../ui/Select";
import { Reason } from "../../ui/words";
import { CountsButton } from "./CountsButton";
import { type Features, featuresIn, isSaid, PARTS, type PartName, partWords, weightOf } from "./parts";

interface Props {
  view: Schemas["SpecView"];
  was: Schemas["Spec"] | undefined;
  scales: Record<string, Schemas["ScaleOut"]>;
  choices: Record<string, string>;
  features: Features;
  word: (value: string) => string;
  footMm: number;
  /** Shoes that can be laid into the drawing. */
  others: Laid[];
  onWeigh?: ((name: string) => void) | undefined;
  width?: number;
}

const NAMES = Object.keys(PARTS) as PartName[];
/** Laid in: no shoe. */
const NOTHING = "nothing";
const HAS: Record<string, string> = { true: "it has one", false: "it has none" };
const WISH = { need: "Must have", want: "Wanted", avoid: "Better without" } as const;
/** How much is said of a part before it is opened. */
const WORDS_SHOWN = 3;

export function Parts(props: Props) {
  const { view, was, scales, choices, features, word, footMm, others, onWeigh, width } = props;
  const { spec } = view;
  const [open, setOpen] = useState<PartName | null>(null);
  /** By name; the first there is until another, or nothing, is chosen. */
  const [laying, setLaying] = useState<string | null>(null);
  const laid = laying === NOTHING ? undefined : (others.find((o) => o.name === laying) ?? others[0]);
  const guessed = laid
    ? DRAWN_FROM.filter((n) => spec.properties[n] && laid.values[n] === undefined).map(
        (n) => scales[n]?.name.toLowerCase() ?? n,
      )
    : [];
  const said = NAMES.filter((p) => isSaid(p, spec, features)).sort(
    (a, b) => weightOf(b, spec, features) - weightOf(a, spec, features),
  );
  const numbers = Object.fromEntries(said.map((p, i) => [p, i + 1]));
  const toggle = (part: PartName) => setOpen(open === part ? null : part);
  return (
    <section aria-label="The wanted shoe, part by part">
      <WantedShoe
        spec={spec}
        was={was}
        laid={laid}
        plate={
          view.mechanics.on_ground?.plates.find((p) => p.plate === spec.choices.plate?.[0]?.value)?.studs
        }
        footMm={footMm}
        numbers={numbers}
        open={open}
        onOpen={(part) => {
          toggle(part);
          document.getElementById(`part-${part}`)?.scrollIntoView({ block: "nearest" });
        }}
        {...(width ? { width } : {})}
      />
      {others.length > 0 && (
        <Select
          className="mt-1 w-72 max-w-full"
          label="Laid into it"
          value={laid?.name ?? NOTHING}
          options={[
            { value: NOTHING, text: "nothing" },
            ...others.map((o) => ({ value: o.name, text: o.name })),
          ]}
          onChange={setLaying}
        />
      )}
      {guessed.length > 0 && (
        <p className="text-faint text-sm" data-laid-guessed>
          Not known of {laid?.name}, drawn as wanted: {guessed.join(", ")}.
        </p>
      )}
      <ol className="mt-2">
        {said.map((part) => (
          <li key={part} id={`part-${part}`} data-part={part} className="border-line border-b">
            <button
              type="button"
              aria-expanded={open === part}
              onClick={() => toggle(part)}
              className="grid min-h-11 w-full grid-cols-[1.7rem_1fr] items-center text-left leading-tight hover:bg-paper"
            >
              <span className="font-mono text-faint text-sm">{numbers[part]}</span>
              <span>
                <b>{PARTS[part].name}</b>{" "}
                {partWords(part, view, features, word, 0.2).slice(0, WORDS_SHOWN).join(" · ")}
              </span>
            </button>
            {open === part && (
              <div className="mb-2 border-line border-l-4 pl-3">
                {PARTS[part].properties.map((name) => {
                  const band = spec.properties[name];
                  const scale = scales[name];
                  if (!band || !scale) return null;
                  const has = laid?.values[name];
                  return (
                    <Told
                      key={name}
                      head={scale.name}
                      said={view.words[name] ?? ""}
                      number={`${band.low}–${band.high} ${scale.unit}`}
                      beside={has === undefined ? "" : `${laid?.name}: ${has} ${scale.unit}`}
                      reasons={band.reasons}
                      how={scale.read}
                      counts={
                        onWeigh && { weight: band.weight, byHand: !!band.by_hand, set: () => onWeigh(name) }
                      }
                    />
                  );
                })}
                {PARTS[part].choices.map((name) => {
                  const first = spec.choices[name]?.[0];
                  if (!first) return null;
                  const has = laid?.choices?.[name];
                  return (
                    <Told
                      key={name}
                      head={choices[name] ?? name}
                      said={word(first.value)}
                      number=""
                      beside={has ? `${laid?.name}: ${word(has)}` : ""}
                      reasons={first.reasons}
                      how=""
                      counts={undefined}
                    />
                  );
                })}
                {featuresIn(part, spec, features).map((name) => {
                  const wish = spec.features?.[name];
                  const about = features[name];
                  if (!wish || !about) return null;
                  return (
                    <Told
                      key={name}
                      head={`${WISH[wish.wish]}: ${about.name.toLowerCase()}`}
                      said={`it ${about.does}`}
                      number=""
                      beside={
                        laid ? `${laid.name}: ${HAS[String(laid.features?.[name])] ?? "not known"}` : ""
                      }
                      reasons={wish.reasons}
                      how={about.seen}
                      counts={
                        onWeigh && { weight: wish.weight, byHand: !!wish.by_hand, set: () => onWeigh(name) }
                      }
                    />
                  );
                })}
              </div>
            )}
          </li>
        ))}
      </ol>
      <p className="mt-1 text-faint text-sm">
        Hatched: wanted there. Dotted: the range. Broken line at the toe: how far two hands fold it. What
        nothing is said of is drawn as usual in the sport.
      </p>
    </section>
  );
}

interface ToldProps {
  head: string;
  said: string;
  number: string;
  beside: string;
  reasons: Schemas["Reason"][];
  /** How it is read or seen at the bench. */
  how: string;
  counts: { weight: number; byHand: boolean; set: () => void } | undefined;
}

function Told({ head, said, number, beside, reasons, how, counts }: ToldProps) {
  return (
    <div className="border-line border-b py-1 last:border-b-0">
      <div className="flex items-start justify-between gap-2">
        <p className="leading-tight">
          <b>{head}</b> {said}{" "}
          <span className="whitespace-nowrap font-mono text-faint text-sm">{number}</span>
          {beside && <span className="block text-sm">{beside}</span>}
        </p>
        {counts && (
          <CountsButton weight={counts.weight} byHand={counts.byHand} name={head} onClick={counts.set} />
        )}
      </div>
      <ul className="text-sm">
        {reasons.map((r) => (
          <li key={r.rule}>
            <Reason {...r} />
          </li>
        ))}
      </ul>
      {how && <p className="text-faint text-xs">At the bench: {how}.</p>}
    </div>
  );
}
