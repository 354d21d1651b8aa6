"""What stands in a case, and what of it a hand calculation has read: what is left over, its values leave out.

Everything that changes heat or flow is listed once, whatever the relation. A relation takes what it reads through `Bound`; what
it is given as an expression of its own counts as read where that uses the same input as the case does, or has the same value.
Expressions that match nothing in the case say something that is not there.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Literal

from wattikos_core.boundaries import Condition, Inlet, Opening, Periodic, Wall
from wattikos_core.case import Case, ResolvedCase, ResolvedCondition, ResolvedPart
from wattikos_core.quantities import names_in
from wattikos_core.quantities.values import show

Kind = Literal[
    "stream",
    "profile",
    "contact",
    "coating",
    "source",
    "outside",
    "radiation",
    "orthotropy",
    "motion",
    "time",
    "friction",
    "weight",
    "internal",
]

# Kinds of expressions that load a case: what a hand calculation says of them must stand somewhere.
_FAMILY = {
    "power": "heat",
    "heat_flux": "heat",
    "volumetric_heat": "heat",
    "temperature": "temperature",
    "heat_transfer_coefficient": "film",
    "contact_resistance": "resistance",
}
_SAME = 1e-6


@dataclass(frozen=True)
class Entry:
    """An expression of the case or of the hand calculation: its kind, its value in SI, and the inputs it rests on."""

    kind: str
    value: float
    inputs: frozenset[str]

    def matches(self, other: Entry) -> bool:
        """Whether both speak of the same: an input in common, or the same value of the same kind."""
        families = {_FAMILY.get(self.kind), _FAMILY.get(other.kind)}
        if families == {"film", "resistance"}:
            # A film may be said as its resistance.
            return bool(self.inputs & other.inputs)
        if len(families) > 1:
            return False
        if self.inputs & other.inputs:
            return True
        return self.kind == other.kind and math.isclose(self.value, other.value, rel_tol=_SAME)


@dataclass(frozen=True)
class Standing:
    """One thing that stands in a case: its kind, the part, boundary or pair of parts it stands at, and what is entered for it."""

    kind: Kind
    place: str
    words: str
    entries: tuple[Entry, ...] = ()


@dataclass
class Account:
    """What stands in a case against what a hand calculation has read."""

    resolved: ResolvedCase
    standing: tuple[Standing, ...] = ()
    _taken: set[tuple[Kind, str]] = field(default_factory=set)
    _said: dict[str, tuple[str, str, float]] = field(default_factory=dict)

    def take(self, kind: Kind, place: str) -> None:
        """Note that something at a place has been read."""
        self._taken.add((kind, place))

    def say(self, name: str, text: str, kind: str, value: float) -> None:
        """Note an expression of the hand calculation itself."""
        self._said[name] = (text, kind, value)

    def left_out(self) -> tuple[str, ...]:
        """What stands in the case and was not read, then what was said and stands nowhere, in words."""
        case = self.resolved.case
        said = {name: (text, Entry(kind, value, inputs_of(case, text))) for name, (text, kind, value) in self._said.items()}
        found = []
        for thing in self.standing:
            known = bool(thing.entries) and all(any(entry.matches(other) for _, other in said.values()) for entry in thing.entries)
            if (thing.kind, thing.place) not in self._taken and not known:
                found.append(thing.words)
        there = [entry for thing in self.standing for entry in thing.entries]
        for name, (text, entry) in said.items():
            if _FAMILY.get(entry.kind, "resistance") != "resistance" and not any(entry.matches(other) for other in there):
                found.append(f"its own {name.replace('_', ' ')} '{text}', which nothing in the case gives")
        return tuple(dict.fromkeys(found))


def account_of(resolved: ResolvedCase) -> Account:
    """The account of a case, with nothing read yet."""
    return Account(resolved, tuple(_standing(resolved)))


def inputs_of(case: Case, text: str) -> frozenset[str]:
    """The inputs an expression rests on, those that they rest on included."""
    found: set[str] = set()
    waiting = names_in(text) & set(case.inputs)
    while waiting:
        found |= waiting
        waiting = {other for name in waiting for other in names_in(case.inputs[name].value) & set(case.inputs)} - found
    return frozenset(found)


def _standing(resolved: ResolvedCase) -> Iterable[Standing]:
    case = resolved.case
    seen: set[str] = set()
    for part in resolved.bodies:
        if part.origin not in seen:
            seen.add(part.origin)
            yield from _in_part(case, part)
        if part.internal is not None:
            kind = next(p.internal for p in case.section.parts if p.name == part.origin)
            assert kind is not None
            yield Standing("internal", part.name, f"the {kind.type.replace('porous', 'porous part')} '{part.name}'")
    present = {part.origin for part in resolved.bodies} | {part.name for part in resolved.bodies}
    for contact in case.contacts:
        first, second = contact.between
        resistance = resolved.contacts.get(f"{first} | {second}") or next(
            (r for name, r in resolved.contacts.items() if _of(resolved, name, first, second)), 0.0
        )
        if {first, second} <= present and resistance > 0.0:
            words = f"the resistance between {first} and {second} ({show(resistance, 'contact_resistance')})"
            entered = Entry("contact_resistance", resistance, inputs_of(case, contact.resistance or contact.thickness))
            yield Standing("contact", pair(first, second), words, (entered,))
    for condition in resolved.conditions:
        if resolved.condition(condition.boundary) is condition or condition.type == "periodic":
            yield from _on_boundary(case, condition)
    if resolved.time is not None:
        at = resolved.time.temperature
        begins = Entry("temperature", at if isinstance(at, float) else math.nan, inputs_of(case, case.time.temperature))
        yield Standing("time", "", "the run in time", (begins,))
    if case.physics.friction_heat:
        yield Standing("friction", "", "the heat of friction")
    if any(resolved.gravity) and any(part.material.fluid for part in resolved.bodies):
        yield Standing("weight", "", "the weight that stirs fluids")


def pair(first: str, second: str) -> str:
    """Two parts in an order that does not depend on which is named first."""
    return " | ".join(sorted((first, second)))


def _of(resolved: ResolvedCase, name: str, first: str, second: str) -> bool:
    origins = {part.name: part.origin for part in resolved.parts}
    one, _, other = name.partition(" | ")
    return {origins.get(one, one), origins.get(other, other)} == {first, second}


def _in_part(case: Case, part: ResolvedPart) -> Iterable[Standing]:
    document = next(p for p in case.section.parts if p.name == part.origin)
    if part.heat or part.heat_density:
        kind, value = ("power", part.heat) if part.heat else ("volumetric_heat", part.heat_density)
        inputs = inputs_of(case, document.heat)
        yield Standing("source", part.origin, f"the heat source in {part.origin}", (Entry(kind, value, inputs),))
    if document.radiation is not None:
        yield Standing("radiation", part.origin, f"the radiation between the surfaces around {part.origin}")
    own = case.materials.get(document.material)
    if own is not None and own.conductivity_y.strip():
        yield Standing("orthotropy", part.origin, f"the conductivity of {part.origin} that differs by direction")
    if part.angular_velocity:
        yield Standing("motion", part.origin, f"the turning of {part.origin}")


def _on_boundary(case: Case, condition: ResolvedCondition) -> Iterable[Standing]:
    document: Condition = case.conditions[int(condition.field.partition("[")[2].rstrip("]"))]
    place = condition.boundary
    if isinstance(document, Inlet | Opening | Periodic):
        part = place.rpartition(", ")[0]
        temperature = Entry("temperature", condition.temperature, inputs_of(case, document.temperature))
        yield Standing("stream", part, f"the stream that enters {part}", (temperature,))
    if condition.profile_given:
        yield Standing("profile", place, f"the profile of what enters at '{place}'")
    if isinstance(document, Wall):
        yield from _of_wall(case, document, condition)
    if any(varying.in_time for varying in condition.along.values()):
        yield Standing("time", place, f"the changes in time at '{place}'")


def _of_wall(case: Case, document: Wall, condition: ResolvedCondition) -> Iterable[Standing]:
    place = condition.boundary

    def entered(kind: str, text: str, value: float) -> Entry:
        return Entry(kind, value, inputs_of(case, text))

    if condition.type in ("temperature", "heat_flux", "heat_rate"):
        words = {"temperature": "the temperature held", "heat_flux": "the heat flux", "heat_rate": "the heat rate"}[condition.type]
        kind = {"temperature": "temperature", "heat_flux": "heat_flux", "heat_rate": "power"}[condition.type]
        if condition.type == "temperature" or condition.amount or "amount" in condition.along:
            yield Standing(
                "outside", place, f"{words} at '{place}'", (entered(kind, getattr(document, condition.type), condition.amount),)
            )
    if condition.type == "surroundings" and condition.amount > 0.0:
        entries = (
            entered("heat_transfer_coefficient", document.heat_transfer_coefficient, condition.amount),
            entered("temperature", document.ambient_temperature, condition.ambient),
        )
        yield Standing("outside", place, f"the convection outside '{place}'", entries)
    if condition.type == "surroundings" and condition.emissivity > 0.0:
        yield Standing("radiation", place, f"the radiation of '{place}'")
    if condition.absorbed or "absorbed" in condition.along:
        sun = entered("heat_flux", document.absorbed, condition.absorbed)
        yield Standing("source", place, f"what shines on '{place}'", (sun,))
    if condition.coating > 0.0:
        yield Standing("coating", place, f"the coating of '{place}' ({show(condition.coating, 'contact_resistance')})")
    if any(varying.in_place for varying in condition.along.values()):
        yield Standing("profile", place, f"the variation along '{place}'")
    if condition.moves:
        yield Standing("motion", place, f"the motion of '{place}'")
