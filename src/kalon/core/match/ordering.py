"""A pair that can't be tried here: the half size to add, and what to check on arrival, in sentences."""

from __future__ import annotations

from ..contract import Contract
from ..fit.size import HOPES, ZONE_NAMES, Hope, SizeFit
from ..fit.trial import TESTS
from ..rules.words import Sport


class OrderSheet(Contract):
    """What goes with an order: the size and how sure it is, the half size to add, and what to check on arrival."""

    label: float
    hope: Hope
    doubt: str
    also: float | None
    """Another size to have sent along; none where one is sure enough."""
    why: str
    check: list[str]


def order_sheet(sport: Sport, sizes: list[SizeFit], label: float, inner_mm: float, sigma_mm: float) -> OrderSheet:
    """The sheet for one size of a run judged on these feet (EU labels). Raises `KeyError` for a label not in it."""
    by_label = {s.label: s for s in sizes}
    size = by_label[label]
    hope = size.hope or "gamble"
    toe = size.zones[0]
    tight = (toe.new_mm if toe.judged_new else toe.settled_mm) < (toe.low_mm + toe.high_mm) / 2
    beside = [s for s in sizes if (s.label > label) == tight and s.label != label]
    also = min(beside, key=lambda s: abs(s.label - label)).label if beside and hope != "should_fit" else None
    low, high = inner_mm + toe.low_mm - toe.new_mm, inner_mm + toe.high_mm - toe.new_mm
    why = f"{label:g}: {HOPES[hope]}{f', {size.doubt}' if size.doubt else ''}."
    if also is not None:
        why += f" Have {also:g} sent along: the {'half size up' if also > label else 'half size down'}."
    check = [
        f"Inside length {low:.0f} to {high:.0f} mm is wanted; expected {inner_mm:.0f} ± {2 * sigma_mm:.0f} mm. "
        "Read it with the inside gauge before anybody puts it on.",
    ]
    worst = min(size.zones, key=lambda z: z.worth or 0.0)
    if size.doubt and worst.zone != "length":
        check.append(f"Look first at the {ZONE_NAMES[worst.zone]}: it {size.doubt}.")
    check += [f"{t.name}: {t.how}" for t in TESTS[sport][:3]]
    check.append("Indoors and clean until it is sure: a worn pair goes back to nobody.")
    return OrderSheet(label=label, hope=hope, doubt=size.doubt, also=also, why=why, check=check)
