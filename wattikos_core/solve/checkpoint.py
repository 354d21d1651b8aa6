"""Checkpoints: what another solve can begin from, or a run in time go on from, as compressed arrays (NumPy's npz)."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Sequence
from dataclasses import astuple, dataclass, field

import numpy as np

from wattikos_core.grid import Grid, transfer
from wattikos_core.physics import Periodicity, State, Unknowns
from wattikos_core.physics.faces import Array


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


_GRID_ARRAYS = (
    "nodes",
    "cell_start",
    "cell_nodes",
    "region",
    "face_start",
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


@dataclass(frozen=True)
class Checkpoint:
    """A state with its grid, its unknowns, its coefficients of momentum interpolation, and its past if it is of a run in time."""

    grid: Grid
    unknowns: Unknowns
    state: State
    interpolation: Array
    past: Past | None = None


def pack_checkpoint(checkpoint: Checkpoint) -> bytes:
    """A checkpoint as a file, at full precision."""
    buffer = io.BytesIO()
    grid, state, unknowns, past = checkpoint.grid, checkpoint.state, checkpoint.unknowns, checkpoint.past
    arrays: dict[str, np.ndarray] = {name: getattr(grid, name) for name in _GRID_ARRAYS}
    arrays |= {f"group:{name}": faces for name, faces in grid.groups.items()}
    arrays |= {"region_names": np.array(grid.region_names), "extent": np.array([float(grid.axisymmetric), grid.depth])}
    arrays |= {"unknowns": np.array([unknowns.dimensions, int(unknowns.swirl)]), "scalars": np.array(unknowns.scalars, dtype=str)}
    arrays |= {"state": state.columns(unknowns), "diagonal": checkpoint.interpolation}
    arrays["repeat"] = np.array(astuple(state.periodicity))
    arrays["spacing"] = np.array([grid.spacing.get("fineness", 0.0)])
    if past is not None:
        arrays["past"] = np.array([past.time, past.missing, past.passed])
        arrays["beginning"] = past.beginning.columns(unknowns)
        arrays["history"] = np.frombuffer(json.dumps(past.history).encode(), dtype=np.uint8)
    # As NumPy writes it, but with the quickest compression: the usual one takes three times as long for a tenth less.
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name, array in arrays.items():
            with archive.open(f"{name}.npy", "w", force_zip64=True) as file:
                np.lib.format.write_array(file, np.asarray(array), allow_pickle=False)
    return buffer.getvalue()


def unpack_checkpoint(data: bytes) -> Checkpoint:
    """The inverse of `pack_checkpoint`; ValueError for data that is not a checkpoint."""
    with np.load(io.BytesIO(data), allow_pickle=False) as stored:
        groups = {name.removeprefix("group:"): stored[name] for name in stored.files if name.startswith("group:")}
        axisymmetric, depth = stored["extent"]
        arrays = {name: stored[name] for name in _GRID_ARRAYS if name in stored.files}
        if "face_start" not in arrays:
            # Checkpoints of before faces were lists of nodes have the two ends of each.
            arrays["face_start"] = np.arange(0, arrays["face_nodes"].size + 1, 2)
            arrays["face_nodes"] = arrays["face_nodes"].ravel()
        grid = Grid(
            **arrays,
            region_names=tuple(str(name) for name in stored["region_names"]),
            groups=groups,
            axisymmetric=bool(axisymmetric),
            depth=float(depth),
            spacing={"fineness": float(stored["spacing"][0])},
        )
        columns = stored["state"]
        if "unknowns" in stored.files:
            dimensions, swirl = (int(x) for x in stored["unknowns"])
            unknowns = Unknowns(dimensions, bool(swirl), tuple(str(name) for name in stored["scalars"]))
        else:
            # Checkpoints of before the unknowns were listed: velocity, pressure, temperature, and perhaps angular velocity.
            unknowns = Unknowns(2, columns.shape[1] == 5)
        periodicity = Periodicity(*(float(x) for x in stored["repeat"])) if "repeat" in stored.files else Periodicity()
        past = None
        if "past" in stored.files:
            time, lost, passed = (float(x) for x in stored["past"])
            beginning = State.of(stored["beginning"], unknowns)
            past = Past(time, beginning, json.loads(stored["history"].tobytes()), lost, passed)
        return Checkpoint(grid, unknowns, State.of(columns, unknowns, periodicity), stored["diagonal"], past)


def mixed(starts: Sequence[Checkpoint], weights: Sequence[float]) -> Checkpoint:
    """One on the grid of the first one, with the weighted sum of the velocities, pressures and temperatures of all.

    What is positive or between bounds (turbulence, V/a_P) is that of the first one alone.

    Args:
        starts: of similar problems.
        weights: of each; they add up to one.
    """
    first, others = starts[0], starts[1:]
    columns = first.state.columns(first.unknowns)
    plain = [*first.unknowns.velocity, first.unknowns.pressure, first.unknowns.temperature, *first.unknowns.angular_velocity]
    whole = columns.copy()
    for other, weight in zip(others, weights[1:], strict=True):
        if other.unknowns == first.unknowns:
            change = transfer(other.state.columns(other.unknowns), other.grid, first.grid) - columns
            whole[:, plain] += weight * np.nan_to_num(change[:, plain])
    state = State.of(whole, first.unknowns, first.state.periodicity)
    return Checkpoint(first.grid, first.unknowns, state, first.interpolation)
