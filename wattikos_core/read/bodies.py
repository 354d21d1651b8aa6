"""What each wetted surface gives and bears: heat transfer coefficient, Nusselt number, drag and lift.

A surface is a named boundary of the section or an interface between two parts, with a fluid on one side.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Point, Problem
from wattikos_core.physics.faces import INTERFACE, WALL, Array, Index
from wattikos_core.read.shear import friction_on_walls, separation_angle, shear_along
from wattikos_core.read.streams import Stream, ends_of_streams, stream_by_part

# A surface is a body's when its area vectors cancel, to round-off of the outline's corners.
_CLOSED = 1e-6


def surface_quantities(point: Point, evaluation: Evaluation, streams: Mapping[str, Stream]) -> dict[Key, float]:
    """Ledger quantities of all wetted surfaces by key, SI."""
    problem = point.problem
    grid, faces = problem.grid, problem.faces
    if not problem.cells.fluid.any():
        return {}
    values: dict[Key, float] = {}
    # Told along streams alone.
    friction = friction_on_walls(point) if streams else np.zeros((grid.n_faces, 2))
    streams = stream_by_part(problem, streams)
    ahead_of = {part: _ahead(problem, evaluation, stream) for part, stream in streams.items()}
    for name, group in grid.groups.items():
        if faces.kind[group[0]] not in (WALL, INTERFACE):
            continue
        beyond = np.where(grid.neighbour[group] >= 0, grid.neighbour[group], grid.owner[group])
        for cells, outward in ((grid.owner[group], 1.0), (beyond, -1.0)):
            if problem.cells.fluid[cells[0]] == 0 or (outward < 0.0 and grid.neighbour[group[0]] < 0):
                continue
            part = grid.region_names[grid.region[cells[0]]]
            stream = streams.get(part)
            surface = (evaluation.face_temperature if outward > 0.0 else evaluation.beyond_temperature)[group]
            area = faces.area[group]
            total = float(area.sum())
            mean_inside = float(np.average(evaluation.temperature, weights=_within(problem, part)))
            reference = stream.inlet_temperature if stream else mean_inside
            mean = float(surface @ area) / total
            into = float(evaluation.into_cells(group, np.full(group.size, outward > 0.0)).sum())
            # Where two fluids meet at a thin wall, each side has its own coefficient.
            two = "|" in name and problem.cells.fluid[grid.owner[group[0]]] == problem.cells.fluid[beyond[0]] == 1
            side = part if two else ""
            ahead = ahead_of.get(part)
            body = _body_length(problem, group, ahead)
            if abs(mean - reference) > 1e-9 and into != 0.0:
                h = into / (total * (mean - reference))
                values[Key("surface_h", name, side)] = h
                table = problem.materials[grid.region_names.index(part)]
                length = body or (stream.hydraulic_diameter if stream else 0.0)
                if length > 0.0:
                    values[Key("surface_nusselt_number", name, side)] = (
                        h * length / float(table.conductivity(0.5 * (mean + reference)))
                    )
            if stream is not None and ahead is not None and body:
                onto = _force(point, group, cells, outward)
                values |= _in_flow(problem, stream, group, onto, ahead, body, _body_of(name, part))
            if stream is not None and ahead is not None and not two and not problem.given.velocity[group].any():
                if body:
                    values |= separation_angle(problem, friction, group, ahead, _body_of(name, part))
                else:
                    values |= shear_along(problem, friction, group, stream.direction, name)
    return values


def _within(problem: Problem, part: str) -> Array:
    return np.where(problem.grid.region == problem.grid.region_names.index(part), problem.grid.volume, 0.0)


def _body_of(name: str, fluid: str) -> str:
    """The part that an interface is the surface of; a boundary is its own."""
    sides = name.split(" | ")
    return next((side for side in sides if side != fluid), name) if len(sides) == 2 else name


def _ahead(problem: Problem, evaluation: Evaluation, stream: Stream) -> Array:
    """Direction of the flow at a stream's inlet."""
    grid, faces = problem.grid, problem.faces
    if problem.module is not None:
        return problem.module.along
    entering, _ = ends_of_streams(problem, evaluation)
    inlet = np.nonzero(entering & np.isin(grid.region[grid.owner], stream.regions))[0]
    inward = -(faces.area[inlet] @ faces.normal[inlet])
    return np.asarray(inward / np.linalg.norm(inward))


def _body_length(problem: Problem, group: Index, ahead: Array | None) -> float:
    """Diameter of the circle (or sphere) with a body's surface, m; 0 when the surface is none of a body in the fluid.

    A body cut in half by a plane of symmetry counts as a whole one.
    """
    grid, faces = problem.grid, problem.faces
    area = faces.area[group]
    total = float(area.sum())
    if grid.axisymmetric:
        blocks = np.abs(faces.normal[group][:, 0]) @ area
        cancels = abs(float(faces.normal[group][:, 0] @ area)) < _CLOSED * total
        return float(np.sqrt(total / np.pi)) if cancels and blocks > _CLOSED * total else 0.0
    open_by = area @ faces.normal[group]
    if np.linalg.norm(open_by) < _CLOSED * total:
        return total / grid.depth / np.pi
    if ahead is None:
        return 0.0
    facing = (faces.normal[group] @ ahead) * area
    cut = abs(float(facing.sum())) < _CLOSED * total < float(np.abs(facing).sum())
    return 2.0 * total / grid.depth / np.pi if cut else 0.0


def _force(point: Point, group: Index, cells: Index, outward: float) -> Array:
    """Pressure and shear of the fluid on a surface, N, shape (2,); the radial part means nothing in axisymmetric sections."""
    problem, state, gradients = point.problem, point.state, point.gradients
    faces = problem.faces
    # The full gradient of pressure is the net one with the force on the fluid.
    slope = gradients.pressure + point.force
    normal, area = outward * faces.normal[group], faces.area[group]
    reach = (faces.reach_owner if outward > 0.0 else faces.reach_neighbour)[group]
    shift = (faces.shift_owner if outward > 0.0 else faces.shift_neighbour)[group]
    gap = (faces.near if outward > 0.0 else faces.far)[group]
    pressure = state.pressure[cells] + np.einsum("ij,ij->i", slope[cells], reach)
    # In a module pressure falls along the stream beside what repeats.
    pressure -= problem.grid.face_centre[group] @ problem.drive_in(state.periodicity)
    at_foot = state.velocity[cells] + np.einsum("nij,nj->ni", gradients.velocity[cells], shift)
    viscosity = point.properties.viscosity[cells]
    if point.turbulence.stir_owner.size:
        viscosity = viscosity + (point.turbulence.stir_owner if outward > 0.0 else point.turbulence.stir_neighbour)[group]
    shear = viscosity[:, None] * (at_foot - problem.given.velocity[group]) / gap[:, None]
    return np.asarray(((pressure[:, None] * normal + shear) * area[:, None]).sum(axis=0))


def _in_flow(
    problem: Problem, stream: Stream, group: Index, force: Array, ahead: Array, length: float, body: str
) -> dict[Key, float]:
    """Reynolds number and drag of a body along the flow that enters; lift of whole ones in flat sections, to the left of
    that flow."""
    grid, faces = problem.grid, problem.faces
    if grid.axisymmetric and abs(ahead[0]) < 0.999:
        return {}
    area = faces.area[group]
    frontal = 0.5 * float(np.abs(faces.normal[group] @ ahead) @ area)
    drag = float(force @ ahead)
    density = float(stream.table.density(stream.inlet_temperature))
    velocity = stream.mass_flow / (density * stream.cross_section)
    # What a stream that has hardly begun to flow pushes with may be no number above zero.
    push = 0.5 * density * velocity**2 * frontal
    lift = None
    if not grid.axisymmetric and np.linalg.norm(area @ faces.normal[group]) < _CLOSED * float(area.sum()):
        lift = float(force @ np.array([-ahead[1], ahead[0]]))
    values = {
        Key("drag", body): drag,
        Key("body_reynolds_number", body): density * velocity * length / float(stream.table.viscosity(stream.inlet_temperature)),
    }
    if lift is not None:
        values[Key("lift", body)] = lift
    if push > 0.0:
        values[Key("drag_coefficient", body)] = drag / push
        if lift is not None:
            values[Key("lift_coefficient", body)] = lift / push
    return values
