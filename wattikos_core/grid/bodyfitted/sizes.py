"""How large cells are to be: a size at every place, from curvature, gaps, lengths of edges, and wishes.

The size at a place is the least of base size, a share of the circumference, a third of the edge, and a quarter of the
gap to what stands opposite; away from where it is small it grows by no more than GRADATION per length.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import LocalSize
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid.bodyfitted.gaps import gaps_of
from wattikos_core.grid.density import Density
from wattikos_core.section import Chain, PaintedSection

Array = NDArray[np.float64]

GRADATION = 0.1
# Cells over the side of a square as large as the section, around a full circle, along an edge and across a gap.
_CELLS_ACROSS = 40.0
_CELLS_AROUND = 64.0
_CELLS_ALONG = 3.0
_CELLS_IN_GAP = 4.0
_SAMPLES = 24
# A gap below this share of the section's diagonal is refused, and so are more edges than this along all outlines.
_HAIRLINE = 1e-5
_MOST_EDGES = 12_000


@dataclass(frozen=True)
class ChainSizes:
    """Along one chain, at places `s` (m from its start): points, the size of edges, and the gaps on both its sides."""

    s: Array
    points: Array
    size: Array
    gap_left: Array
    gap_right: Array


@dataclass
class SizeField:
    """Sizes at points: sources by size, each seen from a distance, and areas with a size of their own.

    Attributes:
        base: size far from everything, m.
        fineness: what `base` and all sources have been divided by; areas divide it further.
        density: what all sizes are divided by in the end.
    """

    base: float
    fineness: float
    chains: list[ChainSizes] = field(default_factory=list)
    _trees: list[tuple[Any, Array]] = field(default_factory=list)
    _areas: list[tuple[Any, float]] = field(default_factory=list)
    density: Density | None = None

    def refine(self, places: Array, size: Array) -> None:
        """Ask for a size at places, shape (n, 2), and around them."""
        from scipy.spatial import cKDTree

        self._trees.append((cKDTree(places), size if self.density is None else size * self.density.at(places)))
        self.chains = [replace(chain, size=np.minimum(chain.size, self.at(chain.points))) for chain in self.chains]

    def at(self, points: Array) -> Array:
        """Sizes at points of shape (n, 2)."""
        import shapely

        result = self._without_areas(points)
        for area, factor in self._areas:
            # Inside, as many times as fine as it would be; outside, growing from the size at the nearest place inside.
            nearest = shapely.get_coordinates(shapely.shortest_line(area, shapely.points(points)))[::2]
            distance = np.hypot(*(points - nearest).T)
            own = self._without_areas(nearest) / factor
            result = np.where(distance > 0.0, np.minimum(result, own + GRADATION * distance), result / factor)
        return np.asarray(result if self.density is None else result / self.density.at(points))

    def _without_areas(self, points: Array) -> Array:
        result = np.full(len(points), self.base)
        for tree, size in self._trees:
            distance, nearest = tree.query(points, k=min(3, size.size))
            seen = size[nearest] + GRADATION * distance
            result = np.minimum(result, seen.min(axis=1) if seen.ndim == 2 else seen)
        return result


def size_field(
    section: PaintedSection,
    fineness: float,
    local: Sequence[LocalSize] = (),
    mapped: Collection[tuple[int, int]] = (),
    density: Density | None = None,
) -> SizeField:
    """The sizes a section asks for at a fineness, with finer places.

    Args:
        section: the painted section.
        fineness: one number; doubling it halves every cell.
        local: finer or coarser places.
        mapped: (chain, region) pairs across which rows of their own lie, so that gaps there do not count.
        density: where cells are to be finer, learnt from a solution.
    """
    import shapely
    from scipy.spatial import cKDTree

    areas = {name: _area(rings) for name, rings in section.rings.items()}
    total = sum(area.area for area in areas.values())
    base = float(np.sqrt(total)) / _CELLS_ACROSS
    samples = [_samples(chain, base) for chain in section.chains]
    places = [at for at, _, _ in samples]
    sizes = [np.minimum(base, _by_shape(chain, s)) for chain, (_, s, _) in zip(section.chains, samples, strict=True)]
    gaps = gaps_of(section, samples)
    _refuse_hairlines(section, samples, gaps)
    for i, (chain, size, (left, right)) in enumerate(zip(section.chains, sizes, gaps, strict=True)):
        for region, gap in ((chain.left, left), (chain.right, right)):
            if (i, region) not in mapped:
                np.minimum(size, gap / _CELLS_IN_GAP, out=size)
    result = SizeField(base / fineness, fineness, density=density)
    for wish in local:
        if wish.box:
            result._areas.append((shapely.box(*wish.box), wish.fineness))
        for name in wish.at:
            if name in areas:
                result._areas.append((areas[name], wish.fineness))
            for size, chain in zip(sizes, section.chains, strict=True):
                if chain.name == name:
                    size /= wish.fineness
    points, size = np.concatenate(places), np.concatenate(sizes) / fineness
    octave = np.floor(np.log2(size / size.min())).astype(np.int64)
    for step in np.unique(octave):
        chosen = octave == step
        result._trees.append((cKDTree(points[chosen]), size[chosen]))
    _refuse_too_many(samples, [result.at(at) for at in places])
    for at, (_, s, _), (left, right) in zip(places, samples, gaps, strict=True):
        result.chains.append(ChainSizes(s, at, result.at(at), left, right))
    return result


def _refuse_hairlines(section: PaintedSection, samples: list[Any], gaps: list[tuple[Array, Array]]) -> None:
    """Raise CaseError where two edges all but touch: nobody means a gap so thin, and cells in it would be without number."""
    x0, y0, x1, y1 = section.bounds()
    least = _HAIRLINE * float(np.hypot(x1 - x0, y1 - y0))
    for chain, (points, _, _), sides in zip(section.chains, samples, gaps, strict=True):
        for region, gap in zip((chain.left, chain.right), sides, strict=True):
            if region >= 0 and gap.min() < least:
                x, y = points[int(gap.argmin())]
                name = section.names[region]
                problem = f"'{name}' is only {1e3 * gap.min():.2g} mm wide at x {1e3 * x:.4g} mm, y {1e3 * y:.4g} mm"
                remedy = "let the edges there touch, widen the gap, or leave the layer out and give a contact or coating"
                raise CaseError(InputProblem("section.parts", problem, remedy, at=(float(x), float(y))))


def _refuse_too_many(samples: list[Any], sizes: list[Array]) -> None:
    """Raise CaseError when the edges along all chains would be more than a grid can have."""
    edges = sum(float(np.trapezoid(1.0 / size, s)) for (_, s, _), size in zip(samples, sizes, strict=True))
    if edges <= _MOST_EDGES:
        return
    smallest = min(range(len(sizes)), key=lambda i: float(sizes[i].min()))
    x, y = samples[smallest][0][int(sizes[smallest].argmin())]
    problem = f"about {edges:,.0f} edges would be needed, the smallest of {1e3 * sizes[smallest].min():.2g} mm"
    remedy = f"choose a coarser grid, or widen what is thin near x {1e3 * x:.4g} mm, y {1e3 * y:.4g} mm"
    raise CaseError(InputProblem("grid.fineness", problem, remedy, at=(float(x), float(y))))


def _area(rings: list[Array]) -> Any:
    import shapely

    return shapely.make_valid(shapely.build_area(shapely.multilinestrings([shapely.linestrings(ring) for ring in rings])))


def _samples(chain: Chain, base: float) -> tuple[Array, Array, Array]:
    """Points along a chain (n, 2), their distance from its start, and the unit normals to its left."""
    step = np.hypot(*np.diff(chain.points, axis=0).T)
    place = np.concatenate([[0.0], np.cumsum(step)])
    count = int(np.clip(np.ceil(place[-1] / base * 2.0), _SAMPLES, 400))
    s = np.linspace(0.0, place[-1], count + 1)
    points = np.stack([np.interp(s, place, chain.points[:, k]) for k in (0, 1)], axis=1)
    inside = np.clip(np.searchsorted(place, s, side="right") - 1, 0, step.size - 1)
    along = np.diff(chain.points, axis=0)[inside] / step[inside][:, None]
    return points, s, np.stack([-along[:, 1], along[:, 0]], axis=1)


def _by_shape(chain: Chain, s: Array) -> Array:
    """Sizes from the curvature and the length of a chain."""
    step = np.diff(chain.points, axis=0)
    length = np.hypot(*step.T)
    place = np.concatenate([[0.0], np.cumsum(length)])
    if chain.arc is not None:
        curved = np.full(s.size, 2.0 * np.pi * chain.arc[2] / _CELLS_AROUND)
    elif len(step) > 2:
        turn = np.abs(np.arctan2(step[:-1, 0] * step[1:, 1] - step[:-1, 1] * step[1:, 0], (step[:-1] * step[1:]).sum(axis=1)))
        bend = turn / (0.5 * (length[1:] + length[:-1]))
        radius = 1.0 / np.maximum(np.interp(s, place[1:-1], bend), 1e-300)
        curved = np.minimum(2.0 * np.pi * radius / _CELLS_AROUND, place[-1])
    else:
        curved = np.full(s.size, place[-1])
    return np.asarray(np.minimum(curved, place[-1] / (_CELLS_AROUND if chain.closed else _CELLS_ALONG)))
