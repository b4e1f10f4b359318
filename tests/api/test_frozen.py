"""A sale is frozen: nothing that happens to models, stock or the house afterwards changes an old sheet."""

from __future__ import annotations

from typing import Any

import psycopg
import pytest

from tests.api.calls import new_athlete, new_fitting, patch, pulled, sell, signed_in, take_back
from tests.running import Web


def test_renaming_a_model_and_editing_a_measure_leave_the_sale_as_it_was(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    path = f"/api/fittings/{fitting}"
    sell(client, fitting, line)
    before = [client.get(f"{path}/{p}").json() for p in ("fit-sheet.json", f"settle/{line}", "outcome")]
    sale = client.get(path).json()["sale"]
    with psycopg.connect(demo_url) as cx:
        cx.execute(
            "UPDATE shoe_model SET name = 'Renamed', upper = 'knit' WHERE id = "
            "(SELECT v.model_id FROM stock_line l JOIN variant v ON v.id = l.variant_id WHERE l.id = %s)",
            [line],
        )
        cx.execute(
            "UPDATE model_price p SET price_minor = 1 FROM stock_line l JOIN variant v ON v.id = l.variant_id "
            "WHERE l.id = %s AND p.model_id = v.model_id",
            [line],
        )
        cx.execute(
            "UPDATE variant SET length_label_mm = length_label_mm + 20, ball_girth_read_mm = 300, "
            "ball_girth_read_sigma_mm = 1 WHERE id = "
            "(SELECT variant_id FROM stock_line WHERE id = %s)",
            [line],
        )
    after = [client.get(f"{path}/{p}").json() for p in ("fit-sheet.json", f"settle/{line}", "outcome")]
    assert after == before
    assert client.get(path).json()["sale"] == sale
    listed = client.get(f"/api/athletes/{client.get(path).json()['athlete']['id']}").json()["fittings"][0]
    assert listed["pair"] == f"{sale['maker']} {sale['name']}"


@pytest.mark.parametrize(
    ("part", "values"),
    [
        ("feet", {"note": "later"}),
        ("brief", {"body_kg": 88}),
        ("spec", {"acknowledged/x": True}),
        ("trial", {"blind": True}),
    ],
)
def test_what_a_sale_was_made_from_is_changed_no_more(running: Web, part: str, values: dict[str, Any]) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    sell(client, fitting, line)
    before = client.get(f"/api/fittings/{fitting}").json()["parts"]
    answer = patch(client, fitting, part, values)
    assert (answer.status_code, answer.json()["code"]) == (409, "settled")
    assert client.get(f"/api/fittings/{fitting}").json()["parts"] == before


@pytest.mark.parametrize("back", [False, True])
def test_a_pair_that_was_taken_back_is_not_what_they_wear_now(running: Web, back: bool) -> None:
    client = signed_in(running)
    athlete = new_athlete(client, f"Brought Back {back}")
    fitting, (line,) = pulled(client, 1, athlete)
    name = sell(client, fitting, line).json()["sale"]["name"]
    if back:
        take_back(client, fitting)
    brief = client.get(f"/api/fittings/{new_fitting(client, athlete)}").json()["parts"]["brief"]["body"]
    assert (name in brief.get("wears_now", "")) is not back


def test_a_sale_of_the_first_format_is_still_read(running: Web, demo_url: str) -> None:
    """As the migration leaves it: the pair beside the snapshot, money in cents, no word on how zones are judged."""
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    path = f"/api/fittings/{fitting}"
    sell(client, fitting, line)
    sheet = client.get(f"{path}/fit-sheet.json").json()
    with psycopg.connect(demo_url) as cx:
        cx.execute(
            "UPDATE sale SET format = 1, snapshot = (snapshot - 'norms') || jsonb_build_object('settled', "
            "jsonb_set(snapshot -> 'settled', '{size,zones}', (SELECT jsonb_agg(z - 'judged_new') FROM "
            "jsonb_array_elements(snapshot #> '{settled,size,zones}') z))) WHERE fitting_id = %s",
            [fitting],
        )
    assert client.get(f"{path}/fit-sheet.json").json() == sheet
    assert client.get(f"{path}/settle/{line}").status_code == 200
    assert client.get(f"{path}/spec").status_code == 200


@pytest.mark.parametrize("table", ["fitting_part", "sale"])
def test_a_body_from_a_newer_kalon_is_said_to_be_one(running: Web, demo_url: str, table: str) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    sell(client, fitting, line)
    with psycopg.connect(demo_url) as cx:
        cx.execute(f"UPDATE {table} SET format = 99 WHERE fitting_id = %s", [fitting])
    answer = client.get(f"/api/fittings/{fitting}")
    assert (answer.status_code, answer.json()["code"]) == (503, "too-new")
