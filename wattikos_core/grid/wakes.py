"""How much finer a section is to be gridded where vortices are to be followed in time."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.section import PaintedSection

# Vortices leave a free circular cylinder from here on: Williamson (1996), Annu. Rev. Fluid Mech. 28, 477.
VORTICES_REYNOLDS = 47.0
# At fineness 1 a cylinder in a channel sheds 5 % too slowly and lifts 7 % too much; at this one both are right within 2 % (our own
# solutions against Schäfer and Turek 1996).
_FINER = 1.5
# A boundary goes all round a body when its segments close, to round-off.
_CLOSED = 1e-6


def wake_fineness(resolved: ResolvedCase, section: PaintedSection) -> float:
    """By what a fineness is multiplied, so that vortices behind bodies in a stream are followed in time; at least 1."""
    if resolved.time is None or resolved.axisymmetric:
        return 1.0
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
            if name in boundary.parts and round_about and speed * boundary.length / np.pi / viscous > VORTICES_REYNOLDS:
                return _FINER
    return 1.0


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
