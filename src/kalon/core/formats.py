"""Stored bodies outlive the code: the format each kind is written in, and the step from each format to the next.

A body read back is taken step by step from the format it was written in to the newest. Steps never look at
anything but the body itself. `tests/core/formats` holds a stored example of every earlier format.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from .errors import KalonError

Body = dict[str, Any]
Kind = Literal[
    "feet",
    "brief",
    "spec",
    "trial",
    "settle",
    "return",
    "sale",
    "house",
    "reading",
    "seen",
    "lives",
    "plan",
    "pictured",
    "evidence",
    "day",
]


class TooNew(KalonError):
    """A body written by a newer version of Kalon."""

    code = "too-new"
    status = 503


def _sale_1_to_2(body: Body) -> Body:
    """Money got a currency and minor units; the pair as sold stands in the snapshot; zones say how they are judged."""
    settled = dict(body["settled"])
    if settled.get("tax"):
        tax = dict(settled["tax"])
        settled["tax"] = {
            "rate_pct": tax["rate_pct"],
            "tax_minor": tax["tax_cents"],
            "total_minor": tax["total_cents"],
            "currency": "EUR",
            "why": tax["why"],
        }
    leather = str(body["pair"]["upper"]).startswith(("leather", "suede"))
    judged_new = leather and "toe_room_leather_mm" in body["spec"].get("fit", {})
    zones = [z | {"judged_new": judged_new and z["zone"] == "length"} for z in settled["size"]["zones"]]
    settled["size"] = settled["size"] | {"zones": zones}
    return body | {"settled": settled, "norms": None}


def _evidence_1_to_2(body: Body) -> Body:
    """A verdict knows what could have been said. What was asked then nobody kept, so it is taken to speak of the one
    side it is about, a fine of tightness."""
    if "verdict" not in body:
        return body
    return body | {"sides": ["slack" if body["verdict"] == "slack" else "jam"]}


STEPS: dict[Kind, tuple[Callable[[Body], Body], ...]] = {
    "feet": (),
    "brief": (),
    "spec": (),
    "trial": (),
    "settle": (),
    "return": (),
    "sale": (_sale_1_to_2,),
    "house": (),
    "reading": (),
    "seen": (),
    "lives": (),
    "plan": (),
    "pictured": (),
    "evidence": (_evidence_1_to_2,),
    "day": (),
}
"""By kind: the step from format 1 to 2, from 2 to 3, and so on."""


def newest(kind: Kind) -> int:
    """The format this version writes."""
    return len(STEPS[kind]) + 1


def brought_up(kind: Kind, body: Body, format_: int) -> Body:
    """A body in the newest format. Raises `TooNew` for one from the future."""
    if format_ > newest(kind):
        raise TooNew("This was written by a newer Kalon than is running here. Nothing was changed.")
    for step in STEPS[kind][format_ - 1 :]:
        body = step(body)
    return body
