/** What is said of a pair, where something may not be known of it. */
import { SYSTEM_NAMES } from "../api/sizes";
import { useVocabulary } from "../api/vocabulary";
import { labelText } from "./label";

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

/** A size as its box has it: "UK 8.5"; nothing for one made to measure. */
export const printed = (size: { system: keyof typeof SYSTEM_NAMES | null; label: number | null }): string =>
  size.system && size.label !== null ? `${SYSTEM_NAMES[size.system]} ${labelText(size.label)}` : "";

/** A size of a run as its box has it; an EU one by its label. */
export const boxOf = (size: { box?: string; label: number } | undefined): string =>
  size ? size.box || `EU ${labelText(size.label)}` : "";

/** How many pairs of a size others hold: trays, sister shops, customers. */
export const heldWord = (pair: { also_pulled?: number; on_hand: number }): string =>
  (pair.also_pulled ?? 0) >= pair.on_hand
    ? pair.on_hand > 1
      ? `all ${pair.on_hand} held`
      : "the last one is held"
    : `${pair.also_pulled} of ${pair.on_hand} held`;
