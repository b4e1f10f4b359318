"""Pages of the real interface, with what they asked for and complained about."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Page

from tests.api.calls import signed_in
from tests.browser.driver import VIEW, chromium, sign_in
from tests.running import Web


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as found:
        yield found


@pytest.fixture
def open_page(browser: Browser, running: Web) -> Iterator[Callable[..., Page]]:
    """Open a page signed in as somebody, by hand where a password is given; at the end no page may have complained
    or asked another host."""
    contexts = []
    troubles: list[str] = []

    def new(login: str = "ilse", password: str = "", size: dict[str, int] | None = None, **more: str) -> Page:
        context = browser.new_context(viewport=size or VIEW, accept_downloads=True, **more)  # type: ignore[arg-type]
        contexts.append(context)
        page = context.new_page()
        page.on("pageerror", lambda e: troubles.append(f"error: {e}"))
        page.on("console", lambda m: troubles.append(m.text) if "Content Security" in m.text else None)
        page.on(
            "request", lambda r: None if r.url.startswith((running.url, "data:", "blob:")) else troubles.append(r.url)
        )
        if password:
            sign_in(page, running.url, login, password)
            return page
        session = signed_in(running, login).cookies["kalon_session"]
        context.add_cookies([{"name": "kalon_session", "value": session, "url": running.url}])
        page.goto(running.url)
        page.get_by_role("heading", name="Today").wait_for()
        return page

    yield new
    for context in contexts:
        context.close()
    assert troubles == []


@pytest.fixture
def page(open_page: Callable[..., Page]) -> Page:
    return open_page()
