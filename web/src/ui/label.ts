/** A size's label as boxes have it: thirds with their signs, halves with a point. */
const THIRDS: [near: number, sign: string][] = [
  [1 / 3, "⅓"],
  [2 / 3, "⅔"],
];
const NEAR = 0.01;

export function labelText(label: number): string {
  const whole = Math.floor(label);
  const third = THIRDS.find(([near]) => Math.abs(label - whole - near) < NEAR);
  return third ? `${whole}${third[1]}` : String(Math.round(label * 100) / 100);
}

/** The EU size as its box has it: the half it is kept by is said only where the box says something else. */
export const euText = (pair: {
  eu_label: number;
  system?: string | null | undefined;
  label?: number | null | undefined;
}): string => labelText(pair.system === "eu" && pair.label != null ? pair.label : pair.eu_label);
