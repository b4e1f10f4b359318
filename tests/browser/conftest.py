"""Pages of the real interface, with what they asked for and complained about."""

from __future__ import annotations

import inspect
import re
from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Page

from tests.api.calls import signed_in
from tests.browser.driver import VIEW, chromium, sign_in
from tests.running import Web

KEEPING = ("test_kept", "test_away", "test_faults")
"""Files that test what the browser keeps of the interface for the time without connection."""


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as found:
        yield found


@pytest.fixture
def open_page(browser: Browser, running: Web, request: pytest.FixtureRequest) -> Iterator[Callable[..., Page]]:
    """Open a page signed in as somebody, by hand where a password is given; at the end no page may have complained
    or asked another host."""
    contexts = []
    troubles: list[str] = []

    def new(
        login: str = "ilse",
        password: str = "",
        size: dict[str, int] | None = None,
        *,
        at_today: bool = True,
        **more: str,
    ) -> Page:
        # What keeps the interface for later (the service worker) is tested where it matters; elsewhere every context
        # would fetch the whole interface again.
        more = ({} if request.module.__name__.endswith(KEEPING) else {"service_workers": "block"}) | more
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
        if at_today:
            page.goto(running.url)
            page.get_by_role("heading", name="Today").wait_for()
        return page

    yield new
    for context in contexts:
        context.close()
    assert troubles == []


ELSEWHERE = re.compile(r"\n    (?:page\.goto|new_athlete|open_brief|SHOTS\[name\])\(")
"""How a test begins that goes somewhere by itself."""


@pytest.fixture
def page(open_page: Callable[..., Page], request: pytest.FixtureRequest) -> Page:
    """A page of somebody signed in: at Today, unless the test's first act with it is to go elsewhere."""
    source = inspect.getsource(request.function)
    body = source[source.index(") -> None:") :]
    goes = ELSEWHERE.search(body)
    return open_page(at_today=not goes or bool(re.search(r"\bpage\b", body[: goes.start()])))
