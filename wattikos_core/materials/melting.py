"""Materials that melt: tables over a stretched temperature.

The stretched temperature is the temperature of the solid; over the melting range it goes on by the latent heat over a mean
specific heat; and in the liquid it rises with the temperature again. Enthalpy is close to proportional to it, so that it
serves as the unknown where a temperature that stands still could not: enthalpy method after Voller and Prakash (1987, Int. J.
Heat Mass Transfer 30, 1709). All rows are linear between nodes, and two nodes stand at the ends of the melting range.
"""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

import numpy as np

from wattikos_core.materials.catalogue import Material
from wattikos_core.materials.tables import INTERVALS, Array, Melting, PropertyTable

# How far a table reaches below and above the melting range, K.
_BELOW, _ABOVE = 60.0, 80.0


class _Liquid(NamedTuple):
    """Properties of what has molten, by pairs of temperatures and values; its density beside that in its weight."""

    density: float
    weight: tuple[Array, Array]
    specific_heat: tuple[Array, Array]
    conductivity: tuple[Array, Array]
    viscosity: tuple[Array, Array]


def melting_table(material: Material) -> PropertyTable:
    """The table of a catalogue material that melts."""
    points = np.asarray(material.temperature)

    def liquid(values: tuple[float, ...]) -> tuple[Array, Array]:
        return points, np.asarray(values)

    return _table(
        material.label,
        material.source,
        (material.melts_from, material.melts_to, material.latent_heat),
        (material.solid_density, material.solid_specific_heat, material.solid_conductivity),
        _Liquid(
            material.density,
            liquid(material.density_points),
            liquid(material.specific_heat),
            liquid(material.conductivity),
            liquid(material.viscosity),
        ),
    )


def constant_melting_table(
    label: str,
    *,
    melts: tuple[float, float],
    latent_heat: float,
    density: float,
    specific_heat: tuple[float, float],
    conductivity: tuple[float, float],
    viscosity: float = 1e-3,
    expansion: float = 0.0,
) -> PropertyTable:
    """A material that melts between two temperatures, with pairs of constants for the solid and the liquid.

    Args:
        label: name of the material.
        melts: begin and end of melting, K.
        latent_heat: J/kg.
        density: kg/m3, shape (n_cells,).
        specific_heat: of solid and liquid, J/kg/K.
        conductivity: of solid and liquid, W/m/K.
        viscosity: of the liquid, Pa s.
        expansion: thermal expansion of the liquid, 1/K.
    """
    points = np.array([melts[1], melts[1] + _ABOVE])
    same = np.ones(2)
    liquid = _Liquid(
        density,
        (points, density * (1.0 - expansion * (points - melts[1]))),
        (points, specific_heat[1] * same),
        (points, conductivity[1] * same),
        (points, viscosity * same),
    )
    return _table(label, "given values", (*melts, latent_heat), (density, specific_heat[0], conductivity[0]), liquid)


def with_melting(
    table: PropertyTable, begins: float, ends: float, latent_heat: float, specific_heat: float | None = None
) -> PropertyTable:
    """A table with another melting range (K) and latent heat (J/kg); the properties stay those of its solid and liquid.

    Args:
        table: of the material.
        begins: of melting, K.
        ends: of melting, K.
        latent_heat: J/kg.
        specific_heat: one for both, constant, J/kg/K; their own when None.
    """
    old = table.melting
    assert old is not None
    solid = old.begins - 1.0
    points = np.linspace(old.ends, table.end, 33)
    heat = float(table.specific_heat(solid)) if specific_heat is None else specific_heat
    shifted = np.concatenate([[min(ends, old.ends)], points[1:]])
    return replace(
        _table(
            table.label,
            table.source + "; melting given in the case",
            (begins, ends, latent_heat),
            (float(table.density(solid)), heat, float(table.conductivity(solid))),
            _Liquid(
                float(table.density(old.ends)),
                (shifted, table.heavy_density(points)),
                (shifted, table.specific_heat(points + 1e-6) if specific_heat is None else np.full_like(points, specific_heat)),
                (shifted, table.conductivity(points)),
                (shifted, table.viscosity(points)),
            ),
        ),
        conductivity_ratio=table.conductivity_ratio,
    )


def _table(
    label: str,
    source: str,
    melting: tuple[float, float, float],
    solid: tuple[float, float, float],
    liquid: _Liquid,
) -> PropertyTable:
    """The table of a material that melts: begin, end (K) and latent heat; density, specific heat and conductivity of the solid."""
    begins, ends, latent = melting
    weight, specific_heat, conductivity, viscosity = liquid[1:]
    solid_density, solid_heat, solid_conductivity = solid
    at_ends = float(np.interp(ends, *specific_heat))
    mean_heat = 0.5 * (solid_heat + at_ends)
    stretch = ends - begins + latent / mean_heat
    within = max(round(stretch / (_BELOW + stretch + _ABOVE) * INTERVALS), 1)
    step = stretch / within
    below = min(int(_BELOW / step), INTERVALS - within - 1)
    place = np.arange(INTERVALS + 1)
    share = np.clip((place - below) / within, 0.0, 1.0)
    t = begins + step * np.minimum(place - below, 0) + share * (ends - begins) + step * np.maximum(place - below - within, 0)
    mushy = (place >= below) & (place <= below + within)
    heat = np.where(t < begins, solid_heat, np.interp(t, *specific_heat))
    # Between nodes of the mush, the latent heat and the sensible one that the range takes.
    rise = np.where(
        mushy[:-1] & mushy[1:],
        (latent + mean_heat * (ends - begins)) / within,
        np.where(place[:-1] < below, solid_heat, 0.5 * (heat[:-1] + heat[1:])) * step,
    )
    enthalpy = np.concatenate([[0.0], np.cumsum(rise)])

    def blended(of_solid: float, of_liquid: tuple[Array, Array]) -> Array:
        return (1.0 - share) * of_solid + share * np.interp(np.maximum(t, ends), *of_liquid)

    columns = (
        blended(solid_density, (weight[0], weight[1])),
        enthalpy,
        np.interp(np.maximum(t, ends), *viscosity),
        blended(solid_conductivity, conductivity),
    )
    rows = np.stack([_linear(column, step) for column in columns])
    return PropertyTable(
        label,
        True,
        begins - below * step,
        step,
        np.ascontiguousarray(rows),
        source,
        weight=_linear(np.interp(np.maximum(t, ends), *weight), step),
        melting=Melting(begins, ends, latent, _linear(t, step), _linear(share, step), t),
    )


def _linear(values: Array, step: float) -> Array:
    """Coefficients (INTERVALS, 4) of straight lines between values at the nodes."""
    rows = np.zeros((INTERVALS, 4))
    rows[:, 2], rows[:, 3] = np.diff(values) / step, values[:-1]
    return rows
