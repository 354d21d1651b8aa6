"""The drawing of a case: the section to scale with its named edges, flags in an engineer's notation, and dimension labels."""

from __future__ import annotations

import math
import re
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wattikos_core.boundaries import BOUNDARY_KINDS, Shown, Wall, kind_of
from wattikos_core.case import Case, ResolvedCase, ResolvedPart, resolve
from wattikos_core.case.document import GridWishes, Physics
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.internals import INTERNAL_KINDS, ResolvedFan
from wattikos_core.materials import CATALOGUE
from wattikos_core.quantities import KINDS
from wattikos_core.quantities.units import normalise
from wattikos_core.quantities.values import show
from wattikos_core.section.checks import on_axis
from wattikos_core.section.paint import paint
from wattikos_core.section.painted import Boundary, PaintedSection
from wattikos_core.section.shapes import outline_of, polygon_points

# How far drawn curves may be from the real ones, as a share of the section's diagonal.
_DRAWN = 2e-4
# Pieces of a boundary, and instants of a run in time, at which what varies is looked at for the range in its flag.
_PLACES, _INSTANTS = 15, 25
# A fan's curve is drawn in so many points, a little further than it was given.
_CURVE_POINTS, _BEYOND_CURVE = 41, 1.05
# Sheet of a section without parts, m: x0, y0, x1, y1.
_SHEET = (0.0, 0.0, 0.1, 0.05)


def bare_sketch(case: Case, problems: list[InputProblem]) -> dict[str, Any] | None:
    """The drawing of a case whose conditions cannot all be read, so that they can be corrected on it; None without a drawing."""
    if not case.section.parts:
        return _empty_sketch(case)
    drawn = {"conditions": [], "contacts": [], "grid": GridWishes()}
    sketch = None
    for plain in (drawn, {**drawn, "physics": Physics()}):
        try:
            resolved = resolve(case.model_copy(update=plain))
            sketch = sketch_of(resolved, paint(resolved))
            break
        except CaseError:
            continue
    if sketch is None:
        return None
    for index, condition in enumerate(case.conditions):
        wrong = any(p.field.startswith(f"conditions[{index}]") for p in problems)
        names = set(kind_of(condition).boundaries(condition))
        for boundary in sketch["boundaries"]:
            if not boundary["interface"] and names & {boundary["name"], boundary["general"]}:
                # What needs no words on a drawing that can be read needs none here.
                quiet = not wrong and isinstance(condition, Wall) and condition.thermal == "adiabatic"
                kind, flag = "adiabatic" if quiet else "unread", "cannot be read" if wrong else condition.type
                boundary |= {"condition": index, "kind": kind, "flag": flag}
    return {**sketch, "bare": True}


def _empty_sketch(case: Case) -> dict[str, Any]:
    """A sheet to draw the first part on, above the axis where there is one."""
    nothing: dict[str, Any] = {"parts": [], "outlines": [], "boundaries": [], "dimensions": []}
    return {"bounds": list(_SHEET), "axisymmetric": case.section.extent == "axisymmetric", "bare": True, **nothing}


def sketch_of(resolved: ResolvedCase, section: PaintedSection) -> dict[str, Any]:
    """The section to scale with its named edges, flags and dimension labels."""
    case = resolved.case
    materials = {p.name: p.material for p in case.section.parts}
    origin = {part.name: part.origin for part in resolved.parts}
    tolerance = _DRAWN * math.dist(section.bounds()[:2], section.bounds()[2:])
    thinned = _thinned(
        {
            **{("rings", name): section.rings[name] for name in section.names},
            **{("lines", name): lines_through(boundary.segments) for name, boundary in section.boundaries.items()},
            **{("loops", part.name): [polygon_points(loop) for loop in outline_of(part)] for part in resolved.parts},
        },
        tolerance,
    )
    parts = [
        {
            "name": name,
            "origin": origin[name],
            "material": _material_label(case, materials[origin[name]]),
            "fluid": fluid,
            "rings": thinned["rings", name],
            "internal": _internal(resolved.part(name)),
        }
        for name, fluid in zip(section.names, section.fluid, strict=True)
    ]
    boundaries = []
    for boundary in section.boundaries.values():
        index, kind, flag = _flag(resolved, boundary)
        fluid = any(section.fluid[section.names.index(p)] for p in boundary.parts)
        boundaries.append(
            {
                "name": boundary.name,
                "general": resolved.general_name(boundary.name),
                "interface": boundary.interface,
                "lines": thinned["lines", boundary.name],
                "length": boundary.length,
                "fluid": fluid,
                "kind": "interface" if boundary.interface else kind,
                "flag": "" if boundary.interface else flag,
                "condition": index,
            }
        )
    outlines = [
        {
            "name": part.name,
            "origin": part.origin,
            "void": part.table is None,
            "loops": thinned["loops", part.name],
        }
        for part in resolved.parts
    ]
    return {
        "bounds": section.bounds(),
        "axisymmetric": resolved.axisymmetric,
        "parts": parts,
        "outlines": outlines,
        "boundaries": boundaries,
        "dimensions": _dimensions(resolved),
        "bare": False,
    }


def _internal(part: ResolvedPart) -> dict[str, Any] | None:
    """What stands in the stream of a part: its kind, its flag, which way it goes, and a fan's curve in points for the desk."""
    given = part.internal
    if given is None:
        return None
    kind = "fan" if isinstance(given, ResolvedFan) else given.kind
    found: dict[str, Any] = {"kind": kind, "flag": INTERNAL_KINDS[kind].flag(given), "direction": given.direction, "curve": []}
    if isinstance(given, ResolvedFan):
        # Of all the fans that the part stands for.
        flow = np.linspace(0.0, _BEYOND_CURVE * given.curve.at[-1], _CURVE_POINTS)
        found["curve"] = np.column_stack([given.stands_for * flow, given.curve(flow)]).tolist()
    return found


def lines_through(segments: NDArray[np.float64]) -> list[NDArray[np.float64]]:
    """Segments, shape (n, 4), that follow each other as lines of points, shape (m, 2) each."""
    joined = np.nonzero(np.any(segments[1:, :2] != segments[:-1, 2:], axis=1))[0] + 1
    return [np.concatenate([piece[:, :2], piece[-1:, 2:]]) for piece in np.split(segments, joined)]


def _thinned(
    groups: dict[tuple[str, str], list[NDArray[np.float64]]], tolerance: float
) -> dict[tuple[str, str], list[list[list[float]]]]:
    """Groups of lines with fewer points, nowhere further than a tolerance from those given; at once, since one by one is slow."""
    import shapely

    lines = [line for group in groups.values() for line in group]
    which = np.repeat(np.arange(len(lines)), [len(line) for line in lines])
    drawn = shapely.simplify(shapely.linestrings(np.concatenate(lines), indices=which), tolerance)
    points, of = shapely.get_coordinates(drawn, return_index=True)
    pieces = iter(np.split(points, np.searchsorted(of, np.arange(1, len(lines)))))
    return {name: [next(pieces).tolist() for _ in group] for name, group in groups.items()}


def _material_label(case: Case, name: str) -> str:
    """A material of the case has its own name there; one of the catalogue its label."""
    return name if name in case.materials else CATALOGUE[name].label


def _typed_unit(text: str) -> str:
    found = re.fullmatch(r"\s*[-+]?[\d.]+(?:[eE][-+]?\d+)?\s*(\S.*?)\s*", text)
    unit = normalise(found.group(1)) if found else ""
    return unit if any(unit in kind.units for kind in KINDS.values()) else ""


def _places_along(boundary: Boundary) -> NDArray[np.float64]:
    """Places on a boundary, m, shape (n, 2): the ends of its pieces and some between them."""
    pieces = boundary.segments.reshape(-1, 2, 2)
    pieces = pieces[:: max(len(pieces) // _PLACES, 1)]
    shares = np.linspace(0.0, 1.0, max(_PLACES // len(pieces), 1) + 2)[:, None, None]
    return np.asarray((pieces[:, 0] + shares * (pieces[:, 1] - pieces[:, 0])).reshape(-1, 2))


def _flag(resolved: ResolvedCase, boundary: Boundary) -> tuple[int | None, str, str]:
    """The condition on a boundary, what it counts as on the drawing, and the flag in an engineer's notation."""
    given = resolved.condition(boundary.name)
    if given is None:
        return (None, "symmetry", "axis") if on_axis(resolved, boundary) else (None, "open", "no condition")
    index = int(given.field.split("[")[1].rstrip("]"))
    condition = resolved.case.conditions[index]

    def unit_of(text: str) -> str:
        """The unit an input is shown in, or that of a number as it was typed."""
        item = resolved.case.inputs.get(text.strip())
        return (_typed_unit(item.value) or item.unit) if item else _typed_unit(text)

    times = (0.0,) if resolved.time is None else tuple(np.linspace(0.0, resolved.time.end, _INSTANTS))
    points = _places_along(boundary)
    kind, flag = BOUNDARY_KINDS[given.kind].flag(condition, given, Shown(unit_of, resolved.module, points, times))
    return index, kind, flag


# The dimensions of each shape that have labels, and the ends of what they measure as shares of it from the centre.
_LABELLED: dict[str, tuple[str, ...]] = {
    "rectangle": ("width", "height"),
    "circle": ("diameter",),
    "ring": ("outer_diameter", "inner_diameter"),
    "blade": ("chord",),
}


def _dimensions(resolved: ResolvedCase) -> list[dict[str, Any]]:
    """A label per size expression of the parts present; one that several parts share is shown once."""
    case = resolved.case
    seen: set[str] = set()
    labels: list[dict[str, Any]] = []
    by_origin: dict[str, ResolvedPart] = {}
    for copy in resolved.parts:
        by_origin.setdefault(copy.origin, copy)
    for index, part in enumerate(case.section.parts):
        placed = by_origin.get(part.name)
        if placed is None:
            continue
        for field in _LABELLED.get(part.shape.type, ()):
            expression = getattr(part.shape, field)
            key = expression.strip()
            if key in seen:
                continue
            seen.add(key)
            item = case.inputs.get(key)
            value = placed.size[field]
            start, end = _ends(placed, field, value)
            labels.append(
                {
                    "part": index,
                    "field": field,
                    "text": show(value, "length", (item.unit if item else "mm") or "mm", 5),
                    "expression": item.value if item else expression,
                    "input": key if item else None,
                    "start": start,
                    "end": end,
                }
            )
    return labels


def _ends(part: ResolvedPart, field: str, value: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """The two ends of what a dimension measures."""
    x, y = part.x + part.placement.dx, part.y + part.placement.dy
    if field == "width":
        return (x, y), (x + value, y)
    if field == "height":
        return (x, y), (x, y + value)
    if field == "chord":
        return (x, y), (x + value * math.cos(part.angle), y + value * math.sin(part.angle))
    return (x - 0.5 * value, y), (x + 0.5 * value, y)
