/** The focus is never lost: when what had it goes, the sheet takes it. */

/** Watch until the answer is called. */
export function keepFocus(): () => void {
  let pointing = false;
  const look = () => {
    if (document.activeElement !== document.body || document.querySelector("[role=dialog]")) return;
    const main = document.querySelector<HTMLElement>("main");
    (main?.querySelector<HTMLElement>("[data-current][tabindex]") ?? main)?.focus({ preventScroll: true });
  };
  const soon = () => {
    if (!pointing) requestAnimationFrame(() => requestAnimationFrame(look));
  };
  const down = () => {
    pointing = true;
  };
  const up = () => {
    pointing = false;
    soon();
  };
  // An element that is taken out of the page while it has the focus leaves without a word.
  const gone = new MutationObserver(() => document.activeElement === document.body && soon());
  gone.observe(document.body, { childList: true, subtree: true });
  window.addEventListener("focusout", soon);
  window.addEventListener("pointerdown", down, true);
  window.addEventListener("pointerup", up, true);
  window.addEventListener("pointercancel", up, true);
  return () => {
    gone.disconnect();
    window.removeEventListener("focusout", soon);
    window.removeEventListener("pointerdown", down, true);
    window.removeEventListener("pointerup", up, true);
    window.removeEventListener("pointercancel", up, true);
  };
}
