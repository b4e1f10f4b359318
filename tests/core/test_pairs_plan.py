"""The plan of pairs around the exact choice; the day in words; squads' lists; what a pair gives up."""

from __future__ import annotations

import itertools
import math
from datetime import date, timedelta
from random import Random
from typing import Any

import pytest

from kalon.core.care.breakin import BreakInIn, ZonePress, breakin, by_zone
from kalon.core.care.day import KINDS, day_place, day_text, when
from kalon.core.match.gives import in_a_word, older
from kalon.core.match.judged import judge
from kalon.core.match.plain import OFF, WITHOUT, having, lacks, means
from kalon.core.match.plan import EASY, PERFORMS, PlanIn, PlanNeed, PlanOffer, PlanOwned, plan_of_pairs
from kalon.core.match.shelf import Shoe
from kalon.core.money import Money
from kalon.core.rules.scales import PROPERTIES
from kalon.core.rules.spec import spec_for
from kalon.core.rules.words import SPORTS
from kalon.core.sheets.people import birth_dates, day, people, shown_order, two_ways
from kalon.core.shoes.anatomy import FEATURES
from tests.made import climbing

TODAY = date(2026, 11, 27)


def need(id_: str, share: float, use: str = "football", **more: object) -> PlanNeed:
    usual = {"name": id_, "sport": "football", "discipline": "match", "hours_per_week": 3.0}
    return PlanNeed(id=id_, share=share, use=use, **(usual | more))  # type: ignore[arg-type]


def offer(id_: str, price: float, last: str = "", **scores: float) -> PlanOffer:
    return PlanOffer(id=id_, name=id_.upper(), price=price, scores=scores, last=last)


def test_the_plan_is_as_good_as_trying_every_choice() -> None:
    random = Random(2)
    for _ in range(60):
        needs = [need(f"n{i}", 1 / 3) for i in range(3)]
        offers = [
            offer(f"o{i}", random.randrange(20, 120), **{f"n{j}": random.random() for j in range(3)}) for i in range(6)
        ]
        owned = [PlanOwned(id="p", name="P", scores={"n0": random.random()})]
        budget = random.randrange(0, 250)
        found = plan_of_pairs(PlanIn(needs=needs, owned=owned, offers=offers, budget=budget, curve=False))
        best = 0.0
        for some in itertools.chain.from_iterable(itertools.combinations(offers, k) for k in range(4)):
            if sum(o.price for o in some) > budget:
                continue
            value = sum(
                n.share * max((s for p in (*owned, *some) if (s := p.scores.get(n.id, 0)) >= 0.5), default=0)
                for n in needs
            )
            best = max(best, value)
        assert found.value == pytest.approx(best, abs=1e-6)
        assert found.spent <= budget + 1e-6


def test_a_pair_near_its_end_counts_for_what_it_lasts() -> None:
    needs = [need("play", 1.0)]
    new = [offer("new", 90, play=0.9)]
    full = plan_of_pairs(PlanIn(needs=needs, owned=[PlanOwned(id="p", name="P", scores={"play": 0.85}, left_h=60)],
                                offers=new, budget=100))  # fmt: skip
    worn = plan_of_pairs(PlanIn(needs=needs, owned=[PlanOwned(id="p", name="P", scores={"play": 0.85}, left_h=8)],
                                offers=new, budget=100))  # fmt: skip
    assert full.value_now == pytest.approx(0.85)
    assert worn.value_now == 0
    assert [b.id for b in worn.buy] == ["new"]
    assert worn.covers[0].kind == "buy"


def test_what_if_a_pair_is_left_out_or_taken_as_bought() -> None:
    needs = [need("grass", 0.6), need("hall", 0.4)]
    owned = [PlanOwned(id="old", name="Old", scores={"grass": 0.9})]
    offers = [offer("hall", 60, hall=0.9), offer("both", 150, grass=0.8, hall=0.8)]
    usual = PlanIn(needs=needs, owned=owned, offers=offers, budget=150)
    assert [b.id for b in plan_of_pairs(usual).buy] == ["hall"]
    without = plan_of_pairs(usual.model_copy(update={"drop": ["old"]}))
    assert [b.id for b in without.buy] == ["both"]
    bought = plan_of_pairs(usual.model_copy(update={"bought": ["hall"], "budget": 100.0}))
    assert bought.buy == []
    assert {c.name: c.pair for c in bought.covers} == {"grass": "old", "hall": "hall"}


def test_the_next_step_of_money_is_named_and_the_curve_never_falls() -> None:
    needs = [need("a", 0.5), need("b", 0.5)]
    found = plan_of_pairs(PlanIn(needs=needs, offers=[offer("x", 50, a=0.9), offer("y", 90, b=0.9)], budget=80))
    assert [b.id for b in found.buy] == ["x"]
    assert found.uncovered == ["b"]
    assert found.next_step is not None
    assert found.next_step.budget == pytest.approx(140)
    assert found.next_step.buys == ["X", "Y"]
    values = [p.value for p in found.curve]
    assert values == sorted(values)


def test_the_trade_orders_the_gym() -> None:
    """Common practice: mixed training first, then lifters, then running."""
    of = {"run": "running", "lift": "lifting", "mixed": "mixed"}
    needs = [need(n, 1 / 3, use) for n, use in of.items()]
    offers = [offer(f"{n}_shoe", 80, **{n: 0.9}) for n in of]
    found = plan_of_pairs(PlanIn(needs=needs, offers=offers, budget=400))
    assert [b.id for b in found.buy] == ["mixed_shoe", "lift_shoe", "run_shoe"]
    assert any("mixed training shoes first" in s for s in found.says)


def test_a_comfortable_pair_stands_beside_the_performance_pair() -> None:
    climbs = {"sport": "climbing", "use": "climbing"}
    needs = [need("steep", 0.5, discipline="steep_sport", **climbs), need("miles", 0.5, discipline="mileage", **climbs)]
    one = plan_of_pairs(PlanIn(needs=needs, offers=[offer("one", 90, steep=0.8, miles=0.7)], budget=100))
    assert any("comfortable pair beside" in s for s in one.says)
    two = plan_of_pairs(PlanIn(needs=needs, offers=[offer("s", 90, steep=0.9), offer("m", 90, miles=0.9)], budget=200))
    assert not any("comfortable pair beside" in s for s in two.says)


def test_the_disciplines_the_trade_speaks_of_are_there() -> None:
    known = {d.value for d in SPORTS["climbing"].disciplines}
    assert {*PERFORMS, *EASY} <= known
    assert not set(PERFORMS) & set(EASY)


def test_one_last_on_several_plates_is_pointed_out() -> None:
    needs = [need("grass", 0.5), need("turf", 0.5)]
    owned = [PlanOwned(id="p", name="Kestrel Firm", scores={"grass": 0.9}, last="Kestrel: swift")]
    found = plan_of_pairs(
        PlanIn(needs=needs, owned=owned, offers=[offer("t", 70, last="Kestrel: swift", turf=0.9)], budget=100)
    )
    assert any("stands on the same last as Kestrel Firm" in s for s in found.says)


def test_one_good_pair_or_cheap_ones_in_a_row() -> None:
    found = plan_of_pairs(
        PlanIn(needs=[need("a", 1.0)], offers=[offer("dear", 120, a=0.95), offer("cheap", 40, a=0.6)], budget=200)
    )
    assert [b.id for b in found.buy] == ["dear"]
    assert any(s.startswith("DEAR or CHEAP again and again") for s in found.says)


# --- the day


DETAILS: dict[str, dict[str, object]] = {
    "follow_up": {"fitting": "f", "pair": "Orvane Tern", "size": 42.0},
    "arrival": {"order": "o", "fitting": "f", "pair": "Orvane Tern", "size": 42.5},
    "transfer": {"order": "o", "state": "held", "ours": True, "pair": "Orvane Tern", "size": None},
    "ready": {"pair_id": "p", "pair": "Orvane Tern", "size": 42.0},
    "event": {"pair_id": "p", "fitting": "f", "pair": "Orvane Tern", "ready_on": "2026-12-05"},
    "junior": {"athlete": "a", "squad": "U13", "measured_on": "2026-05-01"},
    "wear": {"pair_id": "p", "pair": "Orvane Tern", "size": 42.0, "worn_h": 60.0, "median_h": 100.0},
    "open": {"fitting": "f", "sport": "football", "event_on": "2026-12-03", "station": "trial"},
    "gap": {"line": "l", "model": "m", "pair": "Orvane Tern", "size": 42.0, "sold": 2},
}


@pytest.mark.parametrize("kind", list(KINDS))
def test_every_matter_is_a_sentence_and_opens_its_place(kind: str) -> None:
    text = day_text(kind, DETAILS[kind])  # type: ignore[arg-type]
    assert text.endswith((".", "?"))
    assert "None" not in text
    assert day_place(kind, DETAILS[kind]).startswith("/")  # type: ignore[arg-type]


def test_what_the_day_says() -> None:
    assert day_text("wear", DETAILS["wear"]) == "Orvane Tern EU 42: about 40 h left. Look at it."
    assert day_text("wear", DETAILS["wear"] | {"box": "UK 8½"}).startswith("Orvane Tern UK 8½: ")
    thirds = {"pair": "Velmire Fir", "size": 45.5, "system": "eu", "label": 45.333}
    assert day_text("follow_up", thirds) == "Velmire Fir EU 45⅓: how has it settled?"
    assert day_text("follow_up", thirds | {"system": None, "label": None}).startswith("Velmire Fir EU 45.5: ")
    assert "near its end" in day_text("wear", DETAILS["wear"] | {"worn_h": 120.0})
    assert day_text("event", DETAILS["event"]) == "Orvane Tern won't be ready before 5 December: the old pair plays."
    assert day_text("open", DETAILS["open"]) == "Football, event on 3 December: waits at Trial."
    assert day_place("gap", DETAILS["gap"]) == "/stockroom?find=Orvane+Tern"


@pytest.mark.parametrize(
    ("kind", "days", "said", "late"),
    [
        ("follow_up", -1, "a day late", True), ("follow_up", -12, "12 days late", True), ("wear", 0, "today", False),
        ("junior", 1, "tomorrow", False), ("event", 9, "in 9 days", False), ("ready", -1, "yesterday", False),
        ("ready", 3, "in 3 days", False), ("open", -4, "4 days ago", False), ("transfer", 2, "today", False),
        ("gap", -1, "yesterday", False), ("arrival", -2, "2 days ago", False),
    ],
)  # fmt: skip
def test_what_is_due_is_late_and_what_began_is_so_many_days_old(kind: Any, days: int, said: str, late: bool) -> None:
    assert when(kind, TODAY + timedelta(days=days), TODAY) == (said, late)


def test_a_calendar_holds_what_has_a_day_and_the_line_of_days_what_one_looks_at() -> None:
    assert {k for k, of in KINDS.items() if not of.in_calendar} == {"transfer", "open", "gap"}
    assert {k for k, of in KINDS.items() if of.drawn == "see"} == {"follow_up"}
    assert all(of.timed != "since" for of in KINDS.values() if of.drawn != "none")


# --- lists of names


@pytest.mark.parametrize(("text", "want"), [
    ("2011-05-30", date(2011, 5, 30)), ("30.5.2011", date(2011, 5, 30)), ("30/05/2011", date(2011, 5, 30)),
    ("2011-05-30 00:00:00", date(2011, 5, 30)),
])  # fmt: skip
def test_birth_dates_as_people_write_them(text: str, want: date) -> None:
    assert day(text, TODAY) == want


@pytest.mark.parametrize("text", ["yesterday", "2031-01-01", "31.2.2010", "5/30/2011", "1850-01-01"])
def test_what_is_no_birth_date_is_refused(text: str) -> None:
    with pytest.raises(ValueError, match=r"day|birth"):
        day(text, TODAY)


def test_a_date_with_slashes_is_read_by_the_order_given() -> None:
    assert day("12/03/2004", TODAY) == date(2004, 3, 12)
    assert day("12/03/2004", TODAY, "mdy") == date(2004, 12, 3)
    # Dots are day first everywhere; common practice, no source.
    assert day("12.03.2004", TODAY, "mdy") == date(2004, 3, 12)


@pytest.mark.parametrize(("dates", "order", "asked"), [
    (["12/03/2004", "25/12/2005"], "dmy", "12/03/2004"),
    (["12/03/2004", "12/25/2005"], "mdy", "12/03/2004"),
    (["12/03/2004", "", "2005-01-02"], None, "12/03/2004"),
    (["25/12/2005", "12/25/2005"], None, None),
    (["03/03/2004", "2005-01-02"], None, None),
    ([], None, None),
])  # fmt: skip
def test_a_list_shows_its_own_order_or_is_asked_about(dates: list[str], order: str | None, asked: str | None) -> None:
    rows = [(n, [f"Ann {n}", text]) for n, text in enumerate(dates)]
    found = birth_dates(["name", "born"], rows)
    assert (shown_order(found), two_ways(found)) == (order, asked)


def test_every_line_of_a_list_is_judged() -> None:
    rows = [(2, ["Ada", "Quill", "2012-03-04", "left-footed"]), (3, ["", "", "", ""]), (4, ["Ada", "Quill", "", ""]),
            (5, ["", "", "2012-01-01", ""]), (6, ["Bo", "Tarn", "soon", ""]), (7, ["Cy", "Vale", "", ""])]  # fmt: skip
    found = people(["First name", "Surname", "DOB", "Notes"], rows, "Under 15", TODAY)
    assert [(p.row, p.verdict, p.name) for p in found] == [
        (2, "new", "Ada Quill"), (4, "refused", "Ada Quill"), (5, "refused", ""), (6, "refused", "Bo Tarn"),
        (7, "new", "Cy Vale"),
    ]  # fmt: skip
    assert (found[0].born_on, found[0].squad, found[0].note) == (date(2012, 3, 4), "Under 15", "left-footed")
    assert "line 2 already" in found[1].said


def test_a_bare_list_of_names_and_a_squad_of_its_own() -> None:
    bare = people(["name"], [(1, ["Ada Quill"]), (2, ["Bo  Tarn"])], "U15", TODAY)
    assert [p.name for p in bare] == ["Ada Quill", "Bo Tarn"]
    own = people(["Player", "Team"], [(2, ["Ada Quill", "U13"]), (3, ["Bo Tarn", ""])], "U15", TODAY)
    assert [p.squad for p in own] == ["U13", "U15"]


# --- what it gives up


def test_what_a_pair_gives_up_in_one_sentence() -> None:
    wanted = spec_for(climbing("indoor_boulder"))
    flat = Shoe("f", "climbing", "leather_lined", "slip", 0.0, {"downturn_deg": 2, "cushion": 2.0},
                {"closure": "laces"}, features={"toe_patch": False, "wrap_heel": True})  # fmt: skip
    found = in_a_word(judge(flat, wanted))
    assert found == (
        "It has laces where one strap would be better, has no rubber over the toes and is flatter than wanted; as wanted in a "
        "heel wrapped round."
    )
    hooked = Shoe("h", "climbing", "synthetic", "slip", 0.0, {"downturn_deg": 10}, {"closure": "strap_1"})
    assert in_a_word(judge(hooked, wanted)) == "It gives up next to nothing of what was wanted."


@pytest.mark.parametrize("wish", ["want", "avoid"])
def test_every_feature_is_said_as_it_is_had_or_lacked_and_what_that_means(wish: Any) -> None:
    assert set(WITHOUT) == set(FEATURES)
    assert set(OFF) == set(PROPERTIES)
    for name in FEATURES:
        for said in (having(name), lacks(name, wish), means(name, wish)):
            assert said[0].islower()
            assert not said.endswith(".")
            assert "it has none" not in said


def test_an_older_model_on_the_same_last_is_named_when_it_costs_much_less() -> None:
    new = Shoe("n", "football", "synthetic", "plate", 0.0, {"mass_g": 200.0}, {"closure": "laces"}, Money(12000, "EUR"))
    old = Shoe("o", "football", "synthetic", "plate", 0.0, {"mass_g": 260.0}, {"closure": "laces"}, Money(6000, "EUR"))
    found = older(old, "Orvane Tern One", "line", new)
    assert found is not None
    assert found.text.startswith("Same last, so it fits the same, at 50% of the price. What differs: Mass of one shoe")
    assert older(Shoe("o", "football", "synthetic", "plate", 0.0, {}, {}, Money(11000, "EUR")), "X", "l", new) is None
    assert (found.price_minor, found.currency) == (6000, "EUR")


# --- the old pair


def test_playing_the_old_pair_is_said_honestly() -> None:
    soon = breakin(BreakInIn(upper="leather_lined", build="plate", interference_mm=8, start_on=TODAY,
                             event_on=date(2026, 12, 2), sport="football"))  # fmt: skip
    assert not soon.in_time
    assert "play the event in the old one" in soon.old_pair
    assert "press by up to 8 mm" in soon.old_pair
    tomorrow = breakin(BreakInIn(upper="synthetic", build="plate", interference_mm=1, start_on=TODAY, event_on=TODAY))
    assert "not worn once" in tomorrow.old_pair
    later = breakin(BreakInIn(upper="synthetic", build="plate", interference_mm=1, start_on=TODAY,
                              event_on=date(2027, 3, 1)))  # fmt: skip
    assert later.old_pair == ""


def test_each_zone_comes_right_on_its_own_day() -> None:
    plan = breakin(BreakInIn(upper="leather_unlined", build="slip", interference_mm=10, start_on=TODAY))
    zones = [
        ZonePress(zone="ball_girth", new_mm=-12, settled_mm=-2, low_mm=-8),
        ZonePress(zone="instep_girth", new_mm=-12, settled_mm=-2, low_mm=-4),
        ZonePress(zone="heel_width", new_mm=-4, settled_mm=-3, low_mm=-2),
        ZonePress(zone="length", new_mm=2, settled_mm=3, low_mm=0),
    ]
    ball, instep, heel = by_zone(zones, 5.0, plan.wears)
    assert ball.hours is not None
    assert instep.hours is not None
    assert ball.hours == pytest.approx(-5 * math.log(1 - 4 / 10))
    assert ball.hours < instep.hours
    assert ball.on is not None
    assert instep.on is not None
    assert ball.on <= instep.on
    assert (heel.hours, heel.text) == (None, "Heel: stays 1 mm tighter than wanted, worn in or not.")
