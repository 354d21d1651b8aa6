"""Tubes, bars and spheres across a stream: heat, drag, pressure drop and outlet temperature by hand."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from wattikos_core.case import ResolvedPart
from wattikos_core.case.estimates import CrossFlow
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import BY_PRESSURE, Bound, Entering
from wattikos_core.estimate.bundles import (
    CRISIS,
    Bundle,
    bundle_nusselt,
    bundle_pressure_drop,
    churchill_bernstein,
    cylinder_drag,
    holds,
    range_of,
    ranz_marshall,
    sphere_drag,
    sphere_nusselt,
)
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

ZUKAUSKAS = "Zukauskas (1972), Adv. Heat Transfer 8, 93"
WHITAKER = "Whitaker (1972), AIChE J. 18, 361 (from memory)"
SUCKER_BRAUER = "Sucker and Brauer (1975), Wärme- und Stoffübertragung 8, 149"
CHURCHILL_BERNSTEIN = "Churchill and Bernstein (1977), J. Heat Transfer 99, 300"
RANZ_MARSHALL = "Ranz and Marshall (1952), Chem. Eng. Prog. 48, 141 (from memory)"
CLIFT = "Clift, Grace and Weber (1978), Bubbles, Drops and Particles, as in the fluids library"

_SCATTER = {"single": 0.15, "in_line": 0.25, "staggered": 0.25}
_SCATTER_DRAG, _SCATTER_DROP = 0.15, 0.25
_SPHERE = (3.5, 8e4)
_ROUNDS = 20
_MOST_RANZ, _LEAST_PECLET = 200.0, 0.2


@dataclass(frozen=True)
class _Task:
    """Bodies in a stream, in SI: `area` of all of them, `across` that of the stream; what heats them, a heat rate or a temperature
    behind a resistance."""

    fluid: ResolvedPart
    entering: Entering
    bundle: Bundle
    sphere: bool
    flow: float
    velocity: float
    area: float
    across: float
    heated: float
    inside: tuple[float, float] | None
    coating: float


def cross_flow(bound: Bound, roles: CrossFlow) -> dict[Key, HandValue]:
    """The ledger of bodies across a stream by hand; see `estimate_case`."""
    task, count, body = _read(bound, roles)
    fluid, bundle = task.fluid, task.bundle
    scatter = _SCATTER[bundle.arrangement]
    middle, low, high = bound.over(lambda way: _solve(task, 1.0 + way * scatter))
    other = _by_another(task)
    reynolds = middle["reynolds"]
    inside = _SPHERE[0] <= reynolds <= _SPHERE[1] if task.sphere else holds(bundle, reynolds)
    where = f"Reynolds number {reynolds:.0f}, from 3.5 to 80,000" if task.sphere else range_of(bundle, reynolds)
    keys = {"out": Key("outlet_temperature", fluid.name), "heat": Key("heat_gained", fluid.name)}
    alone = bundle.arrangement == "single" and count == 1.0
    if task.entering.modules:
        keys = {"h": Key("h", fluid.name)}
        keys |= {"out": Key("last_outlet_temperature", fluid.name), "heat": Key("total_heat_gained", fluid.name)}
    elif alone:
        # By ledger definition h is on the inlet temperature, and so is this.
        keys |= {
            "h": Key("surface_h", f"{fluid.name} | {body}"),
            "nusselt": Key("surface_nusselt_number", f"{fluid.name} | {body}"),
            "surface": Key("mean_temperature", f"{fluid.name} | {body}"),
        }
    shape = "a sphere" if task.sphere else ("a cylinder" if bundle.arrangement == "single" else "a bundle")
    result = {}
    for what, key in keys.items():
        bounds = sorted((low[what], middle[what], high[what]))
        source = f"film of {shape}: {WHITAKER if task.sphere else ZUKAUSKAS}"
        if bounds[0] == bounds[-1] and what in ("out", "heat"):
            source = "energy balance of the stream"
        also = (other(key, what),) if other is not None and bounds[0] != bounds[-1] else ()
        result[key] = HandValue(key, middle[what], bounds[0], bounds[-1], source, where, inside, also=also)
    if alone:
        key = Key("drag_coefficient", body)
        drag = sphere_drag(reynolds) if task.sphere else cylinder_drag(reynolds)
        known = 1.0 <= reynolds <= CRISIS
        limits = (drag * (1.0 - _SCATTER_DRAG), drag * (1.0 + _SCATTER_DRAG))
        source = CLIFT if task.sphere else SUCKER_BRAUER
        where = f"free of walls, Reynolds number up to {CRISIS:,.0f}"
        result[key] = HandValue(key, drag, *limits, source, where, known)
        # Per frontal area, on the velocity ahead, as the drag of the ledger is.
        ahead = task.flow / (middle["density"] * task.across)
        frontal = math.pi / 4.0 * bundle.diameter**2 if task.sphere else bundle.diameter * bound.resolved.depth
        push = 0.5 * middle["density"] * ahead**2 * frontal
        key = Key("drag", body)
        result[key] = HandValue(key, drag * push, limits[0] * push, limits[1] * push, source, where, known)
    elif bundle.pitched and bundle.rows and not task.entering.modules:
        drop, on_chart = bundle_pressure_drop(bundle, reynolds, middle["density"], task.velocity)
        key = Key("pressure_drop", fluid.name)
        limits = (drop * (1.0 - _SCATTER_DROP), drop * (1.0 + _SCATTER_DROP))
        charts = "pitches of 1.25 to 2.5 diameters, Reynolds number in the gap from 10 to 2e6; the bundle alone"
        result[key] = HandValue(key, drop, *limits, f"charts of {ZUKAUSKAS}, as in the ht library", charts, on_chart)
    return result


def _by_another(task: _Task) -> Callable[[Key, str], HandValue] | None:
    """The same by the other relation that is usual for a single cylinder or sphere; None for bundles."""
    if not task.sphere and task.bundle.arrangement != "single":
        return None
    name, shape, scatter = (RANZ_MARSHALL, "a sphere", 0.15) if task.sphere else (CHURCHILL_BERNSTEIN, "a cylinder", 0.2)
    low, middle, high = (_solve(task, 1.0 + way * scatter, other=True) for way in (-1.0, 0.0, 1.0))
    reynolds, peclet = middle["film_reynolds"], middle["film_peclet"]
    inside = 2.0 <= reynolds <= _MOST_RANZ if task.sphere else peclet > _LEAST_PECLET
    where = (
        f"Reynolds number {reynolds:.0f} at the film's temperature, from 2 to {_MOST_RANZ:.0f}"
        if task.sphere
        else f"Re Pr {peclet:.3g} at the film's temperature, above {_LEAST_PECLET}"
    )

    def value(key: Key, what: str) -> HandValue:
        bounds = sorted((low[what], high[what]))
        return HandValue(key, middle[what], bounds[0], bounds[1], f"film of {shape}: {name}", where, inside)

    return value


def _read(bound: Bound, roles: CrossFlow) -> tuple[_Task, float, str]:
    """What is to be solved, how many bodies there are, and what the body is called."""
    resolved = bound.resolved
    fluid, body = bound.part("fluid", roles.fluid), bound.part("body", roles.body)
    entering = bound.entering(fluid.name)
    sphere = resolved.axisymmetric
    if sphere and (roles.arrangement != "single" or roles.count.strip() != "1"):
        problem = f"'{roles.arrangement}' of {roles.count} in an axisymmetric section"
        raise CaseError(
            InputProblem("estimate.arrangement", problem, "one body on the axis is a sphere; choose extent flat for tubes")
        )
    across = math.pi * ((fluid.y + fluid.height) ** 2 - fluid.y**2) if sphere else fluid.height * resolved.depth
    if not entering.modules and (inlet := bound.inlet(fluid.name)).type in BY_PRESSURE:
        problem = f"by hand the velocity in the gap is given and does not follow from the pressure at '{inlet.boundary}'"
        raise CaseError(InputProblem(f"{inlet.field}.pressure", problem, "give a mass flow or a velocity"))
    flow = bound.mass_flow(fluid, across)
    diameter = bound.above_zero("diameter", roles.diameter, "length")
    velocity = bound.above_zero("velocity", roles.velocity, "velocity")
    count = bound.above_zero("count", roles.count, "number") * max(entering.modules, 1)
    bundle = Bundle(
        roles.arrangement,
        diameter,
        bound.or_zero("pitch_across", roles.pitch_across, "length"),
        bound.or_zero("pitch_along", roles.pitch_along, "length"),
        bound.or_zero("rows", roles.rows, "number"),
    )
    bound.account.take("source", body.origin)
    volume = math.pi / 6.0 * diameter**3 if sphere else math.pi / 4.0 * diameter**2 * resolved.depth
    heated = count * (body.heat + body.heat_density * volume)
    inside = _behind(bound, roles, diameter)
    if not heated and inside is None:
        remedy = "give it one, or what heats it from inside, or the temperature of its wall"
        raise CaseError(InputProblem("estimate.inner_h", f"'{roles.body}' has no heat source", remedy))
    area = count * math.pi * diameter * (diameter if sphere else resolved.depth)
    coating = bound.contact(fluid, body)
    return _Task(fluid, entering, bundle, sphere, flow, velocity, area, across, heated, inside, coating), count, body.name


def _solve(task: _Task, factor: float, *, other: bool = False) -> dict[str, float]:
    """All that follows from the film, multiplied by `factor`; by the `other` relation with properties at the film's temperature."""
    table, start, diameter = task.fluid.material, task.entering.temperature, task.bundle.diameter
    out = surface = start
    h = nusselt = reynolds = heat = density = film_reynolds = film_prandtl = 0.0
    for _ in range(_ROUNDS):
        mean = 0.5 * (start + out)
        # Zukauskas takes properties at the mean bulk temperature, and the wall's Prandtl number beside them.
        density, viscosity, prandtl = float(table.density(mean)), float(table.viscosity(mean)), float(table.prandtl(mean))
        reynolds = task.velocity * diameter * density / viscosity
        film = 0.5 * (mean + surface) if other else mean
        film_reynolds = task.velocity * diameter * density / float(table.viscosity(film))
        film_prandtl = float(table.prandtl(film))
        if other:
            nusselt = factor * (ranz_marshall if task.sphere else churchill_bernstein)(film_reynolds, film_prandtl)
        elif task.sphere:
            nusselt = factor * sphere_nusselt(reynolds, prandtl, viscosity / float(table.viscosity(surface)))
        else:
            nusselt = factor * bundle_nusselt(task.bundle, reynolds, prandtl, float(table.prandtl(surface)))
        h = nusselt * float(table.conductivity(film)) / diameter
        if task.inside is None:
            heat = task.heated
        else:
            # What stands behind the film, on the outer area, and the temperature there.
            resistance, source = task.inside
            rate = task.flow * float(table.specific_heat(mean))
            conductance = task.area / (1.0 / h + task.coating + resistance)
            heat = rate * (source - start) * (1.0 - math.exp(-conductance / rate))
        before = surface
        out = float(table.temperature_of(table.enthalpy(start) + heat / task.flow, mean))
        surface = 0.5 * (start + out) + heat / (h * task.area)
        if abs(surface - before) < 1e-7:
            break
    return {
        "out": out,
        "heat": heat,
        "h": h,
        "nusselt": nusselt,
        "reynolds": reynolds,
        "surface": surface,
        "density": density,
        "film_reynolds": film_reynolds,
        "film_peclet": film_reynolds * film_prandtl,
    }


def _behind(bound: Bound, roles: CrossFlow, outer: float) -> tuple[float, float] | None:
    """Resistance of inner film and tube on the outer area, m2 K/W, and the temperature inside; None without."""
    if roles.wall.strip():
        return 0.0, bound.read("wall", roles.wall, "temperature")
    if not roles.inner_h.strip():
        return None
    h = bound.above_zero("inner_h", roles.inner_h, "heat_transfer_coefficient")
    source = bound.read("inner_temperature", roles.inner_temperature, "temperature")
    inner = bound.above_zero("inner_diameter", roles.inner_diameter, "length")
    if inner >= outer:
        raise CaseError(
            InputProblem("estimate.inner_diameter", f"'{roles.inner_diameter}' is not inside the tube", "make it smaller")
        )
    conductivity = float(bound.part("body", roles.body).material.conductivity(source))
    return outer / (h * inner) + 0.5 * outer * math.log(outer / inner) / conductivity, source
