"""Pages of the real interface, with what they asked for and complained about."""

from __future__ import annotations

import inspect
import re
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, ViewportSize, expect

from tests.api.calls import signed_in
from tests.browser.driver import VIEW, chromium, sign_in
from tests.running import Web

PATIENCE_MS = 60_000
"""As long as anything is waited for; the library's five seconds would time a busy machine."""
expect.set_options(timeout=PATIENCE_MS)
KEEPING = ("test_kept", "test_away", "test_faults")
"""Files that test what the browser keeps of the interface for the time without connection."""


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as found:
        yield found


@pytest.fixture(scope="session")
def spare(browser: Browser) -> list[Page]:
    """Pages that earlier tests left empty: what they fetched of the interface needn't be fetched and read again."""
    return []


LASTING = re.compile(r"\.clock\.|add_init_script|\.on\(|\.once\(|emulate_media|storage|slow\(|new_cdp_session")
"""What can't be taken from a page again."""


def _emptied(page: Page, url: str) -> None:
    """As new, but for the scripts it has read."""
    context = page.context
    for other in context.pages:
        if other is not page:
            other.close()
    context.set_offline(False)
    page.unroute_all(behavior="ignoreErrors")
    page.goto(f"{url}/ready")  # an answer of the same origin without a script
    page.evaluate("sessionStorage.clear()")
    context.clear_cookies()
    context.clear_permissions()
    control = context.new_cdp_session(page)
    control.send("Storage.clearDataForOrigin", {"origin": url, "storageTypes": "all"})
    page.goto("about:blank")
    control.send("Page.resetNavigationHistory")
    control.detach()


@pytest.fixture
def open_page(
    browser: Browser, spare: list[Page], running: Web, request: pytest.FixtureRequest
) -> Iterator[Callable[..., Page]]:
    """Open a page signed in as somebody, by hand where a password is given, in a context of its own; at the end no page
    may have complained or asked another host."""
    mine: list[Page] = []
    own: list[BrowserContext] = []
    troubles: list[str] = []
    keeps = request.module.__name__.endswith(KEEPING)
    lasts = keeps or bool(LASTING.search(inspect.getsource(request.function)))
    listens: dict[str, Callable[[Any], None]] = {
        "pageerror": lambda e: troubles.append(f"error: {e}"),
        "console": lambda m: troubles.append(m.text) if "Content Security" in m.text else None,
        "request": lambda r: (
            None if r.url.startswith((running.url, "data:", "blob:", "about:")) else troubles.append(r.url)
        ),
    }

    def page_for(more: dict[str, str]) -> Page:
        """A spare one, unless the test leaves something in it or wants it otherwise."""
        if not lasts and not more and spare:
            found = spare.pop()
        else:
            # What keeps the interface for later (the service worker) is tested where it matters.
            more = ({} if keeps else {"service_workers": "block"}) | more
            found = browser.new_context(accept_downloads=True, **more).new_page()  # type: ignore[arg-type]
        if lasts or set(more) - {"service_workers"}:
            own.append(found.context)
        else:
            mine.append(found)
        return found

    def new(
        login: str = "ilse",
        password: str = "",
        size: ViewportSize | None = None,
        *,
        at_today: bool = True,
        **more: str,
    ) -> Page:
        page = page_for(more)
        page.set_default_timeout(PATIENCE_MS)
        page.set_viewport_size(size or VIEW)
        for what, hears in listens.items():
            page.on(what, hears)  # type: ignore[call-overload]
        if password:
            sign_in(page, running.url, login, password)
            return page
        session = signed_in(running, login).cookies["kalon_session"]
        page.context.add_cookies([{"name": "kalon_session", "value": session, "url": running.url}])
        if at_today:
            page.goto(running.url)
            page.get_by_role("heading", name="Today").wait_for()
        return page

    yield new
    for context in own:
        context.close()
    for page in mine:
        for what, hears in listens.items():
            page.remove_listener(what, hears)
        _emptied(page, running.url)
        spare.append(page)
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
