"""The queue over HTTP: in order, taken once, gone on with, forgotten with whom it was of."""

from __future__ import annotations

import re
import uuid
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from typing import Any

import httpx
import psycopg
import pytest

from kalon.store.queue import described
from tests.api.calls import new_athlete, new_fitting, patch, pulled, sell, signed_in
from tests.api.test_merging import put_together
from tests.running import Web

Shop = tuple[Web, str]


@pytest.fixture
def people(shop: Shop) -> tuple[httpx.Client, httpx.Client]:
    """Two fitters, before an empty queue."""
    with psycopg.connect(shop[1]) as cx:
        cx.execute("DELETE FROM queue_place")
    return signed_in(shop[0]), signed_in(shop[0], "bram")


def waits(client: httpx.Client, called: str = "", **more: Any) -> str:
    """Somebody comes in; the id of their place."""
    body = {"id": str(uuid.uuid4()), "called": called} | more
    answer = client.post("/api/queue", json=body)
    assert answer.status_code == 201, answer.text
    return str(body["id"])


def queue(client: httpx.Client) -> list[dict[str, Any]]:
    answer = client.get("/api/queue")
    assert answer.status_code == 200, answer.text
    found: list[dict[str, Any]] = answer.json()["places"]
    return found


def names(client: httpx.Client) -> list[tuple[str, str]]:
    return [(p["name"], p["state"]) for p in queue(client)]


def take(client: httpx.Client, place: str, **ids: str) -> httpx.Response:
    body = {"fitting_id": str(uuid.uuid4()), "change_id": str(uuid.uuid4())} | ids
    return client.post(f"/api/queue/{place}/take", json=body)


def step(client: httpx.Client, place: str, what: str) -> httpx.Response:
    return client.post(f"/api/queue/{place}/steps", json={"step": what})


def later_today(url: str, place: str, minutes: float) -> None:
    """An appointment so many minutes from now, whatever the clock says."""
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE queue_place SET at = now() + make_interval(mins => %s::int), came_at = NULL WHERE id = %s",
                   [minutes, place])  # fmt: skip


def test_they_wait_in_their_order_and_say_for_how_long_yet(
    people: tuple[httpx.Client, httpx.Client], shop: Shop
) -> None:
    """With two fitters two are next, and the third waits for the sooner of them."""
    ilse, bram = people
    first, second = waits(ilse, "Blue jacket", sport="football"), waits(bram, "Two sisters", about="growth")
    third = waits(ilse, "Red scarf")
    assert names(bram) == [("Blue jacket", "waits"), ("Two sisters", "waits"), ("Red scarf", "waits")]
    told = queue(ilse)
    assert [p["says"] for p in told] == ["A fitting, football", "Growth check", "A fitting"]
    assert [p["wait"]["text"] for p in told[:2]] == ["now", "now"]
    assert 1 < told[2]["wait"]["low_min"] < told[2]["wait"]["mid_min"] < told[2]["wait"]["high_min"]
    assert take(bram, first).status_code == 200
    seen = queue(ilse)[0]
    assert (seen["state"], seen["mine"], queue(bram)[0]["mine"]) == ("fitted", False, True)
    assert seen["taken_by"].startswith("Bram")
    assert seen["name"].startswith("Blue jacket, "), "with the time, as somebody without a name is known"
    assert step(ilse, second, "left").status_code == 200
    assert names(ilse)[1:] == [("Red scarf", "waits")]
    assert step(ilse, second, "back").status_code == 200
    assert [p["id"] for p in queue(ilse)] == [first, second, third]


def test_of_two_fitters_one_takes_them(people: tuple[httpx.Client, httpx.Client]) -> None:
    """Both press at once: one has them, the other is told who; the fitting is one, and so is the record."""
    ilse, bram = people
    for turn in range(6):
        place = waits(ilse, f"Twice wanted {turn}")
        with ThreadPoolExecutor(2) as both:
            answers = list(both.map(lambda who, p=place: take(who, p), (ilse, bram)))  # type: ignore[misc]
        assert sorted(a.status_code for a in answers) == [200, 409]
        refused = next(a.json() for a in answers if a.status_code == 409)
        assert refused["code"] == "taken"
        assert refused["title"].startswith(("Ilse Varn has taken", "Bram"))
        found = ilse.get("/api/athletes", params={"text": f"twice wanted {turn}"}).json()
        assert len(found) == 1


def test_taking_twice_is_taking_once(people: tuple[httpx.Client, httpx.Client], shop: Shop) -> None:
    """An answer that was lost is asked for again: the same fitting, one record without a name, known by when they came,
    its sport said."""
    ilse, _ = people
    place = waits(ilse, "Green cap", sport="climbing")
    with psycopg.connect(shop[1]) as cx:
        cx.execute(
            "UPDATE queue_place SET came_at = date_trunc('hour', now()) - interval '1 min' WHERE id = %s", [place]
        )
    ids = {"fitting_id": str(uuid.uuid4()), "change_id": str(uuid.uuid4())}
    one, two = take(ilse, place, **ids), take(ilse, place, **ids)
    assert (one.status_code, two.status_code) == (200, 200)
    assert one.json()["fitting"]["id"] == two.json()["fitting"]["id"] == ids["fitting_id"]
    assert one.json()["place"] == f"/fittings/{ids['fitting_id']}/feet"
    assert one.json()["fitting"]["athlete"]["unnamed_since"]
    assert re.fullmatch(r"Green cap, \d\d:59", one.json()["fitting"]["athlete"]["name"])
    assert one.json()["fitting"]["parts"]["brief"]["body"]["sport"] == "climbing"
    assert take(ilse, place).status_code == 409, "with another id it is another fitting"


def test_a_place_is_kept_once_however_often_it_is_sent(people: tuple[httpx.Client, httpx.Client]) -> None:
    ilse, _ = people
    athlete = new_athlete(ilse, "Waits Once")
    body = {"id": str(uuid.uuid4()), "athlete_id": athlete}
    assert [ilse.post("/api/queue", json=body).status_code for _ in range(2)] == [201, 201]
    again = ilse.post("/api/queue", json=body | {"id": str(uuid.uuid4())})
    assert (again.status_code, again.json()["code"]) == (409, "waits-already")
    assert names(ilse) == [("Waits Once", "waits")]
    assert ilse.post("/api/queue", json={"id": str(uuid.uuid4())}).status_code == 422


def test_appointments_come_come_late_or_never(people: tuple[httpx.Client, httpx.Client], shop: Shop) -> None:
    ilse, _ = people
    tomorrow = (datetime.now(UTC) + timedelta(days=2)).date().isoformat()
    booked = waits(ilse, "Booked Ahead", on=tomorrow, at="14:30", minutes=30)
    whole = ilse.get("/api/queue").json()
    assert [(p["id"], p["minutes"], p["takes_min"]) for p in whole["later"]] == [(booked, 30, 30)]
    assert whole["places"] == []
    later_today(shop[1], booked, -10)
    assert [(p["state"], p["wait"]) for p in queue(ilse)] == [("late", None)]
    assert step(ilse, booked, "came").status_code == 200
    assert step(ilse, booked, "came").status_code == 200
    assert [p["state"] for p in queue(ilse)] == ["waits"]
    assert step(ilse, booked, "left").status_code == 200
    assert queue(ilse) == []
    past = {"id": str(uuid.uuid4()), "called": "Yesterday", "on": "2026-01-02", "at": "10:00"}
    refused = ilse.post("/api/queue", json=past)
    assert (refused.status_code, [f["field"] for f in refused.json()["fields"]]) == (422, ["at"])
    half = {"id": str(uuid.uuid4()), "called": "No time", "on": tomorrow}
    assert ilse.post("/api/queue", json=half).status_code == 422


def test_who_takes_the_next_is_done_with_the_one_before(people: tuple[httpx.Client, httpx.Client]) -> None:
    ilse, bram = people
    one, two = waits(ilse, "First of two"), waits(ilse, "Second of two")
    take(ilse, one)
    assert [p["state"] for p in queue(bram)] == ["fitted", "waits"]
    take(ilse, two)
    assert [(p["id"], p["state"]) for p in queue(bram)] == [(two, "fitted")]
    assert step(ilse, two, "back").status_code == 200
    assert [(p["id"], p["state"]) for p in queue(bram)] == [(two, "waits")]
    assert take(bram, two).status_code == 200
    assert step(ilse, two, "back").status_code == 409, "whom somebody else has isn't put back"


def test_a_sale_ends_it_and_says_how_long_it_took(people: tuple[httpx.Client, httpx.Client], shop: Shop) -> None:
    """Seen by the next one's wait: after twenty quick ones of this shop it is shorter than the usual."""
    ilse, bram = people
    athlete = new_athlete(ilse, "Sold And Gone")
    place = waits(ilse, athlete_id=athlete, sport="football")
    fitting = str(uuid.uuid4())
    assert take(ilse, place, fitting_id=fitting).status_code == 200
    done, lines = pulled(ilse, athlete=athlete)
    with psycopg.connect(shop[1]) as cx:
        cx.execute("UPDATE queue_place SET fitting_id = %s WHERE id = %s", [done, place])
    patch(ilse, done, "trial", {f"pairs/{lines[0]}/verdict": "pass"})
    usual = waits(bram, "Asks before", minutes=None)
    before = next(p for p in queue(ilse) if p["id"] == usual)["takes_min"]
    assert sell(ilse, done, lines[0]).status_code in (200, 201)
    assert place not in {p["id"] for p in queue(ilse)}
    with psycopg.connect(shop[1]) as cx:
        cx.execute(
            "INSERT INTO queue_place (id, shop_id, called, about, came_at, made_by, taken_by, taken_at, done_at) "
            "SELECT gen_random_uuid(), shop_id, 'quick', 'fitting', now() - interval '3 h', made_by, made_by, "
            "now() - interval '2 h', now() - interval '105 min' FROM queue_place, generate_series(1, 20) "
            "WHERE id = %s",
            [place],
        )
    assert next(p for p in queue(ilse) if p["id"] == usual)["takes_min"] < before


def test_who_is_to_be_seen_again_is_seen_at_their_pair(people: tuple[httpx.Client, httpx.Client]) -> None:
    ilse, _ = people
    athlete = new_athlete(ilse, "Back Again")
    nobody = waits(ilse, athlete_id=athlete, about="return")
    assert take(ilse, nobody).json() == {"athlete_id": athlete, "fitting": None, "place": f"/athletes/{athlete}"}
    fitting, lines = pulled(ilse, athlete=athlete)
    patch(ilse, fitting, "trial", {f"pairs/{lines[0]}/verdict": "pass"})
    assert sell(ilse, fitting, lines[0]).status_code in (200, 201)
    again = waits(ilse, athlete_id=athlete, about="return")
    assert take(ilse, again).json()["place"] == f"/fittings/{fitting}/return"
    assert step(ilse, again, "done").status_code == 200
    assert again not in {p["id"] for p in queue(ilse)}


def test_a_place_goes_with_the_record_and_out_with_who_is_erased(
    people: tuple[httpx.Client, httpx.Client], shop: Shop
) -> None:
    ilse, _ = people
    manager = signed_in(shop[0], "marrow")
    kept, other = new_athlete(ilse, "Queued Kept"), new_athlete(ilse, "Queued Other")
    new_fitting(ilse, other)
    place = waits(ilse, athlete_id=other)
    assert put_together(manager, kept, other)[0].status_code == 200
    assert [(p["id"], p["athlete_id"]) for p in queue(ilse)] == [(place, kept)]
    assert manager.post(f"/api/athletes/{kept}/erase").status_code == 200
    assert queue(ilse) == []
    with psycopg.connect(shop[1]) as cx:
        assert cx.execute("SELECT athlete_id FROM queue_place WHERE id = %s", [place]).fetchone() == (None,)


def test_how_somebody_looked_is_forgotten_after_two_days(people: tuple[httpx.Client, httpx.Client], shop: Shop) -> None:
    ilse, _ = people
    old, new = waits(ilse, "Long coat"), waits(ilse, "Short coat")
    with psycopg.connect(shop[1]) as cx:
        cx.execute("UPDATE queue_place SET came_at = now() - interval '49 h' WHERE id = %s", [old])
        assert described(cx) == 1  # type: ignore[arg-type]
        cx.commit()
        kept = dict(cx.execute("SELECT id::text, called FROM queue_place").fetchall())
    assert kept == {old: "", new: "Short coat"}
    assert names(ilse) == [("Short coat", "waits")]


def test_another_shop_sees_and_takes_nobody(people: tuple[httpx.Client, httpx.Client], shop: Shop) -> None:
    ilse, _ = people
    there = signed_in(shop[0], "sorrel")
    place = waits(ilse, "Only here")
    assert queue(there) == []
    assert take(there, place).status_code == 404
    assert step(there, place, "left").status_code == 404
    theirs = new_athlete(there, "Of The Isle")
    assert ilse.post("/api/queue", json={"id": str(uuid.uuid4()), "athlete_id": theirs}).status_code == 404


def test_an_appointment_stands_at_its_time_whenever_they_came(
    people: tuple[httpx.Client, httpx.Client], shop: Shop
) -> None:
    """Who came early for half past waits behind who came in before it, and before who comes in after."""
    ilse, _ = people
    booked, first, late = waits(ilse, "Booked"), waits(ilse, "Before it"), waits(ilse, "After it")
    with psycopg.connect(shop[1]) as cx:
        for place, at, came in ((booked, -2, -20), (first, None, -10), (late, None, -1)):
            cx.execute(
                "UPDATE queue_place SET at = now() + make_interval(mins => %s::int), "
                "came_at = now() + make_interval(mins => %s) WHERE id = %s",
                [at, came, place],
            )
    assert [p["id"] for p in queue(ilse)] == [first, booked, late]
