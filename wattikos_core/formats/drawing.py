"""The sketch of a section as an SVG of its own, to scale."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from xml.sax.saxutils import escape

_WIDTH, _MARGIN, _TITLE = 800.0, 24.0, 34.0
_LETTERS = 'font-family="sans-serif" font-size="12"'
# Beyond this slenderness the section is drawn higher than it is.
_MOST_SLENDER = 5.0


def sketch_svg(sketch: Mapping[str, Any], title: str) -> str:
    """The parts and boundaries of a sketch (see `section.sketch.sketch_of`) with their names; heights that are stretched are said.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.section import paint
        >>> from wattikos_core.section.sketch import sketch_of
        >>> resolved = resolve(starter_case("plate_passage"))
        >>> "plate" in sketch_svg(sketch_of(resolved, paint(resolved)), "Passage")
        True
    """
    x0, y0, x1, y1 = sketch["bounds"]
    across, above = max(x1 - x0, 1e-12), max(y1 - y0, 1e-12)
    scale = (_WIDTH - 2.0 * _MARGIN) / across
    stretched = max(1.0, across / above / _MOST_SLENDER)
    height = above * scale * stretched + 2.0 * _MARGIN + _TITLE

    def at(x: float, y: float) -> str:
        return f"{_MARGIN + (x - x0) * scale:.2f} {_TITLE + _MARGIN + (y1 - y) * scale * stretched:.2f}"

    said = title if stretched == 1.0 else f"{title}, heights drawn {stretched:.3g} times"
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{_WIDTH:.0f}" height="{height:.0f}" {_LETTERS}>',
        f"<title>{escape(title)}</title>",
        f'<text x="{_MARGIN}" y="22" font-size="14">{escape(said)}</text>',
    ]
    for part in sketch["parts"]:
        path = " ".join("M " + " L ".join(at(*point) for point in ring) + " Z" for ring in part["rings"])
        fill = "#eef1ea" if part["fluid"] else "#d8d4c8"
        lines.append(f'<path d="{path}" fill="{fill}" fill-rule="evenodd"><title>{escape(part["name"])}</title></path>')
        points = [point for ring in part["rings"] for point in ring]
        x, y = min(p[0] for p in points), sum(p[1] for p in points) / max(len(points), 1)
        place = at(x, y).split()
        lines.append(f'<text x="{float(place[0]) + 6:.2f}" y="{float(place[1]) + 4:.2f}">{escape(part["name"])}</text>')
    for boundary in sketch["boundaries"]:
        path = " ".join("M " + " L ".join(at(*point) for point in line) for line in boundary["lines"])
        said = f"{boundary['name']}: {boundary['flag']}" if boundary["flag"] else boundary["name"]
        lines.append(f'<path d="{path}" fill="none" stroke="#26333d"><title>{escape(said)}</title></path>')
    return "\n".join([*lines, "</svg>"]) + "\n"
