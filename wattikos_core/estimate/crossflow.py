"""Tubes and bars across a stream: film, drag and outlet temperature by hand.

Mean Nusselt numbers of a circular cylinder and of bundles after Zukauskas (1972), Adv. Heat Transfer 8, 93, on the
velocity in the narrowest gap (constants as tabulated by Incropera and DeWitt; from memory).
"""

from __future__ import annotations

import math

from wattikos_core.case import ResolvedCase
from wattikos_core.case.estimates import CrossFlow
from wattikos_core.errors import CaseError, Problem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue

ZUKAUSKAS = "Zukauskas (1972), Adv. Heat Transfer 8, 93"
SUCKER_BRAUER = "Sucker and Brauer (1975), Wärme- und Stoffübertragung 8, 149"

# Upper Reynolds number, constant and exponent.
_CYLINDER = ((40.0, 0.75, 0.4), (1e3, 0.51, 0.5), (2e5, 0.26, 0.6), (1e6, 0.076, 0.7))
_BUNDLE: dict[str, tuple[tuple[float, float, float], ...]] = {"in_line": ((1e2, 0.80, 0.40),), "staggered": ((1e2, 0.90, 0.40),)}
_SCATTER = {"single": 0.15, "in_line": 0.25, "staggered": 0.25}
_SCATTER_DRAG = 0.15
_ROUNDS = 20


def cylinder_nusselt(reynolds: float, prandtl: float, prandtl_surface: float, arrangement: str = "single") -> float:
    """Mean Nu of a cylinder across a stream, or of a bundle's tubes (Zukauskas 1972); Re and Nu on the diameter."""
    rows: list[tuple[float, float, float]] = [
        *_BUNDLE.get(arrangement, ()),
        *(row for row in _CYLINDER if arrangement == "single" or row[0] > 1e2),
    ]
    _, constant, exponent = next((row for row in rows if reynolds <= row[0]), rows[-1])
    power = 0.37 if prandtl <= 10.0 else 0.36
    return float(constant * reynolds**exponent * prandtl**power * (prandtl / prandtl_surface) ** 0.25)


def cylinder_drag(reynolds: float) -> float:
    """Drag coefficient of a circular cylinder, Re from 1e-4 to 2e5: Sucker and Brauer (1975), from memory."""
    return float(1.18 + 6.8 / reynolds**0.89 + 1.96 / math.sqrt(reynolds) - 0.0004 * reynolds / (1.0 + 3.64e-7 * reynolds**2))


def cross_flow(resolved: ResolvedCase, roles: CrossFlow) -> dict[str, HandValue]:
    """The ledger of tubes or bars across a stream by hand; see `estimate_case`."""
    bound = Bound(resolved)
    fluid, body = bound.part("fluid", roles.fluid), bound.part("body", roles.body)
    inlet = bound.entering(fluid.name)
    modules = max(inlet.modules, 1)
    flow = bound.mass_flow(fluid, fluid.height * resolved.depth)
    diameter = bound.above_zero("diameter", roles.diameter, "length")
    velocity = bound.above_zero("velocity", roles.velocity, "velocity")
    count = bound.above_zero("count", roles.count, "number")
    count *= modules
    area = count * math.pi * diameter * resolved.depth
    heated = count * body.heat + count * body.heat_density * math.pi / 4.0 * diameter**2 * resolved.depth
    inside = _inside(bound, roles, diameter)
    if not heated and inside is None:
        raise CaseError(
            Problem("estimate.inner_h", f"'{roles.body}' has no heat source", "give it one, or what heats it from inside")
        )
    scatter = _SCATTER[roles.arrangement]

    def solve(factor: float) -> dict[str, float]:
        out = surface = inlet.temperature
        h = nusselt = reynolds = heat = 0.0
        for _ in range(_ROUNDS):
            table = fluid.material
            mean = 0.5 * (inlet.temperature + out)
            # Zukauskas takes properties at the mean bulk temperature, and the wall's Prandtl number beside them.
            reynolds = velocity * diameter * float(table.density(mean)) / float(table.viscosity(mean))
            nusselt = factor * cylinder_nusselt(
                reynolds, float(table.prandtl(mean)), float(table.prandtl(surface)), roles.arrangement
            )
            h = nusselt * float(table.conductivity(mean)) / diameter
            if inside is None:
                heat = heated
            else:
                resistance, source = inside
                conductance = 1.0 / (1.0 / h + resistance * math.pi * diameter)
                rate = flow * float(table.specific_heat(mean))
                heat = rate * (source - inlet.temperature) * (1.0 - math.exp(-conductance * area / rate))
            before = surface
            out = float(table.temperature_of(table.enthalpy(inlet.temperature) + heat / flow, mean))
            surface = 0.5 * (inlet.temperature + out) + heat / (h * area)
            if abs(surface - before) < 1e-7:
                break
        return {"out": out, "heat": heat, "h": h, "nusselt": nusselt, "reynolds": reynolds, "surface": surface}

    low, middle, high = solve(1.0 - scatter), solve(1.0), solve(1.0 + scatter)
    where = f"Reynolds number in the gap {middle['reynolds']:.0f}, from 1 to 1,000,000; rows behind each other share one film"
    holds = 1.0 <= middle["reynolds"] <= 1e6
    names = {"out": f"{fluid.name} outlet temperature", "heat": f"{fluid.name} heat gained"}
    if inlet.modules:
        names = {"h": f"{fluid.name} h"}
        names |= {"out": f"{fluid.name} last outlet temperature", "heat": f"{fluid.name} total heat gained"}
    elif roles.arrangement == "single" and count == 1.0:
        # By ledger definition h is on the inlet temperature, and so is this.
        names |= {
            "h": f"mean h of {fluid.name} | {body.name}",
            "nusselt": f"mean Nusselt number of {fluid.name} | {body.name}",
            "surface": f"mean temperature of {fluid.name} | {body.name}",
        }
    result = {}
    for key, name in names.items():
        bounds = sorted((low[key], middle[key], high[key]))
        if bounds[0] == bounds[-1] and key in ("out", "heat"):
            source = "energy balance of the stream"
        else:
            source = f"film of {'a cylinder' if roles.arrangement == 'single' else 'a bundle'}: {ZUKAUSKAS}"
        result[name] = HandValue(name, middle[key], bounds[0], bounds[-1], source, where, holds)
    if roles.arrangement == "single" and count == 1.0:
        name = f"drag coefficient of {body.name}"
        drag = cylinder_drag(middle["reynolds"])
        reach = _SCATTER_DRAG * drag
        result[name] = HandValue(
            name, drag, drag - reach, drag + reach, SUCKER_BRAUER, "a free cylinder", middle["reynolds"] >= 1.0
        )
    return result


def _inside(bound: Bound, roles: CrossFlow, outer: float) -> tuple[float, float] | None:
    """Resistance of the inner film and the wall per length, m K/W, and the temperature inside; None without."""
    if not roles.inner_h.strip():
        return None
    h = bound.above_zero("inner_h", roles.inner_h, "heat_transfer_coefficient")
    source = bound.read("inner_temperature", roles.inner_temperature, "temperature")
    inner = bound.above_zero("inner_diameter", roles.inner_diameter, "length")
    if inner >= outer:
        raise CaseError(Problem("estimate.inner_diameter", f"'{roles.inner_diameter}' is not inside the tube", "make it smaller"))
    conductivity = float(bound.part("body", roles.body).material.conductivity(source))
    return 1.0 / (h * math.pi * inner) + math.log(outer / inner) / (2.0 * math.pi * conductivity), source
