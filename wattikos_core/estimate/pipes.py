"""Hand calculation of a pipe with layers around it that loses heat to its surroundings.

The stream's film, the layers with what lies between them, and the outer film in series, and the exponential decay of the
stream's temperature towards what the outside draws it to. Radiation is a film of its own beside convection, towards its own
temperature.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from wattikos_core.case import ResolvedCondition, ResolvedPart
from wattikos_core.case.estimates import InsulatedPipe
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.ducts import HICKMAN, SHAH_LONDON, flux_share_behind, pipe_friction, pipe_nusselt
from wattikos_core.estimate.films import by_wall, duct_film, range_of, sources_of
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key
from wattikos_core.radiation import STEFAN_BOLTZMANN

INCROPERA = "Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), chapters 3 and 8"
_SCATTER_FILM = 0.06
# What is left when all resistances are known: properties at means, ends, conduction along the layers.
_SCATTER_HEAT = 0.03
_SCATTER_FRICTION = 0.05
_ROUNDS, _SETTLED = 60, 1e-9
# The balance of the outer surface is closed within this share of what passes it.
_CLOSED = 1e-4


@dataclass(frozen=True)
class _Pipe:
    """What stands around a stream: SI, resistances between layers and outside by area."""

    fluid: ResolvedPart
    layers: list[ResolvedPart]
    inlet: ResolvedCondition
    outside: ResolvedCondition
    flow: float
    contacts: list[float]
    roughness: float
    losses: float

    @property
    def outer(self) -> float:
        """Outer radius, m."""
        return self.layers[-1].y + self.layers[-1].height


def insulated_pipe(bound: Bound, roles: InsulatedPipe) -> dict[Key, HandValue]:
    """The ledger of an insulated pipe by hand; see `estimate_case`."""
    pipe = _read(bound, roles)
    middle, low, high = bound.over(lambda way: _solve(bound, pipe, way))
    name = pipe.fluid.name
    reynolds = middle["reynolds_number"]
    inside = middle.pop("inside") > 0.0
    surface = Key("mean_temperature", f"{pipe.layers[-1].name}, top")
    where = range_of("little conduction along the pipe")
    film = sources_of(f"Graetz problem: {SHAH_LONDON}, chapter V; between one temperature and one flux: {HICKMAN}", reynolds)
    result = {}
    for what, value in middle.items():
        source = f"resistances in series and exponential decay: {INCROPERA}; film: {film}"
        bounds = sorted((low[what], value, high[what]))
        if what == "pressure_drop":
            source = sources_of(f"pipe, laminar: {SHAH_LONDON}, chapter V", reynolds)
            bounds = [value * (1.0 - _SCATTER_FRICTION), value, value * (1.0 + _SCATTER_FRICTION)]
        elif what == "reynolds_number":
            source = "definition"
        elif what not in ("h", "nusselt_number"):
            base = {"heat_gained": 0.0, "outlet_temperature": pipe.inlet.temperature}
            start = base.get(what, pipe.outside.ambient or pipe.outside.surroundings)
            reach = _SCATTER_HEAT * abs(value - start)
            bounds = [bounds[0] - reach, value, bounds[-1] + reach]
        key = surface if what == "surface" else Key(what, name)
        result[key] = HandValue(key, value, bounds[0], bounds[-1], source, where, inside)
    return result


def _read(bound: Bound, roles: InsulatedPipe) -> _Pipe:
    resolved = bound.resolved
    fluid = bound.part("fluid", roles.fluid)
    layers = [bound.part("layers", name) for name in roles.layers if name not in resolved.absent]
    if not resolved.axisymmetric or not layers:
        raise CaseError(
            InputProblem("estimate", "the pipe relation needs an axisymmetric section with a wall", "choose extent axisymmetric")
        )
    bound.entering(fluid.name)
    inlet = next(
        (c for edge in ("left", "right") if (c := resolved.condition(f"{fluid.name}, {edge}")) and c.type.startswith("inlet")), None
    )
    if inlet is None:
        raise CaseError(
            InputProblem("conditions", f"'{fluid.name}' has no inlet at its left or right", "put an inlet on one of them")
        )
    outside = bound.outside(f"{layers[-1].name}, top")
    if outside is None or outside.type not in ("surroundings", "temperature"):
        remedy = "give the outermost layer convection, radiation or a temperature on its top"
        raise CaseError(InputProblem("conditions", f"'{layers[-1].name}, top' meets no surroundings", remedy))
    flow = bound.mass_flow(fluid, math.pi * fluid.height**2)
    contacts = [bound.contact(a, b) for a, b in zip([fluid, *layers], layers, strict=False)]
    roughness, losses = bound.or_zero("roughness", roles.roughness, "length"), bound.or_zero("losses", roles.losses, "number")
    return _Pipe(fluid, layers, inlet, outside, flow, contacts, roughness, losses)


def _solve(bound: Bound, pipe: _Pipe, way: float) -> dict[str, float]:
    """The whole calculation, with the stream's film at the middle (0) or an end (-1, 1) of its scatter."""
    fluid, outside, table = pipe.fluid, pipe.outside, pipe.fluid.material
    length, radius, start = fluid.width, fluid.height, pipe.inlet.temperature
    section, around = math.pi * radius**2, 2.0 * math.pi * length
    held = outside.type == "temperature"
    drawn = outside.amount if held else (outside.ambient if outside.amount > 0.0 else outside.surroundings)
    out, surface, wall, leaving = start, drawn, start, 0.0
    # Temperatures of the layers' middles.
    at = [0.5 * (start + drawn)] * len(pipe.layers)
    values: dict[str, float] = {}
    behind = math.inf
    for _ in range(_ROUNDS):
        before = (out, surface)
        mean = 0.5 * (start + out)
        viscosity, prandtl = float(table.viscosity(mean)), float(table.prandtl(mean))
        density, conductivity = float(table.density(mean)), float(table.conductivity(mean))
        reynolds = 2.0 * pipe.flow / (math.pi * radius * viscosity)
        slenderness = 2.0 * radius / length
        # How near the wall is to one flux follows from what stands behind it.
        share = flux_share_behind(2.0 * radius / (conductivity * behind * around * radius)) if math.isfinite(behind) else 1.0

        def laminar(number: float, x: float = slenderness, pr: float = prandtl, share: float = share) -> tuple[float, float]:
            x_plus = 1.0 / (x * number)
            return pipe_nusselt(x_plus / pr, share), pipe_friction(x_plus, developing=not pipe.inlet.developed) / number

        film = duct_film(
            laminar,
            reynolds,
            prandtl,
            slenderness=slenderness,
            roughness=pipe.roughness / (2.0 * radius),
            laminar_scatter=_SCATTER_FILM,
        )
        of_nusselt, of_friction = by_wall(table, mean, wall, turbulent=reynolds > 2300.0)
        nusselt = film.nusselt * of_nusselt * (1.0 + way * film.scatter)
        h = nusselt * conductivity / (2.0 * radius)
        steps = [1.0 / (h * around * radius)]
        for layer, contact, t in zip(pipe.layers, pipe.contacts, at, strict=True):
            steps += [
                contact / (around * layer.y),
                math.log((layer.y + layer.height) / layer.y) / (around * bound.across(layer, t)),
            ]
        beyond, drawn = _beyond(outside, surface, pipe.outer * around)
        resistance = sum(steps) + beyond
        behind = resistance - steps[0]
        ntu = 1.0 / (resistance * pipe.flow * float(table.specific_heat(mean)))
        out = drawn + (start - drawn) * math.exp(-ntu)
        leaving = pipe.flow * float(table.enthalpy(start) - table.enthalpy(out))
        # Through the series, from what it ends at.
        nodes = [drawn + leaving * (beyond + sum(steps[k:])) for k in range(1, len(steps) + 1)]
        wall = nodes[0]
        at = [0.5 * (nodes[k] + nodes[k + 1]) for k in range(1, len(nodes) - 1, 2)]
        surface = drawn + leaving * beyond
        velocity = pipe.flow / (density * section)
        dynamic = 0.5 * density * velocity**2
        values = {
            "outlet_temperature": out,
            "heat_gained": -leaving,
            "h": h,
            "nusselt_number": nusselt,
            "pressure_drop": (film.friction * of_friction * length / (2.0 * radius) + pipe.losses) * dynamic,
            "reynolds_number": reynolds,
        }
        if abs(out - before[0]) + abs(surface - before[1]) < _SETTLED * abs(surface):
            break
    closed = held or abs(_passes(outside, surface, pipe.outer * around) - leaving) <= _CLOSED * abs(leaving)
    return values | {"surface": surface, "inside": float(closed and film.inside)}


def _beyond(outside: ResolvedCondition, surface: float, area: float) -> tuple[float, float]:
    """Resistance from the surface outwards, K/W, and the temperature it leads to, K."""
    coating = outside.coating / area
    if outside.type == "temperature":
        return coating, outside.amount
    there = surface if not outside.coating else _outermost(outside, surface)
    radiant = _radiant(outside, there)
    film = outside.amount + radiant
    drawn = (outside.amount * outside.ambient + radiant * outside.surroundings) / film
    return coating + 1.0 / (film * area), drawn


def _radiant(outside: ResolvedCondition, surface: float) -> float:
    """Radiation as a film towards the temperature it goes to, W/m2/K: exact for any difference, and never divided by one."""
    if outside.emissivity == 0.0:
        return 0.0
    there = outside.surroundings
    return outside.emissivity * STEFAN_BOLTZMANN * (surface**2 + there**2) * (surface + there)


def _outermost(outside: ResolvedCondition, surface: float) -> float:
    """Temperature of a coating's outside, K, by a few steps of its own balance."""
    there = surface
    for _ in range(20):
        radiant = _radiant(outside, there)
        given = surface / outside.coating + outside.amount * outside.ambient + radiant * outside.surroundings
        there = given / (1.0 / outside.coating + outside.amount + radiant)
    return there


def _passes(outside: ResolvedCondition, surface: float, area: float) -> float:
    """What leaves a surface at its temperature, W."""
    there = _outermost(outside, surface) if outside.coating else surface
    convected = outside.amount * (there - outside.ambient)
    radiated = outside.emissivity * STEFAN_BOLTZMANN * (there**4 - outside.surroundings**4)
    return area * (convected + radiated)
