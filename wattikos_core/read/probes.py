"""Probes: what fields are at a point, in a box, or in a part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from wattikos_core.case.places import PlacedProbe
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.physics.faces import Array
from wattikos_core.read.instant import Instant


@dataclass(frozen=True)
class ProbeValue:
    """A field at a point, or over an area (weighted by volume), SI.

    Attributes:
        mean: or the value itself at a point.
        deviation: standard deviation.
        uniformity: 1 - Σ|v - mean| V / (2 |mean| ΣV), one where it is the same everywhere (common practice, no source); None at a
            point, for temperatures, and where the mean is zero.
    """

    mean: float
    lowest: float
    highest: float
    deviation: float
    uniformity: float | None


def probe_values(instant: Instant, probe: PlacedProbe, names: list[str] | None = None) -> dict[str, ProbeValue]:
    """The fields of an instant at a probe; those that have no value there are left out.

    Args:
        instant: what is read.
        probe: where.
        names: of fields; all when None.

    Raises:
        CaseError: the probe lies outside the section.
    """
    names = [name for name in names or instant.fields if name in instant.fields]
    if len(probe.place) == 2:
        point = np.array([probe.place])
        cells = instant.between.locate(point)
        if cells[0] < 0:
            raise _outside(probe)
        found = {name: float(instant.at(point, cells, name)[0]) for name in names}
        return {name: ProbeValue(v, v, v, 0.0, None) for name, v in found.items() if np.isfinite(v)}
    return values_over(instant, volumes_in(instant, probe), names)


def values_over(instant: Instant, weight: Array, names: list[str]) -> dict[str, ProbeValue]:
    """Fields of an instant over the volume that each cell has in a place, m3, shape (n_cells,)."""
    there = (name for name in names if name in instant.fields)
    return {name: value for name in there if (value := _over(weight, instant.fields[name], name)) is not None}


def volumes_in(instant: Instant, probe: PlacedProbe) -> Array:
    """How much of every cell lies in a box or a part, m3, shape (n_cells,)."""
    grid = instant.grid
    if probe.part:
        mine = grid.region == grid.region_names.index(probe.part) if probe.part in grid.region_names else np.zeros(0, dtype=bool)
        if not mine.any():
            remedy = f"choose one of {', '.join(grid.region_names[:12])}"
            raise CaseError(InputProblem("probe.at.part", f"'{probe.part}' is no part of this run", remedy))
        return np.where(mine, grid.volume, 0.0)
    x0, y0, x1, y1 = probe.place
    corners = grid.nodes[grid.cell_nodes]
    low = np.minimum.reduceat(corners, grid.cell_start[:-1])
    high = np.maximum.reduceat(corners, grid.cell_start[:-1])
    inside = (low >= (x0, y0)).all(axis=1) & (high <= (x1, y1)).all(axis=1)
    touching = (high > (x0, y0)).all(axis=1) & (low < (x1, y1)).all(axis=1) & ~inside
    share = inside.astype(float)
    for cell in np.nonzero(touching)[0]:
        polygon = shapely.Polygon(grid.nodes[grid.cell_nodes[grid.cell_start[cell] : grid.cell_start[cell + 1]]])
        share[cell] = shapely.clip_by_rect(polygon, x0, y0, x1, y1).area / polygon.area
    if not share.any():
        raise _outside(probe)
    return np.asarray(share * grid.volume)


def _over(weight: Array, values: Array, name: str) -> ProbeValue | None:
    there = (weight > 0.0) & np.isfinite(values)
    if not there.any():
        return None
    v, w = values[there], weight[there] / weight[there].sum()
    mean = float(w @ v)
    uniformity = None if name == "temperature" or mean == 0.0 else 1.0 - float(w @ np.abs(v - mean)) / (2.0 * abs(mean))
    return ProbeValue(mean, float(v.min()), float(v.max()), float(np.sqrt(w @ (v - mean) ** 2)), uniformity)


def _outside(probe: PlacedProbe) -> CaseError:
    return CaseError(InputProblem("probe", f"'{probe.name}' lies outside the section", "move it into the section"))
