/** The focus is never lost: when what had it goes, the next row of the same list takes it, or the sheet. */
import { noteMoved } from "../ui/guard";

const ROWS = "li, tr, [role=listitem], [role=row]";
const FOCUSABLE =
  "button:not([disabled]), a[href], input:not([disabled]), select, textarea, summary, [tabindex='0']";

/** Where in a list the focus is: the row, its place among its fellows, and the place within it. */
interface Place {
  list: Element;
  row: Element;
  index: number;
  nth: number;
}

const inside = (row: Element | undefined) => [...(row?.querySelectorAll<HTMLElement>(FOCUSABLE) ?? [])];

export function placeOf(element: Element | null): Place | null {
  const row = element?.closest(ROWS);
  const list = row?.parentElement;
  if (!element || !row || !list) return null;
  const nth = inside(row).indexOf(element as HTMLElement);
  return { list, row, index: [...list.children].indexOf(row), nth: Math.max(nth, 0) };
}

/** The same thing in the same row, or in the one that moved up to its place; none where there are no rows left. */
export function nextTo({ list, row, index, nth }: Place): HTMLElement | null {
  if (!list.isConnected) return null;
  const rows = [...list.children];
  const here = inside(row.isConnected ? row : rows[Math.min(index, rows.length - 1)]);
  return here[Math.min(nth, here.length - 1)] ?? null;
}

/** Watch until the answer is called. */
export function keepFocus(): () => void {
  let pointing = false;
  let byKey = true;
  let place: Place | null = null;
  const look = () => {
    if (document.activeElement !== document.body || document.querySelector("[role=dialog]")) return;
    const next = byKey && place ? nextTo(place) : null;
    if (next) {
      noteMoved(next);
      next.focus({ preventScroll: true });
      return;
    }
    const main = document.querySelector<HTMLElement>("main");
    (main?.querySelector<HTMLElement>("[data-current][tabindex]") ?? main)?.focus({ preventScroll: true });
  };
  const soon = () => {
    if (!pointing) requestAnimationFrame(() => requestAnimationFrame(look));
  };
  const down = () => {
    pointing = true;
    byKey = false;
  };
  const up = () => {
    pointing = false;
    soon();
  };
  const key = () => {
    byKey = true;
  };
  const came = (event: FocusEvent) => {
    place = placeOf(event.target as Element);
  };
  // An element that is taken out of the page while it has the focus leaves without a word.
  const gone = new MutationObserver(() => document.activeElement === document.body && soon());
  gone.observe(document.body, { childList: true, subtree: true });
  const heard: [string, EventListener][] = [
    ["focusout", soon],
    ["focusin", came as EventListener],
    ["keydown", key],
    ["pointerdown", down],
    ["pointerup", up],
    ["pointercancel", up],
  ];
  for (const [name, listener] of heard) window.addEventListener(name, listener, true);
  return () => {
    gone.disconnect();
    for (const [name, listener] of heard) window.removeEventListener(name, listener, true);
  };
}
