"""How much finer a section is to be gridded for the thermal layers that its conditions imply."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.section import PaintedSection

# Layers along warm walls thin out as Ra^-1/4. Up to this Rayleigh number on the height the square cavity is within 1.7 % of its
# Nusselt number on the grid of fineness 1 (our own solutions against de Vahl Davis 1983 and Le Quéré 1991).
_RESOLVED = 3e5
_MOST = 3.0


def layer_fineness(resolved: ResolvedCase, section: PaintedSection) -> float:
    """By what a fineness is multiplied, so that natural convection in closed fluids is resolved; at least 1."""
    pull = float(np.hypot(*resolved.gravity))
    given = list(resolved.temperatures_given)
    if resolved.time is not None:
        # A run in time spans what it begins with, too; its layers are as thin as those of a steady state with such differences.
        begins = [resolved.time.temperature, *resolved.time.part_temperatures.values()]
        given += [t for t in begins if isinstance(t, float)]
    if pull == 0.0 or len(given) < 2 or max(given) <= min(given):
        return 1.0
    factor = 1.0
    fed = {c.boundary for c in resolved.conditions if c.type.startswith("inlet") or c.type in ("outlet", "opening", "periodic")}
    for name, fluid in zip(section.names, section.fluid, strict=True):
        mine = [boundary for boundary in section.boundaries.values() if name in boundary.parts]
        table = resolved.part(name).material
        if not fluid or table.melting is not None or not mine or any(boundary.name in fed for boundary in mine):
            continue
        ends = np.concatenate([np.asarray(boundary.segments, dtype=float).reshape(-1, 2) for boundary in mine])
        height = float(np.ptp(ends @ np.asarray(resolved.gravity))) / pull
        middle = 0.5 * (min(given) + max(given))
        density = float(table.density(middle))
        spread = float(np.ptp(table.heavy_density(np.linspace(min(given), max(given), 9)))) / density
        viscous = float(table.viscosity(middle)) / density
        thermal = float(table.conductivity(middle)) / (density * float(table.specific_heat(middle)))
        rayleigh = pull * spread * height**3 / (viscous * thermal)
        factor = max(factor, (rayleigh / _RESOLVED) ** 0.25)
    return min(factor, _MOST)
