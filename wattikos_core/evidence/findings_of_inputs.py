"""What is entered and cannot be meant: slips of units, targets beyond physics, boundaries named twice, heat without a way out."""

from __future__ import annotations

from collections.abc import Iterator

from wattikos_core.case import ResolvedCase, evaluate_inputs
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence.finding import Finding
from wattikos_core.evidence.ledger import limits_of
from wattikos_core.quantities.values import show
from wattikos_core.section import PaintedSection

_CELSIUS = 273.15
# A temperature that stands so far from all others, K, and would stand among them if its unit were the other one, is a slip.
_APART, _AMONG = 150.0, 40.0
_ROOM, _EVERYDAY = 293.15, 120.0
# Below this nothing in everyday equipment is cold, K.
_NEAR_ZERO = 60.0
_FAR_COLD, _FAR_HOT = 173.15, 1273.15
_SHARES = ("effectiveness", "store_effectiveness", "overall_effectiveness", "liquid_fraction")
_HOLDS = ("inlet_mass", "inlet_velocity", "inlet_static", "inlet_total", "opening", "temperature", "surroundings")


def findings_of_inputs(resolved: ResolvedCase, section: PaintedSection) -> list[Finding]:
    """Findings about what was entered, before anything is solved."""
    return [
        *_slips_of_units(resolved),
        *_named_twice(resolved, section),
        *_beyond_physics(resolved),
    ]


def _slips_of_units(resolved: ResolvedCase) -> Iterator[Finding]:
    """Temperatures near absolute zero, and those that would stand among the others in the other unit."""
    told: set[str] = set()
    everything = resolved.temperatures_given
    for condition in resolved.conditions:
        for given in condition.temperatures:
            if condition.field in told:
                continue
            entered, at = show(given, "temperature"), f"at '{condition.boundary}'"
            meant = _meant(given, [t for t in everything if abs(t - given) > 1e-6])
            if given < _NEAR_ZERO:
                remedy = f"did you mean {show(given + _CELSIUS, 'temperature')}? give the unit with the number"
                found = Finding("stop", condition.boundary, f"{entered} {at} is next to absolute zero", remedy)
            elif meant is not None:
                remedy = f"did you mean {show(meant, 'temperature')}? °C and K are easily mixed up"
                text = f"{entered} {at} is far from all other temperatures of the case"
                found = Finding("check", condition.boundary, text, remedy)
            elif not _FAR_COLD <= given <= _FAR_HOT:
                text = f"{entered} {at} is far from everyday equipment"
                found = Finding("check", condition.boundary, text, "check the unit: °C and K are easily mixed up")
            else:
                continue
            told.add(condition.field)
            yield found


def _meant(given: float, others: list[float]) -> float | None:
    """What a temperature far from all others, and from a room's, would be in the other unit, if it would stand among them then."""
    if not others or min(abs(t - given) for t in others) < _APART:
        return None
    if abs(given - _ROOM) < max(abs(t - _ROOM) for t in others):
        return None
    for other in (given - _CELSIUS, given + _CELSIUS):
        if abs(other - _ROOM) < _EVERYDAY and min(abs(t - other) for t in others) < _AMONG:
            return other
    return None


def _named_twice(resolved: ResolvedCase, section: PaintedSection) -> Iterator[Finding]:
    """Boundaries that two conditions name, by one name or by two: only one of them holds."""
    for name in section.boundaries:
        holds = resolved.condition(name)
        names = {name, resolved.general_name(name)}
        mine = [c for c in resolved.conditions if c.boundary in names]
        other = next((c for c in mine if c is not holds and c.field != (holds.field if holds else "")), None)
        if holds is None or other is None:
            continue
        by = f" (as '{other.boundary}')" if other.boundary != name else ""
        text = f"'{name}' has two conditions{by}: the {_in_words(holds.type)} holds, the {_in_words(other.type)} does not"
        yield Finding("note", name, text, "take it out of one of them if that is not meant")


def _in_words(kind: str) -> str:
    return {"surroundings": "convection or radiation", "temperature": "given temperature"}.get(kind, kind.replace("_", " "))


def _beyond_physics(resolved: ResolvedCase) -> Iterator[Finding]:
    """Targets that no design reaches: shares above one, temperatures beyond all that are given where nothing heats or cools."""
    try:
        limits = limits_of(resolved.case, evaluate_inputs(resolved.case)[0])
    except CaseError:
        return
    given = resolved.temperatures_given
    sources = resolved.case.physics.friction_heat or any(part.heat or part.heat_density for part in resolved.bodies)
    sources = sources or any(c.type in ("heat_flux", "heat_rate") for c in resolved.conditions) or resolved.time is not None
    for wanted in resolved.case.wanted:
        low, high = limits[wanted.key]
        least = low if wanted.sense in ("at_least", "equal", "between") else None
        most = low if wanted.sense in ("at_most", "equal") else high
        if wanted.key.quantity in _SHARES and least is not None and least > 1.0:
            text = f"{wanted.key.label} of {least:.4g} is wanted: it cannot be above 1"
            yield Finding("stop", wanted.key.place, text, "give a target below 1")
        if wanted.key.kind != "temperature" or sources or not given:
            continue
        for bound, beyond, edge in ((least, 1.0, max(given)), (most, -1.0, min(given))):
            if bound is not None and beyond * (bound - edge) > 1e-6:
                word = "hotter" if beyond > 0.0 else "colder"
                asked, most_given = show(bound, "temperature"), show(edge, "temperature")
                text = f"{wanted.key.label} of {asked} is {word} than anything given ({most_given})"
                yield Finding("stop", wanted.key.place, text, "no size reaches it: change the target or the temperatures")


def heat_without_a_way_out(resolved: ResolvedCase, section: PaintedSection) -> list[InputProblem]:
    """Parts that are given heat, touch each other, and nothing else that holds a temperature: in steady state they grow hotter
    without end."""
    problems = []
    for group in _touching(section):
        mine = [b for b in section.boundaries.values() if not b.interface and group.intersection(b.parts)]
        present = [c for c in (resolved.condition(b.name) for b in mine) if c is not None]
        if any(c.type in _HOLDS and (c.type != "surroundings" or c.amount > 0.0 or c.emissivity > 0.0) for c in present):
            continue
        heated = [part for part in resolved.bodies if part.name in group and (part.heat or part.heat_density)]
        flux = [c for c in present if c.type in ("heat_flux", "heat_rate") and c.amount != 0.0]
        if not heated and not flux:
            continue
        field = f"{heated[0].field}.heat" if heated else f"{flux[0].field}.{flux[0].type}"
        names = " and ".join(f"'{name}'" for name in sorted(group)[:3])
        problem = f"heat given to {names} has nowhere to go in steady state"
        remedy = "let them touch something that holds a temperature, give them convection, or solve in time"
        problems.append(InputProblem(field, problem, remedy))
    return problems


def _touching(section: PaintedSection) -> list[set[str]]:
    """Parts in groups that touch one another."""
    groups = [{name} for name in section.names]
    for boundary in section.boundaries.values():
        if boundary.interface:
            joined = [group for group in groups if group.intersection(boundary.parts)]
            groups = [group for group in groups if not group.intersection(boundary.parts)]
            groups.append(set().union(*joined))
    return groups
