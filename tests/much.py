"""How much of the same a test tries: little in every run, much in `./kalon bench tests`."""

from __future__ import annotations

import os
from typing import TypeVar

T = TypeVar("T")

LARGE = bool(os.environ.get("KALON_LARGE"))
"""Whether this run is the large one."""


def much(little: T, large: T) -> T:
    """The one or the other."""
    return large if LARGE else little
