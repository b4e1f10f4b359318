"""Every route, for nobody, a trainee, a fitter and a manager; and every id, for another shop."""

from __future__ import annotations

import uuid
from typing import Any

import httpx
import pytest

from kalon.api.app import ROUTERS
from kalon.api.desk import Needs, who_may
from tests import plainly
from tests.api.calls import new_athlete, pulled, sell, signed_in
from tests.api.who import PAGE, page
from tests.running import Web

ALL: Needs = "all"
SELLS: Needs = "sells"
MANAGES: Needs = "manages"
ROUTES: dict[tuple[str, str], Needs] = {
    ("get", "/api/session"): ALL,
    ("delete", "/api/session"): ALL,
    ("get", "/api/today"): ALL,
    ("get", "/api/athletes"): ALL,
    ("post", "/api/athletes"): ALL,
    ("get", "/api/athletes/{athlete_id}"): ALL,
    ("put", "/api/athletes/{athlete_id}"): ALL,
    ("put", "/api/athletes/{athlete_id}/consent"): SELLS,
    ("get", "/api/athletes/{athlete_id}/years"): ALL,
    ("get", "/api/athletes/{athlete_id}/changes"): ALL,
    ("get", "/api/athletes/{athlete_id}/data.json"): MANAGES,
    ("post", "/api/athletes/{athlete_id}/erase"): MANAGES,
    ("get", "/api/athletes/{athlete_id}/alike"): MANAGES,
    ("post", "/api/athletes/{athlete_id}/merged"): MANAGES,
    ("post", "/api/athletes/{athlete_id}/merged/{merge_id}/parted"): MANAGES,
    ("post", "/api/fittings/{fitting_id}/link"): ALL,
    ("get", "/api/fittings/{fitting_id}/link"): ALL,
    ("delete", "/api/fittings/{fitting_id}/link"): ALL,
    ("get", "/api/known"): ALL,
    ("get", "/api/known/{known_id}"): ALL,
    ("post", "/api/known/{known_id}/athlete"): ALL,
    ("post", "/api/fittings"): ALL,
    ("post", "/api/walk-ins"): ALL,
    ("get", "/api/queue"): ALL,
    ("post", "/api/queue"): ALL,
    ("post", "/api/queue/{place_id}/steps"): ALL,
    ("post", "/api/queue/{place_id}/take"): ALL,
    ("get", "/api/fittings/{fitting_id}"): ALL,
    ("patch", "/api/fittings/{fitting_id}/parts/{part}"): ALL,
    ("post", "/api/fittings/{fitting_id}/captures"): ALL,
    ("post", "/api/fittings/{fitting_id}/practice"): ALL,
    ("get", "/api/fittings/{fitting_id}/feet/over-time"): ALL,
    ("get", "/api/fittings/{fitting_id}/feet.{form}"): ALL,
    ("get", "/api/captures/{capture_id}/progress"): ALL,
    ("get", "/api/captures/{capture_id}/shape"): ALL,
    ("get", "/api/captures/{capture_id}/surface"): ALL,
    ("get", "/api/captures/{capture_id}/picture"): ALL,
    ("patch", "/api/captures/{capture_id}"): ALL,
    ("delete", "/api/captures/{capture_id}"): ALL,
    ("post", "/api/captures/{capture_id}/back"): ALL,
    ("get", "/api/fittings/{fitting_id}/spec"): ALL,
    ("post", "/api/fittings/{fitting_id}/spec/what-if"): ALL,
    ("post", "/api/fittings/{fitting_id}/spec/newest-house"): ALL,
    ("get", "/api/fittings/{fitting_id}/pull"): ALL,
    ("get", "/api/fittings/{fitting_id}/pull/{model_id}/{width}"): ALL,
    ("put", "/api/fittings/{fitting_id}/tray/{line_id}"): ALL,
    ("delete", "/api/fittings/{fitting_id}/tray/{line_id}"): ALL,
    ("get", "/api/fittings/{fitting_id}/settle/{line_id}"): ALL,
    ("post", "/api/fittings/{fitting_id}/sale"): SELLS,
    ("get", "/api/takings"): SELLS,
    ("post", "/api/takings/lines/{journal_id}/back"): SELLS,
    ("post", "/api/takings/lines/{journal_id}/correct"): MANAGES,
    ("put", "/api/takings/lines/{journal_id}/till"): SELLS,
    ("post", "/api/takings/close"): SELLS,
    ("get", "/api/models/{model_id}/prices"): MANAGES,
    ("get", "/api/athletes/{athlete_id}/reach"): ALL,
    ("put", "/api/athletes/{athlete_id}/reach"): SELLS,
    ("get", "/api/orders/{order_id}/tell"): ALL,
    ("put", "/api/orders/{order_id}/told"): SELLS,
    ("delete", "/api/orders/{order_id}/told"): SELLS,
    ("get", "/api/purchases"): ALL,
    ("put", "/api/purchases/{purchase_id}"): SELLS,
    ("post", "/api/purchases/{purchase_id}/steps"): SELLS,
    ("post", "/api/purchases/{purchase_id}/received"): SELLS,
    ("post", "/api/purchases/{purchase_id}/chased"): SELLS,
    ("post", "/api/purchases/{purchase_id}/given-up"): SELLS,
    ("get", "/api/purchases/{purchase_id}/order.{form}"): ALL,
    ("get", "/api/purchases/{purchase_id}/order.pdf"): ALL,
    ("get", "/api/labels.pdf"): ALL,
    ("get", "/api/fittings/{fitting_id}/size-card.{form}"): ALL,
    ("post", "/api/fittings/{fitting_id}/size-card.{form}"): ALL,
    ("put", "/api/models/{model_id}/prices"): MANAGES,
    ("get", "/api/takings/journal.{form}"): SELLS,
    ("get", "/api/takings/sums.{form}"): SELLS,
    ("get", "/api/takings/models.{form}"): MANAGES,
    ("get", "/api/takings/slow.{form}"): MANAGES,
    ("get", "/api/takings/day.pdf"): SELLS,
    ("post", "/api/orders/{order_id}/deposit"): SELLS,
    ("post", "/api/orders/{order_id}/deposit/back"): SELLS,
    ("delete", "/api/fittings/{fitting_id}/sale/{sale_id}"): SELLS,
    ("get", "/api/fittings/{fitting_id}/fit-sheet.json"): ALL,
    ("get", "/api/fittings/{fitting_id}/fit-sheet.pdf"): ALL,
    ("get", "/api/fittings/{fitting_id}/break-in.ics"): ALL,
    ("put", "/api/fittings/{fitting_id}/follow-up"): ALL,
    ("get", "/api/fittings/{fitting_id}/outcome"): ALL,
    ("post", "/api/fittings/{fitting_id}/follow-up/done"): ALL,
    ("delete", "/api/fittings/{fitting_id}/follow-up/done"): ALL,
    ("delete", "/api/fittings/{fitting_id}/follow-up"): ALL,
    ("get", "/api/vocabulary"): ALL,
    ("get", "/api/stock"): ALL,
    ("get", "/api/stock/models"): ALL,
    ("get", "/api/house"): ALL,
    ("get", "/api/house/sides"): ALL,
    ("put", "/api/house"): MANAGES,
    ("get", "/api/stock/{line_id}"): ALL,
    ("get", "/api/models/{model_id}"): ALL,
    ("put", "/api/models/{model_id}"): MANAGES,
    ("post", "/api/models/{model_id}/sizes"): MANAGES,
    ("get", "/api/fittings/{fitting_id}/substitutes"): ALL,
    ("get", "/api/fittings/{fitting_id}/to-order"): ALL,
    ("get", "/api/fittings/{fitting_id}/to-order/made"): ALL,
    ("get", "/api/fittings/{fitting_id}/to-order/{variant_id}"): ALL,
    ("get", "/api/fittings/{fitting_id}/orders"): ALL,
    ("get", "/api/orders"): ALL,
    ("post", "/api/orders"): ALL,
    ("post", "/api/orders/{order_id}/steps"): SELLS,
    ("put", "/api/orders/{order_id}/arrival"): ALL,
    ("get", "/api/needs"): ALL,
    ("get", "/api/rack"): ALL,
    ("get", "/api/rack/totals"): ALL,
    ("get", "/api/stock/{line_id}/moves"): ALL,
    ("get", "/api/stock/{line_id}/inside"): ALL,
    ("get", "/api/stock/{line_id}/elsewhere"): ALL,
    ("post", "/api/stock/{line_id}/readings"): ALL,
    ("delete", "/api/stock/{line_id}/readings/{reading_id}"): ALL,
    ("get", "/api/stock/{line_id}/held"): ALL,
    ("post", "/api/stock/{line_id}/held"): SELLS,
    ("delete", "/api/stock/{line_id}/held/{held_id}"): SELLS,
    ("post", "/api/stock/{line_id}/moves"): MANAGES,
    ("post", "/api/sheets"): MANAGES,
    ("get", "/api/sheets"): MANAGES,
    ("get", "/api/sheets/fields"): ALL,
    ("get", "/api/sheets/{sheet_id}"): MANAGES,
    ("put", "/api/sheets/{sheet_id}/settings"): MANAGES,
    ("get", "/api/sheets/{sheet_id}/progress"): MANAGES,
    ("get", "/api/sheets/{sheet_id}/rows"): MANAGES,
    ("post", "/api/sheets/{sheet_id}/write"): MANAGES,
    ("post", "/api/sheets/{sheet_id}/undo"): MANAGES,
    ("get", "/api/export/{kind}.{form}"): MANAGES,
    ("get", "/api/ledger"): ALL,
    ("get", "/api/ledger/evidence"): ALL,
    ("put", "/api/ledger/evidence/{evidence_id}/aside"): MANAGES,
    ("delete", "/api/ledger/evidence/{evidence_id}/aside"): MANAGES,
    ("put", "/api/ledger/fitters/{staff_id}/aside"): MANAGES,
    ("delete", "/api/ledger/fitters/asides/{aside_id}"): MANAGES,
    ("get", "/api/fittings/{fitting_id}/learned"): ALL,
    ("get", "/api/fittings/{fitting_id}/costs"): ALL,
    ("get", "/api/fittings/{fitting_id}/turned"): ALL,
    ("get", "/api/fittings/{fitting_id}/beside"): ALL,
    ("post", "/api/fittings/{fitting_id}/learned/newest"): ALL,
    ("get", "/api/fittings/{fitting_id}/trial/next"): ALL,
    ("post", "/api/today/marks"): ALL,
    ("delete", "/api/today/marks/{mark_id}"): ALL,
    ("get", "/api/calendars"): ALL,
    ("post", "/api/calendars"): ALL,
    ("delete", "/api/calendars/{feed_id}"): ALL,
    ("get", "/api/athletes/{athlete_id}/pairs"): ALL,
    ("put", "/api/athletes/{athlete_id}/pairs/{pair_id}"): ALL,
    ("get", "/api/pairs/{pair_id}"): ALL,
    ("delete", "/api/pairs/{pair_id}"): ALL,
    ("post", "/api/pairs/{pair_id}/worn"): ALL,
    ("post", "/api/pairs/{pair_id}/seen"): ALL,
    ("post", "/api/pairs/{pair_id}/seen/try"): ALL,
    ("delete", "/api/pairs/{pair_id}/{what}/{entry_id}"): ALL,
    ("post", "/api/pairs/{pair_id}/end"): ALL,
    ("get", "/api/pairs/{pair_id}/again"): ALL,
    ("get", "/api/lives"): ALL,
    ("post", "/api/stock/{line_id}/pictures"): ALL,
    ("get", "/api/stock/{line_id}/pictures"): ALL,
    ("post", "/api/stock/{line_id}/practice-shoe"): ALL,
    ("post", "/api/pairs/{pair_id}/pictures"): ALL,
    ("get", "/api/pairs/{pair_id}/pictures"): ALL,
    ("get", "/api/shoe-pictures/{picture_id}/image"): ALL,
    ("get", "/api/shoe-pictures/{picture_id}"): ALL,
    ("patch", "/api/shoe-pictures/{picture_id}"): ALL,
    ("post", "/api/shoe-pictures/{picture_id}/keep"): ALL,
    ("delete", "/api/shoe-pictures/{picture_id}"): ALL,
    ("get", "/api/models/{model_id}/bench"): ALL,
    ("get", "/api/models/{model_id}/elsewhere"): ALL,
    ("post", "/api/models/{model_id}/tests/{slug}"): ALL,
    ("get", "/api/fittings/{fitting_id}/own/{model_id}"): ALL,
    ("get", "/api/plan"): ALL,
    ("put", "/api/plan"): ALL,
    ("post", "/api/plan/try"): ALL,
    ("get", "/api/plan/sheet.pdf"): ALL,
    ("get", "/api/squads"): ALL,
    ("get", "/api/squad"): ALL,
    ("post", "/api/squad/list"): ALL,
    ("get", "/api/squad/sheet.pdf"): ALL,
    ("get", "/api/squad/sheet.csv"): ALL,
    ("get", "/api/people"): MANAGES,
    ("post", "/api/people"): MANAGES,
    ("patch", "/api/people/{staff_id}"): MANAGES,
    ("post", "/api/people/{staff_id}/invitation"): MANAGES,
    ("put", "/api/session/password"): ALL,
    ("put", "/api/session/pin"): ALL,
    ("post", "/api/session/proof"): ALL,
    ("get", "/api/archive"): MANAGES,
    ("get", "/api/tablets"): MANAGES,
    ("post", "/api/tablets"): MANAGES,
    ("patch", "/api/tablets/{tablet_id}"): MANAGES,
    ("delete", "/api/tablets/{tablet_id}"): MANAGES,
    ("post", "/api/qr"): ALL,
    ("post", "/api/failures"): ALL,
    ("get", "/api/calc"): ALL,
    ("post", "/api/calc/{name}"): ALL,
}
OPEN = {
    ("post", "/api/session"),
    ("get", "/api/session/here"),
    ("post", "/api/session/pin"),
    ("get", "/api/trust"),
    ("get", "/api/trust/authority.crt"),
    ("get", "/api/invited/{token}"),
    ("post", "/api/invited/{token}"),
    ("get", "/api/away/{token}"),
    ("post", "/api/away/{token}/agree"),
    ("put", "/api/away/{token}/answers"),
    ("put", "/api/away/{token}/orders/{order_id}/arrival"),
    ("post", "/api/away/{token}/pictures"),
    ("get", "/api/away/{token}/pairs"),
    ("post", "/api/away/{token}/pairs/{pair_id}/worn"),
    ("delete", "/api/away/{token}/worn/{entry_id}"),
    ("get", "/api/away/{token}/fit-sheet.pdf"),
    ("get", "/api/away/{token}/break-in.ics"),
    ("get", "/api/calendar/{token}.ics"),
}
"""Signing in, what a tablet has to know to trust this machine, and what a link opens: its secret is all there is to
prove (tests/api/test_links.py, test_tablets.py)."""
IDS = {
    "part": "feet",
    "width": "regular",
    "name": "stretch",
    "form": "csv",
    "capture_id": str(uuid.UUID(int=5)),
    "athlete_id": str(uuid.UUID(int=1)),
    "fitting_id": str(uuid.UUID(int=2)),
    "variant_id": str(uuid.UUID(int=17)),
    "order_id": str(uuid.UUID(int=18)),
    "aside_id": str(uuid.UUID(int=26)),
    "known_id": str(uuid.UUID(int=20)),
    "evidence_id": "999999999",
    "reading_id": str(uuid.UUID(int=14)),
    "held_id": str(uuid.UUID(int=15)),
    "sheet_id": str(uuid.UUID(int=13)),
    "kind": "stock",
    "line_id": str(uuid.UUID(int=3)),
    "purchase_id": str(uuid.UUID(int=46)),
    "journal_id": str(uuid.UUID(int=40)),
    "merge_id": str(uuid.UUID(int=61)),
    "model_id": str(uuid.UUID(int=4)),
    "staff_id": str(uuid.UUID(int=10)),
    "tablet_id": str(uuid.UUID(int=64)),
    "sale_id": str(uuid.UUID(int=6)),
    "pair_id": str(uuid.UUID(int=26)),
    "entry_id": str(uuid.UUID(int=27)),
    "mark_id": str(uuid.UUID(int=28)),
    "place_id": str(uuid.UUID(int=65)),
    "feed_id": str(uuid.UUID(int=29)),
    "what": "worn",
    "picture_id": str(uuid.UUID(int=32)),
    "slug": "fold",
}
BODIES: dict[str, Any] = {
    "/api/athletes": {"change_id": str(uuid.UUID(int=9)), "name": "Perm Ission"},
    "/api/athletes/{athlete_id}": {"change_id": str(uuid.UUID(int=8)), "name": "X", "version": 1},
    "/api/fittings": {"id": str(uuid.UUID(int=2)), "athlete_id": str(uuid.UUID(int=1))},
    "/api/queue": {"id": str(uuid.UUID(int=13)), "called": "blue jacket"},
    "/api/queue/{place_id}/steps": {"step": "came"},
    "/api/queue/{place_id}/take": {"fitting_id": str(uuid.UUID(int=14)), "change_id": str(uuid.UUID(int=15))},
    "/api/fittings/{fitting_id}/size-card.pdf": {"link": "https://shop.example/away/abcdefghijklmnopqrstuvwxyz"},
    "/api/walk-ins": {"change_id": str(uuid.UUID(int=11)), "fitting_id": str(uuid.UUID(int=12))},
    "/api/fittings/{fitting_id}/parts/{part}": {
        "base_version": 0,
        "change_id": str(uuid.UUID(int=7)),
        "set": {"sock": "thin"},
    },
    "/api/fittings/{fitting_id}/spec/what-if": {"set": {}},
    "/api/house": {"base_version": 99, "house": {}},
    "/api/fittings/{fitting_id}/practice": {"id": str(uuid.UUID(int=5)), "device": "mat", "side": "left", "seed": 1},
    "/api/captures/{capture_id}": {"version": 1, "said": {}},
    "/api/fittings/{fitting_id}/sale": {"sale_id": str(uuid.UUID(int=6)), "line_id": str(uuid.UUID(int=3))},
    "/api/fittings/{fitting_id}/follow-up": {"due_on": "2026-12-24"},
    "/api/stock/{line_id}/moves": {"id": str(uuid.UUID(int=11)), "by": 1},
    "/api/stock/{line_id}/held": {"id": str(uuid.UUID(int=15)), "name": "A customer"},
    "/api/stock/{line_id}/readings": {"id": str(uuid.UUID(int=14)), "zone": "length", "mm": 280},
    "/api/models/{model_id}": {"change_id": str(uuid.UUID(int=15)), "model": {"maker": "", "name": "", "sport": "x"}},
    "/api/models/{model_id}/sizes": {"change_id": str(uuid.UUID(int=16)), "sizes": ["42"]},
    "/api/orders": {"id": str(uuid.UUID(int=18)), "variant_id": str(uuid.UUID(int=17))},
    "/api/orders/{order_id}/arrival": {"change_id": str(uuid.UUID(int=21)), "inner_mm": 280},
    "/api/athletes/{athlete_id}/merged": {"id": str(uuid.UUID(int=61)), "other_id": str(uuid.UUID(int=62))},
    "/api/athletes/{athlete_id}/merged/{merge_id}/parted": {"change_id": str(uuid.UUID(int=63))},
    "/api/athletes/{athlete_id}/consent": {"id": str(uuid.UUID(int=22)), "agrees": True},
    "/api/ledger/evidence/{evidence_id}/aside": {"id": str(uuid.UUID(int=24)), "reason": "x"},
    "/api/ledger/fitters/{staff_id}/aside": {"id": str(uuid.UUID(int=25)), "reason": "x"},
    "/api/fittings/{fitting_id}/link": {"id": str(uuid.UUID(int=25))},
    "/api/known/{known_id}/athlete": {"change_id": str(uuid.UUID(int=23))},
    "/api/orders/{order_id}/steps": {"change_id": str(uuid.UUID(int=19)), "to": "ordered"},
    "/api/sheets/{sheet_id}/settings": {},
    "/api/today/marks": {"id": str(uuid.UUID(int=28)), "key": "follow_up:x"},
    "/api/calendars": {"id": str(uuid.UUID(int=29)), "whole": False},
    "/api/athletes/{athlete_id}/pairs/{pair_id}": {
        "change_id": str(uuid.UUID(int=30)),
        "version": 0,
        "pair": {
            "name": "x",
            "sport": "court",
            "discipline": "squash",
            "bought_on": "2026-01-01",
            "begun_on": "2026-01-01",
        },
    },
    "/api/pairs/{pair_id}/worn": {"id": str(uuid.UUID(int=27)), "on": "2026-01-02", "minutes": 30},
    "/api/pairs/{pair_id}/seen": {"id": str(uuid.UUID(int=27)), "on": "2026-01-02", "seen": {"sole": "bald"}},
    "/api/pairs/{pair_id}/seen/try": {"seen": {"sole": "bald"}},
    "/api/pairs/{pair_id}/end": {"change_id": str(uuid.UUID(int=31)), "why": "lost"},
    "/api/stock/{line_id}/practice-shoe": {"id": str(uuid.UUID(int=32)), "way": "sole", "seed": 1},
    "/api/shoe-pictures/{picture_id}": {"version": 1, "said": {}},
    "/api/shoe-pictures/{picture_id}/keep": {"version": 1},
    "/api/models/{model_id}/tests/{slug}": {"id": str(uuid.UUID(int=33)), "finding": "soft"},
    "/api/plan": {"version": 0, "body": {}},
    "/api/plan/try": {"body": {}},
    "/api/people": {"login": " ", "name": "x", "role": "fitter", "change_id": str(uuid.UUID(int=11))},
    "/api/people/{staff_id}": {"change_id": str(uuid.UUID(int=12)), "active": True},
    "/api/session/password": {"password": "x", "new_password": "short"},
    "/api/session/pin": {"password": "x", "pin": "1"},
    "/api/session/proof": {"password": "x"},
    "/api/tablets": {"id": str(uuid.UUID(int=65)), "name": " "},
    "/api/tablets/{tablet_id}": {"name": "x"},
    "/api/qr": {"text": "x"},
    "/api/takings/lines/{journal_id}/back": {"id": str(uuid.UUID(int=34)), "why": "rubs", "became": "shelf"},
    "/api/takings/lines/{journal_id}/correct": {"id": str(uuid.UUID(int=35)), "why": "mistyped", "by_minor": -1},
    "/api/takings/lines/{journal_id}/till": {"number": "7"},
    "/api/athletes/{athlete_id}/reach": {"change_id": str(uuid.UUID(int=47)), "reach": {}, "agrees": False},
    "/api/purchases/{purchase_id}": {
        "change_id": str(uuid.UUID(int=41)),
        "version": 1,
        "supplier": "x",
        "lines": [{"variant_id": str(uuid.UUID(int=17)), "pairs": 1}],
    },
    "/api/purchases/{purchase_id}/steps": {"change_id": str(uuid.UUID(int=42)), "to": "sent"},
    "/api/purchases/{purchase_id}/received": {
        "change_id": str(uuid.UUID(int=43)),
        "pairs": {str(uuid.UUID(int=17)): 1},
    },
    "/api/purchases/{purchase_id}/chased": {"change_id": str(uuid.UUID(int=44))},
    "/api/purchases/{purchase_id}/given-up": {
        "change_id": str(uuid.UUID(int=45)),
        "variant_id": str(uuid.UUID(int=17)),
    },
    "/api/takings/close": {"id": str(uuid.UUID(int=36)), "day": "2200-01-01"},
    "/api/models/{model_id}/prices": {"change_id": str(uuid.UUID(int=37)), "prices": [], "was": []},
    "/api/orders/{order_id}/deposit": {"id": str(uuid.UUID(int=38)), "amount_minor": 100},
    "/api/orders/{order_id}/deposit/back": {"id": str(uuid.UUID(int=39)), "why": "none came"},
    "/api/failures": {"kind": "TypeError", "where": ["a.tsx:1"]},
    "/api/calc/{name}": {},
}


def call(client: httpx.Client, method: str, path: str, ids: dict[str, str] | None = None) -> httpx.Response:
    query = {"id": str(uuid.UUID(int=5))} if path.endswith(("/captures", "/sheets")) else None
    query = {"athlete": str(uuid.UUID(int=1))} if path.startswith("/api/plan") else query
    query = {"name": "Nobody's", "id": str(uuid.UUID(int=5))} if path.startswith("/api/squad") else query
    query = {"id": str(uuid.UUID(int=32)), "way": "sole"} if path.endswith("/pictures") else query
    query = {"line": str((ids or IDS)["line_id"])} if path == "/api/labels.pdf" else query
    query = {"of": "2026-11"} if path.startswith("/api/takings/") else query
    path = path.replace("size-card.{form}", "size-card.pdf")
    query = {"maker": "Orvane"} if path == "/api/ledger/evidence" else query
    return client.request(method, path.format(**(IDS | (ids or {}))), json=BODIES.get(path), params=query)


def test_the_table_names_every_route(running: Web) -> None:
    document = signed_in(running).get("/api/openapi.json").json()
    served = {(method, path) for path, methods in document["paths"].items() for method in methods}
    assert served == set(ROUTES) | OPEN


def test_the_page_the_routes_and_this_table_say_the_same() -> None:
    """docs/who-may-what.md: written anew by `python -m tests.api.who`."""
    asked = who_may(route for part in ROUTERS for route in part.router.routes)
    assert asked == ROUTES
    assert PAGE.read_text() == page(asked), "docs/who-may-what.md is out of date"


def test_what_a_trainee_may_not_within_what_everybody_may(running: Web) -> None:
    """Break a promise, or give the whole shop's days away."""
    trainee, manager = signed_in(running, "pip"), signed_in(running, "marrow")
    fitting, (line,) = pulled(trainee, 1)
    path = f"/api/fittings/{fitting}/tray/{line}"
    assert trainee.delete(path).status_code == 200
    assert trainee.put(path, json={"anyway": "I want it."}).status_code == 403
    assert trainee.put(path).status_code == 200
    whole, own = ({"id": str(uuid.uuid4()), "whole": w} for w in (True, False))
    assert trainee.post("/api/calendars", json=whole).status_code == 403
    assert trainee.post("/api/calendars", json=own).status_code == 201
    theirs = next(c for c in manager.get("/api/calendars").json() if c["id"] == own["id"])
    assert (theirs["by"], theirs["mine"], theirs["whole"]) == ("Pip Quill", False, False)
    assert signed_in(running).delete(f"/api/calendars/{own['id']}").status_code == 404
    assert manager.delete(f"/api/calendars/{own['id']}").status_code == 204
    assert trainee.get("/api/calendars").json() == []


@pytest.mark.parametrize(("method", "path"), list(ROUTES))
def test_nobody_gets_nothing(running: Web, method: str, path: str) -> None:
    with plainly.Client(base_url=running.url) as client:
        answer = call(client, method, path)
        client.cookies.set("kalon_session", "made-up")
        made_up = call(client, method, path)
    assert (answer.status_code, made_up.status_code) == (401, 401)
    assert answer.json()["code"] == "not-signed-in"


@pytest.mark.parametrize(("login", "may"), [("pip", {ALL}), ("ilse", {ALL, SELLS}), ("marrow", {ALL, SELLS, MANAGES})])
def test_roles(running: Web, login: str, may: set[str]) -> None:
    client = signed_in(running, login)
    for (method, path), needs in ROUTES.items():
        if (method, path) == ("delete", "/api/session"):
            continue
        refused = call(client, method, path).status_code == 403
        assert refused == (needs not in may), f"{login} {method} {path}"


def ours_brought(running: Web) -> uuid.UUID:
    """A sheet of our shop."""
    sheet = uuid.uuid4()
    params = {"id": str(sheet), "name": "a.csv"}
    signed_in(running, "marrow").post("/api/sheets", params=params, content=b"maker,model,size\nA,B,42\n")
    return sheet


def ours_bought(running: Web, variant: str) -> str:
    """An order to a supplier of our shop."""
    key = str(uuid.uuid4())
    body = BODIES["/api/purchases/{purchase_id}"] | {
        "change_id": str(uuid.uuid4()), "version": 0, "lines": [{"variant_id": variant, "pairs": 1}],
    }  # fmt: skip
    assert signed_in(running).put(f"/api/purchases/{key}", json=body).status_code == 200
    return key


def test_another_shops_ids_are_not_there(running: Web) -> None:
    ours, theirs = signed_in(running), signed_in(running, "sorrel")
    fitting, lines = pulled(ours, 1)
    whole = ours.get(f"/api/fittings/{fitting}").json()
    assert sell(ours, fitting, lines[0]).status_code == 201
    owned = ours.get(f"/api/athletes/{whole['athlete']['id']}/pairs").json()
    whole = ours.get(f"/api/fittings/{fitting}").json()
    ids = {
        "pair_id": owned[0]["id"],
        "fitting_id": fitting,
        "athlete_id": whole["athlete"]["id"],
        "line_id": lines[0],
        "model_id": whole["tray"][0]["model_id"],
        "sheet_id": str(ours_brought(running)),
        "journal_id": whole["sale"]["lines"][0]["id"],
        "purchase_id": ours_bought(running, whole["tray"][0]["variant_id"]),
    }
    for method, path in ROUTES:
        if "_id}" not in path or path.endswith("/progress"):  # no progress is told of what isn't under way
            continue
        if path.startswith("/api/models/"):  # the catalogue is the chain's, and theirs is a sister shop
            continue
        answer = call(theirs, method, path, ids)
        assert answer.status_code == 404, f"{method} {path}: {answer.status_code}"
    body = {"id": str(uuid.uuid4()), "athlete_id": ids["athlete_id"]}
    assert theirs.post("/api/fittings", json=body).status_code == 404
    assert ours.get(f"/api/fittings/{fitting}").json() == whole


def test_lists_hold_the_own_shop_only(running: Web) -> None:
    ours, theirs = signed_in(running), signed_in(running, "sorrel")
    new_athlete(ours, "Only Ours")
    names = {a["name"] for a in theirs.get("/api/athletes").json()}
    assert names == {"Hale Norring"}
    assert "Hale Norring" not in {a["name"] for a in ours.get("/api/athletes").json()}
    their_stock = {r["id"] for r in theirs.get("/api/stock").json()}
    assert their_stock
    assert not their_stock & {r["id"] for r in ours.get("/api/stock").json()}


def test_a_manager_adds_people_of_the_own_shop(running: Web) -> None:
    manager = signed_in(running, "marrow")
    body = {"login": "Newcomer", "name": "New Comer", "role": "trainee", "change_id": str(uuid.uuid4())}  # fmt: skip
    people = manager.post("/api/people", json=body).json()
    assert "newcomer" in {p["login"] for p in people}
    assert all(set(p) == {"id", "login", "name", "role", "active", "invited_until"} for p in people)
    assert manager.post("/api/people", json=body).json() == people
    again = manager.post("/api/people", json=body | {"change_id": str(uuid.uuid4())})
    assert (again.status_code, again.json()["code"]) == (409, "login-taken")
    assert "newcomer" not in {p["login"] for p in signed_in(running, "sorrel").get("/api/people").json()}


def test_only_a_manager_counts_the_stock(running: Web) -> None:
    manager = signed_in(running, "marrow")
    line = manager.get("/api/stock").json()[0]
    path = f"/api/stock/{line['id']}/moves"
    answer = manager.post(path, json={"id": str(uuid.uuid4()), "by": 7})
    assert answer.json()["on_hand"] == line["on_hand"] + 7
    for wrong in (-1000, 1000, "many", None, 0.5):
        assert manager.post(path, json={"id": str(uuid.uuid4()), "by": wrong}).status_code == 422
