"""The larger of two feet from a noisy reading of each: the larger reading is too large on average."""

from __future__ import annotations

import numpy as np
from scipy.special import ndtr

from .observe import Floats

APART_MM = np.array([2.5, 3.0, 3.0, 1.0])
"""How far two feet of one person differ, one standard deviation, by zone. House default."""


def larger_foot(left: Floats, right: Floats, sigma: Floats, shared: Floats) -> tuple[Floats, Floats]:
    """Mean and spread of the larger true foot, mm, zone by zone, of two readings of one `sigma` each; `shared` is how
    unsure both are together (sock, the day's swelling).

    What lies between the two and what they differ by are known apart from each other; the larger is the one plus half
    the other's size, whose moments are those of a folded normal (Technometrics 3, 1961)."""
    noise = np.maximum(sigma, 1e-6) ** 2
    keeps = APART_MM**2 / (APART_MM**2 + 2 * noise)
    apart, var = (left - right) * keeps, 2 * noise * keeps
    sd = np.sqrt(var)
    size = sd * np.sqrt(2 / np.pi) * np.exp(-(apart**2) / (2 * var)) + apart * (1 - 2 * ndtr(-apart / sd))
    spread = apart**2 + var - size**2
    mean: Floats = (left + right) / 2 + size / 2
    return mean, np.sqrt(noise / 2 + spread / 4 + shared**2)
