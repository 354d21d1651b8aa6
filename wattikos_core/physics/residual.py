"""The discrete balance equations: one pass over the faces for momentum, mass, energy and swirl.

Collocated finite volumes on any polygons (see docs/numerics.md for the equations and their sources):

* convection as Σ F (φ_f - φ_P), with φ_f by Fromm's scheme (half central, half linear upwind);
* face mass flow by momentum interpolation, Rhie and Chow (1983, AIAA J. 21, 1525), with D = V/a_P from the coefficients
  before any relaxation, so that the answer depends on no numerical parameter; weight and other forces on the fluid
  enter it and the pressure gradient in the same way, so that a fluid at rest stays at rest;
* diffusion between the feet of the two cell centres on the face's normal line, which corrects non-orthogonality and
  skewness together, with the two materials' resistances in series;
* energy in enthalpy, over fluids and solids in one system;
* swirl as angular momentum, by the rate of turning ω: convected r²ω, and the moment of friction μ r² ∂ω/∂n.

A residual is what leaves a cell: zero when the balance holds. What cells store in time is added by `storage`.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.faces import (
    AS_IT_COMES,
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
)
from wattikos_core.physics.gradients import (
    Gradients,
    foot_values,
    force_between,
    gradients,
    heat_foot_values,
    of_module_before,
    of_next_module,
    outer_flux,
    outlet_heads,
    outlet_pressure,
    surface_conductance,
    surface_temperature,
)
from wattikos_core.physics.properties import (
    ENTHALPY,
    TEMPERATURE,
    VISCOSITY,
    WEIGHT,
    Cells,
    Forces,
    Properties,
    Tables,
    body_force,
    carried_at,
    cell_properties,
    mush_resistance,
    property_at,
    slope_at,
    specific_heat_at,
)


class Evaluation(NamedTuple):
    """Residuals per cell (momentum in N, mass in kg/s, heat in W, angular momentum in N m), face flows, and what goes with them.

    Attributes:
        momentum_x, momentum_y, mass, energy, swirl: residuals, shape (n_cells,).
        flow: mass flow through faces from the owner, kg/s.
        heat: heat conducted through faces from the owner, W.
        enthalpy_flow: enthalpy carried through faces from the owner, W.
        face_temperature, face_pressure: on faces, K and Pa; with a contact the temperature on the owner's side.
        beyond_temperature: on faces, on the neighbour's side, K.
        temperature: in cells, K.
        dissipation: heat of friction in cells, W; `compression`: heat of what moves against or along the pressure, W.
        torque: moment of friction about the axis that passes faces from the owner, N m.
        storing, gaining: heat and mass stored in cells, W and kg/s; zero in steady state.
    """

    momentum_x: Array
    momentum_y: Array
    mass: Array
    energy: Array
    swirl: Array
    flow: Array
    heat: Array
    enthalpy_flow: Array
    face_temperature: Array
    face_pressure: Array
    beyond_temperature: Array
    temperature: Array
    dissipation: Array
    compression: Array
    torque: Array
    storing: Array
    gaining: Array


@njit(cache=True, error_model="numpy", inline="always")
def face_correction(faces: Faces, f: int, a: int, b: int, flow: float, value: Array, gradient: Array, blend: float) -> float:
    """What Fromm's scheme, times `blend`, adds to the upwind value on an internal face."""
    at_a, at_b = foot_values(faces, f, a, b, value, gradient)
    linear = (faces.far[f] * at_a + faces.near[f] * at_b) / (faces.near[f] + faces.far[f])
    if flow >= 0.0:
        reach = gradient[a, 0] * faces.reach_owner[f, 0] + gradient[a, 1] * faces.reach_owner[f, 1]
        return float(blend * 0.5 * (reach + linear - value[a]))
    reach = gradient[b, 0] * faces.reach_neighbour[f, 0] + gradient[b, 1] * faces.reach_neighbour[f, 1]
    return float(blend * 0.5 * (reach + linear - value[b]))


@njit(cache=True, error_model="numpy")
def joined_correction(
    faces: Faces, forces: Forces, f: int, a: int, b: int, flow: float, value: Array, gradient: Array, blend: float
) -> float:
    """The same for temperature between two modules, as the owner sees it."""
    at_a, at_b = foot_values(faces, f, a, b, value, gradient)
    at_b = of_next_module(forces, at_b)
    linear = (faces.far[f] * at_a + faces.near[f] * at_b) / (faces.near[f] + faces.far[f])
    if flow >= 0.0:
        reach = gradient[a, 0] * faces.reach_owner[f, 0] + gradient[a, 1] * faces.reach_owner[f, 1]
        return float(blend * 0.5 * (reach + linear - value[a]))
    reach = forces.ratio * (gradient[b, 0] * faces.reach_neighbour[f, 0] + gradient[b, 1] * faces.reach_neighbour[f, 1])
    return float(blend * 0.5 * (reach + linear - of_next_module(forces, value[b])))


@njit(cache=True, error_model="numpy", inline="always")
def face_value(faces: Faces, f: int, a: int, b: int, flow: float, value: Array, gradient: Array, blend: float) -> float:
    """Convected value on an internal face: upwind plus `blend` times Fromm's correction."""
    return float((value[a] if flow >= 0.0 else value[b]) + face_correction(faces, f, a, b, flow, value, gradient, blend))


@njit(cache=True, error_model="numpy")
def bounded(correction: float, room: float) -> float:
    """Correction of a scalar that cannot leave its bounds: hardly changed where it is small beside the room left, never larger.

    Room is the distance of the upwind cell from its nearer bound. Then no face carries a value from beyond the bounds, and a cell
    that has come to a bound is left by nothing beyond it, so that its balance cannot take it further. Where the solution is smooth
    and away from its bounds the scheme is what it was, of second order.
    """
    if correction == 0.0 or room <= 0.0:
        return 0.0
    if room == np.inf:
        return float(correction)
    square = (correction / room) * (correction / room)
    return float(correction / np.sqrt(np.sqrt(1.0 + square * square)))


@njit(cache=True, error_model="numpy")
def bounded_slopes(correction: float, below: float, above: float) -> tuple[float, float]:
    """Derivatives of `bounded` by the correction, and by the upwind value that stands `below` above and `above` below its bounds.

    The latter only where it is positive: a negative one would take the matrix its diagonal.
    """
    room = min(below, above)
    if room <= 0.0:
        return 0.0, 0.0
    if room == np.inf:
        return 1.0, 0.0
    share = correction / room
    fourth = share * share * share * share
    by_correction = 1.0 / ((1.0 + fourth) * np.sqrt(np.sqrt(1.0 + fourth)))
    by_room = by_correction * fourth * share
    return by_correction, max(by_room if below < above else -by_room, 0.0)


@njit(cache=True, error_model="numpy")
def dissipated(cells: Cells, g: Gradients, properties: Properties, v: Array, c: int) -> float:
    """Heat of friction in a cell, W: μ times the dissipation function (Bird, Stewart and Lightfoot)."""
    r = cells.radius[c]
    phi = 2.0 * (g.u[c, 0] ** 2 + g.v[c, 1] ** 2) + (g.u[c, 1] + g.v[c, 0]) ** 2
    if r > 0.0:
        phi += 2.0 * (v[c] / r) ** 2 + r * r * (g.spin[c, 0] ** 2 + g.spin[c, 1] ** 2)
    return float(properties.viscosity[c] * phi * cells.volume[c])


@njit(cache=True, error_model="numpy")
def compressed(
    cells: Cells, tables: Tables, forces: Forces, g: Gradients, fx: Array, fy: Array, u: Array, v: Array, t: Array, c: int
) -> float:
    """Heat of compression in a cell, W: β T u·∇p (Bird, Stewart and Lightfoot, table 11.4), the column's own pressure included.

    Beside friction heat it keeps a throttled ideal gas at its temperature, and warms a liquid by (1 - β T) Δp / (ρ c_p).
    """
    m = cells.material[c]
    expansion = -slope_at(tables, m, WEIGHT, t[c]) / property_at(tables, m, WEIGHT, t[c])
    px = g.pressure[c, 0] + fx[c] + forces.level[m] * forces.gravity[0]
    py = g.pressure[c, 1] + fy[c] + forces.level[m] * forces.gravity[1]
    return float(expansion * t[c] * (u[c] * px + v[c] * py) * cells.volume[c])


@njit(cache=True, error_model="numpy")
def evaluate(
    faces: Faces,
    cells: Cells,
    tables: Tables,
    forces: Forces,
    u: Array,
    v: Array,
    p: Array,
    t: Array,
    spin: Array,
    d: Array,
    blend: float,
    passes: int,
) -> Evaluation:
    """All residuals and face flows of a state.

    Args:
        t: temperature, stretched in materials that melt.
        spin: rate of turning about the axis, rad/s.
        d: V/a_P of the momentum equations, m3 s/kg, shape (n_cells,).
        blend: 1 for Fromm's scheme, 0 for upwind.
        passes: temperature gradient passes; 1 on orthogonal grids.
    """
    n, n_faces = u.size, faces.owner.size
    properties = cell_properties(cells, tables, forces, t, p)
    rho, h, mu, k = properties.density, properties.carried, properties.viscosity, properties.conductivity
    temperature = properties.temperature
    fx, fy = body_force(cells, forces, properties, spin)
    g = gradients(faces, forces, u, v, p, spin, properties, fx, fy, passes)
    gu, gv, gp, gt = g.u, g.v, g.pressure, g.temperature
    sink = mush_resistance(cells, tables, forces, t)
    heads = outlet_heads(faces, forces, rho, spin)
    swirls = forces.swirl == 1
    ru, rv, rm, rt, rs = np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n)
    flow, heat, carried = np.zeros(n_faces), np.zeros(n_faces), np.zeros(n_faces)
    tf, pf, td, moment = np.zeros(n_faces), np.zeros(n_faces), np.zeros(n_faces), np.zeros(n_faces)
    friction, compression = np.zeros(n), np.zeros(n)

    for f in range(n_faces):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        area, near, far = faces.area[f], faces.near[f], faces.far[f]
        nx, ny = faces.normal[f, 0], faces.normal[f, 1]
        ta, tb = heat_foot_values(faces, f, a, b, temperature, gt)
        # Heat that passes between modules counts by the size that temperature differences have on either side.
        joined, beyond = faces.joined[f] == 1, 1.0
        if joined:
            tb, beyond = of_next_module(forces, tb), forces.ratio
        pf[f] = p[a] + (gp[a, 0] + fx[a]) * faces.reach_owner[f, 0] + (gp[a, 1] + fy[a]) * faces.reach_owner[f, 1]
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
            rt[b] -= heat[f] / beyond

        if kind == FLOW:
            wa, wb = far / (near + far), near / (near + far)
            ua, ub = foot_values(faces, f, a, b, u, gu)
            va, vb = foot_values(faces, f, a, b, v, gv)
            rise = p[b] - p[a] - force_between(faces, f, a, b, fx, fy)
            # Pressure on the face beside the line between the centres.
            aside = wa * (gp[a, 0] * faces.shift_owner[f, 0] + gp[a, 1] * faces.shift_owner[f, 1])
            aside += wb * (gp[b, 0] * faces.shift_neighbour[f, 0] + gp[b, 1] * faces.shift_neighbour[f, 1])
            aside *= area
            ru[a] += faces.push_owner[f, 0] * rise + aside * nx
            rv[a] += faces.push_owner[f, 1] * rise + aside * ny
            ru[b] -= faces.push_neighbour[f, 0] * rise + aside * nx
            rv[b] -= faces.push_neighbour[f, 1] * rise + aside * ny
            for i in range(2):
                rise += gp[b, i] * faces.shift_neighbour[f, i] - gp[a, i] * faces.shift_owner[f, i]
            mean = (wa * ua + wb * ub) * nx + (wa * va + wb * vb) * ny
            slope = (wa * gp[a, 0] + wb * gp[b, 0]) * nx + (wa * gp[a, 1] + wb * gp[b, 1]) * ny
            df = wa * d[a] + wb * d[b]
            flux = (wa * rho[a] + wb * rho[b]) * area * (mean - df * (rise / (near + far) - slope))
            flow[f] = flux
            pf[f] = wa * p[a] + wb * p[b]
            shear = area / (near / mu[a] + far / mu[b])
            uf = face_value(faces, f, a, b, flux, u, gu, blend)
            vf = face_value(faces, f, a, b, flux, v, gv, blend)
            ru[a] += flux * (uf - u[a]) + shear * (ua - ub)
            rv[a] += flux * (vf - v[a]) + shear * (va - vb)
            ru[b] -= flux * (uf - u[b]) + shear * (ua - ub)
            rv[b] -= flux * (vf - v[b]) + shear * (va - vb)
            rm[a] += flux
            rm[b] -= flux
            if joined:
                tc = temperature[a] if flux >= 0.0 else of_next_module(forces, temperature[b])
                tc += joined_correction(faces, forces, f, a, b, flux, temperature, gt, blend)
                hb = carried_at(tables, cells.material[a], of_module_before(forces, tc))
            else:
                up = a if flux >= 0.0 else b
                room = min(temperature[up] - cells.low[up], cells.high[up] - temperature[up])
                tc = temperature[up] + bounded(face_correction(faces, f, a, b, flux, temperature, gt, blend), room)
                hb = carried_at(tables, cells.material[a], tc)
            hf = carried_at(tables, cells.material[a], tc)
            carried[f] = flux * hf
            rt[a] += flux * (hf - h[a])
            rt[b] -= flux * (hb - h[b])
            if swirls:
                wfa, wfb = foot_values(faces, f, a, b, spin, g.spin)
                square = faces.radius[f] ** 2
                lever = square * face_value(faces, f, a, b, flux, spin, g.spin, blend)
                moment[f] = shear * square * (wfa - wfb)
                rs[a] += flux * (lever - cells.radius[a] ** 2 * spin[a]) + moment[f]
                rs[b] -= flux * (lever - cells.radius[b] ** 2 * spin[b]) + moment[f]
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
                if swirls:
                    turning = spin[c] + g.spin[c, 0] * sx + g.spin[c, 1] * sy - faces.spin[f]
                    onto = shear * faces.radius[f] ** 2 * turning
                    moment[f] += onto if side == 0 else -onto
                    rs[c] += onto
        elif kind == INLET:
            flux = faces.mass_flow[f]
            flow[f] = flux
            shear = area * mu[a] / near
            ua, _ = foot_values(faces, f, a, b, u, gu)
            va, _ = foot_values(faces, f, a, b, v, gv)
            entering_u, entering_v = faces.velocity[f, 0] / properties.filling[a], faces.velocity[f, 1] / properties.filling[a]
            ru[a] += flux * (entering_u - u[a]) + shear * (ua - entering_u)
            rv[a] += flux * (entering_v - v[a]) + shear * (va - entering_v)
            rm[a] += flux
            hf = carried_at(tables, cells.material[a], faces.temperature[f])
            carried[f] = flux * hf
            rt[a] += flux * (hf - h[a])
            if swirls:
                square = faces.radius[f] ** 2
                moment[f] = shear * square * (spin[a] - faces.spin[f])
                rs[a] += flux * (square * faces.spin[f] - cells.radius[a] ** 2 * spin[a]) + moment[f]
        elif kind == OUTLET:
            across = u[a] * nx + v[a] * ny
            given = outlet_pressure(faces, f, rho[a], across) + heads[f]
            rise = given - p[a] - force_between(faces, f, a, b, fx, fy)
            ru[a] += faces.push_owner[f, 0] * rise
            rv[a] += faces.push_owner[f, 1] * rise
            rise -= gp[a, 0] * faces.shift_owner[f, 0] + gp[a, 1] * faces.shift_owner[f, 1]
            slope = gp[a, 0] * nx + gp[a, 1] * ny
            flux = rho[a] * area * (across - d[a] * (rise / near - slope))
            flow[f] = flux
            pf[f] = given
            # What leaves, and what comes back in, has the state of the cell: no gradient across an outlet.
            rm[a] += flux
            hf = h[a]
            tf[f] = temperature[a]
            if faces.fed[f] != AS_IT_COMES and flux < 0.0:
                tf[f] = faces.temperature[f]
                hf = carried_at(tables, cells.material[a], tf[f])
                rt[a] += flux * (hf - h[a])
            carried[f] = flux * hf
            if swirls:
                rs[a] += flux * (faces.radius[f] ** 2 - cells.radius[a] ** 2) * spin[a]
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
        if forces.heating == 1:
            friction[c] = dissipated(cells, g, properties, v, c)
            if tables.melts[cells.material[c]] == 0:
                compression[c] = compressed(cells, tables, forces, g, fx, fy, u, v, t, c)
            rt[c] -= friction[c] + compression[c]
        step = 1e-3
        m = cells.material[c]
        slope = (property_at(tables, m, VISCOSITY, t[c] + step) - property_at(tables, m, VISCOSITY, t[c] - step)) / (2.0 * step)
        mx, my = slope * gt[c, 0], slope * gt[c, 1]
        # Variable viscosity: the part (∇u)ᵀ·∇μ of the divergence of the stress.
        ru[c] += volume * (sink[c] * u[c] - (gu[c, 0] * mx + gv[c, 0] * my))
        rv[c] += volume * (sink[c] * v[c] - (gu[c, 1] * mx + gv[c, 1] * my))
        if cells.radius[c] > 0.0:
            rv[c] += volume * mu[c] * v[c] / cells.radius[c] ** 2
        if cells.pin[c] == 1:
            rm[c] = p[c] * d[c] * rho[c] * volume ** (1.0 / 3.0)
    return Evaluation(
        ru, rv, rm, rt, rs, flow, heat, carried, tf, pf, td, temperature, friction, compression, moment, np.zeros(n), np.zeros(n)
    )


@njit(cache=True, error_model="numpy")
def diagonals(faces: Faces, cells: Cells, tables: Tables, forces: Forces, t: Array, flow: Array) -> tuple[Array, Array]:
    """Diagonal coefficients a_P of momentum (kg/s) and energy (W/K): diffusion plus inflow, without any mush."""
    n = t.size
    properties = cell_properties(cells, tables, forces, t, np.zeros(n))
    mu, k, temperature = properties.viscosity, properties.conductivity, properties.temperature
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
            at[a] += area * surface_conductance(faces, f, temperature[a], k[a] * faces.share_owner[f])
        if kind == FLOW:
            shear = area / (near / mu[a] + far / mu[b])
            am[a] += shear + max(-flow[f], 0.0)
            am[b] += shear + max(flow[f], 0.0)
            at[a] += max(-flow[f], 0.0) * specific_heat_at(tables, cells.material[a], temperature[a])
            at[b] += max(flow[f], 0.0) * specific_heat_at(tables, cells.material[b], temperature[b])
        elif kind != SOLID and kind != OUTLET:
            if cells.fluid[a] == 1:
                am[a] += area * mu[a] / near + max(-flow[f], 0.0)
                at[a] += max(-flow[f], 0.0) * specific_heat_at(tables, cells.material[a], temperature[a])
            if b >= 0 and cells.fluid[b] == 1:
                am[b] += area * mu[b] / far
    for c in range(n):
        if cells.fluid[c] == 1 and cells.radius[c] > 0.0:
            am[c] += cells.volume[c] * mu[c] / cells.radius[c] ** 2
        if am[c] == 0.0:
            am[c] = 1.0
    return am, at


@njit(cache=True, error_model="numpy")
def temperature_slopes(cells: Cells, tables: Tables, t: Array) -> Array:
    """How the temperature of each cell follows its stretched one; 1 where nothing melts."""
    slope = np.ones(t.size)
    for c in range(t.size):
        if tables.melts[cells.material[c]] == 1:
            slope[c] = slope_at(tables, cells.material[c], TEMPERATURE, t[c])
    return slope


@njit(cache=True, error_model="numpy")
def specific_heats(cells: Cells, tables: Tables, t: Array) -> Array:
    """Derivative of each cell's enthalpy by its (stretched) temperature, J/kg/K."""
    heat = np.empty(t.size)
    for c in range(t.size):
        heat[c] = slope_at(tables, cells.material[c], ENTHALPY, t[c])
    return heat
