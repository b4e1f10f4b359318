"""One database server for the whole run, a loaded demo to copy, and an application on it."""

from __future__ import annotations

import itertools
import os
from collections.abc import Iterator

import pytest
from hypothesis import settings

from kalon.host.postgres import LocalServer
from tests.running import SEED, Web, database_server, demo_database, forget_seed, own_home, web

settings.register_profile("house", deadline=None)
settings.load_profile("house")

_names = itertools.count()


def pytest_configure(config: pytest.Config) -> None:
    """One seed for all processes of the run."""
    if not hasattr(config, "workerinput"):
        os.environ[SEED] = str(own_home().with_suffix(".seed"))


def pytest_sessionfinish(session: pytest.Session) -> None:
    if not hasattr(session.config, "workerinput"):
        forget_seed()


@pytest.fixture(scope="session")
def server() -> Iterator[LocalServer]:
    with database_server() as running:
        yield running


@pytest.fixture(scope="module")
def demo_url(server: LocalServer) -> str:
    """A database of this module's own, a copy of the demo."""
    return demo_database(server, f"copy_{next(_names)}")


@pytest.fixture(scope="module")
def running(demo_url: str) -> Iterator[Web]:
    """The application as a process of its own."""
    with web(demo_url) as found:
        yield found


@pytest.fixture(autouse=True)
def quiet(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("KALON_LOG", "ERROR")
    os.environ.pop("KALON_DATABASE_URL", None)
