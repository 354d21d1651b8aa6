"""What the flow of a case answers to: gravity, density, friction heat, mush; with the tables and scales that follow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wattikos_core.errors import CaseError
from wattikos_core.errors import Problem as InputProblem
from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable
from wattikos_core.physics.faces import FLOW, OUTLET, Array, Faces, Index
from wattikos_core.physics.properties import Forces, Tables

# Resistance of the mush, kg/m3/s: the customary value, Brent, Voller and Reid (1988, Numer. Heat Transfer 13, 297).
MUSH = 1.6e6
# A slow buoyant flow is about this share of g Δρ L²/μ (the square cavity at small Rayleigh numbers, our own solutions).
_SLOW = 0.01
# Flow through all faces of a closed body, as a share of its speed scale times their areas (our own solutions).
_TURNOVER = 0.05


@dataclass(frozen=True)
class FlowPhysics:
    """What moves fluids beside their boundaries, in SI.

    Attributes:
        gravity: m/s2, both components.
        reference: temperature of the density that weight is counted against, K; the mean of those given when None.
        varying_density: whether density varies in all balances and not in the weight alone.
        in_time: whether cells store.
        friction_heat: whether friction heats the fluid.
        drive: force that stands for a pressure falling along repeated modules, N/m3.
        mush: see `MUSH`.
        repeating: whether the section is a module that repeats.
        rayleigh_length: what Rayleigh numbers are on: the `gap` between the surfaces that give heat and take it, or the `height`.
    """

    gravity: tuple[float, float] = (0.0, 0.0)
    reference: float | None = None
    varying_density: bool = False
    in_time: bool = False
    friction_heat: bool = False
    drive: tuple[float, float] = (0.0, 0.0)
    mush: float = MUSH
    rayleigh_length: Literal["gap", "height"] = "gap"
    repeating: bool = False

    @property
    def heavy(self) -> bool:
        """Whether there is gravity."""
        return self.gravity != (0.0, 0.0)


def build_tables(materials: Sequence[PropertyTable], physics: FlowPhysics, reference: float) -> tuple[Tables, Array]:
    """The kernels' tables, and the density of each material at the reference temperature (K).

    Where density varies in the weight alone, or cells store heat, the fluid's own density is that at the reference
    temperature everywhere else: what is called the Boussinesq approximation, without making the weight linear.
    """
    rows = []
    level = []
    constant = (physics.heavy or physics.in_time) and not physics.varying_density
    for material in materials:
        # What melts has, solid too, the density of its liquid: it fills the same space.
        at = reference if material.melting is None else material.melting.ends
        at = min(max(at, material.start_temperature), material.end)
        level.append(float(material.heavy_density(at)))
        c = material.coefficients
        density = c[0]
        if material.fluid and (constant or material.melting is not None):
            density = np.zeros_like(c[0])
            density[:, 3] = float(material.density(at))
        weight = material.weight if material.weight is not None else c[0]
        own = material.step * np.arange(c.shape[1])
        plain = np.zeros_like(c[0])
        plain[:, 2], plain[:, 3] = 1.0, material.start + own
        carried = c[1]
        liquid = np.zeros_like(c[0])
        liquid[:, 3] = 1.0
        if material.melting is not None:
            plain, liquid = material.melting.temperature, material.melting.liquid
            carried = _of_liquid(material)
        rows.append(np.stack([density, c[1], c[2], c[3], weight, plain, liquid, carried]))
    tables = Tables(
        np.ascontiguousarray(np.stack(rows)),
        np.array([m.start for m in materials]),
        np.array([m.step for m in materials]),
        np.array([int(m.melting is not None) for m in materials], dtype=np.int64),
        np.array([m.stretch for m in materials]),
    )
    return tables, np.array(level)


def _of_liquid(material: PropertyTable) -> Array:
    """Coefficients (n_intervals, 4) of the enthalpy of a melting material's liquid, carried on below its melting range."""
    assert material.melting_range is not None
    ends = material.melting_range[1]
    starts = material.start + material.step * np.arange(material.coefficients.shape[1])
    rows = material.coefficients[1].copy()
    below = starts < ends - 0.5 * material.step
    heat = rows[~below][0, 2]
    rows[below, 2] = heat
    rows[below, 3] = rows[~below][0, 3] - heat * (ends - starts[below])
    return np.asarray(rows)


def build_forces(
    grid: Grid,
    materials: Sequence[PropertyTable],
    physics: FlowPhysics,
    level: Array,
    body: Index,
    faces: Faces,
    moving: NDArray[np.bool_],
    reference: float,
) -> Forces:
    """Forces of a problem.

    Args:
        body: number of the connected body of fluid of each cell, -1 in solids.
        moving: whether each cell has fluid that moves.
        reference: temperature at which closed gases were filled in, K.

    Raises:
        CaseError: a closed liquid would have to expand in time.
    """
    bodies = int(body.max(initial=-1)) + 1
    charge = np.zeros(bodies)
    open_bodies = set(body[faces.owner[faces.kind == OUTLET]].tolist())
    for number in range(bodies) if physics.varying_density else ():
        cells = np.nonzero((body == number) & moving)[0]
        if cells.size == 0 or number in open_bodies:
            continue
        table = materials[grid.region[cells[0]]]
        if table.gas:
            charge[number] = float(table.density(reference)) * float(grid.volume[cells].sum())
        elif physics.in_time:
            name = grid.region_names[grid.region[cells[0]]]
            raise CaseError(
                InputProblem(
                    "physics.density",
                    f"the liquid in '{name}' is closed in and cannot expand",
                    "let density vary in the weight alone, or give it an outlet",
                )
            )
    elastic = np.zeros(len(materials))
    if follows_pressure(physics):
        elastic = np.array([1.0 / m.pressure if m.fluid and m.gas else 0.0 for m in materials])
    swirl = bool(grid.axisymmetric and faces.spin.any())
    return Forces(
        np.array(physics.gravity, dtype=float),
        level,
        np.array(physics.drive, dtype=float),
        int(swirl),
        int(physics.friction_heat),
        physics.mush,
        charge,
        elastic,
    )


def follows_pressure(physics: FlowPhysics) -> bool:
    """Whether the density of gases follows the local pressure, as in an ideal gas at its temperature.

    It does in steady flow where density varies at all. In time it would carry waves of sound, which nobody looks for here; a
    module that repeats has one pressure.
    """
    return not (physics.in_time or physics.repeating or (physics.heavy and not physics.varying_density))


def driven_speed(
    grid: Grid, materials: Sequence[PropertyTable], faces: Faces, physics: FlowPhysics, body: Index, ends: Array
) -> Array:
    """Speed that gravity or given pressures can drive in each body of fluid, m/s; 0 without either. See `_SLOW` for slow flows.

    Args:
        ends: lowest and highest temperature in each body, K, shape (n_bodies, 2).
    """
    speeds = np.zeros(len(ends))
    if not (physics.heavy or physics.drive != (0.0, 0.0) or np.ptp(faces.pressure) > 0.0):
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
            push = float(np.hypot(*physics.gravity)) * float(spread) * length
            slow = _SLOW * push * float(size.min()) ** 2 / (viscosity * length)
            speeds[number] = min(float(np.sqrt(push / density)), slow)
        outlets = np.nonzero((faces.kind == OUTLET) & (body[faces.owner] == number))[0]
        push = float(np.ptp(faces.pressure[outlets])) if outlets.size else 0.0
        push += float(np.abs(np.asarray(physics.drive)) @ size)
        if push > 0.0:
            slow = push * float(size.min()) ** 2 / (12.0 * viscosity * float(size.max()))
            speeds[number] = max(speeds[number], min(float(np.sqrt(2.0 * push / density)), slow))
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
