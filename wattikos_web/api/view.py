"""What the desk shows of a case before it is solved: sketch, flags, dimensions, hand-calculated ledger, findings."""

from __future__ import annotations

import math
import re
import time
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import Case, ResolvedCase, ResolvedCondition, ResolvedPart, evaluate_inputs, resolve
from wattikos_core.case.document import GridWishes, Periodic, Physics, Wall
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate import estimate_case
from wattikos_core.evidence import build_ledger, findings_before
from wattikos_core.evidence.findings import refuse_impossible
from wattikos_core.formats import ledger_json
from wattikos_core.grid import section_lines
from wattikos_core.materials import CATALOGUE
from wattikos_core.quantities import KINDS, from_si, unit_label
from wattikos_core.quantities.units import normalise
from wattikos_core.section import Boundary, PaintedSection, check_conditions, on_axis, paint
from wattikos_core.section.shapes import outline_of, polygon_points

# How far drawn curves may be from the real ones, as a share of the section's diagonal.
_DRAWN = 2e-4


def case_view(case: Case) -> dict[str, Any]:
    """Everything that can be said of `case`, and every problem; parts that cannot be computed are left out."""
    begun = time.perf_counter()
    problems: list[InputProblem] = []
    values, bad_inputs = evaluate_inputs(case)
    view: dict[str, Any] = {"sketch": None, "ledger": [], "findings": [], "grid": None, "lasts": None}
    view["inputs"] = [
        {
            "name": name,
            "value": values[name].magnitude if name in values else None,
            "text": _shown(values[name].magnitude, item.kind, item.unit) if name in values else "",
        }
        for name, item in case.inputs.items()
    ]
    try:
        resolved = resolve(case)
        view["lasts"] = resolved.time.end if resolved.time is not None else None
        section = paint(resolved)
        view["sketch"] = sketch_of(resolved, section)
        view["grid"] = grid_count(resolved, section)
        for check in (check_conditions, refuse_impossible):
            try:
                check(resolved, section)
            except CaseError as error:
                problems.extend(error.problems)
        hand = {}
        try:
            hand = estimate_case(resolved)
        except CaseError as error:
            problems.extend(error.problems)
        written = ledger_json(case.title, build_ledger(resolved, hand, {}), findings_before(resolved, section, hand))
        view["ledger"], view["findings"] = written["quantities"], written["findings"]
    except CaseError as error:
        problems.extend(error.problems)
        view["sketch"] = bare_sketch(case, problems)
    problems = list(dict.fromkeys([*bad_inputs, *problems]))
    view["problems"] = [{"field": p.field, "problem": p.problem, "remedy": p.remedy, "at": p.at} for p in problems]
    view["milliseconds"] = 1000.0 * (time.perf_counter() - begun)
    return view


def _shown(value: float, kind: str, unit: str = "", digits: int = 5) -> str:
    unit = unit or KINDS[kind].unit
    return f"{from_si(value, unit, kind):.{digits}g} {unit_label(unit)}".strip()


def grid_count(resolved: ResolvedCase, section: PaintedSection) -> dict[str, int] | None:
    """How many cells the rectilinear gridder will make; other grids are counted when they are made."""
    wishes = resolved.case.grid
    if section.tensor is None or wishes.cells is not None:
        return None
    x, y = section_lines(resolved, section, wishes.fineness)
    return {"cells": (x.size - 1) * (y.size - 1), "columns": x.size - 1, "rows": y.size - 1}


def bare_sketch(case: Case, problems: list[InputProblem]) -> dict[str, Any] | None:
    """The drawing of a case whose conditions cannot all be read, so that they can be corrected on it; None without a drawing."""
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
        names = {*condition.boundaries, *(condition.downstream if isinstance(condition, Periodic) else ())}
        for boundary in sketch["boundaries"]:
            if not boundary["interface"] and names & {boundary["name"], boundary["general"]}:
                # What needs no words on a drawing that can be read needs none here.
                quiet = not wrong and isinstance(condition, Wall) and condition.thermal == "adiabatic"
                kind, flag = "adiabatic" if quiet else "unread", "cannot be read" if wrong else condition.type
                boundary |= {"condition": index, "kind": kind, "flag": flag}
    return {**sketch, "bare": True}


def sketch_of(resolved: ResolvedCase, section: PaintedSection) -> dict[str, Any]:
    """The section to scale with its named edges, flags and dimension labels."""
    case = resolved.case
    materials = {p.name: p.material for p in case.section.parts}
    origin = {part.name: part.origin for part in resolved.parts}
    tolerance = _DRAWN * math.dist(section.bounds()[:2], section.bounds()[2:])
    parts = [
        {
            "name": name,
            "origin": origin[name],
            "material": _material_label(case, materials[origin[name]]),
            "fluid": fluid,
            "rings": [_thinned(ring, tolerance).tolist() for ring in section.rings[name]],
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
                "lines": [_thinned(line, tolerance).tolist() for line in lines_through(boundary.segments)],
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
            "loops": [_thinned(polygon_points(loop), tolerance).tolist() for loop in outline_of(part)],
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


def lines_through(segments: NDArray[np.float64]) -> list[NDArray[np.float64]]:
    """Segments, shape (n, 4), that follow each other as lines of points, shape (m, 2) each."""
    joined = np.nonzero(np.any(segments[1:, :2] != segments[:-1, 2:], axis=1))[0] + 1
    return [np.concatenate([piece[:, :2], piece[-1:, 2:]]) for piece in np.split(segments, joined)]


def _thinned(line: NDArray[np.float64], tolerance: float) -> NDArray[np.float64]:
    """A line with fewer points, nowhere further than a tolerance from the one given."""
    import shapely

    return np.asarray(shapely.get_coordinates(shapely.simplify(shapely.linestrings(line), tolerance)))


def _material_label(case: Case, name: str) -> str:
    """A material of the case has its own name there; one of the catalogue its label."""
    return name if name in case.materials else CATALOGUE[name].label


def _typed_unit(text: str) -> str:
    found = re.fullmatch(r"\s*[-+]?[\d.]+(?:[eE][-+]?\d+)?\s*(\S.*?)\s*", text)
    unit = normalise(found.group(1)) if found else ""
    return unit if any(unit in kind.units for kind in KINDS.values()) else ""


def _flag(resolved: ResolvedCase, boundary: Boundary) -> tuple[int | None, str, str]:
    """The condition on a boundary, its kind, and the flag in an engineer's notation."""
    given = resolved.condition(boundary.name)
    if given is None:
        return (None, "symmetry", "axis") if on_axis(resolved, boundary) else (None, "open", "open")
    index = int(given.field.split("[")[1].rstrip("]"))
    condition = resolved.case.conditions[index]

    def unit_of(text: str) -> str:
        """The unit an input is shown in, or that of a number as it was typed."""
        item = resolved.case.inputs.get(text.strip())
        return item.unit if item else _typed_unit(text)

    if condition.type == "inlet":
        given_by = ("mass_flow", "velocity", "pressure")
        kind, text = next(((k, t) for k in given_by if (t := getattr(condition, k)).strip()), ("velocity", ""))
        amount = _shown(given.amount, kind, unit_of(text), 4)
        return index, "inlet", f"{amount} · {_shown(given.temperature, 'temperature', unit_of(condition.temperature), 4)}"
    if condition.type == "outlet":
        return index, "outlet", _shown(given.amount, "pressure", unit_of(condition.pressure), 4)
    if condition.type == "symmetry":
        return index, "symmetry", "symmetry"
    if condition.type == "periodic":
        return index, *_repeating(resolved, condition, boundary.name, unit_of)
    moving = _motion(given, unit_of(condition.turning), unit_of(condition.slide_x or condition.slide_y))
    if condition.thermal == "adiabatic":
        return index, ("moving" if moving else "adiabatic"), " · ".join(moving) or "adiabatic"
    if given.type == "surroundings":
        pieces = []
        if condition.thermal != "radiation":
            pieces += [_shown(given.amount, "heat_transfer_coefficient", unit_of(condition.value), 4)]
            pieces += [_shown(given.ambient, "temperature", unit_of(condition.ambient), 4)]
        if condition.thermal != "convection":
            pieces += [f"ε {given.emissivity:.3g}", _shown(given.surroundings, "temperature", unit_of(condition.surroundings), 4)]
        return index, condition.thermal, " · ".join([*pieces, *moving])
    kind = "power" if condition.thermal == "heat_rate" else condition.thermal
    return index, condition.thermal, " · ".join([_shown(given.amount, kind, unit_of(condition.value), 4), *moving])


def _repeating(resolved: ResolvedCase, condition: Periodic, boundary: str, unit_of: Callable[[str], str]) -> tuple[str, str]:
    """The kind and the flag of an end of a module."""
    module = resolved.module
    if module is None or boundary in module.downstream:
        count = module.count if module is not None else 1
        return "downstream", f"repeats · {count:,} modules" if count > 1 else "repeats"
    values = {"mass_flow": module.mass_flow, "velocity": module.velocity, "pressure_gradient": module.gradient}
    kind, amount = next((kind, value) for kind, value in values.items() if value is not None)
    drive = _shown(amount, kind, unit_of(getattr(condition, kind)), 4)
    return "upstream", f"{drive} · {_shown(module.temperature, 'temperature', unit_of(condition.temperature), 4)}"


def _motion(given: ResolvedCondition, turning_unit: str, slide_unit: str) -> list[str]:
    """How a wall moves, in an engineer's notation."""
    pieces = [_shown(given.turning, "turning", turning_unit, 4)] if given.turning else []
    if given.slide_x or given.slide_y:
        speed = (given.slide_x**2 + given.slide_y**2) ** 0.5
        pieces.append(_shown(speed, "velocity", slide_unit, 4))
    return pieces


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
                    "text": _shown(value, "length", item.unit if item else "mm"),
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
