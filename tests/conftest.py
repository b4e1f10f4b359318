"""One database server for the whole run, a loaded demo to copy, and an application on it."""

from __future__ import annotations

import itertools
import os
from collections.abc import Iterator

import psycopg
import pytest
from hypothesis import settings

from kalon.host.postgres import OWNER, SUPER, LocalServer
from tests.running import Web, database_server, demo_database, web

settings.register_profile("house", deadline=None)
settings.load_profile("house")

TEMPLATE = "kalon_template"
_names = itertools.count()


@pytest.fixture(scope="session")
def server() -> Iterator[LocalServer]:
    with database_server() as running:
        yield running


@pytest.fixture(scope="session")
def template(server: LocalServer) -> str:
    """The demo scenario, loaded once; tests work on copies."""
    demo_database(server, TEMPLATE)
    return TEMPLATE


@pytest.fixture(scope="module")
def demo_url(server: LocalServer, template: str) -> str:
    """A database of this module's own, a copy of the demo."""
    name = f"copy_{next(_names)}"
    with psycopg.connect(server.url(SUPER, "postgres"), autocommit=True) as cx:
        cx.execute(f"CREATE DATABASE {name} TEMPLATE {template} OWNER {OWNER}")
    return server.url(OWNER, name)


@pytest.fixture(scope="module")
def running(demo_url: str) -> Iterator[Web]:
    """The application as a process of its own."""
    with web(demo_url) as found:
        yield found


@pytest.fixture(autouse=True)
def quiet(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("KALON_LOG", "ERROR")
    os.environ.pop("KALON_DATABASE_URL", None)
