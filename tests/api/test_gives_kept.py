"""What earlier versions kept of how uppers give, brought to rows of which the newest stands."""

from __future__ import annotations

import uuid

import psycopg
import pytest
from psycopg.rows import dict_row

from kalon.host.postgres import LocalServer
from kalon.store import migrate as migrations
from kalon.store.learned import book


def test_what_was_no_longer_known_of_a_model_stays_unknown(server: LocalServer) -> None:
    """Every version wrote all that stood. A model that the last one had nothing of gives what the table says; a fitting
    begun under the one before is computed with what that said."""
    url = server.ensure_database("before_gives_kept", fresh=True)
    migrations.migrate(url, up_to="0032_plans_kept")
    chain, known, gone = (uuid.uuid4() for _ in range(3))
    with psycopg.connect(url) as cx:
        cx.execute("INSERT INTO chain (id, name) VALUES (%s, 'Old')", [chain])
        for model in (known, gone):
            cx.execute(
                "INSERT INTO shoe_model (id, chain_id, maker, name, sport, build, properties, choices) "
                "VALUES (%s, %s, 'Brack', %s, 'football', 'plate', '{}', '{}')",
                [model, chain, str(model)],
            )
        for version, makers in ((1, ["Brack"]), (2, ["Brack", "Other"])):
            cx.execute(
                "INSERT INTO learned_version (chain_id, version, makers) VALUES (%s, %s, %s)", [chain, version, makers]
            )
        give = "INSERT INTO learned_give (chain_id, version, kind, model_id, log_mean, log_sd, seen) VALUES (%s, %s, 'knit/plate', %s, %s, 0.2, 5)"
        for version, model, log in ((1, None, 0.1), (1, known, 0.2), (1, gone, 0.3), (2, None, 0.15), (2, known, 0.25)):
            cx.execute(give, [chain, version, model, log])
        cx.execute(
            "INSERT INTO learned (chain_id, version, maker, zone, mean_mm, sd_mm, seen) VALUES (%s, 2, 'Brack', 'length', 1, 1, 9)",
            [chain],
        )
    migrations.migrate(url)
    models = [str(known), str(gone)]
    with psycopg.connect(url, row_factory=dict_row) as cx:
        now, before = book(cx, None, models), book(cx, 1, models)
        makers = cx.execute("SELECT maker, version FROM learned_maker ORDER BY 1, 2").fetchall()
    assert now.gives == {str(known): pytest.approx(2.718281828**0.25), str(gone): 1.0}
    assert before.gives == {str(known): pytest.approx(2.718281828**0.2), str(gone): pytest.approx(2.718281828**0.3)}
    assert now.makers["Brack"][0].mean_mm == 1
    assert "Brack" not in before.makers
    assert [(m["maker"], m["version"]) for m in makers] == [("Brack", 1), ("Brack", 2), ("Other", 2)]
