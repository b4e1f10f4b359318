"""Chromium, headless, as a fitter's tablet."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser, Page, ViewportSize, sync_playwright

ARGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update",
        "--disable-sync", "--disable-quic", "--no-first-run", "--enable-unsafe-swiftshader"]  # fmt: skip
CHROMIUM = "/usr/lib/chromium/chromium-headless-shell"
"""Debian's headless Chromium: the same engine without a desktop browser's windows round it."""
WHOLE = "/usr/bin/chromium"
"""The whole browser, for what the shell has not: a camera."""
VIEW: ViewportSize = {"width": 1280, "height": 800}


@contextmanager
def chromium() -> Iterator[Browser]:
    """Debian's Chromium."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        try:
            yield browser
        finally:
            browser.close()


@contextmanager
def another(browser: Browser, *switches: str) -> Iterator[Browser]:
    """A second Chromium beside one that runs, with switches of its own."""
    beside = browser.browser_type.launch(executable_path=WHOLE, args=[*ARGS, *switches])
    try:
        yield beside
    finally:
        beside.close()


def sign_in(page: Page, url: str, login: str = "ilse", password: str = "chalk-and-tape-7") -> None:
    """Sign in and arrive at Today."""
    page.goto(url)
    page.get_by_label("Sign-in name").fill(login)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Today").wait_for()


def begun(page: Page, url: str, name: str) -> str:
    """A new athlete's fitting, asked for as whoever is signed in on the page, without its screen; the fitting's id."""
    fitting = str(uuid.uuid4())
    made = page.request.post(f"{url}/api/athletes", data={"change_id": str(uuid.uuid4()), "name": name})
    body = {"id": fitting, "athlete_id": made.json()["id"]}
    assert page.request.post(f"{url}/api/fittings", data=body).ok
    return fitting


def new_athlete(page: Page, url: str, name: str) -> None:
    """A new athlete's fitting, at the feet. By mouse and by keys it is begun in test_job and test_hand."""
    page.goto(f"{url}/fittings/{begun(page, url, name)}/feet")
    page.locator("[data-drawing=feet]").wait_for()
    page.locator("main:focus, main :focus").wait_for()


def to_station(page: Page, number: int) -> None:
    """G and the station's number, from wherever the focus is on the sheet."""
    page.locator("main").focus()
    page.keyboard.press("g")
    page.keyboard.press(str(number))


def pick(page: Page, label: str, text: str) -> None:
    """Choose from a list that opens."""
    page.get_by_role("combobox", name=label).click()
    page.get_by_role("option", name=text).click()


def saved(page: Page) -> None:
    """Wait until everything typed is acknowledged."""
    page.locator('[data-saved="saved"]').wait_for()


def seen(page: Page) -> None:
    """As long as anybody takes to see a button that came; sooner no key presses what is for good."""
    page.wait_for_timeout(1200)


ON = "Control+Enter"
"""On to the next station."""


class Keys:
    """A keyboard that counts what is pressed on it; a chord counts once."""

    def __init__(self, page: Page) -> None:
        self.board, self.pressed = page.keyboard, 0

    def __call__(self, *keys: str) -> None:
        """Names of keys are pressed; anything else is typed letter by letter."""
        for key in keys:
            if key in ("Enter", "Tab", "ArrowUp", "ArrowDown", "Delete", "Backspace", " ") or "+" in key:
                self.board.press(key)
                self.pressed += 1
            else:
                self.board.type(key)
                self.pressed += len(key)
