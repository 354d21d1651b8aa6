"""How thin cells next to walls are to be where the flow is turbulent."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.section import PaintedSection
from wattikos_core.section.checks import on_axis
from wattikos_core.section.regimes import Regime, turbulent_parts

# y⁺ that the centres of first cells are to have at fineness 1: layers resolved to the wall, or left to the wall treatment.
RESOLVED_PLUS, COARSE_PLUS = 1.0, 50.0
# Within the roughness there is no layer to resolve: centres are no nearer to a rough wall than this share of it.
_WITHIN_ROUGHNESS = 0.05
# Streams are faster beside bodies than where they enter.
_FASTER_BESIDE_BODIES = 1.5
# Friction speed of a layer that weight drives, as a share of √(g Δρ/ρ H) (our own solutions).
_OF_WEIGHT = 0.05


def first_heights(resolved: ResolvedCase, section: PaintedSection) -> dict[str, float]:
    """Height of first cells at fineness 1 for each part whose flow is turbulent, m."""
    target = COARSE_PLUS if resolved.case.grid.layers == "coarse" else RESOLVED_PLUS
    return {
        part: 2.0
        * max(target * regime.viscosity / friction_speed(regime), _WITHIN_ROUGHNESS * _least_roughness(resolved, section, part))
        for part, regime in turbulent_parts(resolved, section).items()
    }


def _least_roughness(resolved: ResolvedCase, section: PaintedSection, part: str) -> float:
    """Equivalent sand roughness of the smoothest wall of a part of fluid, m."""
    found = []
    for name, boundary in section.boundaries.items():
        condition = resolved.condition(name)
        if part not in boundary.parts or on_axis(resolved, boundary):
            continue
        between_fluids = boundary.interface and all(section.fluid[section.names.index(p)] for p in boundary.parts)
        if not between_fluids and (boundary.interface or condition is None or condition.kind == "wall"):
            found.append(resolved.roughness(name))
    return min(found, default=0.0)


def friction_speed(regime: Regime) -> float:
    """Estimated √(τ/ρ) on walls, m/s: of a smooth duct by Petukhov (1970, Adv. Heat Transfer 6, 503), whatever it is."""
    if regime.weight:
        return _OF_WEIGHT * regime.speed
    reynolds = max(regime.number, 3000.0)
    friction = (0.79 * np.log(reynolds) - 1.64) ** -2
    faster = 1.0 if regime.of == "hydraulic diameter" else _FASTER_BESIDE_BODIES
    return float(faster * regime.speed * np.sqrt(friction / 8.0))
