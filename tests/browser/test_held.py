"""Pairs that are spoken for, as the fitter meets them: at the shelf, at the till, in the stockroom, in a sister shop."""

from __future__ import annotations

from collections.abc import Callable

import psycopg
import pytest
from playwright.sync_api import Page, expect

from tests.api.calls import pulled, ready_to_pull, signed_in
from tests.api.test_orders import ask, count, shop_of, step
from tests.api.test_reserved import NOTE, let_go  # noqa: F401  # a fixture for every test here
from tests.browser.sizes import found_at_every_size
from tests.running import Web

pytestmark = pytest.mark.browser


def promised(running: Web, url: str) -> tuple[str, str]:
    """A fitting with the last pair of a size in its tray, which is held for a sister shop: fitting and line."""
    client = signed_in(running)
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE reservation SET ended_at = now() WHERE ended_at IS NULL")
    fitting, (line,) = pulled(client, 1)
    count(signed_in(running, "marrow"), line, 2)
    variant = client.get(f"/api/stock/{line}").json()["variant_id"]
    order = ask(signed_in(running, "sorrel"), variant, shop_of(url, "Harbour"), note=NOTE).json()["id"]
    step(client, order, "held").raise_for_status()
    count(signed_in(running, "marrow"), line, 1)
    return fitting, line


def test_a_pair_held_for_a_sister_shop_is_sold_only_with_a_word_to_them(
    open_page: Callable[..., Page], shop: tuple[Web, str]
) -> None:
    running, url = shop
    fitting, line = promised(running, url)
    signed_in(running).patch(
        f"/api/fittings/{fitting}/parts/trial",
        json={"base_version": 0, "change_id": fitting, "set": {f"pairs/{line}/verdict": "pass"}},
    ).raise_for_status()
    page = open_page()
    page.goto(f"{running.url}/fittings/{fitting}/settle")
    expect(page.get_by_label("Tray", exact=True)).to_contain_text("the last one is held")
    page.get_by_role("button", name="Settle on this pair").click()
    held = page.locator("[data-held]")
    expect(held).to_contain_text("No pair of that size is free: one held for Games fitting room, North Isle until")
    expect(held.get_by_role("button", name="Sell it all the same")).to_be_disabled()
    assert found_at_every_size(page) == []
    held.get_by_label("Why it is taken all the same").fill("Her race is tomorrow.")
    held.get_by_label("Why it is taken all the same").press("Enter")
    expect(page.get_by_role("button", name="Undo the sale")).to_be_visible()
    sister = open_page("sorrel")
    sister.goto(f"{running.url}/stockroom/orders")
    expect(sister.get_by_role("region", name="On their way here")).to_contain_text(
        "Taken after all in Games fitting room, Harbour: Her race is tomorrow."
    )


def test_a_pair_held_for_another_is_pulled_only_with_a_reason(
    open_page: Callable[..., Page], shop: tuple[Web, str]
) -> None:
    running, url = shop
    _, line = promised(running, url)
    client = signed_in(running)
    fitting = ready_to_pull(client)
    page = open_page()
    page.goto(f"{running.url}/fittings/{fitting}/pull")
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    expect(page.get_by_role("region", name="Shoes in order").get_by_role("button").first).to_contain_text("held")
    page.get_by_role("button", name="Into the tray").click()
    held = page.locator("[data-held]")
    expect(held).to_contain_text("one held for Games fitting room, North Isle until")
    held.get_by_label("Why it is taken all the same").fill("Only to compare; it goes back.")
    held.get_by_role("button", name="Into the tray all the same").click()
    expect(page.get_by_role("button", name="Put back")).to_be_visible()
    expect(held).to_have_count(0)
    assert line in [p["id"] for p in client.get(f"/api/fittings/{fitting}").json()["tray"]]


def test_a_pair_is_kept_back_for_a_customer_by_keys(open_page: Callable[..., Page], shop: tuple[Web, str]) -> None:
    running, url = shop
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE reservation SET ended_at = now() WHERE ended_at IS NULL")
    page = open_page()
    page.goto(f"{running.url}/stockroom")
    page.locator("[data-model] > button").first.click()
    row = page.locator("[data-line]").filter(has=page.locator("[data-on-hand]:not([data-on-hand='0'])")).first
    row.get_by_role("button", name="inside and movements").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Keep one back for").fill("Casimir Loe")
    dialog.get_by_label("For", exact=True).fill("3")
    dialog.get_by_label("For", exact=True).press("Enter")
    held = dialog.get_by_role("list", name="Held")
    expect(held).to_contain_text("one kept for Casimir Loe until")
    expect(held).to_contain_text("Ilse Varn")
    assert found_at_every_size(page) == []
    page.keyboard.press("Escape")
    expect(row).to_contain_text("1 held")
    row.get_by_role("button", name="inside and movements").click()
    held.get_by_role("button", name="Let it go").click()
    expect(held.get_by_role("listitem")).to_have_count(0)
