/** Days are the shop's days, wherever this browser is. */
let shopZone: string | undefined;

export function setShopZone(zone: string | undefined): void {
  try {
    if (zone) new Intl.DateTimeFormat("en-GB", { timeZone: zone });
    shopZone = zone;
  } catch {
    shopZone = undefined;
  }
}

const isDay = (iso: string) => iso.length === 10;
/** A day as an instant that is the same day written in UTC, whatever the browser's zone. */
export const atUtc = (iso: string): Date => new Date(`${iso.slice(0, 10)}T00:00:00Z`);

const inZone = (iso: string, options: Intl.DateTimeFormatOptions): string => {
  const zone = isDay(iso) ? "UTC" : shopZone;
  return (isDay(iso) ? atUtc(iso) : new Date(iso)).toLocaleString("en-GB", {
    ...options,
    ...(zone ? { timeZone: zone } : {}),
  });
};

/** A day as people write it. */
export const day = (iso: string | null | undefined): string =>
  iso ? inZone(iso, { day: "numeric", month: "short", year: "numeric" }) : "";
/** A moment: the day and the time of it. */
export const moment = (iso: string): string => inZone(iso, { dateStyle: "medium", timeStyle: "short" });
/** The time of a moment. */
export const timeOf = (iso: string): string => inZone(iso, { hour: "2-digit", minute: "2-digit" });

/** Whole days from one day to another. */
export const daysBetween = (from: string, to: string): number =>
  Math.round((atUtc(to).getTime() - atUtc(from).getTime()) / 86_400_000);

/** The time of day at the shop, as 17:30. */
export const clock = (): string =>
  new Date().toLocaleTimeString("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    ...(shopZone ? { timeZone: shopZone } : {}),
  });
