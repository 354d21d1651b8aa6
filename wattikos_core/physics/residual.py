"""The discrete balance equations: one pass over the faces for momentum, mass and energy.

Collocated finite volumes on any polygons (see docs/numerics.md for the equations and their sources):

* convection as Σ F (φ_f - φ_P), with φ_f by Fromm's scheme (half central, half linear upwind);
* face mass flow by momentum interpolation, Rhie and Chow (1983, AIAA J. 21, 1525), with D = V/a_P from the coefficients
  before any relaxation, so that the answer depends on no numerical parameter;
* diffusion between the feet of the two cell centres on the face's normal line, which corrects non-orthogonality and
  skewness together, with the two materials' resistances in series;
* energy in enthalpy, over fluids and solids in one system.

A residual is what leaves a cell: zero when the balance holds.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.faces import (
    FLOW,
    INLET,
    INTERFACE,
    OUTLET,
    SOLID,
    SYMMETRY,
    TEMPERATURE_GIVEN,
    WALL,
    Array,
    Faces,
    Index,
)

STEFAN_BOLTZMANN = 5.670374419e-8


class Cells(NamedTuple):
    """Cell data for the kernels.

    Attributes:
        volume, radius: m3, m (0 in flat sections).
        material: index of the property table of each cell.
        fluid: 1 where there is fluid.
        pin: 1 where the pressure level is fixed in place of a continuity row.
        source: W/m3.
    """

    volume: Array
    radius: Array
    material: Index
    fluid: Index
    pin: Index
    source: Array


class Tables(NamedTuple):
    """Property tables of all materials: `coefficients` (n_materials, 4, n_intervals, 4), `start` and `step` in K."""

    coefficients: Array
    start: Array
    step: Array


class Evaluation(NamedTuple):
    """Residuals per cell (momentum in N, mass in kg/s, heat in W), face flows, and what goes with them.

    Attributes:
        momentum_x, momentum_y, mass, energy: residuals, shape (n_cells,).
        flow: mass flow through faces from the owner, kg/s.
        heat: heat conducted through faces from the owner, W.
        enthalpy_flow: enthalpy carried through faces from the owner, W.
        face_temperature, face_pressure: on faces, K and Pa; with a contact the temperature on the owner's side.
        beyond_temperature: on faces, on the neighbour's side, K.
    """

    momentum_x: Array
    momentum_y: Array
    mass: Array
    energy: Array
    flow: Array
    heat: Array
    enthalpy_flow: Array
    face_temperature: Array
    face_pressure: Array
    beyond_temperature: Array


@njit(cache=True)
def property_at(tables: Tables, material: int, index: int, temperature: float) -> float:
    """Property `index` (0 density, 1 enthalpy, 2 viscosity, 3 conductivity) of a material at a temperature."""
    start = tables.start[material]
    step = tables.step[material]
    n = tables.coefficients.shape[2]
    inside = min(max(temperature, start), start + n * step)
    cell = min(int((inside - start) / step), n - 1)
    x = inside - (start + cell * step)
    c = tables.coefficients[material, index, cell]
    value = ((c[0] * x + c[1]) * x + c[2]) * x + c[3]
    if index == 1:
        value += ((3.0 * c[0] * x + 2.0 * c[1]) * x + c[2]) * (temperature - inside)
    return float(value)


@njit(cache=True)
def specific_heat_at(tables: Tables, material: int, temperature: float) -> float:
    """Specific heat of a material: the derivative of its enthalpy."""
    start = tables.start[material]
    step = tables.step[material]
    n = tables.coefficients.shape[2]
    inside = min(max(temperature, start), start + n * step)
    cell = min(int((inside - start) / step), n - 1)
    x = inside - (start + cell * step)
    c = tables.coefficients[material, 1, cell]
    return float((3.0 * c[0] * x + 2.0 * c[1]) * x + c[2])


@njit(cache=True)
def surface_temperature(faces: Faces, f: int, foot: float, k: float) -> float:
    """Temperature of an outer surface where conduction from inside meets flux, convection and radiation.

    Where a coating lies on the surface, this is its outside; `k` is the conductivity along the normal.
    """
    inside = 1.0 / (faces.near[f] / k + faces.contact[f])
    h, emission = faces.film[f], faces.emissivity[f] * STEFAN_BOLTZMANN
    if h == 0.0 and emission == 0.0:
        return float(foot + faces.heat_flux[f] / inside)
    surface = foot
    for _ in range(30):
        arriving = faces.heat_flux[f] + h * (faces.ambient[f] - surface)
        arriving += emission * (faces.surroundings[f] ** 4 - surface**4)
        change = (arriving - inside * (surface - foot)) / (inside + h + 4.0 * emission * abs(surface) ** 3)
        surface += change
        if abs(change) < 1e-11 * abs(surface):
            break
    return surface


@njit(cache=True)
def surface_conductance(faces: Faces, f: int, t: float, k: float) -> float:
    """What a cell sees of a given temperature or of the surroundings beyond an outer surface, W/m2/K."""
    if faces.thermal[f] == TEMPERATURE_GIVEN:
        return float(1.0 / (faces.near[f] / k + faces.contact[f]))
    outside = faces.film[f] + 4.0 * faces.emissivity[f] * STEFAN_BOLTZMANN * abs(t) ** 3
    if outside == 0.0:
        return 0.0
    return float(1.0 / (faces.near[f] / k + faces.contact[f] + 1.0 / outside))


@njit(cache=True)
def gradients(faces: Faces, u: Array, v: Array, p: Array, t: Array, k: Array, passes: int) -> tuple[Array, Array, Array, Array]:
    """Least-squares gradients (n_cells, 2) of velocity components, pressure and temperature."""
    n = u.size
    gu, gv, gp, gt = np.zeros((n, 2)), np.zeros((n, 2)), np.zeros((n, 2)), np.zeros((n, 2))
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        nx, ny = faces.normal[f, 0], faces.normal[f, 1]
        du_a = dv_a = dp_a = 0.0
        if kind == FLOW:
            du_a, dv_a, dp_a = u[b] - u[a], v[b] - v[a], p[b] - p[a]
            for i in range(2):
                gu[b, i] -= faces.velocity_neighbour[f, i] * du_a
                gv[b, i] -= faces.velocity_neighbour[f, i] * dv_a
                gp[b, i] -= faces.pressure_neighbour[f, i] * dp_a
        elif kind == WALL or kind == INLET or kind == INTERFACE:
            du_a, dv_a = faces.velocity[f, 0] - u[a], faces.velocity[f, 1] - v[a]
            if kind == INTERFACE:
                for i in range(2):
                    gu[b, i] += faces.velocity_neighbour[f, i] * (faces.velocity[f, 0] - u[b])
                    gv[b, i] += faces.velocity_neighbour[f, i] * (faces.velocity[f, 1] - v[b])
        elif kind == SYMMETRY:
            across = u[a] * nx + v[a] * ny
            du_a, dv_a = -across * nx, -across * ny
        elif kind == OUTLET:
            dp_a = faces.pressure[f] - p[a]
        for i in range(2):
            gu[a, i] += faces.velocity_owner[f, i] * du_a
            gv[a, i] += faces.velocity_owner[f, i] * dv_a
            gp[a, i] += faces.pressure_owner[f, i] * dp_a
    # An interface temperature on a skewed grid needs a first gradient to be located; one more pass settles it.
    for _ in range(passes):
        old = gt.copy()
        gt[:, :] = 0.0
        for f in range(faces.owner.size):
            a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
            beyond_a = beyond_b = 0.0
            if kind == FLOW or kind == SOLID:
                beyond_a, beyond_b = t[b], t[a]
            elif kind == INTERFACE:
                ta, tb = heat_foot_values(faces, f, a, b, t, old)
                ka, kb = k[a] * faces.share_owner[f], k[b] * faces.share_neighbour[f]
                flux = (ta - tb) / (faces.near[f] / ka + faces.contact[f] + faces.far[f] / kb)
                beyond_a, beyond_b = ta - flux * faces.near[f] / ka, tb + flux * faces.far[f] / kb
            else:
                ka = k[a] * faces.share_owner[f]
                foot = t[a]
                if faces.thermal[f] == TEMPERATURE_GIVEN:
                    foot, _ = heat_foot_values(faces, f, a, b, t, old)
                beyond_a = foot - outer_flux(faces, f, foot, ka) * faces.near[f] / ka
            for i in range(2):
                gt[a, i] += faces.temperature_owner[f, i] * (beyond_a - t[a])
                if b >= 0:
                    gt[b, i] += faces.temperature_neighbour[f, i] * (beyond_b - t[b])
    return gu, gv, gp, gt


@njit(cache=True)
def foot_values(faces: Faces, f: int, a: int, b: int, value: Array, gradient: Array) -> tuple[float, float]:
    """Values at the feet of the owner's and the neighbour's centre on the face's normal line."""
    at_a = value[a] + gradient[a, 0] * faces.shift_owner[f, 0] + gradient[a, 1] * faces.shift_owner[f, 1]
    if b < 0:
        return at_a, at_a
    return at_a, value[b] + gradient[b, 0] * faces.shift_neighbour[f, 0] + gradient[b, 1] * faces.shift_neighbour[f, 1]


@njit(cache=True)
def heat_foot_values(faces: Faces, f: int, a: int, b: int, value: Array, gradient: Array) -> tuple[float, float]:
    """Temperatures from where heat is conducted to the face on both sides."""
    at_a = value[a] + gradient[a, 0] * faces.heat_shift_owner[f, 0] + gradient[a, 1] * faces.heat_shift_owner[f, 1]
    if b < 0:
        return at_a, at_a
    return at_a, value[b] + gradient[b, 0] * faces.heat_shift_neighbour[f, 0] + gradient[b, 1] * faces.heat_shift_neighbour[f, 1]


@njit(cache=True)
def outer_flux(faces: Faces, f: int, foot: float, k: float) -> float:
    """Heat flux out of the section through an outer face, from its foot temperature, W/m2."""
    inside = faces.near[f] / k + faces.contact[f]
    if faces.thermal[f] == TEMPERATURE_GIVEN:
        return float((foot - faces.temperature[f]) / inside)
    return float((foot - surface_temperature(faces, f, foot, k)) / inside)


@njit(cache=True)
def face_value(faces: Faces, f: int, a: int, b: int, flow: float, value: Array, gradient: Array, blend: float) -> float:
    """Convected value on an internal face: upwind plus `blend` times Fromm's correction."""
    at_a, at_b = foot_values(faces, f, a, b, value, gradient)
    linear = (faces.far[f] * at_a + faces.near[f] * at_b) / (faces.near[f] + faces.far[f])
    if flow >= 0.0:
        reach = gradient[a, 0] * faces.reach_owner[f, 0] + gradient[a, 1] * faces.reach_owner[f, 1]
        return float(value[a] + blend * 0.5 * (reach + linear - value[a]))
    reach = gradient[b, 0] * faces.reach_neighbour[f, 0] + gradient[b, 1] * faces.reach_neighbour[f, 1]
    return float(value[b] + blend * 0.5 * (reach + linear - value[b]))


@njit(cache=True)
def cell_properties(cells: Cells, tables: Tables, t: Array) -> tuple[Array, Array, Array, Array]:
    """Density, enthalpy, viscosity and conductivity of every cell."""
    n = t.size
    rho, h, mu, k = np.empty(n), np.empty(n), np.empty(n), np.empty(n)
    for c in range(n):
        m = cells.material[c]
        rho[c] = property_at(tables, m, 0, t[c])
        h[c] = property_at(tables, m, 1, t[c])
        mu[c] = property_at(tables, m, 2, t[c])
        k[c] = property_at(tables, m, 3, t[c])
    return rho, h, mu, k


@njit(cache=True)
def evaluate(
    faces: Faces, cells: Cells, tables: Tables, u: Array, v: Array, p: Array, t: Array, d: Array, blend: float, passes: int
) -> Evaluation:
    """All residuals and face flows of a state.

    Args:
        d: V/a_P of the momentum equations, m3 s/kg, shape (n_cells,).
        blend: 1 for Fromm's scheme, 0 for upwind.
        passes: temperature gradient passes; 1 on orthogonal grids.
    """
    n, n_faces = u.size, faces.owner.size
    rho, h, mu, k = cell_properties(cells, tables, t)
    gu, gv, gp, gt = gradients(faces, u, v, p, t, k, passes)
    ru, rv, rm, rt = np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n)
    flow, heat, carried = np.zeros(n_faces), np.zeros(n_faces), np.zeros(n_faces)
    tf, pf, td = np.zeros(n_faces), np.zeros(n_faces), np.zeros(n_faces)

    for f in range(n_faces):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        area, near, far = faces.area[f], faces.near[f], faces.far[f]
        nx, ny = faces.normal[f, 0], faces.normal[f, 1]
        ta, tb = heat_foot_values(faces, f, a, b, t, gt)
        pf[f] = p[a] + gp[a, 0] * faces.reach_owner[f, 0] + gp[a, 1] * faces.reach_owner[f, 1]
        ka = k[a] * faces.share_owner[f]
        if kind <= INTERFACE:
            kb = k[b] * faces.share_neighbour[f]
            flux = (ta - tb) / (near / ka + faces.contact[f] + far / kb)
            heat[f] = area * flux
            tf[f], td[f] = ta - flux * near / ka, tb + flux * far / kb
        else:
            flux = outer_flux(faces, f, ta, ka)
            heat[f] = area * flux
            tf[f] = faces.temperature[f] if faces.thermal[f] == TEMPERATURE_GIVEN else surface_temperature(faces, f, ta, ka)
        rt[a] += heat[f]
        if b >= 0:
            rt[b] -= heat[f]

        if kind == FLOW:
            wa, wb = far / (near + far), near / (near + far)
            ua, ub = foot_values(faces, f, a, b, u, gu)
            va, vb = foot_values(faces, f, a, b, v, gv)
            pa, pb = foot_values(faces, f, a, b, p, gp)
            mean = (wa * ua + wb * ub) * nx + (wa * va + wb * vb) * ny
            slope = (wa * gp[a, 0] + wb * gp[b, 0]) * nx + (wa * gp[a, 1] + wb * gp[b, 1]) * ny
            df = wa * d[a] + wb * d[b]
            flux = (wa * rho[a] + wb * rho[b]) * area * (mean - df * ((pb - pa) / (near + far) - slope))
            flow[f] = flux
            pf[f] = wa * pa + wb * pb
            shear = area / (near / mu[a] + far / mu[b])
            uf = face_value(faces, f, a, b, flux, u, gu, blend)
            vf = face_value(faces, f, a, b, flux, v, gv, blend)
            ru[a] += flux * (uf - u[a]) + shear * (ua - ub)
            rv[a] += flux * (vf - v[a]) + shear * (va - vb)
            ru[b] -= flux * (uf - u[b]) + shear * (ua - ub)
            rv[b] -= flux * (vf - v[b]) + shear * (va - vb)
            rm[a] += flux
            rm[b] -= flux
            tc = face_value(faces, f, a, b, flux, t, gt, blend)
            hf = property_at(tables, cells.material[a], 1, tc)
            carried[f] = flux * hf
            rt[a] += flux * (hf - h[a])
            rt[b] -= flux * (hf - h[b])
        elif kind == INTERFACE or kind == WALL:
            for side in range(2):
                c = a if side == 0 else b
                if c < 0 or cells.fluid[c] == 0:
                    continue
                gap = near if side == 0 else far
                sx = faces.shift_owner[f, 0] if side == 0 else faces.shift_neighbour[f, 0]
                sy = faces.shift_owner[f, 1] if side == 0 else faces.shift_neighbour[f, 1]
                shear = area * mu[c] / gap
                ru[c] += shear * (u[c] + gu[c, 0] * sx + gu[c, 1] * sy - faces.velocity[f, 0])
                rv[c] += shear * (v[c] + gv[c, 0] * sx + gv[c, 1] * sy - faces.velocity[f, 1])
        elif kind == INLET:
            flux = faces.mass_flow[f]
            flow[f] = flux
            shear = area * mu[a] / near
            ua, ub = foot_values(faces, f, a, b, u, gu)
            va, vb = foot_values(faces, f, a, b, v, gv)
            ru[a] += flux * (faces.velocity[f, 0] - u[a]) + shear * (ua - faces.velocity[f, 0])
            rv[a] += flux * (faces.velocity[f, 1] - v[a]) + shear * (va - faces.velocity[f, 1])
            rm[a] += flux
            hf = property_at(tables, cells.material[a], 1, faces.temperature[f])
            carried[f] = flux * hf
            rt[a] += flux * (hf - h[a])
        elif kind == OUTLET:
            pa, pb = foot_values(faces, f, a, b, p, gp)
            slope = gp[a, 0] * nx + gp[a, 1] * ny
            flux = rho[a] * area * (u[a] * nx + v[a] * ny - d[a] * ((faces.pressure[f] - pa) / near - slope))
            flow[f] = flux
            pf[f] = faces.pressure[f]
            # What leaves, and what comes back in, has the state of the cell: no gradient across an outlet.
            rm[a] += flux
            carried[f] = flux * h[a]
            tf[f] = t[a]
        elif kind == SYMMETRY and cells.fluid[a] == 1:
            across = u[a] * nx + v[a] * ny
            shear = area * mu[a] / near
            ru[a] += shear * across * nx
            rv[a] += shear * across * ny

    for c in range(n):
        volume = cells.volume[c]
        rt[c] -= cells.source[c] * volume
        if cells.fluid[c] == 0:
            continue
        step = 1e-3
        m = cells.material[c]
        slope = (property_at(tables, m, 2, t[c] + step) - property_at(tables, m, 2, t[c] - step)) / (2.0 * step)
        mx, my = slope * gt[c, 0], slope * gt[c, 1]
        # Variable viscosity: the part (∇u)ᵀ·∇μ of the divergence of the stress.
        ru[c] += volume * (gp[c, 0] - (gu[c, 0] * mx + gv[c, 0] * my))
        rv[c] += volume * (gp[c, 1] - (gu[c, 1] * mx + gv[c, 1] * my))
        if cells.radius[c] > 0.0:
            rv[c] += volume * mu[c] * v[c] / cells.radius[c] ** 2
        if cells.pin[c] == 1:
            rm[c] = p[c] * d[c] * rho[c] * volume ** (1.0 / 3.0)
    return Evaluation(ru, rv, rm, rt, flow, heat, carried, tf, pf, td)


@njit(cache=True)
def diagonals(faces: Faces, cells: Cells, tables: Tables, t: Array, flow: Array) -> tuple[Array, Array]:
    """Diagonal coefficients a_P of momentum (kg/s) and energy (W/K): diffusion plus inflow."""
    n = t.size
    _, _, mu, k = cell_properties(cells, tables, t)
    am, at = np.zeros(n), np.zeros(n)
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        area, near, far = faces.area[f], faces.near[f], faces.far[f]
        if kind <= INTERFACE:
            resistance = near / (k[a] * faces.share_owner[f]) + far / (k[b] * faces.share_neighbour[f])
            conductance = area / (resistance + faces.contact[f])
            at[a] += conductance
            at[b] += conductance
        else:
            at[a] += area * surface_conductance(faces, f, t[a], k[a] * faces.share_owner[f])
        if kind == FLOW:
            shear = area / (near / mu[a] + far / mu[b])
            am[a] += shear + max(-flow[f], 0.0)
            am[b] += shear + max(flow[f], 0.0)
            at[a] += max(-flow[f], 0.0) * specific_heat_at(tables, cells.material[a], t[a])
            at[b] += max(flow[f], 0.0) * specific_heat_at(tables, cells.material[b], t[b])
        elif kind != SOLID and kind != OUTLET:
            if cells.fluid[a] == 1:
                am[a] += area * mu[a] / near + max(-flow[f], 0.0)
                at[a] += max(-flow[f], 0.0) * specific_heat_at(tables, cells.material[a], t[a])
            if b >= 0 and cells.fluid[b] == 1:
                am[b] += area * mu[b] / far
    for c in range(n):
        if cells.fluid[c] == 1 and cells.radius[c] > 0.0:
            am[c] += cells.volume[c] * mu[c] / cells.radius[c] ** 2
        if am[c] == 0.0:
            am[c] = 1.0
    return am, at
