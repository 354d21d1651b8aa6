"""Along walls: temperature, heat flux, friction, and local heat transfer coefficients on a bulk or an entering temperature."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.physics import Evaluation, Periodicity, Problem
from wattikos_core.physics.faces import Array, Index
from wattikos_core.read.instant import Instant
from wattikos_core.read.profiles import Path, Profile, Statistics, path_along
from wattikos_core.read.streams import stream_by_part, streams_of

# Points across a stream at which its bulk temperature is taken.
_ACROSS = 80
# A ray starts this share of the section's size off its wall.
_OFF = 1e-9
_LEAST_DIFFERENCE = 1e-9
# What begins at a boundary begins this share of the section's size inside.
_INSIDE = 1e-6
# A boundary is an opening where this share of the speed on it is through it.
_PASSES = 0.2

# A surface whose ends are nearer to each other than this share of its length is a body's.
_CLOSED = 0.1
Reference = Literal["", "bulk", "entering"]

# What lies along walls beside the fields of cells, by kind of quantity.
WALL_FIELDS: dict[str, str] = {
    "heat flux into it": "heat_flux",
    "heat flux radiated": "heat_flux",
    "friction": "pressure",
    "bulk temperature": "temperature",
    "local h": "heat_transfer_coefficient",
    "local Nusselt number": "number",
    "y⁺": "number",
}


@dataclass(frozen=True)
class StreamScales:
    """What coefficients of a stream are counted from: the temperature at which it enters (K) and its hydraulic diameter (m)."""

    entering: float
    hydraulic_diameter: float


def stream_scales(problem: Problem, evaluation: Evaluation, periodicity: Periodicity) -> dict[str, StreamScales]:
    """The scales of all streams of a solution by every part that they pass."""
    streams = stream_by_part(problem, streams_of(problem, evaluation, periodicity))
    return {part: StreamScales(stream.inlet_temperature, stream.hydraulic_diameter) for part, stream in streams.items()}


def wall_profiles(
    instant: Instant,
    names: list[str],
    side: str = "",
    reference: Reference = "",
    streams: Mapping[str, StreamScales] | None = None,
) -> list[Profile]:
    """What boundaries and interfaces have along them, one profile for each connected piece, in the order of its faces.

    `heat flux into it` is what passes from the surface into the part on whose side it is read. The local coefficient is this flux
    over the surface's temperature minus that of the stream: its mixed-mean on the straight line from the wall across the fluid
    (`bulk`), or that at which it enters (`entering`). The local Nusselt number is on the hydraulic diameter of the stream and the
    conductivity beside the wall.

    Args:
        instant: what is read.
        names: of boundaries and interfaces.
        side: the part on whose side interfaces are read; that which flows when empty.
        reference: `bulk` or `entering`; when empty the first for walls along a stream, and the second for bodies in one.
        streams: scales by fluid part; without them there are no coefficients on what enters, and no Nusselt numbers.

    Raises:
        CaseError: there is no such boundary in the grid.
    """
    grid = instant.grid
    profiles = []
    for name in names:
        if name not in grid.groups:
            remedy = f"choose one of {', '.join(sorted(grid.groups)[:12])}"
            raise CaseError(InputProblem("boundaries", f"'{name}' is no boundary or interface of this run", remedy))
        group = grid.groups[name]
        cells, outward = _side_of(instant, group, side)
        for piece, forward in _chains(grid.edges[group]):
            faces = group[piece]
            profiles.append(_along(instant, name, faces, forward, cells[piece], outward, reference, streams or {}))
    return profiles


def all_walls(
    instant: Instant, field: str, reference: Reference = "", streams: Mapping[str, StreamScales] | None = None
) -> list[Profile]:
    """A field of `WALL_FIELDS` along all walls and interfaces that have it; nothing for openings, through which fluid passes."""
    names = [name for name, group in instant.grid.groups.items() if not _opening(instant, group)]
    profiles = wall_profiles(instant, names, "", reference, streams)
    return [profile for profile in profiles if np.isfinite(profile.fields.get(field, np.full(1, np.nan))).any()]


def _opening(instant: Instant, group: Index) -> bool:
    """Whether fluid passes a boundary."""
    grid = instant.grid
    if grid.neighbour[group[0]] >= 0 or "velocity x" not in instant.surfaces:
        return False
    velocity = np.stack([instant.on_faces(f"velocity {axis}", group) for axis in "xy"], axis=1)
    through = np.abs(np.einsum("ij,ij->i", velocity, grid.area[group]))
    speed = np.hypot(*velocity.T) * np.hypot(*grid.area[group].T)
    return bool(through.sum() > _PASSES * max(float(speed.sum()), 1e-300))


def wall_path(instant: Instant, name: str) -> Path:
    """The line just inside a boundary, for what begins there; CaseError where there is none of that name."""
    off = _INSIDE * float(np.ptp(instant.grid.nodes, axis=0).max())
    path = max((profile.path for profile in wall_profiles(instant, [name])), key=lambda path: path.length)
    inside = path.points + off * path.normal
    if len(inside) < 2:
        way = np.stack([-path.normal[0, 1], path.normal[0, 0]])
        inside = inside[0] + np.outer([-0.49, 0.49], way) * path.length
    corners = np.asarray(shapely.LineString(inside).simplify(0.1 * off).coords)
    return path_along(name, instant.between, corners)


def _side_of(instant: Instant, group: Index, side: str) -> tuple[Index, float]:
    """The cells on one side of a surface, and whether its faces look out of them (1) or into them (-1)."""
    grid = instant.grid
    owner, neighbour = grid.owner[group], grid.neighbour[group]
    if neighbour[0] < 0:
        return owner, 1.0
    parts = [grid.region_names[grid.region[cells[0]]] for cells in (owner, neighbour)]
    flows = [bool(instant.flows[grid.region[cells[0]]]) for cells in (owner, neighbour)]
    second = parts[1] == side or (side not in parts and flows[1] and not flows[0])
    return (neighbour, -1.0) if second else (owner, 1.0)


def _chains(edges: Index) -> Iterator[tuple[Index, NDArray[np.bool_]]]:
    """The edges (n, 2) in connected rows: their numbers, and whether each is walked from its first node to its second."""
    at_node: dict[int, list[int]] = {}
    for k, ends in enumerate(edges.tolist()):
        for node in ends:
            at_node.setdefault(node, []).append(k)
    left = set(range(len(edges)))
    # Open rows begin at a loose end; the leftmost, then the lowest number.
    loose = [node for node, touching in at_node.items() if len(touching) == 1]
    for node in [*loose, *edges[:, 0].tolist()]:
        row, ways = [], []
        while True:
            following = next((k for k in at_node[node] if k in left), None)
            if following is None:
                break
            left.discard(following)
            first, second = edges[following].tolist()
            row.append(following)
            ways.append(first == node)
            node = second if first == node else first
        if row:
            yield np.array(row), np.array(ways)


def _along(
    instant: Instant,
    name: str,
    faces: Index,
    forward: NDArray[np.bool_],
    cells: Index,
    outward: float,
    reference: Reference,
    streams: Mapping[str, StreamScales],
) -> Profile:
    grid = instant.grid
    way = (grid.nodes[grid.edges[faces, 1]] - grid.nodes[grid.edges[faces, 0]]) * np.where(forward, 1.0, -1.0)[:, None]
    if float(way.sum(axis=0) @ (1.0, 1e-3)) < 0.0 and grid.edges[faces[0]].tolist() != grid.edges[faces[-1]].tolist():
        # From left to right, or upwards.
        faces, cells, way = faces[::-1], cells[::-1], -way[::-1]
    length = np.hypot(*way.T)
    along = np.cumsum(length) - 0.5 * length
    tangent = way / length[:, None]
    out = outward * grid.area[faces] / np.maximum(np.hypot(*grid.area[faces].T), 1e-300)[:, None]
    path = Path(name, grid.face_centre[faces], along, -out, cells, float(length.sum()))
    fields = {field: instant.at(path.points, cells, field) for field in instant.fields}
    if instant.surfaces:
        fields |= _of_surface(instant, path, faces, outward, tangent, reference, streams)
    area = np.hypot(*grid.area[faces].T)
    return Profile(path, fields, _over_faces(path, fields, area), float(area.sum()), None)


def _of_surface(
    instant: Instant,
    path: Path,
    faces: Index,
    outward: float,
    tangent: Array,
    reference: str,
    streams: Mapping[str, StreamScales],
) -> dict[str, Array]:
    surface = instant.on_faces("temperature" if outward > 0.0 else "temperature beyond", faces)
    flux = -outward * instant.on_faces("heat flux", faces)
    found = {"temperature": surface, "heat flux into it": flux}
    if "absorbed" in instant.surfaces:
        absorbed = instant.on_faces("absorbed" if outward > 0.0 else "absorbed beyond", faces)
        if absorbed.any():
            # Into a gas it is what is conducted; what is radiated crosses it.
            found["heat flux into it"] = flux = flux + absorbed
            found["heat flux radiated"] = -absorbed
    grid = instant.grid
    region = int(grid.region[path.cells[0]])
    if not instant.flows[region] or "friction x" not in instant.surfaces:
        return found
    friction = np.stack([instant.on_faces(f"friction {axis}", faces) for axis in "xy"], axis=1)
    found["friction"] = np.einsum("ij,ij->i", friction, tangent)
    if "y plus" in instant.surfaces:
        plus = instant.on_faces("y plus", faces)
        found["y⁺"] = np.where(plus > 0.0, plus, np.nan)
    scales = streams.get(grid.region_names[region])
    bulk = bulk_across(instant, path)
    found["bulk temperature"] = bulk
    closed = path.length > 0.0 and float(np.hypot(*(path.points[-1] - path.points[0]))) < _CLOSED * path.length
    start = (
        bulk
        if (reference or ("entering" if closed else "bulk")) == "bulk"
        else np.full(bulk.size, scales.entering if scales else np.nan)
    )
    difference = surface - start
    with np.errstate(divide="ignore", invalid="ignore"):
        h = np.where(np.abs(difference) > _LEAST_DIFFERENCE, flux / difference, np.nan)
    found["local h"] = h
    if scales and np.isfinite(scales.hydraulic_diameter) and "conductivity" in instant.fields:
        found["local Nusselt number"] = h * scales.hydraulic_diameter / instant.fields["conductivity"][path.cells]
    return found


def bulk_across(instant: Instant, path: Path) -> Array:
    """Mixed-mean temperature on the straight line across the fluid from every point of a wall, K; NaN where nothing passes it."""
    grid = instant.grid
    stops = np.unique(np.concatenate([group for name, group in grid.groups.items() if _stops(instant, name)]))
    a, b = grid.nodes[grid.edges[stops, 0]], grid.nodes[grid.edges[stops, 1]]
    size = float(np.ptp(grid.nodes, axis=0).max())
    reach = np.array([_first_hit(p, d, a, b, _OFF * size) for p, d in zip(path.points, path.normal, strict=True)])
    share = (np.arange(_ACROSS) + 0.5) / _ACROSS
    points = path.points[:, None, :] + (share[None, :] * reach[:, None])[..., None] * path.normal[:, None, :]
    flat = points.reshape(-1, 2)
    cells = instant.between.locate(flat)
    across = np.stack([-path.normal[:, 1], path.normal[:, 0]], axis=1)
    velocity = np.stack([instant.at(flat, cells, f"velocity {axis}") for axis in "xy"], axis=1).reshape(*points.shape)
    flux = np.einsum("ijk,ik->ij", velocity, across)
    if "density" in instant.fields:
        flux = flux * instant.at(flat, cells, "density").reshape(flux.shape)
    if grid.axisymmetric:
        flux = flux * points[..., 1]
    flux = np.nan_to_num(flux)
    temperature = np.nan_to_num(instant.at(flat, cells, "temperature").reshape(flux.shape))
    net, gross = flux.sum(axis=1), np.abs(flux).sum(axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(np.abs(net) > 1e-3 * gross, (flux * temperature).sum(axis=1) / net, np.nan)


def _stops(instant: Instant, name: str) -> bool:
    """Whether a stream ends at a surface: an outer one, or one with something beside it that does not flow."""
    first, bar, second = name.partition(" | ")
    names = instant.grid.region_names
    return not bar or not all(instant.flows[names.index(part)] for part in (first, second) if part in names)


def _first_hit(point: Array, way: Array, a: Array, b: Array, off: float) -> float:
    """How far a ray goes until it meets the first of the edges from a to b, m; 0 where it meets none."""
    edge, to = b - a, a - point
    across = way[0] * edge[:, 1] - way[1] * edge[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (to[:, 0] * edge[:, 1] - to[:, 1] * edge[:, 0]) / across
        u = (to[:, 0] * way[1] - to[:, 1] * way[0]) / across
    hit = (across != 0.0) & (t > off) & (u >= -1e-9) & (u <= 1.0 + 1e-9)
    return float(t[hit].min()) if hit.any() else 0.0


def _over_faces(path: Path, fields: Mapping[str, Array], area: Array) -> dict[str, Statistics]:
    """Statistics over faces: each value counts for its own face."""
    found = {}
    for name, values in fields.items():
        there = np.isfinite(values)
        if not there.any():
            continue
        known, along, share = values[there], path.along[there], area[there] / area[there].sum()
        mean = float(share @ known)
        least, most = int(np.argmin(known)), int(np.argmax(known))
        found[name] = Statistics(
            mean=mean,
            flow_mean=None,
            integral=mean * float(area[there].sum()),
            lowest=float(known[least]),
            lowest_at=float(along[least]),
            highest=float(known[most]),
            highest_at=float(along[most]),
            deviation=float(np.sqrt(share @ (known - mean) ** 2)),
            at_wall=mean,
        )
    return found
