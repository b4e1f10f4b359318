"""A fixed point found in fewer rounds: the next guess from the last few, by mixing (D. G. Anderson, Iterative
procedures for nonlinear integral equations, 1965)."""

from __future__ import annotations

import numpy as np

from .observe import Floats

LOOKS_BACK = 5
NEAR = 0.1
"""Plain rounds until the largest change is below this: far off, what the last rounds did says nothing of the next."""
WORSE = 2.0
"""A round that grew so much forgets the ones before it."""


class Faster:
    """Guesses of a point x = g(x), (n,), each from the ones before."""

    def __init__(self, damping: float) -> None:
        self.damping = damping
        self._points: list[Floats] = []
        self._changes: list[Floats] = []
        self._last = np.inf

    def after(self, x: Floats, change: Floats) -> Floats:
        """The next guess, having gone from x to x + `change` in a plain round."""
        largest = float(np.max(np.abs(change)))
        if largest > WORSE * self._last or largest > NEAR:
            self._points, self._changes = [], []
        self._last = largest
        self._points.append(x)
        self._changes.append(change)
        self._points, self._changes = self._points[-LOOKS_BACK:], self._changes[-LOOKS_BACK:]
        plain = x + self.damping * change
        if len(self._points) < 2:
            return plain
        moved = np.diff(np.array(self._points), axis=0)
        bent = np.diff(np.array(self._changes), axis=0)
        between = bent @ bent.T
        between[np.diag_indices(len(between))] *= 1 + 1e-10
        try:
            share = np.linalg.solve(between, bent @ change)
        except np.linalg.LinAlgError:
            return plain
        found: Floats = plain - share @ (moved + self.damping * bent)
        return found
