"""Speeds that gravity and given pressures can drive: what residuals are measured against where no speed is given."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable
from wattikos_core.physics.faces import FLOW, OUTLET, Array, Faces, Given, Index
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.internals import Drag, Fan

# A slow buoyant flow is about this share of g Δρ L²/μ (the square cavity at small Rayleigh numbers, our own solutions).
_SLOW = 0.01
# Sum of |flow| through the faces of a closed body over its speed scale times their areas (our own solutions).
_TURNOVER = 0.05


def driven_speed(
    grid: Grid,
    materials: Sequence[PropertyTable],
    faces: Faces,
    given: Given,
    physics: FlowPhysics,
    body: Index,
    ends: Array,
    internals: Sequence[Fan | Drag] = (),
) -> Array:
    """Speed that gravity, fans or given pressures can drive in each body of fluid, m/s; 0 without any. See `_SLOW` for slow ones.

    Args:
        grid: cells and faces.
        materials: property table of each region.
        faces: geometry of faces.
        given: what conditions give on faces.
        physics: what moves fluids beside their boundaries.
        body: number of the connected body of fluid of each cell, -1 in solids.
        ends: lowest and highest temperature in each body, K, shape (n_bodies, 2).
        internals: what stands in streams, fans among it.
    """
    speeds = np.zeros(len(ends))
    fans = [one for one in internals if isinstance(one, Fan)]
    if not (physics.heavy or any(physics.drive) or np.ptp(given.pressure) > 0.0 or fans):
        return speeds
    for number, (lowest, highest) in enumerate(ends):
        cells = np.nonzero(body == number)[0]
        table = materials[grid.region[cells[0]]]
        middle = 0.5 * (lowest + highest)
        size = np.ptp(grid.centre[cells], axis=0) + 1e-30
        density, viscosity = float(table.density(middle)), float(table.viscosity(middle))
        if physics.heavy and highest > lowest:
            along = np.abs(np.asarray(physics.gravity)) > 0.0
            length = float(size[along].max())
            spread = np.ptp(table.heavy_density(np.linspace(lowest, highest, 9)))
            push = float(np.linalg.norm(physics.gravity)) * float(spread) * length
            slow = _SLOW * push * float(size.min()) ** 2 / (viscosity * length)
            speeds[number] = min(float(np.sqrt(push / density)), slow)
        outlets = np.nonzero((faces.kind == OUTLET) & (body[faces.owner] == number))[0]
        push = float(np.ptp(given.pressure[outlets])) if outlets.size else 0.0
        push += float(np.abs(np.asarray(physics.drive)) @ size)
        blown = [fan for fan in fans if body[fan.cells[0]] == number]
        push += sum(max(0.0, *fan.given.curve.value) for fan in blown)
        if push > 0.0:
            slow = push * float(size.min()) ** 2 / (12.0 * viscosity * float(size.max()))
            fast = float(np.sqrt(2.0 * push / density))
            # Past the end of its curve a fan drives nothing more.
            ahead = [fan.given.curve.at[-1] * fan.given.stands_for / fan.area for fan in blown if not fan.given.curve.flat]
            speeds[number] = max(speeds[number], min(fast, slow, *ahead) if ahead else min(fast, slow))
    return speeds


def turnover(materials: Sequence[PropertyTable], grid: Grid, faces: Faces, body: Index, speed: Array, reference: float) -> Array:
    """Mass flow that a closed flow at a speed takes through the faces of each body, kg/s: what its mass is measured against."""
    found = np.zeros(speed.size)
    inside = faces.kind == FLOW
    number = body[faces.owner[inside]]
    area = np.bincount(number, faces.area[inside], speed.size) if speed.size else found
    for b in range(speed.size):
        table = materials[grid.region[int(np.argmax(body == b))]]
        found[b] = _TURNOVER * float(table.density(reference)) * speed[b] * area[b]
    return found
