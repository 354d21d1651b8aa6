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
from wattikos_core.grid.bodyfitted.gaps import gaps_of
from wattikos_core.section import Chain, PaintedSection

Array = NDArray[np.float64]

GRADATION = 0.2
# Cells over the side of a square as large as the section, around a full circle, along an edge and across a gap.
_CELLS_ACROSS = 40.0
_CELLS_AROUND = 32.0
_CELLS_ALONG = 3.0
_CELLS_IN_GAP = 4.0
_SAMPLES = 24


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
        fineness: what `base` and all sources have been divided by.
    """

    base: float
    fineness: float
    chains: list[ChainSizes] = field(default_factory=list)
    _trees: list[tuple[Any, Array]] = field(default_factory=list)
    _areas: list[tuple[Any, float]] = field(default_factory=list)

    def refine(self, places: Array, size: Array) -> None:
        """Ask for a size at places, shape (n, 2), and around them."""
        from scipy.spatial import cKDTree

        self._trees.append((cKDTree(places), size))
        self.chains = [replace(chain, size=np.minimum(chain.size, self.at(chain.points))) for chain in self.chains]

    def at(self, points: Array) -> Array:
        """Sizes at points of shape (n, 2)."""
        import shapely

        result = np.full(len(points), self.base)
        for tree, size in self._trees:
            distance, nearest = tree.query(points, k=min(3, size.size))
            seen = size[nearest] + GRADATION * distance
            result = np.minimum(result, seen.min(axis=1) if seen.ndim == 2 else seen)
        for area, own in self._areas:
            distance = shapely.distance(area, shapely.points(points))
            result = np.minimum(result, own + GRADATION * distance)
        return result


def size_field(
    section: PaintedSection, fineness: float, local: Sequence[LocalSize] = (), mapped: Collection[tuple[int, int]] = ()
) -> SizeField:
    """The sizes a section asks for at a fineness, with finer places.

    Args:
        mapped: (chain, region) pairs across which rows of their own lie, so that gaps there do not count.
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
    for i, (chain, size, (left, right)) in enumerate(zip(section.chains, sizes, gaps, strict=True)):
        for region, gap in ((chain.left, left), (chain.right, right)):
            if (i, region) not in mapped:
                np.minimum(size, gap / _CELLS_IN_GAP, out=size)
    result = SizeField(base / fineness, fineness)
    for wish in local:
        own = base / (fineness * wish.fineness)
        if wish.box:
            result._areas.append((shapely.box(*wish.box), own))
        for name in wish.at:
            if name in areas:
                result._areas.append((areas[name], own))
            for size, chain in zip(sizes, section.chains, strict=True):
                part_of = name in areas and section.names.index(name) in (chain.left, chain.right)
                if part_of or chain.name == name:
                    size /= wish.fineness
    points, size = np.concatenate(places), np.concatenate(sizes) / fineness
    octave = np.floor(np.log2(size / size.min())).astype(np.int64)
    for step in np.unique(octave):
        chosen = octave == step
        result._trees.append((cKDTree(points[chosen]), size[chosen]))
    for at, (_, s, _), (left, right) in zip(places, samples, gaps, strict=True):
        result.chains.append(ChainSizes(s, at, result.at(at), left, right))
    return result


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
