"""Properties of every cell from the tables of its material."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import Array, Index

# A gas is taken to keep at least this share of the pressure of its table, on the way to a solution.
_LEAST_FILLING = 0.02
# Rows of the property tables.
DENSITY, ENTHALPY, VISCOSITY, CONDUCTIVITY, WEIGHT, TEMPERATURE, LIQUID, CARRIED = range(8)


class Tables(NamedTuple):
    """Property tables of all materials over the stretched temperature, which is the temperature where nothing melts.

    Attributes:
        coefficients: (n_materials, 8, n_intervals, 4): density, enthalpy, viscosity, conductivity, density in the weight,
            temperature, liquid fraction, and the enthalpy of what flows (see `carried_at`).
        start, step: K.
        melts: 1 for materials that melt, whose temperature is looked up.
        shift: by how much the stretched temperature of a liquid is above its temperature, K.
    """

    coefficients: Array
    start: Array
    step: Array
    melts: Index
    shift: Array


class Gases(NamedTuple):
    """How the density of gases follows pressure.

    Attributes:
        charge: mass of gas in each closed body of fluid, kg; 0 where density does not depend on it.
        elastic: per material, by what share of its density a gas is denser for each Pa above the pressure of its table, 1/Pa;
            0 where density does not follow the local pressure.
    """

    charge: Array
    elastic: Array


class Properties(NamedTuple):
    """Properties of every cell, shape (n_cells,) each, SI.

    Attributes:
        weight: density in the weight.
        carried: enthalpy of what flows (see `carried_at`).
        filling: pressure of a gas as a share of that of its table: of a closed one as a whole, of one that flows its local one; 1
            elsewhere.
    """

    density: Array
    enthalpy: Array
    viscosity: Array
    conductivity: Array
    weight: Array
    temperature: Array
    carried: Array
    filling: Array


@njit(cache=True, error_model="numpy", inline="always")
def property_at(tables: Tables, material: int, index: int, temperature: float) -> float:
    """Property `index` of a material at a (stretched) temperature; enthalpy and temperature go on beyond the table."""
    start = tables.start[material]
    step = tables.step[material]
    n = tables.coefficients.shape[2]
    inside = min(max(temperature, start), start + n * step)
    cell = min(int((inside - start) / step), n - 1)
    x = inside - (start + cell * step)
    # Read one by one: a view of the four would cost more than all the rest.
    c = tables.coefficients
    c0, c1, c2 = c[material, index, cell, 0], c[material, index, cell, 1], c[material, index, cell, 2]
    value = ((c0 * x + c1) * x + c2) * x + c[material, index, cell, 3]
    if index == ENTHALPY or index == TEMPERATURE or index == CARRIED:
        value += ((3.0 * c0 * x + 2.0 * c1) * x + c2) * (temperature - inside)
    return float(value)


@njit(cache=True, error_model="numpy", nogil=True)
def slope_at(tables: Tables, material: int, index: int, temperature: float) -> float:
    """Derivative of property `index`: of enthalpy the specific heat, of temperature how it follows its stretched one."""
    start = tables.start[material]
    step = tables.step[material]
    n = tables.coefficients.shape[2]
    inside = min(max(temperature, start), start + n * step)
    cell = min(int((inside - start) / step), n - 1)
    x = inside - (start + cell * step)
    c = tables.coefficients[material, index, cell]
    return float((3.0 * c[0] * x + 2.0 * c[1]) * x + c[2])


@njit(cache=True, error_model="numpy", inline="always")
def carried_at(tables: Tables, material: int, temperature: float) -> float:
    """Enthalpy that a material carries along at a temperature: that of its liquid, for in the mush the solid stays where it is.

    Bennon and Incropera (1987, Int. J. Heat Mass Transfer 30, 2161). Where nothing melts it is the enthalpy.
    """
    return float(property_at(tables, material, CARRIED, temperature + tables.shift[material]))


@njit(cache=True, error_model="numpy", nogil=True)
def specific_heat_at(tables: Tables, material: int, temperature: float) -> float:
    """Specific heat of what flows at a temperature: the derivative of the enthalpy it carries."""
    return float(slope_at(tables, material, CARRIED, temperature + tables.shift[material]))


@njit(cache=True, error_model="numpy", nogil=True)
def cell_properties(cells: Cells, tables: Tables, gases: Gases, heavy: bool, t: Array, p: Array) -> Properties:
    """Properties of every cell at its (stretched) temperature `t` and, where a gas follows it, its pressure `p`.

    Args:
        cells: cell data.
        tables: property tables.
        gases: how the density of gases follows pressure.
        heavy: whether there is gravity; without it the density in the weight is not looked up.
        t: (stretched) temperature, K, shape (n_cells,).
        p: pressure, Pa, shape (n_cells,).
    """
    n = t.size
    rho, h, mu, k = np.empty(n), np.empty(n), np.empty(n), np.empty(n)
    weight, temperature, carried, filling = np.empty(n), np.empty(n), np.empty(n), np.ones(n)
    for c in range(n):
        m = cells.material[c]
        rho[c] = property_at(tables, m, DENSITY, t[c])
        h[c] = property_at(tables, m, ENTHALPY, t[c])
        mu[c] = property_at(tables, m, VISCOSITY, t[c])
        k[c] = property_at(tables, m, CONDUCTIVITY, t[c])
        weight[c] = property_at(tables, m, WEIGHT, t[c]) if heavy else rho[c]
        temperature[c] = property_at(tables, m, TEMPERATURE, t[c]) if tables.melts[m] == 1 else t[c]
        carried[c] = carried_at(tables, m, temperature[c]) if tables.melts[m] == 1 else h[c]
        if gases.elastic[m] > 0.0:
            filling[c] = max(1.0 + p[c] * gases.elastic[m], _LEAST_FILLING)
            rho[c] *= filling[c]
            weight[c] *= filling[c]
    closed = False
    for b in range(gases.charge.size):
        closed = closed or gases.charge[b] > 0.0
    if closed:
        mass = np.zeros(gases.charge.size)
        for c in range(n):
            if cells.body[c] >= 0:
                mass[cells.body[c]] += rho[c] / filling[c] * cells.volume[c]
        for c in range(n):
            b = cells.body[c]
            if b >= 0 and gases.charge[b] > 0.0:
                share = gases.charge[b] / mass[b]
                rho[c] *= share / filling[c]
                weight[c] *= share / filling[c]
                filling[c] = share
    return Properties(rho, h, mu, k, weight, temperature, carried, filling)


@njit(cache=True, error_model="numpy", nogil=True)
def liquid_fractions(cells: Cells, tables: Tables, t: Array) -> Array:
    """Share of liquid in every cell of a material that melts, NaN elsewhere."""
    share = np.full(t.size, np.nan)
    for c in range(t.size):
        if tables.melts[cells.material[c]] == 1:
            share[c] = property_at(tables, cells.material[c], LIQUID, t[c])
    return share


@njit(cache=True, error_model="numpy", nogil=True)
def temperature_slopes(cells: Cells, tables: Tables, t: Array) -> Array:
    """How the temperature of each cell follows its stretched one; 1 where nothing melts."""
    slope = np.ones(t.size)
    for c in range(t.size):
        if tables.melts[cells.material[c]] == 1:
            slope[c] = slope_at(tables, cells.material[c], TEMPERATURE, t[c])
    return slope


@njit(cache=True, error_model="numpy", nogil=True)
def specific_heats(cells: Cells, tables: Tables, t: Array) -> Array:
    """Derivative of each cell's enthalpy by its (stretched) temperature, J/kg/K."""
    heat = np.empty(t.size)
    for c in range(t.size):
        heat[c] = slope_at(tables, cells.material[c], ENTHALPY, t[c])
    return heat


@njit(cache=True, error_model="numpy", nogil=True)
def weight_slopes(cells: Cells, tables: Tables, filling: Array, stretched: Array) -> Array:
    """How the density in the weight answers to the (stretched) temperature, kg/m3/K."""
    slopes = np.zeros(stretched.size)
    for c in range(stretched.size):
        if cells.fluid[c] == 1:
            slopes[c] = slope_at(tables, cells.material[c], WEIGHT, stretched[c]) * filling[c]
    return slopes
