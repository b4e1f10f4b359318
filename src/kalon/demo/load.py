"""Load the scenario: deterministic from a seed, dates relative to today, only into an empty database."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, timedelta
from random import Random
from typing import Any, Literal
from uuid import UUID

import psycopg
from psycopg.rows import dict_row

from ..core.care.day import BEGIN
from ..core.contract import SIDES
from ..core.feet.said import Said
from ..core.fit.foot import MEASURES
from ..core.house import HOUSE
from ..core.match.rank import rank
from ..core.shoes.inner import InnerIn
from ..devices.practice import SCALED, dims_of, make_of
from ..files.captures import measure
from ..store import (
    athletes,
    captures,
    catalogue,
    day,
    fittings,
    known,
    learned,
    lives,
    orders,
    sales,
    shelves,
    staff,
    stock,
)
from ..store.bench import load as load_fitting
from ..store.bench import sell
from ..store.database import Cx, Who
from ..store.ids import new_id
from ..store.learning import run_due
from ..store.shop import count_norms
from .after import after_the_sale, elsewhere
from .people import ATHLETES, DATABASE, GAMES, HARBOUR, NORTH, SIGN_INS, SKERRY, Person
from .season import NAMES, VISITS, Truth, brief_of, seen_again, tried
from .shoes import models, readings_of
from .takings import COST_SHARE, takings_so_far, takings_today

__all__ = ["DATABASE", "SIGN_INS", "load"]

SEED = 20
STATES = ("feet", "brief", "spec", "pull", "trial", "settled", "returned", "due")
"""How far fittings have come, in turn."""


@dataclass
class _Scene:
    cx: Cx
    random: Random
    today: date
    people: dict[str, Who]
    earlier: dict[UUID, int] = field(default_factory=dict)
    """Earlier visits, by how many days ago they were."""
    truth: Truth = field(default_factory=dict)

    def patch(self, who: Who, fitting: UUID, part: str, sets: dict[str, Any]) -> None:
        version = fittings.parts(self.cx, fitting)[part].version
        fittings.patch(self.cx, who, fitting, part, version, new_id(), sets)


def load(url: str, say: Callable[[str], None]) -> None:
    """Load unless there are people already."""
    with psycopg.connect(url, row_factory=dict_row) as cx:
        if cx.execute("SELECT 1 FROM staff LIMIT 1").fetchone():
            return
        say("loading the made-up games: athletes, shoes, fittings")
        people = {}
        chain = staff.add_chain(cx, GAMES)
        shops = {name: staff.add_shop(cx, name, chain) for name in (HARBOUR, NORTH, SKERRY)}
        for p in SIGN_INS:
            key = staff.add_staff(cx, shops[p.shop], p.login, p.name, p.role, p.password)
            people[p.login] = Who(key, shops[p.shop], p.shop, p.login, p.name, p.role)
        for who in people.values():
            if who.role == "manager":  # the first days of these shops are long over
                for begun in BEGIN:
                    day.mark(cx, who, new_id(), begun, None)
        scene = _Scene(cx, Random(SEED), datetime.now(UTC).date(), people)  # noqa: S311
        with cx.pipeline():  # thousands of rows, none of which waits for another's answer
            _stock(scene, chain, [shops[HARBOUR], shops[NORTH], shops[SKERRY]])
        _north(scene, people["sorrel"])
        turns = {"football": 0, "climbing": 3, "lifting": 5, "cycling": 2, "court": 4, "field": 2, "ice": 4}
        for index, person in enumerate(ATHLETES):
            who = people["ilse" if index % 3 else "bram"]
            staff.act_as(cx, who)
            athlete = _athlete(scene, who, person)
            if person.brief:
                turn = turns[person.sport]
                turns[person.sport] += 3
                _fitting(scene, who, athlete, person, STATES[turn % len(STATES)], index)
            cx.execute("RESET ROLE")
        staff.act_as(cx, people["marrow"])
        count_norms(cx, people["marrow"], now=True)
        _between_shops(cx, shops, people)
        cx.execute("RESET ROLE")
        staff.act_as(cx, people["tarn"])
        _season(scene, people["tarn"])
        cx.execute("RESET ROLE")
        _back_date(cx)
        takings_so_far(cx)
        staff.act_as(cx, people["marrow"])
        takings_today(cx, people["marrow"], scene.today)
        cx.execute("RESET ROLE")
        staff.act_as(cx, people["tarn"])
        after_the_sale(cx, people["tarn"], Random(SEED + 3), scene.today)  # noqa: S311
        cx.execute("RESET ROLE")
        staff.act_as(cx, people["ilse"])
        after_the_sale(cx, people["ilse"], Random(SEED + 4), scene.today)  # noqa: S311
        elsewhere(cx, people["ilse"], scene.today)
        cx.execute("RESET ROLE")
        cx.execute("DELETE FROM session")
        for fitting, days in scene.earlier.items():
            cx.execute(
                "UPDATE fitting SET opened_at = now() - %s, touched_at = now() - %s WHERE id = %s",
                [timedelta(days=days), timedelta(days=days), fitting],
            )
        cx.execute(
            "UPDATE athlete a SET measured_on = (SELECT max(f.opened_at)::date FROM fitting f JOIN fitting_part p "
            "ON p.fitting_id = f.id WHERE f.athlete_id = a.id AND p.part = 'feet' "
            "AND (p.body ? 'left' OR p.body ? 'right')) WHERE a.measured_on IS NOT NULL"
        )
        cx.execute(
            "UPDATE foot_capture c SET taken_at = f.opened_at, measured_at = f.opened_at FROM fitting f "
            "WHERE f.id = c.fitting_id"
        )
        say("learning from what was found")
        run_due(cx)
        lives.run_due(cx)
        cx.execute(
            "UPDATE fitting SET learned_version = (SELECT max(version) FROM learned_version) WHERE state = 'open'"
        )


def _season(scene: _Scene, who: Who) -> None:
    """Visits of a season in the third shop: trials, sales and follow-ups, all over by now."""
    cx, random = scene.cx, Random(SEED + 2)  # noqa: S311
    for place, name in enumerate(NAMES):
        values = {"name": name, "born_on": date(1990 + place, 3, 4), "squad": "Skerry", "note": ""}
        athlete = athletes.add(cx, who, new_id(), values)["id"]
        feet = _feet(random, 238.0 + 4 * place)
        for visit in range(VISITS):
            fitting = fittings.open_fitting(cx, who, athlete, new_id(), UTC)
            scene.earlier[fitting] = 240 - 60 * visit + place
            if not visit:
                scene.patch(who, fitting, "feet", feet)
            else:
                measured = {k: v + random.gauss(0, 0.4) if isinstance(v, float) else v for k, v in feet.items()}
                scene.patch(who, fitting, "feet", measured)
            scene.patch(who, fitting, "brief", brief_of(place + 5 * visit))
            for caution in load_fitting(cx, fitting).spec.cautions:
                if caution.must_acknowledge:
                    scene.patch(who, fitting, "spec", {f"acknowledged/{caution.rule}": True})
            on = load_fitting(cx, fitting)
            found = tried(cx, random, on, scene.truth)
            for pair in found:
                stock.pull(cx, who, on.row, pair.line["id"], on.keeps["shelf.hold_h"])
            scene.patch(who, fitting, "trial", {f"pairs/{p.line['id']}": p.trial for p in found})
            best = next((p for p in found if p.trial["verdict"] == "pass"), None)
            if best is None:
                cx.execute("UPDATE fitting SET state = 'returned' WHERE id = %s", [fitting])
                continue
            sell(cx, who, load_fitting(cx, fitting), best.line["id"], new_id())
            sales.book(cx, who, fitting, scene.today - timedelta(days=200 - 60 * visit))
            scene.patch(who, fitting, "return", seen_again(random, best, scene.truth))
            sales.finish(cx, who, fitting)


def _between_shops(cx: Cx, shops: dict[str, UUID], people: dict[str, Who]) -> None:
    """Pairs asked for from shop to shop: one asked of us, one on its way here, one held for us."""
    asked: list[UUID] = []
    wishes: tuple[tuple[str, str, tuple[orders.State, ...]], ...] = (
        ("sorrel", HARBOUR, ()), ("marrow", NORTH, ("held",)), ("marrow", NORTH, ("held", "sent")),
    )  # fmt: skip
    for who, giver, steps in wishes:
        cx.execute("RESET ROLE")
        row = cx.execute(
            "SELECT l.variant_id FROM stock_line l JOIN variant v ON v.id = l.variant_id WHERE l.shop_id = %s "
            "AND l.on_hand > 1 AND v.eu_label = 43 AND l.variant_id <> ALL(%s) ORDER BY l.id LIMIT 1",
            [shops[giver], asked],
        ).fetchone()
        if not row:
            continue
        asked.append(row["variant_id"])
        staff.act_as(cx, people[who])
        order = new_id()
        orders.ask(cx, people[who], order, row["variant_id"], shops[giver], None, "", {})
        cx.execute("RESET ROLE")
        staff.act_as(cx, people["sorrel"])
        for to in steps:
            orders.step(cx, people["sorrel"], order, new_id(), to)


def _back_date(cx: Cx) -> None:
    """What happened in one loading is spread over the days before: the newest fitting today, sales as planned."""
    cx.execute(
        "UPDATE sale SET sold_at = (f.due_on - 21)::timestamptz + interval '15 hours' FROM follow_up f "
        "WHERE f.fitting_id = sale.fitting_id"
    )
    cx.execute(
        "UPDATE pair SET bought_on = s.sold_at::date, begun_on = s.sold_at::date FROM sale s WHERE s.id = pair.sale_id"
    )
    cx.execute("UPDATE follow_up SET done_at = due_on::timestamptz + interval '11 hours' WHERE done_at IS NOT NULL")
    cx.execute(
        "UPDATE pair p SET told_on = least(u.due_on, current_date) FROM sale s "
        "JOIN follow_up u ON u.fitting_id = s.fitting_id WHERE s.id = p.sale_id AND p.told_h IS NOT NULL"
    )
    cx.execute(
        "UPDATE fitting SET opened_at = "
        "coalesce(s.sold_at - interval '40 minutes', now() - n.nth * interval '5 hours') "
        "FROM (SELECT id, row_number() OVER (ORDER BY id DESC) - 1 AS nth FROM fitting) n "
        "LEFT JOIN sale s ON s.fitting_id = n.id WHERE n.id = fitting.id"
    )
    cx.execute(
        "UPDATE fitting SET touched_at = "
        "greatest(f.opened_at, coalesce(u.done_at, f.opened_at)) + interval '35 minutes' "
        "FROM fitting f LEFT JOIN follow_up u ON u.fitting_id = f.id WHERE f.id = fitting.id"
    )
    cx.execute("UPDATE change SET at = f.touched_at FROM fitting f WHERE f.id = change.fitting_id")


def _stock(scene: _Scene, chain: UUID, shops: list[UUID]) -> None:
    """The chain's models, what is known of their insides, and what each shop has: the first all, others a part."""
    truth = Random(SEED + 1)  # noqa: S311
    for position, model in enumerate(models(Random(SEED))):  # noqa: S311
        model_id = new_id()
        catalogue.add_model(scene.cx, chain, model_id, model)
        for shop in shops:
            cost = round(model["price_minor"] * COST_SHARE) if len(model["maker"]) % 2 == 0 else None
            catalogue.set_price(scene.cx, shop, model_id, model["price_minor"], HOUSE.currency, cost)
        for line in model["lines"]:
            variant_id = new_id()
            scene.truth[variant_id] = tuple(line[m] for m in MEASURES)
            read = readings_of(truth, model["maker"], line)
            given = InnerIn(
                sport=model["sport"], build=model["build"], label=line["eu_label"], width=line["width"], readings=read
            )
            catalogue.add_variant(scene.cx, chain, variant_id, model_id, line["width"], line["eu_label"], given)
            for reading in read:
                scene.cx.execute(
                    "INSERT INTO shoe_reading (id, chain_id, variant_id, zone, mm, source, at) "
                    "VALUES (%s, %s, %s, %s, %s, %s, NULL)",
                    [new_id(), chain, variant_id, reading.zone, reading.mm, reading.source],
                )
            for nth, shop in enumerate(shops):
                if not nth or position % 6 == nth - 1 or (nth == 2 and position % 6 == 4):
                    _on_hand(scene, chain, shop, variant_id, line["on_hand"])


def _on_hand(scene: _Scene, chain: UUID, shop: UUID, variant: UUID, pairs: int) -> None:
    line_id = new_id()
    stock.add_line(scene.cx, shop, chain, line_id, variant)
    if pairs:
        scene.cx.execute(
            "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id, at) "
            "VALUES (%s, %s, 'there_before', %s, %s, NULL)",
            [shop, line_id, pairs, new_id()],
        )


def _north(scene: _Scene, who: Who) -> None:
    values = {"name": "Hale Norring", "born_on": date(1994, 5, 2), "squad": "Football, North Isle", "note": ""}
    athlete = athletes.add(scene.cx, who, new_id(), values)["id"]
    visit = fittings.open_fitting(scene.cx, who, athlete, new_id(), UTC)
    scene.patch(who, visit, "feet", _feet(Random(SEED + 1), 271.0))  # noqa: S311
    known.agree(scene.cx, who, athlete, new_id())


def _athlete(scene: _Scene, who: Who, person: Person) -> UUID:
    born = scene.today - timedelta(days=int(person.age * 365.25) + scene.random.randrange(300))
    values = {"name": person.name, "born_on": born, "squad": person.squad, "note": person.note}
    found: UUID = athletes.add(scene.cx, who, new_id(), values)["id"]
    return found


def _feet(random: Random, length: float) -> dict[str, Any]:
    girth = random.gauss(0.94, 0.025)
    instep = girth + random.gauss(0.02, 0.012)
    width = random.gauss(0.39, 0.012)
    heel = random.gauss(0.25, 0.007)
    apart = random.choice([0, 1, 1.5, 2, -1, -2, 5.5])
    shape = random.choice(["first_longest", "first_longest", "second_longest", "square"])
    sets: dict[str, Any] = {
        "sock": random.choice(["thin", "thin", "medium"]),
        "time_of_day": f"{random.randrange(8, 19):02}:{random.choice(['00', '15', '30', '45'])}",
    }
    for side, long in (("left", length), ("right", length - apart)):
        sets |= {
            f"{side}/length_mm": round(long, 1),
            f"{side}/ball_width_mm": round(long * width + random.gauss(0, 0.6), 1),
            f"{side}/ball_girth_mm": round(long * girth + random.gauss(0, 1.2), 1),
            f"{side}/instep_girth_mm": round(long * instep + random.gauss(0, 1.2), 1),
            f"{side}/heel_width_mm": round(long * heel + random.gauss(0, 0.5), 1),
            f"{side}/arch": random.choice(["low", "medium", "medium", "high"]),
            f"{side}/toe_shape": shape,
        }
    if random.random() < 0.15:
        sets["left/bunion"] = True
    return sets


CAPTURED: dict[str, tuple[Literal["stl", "png", "csv"], ...]] = {
    "Wren Halloway-Tisk": ("stl", "csv"),
    "Tavi Umber": ("png",),
}
"""Whose feet were captured by the practice devices, and with which."""
GAUGED = ("Mirre Ansgate", "Kester Vane")
"""Whose feet only the gauge has seen: length and ball width."""
GIRTHS = ("ball_girth_mm", "instep_girth_mm", "heel_width_mm")


def _capture(scene: _Scene, who: Who, fitting: UUID, person: Person) -> None:
    """Both feet of a made-up person of that length, through the practice devices."""
    for side in SIDES:
        base = dims_of(len(person.name), side)
        grown = person.length_mm / base.length_mm
        dims = replace(base, **{n: getattr(base, n) * grown for n in SCALED})
        for what in CAPTURED[person.name]:
            data = make_of(what, dims, len(person.name))
            for found in measure(data, f"practice.{what}", Said(side=side)):
                captures.add(scene.cx, who, fitting, new_id(), f"practice {side}.{what}", found, practice=True)


def _earlier(scene: _Scene, who: Who, athlete: UUID, person: Person, feet: dict[str, Any]) -> None:
    """What a junior's feet measured at visits before, shorter by what they have grown since."""
    for months in (9, 4):
        visit = fittings.open_fitting(scene.cx, who, athlete, new_id(), UTC)
        grown = 0.7 * months + scene.random.gauss(0, 0.4)
        sets = {k: v for k, v in feet.items() if not k.endswith("_mm")}
        sets |= {k: round(v * (1 - grown / person.length_mm), 1) for k, v in feet.items() if k.endswith("_mm")}
        scene.patch(who, visit, "feet", sets)
        scene.earlier[visit] = 30 * months


def _fitting(scene: _Scene, who: Who, athlete: UUID, person: Person, state: str, index: int) -> None:
    cx, random = scene.cx, scene.random
    feet = _feet(random, person.length_mm)
    if person.age < 18 and person.sport == "football":
        _earlier(scene, who, athlete, person, feet)
    fitting = fittings.open_fitting(cx, who, athlete, new_id(), UTC)
    if person.name in GAUGED:
        feet = {k: v for k, v in feet.items() if not k.endswith(GIRTHS)}
    if person.name in CAPTURED:
        _capture(scene, who, fitting, person)
        feet = {k: v for k, v in feet.items() if "/" not in k or "png" in CAPTURED[person.name]}
    if state == "feet":
        scene.patch(who, fitting, "feet", {k: v for k, v in feet.items() if k.startswith("left")})
        return
    scene.patch(who, fitting, "feet", feet)
    asked: dict[str, object] = {"level": "club", "sessions_per_week": 2, "history": []}
    brief = asked | {k: v for k, v in person.brief.items() if k != "event_in"} | {"body_kg": person.body_kg}
    if event_in := person.brief.get("event_in"):
        brief["event_on"] = (scene.today + timedelta(days=int(str(event_in)))).isoformat()
    if state == "brief":
        scene.patch(who, fitting, "brief", {"sport": person.sport, "discipline": brief["discipline"]})
        return
    scene.patch(who, fitting, "brief", brief)
    for caution in load_fitting(cx, fitting).spec.cautions:
        if caution.must_acknowledge and state != "spec":
            scene.patch(who, fitting, "spec", {f"acknowledged/{caution.rule}": True})
    if state in ("spec", "pull"):
        return
    on = load_fitting(cx, fitting)
    shoes, shelf = learned.on_shelf(cx, 0, *shelves.shelf(cx, person.sport))
    best = [UUID(p.line_id) for p in rank(shoes, shelf, on.spec, on.foot).places[:3]]
    for line in best:
        stock.pull(cx, who, on.row, line, on.keeps["shelf.hold_h"])
    scene.patch(
        who, fitting, "trial",
        {
            f"pairs/{best[0]}/tests": {"stand": "pass", "walk": "pass"},
            f"pairs/{best[1]}/pinches": {"right:outer_ball": 1},
            f"pairs/{best[1]}/verdict": "fail",
        },
    )  # fmt: skip
    if state == "trial":
        return
    scene.patch(who, fitting, "trial", {f"pairs/{best[0]}/verdict": "pass"})
    ago = timedelta(days={"settled": 2, "due": 20, "returned": 45}[state] + index % 5)
    scene.patch(who, fitting, "settle", {"start_on": (scene.today - ago).isoformat()})
    sell(cx, who, load_fitting(cx, fitting), best[0], new_id())
    due = scene.today - ago + timedelta(days=21)
    sales.book(cx, who, fitting, due)
    if state == "returned":
        _return(scene, who, fitting)


def _return(scene: _Scene, who: Who, fitting: UUID) -> None:
    """Seen at the follow-up: near what was predicted, and a little off."""
    kept = load_fitting(scene.cx, fitting).kept
    assert kept  # it was just sold
    sets: dict[str, Any] = {"hours": float(scene.random.randrange(12, 40))}
    for zone in kept["settled"]["size"]["zones"]:
        sets[f"{zone['zone']}_mm"] = round(zone["settled_mm"] + scene.random.gauss(0.4, 1.4), 1)
    scene.patch(who, fitting, "return", sets)
    sales.finish(scene.cx, who, fitting)
