"""What couldn't be asked for until a sport was a value: each discipline by five briefs, and what must come.

Lines are those of the law table; directions from memory (netball to throws), numbers house defaults.
"""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from kalon.core.errors import BadInput
from kalon.core.rules.brief import Brief, BriefDraft, complete, still_to_ask
from kalon.core.rules.spec import spec_for, spec_of
from kalon.core.sports.every import EVERY, SPORTS, check_sports
from tests.core.law import case_of, holds

FIVE: dict[str, tuple[tuple[str, str], ...]] = {
    "court netball": (
        ("", "want lateral_guard 0.6; low cushion >= 2.4; first sole gum_court"), ("body_kg=48", "low cushion >= 2.4"),
        ("history=ankle", "low heel_counter >= 7"), ("history=knee", "want turning_spot 0.4"), ("floor=concrete", "low cushion >= 4")),
    "court handball": (
        ("", "want toe_guard 0.5; want non_marking 0.4"), ("body_kg=105", "low heel_flare >= 1.02"), ("wet=yes", "first sole gum_court"),
        ("school.ankle=high", "low collar_mm >= 90"), ("feet=flat", "low twist_n_mm_per_deg >= 230")),
    "court padel": (
        ("", "first sole grip_flat; want lateral_guard 0.6; low tread_mm >= 1"), ("floor=concrete", "first sole gum_court"),
        ("lunging=most", "low heel_round_mm >= 10"), ("history=heel_pain", "want removable_insole 0.8"), ("growing=yes", "high toe_room_mm >= 14")),
    "climbing crack": (
        ("", "high downturn_deg <= 3; low collar_mm >= 85; first closure laces; want toe_patch 0.5"),
        ("body_kg=90", "low bend_n_mm_per_deg >= 300"), ("stance_min=8", "low bend_n_mm_per_deg >= 200"),
        ("history=numbness", "low toe_room_mm >= 0"), ("growing=yes", "high downturn_deg <= 6")),
    "climbing speed": (
        ("", "high mass_g <= 240; high bend_n_mm_per_deg <= 150"), ("body_kg=50", "high bend_n_mm_per_deg <= 100"),
        ("toe_strength=strong", "first midsole split"), ("history=numbness", "high downturn_deg <= 4"), ("feet=odd", "first closure laces")),
    "cycling track": (
        ("pedal=three_bolt", "low bend_n_mm_per_deg >= 3000; first closure strap_3; first cleat three_bolt"),
        ("pedal=undecided", "first cleat three_bolt"), ("pedal=three_bolt power_w=1500", "low bend_n_mm_per_deg >= 4000"),
        ("pedal=three_bolt feet=flat", "low heel_counter >= 6"), ("pedal=three_bolt level=competitive", "low bend_n_mm_per_deg >= 3000")),
    "cycling indoor_ride": (
        ("pedal=two_bolt", "want breathable 0.9; first sole grip_flat"), ("pedal=undecided", "first cleat two_bolt"),
        ("pedal=flat", "first sole grip_flat; veto cleat three_bolt"), ("pedal=two_bolt budget=60", "first closure strap_2"),
        ("pedal=two_bolt history=knee", "first cleat two_bolt")),
    "football goalkeeping": (
        ("surface=firm_natural", "first plate firm_ground_round; want toe_guard 0.3"), ("surface=artificial_grass", "veto plate turf"),
        ("surface=soft_natural wet=yes", "first plate soft_ground"), ("surface=indoor_hall", "first plate indoor"),
        ("surface=firm_natural history=knee", "veto plate firm_ground_blade")),
    "lifting road_running": (
        ("", "low cushion >= 5; veto sole gum_court; low toe_room_mm >= 10"), ("present.drop_mm=4", "high drop_mm <= 6"),
        ("present.drop_mm=10", "low drop_mm >= 8"), ("body_kg=110", "low cushion >= 5.5"), ("feet=flat", "low twist_n_mm_per_deg >= 150")),
    "ice figure": (
        ("", "low drop_mm >= 14"), ("body_kg=40", "high bend_n_mm_per_deg <= 350"), ("history=ankle", "low heel_counter >= 8"),
        ("history=numbness", "avoid heat_mould 0.5"), ("level=new", "low drop_mm >= 14")),
    "ice figure_triple": (
        ("", "low bend_n_mm_per_deg >= 500"), ("body_kg=50", "low bend_n_mm_per_deg >= 380"), ("sessions_per_week=6", "low bend_n_mm_per_deg >= 550"),
        ("feet=odd", "want custom_made 0.3"), ("level=competitive", "low bend_n_mm_per_deg >= 600")),
    "ice rink": (
        ("", "low cushion >= 1.5"), ("level=new", "low cushion >= 1.5"), ("body_kg=100", "low bend_n_mm_per_deg >= 400"),
        ("history=heel_pain", "low cushion >= 2.5"), ("history=numbness", "low instep_room_mm >= 0")),
    "field rugby_forwards": (
        ("", "first plate soft_ground; low collar_mm >= 75; low bend_n_mm_per_deg >= 200"), ("body_kg=115", "low bend_n_mm_per_deg >= 230"),
        ("history=knee", "veto plate firm_ground_blade"), ("history=ankle", "low collar_mm >= 90"), ("growing=yes", "high toe_room_mm >= 16")),
    "field rugby_backs": (
        ("", "first plate firm_ground_round; high collar_mm <= 85; high mass_g <= 310"), ("history=knee", "veto plate firm_ground_blade"),
        ("body_kg=100", "low bend_n_mm_per_deg >= 170"), ("feet=odd", "high ball_room_mm >= 6"), ("history=numbness", "low ball_room_mm >= 0")),
    "field hockey_water": (
        ("", "first sole pimpled; want drain_holes 0.7; want toe_guard 0.7"), ("history=ankle", "low collar_mm >= 90"),
        ("history=back", "low cushion >= 2.5"), ("growing=yes", "high toe_room_mm >= 14"), ("feet=flat", "low twist_n_mm_per_deg >= 210")),
    "field hockey_sand": (
        ("", "first sole rubber_spikes; want toe_guard 0.7"), ("body_kg=105", "low cushion >= 2.4"), ("history=ankle", "low collar_mm >= 90"),
        ("history=forefoot", "low toe_box_mm >= -16"), ("sessions_per_week=4", "first upper leather_lined")),
    "field lacrosse": (
        ("", "first plate firm_ground_round; low collar_mm >= 75"), ("history=knee", "veto plate firm_ground_blade"),
        ("history=ankle", "low collar_mm >= 90"), ("body_kg=95", "low bend_n_mm_per_deg >= 170"), ("history=diabetes", "low toe_room_mm >= 0")),
    "field bases": (
        ("", "first sole spikes_full; want toe_guard 0.5"), ("growing=yes", "veto sole spikes_full; first sole rubber_spikes"),
        ("history=ankle", "low collar_mm >= 90"), ("history=heel_pain", "low cushion >= 2.5"), ("level=competitive", "first sole spikes_full")),
    "field throws_turning": (
        ("", "first sole flat_dense; high drop_mm <= 3; want turning_spot 1"), ("body_kg=120", "first sole flat_dense"),
        ("history=knee", "high tread_mm <= 0.8"), ("history=numbness", "low heel_room_mm >= 0"), ("feet=high_volume", "want width_choice 0.4")),
    "field throws_straight": (
        ("", "first sole spikes_full; low collar_mm >= 95"), ("history=ankle", "low collar_mm >= 90"), ("body_kg=110", "low cushion >= 2.4"),
        ("growing=yes", "high toe_room_mm >= 10"), ("history=orthosis", "need removable_insole 1")),
}  # fmt: skip


@pytest.mark.parametrize(
    ("discipline", "more", "wanted"), [(d, more, wanted) for d, five in FIVE.items() for more, wanted in five]
)
def test_what_could_not_be_asked_for_comes(discipline: str, more: str, wanted: str) -> None:
    found = spec_of(case_of(f"{discipline} {more}"))
    for line in wanted.split("; "):
        assert holds(
            line, found, next((v.rule for v in found.vetoes if line.startswith("veto") and line.endswith(v.value)), "")
        ), line
    assert all(len(five) == 5 for five in FIVE.values())


def test_a_boot_is_stiffer_with_every_turn_in_the_air() -> None:
    """From memory: none, single, double, triple."""
    stiff = [
        spec_of(case_of(f"ice {d}")).properties["bend_n_mm_per_deg"].low
        for d in ("figure", "figure_single", "figure_double", "figure_triple")
    ]
    assert stiff == sorted(set(stiff))


ROOT = Path(__file__).parents[2]
HOLDERS = ("src/kalon/core/sports", "src/kalon/core/rules")
"""Where a discipline may be named: its sport's facts and its rules."""


OTHER_THINGS = ("crack", "speed", "track")
"""Words that mean something else as well: a hold, another sport's skates, what a list sells."""


@pytest.mark.parametrize("discipline", [name for d in FIVE if (name := d.split()[1]) not in OTHER_THINGS])
def test_a_discipline_is_named_in_two_files_at_most(discipline: str) -> None:
    """Beside the demo, the tests and other people's words in lists; one that is added touches its sport's facts and its
    rules."""
    named = [
        path
        for where in ("src/kalon", "web/src")
        for path in (ROOT / where).rglob("*.*")
        if path.suffix in (".py", ".ts", ".tsx", ".sql")
        and not {"demo", "sheets"} & {*path.parts}
        and re.search(rf'["\']{discipline}["\']', path.read_text(encoding="utf-8"))
    ]
    assert all(str(path.relative_to(ROOT)).startswith(HOLDERS) for path in named), named
    assert len(named) <= 2


def test_a_sport_that_isnt_whole_is_refused_at_the_start(monkeypatch: pytest.MonkeyPatch) -> None:
    check_sports()
    assert set(EVERY) == set(SPORTS)
    monkeypatch.delitem(EVERY, "ice")
    with pytest.raises(ValueError, match="ice"):
        check_sports()


ELSEWHERE = {"climbing": 11, "football": 15, "cycling": 8, "court": 10, "lifting": 7, "ice": 8}
"""How many files name a sport beside its own two; of climbing it was 23 before a sport was a value. "field" is also what
a form has, and isn't counted."""


@pytest.mark.parametrize(("sport", "most"), list(ELSEWHERE.items()))
def test_a_sport_is_named_in_few_other_files(sport: str, most: int) -> None:
    own = {f"src/kalon/core/{where}/{sport}.py" for where in ("sports", "rules")}
    named = {
        str(path.relative_to(ROOT))
        for where in ("src/kalon", "web/src")
        for path in (ROOT / where).rglob("*.*")
        if path.suffix in (".py", ".ts", ".tsx") and "demo" not in path.parts and path.name != "schema.d.ts"
        and re.search(rf'["\']{sport}["\']', path.read_text(encoding="utf-8"))
    }  # fmt: skip
    assert len(named - own) <= most, sorted(named - own)


def test_what_a_pair_is_also_for_is_asked_what_it_cannot_do_without() -> None:
    """A role left behind from a cricket brief is none in rugby's, and a cricketer's second pair says its own."""
    rugby = {"sport": "field", "discipline": "rugby_backs", "body_kg": 80, "role": "batter", "wicket": "grass"}
    also = {"discipline": "cricket", "share_pct": 30}
    with pytest.raises(ValueError, match="also for needs an answer"):
        Brief.model_validate(rugby | {"also": [also]})
    said = Brief.model_validate(rugby | {"also": [also | {"role": "fielder", "wicket": "sports_hall"}]})
    assert [(b.role, b.wicket) for _, b in said.each()] == [(None, None), ("fielder", "sports_hall")]
    both = {"sport": "field", "discipline": "cricket", "body_kg": 80, "role": "batter", "wicket": "grass"}
    assert (
        Brief.model_validate(both | {"also": [{"discipline": "lacrosse", "share_pct": 30}]}).each()[1][1].role is None
    )


def test_an_answer_that_is_still_owed_is_asked_for_and_shuts_nobody_out() -> None:
    draft = BriefDraft.model_validate(
        {
            "sport": "field",
            "discipline": "rugby_backs",
            "body_kg": 80,
            "also": [{"discipline": "cricket", "share_pct": 30}],
        }
    )
    assert still_to_ask(draft) == ["also"]
    with pytest.raises(BadInput, match="what the pair is also for"):
        complete(draft)


@pytest.mark.parametrize(("share", "kind"), [(30, "plate"), (70, "sole")])
def test_a_pair_for_rugby_and_cricket_stands_on_one_sole(share: float, kind: str) -> None:
    """Studs for the one and spikes for the other are two pairs; the larger share's is followed, and it is said."""
    also = {"discipline": "cricket", "share_pct": share, "role": "batter", "wicket": "grass"}
    found = spec_for(
        Brief.model_validate({"sport": "field", "discipline": "rugby_backs", "body_kg": 80, "also": [also]})
    )
    assert [k for k in ("plate", "sole") if k in found.choices] == [kind]
    assert any("what is underneath" in c.text and c.must_acknowledge for c in found.cautions)
