"""Hand calculation of a pipe with layers around it that loses heat to its surroundings.

The stream's film, the layers and the outer film in series, and the exponential decay of the stream's temperature towards
the ambient. Radiation outside is added to the outer film at the surface temperature found.
"""

from __future__ import annotations

import math

from wattikos_core.case import ResolvedCase, ResolvedCondition, ResolvedPart
from wattikos_core.case.estimates import InsulatedPipe
from wattikos_core.errors import CaseError, Problem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.ducts import SHAH_LONDON, TRANSITION_REYNOLDS, pipe_friction, pipe_nusselt
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.physics.gradients import STEFAN_BOLTZMANN

HAUSEN = "Hausen (1943), Z. VDI Beih. Verfahrenstech. 4, 91"
INCROPERA = "Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), chapters 3 and 8"
# A wall that loses heat through layers lies between one temperature and one flux; halfway is 1.1 times the first.
_BETWEEN = 1.1
_SCATTER_FILM = 0.12
# What is left when all resistances are known: properties at means, ends, conduction along the layers.
_SCATTER_HEAT = 0.03
_SCATTER_FRICTION = 0.05
_ROUNDS = 30


def insulated_pipe(resolved: ResolvedCase, roles: InsulatedPipe) -> dict[str, HandValue]:
    """The ledger of an insulated pipe by hand; see `estimate_case`."""
    bound = Bound(resolved)
    fluid = bound.part("fluid", roles.fluid)
    layers = [bound.part("layers", name) for name in roles.layers if name not in resolved.absent]
    if not resolved.axisymmetric or not layers:
        raise CaseError(
            Problem("estimate", "the pipe relation needs an axisymmetric section with a wall", "choose extent axisymmetric")
        )
    inlet = next(
        (c for edge in ("left", "right") if (c := resolved.condition(f"{fluid.name}, {edge}")) and c.type.startswith("inlet")), None
    )
    if inlet is None:
        raise CaseError(Problem("conditions", f"'{fluid.name}' has no inlet at its left or right", "put an inlet on one of them"))
    outside = resolved.condition(f"{layers[-1].name}, top")
    if outside is None or outside.type != "surroundings":
        remedy = "give the outermost layer convection or radiation on its top"
        raise CaseError(Problem("conditions", f"'{layers[-1].name}, top' meets no surroundings", remedy))
    middle, low, high = (
        _solve(resolved, fluid, layers, inlet, outside, factor) for factor in (1.0, 1.0 - _SCATTER_FILM, 1.0 + _SCATTER_FILM)
    )
    laminar = middle[f"{fluid.name} Reynolds number"] < TRANSITION_REYNOLDS
    where = f"Reynolds number below {TRANSITION_REYNOLDS:.0f}; little conduction along the pipe"
    result = {}
    for name, value in middle.items():
        source = f"resistances in series and exponential decay: {INCROPERA}; film: {HAUSEN}"
        bounds = sorted((low[name], value, high[name]))
        if name.endswith("pressure drop"):
            source = f"pipe, laminar: {SHAH_LONDON}, chapter V"
            bounds = [value * (1.0 - _SCATTER_FRICTION), value, value * (1.0 + _SCATTER_FRICTION)]
        elif name.endswith("Reynolds number"):
            source = "definition"
        elif not name.endswith((" h", "Nusselt number")):
            base = {"heat gained": 0.0, "outlet temperature": inlet.temperature}
            start = next((at for ending, at in base.items() if name.endswith(ending)), outside.ambient or outside.surroundings)
            reach = _SCATTER_HEAT * abs(value - start)
            bounds = [bounds[0] - reach, value, bounds[-1] + reach]
        result[name] = HandValue(name, value, bounds[0], bounds[-1], source, where, laminar)
    return result


def _solve(
    resolved: ResolvedCase,
    fluid: ResolvedPart,
    layers: list[ResolvedPart],
    inlet: ResolvedCondition,
    outside: ResolvedCondition,
    factor: float,
) -> dict[str, float]:
    """The whole calculation with the stream's film multiplied by `factor` (for the band of scatter)."""
    table, length, radius = fluid.material, fluid.width, fluid.height
    section = math.pi * radius**2
    flow = inlet.amount if inlet.type == "inlet_mass" else inlet.amount * float(table.density(inlet.temperature)) * section
    outer = layers[-1].y + layers[-1].height
    ambient = outside.ambient if outside.amount > 0.0 else outside.surroundings
    t_out = surface = 0.5 * (inlet.temperature + ambient)
    h = nusselt = reynolds = heat = x_plus = density = 0.0
    for _ in range(_ROUNDS):
        mean = 0.5 * (inlet.temperature + t_out)
        reynolds = 2.0 * flow / (math.pi * radius * float(table.viscosity(mean)))
        density = float(table.density(mean))
        x_plus = length / (2.0 * radius * reynolds)
        nusselt = factor * _BETWEEN * pipe_nusselt(float(table.prandtl(mean)) / x_plus)
        h = nusselt * float(table.conductivity(mean)) / (2.0 * radius)
        film = outside.amount
        if outside.emissivity > 0.0:
            # Radiation as a film towards the ambient, at the surface temperature found so far.
            away = outside.emissivity * STEFAN_BOLTZMANN * (surface**4 - outside.surroundings**4)
            film += away / (surface - ambient) if abs(surface - ambient) > 1e-9 else 0.0
        resistance = 1.0 / (h * 2.0 * math.pi * radius * length)
        for layer in layers:
            k = float(layer.material.conductivity(0.5 * (mean + surface)))
            resistance += math.log((layer.y + layer.height) / layer.y) / (2.0 * math.pi * k * length)
        out_there = 1.0 / max(film * 2.0 * math.pi * outer * length, 1e-300)
        ntu = 1.0 / ((resistance + out_there) * flow * float(table.specific_heat(mean)))
        new = ambient + (inlet.temperature - ambient) * math.exp(-ntu)
        heat = flow * float(table.enthalpy(new) - table.enthalpy(inlet.temperature))
        surface = ambient - heat * out_there
        moved, t_out = abs(new - t_out), new
        if moved < 1e-9:
            break
    velocity = flow / (density * section)
    friction = pipe_friction(x_plus, developing=not inlet.developed) / reynolds
    name = fluid.name
    return {
        f"{name} outlet temperature": t_out,
        f"{name} heat gained": heat,
        f"mean temperature of {layers[-1].name}, top": surface,
        f"{name} mean local h": h,
        f"{name} mean local Nusselt number": nusselt,
        f"{name} pressure drop": friction * length / (2.0 * radius) * 0.5 * density * velocity**2,
        f"{name} Reynolds number": reynolds,
    }
