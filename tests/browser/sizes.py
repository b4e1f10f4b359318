"""What axe, a finger and the eye would complain of, on the bench, on a standing tablet and zoomed."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page

from tests.much import much

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]


SOURCE = AXE.read_text(encoding="utf-8")
RUN = """([rules, colours]) => axe.run(document, {runOnly: rules, resultTypes: ['violations'],
  rules: colours ? {} : {'color-contrast': {enabled: false}}}).then(found =>
  found.violations.flatMap(v => v.nodes.map(n => `${v.id}: ${n.target} ${n.failureSummary}`)))"""
"""What is found is put in words over there: all that axe looked at is a hundred times as much to bring here."""
TWICE = """() => {
  const live = [...document.querySelectorAll('[role=status], [role=alert], [role=log], [aria-live]')]
    .filter(e => e.getAttribute('aria-live') !== 'off');
  const said = live.map(e => e.textContent.trim()).filter(Boolean);
  return [
    ...live.filter(e => live.some(o => o !== e && o.contains(e))).map(e => `told twice, one region in another: ${e.textContent}`),
    ...said.filter((t, i) => said.indexOf(t) !== i).map(t => `told twice: ${t}`)] }"""
"""What a screen reader would say twice: a live region in another, or two with the same words."""


def axe(page: Page, rules: list[str] = RULES, *, colours: bool = True) -> list[str]:
    """What is told twice, and what axe finds against WCAG 2.2 A and AA and its best practices; colours, the slowest part, where they differ."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(SOURCE)
    found: list[str] = page.evaluate(RUN, [rules, colours])
    return found + page.evaluate(TWICE)


SIZES = {"on the bench": (1280, 800), "standing tablet": (820, 1180), "at 200 %": (640, 400)}
"""Width and height in CSS pixels; 1280 by 800 zoomed to 200 % leaves half of each."""
LAID_OUT = ("on the bench", "at 200 %")
"""The widest and the narrowest layout: between them nothing stands that stands in neither."""
LEAST_TARGET, LEAST_DRAWING = 44, 240
SMALL = """least => [...document.querySelectorAll(
    'button, a[href], input, textarea, summary, [role=combobox], [role=slider], [role=option]')]
  .filter(e => e.checkVisibility() && !e.closest('.sr-only, [aria-hidden=true]'))
  .map(e => [e, (e.matches('[type=checkbox], [type=radio]') && e.closest('label') || e).getBoundingClientRect()])
  .filter(([, r]) => r.width < least - 0.5 || r.height < least - 0.5)
  .map(([e, r]) => `${(e.getAttribute('aria-label') || e.innerText || e.id).slice(0, 40)}: ${r.width} x ${r.height}`)"""
"""What a finger could miss; both ways, and the element itself: only a box to tick has its label for a target."""
OVER = """() => [document.documentElement, ...document.querySelectorAll('main')]
  .filter(e => e.scrollWidth - e.clientWidth > 1)
  .flatMap(e => [...e.querySelectorAll('*')].filter(c => c.getBoundingClientRect().right > e.getBoundingClientRect().right + 1)
    .slice(0, 3).map(c => `${c.tagName} ${c.className.baseVal ?? c.className}`.slice(0, 90)))"""
WIDEST = "() => Math.max(...[...document.querySelectorAll('main svg[role=img]')].map(s => s.getBoundingClientRect().width), 0)"
CUT = """() => { const m = document.querySelector('main').getBoundingClientRect();
  return [...document.querySelectorAll('main svg[role=img]')]
    .filter(s => s.getBoundingClientRect().right > m.right + 1).map(s => s.getAttribute('aria-label')) }"""


def found_at_every_size(page: Page, *, scrolls_sideways: bool = False) -> list[str]:
    """What axe, a finger and the eye would complain of, at every size; the contrast on the dark sheet too."""
    found = []
    for size, (width, height) in SIZES.items():
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(120)
        drawn = page.evaluate(WIDEST)
        looked = axe(page, colours=size == "on the bench") if size in much(LAID_OUT, tuple(SIZES)) else []
        found += [f"{size}: {f}" for f in looked + page.evaluate(SMALL, LEAST_TARGET) + page.evaluate(CUT)]
        found += [f"{size}: {f} runs off the side" for f in page.evaluate(OVER) if not scrolls_sideways]
        found += [f"{size}: drawn {drawn:.0f} px wide"] if 0 < drawn < LEAST_DRAWING else []
    page.set_viewport_size({"width": 1280, "height": 800})
    page.evaluate("document.documentElement.dataset.sheet = 'dark'")
    page.wait_for_timeout(120)
    return found + [f"dark: {f}" for f in axe(page, ["color-contrast"])]
