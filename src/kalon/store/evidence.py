"""Evidence as it is kept: what of it stands, and its body in the newest format."""

from __future__ import annotations

from typing import Any

from ..core.formats import brought_up
from .database import Row

NEWEST = """
    SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone, e.kind) e.*, set_aside(e) AS aside
    FROM evidence e {which} ORDER BY e.fitting_id, e.variant_id, e.zone, e.kind, e.id DESC
"""
"""What stands of some evidence."""


def body_of(row: Row) -> dict[str, Any]:
    """The body of a piece of evidence in the newest format."""
    return brought_up("evidence", row["body"], row["format"])
