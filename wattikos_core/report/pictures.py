"""Pictures of reports, by matplotlib: the sketch, fields with arrows and streamlines, curves."""

from __future__ import annotations

import io
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case.reading import View
from wattikos_core.grid import Grid
from wattikos_core.quantities import KINDS, from_si, unit_label
from wattikos_core.read import FIELDS, Instant
from wattikos_core.read.streamlines import even_streamlines
from wattikos_core.report.colours import RAMPS, colours, map_of

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.collections import PolyCollection
    from matplotlib.figure import Figure

_INK, _MUTED, _HEAT, _PAPER = "#26333d", "#5d6870", "#a8430f", "#ffffff"
_FLUID, _SOLID = "#eef1ea", "#d8d4c8"
_CURVES = (_INK, _HEAT, "#2f7a4d", "#8a6d0b", "#2b6f8a", "#7d4a78", _MUTED)
_WIDTH, _DPI = 6.7, 200
# Beyond this slenderness a section is drawn higher than it is, by a round factor.
_MOST_SLENDER, _FACTORS = 7.0, (2, 3, 5, 10, 20, 30, 50, 100, 200, 500)
_ARROWS = 22
# Tiles beside each other: one where a section is so slender as drawn, two where it is less, three where it stands upright.
_BESIDE, _MOST_BESIDE = ((2.4, 1), (0.8, 2)), 3
# A part is named in the sketch if it is so large a share of it, across and above.
_NAMED, _TWO_LINES = (0.15, 0.06), 0.25


@dataclass(frozen=True)
class Curve:
    """A curve, or marks where there is no line."""

    name: str
    x: Sequence[float]
    y: Sequence[float]
    marks: bool = False
    line: bool = True
    spread: Sequence[float] | None = None


@dataclass(frozen=True)
class Tile:
    """A field of a solution as it is drawn: its title, where it lies, its values in SI and of what kind these are."""

    title: str
    instant: Instant
    sketch: Mapping[str, Any]
    values: NDArray[np.float64]
    kind: str


def sketch_picture(sketch: Mapping[str, Any]) -> bytes:
    """The section to scale, parts with their names and materials, conditions in the engineer's notation."""
    figure, places, stretch = _section(sketch["bounds"], 0.9)
    axes = places[0]
    _parts(axes, sketch, filled=True)
    x0, y0, x1, y1 = sketch["bounds"]
    for part in sketch["parts"]:
        points = np.array([point for ring in part["rings"] for point in ring])
        middle = 0.5 * (points.min(axis=0) + points.max(axis=0))
        if np.ptp(points[:, 0]) > _NAMED[0] * (x1 - x0) and np.ptp(points[:, 1]) > _NAMED[1] * (y1 - y0):
            low = np.ptp(points[:, 1]) < _TWO_LINES * (y1 - y0)
            axes.text(
                float(middle[0]),
                float(middle[1]),
                f"{part['name']} {part['material']}" if low else f"{part['name']}\n{part['material']}",
                ha="center",
                va="center",
                fontsize=6.5,
                color=_INK,
            )
    for boundary in sketch["boundaries"]:
        if not boundary["flag"]:
            continue
        points = np.array([point for line in boundary["lines"] for point in line])
        x, y = 0.5 * (points.min(axis=0) + points.max(axis=0))
        aside = (x - x0) / max(x1 - x0, 1e-30), (y - y0) / max(y1 - y0, 1e-30)
        if 0.02 < aside[0] < 0.98 and 0.02 < aside[1] < 0.98:
            # Inside there is no room for words: they stand in the table.
            continue
        away = (-9.0 if aside[0] < 0.02 else 9.0 if aside[0] > 0.98 else 0.0, -8.0 if aside[1] < 0.02 else 8.0)
        away = (away[0], 0.0) if away[0] else away
        across = "right" if away[0] < 0 else "left" if away[0] > 0 else "center"
        axes.annotate(
            boundary["flag"], (x, y), xytext=away, textcoords="offset points", ha=across, va="center", fontsize=6.5, color=_HEAT
        )
    _say_stretch(axes, stretch)
    return _png(figure)


def field_picture(instant: Instant, sketch: Mapping[str, Any], view: View) -> bytes:
    """A field as a view wishes it: range, bands, band of interest, arrows, streamlines, zoom; the scale lies under it."""
    tile = Tile("", instant, sketch, np.asarray(instant.fields[view.field], dtype=float), FIELDS[view.field])
    return tiles_picture([tile], view, view.field)


def tiles_picture(tiles: Sequence[Tile], view: View, name: str, *, centred: bool = False) -> bytes:
    """Fields beside each other as one view wishes them, drawn to one scale and in one range, which lies under them.

    Args:
        tiles: at least one.
        view: how they are drawn.
        name: written at the scale of colours.
        centred: the range lies about zero.
    """
    kind = tiles[0].kind
    unit = KINDS[kind].unit
    shown = [_shown(tile, view, unit) for tile in tiles]
    bounds = tuple(view.zoom) if len(view.zoom) == 4 else _around([tile.sketch["bounds"] for tile in tiles])
    figure, places, stretch = _section(bounds, 1.0, len(tiles))
    all_values = np.concatenate(shown)
    low, high = (np.nanmin(all_values), np.nanmax(all_values)) if np.isfinite(all_values).any() else (0.0, 1.0)
    low = from_si(view.low, unit, kind) if view.low is not None else low
    high = from_si(view.high, unit, kind) if view.high is not None else high
    if centred:
        # Where nothing differs all has the colour of the middle.
        high = max(abs(low), abs(high)) or 1.0
        low = -high
    table = _table(view, kind)
    for tile, values, axes in zip(tiles, shown, places, strict=False):
        cells = _shade(axes, tile, values, table, (float(low), float(high)))
        if len(view.band) == 2:
            ends = [from_si(x, unit, kind) for x in view.band]
            _grey(axes, tile, values, (ends[0], ends[1]))
        _parts(axes, tile.sketch, filled=False)
        _motion(axes, tile.instant, view, bounds, stretch)
        if tile.title:
            axes.set_title(tile.title, fontsize=7, color=_INK, loc="left")
    bar = figure.colorbar(cells, ax=places, orientation="horizontal", fraction=0.05, pad=0.04, aspect=45)
    bar.set_label(f"{name}, {unit_label(unit)}".rstrip(", "), fontsize=7, color=_INK)
    bar.ax.tick_params(labelsize=6.5, colors=_INK)
    _say_stretch(places[0], stretch)
    return _png(figure)


def _around(bounds: Sequence[Sequence[float]]) -> tuple[float, ...]:
    """The rectangle round several."""
    corners = np.array(bounds)
    return (*corners[:, :2].min(axis=0).tolist(), *corners[:, 2:].max(axis=0).tolist())


def _shown(tile: Tile, view: View, unit: str) -> NDArray[np.float64]:
    """What is shown of each cell, in `unit`; NaN where nothing is."""
    shown = np.array([from_si(float(v), unit, tile.kind) for v in tile.values])
    if view.shown == "all":
        return shown
    parts, grid = {part["name"]: bool(part["fluid"]) for part in tile.sketch["parts"]}, tile.instant.grid
    fluid = np.array([parts.get(name, False) for name in grid.region_names])[grid.region]
    return np.where(fluid == (view.shown == "fluids"), shown, np.nan)


def _table(view: View, kind: str) -> NDArray[np.float64]:
    table = colours(view.colours if view.colours in RAMPS else map_of(kind))
    if view.look == "smooth":
        return table
    steps = np.minimum((np.arange(256) * view.levels) // 256, view.levels - 1)
    return np.asarray(table[((steps + 0.5) * 255.0 / view.levels).astype(int)])


def _corners(grid: Grid, chosen: NDArray[np.bool_]) -> list[NDArray[np.float64]]:
    return [grid.nodes[grid.cell_nodes[grid.cell_start[i] : grid.cell_start[i + 1]]] for i in np.nonzero(chosen)[0]]


def _shade(
    axes: Axes, tile: Tile, shown: NDArray[np.float64], table: NDArray[np.float64], ends: tuple[float, float]
) -> PolyCollection:
    from matplotlib.collections import PolyCollection
    from matplotlib.colors import ListedColormap

    there = np.isfinite(shown)
    corners = _corners(tile.instant.grid, there)
    cells = PolyCollection(corners, cmap=ListedColormap(table), edgecolors="face", linewidths=0.15)
    cells.set_array(shown[there])
    cells.set_clim(ends[0], ends[1] if ends[1] > ends[0] else ends[0] + 1e-9)
    axes.add_collection(cells)
    return cells


def _grey(axes: Axes, tile: Tile, shown: NDArray[np.float64], band: tuple[float, float]) -> None:
    """Whatever lies outside the band of interest."""
    from matplotlib.collections import PolyCollection

    outside = np.isfinite(shown) & ~((shown >= band[0]) & (shown <= band[1]))
    axes.add_collection(
        PolyCollection(_corners(tile.instant.grid, outside), facecolors="#b9bcb8", edgecolors="face", linewidths=0.15)
    )


def _motion(axes: Axes, instant: Instant, view: View, bounds: Sequence[float], stretch: float) -> None:
    """Streamlines or arrows, as the view has it."""
    from matplotlib.collections import LineCollection

    if "velocity x" not in instant.fields:
        return
    if view.streamlines != "none":
        lines = even_streamlines(instant, max(view.spacing, 0.01) * (bounds[2] - bounds[0]), stretch)
        pieces = np.split(lines.points, lines.start[1:-1]) if len(lines.start) > 1 else []
        axes.add_collection(LineCollection([p for p in pieces if len(p) > 1], colors=_PAPER, linewidths=0.5))
    elif view.arrows:
        _arrows(axes, instant, bounds, stretch)


def curve_picture(curves: Sequence[Curve], x: str, y: str) -> bytes:
    """Curves over each other, with a legend where there are several."""
    figure, axes = _plot()
    for i, curve in enumerate(curves):
        colour = _CURVES[i % len(_CURVES)]
        style = "-" if curve.line else ""
        axes.plot(curve.x, curve.y, style, marker="o" if curve.marks else "", ms=3.2, lw=1.1, color=colour, label=curve.name)
        if curve.spread is not None:
            axes.errorbar(curve.x, curve.y, yerr=np.nan_to_num(np.array(curve.spread)), fmt="none", ecolor=colour, elinewidth=0.8)
    axes.set_xlabel(x, fontsize=7.5)
    axes.set_ylabel(y, fontsize=7.5)
    if len(curves) > 1:
        axes.legend(fontsize=6.5, frameon=False)
    return _png(figure)


def _plot() -> tuple[Figure, Axes]:
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    figure = Figure(figsize=(_WIDTH, 2.9), dpi=_DPI, facecolor=_PAPER, layout="constrained")
    FigureCanvasAgg(figure)
    axes = figure.subplots()
    axes.tick_params(labelsize=6.5, colors=_INK)
    axes.grid(visible=True, color="#e3e0d6", lw=0.5)
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
    return figure, axes


def _section(bounds: Sequence[float], room: float, tiles: int = 1) -> tuple[Figure, list[Axes], float]:
    """A figure for a section, or several of one size, their axes, and how many times heights are drawn."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    x0, y0, x1, y1 = bounds
    across, above = max(x1 - x0, 1e-12), max(y1 - y0, 1e-12)
    slender = across / above
    stretch = 1.0
    if slender > _MOST_SLENDER:
        stretch = float(next((f for f in _FACTORS if slender / f <= _MOST_SLENDER), _FACTORS[-1]))
    beside = min(tiles, next((n for most, n in _BESIDE if slender / stretch > most), _MOST_BESIDE))
    rows = math.ceil(tiles / beside)
    most = 4.6 if rows == 1 else 7.6 / rows
    height = rows * (np.clip(_WIDTH / beside * room * above * stretch / across, 0.9, most) + (0.0 if tiles == 1 else 0.2)) + 0.8
    figure = Figure(figsize=(_WIDTH, float(height)), dpi=_DPI, facecolor=_PAPER, layout="constrained")
    FigureCanvasAgg(figure)
    places: list[Axes] = list(figure.subplots(rows, beside, squeeze=False).ravel())
    margin = 0.015
    for axes in places:
        axes.axis("off")
        axes.set_xlim(x0 - margin * across, x1 + margin * across)
        axes.set_ylim(y0 - margin * above, y1 + margin * above)
        axes.set_aspect(stretch)
    return figure, places, stretch


def _parts(axes: Axes, sketch: Mapping[str, Any], *, filled: bool) -> None:
    from matplotlib.patches import PathPatch
    from matplotlib.path import Path

    for part in sketch["parts"]:
        rings = [np.array([*ring, ring[0]]) for ring in part["rings"] if len(ring) > 2]
        if not rings:
            continue
        codes = np.concatenate([[Path.MOVETO, *[Path.LINETO] * (len(ring) - 2), Path.CLOSEPOLY] for ring in rings])
        fill = (_FLUID if part["fluid"] else _SOLID) if filled else "none"
        axes.add_patch(PathPatch(Path(np.concatenate(rings), codes), facecolor=fill, edgecolor=_INK, lw=0.6))


def _arrows(axes: Axes, instant: Instant, bounds: Sequence[float], stretch: float) -> None:
    """Arrows at cells spread evenly over what is in view."""
    x, y = instant.grid.centre[:, 0], instant.grid.centre[:, 1]
    u, v = (np.asarray(instant.fields[name]) for name in ("velocity x", "velocity y"))
    size = (bounds[2] - bounds[0]) / _ARROWS
    places = np.round((x - bounds[0]) / size).astype(int), np.round((y - bounds[1]) * stretch / size).astype(int)
    seen = (x > bounds[0]) & (x < bounds[2]) & (y > bounds[1]) & (y < bounds[3]) & np.isfinite(u)
    if not seen.any():
        return
    numbers = np.nonzero(seen)[0]
    _, first = np.unique(places[0][numbers] * 100_003 + places[1][numbers], return_index=True)
    some = numbers[first]
    speed = np.hypot(u[some], v[some])
    fastest = float(speed.max())
    if fastest > 0.0:
        # The direction is that of the drawing, the length that of the flow.
        ahead, up = u[some], v[some] * stretch
        length = speed / fastest / np.maximum(np.hypot(ahead, up), 1e-300)
        axes.quiver(x[some], y[some], ahead * length, up * length, color=_PAPER, width=0.0016, scale=30, alpha=0.9, pivot="mid")


def _say_stretch(axes: Axes, stretch: float) -> None:
    if stretch > 1.0:
        axes.set_title(f"heights drawn {stretch:.0f} times", fontsize=6.5, color=_MUTED, loc="right")


def _png(figure: Figure) -> bytes:
    target = io.BytesIO()
    figure.savefig(target, format="png", dpi=_DPI)
    return target.getvalue()
