"""Two records of one person: put together, parted again, erased as one; whoever writes meanwhile loses nothing."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import psycopg
import pytest

from tests.api.calls import new_athlete, new_fitting, patch, signed_in
from tests.api.test_erased import marked, new_id, ok, somebody
from tests.running import Web

Shop = tuple[Web, str]
ONE, TWO = "Ottokar Windlass", "Otto Karr-Windlass"


@pytest.fixture
def people(shop: Shop) -> tuple[httpx.Client, httpx.Client, httpx.Client]:
    running, _ = shop
    return signed_in(running), signed_in(running, "marrow"), signed_in(running, "sorrel")


def data(manager: httpx.Client, athlete: str) -> dict[str, Any]:
    """All that is kept of an athlete, without the trail and what every change moves."""
    found = ok(manager.get(f"/api/athletes/{athlete}/data.json"))
    found["athlete"].pop("version")
    found.pop("changes")
    return dict(found)


def stocked(url: str) -> None:
    """Three more pairs of everything, so that two can be fitted alike."""
    with psycopg.connect(url) as cx:
        cx.execute(
            "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, why, change_id, staff_id) "
            "SELECT l.shop_id, l.id, 'received', 3, '', gen_random_uuid(), "
            "(SELECT min(s.id::text)::uuid FROM staff s WHERE s.shop_id = l.shop_id) FROM stock_line l"
        )


def put_together(manager: httpx.Client, kept: str, other: str) -> tuple[httpx.Response, str]:
    merge = new_id()
    return manager.post(f"/api/athletes/{kept}/merged", json={"id": merge, "other_id": other}), merge


def parted(manager: httpx.Client, kept: str, merge: str) -> httpx.Response:
    return manager.post(f"/api/athletes/{kept}/merged/{merge}/parted", json={"change_id": new_id()})


def test_everything_of_two_records_is_one_and_parts_again(
    shop: Shop, people: tuple[httpx.Client, httpx.Client, httpx.Client]
) -> None:
    """Two people of whom something is kept in every table there is."""
    _, url = shop
    fitter, manager, _ = people
    stocked(url)
    kept, other = (somebody(people, url, name)[0] for name in (ONE, TWO))
    before, theirs = data(manager, kept), data(manager, other)
    answer, merge = put_together(manager, kept, other)
    page = ok(answer)
    own = (f"{ONE} again", "Marrow Tesk")  # everybody of whom something is kept everywhere has a second record, too
    assert [(m["name"], m["by"]) for m in page["merged"]] == [(TWO, "Marrow Tesk"), own]
    assert fitter.get(f"/api/athletes/{other}").status_code == 404
    assert other not in {a["id"] for a in fitter.get("/api/athletes", params={"text": "Windlass"}).json()}
    both = data(manager, kept)
    for part, rows in before.items():
        if isinstance(rows, list) and part not in ("plans", "reached", "consents"):
            assert sorted(map(str, both[part])) == sorted(map(str, rows + theirs[part])), part
    assert both["plans"] == before["plans"] + theirs["plans"], "of two plans the second stays with its record"
    assert [c["ended_at"] is None for c in both["consents"]] == [True, False], "of two consents one stands"
    assert both["athlete"]["note"] == f"{before['athlete']['note']}\n{theirs['athlete']['note']}"
    fitting = new_fitting(fitter, kept)
    again = manager.post(f"/api/athletes/{kept}/merged", json={"id": merge, "other_id": other})
    assert again.status_code == 200
    changes = ok(manager.get(f"/api/athletes/{kept}/changes"))["changes"]
    told = [c for c in changes if "put_together_with" in c["after"]]
    assert set(told[0]["after"]) == {"note", "put_together_with"}, "what stayed as it was is not told as changed"
    said = [c["after"]["put_together_with"] for c in told]
    assert said[0] == TWO
    assert set(said) == {TWO, f"{TWO} again", f"{ONE} again"}, "what was done to the other record is told here, too"
    ok(parted(manager, kept, merge))
    ok(parted(manager, kept, merge))
    now = data(manager, kept)
    assert {f["id"] for f in now["fittings"]} == {f["id"] for f in before["fittings"]} | {fitting}, (
        "what came since stays"
    )
    back = data(manager, other)
    for part in before:
        assert [r for r in now[part] if r not in before[part]] == [] or part in ("fittings", "feet"), part
        assert [r for r in before[part] if r not in now[part]] == [], part
        assert back[part] == theirs[part], part
    assert [m["name"] for m in ok(manager.get(f"/api/athletes/{kept}"))["merged"]] == [f"{ONE} again"]


def test_what_one_record_lacks_comes_from_the_other_and_goes_back(
    people: tuple[httpx.Client, httpx.Client, httpx.Client],
) -> None:
    fitter, manager, _ = people
    kept, other = new_athlete(fitter, "Perrin Oddling"), new_athlete(fitter, "Perin Oddling")
    own = {"name": "Perin Oddling", "born_on": "2012-05-06", "squad": "Under 15", "note": "left foot longer"}
    ok(fitter.put(f"/api/athletes/{other}", json={"change_id": new_id(), "version": 1, **own}))
    reach = {"change_id": new_id(), "version": 0, "agrees": False, "reach": {"phone": "55 512"}}
    ok(fitter.put(f"/api/athletes/{other}/reach", json=reach))
    merge = put_together(manager, kept, other)[1]
    page = ok(manager.get(f"/api/athletes/{kept}"))["athlete"]
    assert {n: page[n] for n in ("born_on", "squad", "note")} == {n: own[n] for n in ("born_on", "squad", "note")}
    assert ok(fitter.get(f"/api/athletes/{kept}/reach"))["reach"]["phone"] == "55 512"
    assert len(ok(fitter.get("/api/squad", params={"name": "Under 15"}))["members"]) == 1
    changed = {n: page[n] for n in ("name", "born_on", "squad")} | {"note": "right foot longer"}
    ok(fitter.put(f"/api/athletes/{kept}", json={"change_id": new_id(), "version": page["version"], **changed}))
    ok(parted(manager, kept, merge))
    now, back = (ok(manager.get(f"/api/athletes/{a}"))["athlete"] for a in (kept, other))
    assert (now["born_on"], now["squad"], now["note"]) == (None, "", "right foot longer"), (
        "what was written since stays"
    )
    assert {n: back[n] for n in own} == own
    assert ok(fitter.get(f"/api/athletes/{other}/reach"))["reach"]["phone"] == "55 512"


def test_three_records_of_one_person_part_in_turn(people: tuple[httpx.Client, httpx.Client, httpx.Client]) -> None:
    fitter, manager, _ = people
    a, b, c = (new_athlete(fitter, f"Tripp Licate {i}") for i in "abc")
    fittings = {x: new_fitting(fitter, x) for x in (a, b, c)}
    first = put_together(manager, b, c)[1]
    second = put_together(manager, a, b)[1]
    assert {f["id"] for f in ok(manager.get(f"/api/athletes/{a}"))["fittings"]} == set(fittings.values())
    assert len(data(manager, a)["fittings"]) == 3
    early = parted(manager, b, first)
    assert (early.status_code, early.json()["code"]) == (409, "merged-since")
    ok(parted(manager, a, second))
    ok(parted(manager, b, first))
    for x, fitting in fittings.items():
        assert [f["id"] for f in ok(manager.get(f"/api/athletes/{x}"))["fittings"]] == [fitting]


def test_who_is_erased_is_erased_with_what_was_put_together(
    shop: Shop, people: tuple[httpx.Client, httpx.Client, httpx.Client]
) -> None:
    _, url = shop
    fitter, manager, _ = people
    kept, other = new_athlete(fitter, "Vanessa Quillfeather"), new_athlete(fitter, "Nessa Quillfether")
    fitting = new_fitting(fitter, other)
    ok(patch(fitter, fitting, "feet", {"note": "Nessa Quillfether limps"}))
    merge = put_together(manager, kept, other)[1]
    ok(manager.post(f"/api/athletes/{kept}/erase"))
    assert marked(url, "Quillfeather") == marked(url, "Quillfether") == set()
    after = parted(manager, kept, merge)
    assert (after.status_code, after.json()["code"]) == (404, "erased")
    third = new_athlete(fitter, "Not Erased")
    assert put_together(manager, third, kept)[0].status_code == 404


def test_only_a_manager_and_only_two_records_of_this_shop(
    people: tuple[httpx.Client, httpx.Client, httpx.Client],
) -> None:
    fitter, manager, sister = people
    a, theirs = new_athlete(fitter, "Solo Lander"), new_athlete(sister, "Solo Lander")
    assert put_together(manager, a, theirs)[0].status_code == 404
    assert put_together(manager, a, a)[0].json()["code"] == "same-record"
    assert put_together(fitter, a, theirs)[0].status_code == 403
    offered = [r["id"] for r in ok(manager.get(f"/api/athletes/{a}/alike"))]
    assert theirs not in offered


def test_who_may_be_the_same_person_is_offered(people: tuple[httpx.Client, httpx.Client, httpx.Client]) -> None:
    fitter, manager, _ = people
    a = new_athlete(fitter, "Wilhelmina Quarterstaff")
    typo, turned, _far = (
        new_athlete(fitter, name)
        for name in ("Wilhelmina Quaterstaff", "Quarterstaff Wilhelmina", "Bartholomew Ingots")
    )
    new_fitting(fitter, typo)
    found = ok(manager.get(f"/api/athletes/{a}/alike"))
    assert {r["id"] for r in found} == {typo, turned}
    assert {r["id"]: r["fittings"] for r in found}[typo] == 1
    asked = ok(manager.get(f"/api/athletes/{a}/alike", params={"text": "ingots"}))
    assert [r["name"] for r in asked] == ["Bartholomew Ingots"]


def test_names_less_alike_are_offered_where_both_were_born_on_one_day(
    people: tuple[httpx.Client, httpx.Client, httpx.Client],
) -> None:
    """A pet name: four tenths of its letters in threes are the other's."""
    fitter, manager, _ = people
    a, pet, other = (
        ok(fitter.post("/api/athletes", json={"change_id": new_id(), "name": name, "born_on": born}))["id"]
        for name, born in (
            ("Theodora Lanternwick", "1990-03-04"), ("Dora Lanternway", "1990-03-04"), ("Dora Lanternway", "1990-03-05"),
        )
    )  # fmt: skip
    offered = {r["id"] for r in ok(manager.get(f"/api/athletes/{a}/alike"))}
    assert (pet in offered, other in offered) == (True, False)


def test_what_is_written_for_the_other_record_meanwhile_is_the_one_s(
    shop: Shop, people: tuple[httpx.Client, httpx.Client, httpx.Client]
) -> None:
    """Fittings begun for both while they are put together: each is there once, of the record that stays."""
    _, url = shop
    fitter, manager, _ = people
    kept, other = new_athlete(fitter, "Rush Hour"), new_athlete(fitter, "Rush Houre")
    with ThreadPoolExecutor(9) as pool:
        begun = [
            pool.submit(fitter.post, "/api/fittings", json={"id": new_id(), "athlete_id": who})
            for who in [kept, other] * 8
        ]
        merged = pool.submit(put_together, manager, kept, other)
    assert merged.result()[0].status_code == 200
    answers = [b.result().status_code for b in begun]
    assert set(answers) <= {201, 404}
    with psycopg.connect(url) as cx:
        where = cx.execute("SELECT athlete_id::text, count(*) FROM fitting WHERE athlete_id = ANY(%s) GROUP BY 1",
                           [[kept, other]]).fetchall()  # fmt: skip
    assert where == [(kept, answers.count(201))]


def test_a_writer_who_waited_writes_for_the_record_that_stays(
    shop: Shop, people: tuple[httpx.Client, httpx.Client, httpx.Client]
) -> None:
    """Whoever looked the record up before it was put together with another, and writes after."""
    _, url = shop
    fitter, manager, _ = people
    a, b, c = (new_athlete(fitter, f"Wade Tarrier {i}") for i in "abc")
    for x in (a, b, c):
        new_fitting(fitter, x)
    put_together(manager, b, c)
    put_together(manager, a, b)
    again = ("INSERT INTO fitting (id, shop_id, athlete_id, opened_by, house_version, learned_version) "
             "SELECT gen_random_uuid(), shop_id, %s, opened_by, house_version, learned_version FROM fitting "
             "WHERE athlete_id = %s LIMIT 1 RETURNING athlete_id::text")  # fmt: skip
    with psycopg.connect(url) as cx:
        for whose in (a, b, c):
            assert cx.execute(again, [whose, a]).fetchone() == (a,)
        cx.rollback()
