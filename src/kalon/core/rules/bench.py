"""The mechanics behind a spec, as the station draws them: the same numbers the rules were decided by."""

from __future__ import annotations

from ..contract import Contract
from ..mechanics.edge import EdgeIn, EdgeOut, edge, smear_limit
from ..mechanics.pedal import PedalIn, PedalOut, pedal
from ..mechanics.plates import load_point, plate
from ..mechanics.sideways import SidewaysIn, SidewaysOut, sideways
from ..mechanics.squat import SquatIn, SquatOut, squat
from ..mechanics.studs import Plate, Stud, Surface, grip_of
from . import climbing, court, cycling, football, lifting
from .engine import Case, Spec


class Lifter(Contract):
    """The lifter at depth with the heel the spec wants, and flat."""

    given: SquatIn
    found: SquatOut
    flat: SquatOut
    wanted_lean_deg: float


class OnEdge(Contract):
    """The climber's toe on the smallest edge, and what smears allow."""

    given: EdgeIn
    found: EdgeOut
    smear_limit: float
    edge_share: float
    wanted: float


class PlateHere(Contract):
    """One plate on this ground."""

    plate: str
    studs: list[Stud]
    grip: float
    torque_n_m: float
    worst_pressure_kpa: float


class OnGround(Contract):
    """The plates that come into question, from below, best first."""

    foot_mm: float
    surface: Surface
    wet: bool
    load_n: float
    """One foot, running."""
    turning_load_n: float
    """At which turning is told: that of the turf test."""
    plates: list[PlateHere]
    torque_low: float
    torque_high: float
    pressure_most: float


class Rider(Contract):
    """The hardest minute with a sole at each end of the band."""

    given: PedalIn
    soft: PedalOut
    stiff: PedalOut


class FromBehind(Contract):
    """The heel from behind, in the middle of the wanted flare."""

    given: SidewaysIn
    found: SidewaysOut


class Mechanics(Contract):
    """What applies to the sport; the rest is empty."""

    lifter: Lifter | None = None
    on_edge: OnEdge | None = None
    on_ground: OnGround | None = None
    rider: Rider | None = None
    from_behind: FromBehind | None = None


def _lifter(case: Case, spec: Spec) -> Lifter | None:
    if not case.does("olympic", *lifting.SQUATS, "general_strength"):
        return None
    man = lifting.lifter(case)
    band = spec.properties["drop_mm"]
    raised = man.model_copy(update={"drop_mm": round((band.low + band.high) / 2, 1)})
    return Lifter(
        given=raised,
        found=squat(raised),
        flat=squat(man),
        wanted_lean_deg=lifting.wanted_lean_deg(case, man.bar),
    )


def _on_edge(case: Case) -> OnEdge:
    stance = climbing.stance(case)
    return OnEdge(
        given=stance,
        found=edge(stance),
        smear_limit=smear_limit(case.brief.body_kg, case.house["climbing.smear_limit"]),
        edge_share=climbing.edge_share(case),
        wanted=climbing.stiffness(case),
    )


def _on_ground(case: Case, spec: Spec) -> OnGround:
    foot, house = round(case.foot_mm), case.house
    found = []
    for choice in spec.choices.get("plate", [])[:4]:
        grip = football.plate_on_ground(case, choice.value)
        found.append(
            PlateHere(
                plate=choice.value,
                studs=list(plate(choice.value, foot)),
                grip=grip.forward,
                torque_n_m=grip.torque_n_m,
                worst_pressure_kpa=grip.worst_kpa,
            )
        )
    assert case.brief.surface is not None
    return OnGround(
        foot_mm=foot,
        surface=case.brief.surface,
        wet=case.brief.wet,
        load_n=football.running_load(case),
        turning_load_n=football.TEST_LOAD_N,
        plates=found,
        torque_low=house["studs.torque_low"],
        torque_high=house["studs.torque_high"],
        pressure_most=house["studs.pressure_most"],
    )


def _rider(case: Case, spec: Spec) -> Rider:
    power, cadence = cycling.effort(case)
    band = spec.properties["bend_n_mm_per_deg"]

    def under(sole: float) -> PedalIn:
        return PedalIn(
            power_w=power,
            cadence_rpm=cadence,
            crank_mm=cycling.CRANK_MM,
            sole_n_mm_per_deg=max(sole, 50),
            offset_mm=case.house["pedal.offset_mm"],
            foot_mm=case.foot_mm,
        )

    return Rider(given=under(band.low), soft=pedal(under(band.low)), stiff=pedal(under(band.high)))


UPPER_HEEL_SHARE, UPPER_FORE_SHARE = 0.27, 0.40
"""Width of the upper at heel and forefoot, shares of foot length, before feet are measured. House default."""


def _within(value: float, low: float, high: float) -> float:
    """Held to what a shoe can be: two very unlike feet must not draw one that can't."""
    return min(max(value, low), high)


def _from_behind(case: Case, spec: Spec) -> FromBehind:
    foot, house = case.foot_mm, case.house
    heel = _within(foot * (case.share_of_length("heel_width_mm") or UPPER_HEEL_SHARE - 0.02) + 5, 25, 105)
    fore = _within(foot * (case.share_of_length("ball_width_mm") or UPPER_FORE_SHARE - 0.01) + 4, 35, 170)
    flare, stack = spec.properties["heel_flare"], spec.properties["heel_stack_mm"]
    middle = (flare.low + flare.high) / 2
    given = SidewaysIn(
        heel_sole_mm=heel * middle,
        heel_upper_mm=heel,
        fore_sole_mm=fore * 1.03,
        fore_upper_mm=fore,
        stack_mm=(stack.low + stack.high) / 2,
        ankle_height_mm=_within(0.28 * foot, 30, 130),
        body_kg=case.brief.body_kg,
        floor=court.floor_of(case),
        lunging=court.lunging_of(case),
        flare_low=house["court.flare_low"],
        flare_high=house["court.flare_high"],
        flare_catches=house["court.flare_catches"],
    )
    return FromBehind(given=given, found=sideways(given))


def mechanics(case: Case, spec: Spec) -> Mechanics:
    """The mechanics of a case whose spec is `spec`; several disciplines: of the first."""
    match case.brief.sport:
        case "lifting":
            return Mechanics(lifter=_lifter(case, spec))
        case "climbing":
            return Mechanics(on_edge=_on_edge(case))
        case "football":
            return Mechanics(on_ground=_on_ground(case, spec))
        case "cycling":
            return Mechanics(rider=_rider(case, spec))
        case "court":
            return Mechanics(from_behind=_from_behind(case, spec))
        case _:
            return Mechanics()


HEEL_WALL_MM, TOE_ROOM_MM = 3.0, 10.0
"""How far behind the foot's heel a sole begins, and how much longer than the foot a shoe is inside. House defaults."""
OWN = "own"
"""What a plate that was measured is called among the usual ones."""


def own_plate(studs: list[Stud], for_mm: float, foot_mm: float) -> list[Stud]:
    """A measured plate (places from the sole's heel, of a size of inner length `for_mm`) under a foot of another
    length:
    places scale with the size, studs don't; in the foot's frame, heel at 0."""
    grown = (foot_mm + TOE_ROOM_MM) / for_mm
    return [
        s.model_copy(
            update={
                "x_mm": _within((s.x_mm - HEEL_WALL_MM) * grown, -50, 420),
                "y_mm": _within(s.y_mm * grown, -150, 150),
            }
        )
        for s in studs
    ]


def own_mechanics(case: Case, spec: Spec, studs: list[Stud], for_mm: float, drop_mm: float | None) -> Mechanics:
    """The mechanics of one shoe by what was measured of it: its own studs on this ground, its own drop in the squat."""
    found = Mechanics()
    if case.brief.sport == "football" and studs and case.brief.surface:
        usual = _on_ground(case, spec)
        placed, foot = own_plate(studs, for_mm, usual.foot_mm), usual.foot_mm
        at = (Plate.of(placed), usual.surface, usual.wet)
        running = grip_of(*at, usual.load_n, load_point(foot))
        turning = grip_of(*at, usual.turning_load_n, load_point(foot))
        own = PlateHere(plate=OWN, studs=placed, grip=running.forward, torque_n_m=turning.torque_n_m,
                        worst_pressure_kpa=running.worst_kpa)  # fmt: skip
        found = Mechanics(on_ground=usual.model_copy(update={"plates": [own, *usual.plates]}))
    if drop_mm is not None and (lifter := _lifter(case, spec) if case.brief.sport == "lifting" else None):
        given = lifter.given.model_copy(update={"drop_mm": _within(drop_mm, 0, 40)})
        found = Mechanics(lifter=lifter.model_copy(update={"given": given, "found": squat(given)}))
    return found
