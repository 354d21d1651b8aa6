"""Effectiveness relations of exchangers (Kays and London, Compact Heat Exchangers, 3rd ed. 1984)."""

from __future__ import annotations

import math

KAYS_LONDON = "Kays and London, Compact Heat Exchangers, 3rd ed. (1984)"


def counterflow_effectiveness(ntu: float, ratio: float) -> float:
    """Effectiveness in counterflow; `ratio` is the smaller over the larger heat capacity rate."""
    if abs(1.0 - ratio) < 1e-9:
        return ntu / (1.0 + ntu)
    e = math.exp(-ntu * (1.0 - ratio))
    return (1.0 - e) / (1.0 - ratio * e)


def parallel_effectiveness(ntu: float, ratio: float) -> float:
    """Effectiveness in parallel flow."""
    return (1.0 - math.exp(-ntu * (1.0 + ratio))) / (1.0 + ratio)
