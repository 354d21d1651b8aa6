"""Pictures of reports, by matplotlib: the sketch, fields with arrows and streamlines, curves."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from wattikos_core.case.reading import View
from wattikos_core.quantities import KINDS, from_si, unit_label
from wattikos_core.read import FIELDS, Instant
from wattikos_core.read.streamlines import even_streamlines
from wattikos_core.report.colours import colours, map_of

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

_INK, _MUTED, _HEAT, _PAPER = "#26333d", "#5d6870", "#a8430f", "#ffffff"
_FLUID, _SOLID = "#eef1ea", "#d8d4c8"
_CURVES = (_INK, _HEAT, "#2f7a4d", "#8a6d0b", "#2b6f8a", "#7d4a78", _MUTED)
_WIDTH, _DPI = 6.7, 200
# Beyond this slenderness a section is drawn higher than it is, by a round factor.
_MOST_SLENDER, _FACTORS = 7.0, (2, 3, 5, 10, 20, 30, 50, 100, 200, 500)
_ARROWS = 22
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


def sketch_picture(sketch: Mapping[str, Any]) -> bytes:
    """The section to scale, parts with their names and materials, conditions in the engineer's notation."""
    figure, axes, stretch = _section(sketch["bounds"], 0.9)
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
    from matplotlib.collections import LineCollection, PolyCollection
    from matplotlib.colors import ListedColormap

    values = np.asarray(instant.fields[view.field], dtype=float)
    kind = FIELDS[view.field]
    unit = KINDS[kind].unit
    shown = np.array([from_si(float(v), unit, kind) for v in values])
    grid = instant.grid
    if view.shown != "all":
        fluid = np.array([part["fluid"] for part in sketch["parts"]])
        names = [part["name"] for part in sketch["parts"]]
        mine = np.array([fluid[names.index(name)] if name in names else False for name in grid.region_names])[grid.region]
        shown = np.where(mine == (view.shown == "fluids"), shown, np.nan)
    there = np.isfinite(shown)
    bounds = tuple(view.zoom) if len(view.zoom) == 4 else sketch["bounds"]
    figure, axes, stretch = _section(bounds, 1.0)
    low, high = (np.nanmin(shown), np.nanmax(shown)) if there.any() else (0.0, 1.0)
    low = from_si(view.low, unit, kind) if view.low is not None else low
    high = from_si(view.high, unit, kind) if view.high is not None else high
    table = colours(view.colours if view.colours in ("ember", "brook", "slate", "heather") else map_of(kind))
    if view.look != "smooth":
        steps = np.minimum((np.arange(256) * view.levels) // 256, view.levels - 1)
        table = table[((steps + 0.5) * 255.0 / view.levels).astype(int)]
    corners = [grid.nodes[grid.cell_nodes[grid.cell_start[i] : grid.cell_start[i + 1]]] for i in np.nonzero(there)[0]]
    cells = PolyCollection(corners, cmap=ListedColormap(table), edgecolors="face", linewidths=0.15)
    cells.set_array(shown[there])
    cells.set_clim(float(low), float(high) if high > low else float(low) + 1e-9)
    axes.add_collection(cells)
    if len(view.band) == 2:
        ends = [from_si(x, unit, kind) for x in view.band]
        outside = [corner for corner, v in zip(corners, shown[there], strict=True) if not ends[0] <= v <= ends[1]]
        axes.add_collection(PolyCollection(outside, facecolors="#b9bcb8", edgecolors="face", linewidths=0.15))
    _parts(axes, sketch, filled=False)
    if view.streamlines != "none" and "velocity x" in instant.fields:
        lines = even_streamlines(instant, max(view.spacing, 0.01) * (bounds[2] - bounds[0]), stretch)
        pieces = np.split(lines.points, lines.start[1:-1]) if len(lines.start) > 1 else []
        axes.add_collection(LineCollection([p for p in pieces if len(p) > 1], colors=_PAPER, linewidths=0.5))
    elif view.arrows and "velocity x" in instant.fields:
        _arrows(axes, instant, bounds, stretch)
    bar = figure.colorbar(cells, ax=axes, orientation="horizontal", fraction=0.05, pad=0.04, aspect=45)
    bar.set_label(f"{view.field}, {unit_label(unit)}".rstrip(", "), fontsize=7, color=_INK)
    bar.ax.tick_params(labelsize=6.5, colors=_INK)
    _say_stretch(axes, stretch)
    return _png(figure)


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


def _section(bounds: Sequence[float], room: float) -> tuple[Figure, Axes, float]:
    """A figure for a section, and how many times heights are drawn."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    x0, y0, x1, y1 = bounds
    across, above = max(x1 - x0, 1e-12), max(y1 - y0, 1e-12)
    slender = across / above
    stretch = 1.0
    if slender > _MOST_SLENDER:
        stretch = float(next((f for f in _FACTORS if slender / f <= _MOST_SLENDER), _FACTORS[-1]))
    height = np.clip(_WIDTH * room * above * stretch / across, 0.9, 4.6) + 0.8
    figure = Figure(figsize=(_WIDTH, float(height)), dpi=_DPI, facecolor=_PAPER, layout="constrained")
    FigureCanvasAgg(figure)
    axes = figure.subplots()
    margin = 0.015
    axes.set_xlim(x0 - margin * across, x1 + margin * across)
    axes.set_ylim(y0 - margin * above, y1 + margin * above)
    axes.set_aspect(stretch)
    axes.axis("off")
    return figure, axes, stretch


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
    fastest = float(np.hypot(u[some], v[some]).max())
    if fastest > 0.0:
        axes.quiver(
            x[some], y[some], u[some] / fastest, v[some] / fastest * stretch, color=_PAPER, width=0.0016, scale=30, alpha=0.9
        )


def _say_stretch(axes: Axes, stretch: float) -> None:
    if stretch > 1.0:
        axes.set_title(f"heights drawn {stretch:.0f} times", fontsize=6.5, color=_MUTED, loc="right")


def _png(figure: Figure) -> bytes:
    target = io.BytesIO()
    figure.savefig(target, format="png", dpi=_DPI)
    return target.getvalue()
