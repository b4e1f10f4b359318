/** What a shop's tablet keeps of those who work on it: where each was, and that it is one. */
const PLACE = "kalon.place.";
const TABLET = "kalon.tablet";

/** Where somebody was on this tablet; Today for whoever is new on it. */
export const placeOf = (login: string): string => localStorage.getItem(PLACE + login) ?? "/";

function keep(name: string, text: string): void {
  try {
    localStorage.setItem(name, text);
  } catch {
    // the store is full: they begin at Today, and sign in by password
  }
}

export const keepPlace = (login: string, place: string): void => keep(PLACE + login, place);

/** Whether this browser was a tablet of the shop's when somebody last was signed in on it. */
export const wasTablet = (): boolean => localStorage.getItem(TABLET) === "yes";

export const keepTablet = (is: boolean): void => (is ? keep(TABLET, "yes") : localStorage.removeItem(TABLET));
