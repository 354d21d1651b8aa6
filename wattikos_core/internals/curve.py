"""Curves through points: a fan's pressure rise against its flow, a resistance's pressure drop against the speed."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Curve:
    """A smooth curve through points that overshoots none of them, straight on beyond both ends.

    Monotone cubic pieces, Fritsch and Butland (1984, SIAM J. Sci. Stat. Comput. 5, 300).

    Attributes:
        at: places of the points, ascending, shape (n,).
        value: there, shape (n,).
        falls: whether the curve may not rise beyond its ends: so that what it drives cannot run away.
    """

    at: tuple[float, ...]
    value: tuple[float, ...]
    falls: bool = False

    @staticmethod
    def constant(value: float) -> Curve:
        """The same everywhere."""
        return Curve((0.0, 1.0), (value, value))

    @property
    def flat(self) -> bool:
        """Whether it is the same everywhere."""
        return min(self.value) == max(self.value)

    @cached_property
    def _pieces(self) -> tuple[Any, Any, float, float]:
        from scipy.interpolate import PchipInterpolator

        curve = PchipInterpolator(np.array(self.at), np.array(self.value), extrapolate=False)
        slope = curve.derivative()
        before, beyond = float(slope(self.at[0])), float(slope(self.at[-1]))
        return curve, slope, min(before, 0.0) if self.falls else before, min(beyond, 0.0) if self.falls else beyond

    def __call__(self, x: Array | float) -> Array:
        """Value at places of any shape."""
        curve, _, before, beyond = self._pieces
        place = np.asarray(x, dtype=float)
        inside = curve(np.clip(place, self.at[0], self.at[-1]))
        return np.asarray(inside + before * np.minimum(place - self.at[0], 0.0) + beyond * np.maximum(place - self.at[-1], 0.0))

    def slope(self, x: Array | float) -> Array:
        """Slope at places of any shape."""
        _, slope, before, beyond = self._pieces
        place = np.asarray(x, dtype=float)
        inside = slope(np.clip(place, self.at[0], self.at[-1]))
        return np.asarray(np.where(place < self.at[0], before, np.where(place > self.at[-1], beyond, inside)))
