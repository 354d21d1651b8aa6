"""Vortices behind bodies: how much finer their section is gridded, and how long a step may be, where they are followed in time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.section import PaintedSection

# Vortices leave a free circular cylinder from here on: Williamson (1996), Annu. Rev. Fluid Mech. 28, 477.
VORTICES_REYNOLDS = 47.0
# At fineness 1 a cylinder in a channel sheds 5 % too slowly and lifts 7 % too much; at this one both are right within 2 % (our own
# solutions against Schäfer and Turek 1996).
_FINER = 1.5
# The longest step as a share of the time a stream takes past a diameter: a twenty-fifth of a period at a Strouhal number of 0.2.
_SHARE_OF_PASSING = 0.2
# A boundary goes all round a body when its segments close, to round-off.
_CLOSED = 1e-6


@dataclass(frozen=True)
class Wake:
    """A body all round in a stream that sheds vortices: its diameter, m, and the mean speed of what enters, m/s."""

    diameter: float
    speed: float


def wakes(resolved: ResolvedCase, section: PaintedSection) -> list[Wake]:
    """The bodies behind which vortices are to be followed; none in steady state."""
    found: list[Wake] = []
    if resolved.time is None or resolved.axisymmetric:
        return found
    for name, fluid in zip(section.names, section.fluid, strict=True):
        speed = _speed(resolved, section, name)
        if not fluid or speed == 0.0:
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
                found.append(Wake(diameter, speed))
    return found


def wake_fineness(resolved: ResolvedCase, section: PaintedSection) -> float:
    """By what a fineness is multiplied, so that vortices behind bodies in a stream are followed in time; at least 1."""
    return _FINER if wakes(resolved, section) else 1.0


def wake_step(resolved: ResolvedCase, section: PaintedSection) -> float | None:
    """The longest step, s, in which vortices still grow out of a calm stream; None where none are shed.

    An unsteady wake begins as a disturbance far below any error that steps are chosen by: in the long steps this allows, what
    grows in truth dies out, and the stream stays steady for ever.
    """
    passing = [wake.diameter / wake.speed for wake in wakes(resolved, section)]
    return _SHARE_OF_PASSING * min(passing) if passing else None


def _speed(resolved: ResolvedCase, section: PaintedSection, fluid: str) -> float:
    """Mean speed at which fluid enters a part, m/s; 0 where none enters by a mass flow or velocity."""
    for name, boundary in section.boundaries.items():
        condition = resolved.condition(name)
        if boundary.interface or fluid not in boundary.parts or condition is None:
            continue
        if condition.type == "inlet_velocity":
            return condition.amount
        if condition.type == "inlet_mass":
            density = float(resolved.part(fluid).material.density(condition.temperature))
            return condition.amount / (density * boundary.length * resolved.depth)
    return 0.0
