"""Pages of the real interface, with what they asked for and complained about."""

from __future__ import annotations

import inspect
import re
from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, ViewportSize

from tests.api.calls import signed_in
from tests.browser.driver import VIEW, chromium, sign_in
from tests.running import Web

KEEPING = ("test_kept", "test_away", "test_faults")
"""Files that test what the browser keeps of the interface for the time without connection."""


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as found:
        yield found


@pytest.fixture(scope="session")
def spare(browser: Browser) -> list[BrowserContext]:
    """Contexts that earlier tests left empty: what a context fetched of the interface needn't be fetched again."""
    return []


LASTING = re.compile(r"\.clock\.|add_init_script")
"""What can't be taken from a context again."""


def _emptied(context: BrowserContext, url: str) -> None:
    """As new, but for the scripts it has fetched."""
    for page in context.pages[1:]:
        page.close()
    page = context.pages[0] if context.pages else context.new_page()
    context.set_offline(False)
    context.clear_cookies()
    context.clear_permissions()
    context.new_cdp_session(page).send("Storage.clearDataForOrigin", {"origin": url, "storageTypes": "all"})
    page.close()


@pytest.fixture
def open_page(
    browser: Browser, spare: list[BrowserContext], running: Web, request: pytest.FixtureRequest
) -> Iterator[Callable[..., Page]]:
    """Open a page signed in as somebody, by hand where a password is given; at the end no page may have complained
    or asked another host."""
    mine: list[BrowserContext] = []
    own: list[BrowserContext] = []
    troubles: list[str] = []
    keeps = request.module.__name__.endswith(KEEPING) or LASTING.search(inspect.getsource(request.function))

    def context_for(more: dict[str, str]) -> BrowserContext:
        """One of the spare ones, unless the test keeps something in it or wants it otherwise."""
        if not keeps and not more:
            # What keeps the interface for later (the service worker) is tested where it matters.
            found = spare.pop() if spare else browser.new_context(accept_downloads=True, service_workers="block")
            mine.append(found)
        else:
            more = ({} if keeps else {"service_workers": "block"}) | more
            found = browser.new_context(accept_downloads=True, **more)  # type: ignore[arg-type]
            own.append(found)
        return found

    def new(
        login: str = "ilse",
        password: str = "",
        size: ViewportSize | None = None,
        *,
        at_today: bool = True,
        **more: str,
    ) -> Page:
        context = context_for(more)
        page = context.new_page()
        page.set_viewport_size(size or VIEW)
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
    for context in own:
        context.close()
    for context in mine:
        _emptied(context, running.url)
        spare.append(context)
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
