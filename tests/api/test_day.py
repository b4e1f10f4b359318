"""The bench's day: what stands in it, done and put off, for whom; calendars by secret links; a link after the sale."""

from __future__ import annotations

import io
import json
import uuid
from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any

import httpx
import psycopg
import pytest
from icalendar import Calendar
from psycopg.rows import dict_row
from pypdf import PdfReader

from kalon.core.feet.usual_growth import measured_again
from kalon.store import staff
from kalon.store.migrate import migrate
from tests import plainly
from tests.api.calls import new_athlete, new_fitting, patch, pulled, sell, signed_in, today
from tests.api.test_pairs import an_old_pair, learn_lives
from tests.made import gauge_paths
from tests.running import Web, addresses_of


@pytest.fixture
def fitter(shop: tuple[Web, str]) -> httpx.Client:
    return signed_in(shop[0])


def items(client: httpx.Client, **only: Any) -> list[dict[str, Any]]:
    found = client.get("/api/today").json()["items"]
    return [i for i in found if all(i[k] == v for k, v in only.items())]


def marked(client: httpx.Client, key: str, until: date | None = None, mark: str | None = None) -> httpx.Response:
    body = {"id": mark or str(uuid.uuid4()), "key": key, "until": until.isoformat() if until else None}
    return client.post("/api/today/marks", json=body)


def sold(client: httpx.Client, name: str, **brief: Any) -> tuple[str, str, str]:
    """A new athlete, their settled fitting and its pair."""
    athlete = new_athlete(client, name)
    fitting, (line,) = pulled(client, 1, athlete=athlete, **brief)
    assert sell(client, fitting, line).status_code == 201
    (pair,) = client.get(f"/api/athletes/{athlete}/pairs").json()
    return athlete, fitting, pair["id"]


def test_the_demo_day_has_matters_of_every_plain_kind(fitter: httpx.Client) -> None:
    kinds = {i["kind"] for i in items(fitter)}
    assert kinds >= {"follow_up", "ready", "wear", "transfer", "open"}
    for i in items(fitter):
        assert i["text"]
        assert i["place"].startswith("/")


def test_an_event_before_the_pair_is_ready_stands_in_the_day(fitter: httpx.Client) -> None:
    sold(fitter, "Plays Tomorrow", event_on=(today() + timedelta(days=1)).isoformat())
    (event,) = items(fitter, kind="event", name="Plays Tomorrow")
    assert "the old pair plays" in event["text"]
    assert event["event_on"] == (today() + timedelta(days=1)).isoformat()


def test_done_is_gone_and_comes_back_undone(fitter: httpx.Client) -> None:
    _, fitting, _ = sold(fitter, "Due Soon")
    fitter.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": (today() + timedelta(days=3)).isoformat()})
    (due,) = items(fitter, kind="follow_up", name="Due Soon")
    assert due["mine"]
    mark = str(uuid.uuid4())
    for _ in range(2):
        assert marked(fitter, due["key"], mark=mark).status_code == 204
    assert items(fitter, kind="follow_up", name="Due Soon") == []
    (done,) = [d for d in fitter.get("/api/today").json()["done"] if d["name"] == "Due Soon"]
    assert done["mark_id"] == mark
    assert marked(fitter, "open:other", mark=mark).json()["code"] == "id-used"
    for _ in range(2):
        assert fitter.delete(f"/api/today/marks/{mark}").status_code == 204
    assert items(fitter, kind="follow_up", name="Due Soon")
    assert not [d for d in fitter.get("/api/today").json()["done"] if d["name"] == "Due Soon"]
    fitter.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": (today() + timedelta(days=5)).isoformat()})
    assert marked(fitter, due["key"]).status_code == 204
    assert items(fitter, kind="follow_up", name="Due Soon"), "a follow-up moved to another day is another matter"


def test_what_was_done_before_today_is_nowhere(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    (first, *_) = items(fitter, kind="open")
    mark = str(uuid.uuid4())
    assert marked(fitter, first["key"], mark=mark).status_code == 204
    with psycopg.connect(shop[1]) as cx:
        cx.execute("UPDATE day_mark SET at = at - interval '1 day' WHERE id = %s", [mark])
    found = fitter.get("/api/today").json()
    assert first["key"] not in {i["key"] for i in found["items"] + found["done"]}
    assert fitter.delete(f"/api/today/marks/{mark}").status_code == 204


def test_put_off_comes_with_its_day_and_a_sister_shop_sees_nothing(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    (first, *_) = items(fitter, kind="open")
    later = today() + timedelta(days=7)
    assert marked(fitter, first["key"], later).status_code == 204
    (now,) = [i for i in items(fitter) if i["key"] == first["key"]]
    assert now["until"] == later.isoformat()
    assert marked(fitter, first["key"], today()).status_code == 422
    theirs = signed_in(shop[0], "sorrel")
    assert first["key"] not in {i["key"] for i in items(theirs)}
    assert {i["name"] for i in items(theirs) if i["name"]} <= {"Hale Norring"}
    assert theirs.delete(f"/api/today/marks/{now['mark_id']}").status_code == 404


def test_young_feet_are_to_be_measured_again(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    athlete, _, _ = sold(fitter, "Still Growing")
    row = fitter.get(f"/api/athletes/{athlete}").json()["athlete"]
    born = today() - timedelta(days=int(11 * 365.25))
    body = {"change_id": str(uuid.uuid4()), "version": row["version"], "name": row["name"], "born_on": born.isoformat()}
    assert fitter.put(f"/api/athletes/{athlete}", json=body).status_code == 200
    assert not items(fitter, kind="junior", name="Still Growing")
    with psycopg.connect(shop[1]) as cx:
        cx.execute("UPDATE fitting SET opened_at = now() - interval '180 days' WHERE athlete_id = %s", [athlete])
        cx.execute("UPDATE athlete SET measured_on = current_date - 180 WHERE id = %s", [athlete])
    (junior,) = items(fitter, kind="junior", name="Still Growing")
    assert junior["on_day"] == (today() + timedelta(days=13)).isoformat()
    again = fitter.post("/api/fittings", json={"id": str(uuid.uuid4()), "athlete_id": athlete}).json()["id"]
    assert items(fitter, kind="junior", name="Still Growing"), "a fitting begun measures nothing yet"
    patch(fitter, again, "feet", {"left/length_mm": 238})
    assert not items(fitter, kind="junior", name="Still Growing")


def test_the_database_measures_again_when_the_core_says(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    """What the database goes by is the core's; where another version kept other days, a start puts them right, and the
    days of those who wait with them."""
    athlete, _, _ = sold(fitter, "Kept By Another")
    born = today() - timedelta(days=int(11 * 365.25))
    with psycopg.connect(shop[1]) as cx:
        assert cx.execute("SELECT up_to_years, days FROM growth_step ORDER BY 1").fetchall() == measured_again()
        cx.execute("UPDATE growth_step SET days = 20")
        cx.execute("UPDATE athlete SET born_on = %s, measured_on = current_date WHERE id = %s", [born, athlete])
        before = cx.execute("SELECT measure_on - current_date FROM athlete WHERE id = %s", [athlete]).fetchone()
    migrate(shop[1])
    with psycopg.connect(shop[1]) as cx:
        after = cx.execute("SELECT measure_on - current_date FROM athlete WHERE id = %s", [athlete]).fetchone()
    assert (before, after) == ((20,), (193,))


def test_a_fitting_left_open_says_where_it_waits(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    """Station by station, as the fitting itself says it: a brief without the ground isn't whole, whatever else it has."""

    def waits(name: str) -> str:
        (found,) = items(fitter, kind="open", name=name)
        return str(found["place"]).rsplit("/", 1)[-1]

    fitting = new_fitting(fitter, new_athlete(fitter, "Left Open"))
    assert waits("Left Open") == "feet"
    patch(fitter, fitting, "feet", {"left/length_mm": 255, "left/ball_width_mm": 99})
    patch(fitter, fitting, "feet", gauge_paths())
    assert waits("Left Open") == "brief"
    patch(fitter, fitting, "brief", {"sport": "football", "discipline": "match", "body_kg": 70})
    assert waits("Left Open") == "brief"
    patch(fitter, fitting, "brief", {"surface": "firm_natural"})
    assert waits("Left Open") == "pull"
    line = fitter.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    assert fitter.put(f"/api/fittings/{fitting}/tray/{line}").status_code == 200
    patch(fitter, fitting, "trial", {f"pairs/{line}/verdict": "fail"})
    assert waits("Left Open") == "trial"
    patch(fitter, fitting, "trial", {f"pairs/{line}/verdict": "pass"})
    assert waits("Left Open") == "settle"
    with psycopg.connect(shop[1]) as cx:  # as an earlier version may have kept it
        cx.execute(
            "UPDATE fitting_part SET body = body || '{\"body_kg\": \"heavy\"}' WHERE fitting_id = %s AND part = 'brief'",
            [fitting],
        )
    assert waits("Left Open") == "brief", "what no longer reads keeps nobody's day from being told"


def test_a_gap_in_the_shelf_and_a_pair_near_its_end(fitter: httpx.Client) -> None:
    sold_out = None
    for _ in range(4):
        fitting, (line,) = pulled(fitter, 1)
        sell(fitter, fitting, line)
        if fitter.get(f"/api/stock/{line}").json()["on_hand"] == 0:
            sold_out = line
            break
    assert sold_out
    assert any(i["key"].startswith(f"gap:{sold_out}") for i in items(fitter, kind="gap"))
    an_old_pair(fitter, "Near The End", hours_per_week=20)
    (wear,) = items(fitter, kind="wear", name="Near The End")
    assert "near its end" in wear["text"]


def test_a_pair_that_was_done_stays_done_until_it_is_looked_at(fitter: httpx.Client) -> None:
    _, pair = an_old_pair(fitter, "Done Pair", hours_per_week=20)
    (wear,) = items(fitter, kind="wear", name="Done Pair")
    assert marked(fitter, wear["key"]).status_code == 204
    worn = {"id": str(uuid.uuid4()), "on": today().isoformat(), "minutes": 60}
    assert fitter.post(f"/api/pairs/{pair['id']}/worn", json=worn).status_code == 200
    assert not items(fitter, kind="wear", name="Done Pair")
    seen = {"id": str(uuid.uuid4()), "on": today().isoformat(), "seen": {"sole": "bald", "midsole": "pressed"}}
    assert fitter.post(f"/api/pairs/{pair['id']}/seen", json=seen).status_code == 200
    assert all(i["key"] != wear["key"] for i in items(fitter, kind="wear", name="Done Pair"))


# --- calendars


def calendar(web_: Web, token: str) -> httpx.Response:
    return plainly.get(f"{web_.url}/api/calendar/{token}.ics")


def test_a_calendar_shows_the_days_to_whoever_holds_its_link(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    running, url = shop
    feed = str(uuid.uuid4())
    made = fitter.post("/api/calendars", json={"id": feed, "whole": True})
    token = made.json()["token"]
    assert fitter.post("/api/calendars", json={"id": feed, "whole": True}).status_code == 409
    _, fitting, _ = sold(fitter, "Corliss Abernethy")
    due = today() + timedelta(days=12)
    fitter.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": due.isoformat()})
    answer = calendar(running, token)
    assert answer.headers["content-type"].startswith("text/calendar")
    entries = list(Calendar.from_ical(answer.text).walk("VEVENT"))
    (mine,) = [e for e in entries if "Corliss" in str(e["summary"]) and "see again" in str(e["summary"])]
    assert mine["dtstart"].dt == due
    assert str(mine["summary"]) == "To see again: Corliss A."
    assert "Abernethy" not in answer.text
    assert len({str(e["uid"]) for e in entries}) == len(entries)
    (item,) = items(fitter, kind="follow_up", name="Corliss Abernethy")
    marked(fitter, item["key"], today() + timedelta(days=20))
    (moved,) = [e for e in Calendar.from_ical(calendar(running, token).text).walk("VEVENT") if e["uid"] == mine["uid"]]
    assert moved["dtstart"].dt == today() + timedelta(days=20)
    marked(fitter, item["key"])
    assert "To see again: Corliss" not in calendar(running, token).text
    with psycopg.connect(url) as cx:
        (stored,) = cx.execute("SELECT token_hash FROM day_feed WHERE id = %s", [feed]).fetchone() or (b"",)
    assert token.encode() not in stored


def test_a_calendar_of_ones_own_and_one_that_was_ended(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    running, _ = shop
    bram = signed_in(running, "bram")
    feed = str(uuid.uuid4())
    token = bram.post("/api/calendars", json={"id": feed, "whole": False}).json()["token"]
    sold(fitter, "Not Brams")
    names = calendar(running, token).text
    assert "Not B." not in names
    assert fitter.delete(f"/api/calendars/{feed}").status_code == 404
    assert [c["id"] for c in bram.get("/api/calendars").json()] == [feed]
    for _ in range(2):
        assert bram.delete(f"/api/calendars/{feed}").status_code == 204
    assert bram.get("/api/calendars").json() == []
    ended = calendar(running, token)
    assert (ended.status_code, ended.json()["code"]) == (404, "link-over")


def test_guessing_calendars_is_slowed_down(shop: tuple[Web, str]) -> None:
    answers = [calendar(shop[0], f"{'x' * 30}{i:02}").status_code for i in range(24)]
    assert answers[0] == 404
    assert answers[-1] == 429
    with psycopg.connect(shop[1], autocommit=True) as cx:
        cx.execute("TRUNCATE link_knock")


def test_the_app_itself_may_not_read_the_days_of_another_shop(shop: tuple[Web, str]) -> None:
    with psycopg.connect(addresses_of(shop[1]).app) as cx:
        with psycopg.connect(shop[1]) as owner:
            (other,) = owner.execute("SELECT id FROM shop ORDER BY name LIMIT 1").fetchone() or (None,)
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            cx.execute("SELECT count(*) FROM day_items(%s, current_date, current_date + 60)", [other])


def test_a_calendar_ends_by_itself_and_with_whoever_made_it(shop: tuple[Web, str]) -> None:
    running, url = shop
    fitter, manager = signed_in(running, "bram"), signed_in(running, "marrow")
    me = next(p["id"] for p in manager.get("/api/people").json() if p["login"] == "bram")

    def made(*, whole: bool) -> str:
        token = fitter.post("/api/calendars", json={"id": str(uuid.uuid4()), "whole": whole}).json()["token"]
        return f"{running.url}/api/calendar/{token}.ics"

    def change(**what: object) -> None:
        done = manager.patch(f"/api/people/{me}", json=what | {"change_id": str(uuid.uuid4())})
        assert done.status_code == 200

    old, own, whole = made(whole=False), made(whole=False), made(whole=True)
    told = fitter.get("/api/calendars").json()
    assert all(330 < (date.fromisoformat(c["until"][:10]) - date.today()).days <= 366 for c in told)
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE day_feed SET until = now() - interval '1 s' WHERE token_hash = sha256(convert_to(%s, 'UTF8'))",
                   [old.rpartition("/")[2].removesuffix(".ics")])  # fmt: skip
    codes = lambda: [plainly.get(link).status_code for link in (old, own, whole)]  # noqa: E731
    assert codes() == [404, 200, 200]
    assert len(fitter.get("/api/calendars").json()) == 2
    change(role="trainee")
    assert codes() == [404, 200, 404], "a trainee has no calendar of the whole shop, also not one made before"
    change(role="fitter", active=False)
    assert codes() == [404] * 3
    change(active=True)
    assert codes() == [404] * 3, "letting somebody in again revives nothing"


# --- a link after the sale


@pytest.fixture
def phone(shop: tuple[Web, str]) -> Iterator[httpx.Client]:
    with plainly.Client(base_url=shop[0].url) as client:
        yield client


def linked(fitter: httpx.Client, name: str) -> tuple[str, str, str, str]:
    athlete, fitting, pair = sold(fitter, name)
    made = fitter.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())})
    assert made.status_code == 201, made.text
    return athlete, fitting, pair, made.json()["token"]


def test_an_athlete_logs_what_they_wear_by_their_link(
    shop: tuple[Web, str], fitter: httpx.Client, phone: httpx.Client
) -> None:
    _, _, pair, token = linked(fitter, "Wears In")
    page = phone.get(f"/api/away/{token}").json()
    assert not page["open"]
    with psycopg.connect(shop[1]) as cx:
        ends = "SELECT extract(day FROM max(expires_at) - now()) FROM athlete_link"
        assert cx.execute(ends).fetchone() in ((179,), (180,))  # half a year after a sale
    (mine,) = phone.get(f"/api/away/{token}/pairs").json()
    assert (mine["id"], mine["plan"]["wears"][0]["minutes"]) == (pair, 20)
    path = f"/api/away/{token}/pairs/{pair}/worn"
    body = {"id": str(uuid.uuid4()), "on": today().isoformat(), "minutes": 20}
    assert phone.post(path, json=body).json()["code"] == "link-refused"
    phone.post(f"/api/away/{token}/agree")
    for _ in range(2):
        (now,) = phone.post(path, json=body).json()
    assert [w["minutes"] for w in now["worn"]] == [20]
    assert now["worn"][0]["mine"]
    assert fitter.get(f"/api/pairs/{pair}").json()["worn"][0]["by_link"]
    for bad in ({"on": (today() + timedelta(days=4)).isoformat()}, {"on": "2020-01-01"}):
        assert phone.post(path, json=body | {"id": str(uuid.uuid4())} | bad).status_code == 409
    assert phone.post(path, json=body | {"id": str(uuid.uuid4()), "minutes": 0}).status_code == 422
    learn_lives(shop[1])
    assert fitter.get(f"/api/pairs/{pair}").json()["pair"]["logged_h"] == pytest.approx(1 / 3)
    with psycopg.connect(shop[1]) as cx:
        assert cx.execute("SELECT worn_h FROM pair WHERE id = %s", [pair]).fetchone() == (pytest.approx(1 / 3),)
        assert cx.execute("SELECT count(*) FROM life_due").fetchone() == (0,)  # one pair's hours are no chain's matter
    for _ in range(2):
        (after,) = phone.delete(f"/api/away/{token}/worn/{body['id']}").json()
    assert after["worn"] == []
    with psycopg.connect(shop[1]) as cx:
        assert cx.execute("SELECT worn_h FROM pair WHERE id = %s", [pair]).fetchone() == (pytest.approx(0, abs=1e-9),)
        assert cx.execute("SELECT 1 FROM pair_due WHERE pair_id = %s", [pair]).fetchone() == (1,)
    learn_lives(shop[1])
    assert fitter.get(f"/api/pairs/{pair}").json()["pair"]["logged_h"] == 0


def test_a_link_reaches_its_own_athletes_pairs_alone(fitter: httpx.Client, phone: httpx.Client) -> None:
    _, _, mine, token = linked(fitter, "One Athlete")
    _, _, theirs, other = linked(fitter, "Another Athlete")
    for t in (token, other):
        phone.post(f"/api/away/{t}/agree")
    body = {"id": str(uuid.uuid4()), "on": today().isoformat(), "minutes": 45}
    assert phone.post(f"/api/away/{token}/pairs/{theirs}/worn", json=body).status_code == 409
    assert phone.post(f"/api/away/{token}/pairs/{mine}/worn", json=body).status_code == 200
    assert phone.delete(f"/api/away/{other}/worn/{body['id']}").status_code == 409
    assert "Another" not in phone.get(f"/api/away/{token}/pairs").text
    assert phone.get(f"/api/away/{'a' * 43}/pairs").status_code == 404


def test_the_sheet_and_the_calendar_by_link(fitter: httpx.Client, phone: httpx.Client) -> None:
    _, fitting, _, token = linked(fitter, "Takes Home")
    sheet = PdfReader(io.BytesIO(phone.get(f"/api/away/{token}/fit-sheet.pdf?paper=letter").content))
    assert "Takes Home" in sheet.pages[0].extract_text()
    wears = Calendar.from_ical(phone.get(f"/api/away/{token}/break-in.ics").text).walk("VEVENT")
    plan = fitter.get(f"/api/fittings/{fitting}/fit-sheet.json").json()["break_in"]
    assert [e["dtstart"].dt.isoformat() for e in wears] == [w["on"] for w in plan["wears"]]
    open_fitting, _ = pulled(fitter, 1)
    early = fitter.post(f"/api/fittings/{open_fitting}/link", json={"id": str(uuid.uuid4())}).json()["token"]
    assert phone.get(f"/api/away/{early}/fit-sheet.pdf").status_code == 404


def test_an_erased_athletes_pairs_keep_only_what_was_found_of_the_shoes(
    shop: tuple[Web, str], fitter: httpx.Client, phone: httpx.Client
) -> None:
    athlete, _, pair, token = linked(fitter, "Forgets Everything")
    phone.post(f"/api/away/{token}/agree")
    body = {"id": str(uuid.uuid4()), "on": today().isoformat(), "minutes": 45}
    assert phone.post(f"/api/away/{token}/pairs/{pair}/worn", json=body).status_code == 200
    manager = signed_in(shop[0], "marrow")
    data = manager.get(f"/api/athletes/{athlete}/data.json").json()
    assert data["worn"][0]["minutes"] == 45
    assert "looked_at" in data
    assert manager.post(f"/api/athletes/{athlete}/erase").status_code == 200
    with psycopg.connect(shop[1]) as cx:
        assert cx.execute("SELECT count(*) FROM pair_worn WHERE pair_id = %s", [pair]).fetchone() == (0,)
        assert cx.execute("SELECT note, ended_on FROM pair WHERE id = %s", [pair]).fetchone() == ("", today())
    assert "Forgets" not in json.dumps(fitter.get("/api/today").json())


def to_do(client: httpx.Client) -> list[str]:
    return [b["key"].removeprefix("begin:") for b in client.get("/api/today").json()["begin"]]


def test_a_new_shop_is_told_what_is_still_to_do_until_it_is_done(shop: tuple[Web, str]) -> None:
    running, url = shop
    with psycopg.connect(url, row_factory=dict_row) as cx:
        lone = staff.add_shop(cx, "Lone Quay")
        staff.add_staff(cx, lone, "ada", "Ada Quill", "manager", "last-and-sock-4")
    with httpx.Client(base_url=running.url) as ada:
        ada.post("/api/session", json={"login": "ada", "password": "last-and-sock-4"}).raise_for_status()
        assert to_do(ada) == ["list", "house", "people", "tablet", "backup"]
        for left in (["list", "house", "people", "tablet", "backup"], ["list", "people", "tablet", "backup"]):
            house = ada.get("/api/house").json()["house"]
            given = {"base_version": house["version"], "house": {**house, "version": 0}}
            assert ada.put("/api/house", json=given).status_code == 200
            assert to_do(ada) == left  # the first numbers are those the shop was made with
        sheet = ada.post("/api/sheets", params={"id": str(uuid.uuid4()), "name": "l.csv"},
                         content="Brand,Model,Sport,EU size\nBrindle,Keel,climbing,42\n").json()  # fmt: skip
        assert to_do(ada) == ["list", "people", "tablet", "backup"]  # looked at isn't brought in
        assert ada.post(f"/api/sheets/{sheet['id']}/write").status_code == 200
        assert to_do(ada) == ["people", "tablet", "backup"]
        with psycopg.connect(url, row_factory=dict_row) as cx:
            second = staff.add_staff(cx, lone, "bo", "Bo Quill", "fitter", "last-and-sock-4")
        assert to_do(ada) == ["tablet", "backup"]
        tablet = str(uuid.uuid4())
        assert ada.post("/api/tablets", json={"id": tablet, "name": "By the door"}).status_code == 201
        assert to_do(ada) == ["backup"]
        with httpx.Client(base_url=running.url) as bo:
            bo.post("/api/session", json={"login": "bo", "password": "last-and-sock-4"}).raise_for_status()
            assert to_do(bo) == []
        assert ada.delete(f"/api/tablets/{tablet}").json() == []
        with psycopg.connect(url) as cx:
            cx.execute("UPDATE staff SET active = false WHERE id = %s", [second])
        assert to_do(ada) == ["people", "tablet", "backup"]
        mark = str(uuid.uuid4())
        assert marked(ada, "begin:backup", mark=mark).status_code == 204
        assert marked(ada, "begin:people", until=date.today() + timedelta(days=3)).status_code == 204
        assert to_do(ada) == ["people", "tablet"]  # put off isn't done
        assert ada.delete(f"/api/today/marks/{mark}").status_code == 204
        assert to_do(ada) == ["people", "tablet", "backup"]
    assert to_do(signed_in(running, "marrow")) == []
