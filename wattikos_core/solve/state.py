"""States and solutions: fields on a grid, kept, compressed and carried over to changed cases."""

from __future__ import annotations

import io
import json
from dataclasses import astuple, dataclass, field, replace

import numpy as np

from wattikos_core.grid import Grid, transfer
from wattikos_core.physics import Problem
from wattikos_core.physics.faces import INLET, OUTLET, Array


@dataclass(frozen=True)
class Repeat:
    """What changes from a module that repeats to the next one.

    Attributes:
        fall: of pressure along the module, Pa/m.
        ratio, jump: temperature differences change by the ratio, and temperatures by the jump (K) beside it.
        source: heat in every cell of the stream that stands in for a ratio not found yet, W/m3; 0 in an answer.
    """

    fall: float = 0.0
    ratio: float = 1.0
    jump: float = 0.0
    source: float = 0.0


@dataclass(frozen=True)
class State:
    """Cell values: velocity (m/s), pressure (Pa, gauge), temperature (K) and rate of turning about the axis (rad/s).

    In a material that melts `t` is its stretched temperature (see `materials.melting`); an evaluation has the true one.
    """

    u: Array
    v: Array
    p: Array
    t: Array
    spin: Array
    repeat: Repeat = Repeat()

    @property
    def unknowns(self) -> tuple[Array, Array, Array, Array, Array]:
        """u, v, p, T and the turning, in the order of the kernels."""
        return self.u, self.v, self.p, self.t, self.spin

    def stacked(self) -> Array:
        """Shape (n_cells, 5)."""
        return np.stack(self.unknowns, axis=1)

    @staticmethod
    def of(columns: Array) -> State:
        """The inverse of `stacked`."""
        u, v, p, t, spin = (np.ascontiguousarray(column) for column in columns.T)
        return State(u, v, p, t, spin)

    def finite(self) -> bool:
        """Whether every value is a number."""
        return bool(np.isfinite(self.stacked()).all() and np.isfinite(astuple(self.repeat)).all())


@dataclass(frozen=True)
class Past:
    """What carrying a run in time on takes beside its last state.

    Attributes:
        time: reached, s.
        beginning: the state it all began with, on the same grid as the last one.
        history: one row per step so far.
        missing, passed: heat that went missing and that passed so far, J.
    """

    time: float
    beginning: State
    history: list[dict[str, float]] = field(default_factory=list)
    missing: float = 0.0
    passed: float = 0.0


@dataclass(frozen=True)
class Solution:
    """A converged (or stopped) state with its grid, its history and how it was reached.

    Attributes:
        history: one row per step: residuals and watches by name.
        converged: whether residuals, watches and balances agreed.
        method: `coupled`, `segregated` or `in time`.
        past: of a run in time, with all of it; None in steady state.
    """

    grid: Grid
    state: State
    diagonal: Array
    history: list[dict[str, float]]
    converged: bool
    stopped: bool
    method: str
    seconds: float
    notes: list[str] = field(default_factory=list)
    past: Past | None = None

    @property
    def time(self) -> float | None:
        """Time reached, s; None in steady state."""
        return self.past.time if self.past is not None else None

    def checkpoint(self) -> bytes:
        """What another solve can begin from, or a run in time go on from."""
        return pack_checkpoint(self.grid, self.state, self.diagonal, self.past)


_LEVEL = 0.05
_GRID_ARRAYS = (
    "nodes",
    "cell_start",
    "cell_nodes",
    "region",
    "face_nodes",
    "owner",
    "neighbour",
    "area",
    "face_centre",
    "centre",
    "volume",
    "joined",
    "period",
)


def pack_checkpoint(grid: Grid, state: State, diagonal: Array, past: Past | None = None) -> bytes:
    """A state, its grid and its past as compressed arrays (NumPy's npz), at full precision."""
    buffer = io.BytesIO()
    arrays: dict[str, np.ndarray] = {name: getattr(grid, name) for name in _GRID_ARRAYS}
    arrays |= {f"group:{name}": faces for name, faces in grid.groups.items()}
    arrays |= {"region_names": np.array(grid.region_names), "extent": np.array([float(grid.axisymmetric), grid.depth])}
    arrays |= {"state": state.stacked(), "diagonal": diagonal, "repeat": np.array(astuple(state.repeat))}
    arrays["spacing"] = np.array([grid.spacing.get("fineness", 0.0)])
    if past is not None:
        arrays["past"] = np.array([past.time, past.missing, past.passed])
        arrays["beginning"] = past.beginning.stacked()
        arrays["history"] = np.frombuffer(json.dumps(past.history).encode(), dtype=np.uint8)
    np.savez_compressed(buffer, allow_pickle=False, **arrays)
    return buffer.getvalue()


def unpack_checkpoint(data: bytes) -> tuple[Grid, State, Array, Past | None]:
    """The inverse of `pack_checkpoint`; ValueError for data that is not a checkpoint."""
    with np.load(io.BytesIO(data), allow_pickle=False) as stored:
        groups = {name.removeprefix("group:"): stored[name] for name in stored.files if name.startswith("group:")}
        axisymmetric, depth = stored["extent"]
        grid = Grid(
            **{name: stored[name] for name in _GRID_ARRAYS if name in stored.files},
            region_names=tuple(str(name) for name in stored["region_names"]),
            groups=groups,
            axisymmetric=bool(axisymmetric),
            depth=float(depth),
            spacing={"fineness": float(stored["spacing"][0])},
        )
        columns = stored["state"]
        # Checkpoints of before there was swirl have no turning.
        missing = np.zeros((len(columns), 5 - columns.shape[1]))
        state = State.of(np.column_stack([columns, missing]))
        if "repeat" in stored.files:
            state = replace(state, repeat=Repeat(*(float(x) for x in stored["repeat"])))
        past = None
        if "past" in stored.files:
            time, lost, passed = (float(x) for x in stored["past"])
            past = Past(time, State.of(stored["beginning"]), json.loads(stored["history"].tobytes()), lost, passed)
        return grid, state, stored["diagonal"], past


def start_from(problem: Problem, grid: Grid, state: State, diagonal: Array) -> tuple[State, Array]:
    """A former state carried over to the grid of a changed problem; regions that are new start at rest."""
    fluid = problem.cells.fluid == 1
    carried = transfer(np.column_stack([state.stacked(), diagonal]), grid, problem.grid)
    rest, plain = at_start(problem), np.zeros(problem.grid.n_cells)
    new = np.isnan(carried).any(axis=1)
    carried[new] = np.column_stack([rest.stacked(), plain])[new]
    carried[~fluid, :3] = 0.0
    if problem.forces.swirl == 0:
        carried[:, 4] = 0.0
    return levelled(problem, replace(State.of(carried[:, :5]), repeat=state.repeat)), carried[:, 5].copy()


def at_start(problem: Problem) -> State:
    """Streams move and are as warm as they enter, at their outlets' pressure; the rest is still, at the mean temperature given.

    A start at rest would give interior cells coefficients without any convection beside inlet cells full of it, and the
    momentum interpolation between them would carry most of the flow the wrong way.
    """
    zero = np.zeros(problem.grid.n_cells)
    middle = 0.5 * (problem.scales.lowest + problem.scales.highest)
    temperature = stretched(problem, np.full_like(zero, middle))
    u, v = zero.copy(), zero.copy()
    inlets = np.nonzero(problem.faces.kind == INLET)[0]
    entered = problem.body[problem.faces.owner[inlets]]
    module = problem.module
    if module is not None:
        streaming = problem.body == problem.body[problem.faces.owner[module.faces[0]]]
        speed = problem.scales.velocity[streaming]
        u[streaming], v[streaming] = speed * module.along[0], speed * module.along[1]
        temperature[streaming] = module.temperature
    for body in np.unique(entered):
        mine, entrance = problem.body == body, inlets[entered == body]
        table = problem.materials[problem.grid.region[problem.faces.owner[entrance[0]]]]
        temperature[mine] = float(table.stretched(problem.faces.temperature[entrance].mean()))
        u[mine], v[mine] = np.average(problem.faces.velocity[entrance], axis=0, weights=problem.faces.area[entrance])
    return levelled(problem, State(u, v, zero, temperature, zero.copy()))


def stretched(problem: Problem, temperature: Array) -> Array:
    """Temperatures (K) of cells as the unknown that the solvers work on: stretched in materials that melt."""
    result = temperature.copy()
    for index, table in enumerate(problem.materials):
        if table.melting is not None:
            mine = problem.grid.region == index
            result[mine] = table.stretched(temperature[mine])
    return result


def levelled(problem: Problem, state: State) -> State:
    """The state with each body of fluid raised to the pressure of its outlets.

    A start at another level would be a pressure step at the outlet, and a jet through it.
    """
    faces = problem.faces
    pressure = state.p.copy()
    outlets = np.nonzero(faces.kind == OUTLET)[0]
    cells = faces.owner[outlets]
    for body in np.unique(problem.body[cells]):
        mine, all_of_it = problem.body[cells] == body, problem.body == body
        step = float((faces.pressure[outlets[mine]] - state.p[cells[mine]]).mean())
        # Outlet cells stand a little above their outlet anyway: a state that already has this level keeps it exactly.
        if abs(step) > _LEVEL * float(np.ptp(state.p[all_of_it])):
            pressure[all_of_it] += step
    return replace(state, p=pressure)
