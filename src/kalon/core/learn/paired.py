"""Two measurements of the same things held against each other: what was seen against what was predicted."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from scipy.special import stdtrit

from ..contract import Contract


class Paired(Contract):
    """Mean difference, its spread, Student's t of it, and the 90 % interval of the mean; none of so few."""

    count: int
    mean: float
    sd: float | None = None
    t: float | None = None
    low: float | None = None
    high: float | None = None


def paired(first: Sequence[float], second: Sequence[float]) -> Paired:
    """`second` less `first`, pair by pair. Raises `ValueError` for runs of different length or none."""
    difference = np.asarray(second, float) - np.asarray(first, float)
    return paired_sums(len(difference), float(difference.sum()), float((difference**2).sum()))


def paired_sums(count: int, total: float, squares: float) -> Paired:
    """The same from the sum of so many differences and that of their squares. Raises `ValueError` for none."""
    if not count:
        raise ValueError("nothing to compare")
    mean = total / count
    if count < 3:
        return Paired(count=count, mean=mean)
    sd = math.sqrt(max(squares - total * mean, 0.0) / (count - 1))
    error = sd / count**0.5
    reach = float(stdtrit(count - 1, 0.95)) * error
    return Paired(count=count, mean=mean, sd=sd, t=mean / error if error else None, low=mean - reach, high=mean + reach)
