"""Property tables of materials for the kernels, and how the density of gases follows pressure."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable
from wattikos_core.physics.faces import OUTLET, Array, Faces, Index
from wattikos_core.physics.flow_physics import FlowPhysics, follows_pressure
from wattikos_core.physics.properties import Gases, Tables


def build_tables(materials: Sequence[PropertyTable], physics: FlowPhysics, reference: float) -> tuple[Tables, Array]:
    """The kernels' tables, and the density of each material at the reference temperature (K).

    Where density varies in the weight alone, or cells store heat, the fluid's own density is that at the reference
    temperature everywhere else: what is called the Boussinesq approximation, without making the weight linear.
    """
    rows = []
    level = []
    constant = (physics.heavy or physics.in_time) and not physics.varying_density
    for material in materials:
        # A melting material has the density of its liquid when solid too: no change of volume.
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


def build_gases(
    grid: Grid,
    materials: Sequence[PropertyTable],
    physics: FlowPhysics,
    body: Index,
    faces: Faces,
    moving: NDArray[np.bool_],
    reference: float,
) -> Gases:
    """How the density of the gases of a problem follows pressure.

    Args:
        grid: cells and faces.
        materials: property table of each region.
        physics: what moves fluids beside their boundaries.
        body: number of the connected body of fluid of each cell, -1 in solids.
        faces: geometry of faces.
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
    return Gases(charge, elastic)
