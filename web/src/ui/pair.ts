/** What is said of a pair, where something may not be known of it. */
import type { Schemas } from "../api/client";
import { useVocabulary } from "../api/vocabulary";

/** Its kinds, the upper among them where it is known. */
export function choicesOf(pair: {
  choices: Record<string, string>;
  upper: string | null;
}): Record<string, string> {
  return pair.upper === null ? pair.choices : { ...pair.choices, upper: pair.upper };
}

/** An upper in words. */
export function useUpperWord(): (upper: string | null) => string {
  const values = useVocabulary().data?.values ?? {};
  return (upper) => (upper === null ? "upper not known" : (values[upper] ?? upper.replaceAll("_", " ")));
}

const SYSTEMS: Record<Schemas["RackSize"]["system"], string> = {
  eu: "EU",
  uk: "UK",
  us_men: "US",
  us_women: "US women",
  uk_child: "UK child",
  jp_cm: "JP",
  mondopoint_mm: "Mondo",
};
export const SYSTEM_WORDS: Record<string, string> = SYSTEMS;

/** A size as its box has it: "UK 8.5". */
export const printed = (size: { system: keyof typeof SYSTEMS; label: number }): string =>
  `${SYSTEMS[size.system]} ${Math.round(size.label * 100) / 100}`;
