"""What turns, what rubs, what melts and what rises: torques, friction heat, stores and Rayleigh numbers."""

from __future__ import annotations

import numpy as np

from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Point, Problem
from wattikos_core.physics.faces import INTERFACE, WALL, Array, Index
from wattikos_core.physics.properties import liquid_fractions
from wattikos_core.read.shear import angular_velocity_of_walls, friction_on_walls

# A surface passes heat worth speaking of from this share of the largest amount on.
_PASSING = 0.02
# Heat comes from below when it comes from this share of the height further down.
_BELOW = 0.25
# A wall turns where its velocity is along the circle to this share; a flat one that slides has round-off across.
_ROUND = 1e-3


def motion_quantities(point: Point, evaluation: Evaluation) -> dict[Key, float]:
    """Ledger quantities of moving surfaces, friction, melting and weight by key, SI."""
    problem = point.problem
    values = _turning(point, evaluation)
    grid, cells = problem.grid, problem.cells
    liquid = liquid_fractions(cells, problem.tables, point.state.stretched)
    for index, name in enumerate(grid.region_names):
        mine = grid.region == index
        if problem.physics.friction_heat and cells.fluid[mine].any():
            values[Key("friction_heat", name)] = float(evaluation.dissipation[mine].sum())
            values[Key("heat_of_compression", name)] = float(evaluation.compression[mine].sum())
        if problem.materials[index].melting is not None:
            values[Key("liquid_fraction", name)] = float(np.average(liquid[mine], weights=grid.volume[mine]))
        if problem.physics.heavy and cells.fluid[mine].any():
            rayleigh = rayleigh_number(problem, evaluation, index)
            if rayleigh > 0.0:
                values[Key("rayleigh_number", name)] = rayleigh
    charge = problem.gases.charge
    if charge.any():
        filling = point.properties.filling
        for index, name in enumerate(grid.region_names):
            mine = (grid.region == index) & (problem.body >= 0)
            if mine.any() and charge[problem.body[mine][0]] > 0.0:
                values[Key("pressure", name)] = float(filling[mine][0]) * problem.materials[index].pressure
    return values


def rayleigh_number(problem: Problem, evaluation: Evaluation, index: int) -> float:
    """Rayleigh number of a fluid part: of the temperatures on its surfaces, on its gap or its height
    (`FlowPhysics.rayleigh_length`).

    The gap is the distance between the surfaces that give heat and those that take it: volume over the mean of their areas,
    which is
    the width of a cavity heated from its side, the height of a layer heated from below, the difference of radii of an annulus.
    """
    grid = problem.grid
    touching = _touching(problem, index)
    surface = np.where(grid.region[grid.owner] == index, evaluation.face_temperature, evaluation.beyond_temperature)[touching]
    if surface.size == 0:
        return 0.0
    low, high = float(surface.min()), float(surface.max())
    pull = float(np.linalg.norm(problem.physics.gravity))
    length = _height(problem, touching)
    giving, taking = _giving_and_taking(problem, evaluation, index)
    if problem.physics.rayleigh_length == "gap" and giving.size and taking.size:
        volume = float(grid.volume[grid.region == index].sum())
        length = 2.0 * volume / float(problem.faces.area[giving].sum() + problem.faces.area[taking].sum())
    table = problem.materials[index]
    melting = table.melting
    if melting is not None:
        low, high = max(low, melting.ends), max(high, melting.ends)
    middle = 0.5 * (low + high)
    density = float(table.density(middle))
    spread = float(np.ptp(table.heavy_density(np.linspace(low, high, 9)))) / density
    viscous = float(table.viscosity(middle)) / density
    thermal = float(table.conductivity(middle)) / (density * float(table.specific_heat(middle)))
    return pull * spread * length**3 / (viscous * thermal)


def heated_from_below(problem: Problem, evaluation: Evaluation, index: int) -> bool:
    """Whether the surfaces that give a fluid part its heat lie below those that take it, by a good part of its height."""
    giving, taking = _giving_and_taking(problem, evaluation, index)
    if giving.size == 0 or taking.size == 0:
        return False
    up = -np.asarray(problem.physics.gravity) / float(np.linalg.norm(problem.physics.gravity))
    mean = [float(np.average(problem.grid.face_centre[f] @ up, weights=problem.faces.area[f])) for f in (giving, taking)]
    return mean[1] - mean[0] > _BELOW * _height(problem, _touching(problem, index))


def _height(problem: Problem, touching: Index) -> float:
    """Extent of surfaces along gravity, m."""
    gravity = np.asarray(problem.physics.gravity)
    nodes = problem.grid.nodes[np.unique(problem.grid.edges[touching])]
    return float(np.ptp(nodes @ gravity)) / float(np.linalg.norm(gravity))


def _giving_and_taking(problem: Problem, evaluation: Evaluation, index: int) -> tuple[Index, Index]:
    """Faces of the surfaces that give heat to a fluid part, and of those that take it; those that hardly pass any are left out."""
    grid = problem.grid
    found: list[tuple[Index, float]] = []
    for faces in grid.groups.values():
        if problem.faces.kind[faces[0]] not in (WALL, INTERFACE):
            continue
        beyond = np.where(grid.neighbour[faces] >= 0, grid.region[np.maximum(grid.neighbour[faces], 0)], -1)
        inside = grid.region[grid.owner[faces]] == index
        if not (inside[0] or beyond[0] == index):
            continue
        found.append((faces, float(evaluation.into_cells(faces, inside).sum())))
    most = max((abs(heat) for _, heat in found), default=0.0)
    none = np.zeros(0, dtype=np.int64)
    giving = [faces for faces, heat in found if heat > _PASSING * most]
    taking = [faces for faces, heat in found if heat < -_PASSING * most]
    return np.concatenate([none, *giving]), np.concatenate([none, *taking])


def _touching(problem: Problem, index: int) -> Index:
    """Walls and interfaces of a region."""
    grid = problem.grid
    wall = np.isin(problem.faces.kind, (WALL, INTERFACE))
    beyond = np.where(grid.neighbour >= 0, grid.region[np.maximum(grid.neighbour, 0)], -1)
    return np.nonzero(wall & ((grid.region[grid.owner] == index) | (beyond == index)))[0]


def _turning(point: Point, evaluation: Evaluation) -> dict[Key, float]:
    """Torque and power of surfaces that turn, and force and power of those that slide."""
    problem = point.problem
    grid, faces, given = problem.grid, problem.faces, problem.given
    values: dict[Key, float] = {}
    shear: Array | None = None
    fastest = int(np.argmax(np.abs(given.angular_velocity)))
    sense = float(np.sign(given.angular_velocity[fastest])) or 1.0
    for name, group in grid.groups.items():
        if faces.kind[group[0]] not in (WALL, INTERFACE):
            continue
        if problem.unknowns.swirl:
            onto = float(evaluation.torque[group].sum())
            angular_velocity = float(given.angular_velocity[group[0]])
            wet = problem.cells.fluid[grid.owner[group[0]]] == 1
            torque = onto if wet else -onto
            if angular_velocity != 0.0:
                values[Key("torque_to_turn", name)] = -torque * float(np.sign(angular_velocity))
                values[Key("power_to_turn", name)] = -torque * angular_velocity
            elif torque != 0.0:
                values[Key("torque", name)] = torque * sense
        elif given.velocity[group].any():
            if shear is None:
                shear = friction_on_walls(point)
            force = shear[group]
            power = -float((force * given.velocity[group]).sum())
            centre = grid.nodes[np.unique(grid.edges[group])].mean(axis=0)
            arm = grid.face_centre[group] - centre
            turned = arm[:, 0] * given.velocity[group][:, 1] - arm[:, 1] * given.velocity[group][:, 0]
            whole = np.linalg.norm(arm, axis=1) * np.linalg.norm(given.velocity[group], axis=1)
            if np.all(turned > _ROUND * whole) or np.all(turned < -_ROUND * whole):
                torque = float((arm[:, 0] * force[:, 1] - arm[:, 1] * force[:, 0]).sum())
                values[Key("torque_to_turn", name)] = -torque * float(np.sign(turned[0]))
                values[Key("power_to_turn", name)] = power
            else:
                values[Key("power_to_slide", name)] = power
        elif not grid.axisymmetric and _closed(problem, group) and _something_turns(problem):
            # A casing at rest bears the moment of what turns in it.
            if shear is None:
                shear = friction_on_walls(point)
            arm = grid.face_centre[group] - grid.nodes[np.unique(grid.edges[group])].mean(axis=0)
            torque = float((arm[:, 0] * shear[group][:, 1] - arm[:, 1] * shear[group][:, 0]).sum())
            values[Key("torque", name)] = torque * _sense_in_the_plane(problem)
    return values


def _closed(problem: Problem, group: Index) -> bool:
    """Whether a surface goes all round a body of fluid or in one."""
    area = problem.faces.area[group]
    wet = problem.cells.fluid[problem.grid.owner[group[0]]] == 1
    if problem.grid.neighbour[group[0]] >= 0:
        wet = wet or problem.cells.fluid[problem.grid.neighbour[group[0]]] == 1
    return bool(wet) and float(np.linalg.norm(area @ problem.faces.normal[group])) < 1e-6 * float(area.sum())


def _something_turns(problem: Problem) -> bool:
    """Whether a closed surface moves along itself in a flat section."""
    faces = problem.faces
    return any(
        bool(problem.given.velocity[group].any(axis=1).all()) and _closed(problem, group)
        for group in problem.grid.groups.values()
        if faces.kind[group[0]] in (WALL, INTERFACE)
    )


def _sense_in_the_plane(problem: Problem) -> float:
    """1 where what turns fastest in a flat section turns anticlockwise, -1 where clockwise."""
    rates = angular_velocity_of_walls(problem)
    return float(np.sign(rates[int(np.argmax(np.abs(rates)))])) or 1.0
