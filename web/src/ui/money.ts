/** Money comes in whole minor units of a currency and is shown to the last of them. */
export function price(minor: number | null, currency: string | undefined): string {
  return minor === null ? "price not known" : money(minor, currency ?? "EUR");
}

const formatOf = (currency: string) =>
  new Intl.NumberFormat("en-GB", { style: "currency", currency, currencyDisplay: "code" });

/** Digits after the point in this currency. */
export const minorDigits = (currency: string): number =>
  formatOf(currency).resolvedOptions().maximumFractionDigits ?? 2;

/** An amount where its currency stands already. */
export function amount(minor: number, currency: string): string {
  const digits = minorDigits(currency);
  return new Intl.NumberFormat("en-GB", {
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  }).format(minor / 10 ** digits);
}

let shopCurrency = "EUR";

/** What amounts are in that are kept without their currency. */
export function setShopCurrency(currency: string | undefined): void {
  shopCurrency = currency ?? "EUR";
}

export const shopMoney = (minor: number): string => money(minor, shopCurrency);

export function money(minor: number, currency: string): string {
  return formatOf(currency).format(minor / 10 ** minorDigits(currency));
}
