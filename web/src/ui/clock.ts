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

/** Making a formatter takes a hundred times as long as using it. */
const formats = new Map<string, Intl.DateTimeFormat>();

function formatIn(zone: string | undefined, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone} ${JSON.stringify(options)}`;
  const known = formats.get(key);
  if (known) return known;
  const made = new Intl.DateTimeFormat("en-GB", { ...options, ...(zone ? { timeZone: zone } : {}) });
  formats.set(key, made);
  return made;
}

const inZone = (iso: string, options: Intl.DateTimeFormatOptions): string => {
  const when = isDay(iso) ? atUtc(iso) : new Date(iso);
  return formatIn(isDay(iso) ? "UTC" : shopZone, options).format(when);
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
  formatIn(shopZone, { hour: "2-digit", minute: "2-digit" }).format(new Date());
