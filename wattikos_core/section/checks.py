"""Whether the conditions of a case fit its section."""

from __future__ import annotations

from difflib import get_close_matches

from wattikos_core.boundaries import BOUNDARY_KINDS
from wattikos_core.case import ResolvedCase
from wattikos_core.case.shapes import SHAPE_SIDES
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.section.ends import end_problems
from wattikos_core.section.painted import Boundary, PaintedSection


def open_boundaries(resolved: ResolvedCase, section: PaintedSection) -> list[str]:
    """Outer boundaries without a condition; they are solved as adiabatic walls. The axis needs none."""
    return [
        b.name
        for b in section.boundaries.values()
        if not b.interface and resolved.condition(b.name) is None and not on_axis(resolved, b)
    ]


def on_axis(resolved: ResolvedCase, boundary: Boundary) -> bool:
    """Whether a boundary lies on the axis of an axisymmetric section: it is one of symmetry without being told."""
    return resolved.axisymmetric and not boundary.segments[:, [1, 3]].any()


def symmetry_planes(resolved: ResolvedCase, section: PaintedSection) -> list[str]:
    """Boundaries without a layer along them, towards which a grid need not become thinner."""
    given = ((name, resolved.condition(name)) for name in section.boundaries)
    return [name for name, c in given if c is not None and BOUNDARY_KINDS[c.kind].mirrors]


def without_layers(resolved: ResolvedCase, section: PaintedSection) -> list[str]:
    """Boundaries that no layer of cells need lie along: inlets, outlets, symmetry planes, and the axis."""
    chosen = []
    for name, boundary in section.boundaries.items():
        condition = resolved.condition(name)
        if condition is not None and not BOUNDARY_KINDS[condition.kind].layers:
            chosen.append(name)
        elif boundary.interface and all(section.fluid[section.names.index(p)] for p in boundary.parts):
            if name not in resolved.contacts:
                chosen.append(name)
        elif on_axis(resolved, boundary):
            chosen.append(name)
    return chosen


def _could_exist(name: str, resolved: ResolvedCase) -> bool:
    """Whether `name` is an outer edge some part of the case can have when inputs change."""
    part, _, side = name.rpartition(", ")
    parts = {p.name: p for p in resolved.case.section.parts}
    owner = parts.get(part) or parts.get(part.rpartition(" ")[0])
    if owner is None or owner.material == "void":
        return False
    divided = {side for side, places in owner.shape.divided.items() if places} if owner.shape.type == "rectangle" else set()
    known = set(SHAPE_SIDES.get(owner.shape.type, ())) - divided | {"axis"}
    if side in known or (owner.shape.type in ("polygon", "outline") and (side == "outside" or "side " in side)):
        return True
    if side.rpartition(" ")[0] in divided:
        return True
    # An edge that a void has cut carries the void's name.
    return any(side.startswith(p.name) for p in parts.values() if p.material == "void")


def check_conditions(resolved: ResolvedCase, section: PaintedSection) -> None:
    """Raise CaseError for conditions on unknown boundaries, flow conditions on solids, and flow without a way out."""
    problems: list[InputProblem] = []
    names = list(section.boundaries)
    inflow: dict[str, str] = {}
    outflow: set[str] = set()
    given: dict[str, str] = {}
    general = {resolved.general_name(name): boundary for name, boundary in section.boundaries.items()}
    for condition in resolved.conditions:
        boundary = section.boundaries.get(condition.boundary) or general.get(condition.boundary)
        field = f"{condition.field}.boundaries"
        if boundary is None:
            if not _could_exist(condition.boundary, resolved):
                near = get_close_matches(condition.boundary, names, 1) or names[:1]
                problems.append(InputProblem(field, f"there is no boundary '{condition.boundary}'", f"did you mean '{near[0]}'?"))
            continue
        if boundary.interface:
            problems.append(
                InputProblem(field, f"'{condition.boundary}' lies between two parts", "leave it free: heat passes there by itself")
            )
            continue
        if condition.boundary in given:
            remedy = f"take it out of one of them ({given[condition.boundary]} has it too)"
            problems.append(InputProblem(field, f"'{condition.boundary}' has two conditions", remedy))
            continue
        given[condition.boundary] = condition.field
        part, kind = boundary.parts[0], BOUNDARY_KINDS[condition.kind]
        wrong = kind.check(condition, section.fluid[section.names.index(part)])
        if wrong is not None:
            problems.append(wrong)
        elif kind.leaves:
            outflow.add(part)
        elif kind.enters:
            inflow[part] = field
    reach = connected_fluids(resolved, section)
    for part, field in inflow.items():
        if not (reach[part] & outflow):
            problems.append(InputProblem(field, f"fluid enters '{part}' and cannot leave", "make one of its boundaries an outlet"))
    problems += end_problems(resolved, section)
    if problems:
        raise CaseError(problems)


def connected_fluids(resolved: ResolvedCase, section: PaintedSection) -> dict[str, set[str]]:
    """For each fluid part, the parts its fluid can flow to; a thin wall lets nothing through."""
    reach = {name: {name} for name, fluid in zip(section.names, section.fluid, strict=True) if fluid}
    for boundary in section.boundaries.values():
        if boundary.interface and boundary.name not in resolved.contacts and all(part in reach for part in boundary.parts):
            joined = reach[boundary.parts[0]] | reach[boundary.parts[1]]
            for part in joined:
                reach[part] = joined
    return reach
