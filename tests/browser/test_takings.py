"""The takings by hand: a price lowered with a reason, a pair brought back, the day closed; and every size of the pages."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable

import psycopg
import pytest
from playwright.sync_api import Page, expect

from tests.api.calls import new_athlete, patch, pulled, sell, signed_in, today
from tests.api.test_sale import count
from tests.browser.driver import saved
from tests.browser.sizes import found_at_every_size
from tests.running import Web

pytestmark = pytest.mark.browser
SEEN_MS = 1_200
"""What must be seen counts a second after it was painted."""


def ready(running: Web, login: str = "ilse") -> tuple[str, str]:
    """A fitting with a pair that passed; its id and the pair's line."""
    client = signed_in(running, login)
    fitting, lines = pulled(client, 1)
    count(running, lines[0], 3)
    assert patch(client, fitting, "trial", {f"pairs/{lines[0]}/verdict": "pass"}).status_code == 200
    return fitting, lines[0]


def test_a_lowered_price_is_sold_and_the_pair_comes_back(open_page: Callable[..., Page], running: Web) -> None:
    fitting, line = ready(running)
    page = open_page("ilse")
    page.goto(f"{running.url}/fittings/{fitting}/settle")
    off = page.get_by_label("Taken off", exact=True)
    off.fill("10")
    off.press("Tab")
    settle = page.get_by_role("button", name="Settle on this pair")
    page.locator("[data-total]").wait_for()
    page.wait_for_timeout(SEEN_MS)
    settle.click()
    expect(page.get_by_role("alert").filter(has_text="Say why the price is lowered")).to_be_visible()
    page.get_by_label(re.compile("^Why")).fill("last of its kind")
    page.get_by_label(re.compile("^Why")).press("Tab")
    saved(page)
    page.wait_for_timeout(SEEN_MS)
    settle.click()
    sold = page.locator("[data-sold]")
    expect(sold).to_contain_text("off (last of its kind)")
    number = str(signed_in(running).get(f"/api/fittings/{fitting}").json()["sale"]["lines"][0]["number"])
    expect(sold).to_contain_text(number)
    sold.get_by_role("button", name="It came back").click()
    dialog = page.get_by_role("dialog")
    give = dialog.get_by_role("button", name="Give")
    expect(give).to_be_disabled()  # neither why nor what became of it
    dialog.get_by_role("radio", name="too small").click()
    dialog.get_by_role("radio", name="Back on the shelf").click()
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    page.wait_for_timeout(SEEN_MS)
    give.click()
    expect(page.get_by_role("list", name="Done upon the sale")).to_contain_text("too small")
    expect(page.get_by_role("button", name="Undo the sale")).to_have_count(0)
    assert signed_in(running).get(f"/api/stock/{line}").json()["on_hand"] == 3
    page.goto(f"{running.url}/fittings/{fitting}/return")
    expect(page.get_by_text("There is nothing to follow up")).to_be_visible()


def test_a_pair_nobody_knows_a_price_of_is_asked_for_one_at_the_trial(
    open_page: Callable[..., Page], shop: tuple[Web, str]
) -> None:
    running, url = shop
    fitting, line = ready(running)
    model = signed_in(running).get(f"/api/stock/{line}").json()["model_id"]
    with psycopg.connect(url) as cx:
        kept = cx.execute("DELETE FROM model_price WHERE model_id = %s RETURNING *", [model]).fetchall()
    try:
        page = open_page("ilse")
        page.goto(f"{running.url}/fittings/{fitting}/trial")
        price = page.get_by_label("Nobody knows its price")
        price.fill("89,50")
        price.press("Tab")
        saved(page)
        page.goto(f"{running.url}/fittings/{fitting}/settle")
        page.get_by_role("button", name="Settle on this pair").wait_for()
        page.wait_for_timeout(SEEN_MS)
        page.get_by_role("button", name="Settle on this pair").click()
        expect(page.locator("[data-sold]")).to_contain_text("EUR 89.50, price said for this sale")
    finally:
        with psycopg.connect(url) as cx:
            cx.cursor().executemany(f"INSERT INTO model_price VALUES ({', '.join(['%s'] * len(kept[0]))})", kept)


def test_the_day_is_looked_at_a_line_opened_and_the_day_closed(
    open_page: Callable[..., Page], shop: tuple[Web, str]
) -> None:
    running, url = shop
    client = signed_in(running, "tarn")  # a shop of its own: its day is closed
    fitting, lines = pulled(client, 1)
    sale = sell(client, fitting, lines[0]).json()["sale"]["lines"][0]
    page = open_page("tarn")
    page.goto(running.url)
    page.get_by_role("link", name="Takings").click()
    page.locator(f"[data-line='{sale['number']}']").wait_for()
    expect(page.locator("[data-sums=EUR]")).to_be_visible()
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    page.locator(f"[data-line='{sale['number']}'] button").click()
    till = page.get_by_label("The till's number")
    till.fill("B-17")
    till.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("Noted.")
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    page.keyboard.press("Escape")
    expect(page.locator(f"[data-line='{sale['number']}']")).to_contain_text("till B-17")
    page.get_by_role("radio", name="Month").click()
    page.locator(f"[data-bar='{today().isoformat()}']").click()
    close = page.get_by_role("button", name=re.compile("^Close"))
    close.wait_for()
    page.wait_for_timeout(SEEN_MS)
    close.click()
    expect(page.locator("[data-closed]")).to_contain_text("Closed by Tarn Ellerby")
    with psycopg.connect(url) as cx:
        cx.execute("DELETE FROM journal_close WHERE day = %s", [today()])


def test_money_is_left_for_an_order_and_given_back(open_page: Callable[..., Page], running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 1)
    variant = client.get(f"/api/stock/{lines[0]}").json()["variant_id"]
    order = client.post(
        "/api/orders", json={"id": str(uuid.uuid4()), "variant_id": variant, "fitting_id": fitting, "from_shop": None}
    ).json()["id"]
    page = open_page("ilse")
    page.goto(f"{running.url}/stockroom/orders")
    row = page.locator(f"[data-order='{order}']")
    row.get_by_role("button", name="A deposit").click()
    row.get_by_label("Left for it").fill("25")
    page.wait_for_timeout(SEEN_MS)
    row.get_by_role("button", name="Take the deposit").click()
    expect(row.locator("[data-deposit]")).to_contain_text("EUR 25.00 left for it")
    row.get_by_role("button", name="Give it back").click()
    row.get_by_label("Why it is given back").fill("found one elsewhere")
    page.wait_for_timeout(SEEN_MS)
    row.get_by_role("button", name="Give EUR 25.00 back").click()
    expect(row.get_by_role("button", name="A deposit")).to_be_visible()


def test_a_trainee_is_told_whose_the_takings_are(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("pip")
    page.goto(f"{running.url}/takings")
    expect(page.get_by_text("The takings are for fitters and managers.")).to_be_visible()


def test_what_sold_is_bought_again_and_comes(open_page: Callable[..., Page], running: Web) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    count(running, line, 1)
    assert sell(client, fitting, line).status_code == 201
    maker = client.get(f"/api/stock/{line}").json()["maker"]
    page = open_page("ilse")
    page.goto(f"{running.url}/stockroom/orders")
    page.get_by_role("link", name="Buying again").click()
    page.locator(f"[data-advised='{maker}']").wait_for()
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    page.locator(f"[data-advised='{maker}']").get_by_role("button", name="Order").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("A word to them").fill("as last time")
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    dialog.get_by_role("button", name="Keep the order").click()
    expect(page.locator(f"[data-advised='{maker}']")).to_have_count(0)
    row = page.locator("[data-purchase]").filter(has_text="as last time").first
    sent = row.get_by_role("button", name="It is sent")
    sent.wait_for()
    page.wait_for_timeout(SEEN_MS)
    sent.click()
    row.get_by_role("button", name="Some came").click()
    came = row.get_by_role("button", name=re.compile("came$")).last
    page.wait_for_timeout(SEEN_MS)
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    came.click()
    expect(page.get_by_role("region", name="Done")).to_contain_text("as last time")
    assert client.get(f"/api/stock/{line}").json()["on_hand"] >= 1


def test_how_an_athlete_is_reached_is_said_and_their_name_put_right(
    open_page: Callable[..., Page], running: Web
) -> None:
    client = signed_in(running)
    athlete = new_athlete(client, "Ann Mistyped")
    page = open_page("ilse")
    page.goto(f"{running.url}/athletes/{athlete}")
    page.get_by_role("button", name="Put it right").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Ann Righted")
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    page.get_by_role("button", name="Keep it so").click()
    expect(page.get_by_role("heading", name="Ann Righted")).to_be_visible()
    reach = page.get_by_role("region", name="How they are reached")
    expect(reach).to_contain_text("Nobody has said")
    reach.get_by_role("button", name="Change").click()
    page.get_by_label("Telephone", exact=True).fill("call me")
    page.get_by_role("button", name="Keep it so").click()
    expect(page.get_by_role("dialog").get_by_text("This can't be right.")).to_be_visible()
    page.get_by_label("Telephone", exact=True).fill("+44 20 7946 0958")
    page.get_by_label(re.compile("^They agree")).check()
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    page.get_by_role("button", name="Keep it so").click()
    expect(reach).to_contain_text("+44 20 7946 0958")
    expect(reach).to_contain_text("Agreed on")


def test_labels_are_asked_for_at_the_shelf(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("ilse")
    page.goto(f"{running.url}/stockroom")
    page.locator("[data-model] > button").first.click()
    page.get_by_role("button", name="Labels").first.click()
    dialog = page.get_by_role("dialog")
    found = found_at_every_size(page)
    assert not found, "\n".join(found)
    dialog.get_by_role("radio", name="One a size").click()
    dialog.get_by_label("Used on the sheet already").fill("3")
    href = str(dialog.get_by_role("link", name="To print").get_attribute("href"))
    assert ("skip=3" in href, "*" in href) == (True, False)
    assert page.request.get(running.url + href).body().startswith(b"%PDF")
