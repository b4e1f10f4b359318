"""One database server for the whole run, a loaded demo to copy, and an application on it."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest
from hypothesis import settings

from kalon.host.postgres import LocalServer
from tests.much import much
from tests.running import SEED, Web, demo_database, forget_seed, own_home, shared_server
from tests.weights import weights

settings.register_profile("house", deadline=None, max_examples=much(30, 100))
settings.load_profile("house")

_own: list[str] = []
"""Filled in the process whose seed it is."""


def pytest_configure(config: pytest.Config) -> None:
    """One seed for all processes of the run; or that of whoever runs several (`bench/mutants.py`)."""
    if not hasattr(config, "workerinput") and SEED not in os.environ:
        os.environ[SEED] = str(own_home().with_suffix(".seed"))
        _own.append(SEED)


def pytest_sessionfinish(session: pytest.Session) -> None:
    if _own and not hasattr(session.config, "workerinput"):
        forget_seed()


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The files that take longest come first, so that no process is left with a long one at the end. Before them
    one that needs no database, for the others have to wait until there is one to copy."""
    took = weights()
    first = {item.nodeid.partition("::")[0] for item in items if item.nodeid.startswith(("tests/core", "tests/files"))}
    heavy = sorted(first, key=lambda file: -took.get(file, 0.0))[:1]

    def place(item: pytest.Item) -> tuple[bool, float, str]:
        file = item.nodeid.partition("::")[0]
        return file not in heavy, -took.get(file, 0.0), file

    items.sort(key=place)


WORKER = os.environ.get("PYTEST_XDIST_WORKER", "alone")


@pytest.fixture(scope="session")
def server() -> LocalServer:
    """The run's one database server."""
    return shared_server()


@pytest.fixture(scope="module")
def demo_url(server: LocalServer) -> str:
    """A copy of the demo of this module's own, under this process's application."""
    return demo_database(server, f"copy_{WORKER}")


@pytest.fixture(scope="session")
def kept(server: LocalServer) -> Iterator[Web]:
    """This process's application: it stays while the copies under it come and go."""
    found = Web(server.addresses(f"copy_{WORKER}"))
    yield found
    found.stop()


@pytest.fixture(scope="module")
def running(kept: Web, demo_url: str) -> Web:
    """The application, on the module's own copy of the demo."""
    kept.up()
    return kept


@pytest.fixture(scope="module")
def shop(running: Web, demo_url: str) -> tuple[Web, str]:
    """The application and its database's owner's address."""
    return running, demo_url


@pytest.fixture(autouse=True)
def quiet(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("KALON_LOG", "ERROR")
    os.environ.pop("KALON_DATABASE_URL", None)
