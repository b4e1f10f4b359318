"""Retake docs/screenshots from the demo data: `./kalon shots [view …]`."""

from __future__ import annotations

import sys
import uuid
from collections.abc import Callable
from io import BytesIO
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page

sys.path.insert(0, str(Path(__file__).parents[2]))

from tests.browser.driver import VIEW, chromium, new_athlete, pick, sign_in
from tests.running import database_server, demo_database, web

FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"


def fitting_of(page: Page, url: str, athlete: str) -> str:
    """Address of an athlete's newest fitting."""
    found = page.request.get(f"{url}/api/athletes", params={"text": athlete}).json()
    return f"{url}/fittings/{found[0]['fitting_id']}"


def _at(athlete: str, station: str, ready: str) -> Callable[[Page, str], None]:
    def go(page: Page, url: str) -> None:
        page.goto(f"{fitting_of(page, url, athlete)}/{station}")
        page.locator(ready).first.wait_for()

    return go


def _room(path: str, ready: str) -> Callable[[Page, str], None]:
    def go(page: Page, url: str) -> None:
        page.goto(f"{url}{path}")
        page.get_by_text(ready).first.wait_for()

    return go


def _athlete(page: Page, url: str) -> None:
    found = page.request.get(f"{url}/api/athletes", params={"text": "Fenna Rusk"}).json()
    page.goto(f"{url}/athletes/{found[0]['id']}")
    page.locator("[data-drawing=years]").wait_for()


def _today(page: Page, url: str) -> None:
    """With two who wait and one who is being fitted."""
    for called, sport in (("Blue jacket", "football"), ("Grey hood", "climbing"), ("Long plait", "cycling")):
        page.request.post(f"{url}/api/queue", data={"id": str(uuid.uuid4()), "called": called, "sport": sport})
    first = page.request.get(f"{url}/api/queue").json()["places"][0]["id"]
    taken = {"fitting_id": str(uuid.uuid4()), "change_id": str(uuid.uuid4())}
    page.request.post(f"{url}/api/queue/{first}/take", data=taken)
    page.goto(url)
    page.get_by_role("button", name="Take up Grey hood").wait_for()


def _what_if(page: Page, url: str) -> None:
    _at("Tavi Umber", "spec", "[data-drawing=wanted-shoe]")(page, url)
    page.get_by_role("button", name="What if").click()
    pick(page, "Ground", "Artificial grass")
    page.locator("[data-moved]").wait_for()


def _brief(page: Page, url: str) -> None:
    _at("Tavi Umber", "brief", "[aria-label='The brief so far']")(page, url)
    page.get_by_role("button", name="Ground").click()
    page.locator("[data-question=surface]").wait_for()


def _house(page: Page, url: str) -> None:
    page.goto(f"{url}/house")
    page.get_by_role("radio", name="Numbers").click()
    page.get_by_role("region", name="Climbing").wait_for()


SPORTS = ("Ewart Linn", "Tavi Umber", "Dagny Pell", "Vido Carrick-Yann", "Lio Farrant", "Tobit Ashgrove", "Juno Hask",
          "Halden Roe")  # fmt: skip
"""Whose specs stand on the contact sheet: one a sport family, the last with two disciplines."""


def contact_sheet(page: Page, url: str, file: Path) -> None:
    """The spec of every sport family at half size on one picture."""
    wide, high = VIEW["width"] // 2, VIEW["height"] // 2
    sheet = Image.new("RGB", (2 * wide, 4 * high))
    for i, athlete in enumerate(SPORTS):
        _at(athlete, "spec", "[data-drawing=wanted-shoe]")(page, url)
        page.wait_for_timeout(500)
        view = Image.open(BytesIO(page.screenshot())).resize((wide, high), Image.Resampling.LANCZOS)
        sheet.paste(view, (i % 2 * wide, i // 2 * high))
    sheet.save(file)


def _dark(page: Page, url: str) -> None:
    _at("Sunniva Crake", "pull", "[data-drawing=foot-in-shoe]")(page, url)
    page.get_by_role("button", name="Light / dark").click()


def _feet_view(athlete: str, view: str, ready: str) -> Callable[[Page, str], None]:
    def go(page: Page, url: str) -> None:
        _at(athlete, "feet", "[data-outline=captured]")(page, url)
        page.get_by_role("radio", name=view, exact=True).click()
        page.locator(ready).first.wait_for(timeout=40_000)

    return go


def _feet_junior(page: Page, url: str) -> None:
    _at("Fenna Rusk", "feet", "[data-chart=growth]")(page, url)
    page.get_by_role("radio", name="earlier").click()
    page.locator("[data-chart=growth]").last.scroll_into_view_if_needed()


def _feet_tracing(page: Page, url: str) -> None:
    _at("Tavi Umber", "feet", "[data-capture='tracing/left']")(page, url)
    page.get_by_role("button", name="Check", exact=True).first.click()
    page.locator("[data-handle]").first.wait_for()
    page.wait_for_timeout(600)


def _trial(page: Page, url: str) -> None:
    """Toes that jam: the next pair is named."""
    _at("Halden Roe", "trial", "text=How to mark a pinch")(page, url)
    page.get_by_label("Room at the toes", exact=True).get_by_role("radio", name="jam").click()
    page.locator("[data-next], [data-stays]").first.wait_for()


def _turned(page: Page, url: str) -> None:
    """Two pairs over the foot, as the athlete sees them."""
    _at("Halden Roe", "trial", "text=How to mark a pinch")(page, url)
    page.keyboard.press("F2")
    page.locator("[data-drawing=two-pairs]").wait_for()
    page.get_by_role("button", name="Worn in").click()


def _pair(page: Page, url: str) -> None:
    """A pair worn for a while, looked at twice."""
    found = page.request.get(f"{url}/api/athletes", params={"text": "Corin Salt"}).json()[0]["id"]
    pairs = page.request.get(f"{url}/api/athletes/{found}/pairs").json()
    page.goto(f"{url}/pairs/{pairs[0]['id']}")
    page.locator("[data-drawing=life]").wait_for()
    page.get_by_role("button", name="The same again?").click()
    page.get_by_role("region", name="The same again").wait_for()


def _plan(page: Page, url: str) -> None:
    found = page.request.get(f"{url}/api/athletes", params={"text": "Halden Roe"}).json()[0]["id"]
    page.goto(f"{url}/pairs?athlete={found}")
    page.locator("[data-chart=budget]").wait_for()


def _looking(page: Page, url: str) -> None:
    _pair(page, url)
    page.get_by_role("button", name="Look at it").click()
    page.get_by_label("Sole", exact=True).get_by_role("radio").nth(1).click()
    page.locator("[data-says]").get_by_text("worn").wait_for()


def _shoebench(page: Page, url: str) -> None:
    """A boot on the shoe bench, its three pictures taken by the practice camera."""
    model = page.request.get(f"{url}/api/rack?sport=football&limit=5").json()["models"][3]
    page.goto(f"{url}/stockroom/bench/{model['sizes'][2]['id']}")
    page.get_by_role("list", name="Good for").wait_for()
    for way in ("Insole", "Sole", "Side"):
        page.get_by_role("button", name=way, exact=True).click()
        page.get_by_role("button", name="Practice shoe").click()
        page.get_by_role("dialog").wait_for(timeout=60_000)
        page.keyboard.press("Escape")
        page.get_by_role("dialog").wait_for(state="hidden")


SHOTS: dict[str, Callable[[Page, str], None]] = {
    "today": _today,
    "turned": _turned,
    "athlete": _athlete,
    "athletes": _room("/athletes", "Anneke Dovrel"),
    "pair": _pair,
    "plan": _plan,
    "plan-choose": _room("/pairs", "A squad"),
    "squad": _room("/squads?name=Football juniors", "fitted"),
    "squads": _room("/squads", "Football juniors"),
    "stockroom": _room("/stockroom", "pairs on hand"),
    "shoebench": _shoebench,
    "feet": _at("Wren Halloway", "feet", "[data-drawing=feet]"),
    "feet-print": _feet_view("Wren Halloway", "print", "[data-under=mat]"),
    "feet-turned": _feet_view("Wren Halloway", "3-D", "[data-drawn=yes]"),
    "feet-tracing": _feet_tracing,
    "feet-junior": _feet_junior,
    "brief": _brief,
    "spec": _at("Tavi Umber", "spec", "[data-drawing=stud-plate]"),
    "spec-what-if": _what_if,
    "house": _house,
    "pull": _at("Sunniva Crake", "pull", "[data-drawing=foot-in-shoe]"),
    "trial": _trial,
    "settle": _at("Lio Farrant", "settle", "text=Breaking in"),
    "return": _at("Casimir Loe", "return", "text=Seen against predicted"),
    "pull-dark": _dark,
}


SPOILT_LIST = """Autumn list\r\n
Brand;Style;Category;UK;Fitting;Colour;Qty;RRP;EAN;Season\r
Lowmarch;Skein;football;8;;slate;2;89,50;2000000000008;autumn\r
Lowmarch;Skein;football;8,5;;slate;2;89,50;2000000000015;autumn\r
Lowmarch;Skein;football;48x;;slate;1;89,50;;autumn\r
Lowmarch;;football;9;;slate;1;89,50;;autumn\r
Lowmarch;Brow;chess;9;;slate;1;89,50;;autumn\r
Lowmarch;Brow;football;9,5;QQ;slate;1;89,50;;autumn\r
Lowmarch;Brow;football;10;;slate;-1;89,50;;autumn\r
Lowmarch;Brow;football;10,5;;slate;1;gratis;;autumn\r
Lowmarch;Cobble;football;11;;slate;1;£ 80;2000000000999;autumn\r
"""
"""A made-up supplier's list with most of what can be wrong with one."""


def _list(page: Page, url: str) -> None:
    page.goto(f"{url}/stockroom/lists")
    file = {"name": "autumn.csv", "mimeType": "text/csv", "buffer": SPOILT_LIST.encode()}
    page.get_by_label("The list").set_input_files(file)  # type: ignore[arg-type]
    page.wait_for_url("**/lists/*-*")
    page.get_by_role("radio", name="were counted").click()
    page.get_by_role("radio", name="6 refused").wait_for()


def _orders(page: Page, url: str) -> None:
    page.goto(f"{url}/stockroom/orders")
    page.locator("[data-order]").first.wait_for()


def _order_sheet(page: Page, url: str) -> None:
    _at("Sunniva Crake", "pull", "[data-drawing=foot-in-shoe]")(page, url)
    page.get_by_role("button", name="None of these").click()
    page.get_by_role("button", name="Order it").nth(3).click()
    page.get_by_role("region", name="Ordered").wait_for()


def _takings(page: Page, url: str) -> None:
    """A month: what was taken by day, and what went back."""
    page.goto(f"{url}/takings")
    page.get_by_role("radio", name="Month").click()
    page.locator("[data-line]").nth(2).wait_for()


def _ledger(page: Page, url: str) -> None:
    page.goto(f"{url}/ledger")
    page.locator("[data-maker=Velmire]").wait_for()


def _away(page: Page, url: str) -> None:
    """A link's page as a phone shows it."""
    new_athlete(page, url, "Farah Distant")
    page.get_by_role("button", name="They aren't here").click()
    page.get_by_role("button", name="Make a").click()
    link = page.locator("[data-link]").inner_text()
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(link)
    page.get_by_role("button", name="I agree").click()
    page.get_by_label("In your own words").fill("Training on a wet pitch, twice a week. My left heel hurts after.")
    page.get_by_label("Height").fill("181")
    page.get_by_role("button", name="Add a shoe").click()
    page.get_by_label("Maker").fill("Velmire")
    page.get_by_label("Size", exact=True).fill("43")
    page.get_by_role("radio", name="right").click()
    page.locator("[data-kept=kept]").wait_for()


def _inside(page: Page, url: str) -> None:
    """A size that was tried and read: what its inside is known from."""
    stock = page.request.get(f"{url}/api/rack", params={"limit": 60}).json()["models"]
    tried = next(
        (m, s)
        for m in stock
        for s in m["sizes"]
        if s["on_hand"]
        and "trials" in page.request.get(f"{url}/api/stock/{s['id']}/inside").json()["rests_on"]["length"]
    )
    model, size = tried
    reading = {"id": str(uuid.uuid4()), "zone": "length", "mm": round(size["length_mm"] + 1, 1), "source": "stick"}
    page.request.post(f"{url}/api/stock/{size['id']}/readings", data=reading)
    page.goto(f"{url}/stockroom")
    page.locator("[data-model] > button").filter(has_text=model["name"]).first.click()
    row = page.locator(f"[data-line='{size['id']}']")
    row.get_by_role("button", name="inside and movements").click()
    page.get_by_text("one stick reading").first.wait_for()


BY_MANAGER: dict[str, Callable[[Page, str], None]] = {
    "ledger": _ledger,
    "takings": _takings,
    "away": _away,
    "inside": _inside,
    "stock-list": _list,
    "orders": _orders,
    "order-sheet": _order_sheet,
}
NOT_KEPT = (
    "feet-turned", "feet-print", "feet-junior", "feet-tracing", "spec-what-if", "pull-dark", "order-sheet", "stock-list", "plan-choose",
    "inside",
    "squads", "squad", "athletes", "orders",
)  # fmt: skip
"""Views that are looked at and have no picture of their own in the folder."""


def take(names: list[str], folder: Path, size: dict[str, int]) -> None:
    """Take these shots, all when none is named."""
    folder.mkdir(parents=True, exist_ok=True)
    with database_server() as server, web(demo_database(server, "shots")) as running, chromium() as browser:
        page = browser.new_page(viewport=size)  # type: ignore[arg-type]
        page.goto(running.url)
        page.get_by_role("button", name="Sign in").wait_for()
        page.evaluate("document.fonts.ready")
        sign_in(page, running.url)
        if not names or "specs" in names:
            contact_sheet(page, running.url, folder / "specs.png")
        for name in names or [n for n in [*SHOTS, *BY_MANAGER] if n not in NOT_KEPT]:
            if name in BY_MANAGER:
                page = browser.new_context(viewport=size).new_page()  # type: ignore[arg-type]
                sign_in(page, running.url, "marrow", "plumb-line-7")
            page.set_viewport_size(size)  # type: ignore[arg-type]
            if go := SHOTS.get(name) or BY_MANAGER.get(name):
                go(page, running.url)
                page.evaluate("document.fonts.ready")
                page.wait_for_timeout(400)
                page.screenshot(path=folder / f"{name}.png")
                page.evaluate("localStorage.removeItem('kalon.turned')")
                print(folder / f"{name}.png")


if __name__ == "__main__":
    take(sys.argv[1:], FOLDER, VIEW)
