/** A day, a month or a year as the journal writes it: 2026-11-30, 2026-11, 2026. */
export type Span = "day" | "month" | "year";

export const spanOf = (text: string): Span =>
  text.length === 4 ? "year" : text.length === 7 ? "month" : "day";

/** The span that holds a day. */
export const textOf = (span: Span, iso: string): string =>
  iso.slice(0, span === "year" ? 4 : span === "month" ? 7 : 10);

/** So many days, months or years on. */
export function moved(text: string, by: number): string {
  const span = spanOf(text);
  const [year = 2000, month = 1, date = 1] = text.split("-").map(Number);
  const at = new Date(
    Date.UTC(
      year + (span === "year" ? by : 0),
      month - 1 + (span === "month" ? by : 0),
      date + (span === "day" ? by : 0),
    ),
  );
  return textOf(span, at.toISOString());
}
