"""Properties of every cell from the tables of its material, and the forces on it."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.faces import Array, Index

# A gas is taken to keep at least this share of the pressure of its table, on the way to a solution.
_LEAST_FILLING = 0.02
# Rows of the property tables.
DENSITY, ENTHALPY, VISCOSITY, CONDUCTIVITY, WEIGHT, TEMPERATURE, LIQUID, CARRIED = range(8)


class Cells(NamedTuple):
    """Cell data for the kernels.

    Attributes:
        volume, radius: m3, m (0 in flat sections).
        material: index of the property table of each cell.
        fluid: 1 where there is fluid that moves.
        pin: 1 where the pressure level is fixed in place of a continuity row.
        source: W/m3.
        body: number of the connected body of fluid, -1 in solids.
        low, high: temperatures that nothing here can leave, by what is given, K; infinite where there is no such bound.
    """

    volume: Array
    radius: Array
    material: Index
    fluid: Index
    pin: Index
    source: Array
    body: Index
    low: Array
    high: Array


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


class Forces(NamedTuple):
    """What moves the fluid beside its boundaries, and what hinders it.

    Attributes:
        gravity: m/s2, shape (2,).
        level: density per material that weight is counted against, kg/m3: the pressure is that beyond its column.
        drive: uniform force that stands for a pressure falling along repeated modules, N/m3, shape (2,).
        swirl: 1 where fluid turns about the axis of the section.
        heating: 1 where friction heats the fluid.
        mush: resistance of the mush between solid and liquid, kg/m3/s (Voller and Prakash).
        charge: mass of gas in each closed body of fluid, kg; 0 where density does not depend on it.
        elastic: per material, by what share of its density a gas is denser for each Pa above the pressure of its table, 1/Pa;
            0 where density does not follow the local pressure.
        ratio, jump, about: a temperature T is about + ratio (T - about) + jump one module further on, K.
    """

    gravity: Array
    level: Array
    drive: Array
    swirl: int
    heating: int
    mush: float
    charge: Array
    elastic: Array
    ratio: float = 1.0
    jump: float = 0.0
    about: float = 0.0


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


@njit(cache=True, error_model="numpy")
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


@njit(cache=True, error_model="numpy")
def specific_heat_at(tables: Tables, material: int, temperature: float) -> float:
    """Specific heat of what flows at a temperature: the derivative of the enthalpy it carries."""
    return float(slope_at(tables, material, CARRIED, temperature + tables.shift[material]))


@njit(cache=True, error_model="numpy")
def cell_properties(cells: Cells, tables: Tables, forces: Forces, t: Array, p: Array) -> Properties:
    """Properties of every cell at its (stretched) temperature `t` and, where a gas follows it, its pressure `p`."""
    n = t.size
    rho, h, mu, k = np.empty(n), np.empty(n), np.empty(n), np.empty(n)
    weight, temperature, carried, filling = np.empty(n), np.empty(n), np.empty(n), np.ones(n)
    heavy = forces.gravity[0] != 0.0 or forces.gravity[1] != 0.0
    for c in range(n):
        m = cells.material[c]
        rho[c] = property_at(tables, m, DENSITY, t[c])
        h[c] = property_at(tables, m, ENTHALPY, t[c])
        mu[c] = property_at(tables, m, VISCOSITY, t[c])
        k[c] = property_at(tables, m, CONDUCTIVITY, t[c])
        weight[c] = property_at(tables, m, WEIGHT, t[c]) if heavy else rho[c]
        temperature[c] = property_at(tables, m, TEMPERATURE, t[c]) if tables.melts[m] == 1 else t[c]
        carried[c] = carried_at(tables, m, temperature[c]) if tables.melts[m] == 1 else h[c]
        if forces.elastic[m] > 0.0:
            filling[c] = max(1.0 + p[c] * forces.elastic[m], _LEAST_FILLING)
            rho[c] *= filling[c]
            weight[c] *= filling[c]
    closed = False
    for b in range(forces.charge.size):
        closed = closed or forces.charge[b] > 0.0
    if closed:
        mass = np.zeros(forces.charge.size)
        for c in range(n):
            if cells.body[c] >= 0:
                mass[cells.body[c]] += rho[c] / filling[c] * cells.volume[c]
        for c in range(n):
            b = cells.body[c]
            if b >= 0 and forces.charge[b] > 0.0:
                share = forces.charge[b] / mass[b]
                rho[c] *= share / filling[c]
                weight[c] *= share / filling[c]
                filling[c] = share
    return Properties(rho, h, mu, k, weight, temperature, carried, filling)


@njit(cache=True, error_model="numpy")
def body_force(cells: Cells, forces: Forces, properties: Properties, spin: Array) -> tuple[Array, Array]:
    """Force on the fluid of every cell, N/m3: weight beyond that of the reference density, drive, and swirl."""
    n = spin.size
    fx, fy = np.zeros(n), np.zeros(n)
    for c in range(n):
        if cells.fluid[c] == 0:
            continue
        extra = properties.weight[c] - forces.level[cells.material[c]]
        fx[c] = extra * forces.gravity[0] + forces.drive[0]
        fy[c] = extra * forces.gravity[1] + forces.drive[1]
        if forces.swirl == 1:
            fy[c] += properties.density[c] * spin[c] ** 2 * cells.radius[c]
    return fx, fy


@njit(cache=True, error_model="numpy")
def mush_resistance(cells: Cells, tables: Tables, forces: Forces, t: Array) -> Array:
    """Resistance of the mush to flow, kg/m3/s: C (1 - f)² / (f³ + 0.001), Voller and Prakash (1987, Int. J. Heat Mass
    Transfer 30, 1709), after Carman and Kozeny."""
    n = t.size
    sink = np.zeros(n)
    for c in range(n):
        m = cells.material[c]
        if tables.melts[m] == 1 and cells.fluid[c] == 1:
            f = property_at(tables, m, LIQUID, t[c])
            sink[c] = forces.mush * (1.0 - f) ** 2 / (f**3 + 1e-3)
    return sink


@njit(cache=True, error_model="numpy")
def liquid_fractions(cells: Cells, tables: Tables, t: Array) -> Array:
    """Share of liquid in every cell of a material that melts, NaN elsewhere."""
    share = np.full(t.size, np.nan)
    for c in range(t.size):
        if tables.melts[cells.material[c]] == 1:
            share[c] = property_at(tables, cells.material[c], LIQUID, t[c])
    return share
