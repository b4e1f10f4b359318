"""What is remembered: the last asked for, nothing that failed, nothing of another make, nothing once it is forgotten."""

from __future__ import annotations

import threading

import pytest

from kalon.core.feet.gauge import Norms
from kalon.core.house import HOUSE
from kalon.core.remembered import Remembered, forget_all, key_of
from kalon.core.rules.concerns import Heard
from kalon.core.rules.engine import Case
from kalon.core.rules.hand import HandWeight
from kalon.store.bench import _key
from tests.made import FEET, football


def test_only_so_many_are_kept_and_those_last_asked_for() -> None:
    kept: Remembered[str] = Remembered(2)
    kept.of("a", lambda: "first")
    kept.of("b", lambda: "second")
    kept.of("a", lambda: "never made")
    kept.of("c", lambda: "third")
    assert [kept.known(k) for k in "abc"] == ["first", None, "third"]
    kept.forget("a")
    kept.forget("a")
    assert kept.known("a") is None
    forget_all()
    assert kept.known("c") is None


def test_what_fails_is_asked_for_again() -> None:
    kept: Remembered[int] = Remembered(5)
    with pytest.raises(ZeroDivisionError):
        kept.of("x", lambda: 1 // 0)
    assert kept.of("x", lambda: 7) == 7


def test_many_at_once_all_get_it() -> None:
    kept: Remembered[int] = Remembered(50)
    found: list[int] = []
    threads = [threading.Thread(target=lambda n=n: found.append(kept.of(n % 5, lambda: n % 5))) for n in range(40)]  # type: ignore[misc]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(found) == sorted(n % 5 for n in range(40))


def test_whatever_a_spec_is_made_of_makes_another_key() -> None:
    """Every input of `Case` that rules look at, and the weights moved by hand; a field added to it has to be here too."""
    case = Case(football(), FEET, HOUSE)
    other = {
        "brief": football(body_kg=61.5),
        "feet": FEET.model_copy(update={"note": "tingling toes"}),
        "house": HOUSE.model_copy(update={"schools": {"football_fit": "roomy"}}),
        "norms": {name: (value[0] + 1, value[1]) for name, value in _norms().items()},
        "heard": (Heard(where="on the athlete's page", note="diabetic", now=True),),
        "age_years": 12.0,
    }
    assert set(other) | {"on_surfaces"} == set(Case.__dataclass_fields__), (
        "the grounds come from the brief's disciplines"
    )
    plain = Case(**{"brief": case.brief, "feet": case.feet, "house": case.house, "norms": _norms()})
    keys = {_key(plain, {})}
    for name, value in other.items():
        given = {f: getattr(plain, f) for f in other} | {name: value}
        keys.add(_key(Case(**given), {}))
    moved = {"mass_g": HandWeight(to=2.0, why="tried")}
    keys |= {_key(plain, moved), _key(plain, {"mass_g": HandWeight(to=2.5, why="tried")}),
             _key(plain, {"grip": moved["mass_g"]})}  # fmt: skip
    assert len(keys) == len(other) + 4
    assert _key(Case(**{f: getattr(plain, f) for f in other}), {}) == _key(plain, {})


def test_parts_of_a_key_dont_run_into_each_other() -> None:
    assert key_of("ab", "c") != key_of("a", "bc")
    assert key_of(("a", "b")) != key_of("a", "b")


def _norms() -> Norms:
    return {"ball_width_mm": (0.39, 0.015)}
