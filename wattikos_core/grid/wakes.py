"""Vortices behind bodies: how much finer their section is gridded, and how long a step may be, where they are followed in time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import LocalSize, ResolvedCase
from wattikos_core.section import PaintedSection

Array = NDArray[np.float64]

# Vortices leave a free circular cylinder from here on: Williamson (1996), Annu. Rev. Fluid Mech. 28, 477.
VORTICES_REYNOLDS = 47.0
# At fineness 1 a cylinder in a channel sheds 6 % too slowly and lifts 7 % too much; so fine all over it lifts as it should, but
# sheds 4 % too slowly; with cells of half the size around it and where vortices form, frequency, drag and lift are within 1 % (our
# own solutions against Schäfer and Turek 1996).
_FINER, _FINER_BEHIND = 1.5, 2.0
# That place, in diameters from the middle of the body: to the sides, ahead, behind.
_BESIDE, _BEFORE, _BEHIND = 1.7, 1.0, 3.0
# The longest step as a share of the time a stream takes past a diameter: a twenty-fifth of a period at a Strouhal number of 0.2.
_SHARE_OF_PASSING = 0.2
# A boundary goes all round a body when its segments close, to round-off.
_CLOSED = 1e-6


@dataclass(frozen=True)
class Wake:
    """A body all round in a stream that sheds vortices.

    Attributes:
        diameter: of the circle with its perimeter, m; `speed` the mean of what enters, m/s.
        box: where its vortices form, x0, y0, x1, y1 in m.
    """

    diameter: float
    speed: float
    box: tuple[float, float, float, float]


def wakes(resolved: ResolvedCase, section: PaintedSection) -> list[Wake]:
    """The bodies behind which vortices are to be followed; none in steady state."""
    found: list[Wake] = []
    if resolved.time is None or resolved.axisymmetric:
        return found
    for name, fluid in zip(section.names, section.fluid, strict=True):
        speed, entry = _entering(resolved, section, name)
        if not fluid or entry is None:
            continue
        table = resolved.part(name).material
        given = resolved.temperatures_given
        middle = 0.5 * (min(given) + max(given))
        viscous = float(table.viscosity(middle)) / float(table.density(middle))
        for boundary in section.boundaries.values():
            ways = np.asarray(boundary.segments, dtype=float).reshape(-1, 4)
            ends, counts = np.unique(np.round(ways.reshape(-1, 2) / (_CLOSED * boundary.length)), axis=0, return_counts=True)
            round_about = ends.size > 0 and bool(np.all(counts == 2))
            diameter = boundary.length / np.pi
            if name in boundary.parts and round_about and speed * diameter / viscous > VORTICES_REYNOLDS:
                found.append(Wake(diameter, speed, _box(ways.reshape(-1, 2), entry)))
    return found


def _box(body: Array, entry: Array) -> tuple[float, float, float, float]:
    """Around a body and behind it, along the axis that points most from where fluid enters to the body."""
    low, high = body.min(axis=0), body.max(axis=0)
    size, middle = float((high - low).max()), 0.5 * (low + high)
    along = int(np.argmax(np.abs(middle - entry)))
    reach = np.full((2, 2), _BESIDE * size)
    downstream = int(middle[along] > entry[along])
    reach[downstream, along], reach[1 - downstream, along] = _BEHIND * size, _BEFORE * size
    (x0, y0), (x1, y1) = middle - reach[0], middle + reach[1]
    return float(x0), float(y0), float(x1), float(y1)


def wake_fineness(resolved: ResolvedCase, section: PaintedSection) -> float:
    """By what a fineness is multiplied, so that vortices behind bodies in a stream are followed in time; at least 1."""
    return _FINER if wakes(resolved, section) else 1.0


def wake_sizes(resolved: ResolvedCase, section: PaintedSection) -> tuple[LocalSize, ...]:
    """Finer cells where the vortices of a body form: across wide ones they lag, and are shed too slowly.

    Among several bodies gaps ask for fine cells already, and vortices have little room.
    """
    found = wakes(resolved, section)
    return (LocalSize("grid", (), found[0].box, _FINER_BEHIND),) if len(found) == 1 else ()


def wake_step(resolved: ResolvedCase, section: PaintedSection) -> float | None:
    """The longest step, s, in which vortices still grow out of a calm stream; None where none are shed.

    An unsteady wake begins as a disturbance far below any error that steps are chosen by: in the long steps this allows, what
    grows in truth dies out, and the stream stays steady for ever.
    """
    passing = [wake.diameter / wake.speed for wake in wakes(resolved, section)]
    return _SHARE_OF_PASSING * min(passing) if passing else None


def _entering(resolved: ResolvedCase, section: PaintedSection, fluid: str) -> tuple[float, Array | None]:
    """Mean speed at which fluid enters a part, m/s, and the middle of where; 0 and None without a mass flow or velocity."""
    for name, boundary in section.boundaries.items():
        condition = resolved.condition(name)
        if boundary.interface or fluid not in boundary.parts or condition is None:
            continue
        middle = boundary.segments.reshape(-1, 2).mean(axis=0)
        if condition.type == "inlet_velocity":
            return condition.amount, middle
        if condition.type == "inlet_mass":
            density = float(resolved.part(fluid).material.density(condition.temperature))
            return condition.amount / (density * boundary.length * resolved.depth), middle
    return 0.0, None
