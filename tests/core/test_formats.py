"""Stored bodies of every earlier format are read by this version: the examples stand in `formats/`, never changed."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any, get_args

import pytest

from kalon.core.care.breakin import BreakInOut
from kalon.core.care.lives import LivesOut
from kalon.core.care.seen import WearSeenIn
from kalon.core.feet.gauge import Feet
from kalon.core.feet.measures import Reading
from kalon.core.fit.size import SizeFit
from kalon.core.formats import STEPS, Kind, TooNew, brought_up, newest
from kalon.core.house import House, TaxOn
from kalon.core.learn.evidence import TrialEvidence
from kalon.core.parts import PARTS
from kalon.core.rules.brief import Brief
from kalon.core.rules.engine import Spec
from kalon.core.shoes.pictured import Pictured
from kalon.core.takings.sums import Sums
from kalon.store.plans import PlanBody

EXAMPLES = sorted((Path(__file__).parent / "formats").glob("*.json"))


def read_sale(body: dict[str, Any]) -> None:
    settled = body["settled"]
    Feet.model_validate(body["feet"])
    Brief.model_validate(body["brief"])
    Spec.model_validate(body["spec"])
    House.model_validate(body["house"])
    SizeFit.model_validate(settled["size"])
    BreakInOut.model_validate(settled["plan"])
    if settled["tax"]:
        TaxOn.model_validate(settled["tax"])
    assert body["pair"]["maker"]


READERS: dict[str, Any] = {name: model.model_validate for name, model in PARTS.items()} | {
    "house": House.model_validate,
    "reading": Reading.model_validate,
    "sale": read_sale,
    "seen": lambda body: WearSeenIn(sport="football", seen=body),
    "lives": LivesOut.model_validate,
    "plan": PlanBody.model_validate,
    "pictured": Pictured.model_validate,
    "evidence": TrialEvidence.model_validate,
    "day": Sums.model_validate,
}


@pytest.mark.parametrize("file", EXAMPLES, ids=lambda f: f.stem)
def test_a_stored_example_is_brought_up_and_read(file: Path) -> None:
    kind, _, number = file.stem.rpartition("-")
    body = json.loads(file.read_text(encoding="utf-8"))
    READERS[kind](brought_up(kind, body, int(number)))  # type: ignore[arg-type]


def test_there_is_an_example_of_every_format_ever_written() -> None:
    wanted = {f"{kind}-{n}" for kind in get_args(Kind) for n in range(1, newest(kind) + 1)}
    assert {f.stem for f in EXAMPLES} == wanted
    assert set(STEPS) == set(get_args(Kind)) == set(READERS)


def test_the_first_sales_money_and_judging_are_carried_over() -> None:
    body = json.loads((EXAMPLES[0].parent / "sale-1.json").read_text(encoding="utf-8"))
    found = brought_up("sale", body, 1)
    was, now = body["settled"]["tax"], found["settled"]["tax"]
    assert (now["tax_minor"], now["total_minor"], now["currency"]) == (was["tax_cents"], was["total_cents"], "EUR")
    judged = {z["zone"]: z["judged_new"] for z in found["settled"]["size"]["zones"]}
    assert judged == {"length": True, "ball_girth": False, "instep_girth": False, "heel_width": False}


def test_a_body_of_a_newer_version_is_refused() -> None:
    with pytest.raises(TooNew):
        brought_up("feet", {}, newest("feet") + 1)
