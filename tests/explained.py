"""Every question an application asks of the database, with the plan it was answered by."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any

import pytest
from psycopg import Connection, Cursor
from psycopg.rows import dict_row, tuple_row
from psycopg_pool import ConnectionPool
from starlette.testclient import TestClient

from kalon.api.app import create_app
from tests.api.calls import PASSWORDS
from tests.running import addresses_of


@dataclass
class Question:
    """One statement: its text, and its plan as PostgreSQL carried it out."""

    text: str
    plan: dict[str, Any]
    ms: float

    def nodes(self) -> Iterator[dict[str, Any]]:
        waiting = [self.plan]
        while waiting:
            node = waiting.pop()
            yield node
            waiting += node.get("Plans", [])

    @property
    def pages(self) -> int:
        """Pages of 8 kB looked at."""
        return int(self.plan["Shared Hit Blocks"] + self.plan["Shared Read Blocks"])

    @property
    def read_whole(self) -> set[str]:
        """Tables read from end to end."""
        return {n["Relation Name"] for n in self.nodes() if n["Node Type"] == "Seq Scan"}


@dataclass
class Asked:
    """What was asked since it was last cleared."""

    questions: list[Question] = field(default_factory=list)


@contextmanager
def asked_by(url: str, login: str = "ilse") -> Iterator[tuple[TestClient, Asked]]:
    """A signed-in client of an application in this process, and what that asks of the database."""
    asked = Asked()

    class Explaining(Cursor[Any]):
        def execute(self, query: Any, params: Any = None, **more: Any) -> Any:
            text = str(query).strip()
            if text.upper().startswith(("SELECT", "WITH")) and "set_config" not in text:
                with Cursor(self.connection, row_factory=tuple_row) as beside:
                    beside.execute("EXPLAIN (ANALYZE, BUFFERS, FORMAT JSON) " + text, params)  # type: ignore[arg-type]
                    (row,) = beside.fetchone() or ((),)
                whole = row[0]
                asked.questions.append(Question(text, whole["Plan"], whole["Execution Time"] + whole["Planning Time"]))
            return super().execute(query, params, **more)

    addresses = addresses_of(url)
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv("KALON_DATABASE_URL", addresses.app)
        patch.setenv("KALON_GATE_URL", addresses.gate)
        with TestClient(app := create_app(), base_url="http://bench.local") as client:
            app.state.pool.close()
            app.state.pool = ConnectionPool(
                addresses.app,
                min_size=1,
                kwargs={"row_factory": dict_row, "cursor_factory": Explaining},
                connection_class=Connection[Any],
                open=True,
            )
            answer = client.post("/api/session", json={"login": login, "password": PASSWORDS[login]})
            assert answer.status_code == 200, answer.text
            yield client, asked
