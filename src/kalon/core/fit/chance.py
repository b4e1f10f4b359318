"""How likely a gap ends where it is wanted, and how good it is to be expected to be.

The new gap of a zone is n ~ N(inner − foot, σ²), σ² = foot's² + shoe's². What presses is given way to: the settled
gap is g(n) = n + c(1 − e^(n/c)) for n < 0, else n. It grows with n, so a band of settled gaps is a band of new ones
and its chance a difference of two normal shares, averaged over how much the shoe gives, c = c₀(1 + 0.25 t) with
t ~ N(0, 1), by five-point Gauss–Hermite quadrature. What presses is given way to also when the foot is a little
larger than thought: that is why the settled gap is surer than the new one.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from .stretch import CAPACITY_SPREAD, settled_stretch

Floats = NDArray[np.float64]

TIGHT_SPAN_MM = np.array([3.0, 8.0, 8.0, 2.5])
"""How far below the band a gap is still worth something; below it is too tight. House default."""
SLACK_SPAN_MM = np.array([5.0, 10.0, 10.0, 3.0])
"""How far above the band a gap is still worth something. House default."""

_NODES, _WEIGHTS = np.polynomial.hermite_e.hermegauss(5)
_GIVES = 1 + CAPACITY_SPREAD * _NODES
_SHARES = _WEIGHTS / _WEIGHTS.sum()
_FINE, _FINE_WEIGHTS = np.polynomial.hermite_e.hermegauss(15)
_FINE_SHARES = _FINE_WEIGHTS / _FINE_WEIGHTS.sum()
_RISES, _RISE_SHARES = (a / 2 for a in np.polynomial.legendre.leggauss(8))
_RISES = _RISES + 0.5

_DEEPEST = 6.0
_ROOTS = np.linspace(0.0, _DEEPEST, 6001)
"""√(−g/c) at which the curve is tabulated; the curve is smooth in it, also where giving begins."""


def _inverse_table() -> Floats:
    """n/c at each of `_ROOTS`, by Newton's method on n/c + 1 − e^(n/c) = g/c."""
    settled = -(_ROOTS**2)
    new = np.where(settled > -1, -np.sqrt(-2 * settled) + settled / 3, settled - 1)
    for _ in range(40):
        slope = -np.expm1(new)
        new = new - np.divide(new - np.expm1(new) - settled, slope, out=np.zeros_like(new), where=slope > 1e-12)
    return np.minimum(new, 0.0)


_CURVE = _inverse_table()


def new_gap(settled_mm: Floats, gives_mm: Floats) -> Floats:
    """The new gap, mm, that settles at `settled_mm` in a shoe that gives at most `gives_mm`, element-wise."""
    settled, gives = np.broadcast_arrays(np.asarray(settled_mm, float), np.asarray(gives_mm, float))
    found = settled.copy()
    pressed = (settled < 0) & (gives > 1e-9)
    depth = -settled[pressed] / gives[pressed]
    root = np.sqrt(depth)
    found[pressed] = gives[pressed] * np.where(root < _DEEPEST, np.interp(root, _ROOTS, _CURVE), -depth - 1)
    return found


def settled_chance(mean: Floats, sigma: Floats, gives: Floats, low: Floats, high: Floats) -> Floats:
    """Chance that a gap settles in low…high, element-wise; every argument mm, of one shape or broadcast to it.

    `mean` and `sigma` are of the new gap; `gives` is the capacity expected, 0 where the new gap is what counts."""
    c = np.multiply.outer(_GIVES, np.broadcast_to(gives, np.broadcast_shapes(np.shape(low), np.shape(gives))))
    inside = ndtr((new_gap(high, c) - mean) / sigma) - ndtr((new_gap(low, c) - mean) / sigma)
    found: Floats = np.tensordot(_SHARES, inside, axes=1)
    return found


def settled_spread(mean: Floats, sigma: Floats, gives: Floats) -> Floats:
    """One standard deviation of where a gap settles, mm, element-wise; fifteen nodes for the gap, five for the give."""
    first, second = np.zeros(np.shape(mean)), np.zeros(np.shape(mean))
    for share, node in zip(_FINE_SHARES, _FINE, strict=True):
        new = mean + sigma * node
        for share_of, give in zip(_SHARES, _GIVES, strict=True):
            settled = new + settled_stretch(-new, gives * give)
            first += share * share_of * settled
            second += share * share_of * settled**2
    found: Floats = np.sqrt(np.maximum(second - first**2, 0.0))
    return found


_ROUGH, _ROUGH_WEIGHTS = np.polynomial.hermite_e.hermegauss(9)
_ROUGH_SHARES = _ROUGH_WEIGHTS / _ROUGH_WEIGHTS.sum()


def rough_worth(mean: Floats, sigma: Floats, gives: Floats, low: Floats, high: Floats) -> Floats:
    """About `settled_quality` over the usual spans: nine nodes for the new gap, what the shoe gives taken as known."""
    found = np.zeros(np.shape(mean))
    for share, node in zip(_ROUGH_SHARES, _ROUGH, strict=True):
        new = mean + sigma * node
        settled = new + settled_stretch(-new, gives)
        outside = np.maximum((low - settled) / TIGHT_SPAN_MM, (settled - high) / SLACK_SPAN_MM)
        found += share * np.clip(1 - outside, 0.0, 1.0)
    return found


def settled_quality(
    mean: Floats, sigma: Floats, gives: Floats, low: Floats, high: Floats, below: Floats, above: Floats
) -> Floats:
    """Expected worth of where a gap settles: 1 in low…high, falling in a line to 0 `below` under and `above` over it.

    The worth is at least t on the band widened by (1 − t) of its spans, so its mean is that band's chance averaged
    over t from 0 to 1 (eight-point Gauss–Legendre)."""
    rises = _RISES.reshape(-1, *(1,) * np.ndim(mean))
    lows, highs = low - below * (1 - rises), high + above * (1 - rises)
    found: Floats = np.tensordot(_RISE_SHARES, settled_chance(mean, sigma, gives, lows, highs), axes=1)
    return found
