"""What no spec may say: found in any brief, alone, in a blend, and beside a neighbour of which one thing is known better.

Each check takes a brief and gives a sentence for every contradiction it finds; the tests take a thousand briefs and
`./kalon bench briefs` three thousand. What a shoe can have is written here a second time, from the trade, on purpose.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any

from kalon.core.rules.aloud import sentence
from kalon.core.rules.brief import Brief
from kalon.core.rules.engine import Case, Spec
from kalon.core.rules.scales import scale
from kalon.core.rules.spec import SpecIn, spec_of
from kalon.core.rules.words import SPORTS, Sport


def spec_for(given: SpecIn) -> Spec:
    """The spec alone, without what other schools would say."""
    brief = Brief.model_validate(given.model_dump(include=set(Brief.model_fields)))
    return spec_of(Case(brief, given.feet, given.house, heard=tuple(given.heard), age_years=given.age_years))


def sentences(found: Spec) -> list[str]:
    """Every sentence a spec says."""
    bands = (*found.properties.values(), *found.fit.values(), *found.features.values())
    choices = (c for ranked in found.choices.values() for c in ranked)
    weights = (r.text for w in found.choice_weights.values() for r in w.reasons)
    said = [r.text for b in (*bands, *choices) for r in b.reasons] + [c.text for c in found.cautions]
    return list(dict.fromkeys([sentence(found), *said, *weights, *(v.text for v in found.vetoes)]))


LACES = ("laces", "laces_strap")
FLAT_SOLES = ("gum_court", "flat_dense", "grip_flat", "pimpled")


def _leads(found: Spec, choice: str) -> list[str]:
    ranked = found.choices.get(choice, [])
    return [c.value for c in ranked if c.score == ranked[0].score]


def wants_what_it_cannot_have(found: Spec) -> Iterator[str]:
    """A feature wanted of a shoe whose first closure, sole or plate never has it, or beside its opposite."""
    wanted = {n for n, f in found.features.items() if f.wish == "want"}
    closures, soles, plates = (_leads(found, c) for c in ("closure", "sole", "plate"))
    if closures and not any(c in LACES for c in closures):
        yield from (
            f"{n} with {closures}" for n in wanted & {"lace_cover", "lace_tuck", "high_eyelet", "central_lacing"}
        )
    if closures and not any(c in ("dial", "ratchet") for c in closures) and "fine_closure" in wanted:
        yield f"a closure in fine steps with {closures}"
    if soles and all(s in FLAT_SOLES for s in soles) and "spike_sockets" in wanted:
        yield f"spike sockets on {soles}"
    out = {v.value for v in found.vetoes if v.name == "plate"}
    if "replaceable_studs" in wanted and (
        out >= {"soft_ground", "firm_ground_round"} or plates == ["turf"] or plates == ["indoor"]
    ):
        yield f"studs that screw out with {plates}"
    if soles and plates:
        yield f"{plates} and {soles} under one shoe"
    for one, other in (("dark_colour", "light_colour"), ("token_heel", "thick_heel"), ("low_tread", "spike_sockets")):
        if {one, other} <= wanted:
            yield f"{one} and {other}"
    if found.sport == "climbing":
        yield from (f"{n} in a climbing shoe" for n in wanted & {"removable_insole", "shank", "heel_tab"})


ABOUT = re.compile(r"(?<!alone )\babout (\d+(?:\.\d+)?)(?! ?(?:%|times|kg|min|W\b|mm of cable))")
HEEL = re.compile(r"^(\d+(?:\.\d+)?) mm is the least heel")


def numbers_beside_their_band(found: Spec) -> Iterator[str]:
    """A reason whose number its own band leaves out; in a blend, what is said of one discipline is of its own band."""
    own = tuple(d.text.lower() for d in SPORTS[sport_of(found)].disciplines)
    for name, band in (*found.properties.items(), *found.fit.items()):
        grain = scale(name, found.sport).grain if name in found.properties else 0.5
        for reason in band.reasons:
            for pattern in (ABOUT, HEEL):
                for said in pattern.findall(reason.text):
                    inside = band.low - grain <= float(said) <= band.high + grain
                    if not inside and not reason.text.lower().startswith(own):
                        yield f"{name} {band.low:g} to {band.high:g}, and “{reason.text}”"


DENY: tuple[tuple[str, str], ...] = (
    (
        r"nothing presses",
        r"\btaken? [\d.]* ?(?:mm )?closer\b|extremely snug|toes touching when new|sized closer|tighter: toes",
    ),
    (r"half a size up, as many", r"never half a size up"),
    (
        r"no insole goes in|no climbing shoe takes",
        r"an insole that comes out|the shoe's own must come out|takes up the volume",
    ),
    (r"measure again in three months", r"when half a size is used up"),
    (r"stiffest that can be paid", r"a soft sole is wanted"),
    (r"heat-moulded here", r"not moulded on a foot"),
    (r"never mid or high tops", r"a high collar, as this shop prefers"),
    (r"flat toes, no slack, hardly any hook", r"tighter: toes more bent"),
    (r"a clinician before the shoe", r"no clinician"),
    (r"carries it, firm; no foam", r"wants more cushion; and never"),
    (r"not smeared on|they are stood on, not smeared", r"soft smears better"),
    (r"the cleat \d–\d mm further back", r"no cleat is needed"),
    (r"nothing soft under load", r"jumping: cushion with rebound"),
)
"""Two sentences that deny each other, as patterns of what they say."""


def sentences_that_deny_each_other(found: Spec) -> Iterator[str]:
    """Two of a spec's sentences of which one denies the other; what a blend says of one discipline is of that one."""
    own = tuple(f"{d.text.lower()}: " for d in SPORTS[sport_of(found)].disciplines)
    said = [s for sentence_ in sentences(found) if not (s := sentence_.lower()).startswith(own)]
    for one, other in DENY:
        if (a := next((s for s in said if re.search(one, s)), None)) and (
            b := next((s for s in said if re.search(other, s)), None)
        ):
            yield f"“{a}” and “{b}”"


Ends = tuple[float, float]


def ends(found: Spec, name: str) -> Ends | None:
    """A band's ends, property or room."""
    band = found.properties.get(name) or found.fit.get(name)
    return (band.low, band.high) if band else None


def _with(tick: str) -> Callable[[dict[str, Any]], dict[str, Any] | None]:
    def more(values: dict[str, Any]) -> dict[str, Any] | None:
        return None if tick in values["history"] else {"history": [*values["history"], tick]}

    return more


def _number(name: str, by: float, low: float, high: float) -> Callable[[dict[str, Any]], dict[str, Any] | None]:
    def more(values: dict[str, Any]) -> dict[str, Any] | None:
        now = values.get(name)
        return None if now is None or not low <= now + by <= high else {name: now + by}

    return more


NEIGHBOURS: tuple[tuple[str, str, Callable[[dict[str, Any]], dict[str, Any] | None], dict[str, int]], ...] = (
    ("a sore heel", "", _with("heel_pain"), {"cushion": 1}),
    ("a back", "", _with("back"), {"cushion": 1}),
    ("a sore ball", "football court", _with("forefoot"), {"cushion": 1, "toe_box_mm": 1}),
    ("an ankle", "", _with("ankle"), {"heel_counter": 1, "twist_n_mm_per_deg": 1, "collar_mm": 1}),
    ("ten kilograms more", "climbing ice football cycling", _number("body_kg", 10, 15, 240), {"bend_n_mm_per_deg": 1}),
    ("ten kilograms more on a court", "court", _number("body_kg", 10, 15, 240), {"cushion": 1}),
    ("a smaller edge", "climbing", _number("edge_mm", -3, 1, 60), {"bend_n_mm_per_deg": 1}),
    ("more small edges", "climbing", _number("small_edges_pct", 15, 0, 100), {"bend_n_mm_per_deg": 1}),
    ("a longer stand", "climbing", _number("stance_min", 3, 0, 60), {"bend_n_mm_per_deg": 1}),
    ("a stiffer ankle", "lifting", _number("knee_to_wall_cm", -2, 0, 25), {"drop_mm": 1}),
    ("more to spend", "cycling", _number("budget", 60, 0, 5000), {"bend_n_mm_per_deg": 1}),
    ("more power", "cycling", _number("power_w", 300, 20, 2500), {"bend_n_mm_per_deg": 1}),
    ("numb toes", "", _with("numbness"), {"downturn_deg": -1, "toe_box_mm": 1}),
)  # fmt: skip
"""What is known better, in which sports, and which bands may then only rise (1) or fall (−1)."""


def better_facts_that_worsen(given: SpecIn) -> Iterator[str]:
    """A neighbour of a brief of which one thing is known better, and a band that goes the wrong way."""
    values = given.model_dump()
    if values["also"]:
        return
    found = spec_for(given)
    for name, sports, more, bands in NEIGHBOURS:
        if sports and given.sport not in sports.split():
            continue
        changed = more(values)
        if changed is None:
            continue
        other = spec_for(SpecIn.model_validate(values | changed))
        for band, way in bands.items():
            was, now = ends(found, band), ends(other, band)
            if was and now and (way * (now[0] - was[0]) < -1e-9 or way * (now[1] - was[1]) < -1e-9):
                yield f"{name}: {band} {was} becomes {now}"


def all_of(given: SpecIn, *, neighbours: bool = True) -> list[str]:
    """Every contradiction found in a brief and beside it, with the brief in a few words."""
    found = spec_for(given)
    told = [
        *wants_what_it_cannot_have(found), *numbers_beside_their_band(found), *sentences_that_deny_each_other(found),
        *(better_facts_that_worsen(given) if neighbours else ()),
    ]  # fmt: skip
    about = f"{given.sport} {given.discipline}" + "".join(f"+{a.discipline}" for a in given.also)
    return [f"{about}: {t}" for t in told]


def sport_of(found: Spec) -> Sport:
    """A spec's sport."""
    return found.sport  # type: ignore[return-value]
