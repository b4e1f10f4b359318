/** Money comes in whole minor units of a currency and is shown to the last of them. */
export function price(minor: number | null, currency: string | undefined): string {
  return minor === null ? "price not known" : money(minor, currency ?? "EUR");
}

export function money(minor: number, currency: string): string {
  const format = new Intl.NumberFormat("en-GB", { style: "currency", currency, currencyDisplay: "code" });
  const digits = format.resolvedOptions().maximumFractionDigits ?? 2;
  return format.format(minor / 10 ** digits);
}
