"""Property tables: cubic splines in temperature, built once per material and pressure.

Enthalpy is tabulated and specific heat is the derivative of its spline, so that the two agree exactly and an energy
balance in enthalpy closes to round-off. A material that melts is tabulated over a stretched temperature, in which its
latent heat takes a stretch of its own (see `melting`). Outside its range a table keeps the properties of its end point and
continues the enthalpy with the end point's specific heat; leaving the range is reported as a finding, never silently used.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline, PchipInterpolator

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.materials.catalogue import Material, find

Array = NDArray[np.float64]
# One value gives one value, an array an array.
T = TypeVar("T", float, Array)

PROPERTIES = ("density", "enthalpy", "viscosity", "conductivity")
INTERVALS = 256


@dataclass(frozen=True)
class Melting:
    """How a material melts.

    Attributes:
        begins, ends: melting range, K; `latent_heat` J/kg.
        temperature, liquid: rows of coefficients like those of the table, over the stretched temperature.
        nodes: shape (INTERVALS + 1,), temperatures at the table's nodes, ascending.
    """

    begins: float
    ends: float
    latent_heat: float
    temperature: Array
    liquid: Array
    nodes: Array


@dataclass(frozen=True)
class PropertyTable:
    """Spline coefficients of density, enthalpy, viscosity and conductivity on a uniform temperature axis.

    Attributes:
        coefficients: shape (4 properties, INTERVALS, 4), highest power first, in the distance from the interval's start.
        start, step: temperature axis in K; stretched in a material that melts.
        conductivity_ratio: conductivity along y over that along x (orthotropic solids).
        gas: whether it fills what holds it; `pressure` is that of the properties, Pa.
        weight: coefficients (INTERVALS, 4) of the density in the weight, where it is another than the density.
        melting: how it melts; None when it does not.
    """

    label: str
    fluid: bool
    start: float
    step: float
    coefficients: Array
    source: str
    conductivity_ratio: float = 1.0
    gas: bool = False
    pressure: float = 101325.0
    weight: Array | None = None
    melting: Melting | None = None

    @property
    def start_temperature(self) -> float:
        """The lowest temperature of the table, K."""
        return self.start if self.melting is None else float(self.melting.nodes[0])

    @property
    def end(self) -> float:
        """The highest temperature of the table, K."""
        return self.start + self.step * INTERVALS if self.melting is None else float(self.melting.nodes[-1])

    def stretched(self, temperature: Array | float) -> Array:
        """The stretched temperature at temperatures (K): the same where nothing melts."""
        t = np.asarray(temperature, dtype=float)
        if self.melting is None:
            return t
        nodes = self.start + self.step * np.arange(INTERVALS + 1)
        beyond = np.minimum(t - self.start_temperature, 0.0) + np.maximum(t - self.end, 0.0)
        return np.asarray(np.interp(t, self.melting.nodes, nodes) + beyond)

    @cached_property
    def melting_range(self) -> tuple[float, float] | None:
        """The stretched temperatures at which melting begins and ends, K; None where nothing melts."""
        if self.melting is None:
            return None
        begins, ends = self.stretched(np.array([self.melting.begins, self.melting.ends]))
        return float(begins), float(ends)

    @property
    def stretch(self) -> float:
        """By how much melting lengthens the range of the stretched temperature, K; 0 where nothing melts."""
        if self.melting is None or self.melting_range is None:
            return 0.0
        begins, ends = self.melting_range
        return (ends - begins) - (self.melting.ends - self.melting.begins)

    def heavy_density(self, temperature: T) -> T:
        """Density in the weight, kg/m3."""
        if self.weight is None:
            return self.density(temperature)
        rows = replace(self, coefficients=np.stack([self.weight, *self.coefficients[1:]]))
        return rows.density(temperature)

    @cached_property
    def _lists(self) -> list[list[list[float]]]:
        return [[list(map(float, cell)) for cell in rows] for rows in self.coefficients]

    def _at_one(self, index: int, t: float, derivative: bool) -> float:
        """Without arrays: hand calculations ask for single values, thousands of times."""
        if self.melting is not None:
            t = float(self.stretched(t))
        start, step = self.start, self.step
        last = start + step * INTERVALS
        inside = start if t < start else last if t > last else t
        cell = int((inside - start) / step)
        if cell == INTERVALS:
            cell -= 1
        x = inside - (start + cell * step)
        a, b, c, d = self._lists[index][cell]
        if derivative:
            return (3.0 * a * x + 2.0 * b) * x + c
        value = ((a * x + b) * x + c) * x + d
        return value + ((3.0 * a * x + 2.0 * b) * x + c) * (t - inside) if index == 1 and t != inside else value

    def _at(self, index: int, temperature: T, derivative: bool = False) -> T:
        if isinstance(temperature, int | float):
            return self._at_one(index, float(temperature), derivative)
        t = self.stretched(temperature)
        inside = np.clip(t, self.start, self.start + self.step * INTERVALS)
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

    def density(self, temperature: T) -> T:
        """Density in kg/m3."""
        return self._at(0, temperature)

    def enthalpy(self, temperature: T) -> T:
        """Specific enthalpy in J/kg, zero at the start of the table."""
        return self._at(1, temperature)

    def specific_heat(self, temperature: T) -> T:
        """Specific heat in J/kg/K."""
        return self._at(1, temperature, derivative=True)

    def viscosity(self, temperature: T) -> T:
        """Dynamic viscosity in Pa s; 0 for solids."""
        return self._at(2, temperature)

    def conductivity(self, temperature: T) -> T:
        """Thermal conductivity in W/m/K."""
        return self._at(3, temperature)

    def prandtl(self, temperature: T) -> T:
        """Prandtl number."""
        return self.viscosity(temperature) * self.specific_heat(temperature) / self.conductivity(temperature)

    def temperature_of(self, enthalpy: T, guess: T) -> T:
        """The temperatures (K) at which the specific enthalpy is `enthalpy`, by Newton's method from `guess`."""
        if isinstance(enthalpy, int | float) and isinstance(guess, int | float):
            one = float(guess)
            for _ in range(50):
                step = (self._at_one(1, one, False) - enthalpy) / self._at_one(1, one, True)
                one -= step
                if abs(step) < 1e-10:
                    break
            return one
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


def with_matrix(fluid: PropertyTable, solid: PropertyTable, porosity: float) -> PropertyTable:
    """A fluid that fills a share of a solid: it conducts as both side by side, each by its share.

    The upper bound of what a mixture conducts, after Wiener (1912); common practice where fluid and matrix are alike warm.
    """
    nodes: Array = np.asarray(fluid.start + fluid.step * np.arange(INTERVALS + 1), dtype=np.float64)
    conductivity = porosity * fluid.conductivity(nodes) + (1.0 - porosity) * solid.conductivity(nodes)
    coefficients = fluid.coefficients.copy()
    coefficients[3] = CubicSpline(nodes, conductivity).c.T
    return replace(fluid, coefficients=coefficients, source=f"{fluid.source}; conducts beside {solid.label}")


def expanding(table: PropertyTable, expansion: float, reference: float = 293.15) -> PropertyTable:
    """`table` with a density in the weight that falls linearly by `expansion` (1/K) from its density at `reference` (K)."""
    nodes = table.start + table.step * np.arange(INTERVALS) if table.melting is None else table.melting.nodes[:-1]
    slope = 1.0 if table.melting is None else table.melting.temperature[:, 2]
    at = float(table.density(reference))
    weight = np.zeros((INTERVALS, 4))
    weight[:, 2], weight[:, 3] = -expansion * at * slope, at * (1.0 - expansion * (nodes - reference))
    return replace(table, weight=weight)


@lru_cache(maxsize=64)
def table_of(key: str, pressure: float | None = None) -> PropertyTable:
    """The table of catalogue material `key` at `pressure` (Pa; the catalogue's own when None).

    Raises:
        CaseError: the fluid is not a liquid at that pressure, or the pressure is outside the data.

    Example:
        >>> round(float(table_of("water").density(293.15)), 1)
        998.2
    """
    material = find(key)
    if material.state == "solid":
        return _solid_table(material)
    if material.state == "melting":
        from wattikos_core.materials.melting import melting_table

        return melting_table(material)
    if not material.backend:
        return _tabled_fluid(material)
    return _fluid_table(material, material.pressure if pressure is None else pressure)


def _tabled_fluid(material: Material) -> PropertyTable:
    """A liquid of support points, joined without swings; its viscosity on a logarithmic scale."""
    points = np.asarray(material.temperature)
    t = np.linspace(points[0], points[-1], INTERVALS + 1)
    density, heat, conductivity = (
        PchipInterpolator(points, column)(t) for column in (material.density_points, material.specific_heat, material.conductivity)
    )
    viscosity = np.exp(PchipInterpolator(points, np.log(material.viscosity))(t))
    enthalpy = np.concatenate([[0.0], np.cumsum(0.5 * (heat[1:] + heat[:-1]) * np.diff(t))])
    return _from_samples(material.label, True, t, (density, enthalpy, viscosity, conductivity), material.source)


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
        lowest, highest = material.temperature_min, material.temperature_max
        if backend == "HEOS":
            liquid = material.phase == "liquid"
            if liquid or (pressure < state.p_critical() and pressure > state.keyed_output(CoolProp.iP_triple)):
                boiling = CoolProp.AbstractState(backend, name)
                boiling.update(CoolProp.PQ_INPUTS, pressure, 0.0 if liquid else 1.0)
                highest = min(highest, boiling.T() - 0.01) if liquid else highest
                lowest = lowest if liquid else max(lowest, boiling.T() + 0.01)
            state.specify_phase(CoolProp.iphase_liquid if material.phase == "liquid" else CoolProp.iphase_gas)
        t = np.linspace(lowest, highest, INTERVALS + 1)
        samples = np.empty((4, t.size))
        for i, temperature in enumerate(t):
            state.update(CoolProp.PT_INPUTS, pressure, float(temperature))
            samples[:, i] = state.rhomass(), state.hmass(), state.viscosity(), state.conductivity()
    except ValueError as error:
        problem = f"{material.label} has no properties at {pressure:g} Pa ({error})"
        raise CaseError(InputProblem("materials", problem, "choose a pressure at which it is in its usual state")) from error
    samples[1] -= samples[1, 0]
    table = _from_samples(material.label, True, t, (samples[0], samples[1], samples[2], samples[3]), material.source)
    return replace(table, gas=material.phase == "gas", pressure=pressure)
