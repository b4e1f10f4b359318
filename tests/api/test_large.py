"""A shop of 20,000 athletes and 60,000 fittings: pages read what they show, not the tables. Plans, not times."""

from __future__ import annotations

from collections.abc import Iterator

import psycopg
import pytest
from starlette.testclient import TestClient

from tests.explained import Asked, asked_by
from tests.large import a_fitting_of_each, grow

GROWN = {"athlete", "fitting", "fitting_part", "change", "tray_pair", "sale", "follow_up", "foot_capture", "session",
         "pair", "pair_worn", "pair_seen"}  # fmt: skip
PAGES = {  # pages of 8 kB looked at; the whole of these tables is more than 25,000
    "/api/today": 4650,  # with marks in the table, as every shop has: one page more for each matter
    "/api/athletes": 3500,
    "/api/athletes?text=corlis0": 3500,
    "/api/athletes?text=Ab": 3500,
    "/api/athletes?text=salt": 150,
    "/api/athletes/{athlete}": 200,
    "/api/fittings/{open}": 250,
    "/api/fittings/{settled}": 250,
    "/api/fittings/{open}/feet/over-time": 250,
    "/api/fittings/{open}/spec": 150,
    "/api/fittings/{open}/pull": 1500,  # with the shelf itself: a page or three for each line of the sport
    "/api/fittings/{settled}/outcome": 250,
    "/api/house": 50,
    "/api/athletes/{athlete}/pairs": 150,
    "/api/pairs/{pair}": 150,
    "/api/pairs/{pair}/again": 1500,
    "/api/plan?athlete={athlete}": 1600,
    "/api/squads": 1000,
    "/api/squad?name=Squad 7": 5000,
    "/api/lives": 50,
}
MOST_STATEMENTS = 8
MORE = {"/api/pairs/{pair}/again": 18, "/api/plan?athlete={athlete}": 18}
"""Pages that hold a whole shelf against an athlete ask more."""


@pytest.fixture(scope="module")
def large(demo_url: str) -> str:
    with psycopg.connect(demo_url) as cx:  # but for whoever asks, nobody has signed in
        cx.execute("DELETE FROM session")
    grow(demo_url)
    return demo_url


@pytest.fixture(scope="module")
def names(large: str) -> dict[str, str]:
    with psycopg.connect(large) as cx:
        return a_fitting_of_each(cx)


@pytest.fixture(scope="module")
def client(large: str) -> Iterator[tuple[TestClient, Asked]]:
    with asked_by(large) as found:
        yield found


def test_the_shop_is_as_large_as_said(large: str) -> None:
    with psycopg.connect(large) as cx:
        for table, least in (("athlete", 20_000), ("fitting", 60_000), ("change", 200_000), ("tray_pair", 170_000)):
            (rows,) = cx.execute(f"SELECT count(*) FROM {table}").fetchone() or (0,)
            assert rows >= least


@pytest.mark.parametrize("path", list(PAGES))
def test_a_page_reads_what_it_shows(client: tuple[TestClient, Asked], names: dict[str, str], path: str) -> None:
    browser, asked = client
    asked.questions.clear()
    answer = browser.get(path.format(**names))
    assert answer.status_code == 200, answer.text
    assert 0 < len(asked.questions) <= MORE.get(path, MOST_STATEMENTS)
    for question in asked.questions:
        assert not question.read_whole & GROWN, question.text
    looked_at = sum(q.pages for q in asked.questions)
    each = "; ".join(f"{q.pages}: {' '.join(q.text.split())[:90]}" for q in asked.questions)
    assert looked_at <= PAGES[path], f"{looked_at} pages: {each}"
