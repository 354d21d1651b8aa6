"""The quantities a ledger can hold: what each is called, what it means, and the kind of its value."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from wattikos_core.case import ResolvedCase
from wattikos_core.physics import Evaluation, Problem, State
from wattikos_core.physics.scales import LEAST_SPAN
from wattikos_core.read.age import AGE_DEFINITIONS
from wattikos_core.read.senses import in_sense

# Quantities watched when none are chosen, at most.
_MOST_WATCHED = 6


@dataclass(frozen=True)
class Definition:
    """A ledger quantity's meaning: `text` states areas, reference temperatures and lengths."""

    name: str
    kind: str
    text: str


_WHOLE = {
    "duty": ("power", "heat passing from the hot stream to the cold one through the wall between them"),
    "effectiveness": (
        "ratio",
        "duty over the most that could pass: the smaller of both streams' enthalpy differences between the two inlet temperatures",
    ),
    "NTU": ("number", "U times the wall's hot-side area over the smaller heat capacity rate"),
    "overall U": (
        "heat_transfer_coefficient",
        "duty over the wall's hot-side area and the logarithmic mean of the differences between the streams at its two ends",
    ),
    "hottest metal": ("temperature", "highest temperature in any solid part"),
    "coldest metal": ("temperature", "lowest temperature in any solid part"),
    "mass balance": ("ratio", "net mass flow over all outer boundaries, as a share of the inflow"),
    "heat balance": (
        "ratio",
        "net heat over all outer boundaries and sources, less what is stored, as share of the heat passing",
    ),
    "coolant outlet temperature": ("temperature", "of coolant at the end of its passages across the section, by hand alone"),
    "heat stored": ("energy", "heat taken up by all parts together since the beginning"),
    "heat given up": ("energy", "heat that all parts together have lost since the beginning"),
}

_OF_STREAM = {
    "outlet temperature": ("temperature", "mixed-mean (weighted with mass flow, by enthalpy) over the outlet of {part}"),
    "heat gained": ("power", "enthalpy flow of {part} at its outlet minus that at its inlet"),
    "heat given off": ("power", "enthalpy flow of {part} at its inlet minus that at its outlet"),
    "pressure drop": ("pressure", "static pressure of {part}, weighted with mass flow, inlet minus outlet"),
    "pressure rise": ("pressure", "static pressure of {part}, weighted with mass flow, outlet minus inlet"),
    "Reynolds number": ("number", "of {part}, on its hydraulic diameter, at its mean bulk temperature"),
    "log-mean h": (
        "heat_transfer_coefficient",
        "mean on {part}'s side: heat over the area of all walls that give heat and the logarithmic mean of the differences between "
        "their mean temperature and {part} where it enters and leaves",
    ),
    "log-mean Nusselt number": (
        "number",
        "log-mean h of {part} times hydraulic diameter (4 volume over wetted area) over conductivity at the mean bulk temperature",
    ),
    "mean local h": (
        "heat_transfer_coefficient",
        "mean on {part}'s side, over the area of all walls that give heat, of the local heat flux over the local difference of "
        "wall and bulk temperatures",
    ),
    "mean local Nusselt number": (
        "number",
        "mean local h of {part} times hydraulic diameter (4 volume over wetted area) over conductivity at the mean bulk "
        "temperature",
    ),
    "h": (
        "heat_transfer_coefficient",
        "mean on {part}'s side: heat over the integral of (wall - bulk temperature) over all walls that give heat; bulk mixed-mean "
        "at the station",
    ),
    "Nusselt number": (
        "number",
        "mean h of {part} times hydraulic diameter (4 volume over wetted area) over conductivity at the mean bulk temperature",
    ),
}

_OF_STREAM |= AGE_DEFINITIONS

_OF_MODULE = {
    "friction factor": (
        "number",
        "fall of pressure along {part} times hydraulic diameter over the head of its mean velocity at the module's end (Darcy's)",
    ),
    "ratio per module": ("ratio", "what is left of {part}'s mean difference from the walls' temperature one module further on"),
    "rise per module": ("temperature_difference", "by how much {part} is warmer one module further on"),
    "last outlet temperature": ("temperature", "mixed-mean temperature of {part} behind the last module"),
    "total heat gained": (
        "power",
        "enthalpy flow of {part} behind the last module less that at the first one's upstream end",
    ),
    "total heat given off": (
        "power",
        "enthalpy flow of {part} at the first module's upstream end less that behind the last one",
    ),
    "total pressure drop": ("pressure", "pressure drop of {part} in one module times their number"),
    "total pressure rise": ("pressure", "pressure rise of {part} in one module times their number"),
}

_OF_SURFACE = {
    "mean h of": (
        "heat_transfer_coefficient",
        "heat from {place} into the fluid over its area and the mean surface temperature minus that at which the fluid enters "
        "(the fluid's mean by volume where none enters)",
    ),
    "mean Nusselt number of": (
        "number",
        "mean h of {place} times length over conductivity at the film temperature; the length is that of its Reynolds number for "
        "a body with fluid all round it, else the hydraulic diameter",
    ),
    "Reynolds number of": (
        "number",
        "of the body {place}, at the state and mean velocity at the inlet, on the diameter of the circle with its perimeter (the "
        "sphere with its surface in an axisymmetric section)",
    ),
    "drag coefficient of": (
        "number",
        "drag on {place} over its frontal area and half the density times the square of the mean velocity at the inlet",
    ),
    "lift coefficient of": (
        "number",
        "lift on {place} over its frontal area and half the density times the square of the mean velocity at the inlet",
    ),
    "drag on": ("force", "pressure and shear of the fluid on {place}, along the flow at the inlet"),
    "lift on": ("force", "pressure and shear of the fluid on {place}, across the flow at the inlet, to its left"),
    "mean shear on": ("pressure", "mean friction of the fluid on {place} per area, along the stream"),
    "highest shear on": ("pressure", "highest friction of the fluid on {place} per area, in either direction"),
    "separation on": (
        "length",
        "where friction on {place} first turns against the stream, along it from its upstream end",
    ),
    "reattachment on": (
        "length",
        "where friction on {place} last turns from against the stream to along it, from its upstream end",
    ),
    "separation angle of": (
        "angle",
        "angle from the front of {place}, seen from its middle, at which its friction first turns against the stream; mean of both "
        "sides",
    ),
    "heat passing": ("power", "heat that enters {place} through its outer boundaries, wherever it enters"),
    "overall effectiveness of": (
        "ratio",
        "hottest ambient temperature less the mean of {place}, over hottest less coldest ambient temperature",
    ),
    "heat released in": ("power", "heat of the source in {place}"),
    "friction heat in": ("power", "heat of friction in {place}"),
    "heat of compression in": ("power", "expansion times temperature times flow along the gradient of pressure, in {place}"),
    "heat that expansion takes in": (
        "power",
        "expansion times temperature times flow against the gradient of pressure, in {place}",
    ),
    "torque on": (
        "torque",
        "moment of the fluid's friction on {place}, which is at rest, in the sense in which the other wall turns; about the axis "
        "(or its own centre in a flat section)",
    ),
    "torque to turn": (
        "torque",
        "moment of the fluid's friction against which {place} turns, about the axis (or its own centre in a flat section)",
    ),
    "power to turn": ("power", "moment against which {place} is turned, times its angular velocity"),
    "power to slide": ("power", "friction against which {place} slides, times its velocity"),
    "liquid fraction of": ("ratio", "share of liquid in {place}, by volume"),
    "heat stored in": ("energy", "heat taken up by {place} since the beginning, latent heat included"),
    "heat given up by": ("energy", "heat that {place} has lost since the beginning, latent heat included"),
    "front in": (
        "length",
        "mean distance of the front in {place} from the surface through which most heat passes: volume that has melted or frozen "
        "since the beginning over that surface's area, around a cylinder in its radius",
    ),
    "melting time of": ("time", "time at which 99 % of {place} is liquid"),
    "freezing time of": ("time", "time at which 99 % of {place} is solid"),
    "store effectiveness of": (
        "ratio",
        "heat taken up by {place} over what it would have taken up had all of it reached the temperature given furthest from "
        "its beginning",
    ),
    "pressure in": ("pressure", "pressure of the gas closed in {place}, absolute"),
    "Rayleigh number of": (
        "number",
        "of {place}, on the temperatures on its surfaces and the gap between those that give heat and those that take it (its "
        "height, if so chosen), properties at their middle",
    ),
}

_SETTLING = {"time to 95 % of": "5 %", "time to 99 % of": "1 %"}

_TEMPERATURES = {
    "mean": "mean (by volume in a part, by area on a boundary or on an interface's first side) over",
    "highest": "highest cell temperature in, or face temperature on,",
    "lowest": "lowest cell temperature in, or face temperature on,",
}


def definition_of(name: str) -> Definition:
    """The definition of a ledger quantity; of heat that passes a surface by its sense (see `senses`).

    Raises:
        KeyError: nobody defines such a quantity.
    """
    if name in _WHOLE:
        return Definition(name, *_WHOLE[name])
    for ending, (kind, text) in (_OF_MODULE | _OF_STREAM).items():
        if name.endswith(" " + ending):
            return Definition(name, kind, text.format(part=name.removesuffix(" " + ending)))
    for which, text in _TEMPERATURES.items():
        if name.startswith(f"{which} temperature of "):
            return Definition(name, "temperature", f"{text} {name.removeprefix(f'{which} temperature of ')}")
    for start, (kind, text) in _OF_SURFACE.items():
        if name.startswith(f"{start} "):
            return Definition(name, kind, text.format(place=name.removeprefix(f"{start} ")))
    for start, share in _SETTLING.items():
        if name.startswith(f"{start} "):
            quantity = name.removeprefix(f"{start} ")
            return Definition(name, "time", f"from when on {quantity} stays within {share} of its travel from its last value")
    for start, way in (("heat out through ", "out of"), ("heat in through ", "into")):
        if name.startswith(start):
            return Definition(name, "power", f"conducted {way} the section through {name.removeprefix(start)}")
    if name.startswith("heat from ") and " to " in name:
        first, _, second = name.removeprefix("heat from ").rpartition(" to ")
        return Definition(name, "power", f"conducted from {first} to {second} through the surface between them")
    raise KeyError(name)


def quantity_names(parts: Sequence[str]) -> list[str]:
    """Names of quantities that a case with these parts may have, for those who misspell one."""
    of_parts = [f"{part} {ending}" for part in parts for ending in (*_OF_STREAM, *_OF_MODULE)]
    of_parts += [f"{start} {part}" for part in parts for start in _OF_SURFACE]
    return [*_WHOLE, *of_parts, *(f"{which} temperature of {part}" for part in parts for which in _TEMPERATURES)]


def watch_for(resolved: ResolvedCase, problem: Problem) -> Callable[[Evaluation, State], dict[str, float]]:
    """A function that gives the watched quantities of a state; without a choice, those that tell most."""
    from wattikos_core.read.solved import solved_quantities

    chosen: Sequence[str] = resolved.case.watches
    # Where no temperatures differ, heat is round-off, which never settles.
    heat_passes = bool(problem.scales.heat.any() or float(problem.scales.span.max()) > LEAST_SPAN)

    def watch(evaluation: Evaluation, state: State) -> dict[str, float]:
        values = solved_quantities(resolved, problem, evaluation, state)
        names = chosen or _telling(values, resolved.time is not None, heat_passes)
        found = {name: in_sense(values, name) for name in names}
        return {name: value for name, value in found.items() if value is not None}

    return watch


def _telling(values: Mapping[str, float], in_time: bool, heat_passes: bool) -> list[str]:
    """Outlet temperatures; in time and without any, liquid fractions, mean temperatures of parts, heat of boundaries, and
    torques."""
    outlets = [name for name in values if name.endswith("outlet temperature")]
    if outlets and not in_time:
        return outlets
    starts = ("liquid fraction of ", "mean temperature of ", "torque to turn ")
    others = [name for start in starts for name in values if name.startswith(start) and "," not in name and "|" not in name]
    # What passes its boundaries tells whether a closed section has settled.
    edges = [name for name in values if name.startswith("heat out through ") and values[name] != 0.0]
    edges = edges if heat_passes and not in_time else []
    return [*outlets, *edges[:2], *others][:_MOST_WATCHED]
