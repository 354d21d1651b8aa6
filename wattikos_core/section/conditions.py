"""Whether the conditions of a case fit its section."""

from __future__ import annotations

from difflib import get_close_matches

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import CaseError, Problem
from wattikos_core.section.paint import SIDES, PaintedSection


def open_boundaries(resolved: ResolvedCase, section: PaintedSection) -> list[str]:
    """Outer boundaries without a condition; they are solved as adiabatic walls."""
    given = {c.boundary for c in resolved.conditions}
    return [b.name for b in section.boundaries.values() if not b.interface and b.name not in given]


def symmetry_planes(resolved: ResolvedCase, section: PaintedSection) -> list[str]:
    """Boundaries without a layer along them, towards which a grid need not become thinner."""
    return [name for name in section.boundaries if (c := resolved.condition(name)) is not None and c.type == "symmetry"]


def _could_exist(name: str, resolved: ResolvedCase) -> bool:
    """Whether `name` is an outer edge some part of the case can have when inputs change."""
    part, _, side = name.rpartition(", ")
    return side in SIDES and part in {p.name for p in resolved.case.section.parts}


def check_conditions(resolved: ResolvedCase, section: PaintedSection) -> None:
    """Raise CaseError for conditions on unknown boundaries, flow conditions on solids, and flow without a way out."""
    problems: list[Problem] = []
    names = list(section.boundaries)
    inflow: dict[str, str] = {}
    outflow: set[str] = set()
    given: dict[str, str] = {}
    for condition in resolved.conditions:
        boundary = section.boundaries.get(condition.boundary)
        field = f"{condition.field}.boundaries"
        if boundary is None:
            if not _could_exist(condition.boundary, resolved):
                near = get_close_matches(condition.boundary, names, 1) or names[:1]
                problems.append(Problem(field, f"there is no boundary '{condition.boundary}'", f"did you mean '{near[0]}'?"))
            continue
        if boundary.interface:
            problems.append(
                Problem(field, f"'{condition.boundary}' lies between two parts", "leave it free: heat passes there by itself")
            )
            continue
        if condition.boundary in given:
            remedy = f"take it out of one of them ({given[condition.boundary]} has it too)"
            problems.append(Problem(field, f"'{condition.boundary}' has two conditions", remedy))
            continue
        given[condition.boundary] = condition.field
        part = boundary.parts[0]
        fluid = section.fluid[section.names.index(part)]
        if condition.type in ("inlet_mass", "inlet_velocity", "outlet") and not fluid:
            problems.append(Problem(field, f"'{condition.boundary}' belongs to a solid", "put inlets and outlets on a fluid part"))
        elif condition.type == "outlet":
            outflow.add(part)
        elif condition.type.startswith("inlet"):
            inflow[part] = field
    reach = _connected_fluids(section)
    for part, field in inflow.items():
        if not (reach[part] & outflow):
            problems.append(Problem(field, f"fluid enters '{part}' and cannot leave", "make one of its boundaries an outlet"))
    if problems:
        raise CaseError(problems)


def _connected_fluids(section: PaintedSection) -> dict[str, set[str]]:
    """For each fluid part, the parts its fluid can flow to."""
    reach = {name: {name} for name, fluid in zip(section.names, section.fluid, strict=True) if fluid}
    for boundary in section.boundaries.values():
        if boundary.interface and all(part in reach for part in boundary.parts):
            joined = reach[boundary.parts[0]] | reach[boundary.parts[1]]
            for part in joined:
                reach[part] = joined
    return reach
