"""The table of named computations: one name, one input, one output, reachable three ways."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError

from .care.again import AgainIn, AgainOut, again
from .care.breakin import BreakInIn, BreakInOut, breakin
from .care.cost import BreakEvenIn, BreakEvenOut, CostIn, CostOut, break_even, cost
from .care.followup import FollowUpIn, FollowUpOut, follow_up
from .care.lives import LivesIn, LivesOut, lives
from .care.seen import WearSeenIn, WearSeenOut, wear_seen
from .care.wear import WearIn, WearOut, wear
from .errors import BadInput, NotFound, from_validation, read
from .feet.combine import FootMeasureIn, FootMeasureOut, foot_measure
from .feet.gauge import Feet, FeetReading, read_feet
from .feet.growth import GrowthIn, GrowthOut, growth
from .fit.size import SizeRecommendIn, SizeRecommendOut, size_recommend
from .fit.stretch import StretchIn, StretchOut, stretch
from .learn.give import StretchLearnIn, StretchLearnOut, stretch_learn
from .learn.given import LearnIn, LearnOut
from .learn.offsets import learn
from .learn.worn import FootFromWornIn, FootFromWornOut, foot_from_worn
from .match.after import TrialNextIn, TrialNextOut, judged_again
from .match.called import RankIn, SubstitutesOut, rank_called, substitutes_called
from .match.pairs import PairsIn, PairsOut, pairs
from .match.plan import PlanIn, PlanOut, plan_of_pairs
from .match.rank import Ranking
from .mechanics.edge import EdgeIn, EdgeOut, edge
from .mechanics.pedal import PedalIn, PedalOut, pedal
from .mechanics.sideways import SidewaysIn, SidewaysOut, sideways
from .mechanics.squat import SquatIn, SquatOut, squat
from .mechanics.studs import StudsIn, StudsOut, studs
from .rules.engine import Spec
from .rules.spec import SpecIn, spec
from .shoes.inner import InnerIn, InnerOut, inner
from .sizes import SizeConvertIn, SizeConvertOut, size_convert


@dataclass(frozen=True)
class Calc:
    """A computation with its contracts."""

    name: str
    takes: type[BaseModel]
    gives: type[BaseModel]
    run: Callable[[Any], BaseModel]

    @property
    def summary(self) -> str:
        """First line of the computation's docstring."""
        return (self.run.__doc__ or "").strip().splitlines()[0]


TABLE: dict[str, Calc] = {
    c.name: c
    for c in (
        Calc("again", AgainIn, AgainOut, again),
        Calc("breakin", BreakInIn, BreakInOut, breakin),
        Calc("break-even", BreakEvenIn, BreakEvenOut, break_even),
        Calc("cost", CostIn, CostOut, cost),
        Calc("edge", EdgeIn, EdgeOut, edge),
        Calc("feet-check", Feet, FeetReading, read_feet),
        Calc("foot-from-worn", FootFromWornIn, FootFromWornOut, foot_from_worn),
        Calc("foot-growth", GrowthIn, GrowthOut, growth),
        Calc("foot-measure", FootMeasureIn, FootMeasureOut, foot_measure),
        Calc("follow-up", FollowUpIn, FollowUpOut, follow_up),
        Calc("inner", InnerIn, InnerOut, inner),
        Calc("learn", LearnIn, LearnOut, learn),
        Calc("lives", LivesIn, LivesOut, lives),
        Calc("pairs", PairsIn, PairsOut, pairs),
        Calc("plan", PlanIn, PlanOut, plan_of_pairs),
        Calc("pedal", PedalIn, PedalOut, pedal),
        Calc("rank", RankIn, Ranking, rank_called),
        Calc("sideways", SidewaysIn, SidewaysOut, sideways),
        Calc("size-convert", SizeConvertIn, SizeConvertOut, size_convert),
        Calc("size-recommend", SizeRecommendIn, SizeRecommendOut, size_recommend),
        Calc("spec", SpecIn, Spec, spec),
        Calc("squat", SquatIn, SquatOut, squat),
        Calc("stretch", StretchIn, StretchOut, stretch),
        Calc("stretch-learn", StretchLearnIn, StretchLearnOut, stretch_learn),
        Calc("studs", StudsIn, StudsOut, studs),
        Calc("substitutes", RankIn, SubstitutesOut, substitutes_called),
        Calc("trial-next", TrialNextIn, TrialNextOut, judged_again),
        Calc("wear", WearIn, WearOut, wear),
        Calc("wear-seen", WearSeenIn, WearSeenOut, wear_seen),
    )
}


def call(name: str, given: Any) -> dict[str, Any]:
    """Run a computation on plain JSON values. Raises `NotFound` or `BadInput`."""
    if name not in TABLE:
        raise NotFound(f"There is no computation called {name}. There are: {', '.join(sorted(TABLE))}.",
                       code="no-such-calc")  # fmt: skip
    calc = TABLE[name]
    asked = read(calc.takes, given)
    try:
        found = calc.run(asked).model_dump(mode="json")
    except ValidationError as error:
        raise from_validation(error) from None
    except (OverflowError, ZeroDivisionError):
        found = {"": math.inf}
    if not _finite(found):
        raise BadInput("These numbers lead beyond what can be computed with.", code="beyond")
    return found


def _finite(value: Any) -> bool:
    """Whether every number in plain JSON values can be written."""
    if isinstance(value, float):
        return math.isfinite(value)
    if isinstance(value, dict):
        return all(map(_finite, value.values()))
    return all(map(_finite, value)) if isinstance(value, list) else True
