"""Property tables: cubic splines in temperature, built once per material and pressure.

Enthalpy is tabulated and specific heat is the derivative of its spline, so that the two agree exactly and an energy
balance in enthalpy closes to round-off. Outside its range a table keeps the properties of its end point and continues
the enthalpy with the end point's specific heat; leaving the range is reported as a finding, never silently used.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from wattikos_core.errors import CaseError, Problem
from wattikos_core.materials.catalogue import Material, find

Array = NDArray[np.float64]

PROPERTIES = ("density", "enthalpy", "viscosity", "conductivity")
INTERVALS = 256


@dataclass(frozen=True)
class PropertyTable:
    """Spline coefficients of density, enthalpy, viscosity and conductivity on a uniform temperature axis.

    Attributes:
        coefficients: shape (4 properties, INTERVALS, 4), highest power first, in the distance from the interval's start.
        start, step: temperature axis in K.
        conductivity_ratio: conductivity along y over that along x (orthotropic solids).
    """

    label: str
    fluid: bool
    start: float
    step: float
    coefficients: Array
    source: str
    conductivity_ratio: float = 1.0

    @property
    def end(self) -> float:
        """The highest temperature of the table, K."""
        return self.start + self.step * INTERVALS

    def _at(self, index: int, temperature: Array | float, derivative: bool = False) -> Array:
        t = np.asarray(temperature, dtype=float)
        inside = np.clip(t, self.start, self.end)
        cell = np.minimum(((inside - self.start) / self.step).astype(np.int64), INTERVALS - 1)
        x = inside - (self.start + cell * self.step)
        c = self.coefficients[index, cell]
        slope = (3.0 * c[..., 0] * x + 2.0 * c[..., 1]) * x + c[..., 2]
        if derivative:
            return np.asarray(slope)
        value = ((c[..., 0] * x + c[..., 1]) * x + c[..., 2]) * x + c[..., 3]
        if index == 1:
            value = value + slope * (t - inside)
        return np.asarray(value)

    def density(self, temperature: Array | float) -> Array:
        """Density in kg/m3."""
        return self._at(0, temperature)

    def enthalpy(self, temperature: Array | float) -> Array:
        """Specific enthalpy in J/kg, zero at the start of the table."""
        return self._at(1, temperature)

    def specific_heat(self, temperature: Array | float) -> Array:
        """Specific heat in J/kg/K."""
        return self._at(1, temperature, derivative=True)

    def viscosity(self, temperature: Array | float) -> Array:
        """Dynamic viscosity in Pa s; 0 for solids."""
        return self._at(2, temperature)

    def conductivity(self, temperature: Array | float) -> Array:
        """Thermal conductivity in W/m/K."""
        return self._at(3, temperature)

    def prandtl(self, temperature: Array | float) -> Array:
        """Prandtl number."""
        return self.viscosity(temperature) * self.specific_heat(temperature) / self.conductivity(temperature)

    def temperature_of(self, enthalpy: Array | float, guess: Array | float) -> Array:
        """The temperatures (K) at which the specific enthalpy is `enthalpy`, by Newton's method from `guess`."""
        wanted = np.asarray(enthalpy, dtype=float)
        t = np.broadcast_to(np.asarray(guess, dtype=float), wanted.shape).copy()
        for _ in range(50):
            change = (self.enthalpy(t) - wanted) / self.specific_heat(t)
            t = t - change
            if float(np.max(np.abs(change), initial=0.0)) < 1e-10:
                break
        return t


def _from_samples(label: str, fluid: bool, t: Array, columns: tuple[Array, Array, Array, Array], source: str) -> PropertyTable:
    coefficients = np.stack([np.moveaxis(CubicSpline(t, column).c, 0, 1) for column in columns])
    return PropertyTable(label, fluid, float(t[0]), float(t[1] - t[0]), np.ascontiguousarray(coefficients), source)


def constant_table(
    label: str, *, density: float, specific_heat: float, viscosity: float, conductivity: float, source: str = "given values"
) -> PropertyTable:
    """A table of constant properties (viscosity 0 makes a solid), valid from 1 K to 5000 K."""
    t = np.linspace(1.0, 5000.0, INTERVALS + 1)
    one = np.ones_like(t)
    columns = (density * one, specific_heat * (t - t[0]), viscosity * one, conductivity * one)
    return _from_samples(label, viscosity > 0.0, t, columns, source)


def override(
    table: PropertyTable,
    *,
    density: float | None = None,
    specific_heat: float | None = None,
    viscosity: float | None = None,
    conductivity: float | None = None,
    conductivity_y: float | None = None,
) -> PropertyTable:
    """`table` with some properties replaced by constants; the ratio of conductivities is that at room temperature."""
    coefficients = table.coefficients.copy()
    for index, value in ((0, density), (2, viscosity), (3, conductivity)):
        if value is not None:
            coefficients[index] = 0.0
            coefficients[index, :, 3] = value
    if specific_heat is not None:
        coefficients[1] = 0.0
        coefficients[1, :, 2] = specific_heat
        coefficients[1, :, 3] = specific_heat * table.step * np.arange(INTERVALS)
    source = table.source + "; some values given in the case"
    changed = replace(table, coefficients=coefficients, source=source)
    if conductivity_y is None:
        return changed
    return replace(changed, conductivity_ratio=conductivity_y / float(changed.conductivity(300.0)))


@lru_cache(maxsize=64)
def table_of(key: str, pressure: float | None = None) -> PropertyTable:
    """The table of catalogue material `key` at `pressure` (Pa; the catalogue's own when None).

    Raises:
        CaseError: the fluid is not a liquid at that pressure, or the pressure is outside the data.
    """
    material = find(key)
    if material.state == "solid":
        return _solid_table(material)
    return _fluid_table(material, material.pressure if pressure is None else pressure)


def _solid_table(material: Material) -> PropertyTable:
    points = np.asarray(material.temperature)
    t = np.linspace(points[0], points[-1], INTERVALS + 1)
    heat = np.interp(t, points, material.specific_heat)
    enthalpy = np.concatenate([[0.0], np.cumsum(0.5 * (heat[1:] + heat[:-1]) * np.diff(t))])
    columns = (np.full_like(t, material.density), enthalpy, np.zeros_like(t), np.interp(t, points, material.conductivity))
    return _from_samples(material.label, False, t, columns, material.source)


def _fluid_table(material: Material, pressure: float) -> PropertyTable:
    import CoolProp  # slow to import; only processes that need a new table pay for it

    backend, name = material.backend.split("::")
    fraction = None
    if "[" in name:
        name, rest = name.split("[")
        fraction = float(rest.rstrip("]"))
    try:
        state = CoolProp.AbstractState(backend, name)
        if fraction is not None:
            state.set_mass_fractions([fraction])
        highest = material.temperature_max
        if backend == "HEOS":
            if material.phase == "liquid":
                boiling = CoolProp.AbstractState(backend, name)
                boiling.update(CoolProp.PQ_INPUTS, pressure, 0.0)
                highest = min(highest, boiling.T() - 0.01)
            state.specify_phase(CoolProp.iphase_liquid if material.phase == "liquid" else CoolProp.iphase_gas)
        t = np.linspace(material.temperature_min, highest, INTERVALS + 1)
        samples = np.empty((4, t.size))
        for i, temperature in enumerate(t):
            state.update(CoolProp.PT_INPUTS, pressure, float(temperature))
            samples[:, i] = state.rhomass(), state.hmass(), state.viscosity(), state.conductivity()
    except ValueError as error:
        problem = f"{material.label} has no properties at {pressure:g} Pa ({error})"
        raise CaseError(Problem("materials", problem, "choose a pressure at which it is in its usual state")) from error
    samples[1] -= samples[1, 0]
    return _from_samples(material.label, True, t, (samples[0], samples[1], samples[2], samples[3]), material.source)
