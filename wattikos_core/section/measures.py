"""Volumes of the regions of a painted section, and which region holds a point."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wattikos_core.section.painted import Array, Chain, PaintedSection

# An arc is measured on a polygon of so many times the corners it is drawn with.
_FINER = 16


def volumes(section: PaintedSection, depth: float, *, axisymmetric: bool) -> dict[str, float]:
    """Volumes of all regions, m3: of a flat section over its `depth` (m), of an axisymmetric one all the way round.

    By Green's theorem over the edges of each region.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.section import paint
        >>> resolved = resolve(starter_case("plate_passage"))
        >>> round(volumes(paint(resolved), resolved.depth, axisymmetric=False)["plate"] * 1e6, 3)
        64.8
    """
    found = np.zeros(len(section.names))
    if section.tensor is not None:
        grid = section.tensor
        widths = np.diff(grid.x)
        heights = np.pi * np.diff(grid.y**2) if axisymmetric else np.diff(grid.y) * depth
        cells = heights[:, None] * widths[None, :]
        for region in range(found.size):
            found[region] = cells[grid.label == region].sum()
    else:
        for chain in section.chains:
            beside = _swept(_points(chain), axisymmetric) * (2.0 * np.pi if axisymmetric else depth)
            if chain.left >= 0:
                found[chain.left] += beside
            if chain.right >= 0:
                found[chain.right] -= beside
    return dict(zip(section.names, (float(x) for x in found), strict=True))


def contains(rings: Sequence[Array], point: Sequence[float] | Array) -> bool:
    """Whether a point lies in a region, holes left out: a ray from it crosses the rings an odd number of times."""
    crossings = 0
    for ring in rings:
        a, b = ring, np.roll(ring, -1, axis=0)
        spans = (a[:, 1] > point[1]) != (b[:, 1] > point[1])
        with np.errstate(divide="ignore", invalid="ignore"):
            at = a[:, 0] + (point[1] - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
        crossings += int(np.count_nonzero(spans & (at > point[0])))
    return crossings % 2 == 1


def _swept(points: Array, axisymmetric: bool) -> float:
    """What a line adds to the area on its left, or to the moment of that about the axis."""
    x, y = points[:, 0], points[:, 1]
    turned = x[:-1] * y[1:] - x[1:] * y[:-1]
    return float((turned * (y[:-1] + y[1:])).sum() / 6.0 if axisymmetric else turned.sum() / 2.0)


def _points(chain: Chain) -> Array:
    if chain.arc is None:
        return chain.points
    x0, y0, radius = chain.arc
    angles = np.unwrap(np.arctan2(chain.points[:, 1] - y0, chain.points[:, 0] - x0))
    steps = np.arange(angles.size)
    finer = np.interp(np.linspace(0.0, steps[-1], _FINER * steps[-1] + 1), steps, angles)
    return np.column_stack([x0 + radius * np.cos(finer), y0 + radius * np.sin(finer)])
