"""The compact Jacobian of the residuals: each cell and its face neighbours, in one matrix for u, v, p, T and the turning.

Left out on purpose, since the Krylov iteration on the full residual supplies them: the gradient half of Fromm's scheme,
corrections for skewed faces, and the temperature dependence of viscosity and of the density that flows. The mean pressure
gradient of the momentum interpolation reaches further than a cell's neighbours; it is there where it is asked for.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from wattikos_core.physics.faces import (
    AS_IT_COMES,
    FLOW,
    INLET,
    INTERFACE,
    OUTLET,
    SYMMETRY,
    TOTAL_PRESSURE,
    Array,
    Faces,
)
from wattikos_core.physics.gradients import gradients, of_module_before, of_next_module, surface_conductance
from wattikos_core.physics.properties import (
    WEIGHT,
    Cells,
    Forces,
    Tables,
    body_force,
    carried_at,
    cell_properties,
    mush_resistance,
    slope_at,
    specific_heat_at,
)
from wattikos_core.physics.residual import (
    bounded,
    bounded_slopes,
    face_correction,
    face_value,
    joined_correction,
    temperature_slopes,
)

U, V, P, T, SPIN = range(5)
# Stretched temperature over which the derivative of the mush is taken, K.
_MELTED = 1e-3


def coupling(gravity: bool, swirl: bool) -> Any:
    """Which unknown (u, v, p, T, turning) enters which balance (momentum x, y, mass, energy, swirl) in the compact Jacobian."""
    entries = np.zeros((5, 5) if swirl else (4, 4), dtype=bool)
    entries[:3, :3] = True
    entries[T, :4] = True
    # Weight depends on temperature, and so does, through momentum interpolation, the flow.
    entries[:3, T] = gravity
    if swirl:
        entries[:4, SPIN] = True
        entries[SPIN, [U, V, P, SPIN]] = True
        entries[SPIN, T] = gravity
    return entries


@njit(cache=True, error_model="numpy")
def compact_blocks(
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
    flow: Array,
    blend: float,
    passes: int,
) -> tuple[Array, Array]:
    """Derivative blocks of each cell by itself, and of the two cells of each face by each other; see `coupling`.

    Returns:
        diagonal (n_cells, m, m) and off-diagonal (n_faces, 2, m, m), the latter owner-by-neighbour and
        neighbour-by-owner; m is 5 with swirl, 4 without.
    """
    n, n_faces = u.size, faces.owner.size
    properties = cell_properties(cells, tables, forces, t, p)
    rho, h, mu, k = properties.density, properties.carried, properties.viscosity, properties.conductivity
    temperature = properties.temperature
    fx, fy = body_force(cells, forces, properties, spin)
    g = gradients(faces, forces, u, v, p, spin, properties, fx, fy, passes)
    gu, gv, gt = g.u, g.v, g.temperature
    sink = mush_resistance(cells, tables, forces, t)
    melted = mush_resistance(cells, tables, forces, t + _MELTED)
    follows = temperature_slopes(cells, tables, t)
    swirls = forces.swirl == 1
    size = 5 if swirls else 4
    heavy = forces.gravity[0] != 0.0 or forces.gravity[1] != 0.0
    # How the force on the fluid of a cell answers to its temperature and its turning.
    by_t, by_spin = np.zeros((n, 2)), np.zeros(n)
    for c in range(n):
        if cells.fluid[c] == 1 and heavy:
            slope = slope_at(tables, cells.material[c], WEIGHT, t[c]) * properties.filling[c]
            by_t[c, 0], by_t[c, 1] = slope * forces.gravity[0], slope * forces.gravity[1]
        if cells.fluid[c] == 1 and swirls:
            by_spin[c] = 2.0 * rho[c] * spin[c] * cells.radius[c]
    dia = np.zeros((n, size, size))
    off = np.zeros((n_faces, 2, size, size))
    # Derivatives of a face's mass flow by the five unknowns of its owner and its neighbour.
    da, db = np.zeros(5), np.zeros(5)
    step = np.zeros((2, 5))
    for f in range(n_faces):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        area, near, far = faces.area[f], faces.near[f], faces.far[f]
        nx, ny = faces.normal[f, 0], faces.normal[f, 1]
        if kind <= INTERFACE:
            resistance = near / (k[a] * faces.share_owner[f]) + far / (k[b] * faces.share_neighbour[f])
            conductance = area / (resistance + faces.contact[f])
            dia[a, 3, 3] += conductance * follows[a]
            dia[b, 3, 3] += conductance * follows[b]
            off[f, 0, 3, 3] -= conductance * follows[b]
            off[f, 1, 3, 3] -= conductance * follows[a]
        else:
            dia[a, 3, 3] += area * surface_conductance(faces, f, temperature[a], k[a] * faces.share_owner[f]) * follows[a]
        if kind == FLOW:
            wa, wb = far / (near + far), near / (near + far)
            rf = (wa * rho[a] + wb * rho[b]) * area
            interpolation = rf * (wa * d[a] + wb * d[b]) / (near + far)
            # Half the way between the centres, along which each cell's force acts.
            hx = 0.5 * (faces.reach_owner[f, 0] - faces.reach_neighbour[f, 0])
            hy = 0.5 * (faces.reach_owner[f, 1] - faces.reach_neighbour[f, 1])
            ta, tb = by_t[a, 0] * hx + by_t[a, 1] * hy, by_t[b, 0] * hx + by_t[b, 1] * hy
            sa, sb = by_spin[a] * hy, by_spin[b] * hy
            da[0], da[1], db[0], db[1] = rf * wa * nx, rf * wa * ny, rf * wb * nx, rf * wb * ny
            da[2], db[2] = interpolation, -interpolation
            da[3], db[3] = interpolation * ta, interpolation * tb
            da[4], db[4] = interpolation * sa, interpolation * sb
            shear = area / (near / mu[a] + far / mu[b])
            if flow[f] >= 0.0:
                fb = 0.5 * blend * wb
                fa = 1.0 - fb
            else:
                fa = 0.5 * blend * wa
                fb = 1.0 - fa
            uf = face_value(faces, f, a, b, flow[f], u, gu, blend)
            vf = face_value(faces, f, a, b, flow[f], v, gv, blend)
            fa_t, fb_t = fa, fb
            if faces.joined[f] == 1:
                up = temperature[a] if flow[f] >= 0.0 else of_next_module(forces, temperature[b])
                tf = up + joined_correction(faces, forces, f, a, b, flow[f], temperature, gt, blend)
                hb = carried_at(tables, cells.material[a], of_module_before(forces, tf))
            else:
                up_cell = a if flow[f] >= 0.0 else b
                correction = face_correction(faces, f, a, b, flow[f], temperature, gt, blend)
                below, above = temperature[up_cell] - cells.low[up_cell], cells.high[up_cell] - temperature[up_cell]
                tf = temperature[up_cell] + bounded(correction, min(below, above))
                by_correction, by_value = bounded_slopes(correction, below, above)
                if flow[f] >= 0.0:
                    fb_t = fb * by_correction
                    fa_t = 1.0 - fb_t + by_value
                else:
                    fa_t = fa * by_correction
                    fb_t = 1.0 - fa_t + by_value
                hb = carried_at(tables, cells.material[a], tf)
            hf = carried_at(tables, cells.material[a], tf)
            cp = specific_heat_at(tables, cells.material[a], tf)
            step[0, 0], step[1, 0] = uf - u[a], uf - u[b]
            step[0, 1], step[1, 1] = vf - v[a], vf - v[b]
            step[0, 3], step[1, 3] = hf - h[a], hb - h[b]
            for i in range(2):
                dia[a, i, i] += flow[f] * (fa - 1.0) + shear
                off[f, 0, i, i] += flow[f] * fb - shear
                dia[b, i, i] += -flow[f] * (fb - 1.0) + shear
                off[f, 1, i, i] += -flow[f] * fa - shear
                ca, cb = faces.push_owner[f, i], faces.push_neighbour[f, i]
                dia[a, i, 2] -= ca
                off[f, 0, i, 2] += ca
                dia[b, i, 2] -= cb
                off[f, 1, i, 2] += cb
                # The rise p_b - p_a less the force between them, seen from both sides.
                dia[a, i, 3] -= ca * ta
                off[f, 0, i, 3] -= ca * tb
                dia[b, i, 3] += cb * tb
                off[f, 1, i, 3] += cb * ta
                if swirls:
                    dia[a, i, 4] -= ca * sa
                    off[f, 0, i, 4] -= ca * sb
                    dia[b, i, 4] += cb * sb
                    off[f, 1, i, 4] += cb * sa
            at_a, at_b = flow[f] * follows[a], flow[f] * follows[b]
            dia[a, 3, 3] += at_a * (cp * fa_t - specific_heat_at(tables, cells.material[a], temperature[a]))
            off[f, 0, 3, 3] += at_b * cp * fb_t
            dia[b, 3, 3] -= at_b * (cp * fb_t - specific_heat_at(tables, cells.material[b], temperature[b]))
            off[f, 1, 3, 3] -= at_a * cp * fa_t
            if swirls:
                square, ra, rb = faces.radius[f] ** 2, cells.radius[a] ** 2, cells.radius[b] ** 2
                lever = square * face_value(faces, f, a, b, flow[f], spin, g.spin, blend)
                step[0, 4], step[1, 4] = lever - ra * spin[a], lever - rb * spin[b]
                dia[a, 4, 4] += flow[f] * (fa * square - ra) + shear * square
                off[f, 0, 4, 4] += flow[f] * fb * square - shear * square
                dia[b, 4, 4] += -flow[f] * (fb * square - rb) + shear * square
                off[f, 1, 4, 4] += -flow[f] * fa * square - shear * square
            for j in range(size):
                dia[a, 2, j] += da[j]
                off[f, 0, 2, j] += db[j]
                dia[b, 2, j] -= db[j]
                off[f, 1, 2, j] -= da[j]
                for i in range(size):
                    if i == 2:
                        continue
                    dia[a, i, j] += step[0, i] * da[j]
                    off[f, 0, i, j] += step[0, i] * db[j]
                    dia[b, i, j] -= step[1, i] * db[j]
                    off[f, 1, i, j] -= step[1, i] * da[j]
        elif kind == OUTLET:
            rf = rho[a] * area
            across = u[a] * nx + v[a] * ny
            head = rho[a] * across if faces.fed[f] == TOTAL_PRESSURE and across < 0.0 else 0.0
            by_velocity = rf * (1.0 + d[a] * head / near)
            force = by_t[a, 0] * faces.reach_owner[f, 0] + by_t[a, 1] * faces.reach_owner[f, 1]
            turned = by_spin[a] * faces.reach_owner[f, 1]
            da[0], da[1], da[2], da[3], da[4] = by_velocity * nx, by_velocity * ny, rf * d[a] / near, 0.0, 0.0
            da[3], da[4] = da[2] * force, da[2] * turned
            entering = faces.fed[f] != AS_IT_COMES and flow[f] < 0.0
            jump = 0.0
            if entering:
                m = cells.material[a]
                jump = carried_at(tables, m, faces.temperature[f]) - h[a]
                dia[a, 3, 3] -= flow[f] * specific_heat_at(tables, m, temperature[a]) * follows[a]
            for j in range(size):
                dia[a, 2, j] += da[j]
                dia[a, 3, j] += jump * da[j]
            for i in range(2):
                c = faces.push_owner[f, i]
                dia[a, i, 0] -= c * head * nx
                dia[a, i, 1] -= c * head * ny
                dia[a, i, 2] -= c
                dia[a, i, 3] -= c * force
                if swirls:
                    dia[a, i, 4] -= c * turned
            if swirls:
                extra = faces.radius[f] ** 2 - cells.radius[a] ** 2
                dia[a, 4, 4] += flow[f] * extra
                for j in range(size):
                    dia[a, 4, j] += extra * spin[a] * da[j]
        elif kind == SYMMETRY and cells.fluid[a] == 1:
            shear = area * mu[a] / near
            dia[a, 0, 0] += shear * nx * nx
            dia[a, 0, 1] += shear * nx * ny
            dia[a, 1, 0] += shear * nx * ny
            dia[a, 1, 1] += shear * ny * ny
        elif kind >= INTERFACE:
            square = faces.radius[f] ** 2
            if cells.fluid[a] == 1:
                for i in range(2):
                    dia[a, i, i] += area * mu[a] / near - flow[f]
                if swirls:
                    dia[a, 4, 4] += area * mu[a] / near * square - flow[f] * cells.radius[a] ** 2
                if kind == INLET:
                    dia[a, 3, 3] -= flow[f] * specific_heat_at(tables, cells.material[a], temperature[a]) * follows[a]
            if b >= 0 and cells.fluid[b] == 1:
                for i in range(2):
                    dia[b, i, i] += area * mu[b] / far
                if swirls:
                    dia[b, 4, 4] += area * mu[b] / far * square
        if faces.joined[f] == 1:
            off[f, 0, 3, 3] *= forces.ratio
            off[f, 1, 3, 3] /= forces.ratio
    for c in range(n):
        if cells.fluid[c] == 1:
            for i in range(2):
                dia[c, i, i] += cells.volume[c] * sink[c]
            # What melts lets go of its fluid.
            by_melting = cells.volume[c] * (melted[c] - sink[c]) / _MELTED
            dia[c, 0, 3] += by_melting * u[c]
            dia[c, 1, 3] += by_melting * v[c]
            if cells.radius[c] > 0.0:
                dia[c, 1, 1] += cells.volume[c] * mu[c] / cells.radius[c] ** 2
    return dia, off
