/** The parts a shoe is drawn with, as the core writes them: which bands, choices and features stand where. */
import type { Schemas } from "../../api/client";
import parts from "./parts.json";

export type PartName = keyof typeof parts;

interface PartOf {
  name: string;
  properties: string[];
  choices: string[];
  /** Where features sit that belong to it. */
  holds: Schemas["FeatureOut"]["part"][];
}

export const PARTS = parts as Record<PartName, PartOf>;

export type Features = Record<string, Schemas["FeatureOut"]>;

/** Features of a spec that sit in a part, weightiest first. */
export function featuresIn(part: PartName, spec: Schemas["Spec"], all: Features): string[] {
  const where = PARTS[part].holds;
  return Object.keys(spec.features ?? {}).filter((f) => all[f] && where.includes(all[f].part));
}

/** Whether the spec says anything of a part. */
export function isSaid(part: PartName, spec: Schemas["Spec"], all: Features): boolean {
  const { properties, choices } = PARTS[part];
  return (
    properties.some((p) => spec.properties[p]) ||
    choices.some((c) => spec.choices[c]?.length) ||
    featuresIn(part, spec, all).length > 0
  );
}

/** How much the spec cares for a part: the weight of all it says there. */
export function weightOf(part: PartName, spec: Schemas["Spec"], all: Features): number {
  const { properties, choices } = PARTS[part];
  return (
    properties.reduce((sum, p) => sum + (spec.properties[p]?.weight ?? 0), 0) +
    choices.reduce((sum, c) => sum + (spec.choice_weights[c]?.weight ?? 0), 0) +
    featuresIn(part, spec, all).reduce((sum, f) => sum + (spec.features?.[f]?.weight ?? 0), 0)
  );
}

const WISHES = { need: "must have", want: "wanted", avoid: "better without" } as const;

/** A part in words: what leads, what a hand finds there, what it should have. */
export function partWords(
  part: PartName,
  view: Schemas["SpecView"],
  all: Features,
  word: (value: string) => string,
  least = 0,
): string[] {
  const { spec } = view;
  const { properties, choices } = PARTS[part];
  const leads = choices.flatMap((c) => {
    const first = spec.choices[c]?.[0];
    return first && !(c === "cleat" && first.value === "none")
      ? [c === "midsole" ? `${word(first.value)} midsole` : word(first.value)]
      : [];
  });
  const hands = properties
    .filter((p) => view.words[p] && (spec.properties[p]?.weight ?? 0) >= least)
    .sort((a, b) => (spec.properties[b]?.weight ?? 0) - (spec.properties[a]?.weight ?? 0))
    .map((p) => view.words[p] ?? "");
  const has = featuresIn(part, spec, all).flatMap((f) => {
    const wish = spec.features?.[f];
    const name = (all[f]?.name ?? f).toLowerCase();
    return wish ? [`${name} ${WISHES[wish.wish]}`] : [];
  });
  return [...leads, ...hands, ...has];
}
