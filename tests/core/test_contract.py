"""Parts by path, the table of computations, and errors in words."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import BaseModel, Field

from kalon.core.calc import TABLE, call
from kalon.core.errors import BadInput, NotFound, bad_field, read, sentence, unit_of, words_of
from kalon.core.parts import PARTS, check_part, get_path, overlap, with_path
from tests.made import FEET, football

KEYS = st.text("abc.:_", min_size=1, max_size=4)
PATHS = st.lists(KEYS, min_size=1, max_size=3).map("/".join)


@given(path=PATHS, value=st.integers(), body=st.dictionaries(KEYS, st.integers(), max_size=3))
def test_a_value_set_at_a_path_is_found_there(path: str, value: int, body: dict[str, Any]) -> None:
    before = dict(body)
    assert get_path(with_path(body, path, value), path) == value
    assert body == before


@given(path=PATHS, value=st.integers())
def test_none_takes_a_key_out(path: str, value: int) -> None:
    assert get_path(with_path(with_path({}, path, value), path, None), path) is None


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [
        ("left/length_mm", "left/length_mm", True),
        ("left", "left/length_mm", True),
        ("left/length_mm", "right/length_mm", False),
        ("schools", "sport", False),
        ("pairs/x/tests", "pairs/x/tests/stand", True),
        ("length", "length_mm", False),
    ],
)
def test_overlap(one: str, other: str, same: bool) -> None:
    assert overlap(one, other) is same
    assert overlap(other, one) is same


@pytest.mark.parametrize("part", list(PARTS))
def test_every_part_may_be_empty(part: str) -> None:
    check_part(part, {})


@pytest.mark.parametrize(
    ("part", "body", "field"),
    [
        ("feet", {"left": {"length_mm": 20}}, "left.length_mm"),
        ("feet", {"nose": 3}, "nose"),
        ("brief", {"sport": "chess"}, "sport"),
        ("brief", {"event_on": "soon"}, "event_on"),
        ("trial", {"pairs": {"x": {"pinches": {"left:ball": 4}}}}, "pairs.x.pinches.left:ball"),
        ("trial", {"pairs": {"x": {"pinches": {"tail": 1}}}}, "pairs.x.pinches"),
        ("settle", {"weekdays": [8]}, "weekdays.0"),
        ("return", {"hours": -1}, "hours"),
        ("spec", {"acknowledged": {"a": False}}, "acknowledged.a"),
    ],
)
def test_an_impossible_part_names_the_field(part: str, body: dict[str, Any], field: str) -> None:
    with pytest.raises(BadInput) as caught:
        check_part(part, body)
    assert field in [f.field for f in caught.value.fields]


def test_calc_names_and_contracts() -> None:
    for name, calc in TABLE.items():
        assert name == calc.name
        assert issubclass(calc.takes, BaseModel)
        assert calc.summary.endswith(".")
        assert name == name.lower()
    assert {"size-convert", "stretch", "spec", "squat", "edge", "size-recommend", "breakin"} <= set(TABLE)


EXAMPLES: dict[str, dict[str, Any]] = {
    "size-convert": {"system": "eu", "label": 42},
    "stretch": {"upper": "knit", "build": "slip", "zone": "length", "interference_mm": 2, "inner_mm": 250},
    "spec": football().model_dump(mode="json"),
    "edge": {"body_kg": 70, "foot_mm": 260, "edge_mm": 10, "stance_min": 2},
    "feet-check": FEET.model_dump(mode="json"),
    "squat": {"stature_mm": 1750, "body_kg": 75, "dorsiflexion_deg": 30},
    "breakin": {"upper": "knit", "build": "slip", "interference_mm": 2, "start_on": "2026-03-02"},
}


@pytest.mark.parametrize("name", list(EXAMPLES))
def test_calls_take_and_give_plain_json(name: str) -> None:
    answer = call(name, json.loads(json.dumps(EXAMPLES[name])))
    assert json.loads(json.dumps(answer, allow_nan=False)) == answer


@pytest.mark.parametrize("name", list(TABLE))
@pytest.mark.parametrize("rubbish", [None, [], 3, "x", {"zzz": 1}, {}])
def test_rubbish_is_refused_in_words(name: str, rubbish: Any) -> None:
    if name == "feet-check" and rubbish == {}:
        return
    with pytest.raises(BadInput) as caught:
        call(name, rubbish)
    problem = caught.value.as_problem()
    assert problem["status"] == 422
    assert problem["title"].endswith(".")


def test_an_unknown_computation_names_the_known_ones() -> None:
    with pytest.raises(NotFound, match="size-convert"):
        call("alchemy", {})


@pytest.mark.parametrize(
    ("field", "unit", "words"),
    [
        ("length_mm", "mm", "Length"),
        ("demand_n_m", "N·m", "Demand"),
        ("load_n", "N", "Load"),
        ("left.body_kg", "kg", "Body"),
        ("angle_deg", "°", "Angle"),
        ("properties.mass_g", "g", "Mass"),
        ("properties.bend_n_mm_per_deg", "N·mm/°", "Bend"),
        ("said.spots.0.height_mm", "mm", "Height"),
        ("said.spots.0.long", "mm", "Long"),
        ("corners.3.1", "", "Corners"),
        ("name", "", "Name"),
        ("", "", ""),
    ],
)
def test_units_and_words_come_from_the_field_name(field: str, unit: str, words: str) -> None:
    assert (unit_of(field), words_of(field)) == (unit, words)


def test_a_refusals_title_names_its_field_in_words() -> None:
    class Sole(BaseModel):
        length_mm: float = Field(le=420)

    with pytest.raises(BadInput) as caught:
        read(Sole, {"length_mm": 900}, "said")
    assert caught.value.as_problem()["title"] == "Length: Must be at most 420 mm."
    assert caught.value.as_problem()["fields"][0]["field"] == "said.length_mm"


@pytest.mark.parametrize(
    ("kind", "context", "said"),
    [
        ("missing", {}, "This is needed."),
        ("greater_than_equal", {"ge": 3}, "Must be at least 3 mm."),
        ("greater_than", {"gt": 3}, "Must be more than 3 mm."),
        ("less_than_equal", {"le": 3}, "Must be at most 3 mm."),
        ("less_than", {"lt": 3}, "Must be less than 3 mm."),
        ("float_parsing", {}, "Must be a number in mm."),
        ("extra_forbidden", {}, "There is no such field."),
        ("other", {}, "As said."),
    ],
)
def test_findings_in_a_fitters_words(kind: str, context: dict[str, Any], said: str) -> None:
    assert sentence("length_mm", kind, context, "As said") == said


def test_a_problem_document_has_the_members_of_rfc_9457() -> None:
    """Published: RFC 9457 names type, title and status."""
    found = bad_field("length_mm", "low", "Too short.").as_problem()
    assert found["type"].startswith("urn:")
    assert (found["title"], found["status"]) == ("Too short.", 422)
    assert found["fields"] == [{"field": "length_mm", "code": "low", "text": "Too short."}]
