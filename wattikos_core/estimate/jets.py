"""Jets that strike a wall at right angles: Martin (1977), from one round or slot nozzle."""

from __future__ import annotations

import math
from typing import Literal

from wattikos_core.case.estimates import ImpingingJet
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

MARTIN = "Martin (1977), Adv. Heat Transfer 13, 1 (from memory)"
_SCATTER, _ROUNDS = 0.15, 20
# Where it was measured: Reynolds number, distance of the wall, and how far the mean reaches, both over the nozzle's size.
_MEASURED = {
    "round": ((2e3, 4e5), (2.0, 12.0), (2.5, 7.5)),
    "slot": ((3e3, 9e4), (2.0, 10.0), (4.0, 20.0)),
}
# Of a round jet nothing is said below this many diameters.
_LEAST_REACH = 1.1

Nozzle = Literal["round", "slot"]


def jet_nusselt(nozzle: Nozzle, reynolds: float, prandtl: float, distance: float, reach: float) -> float:
    """Mean Nu of the wall from where the jet strikes it as far as `reach`.

    Args:
        nozzle: round, with its diameter as the length of Nu and Re, or a slot, with twice its width.
        reynolds: of what leaves the nozzle.
        prandtl: at the mean of the jet's and the wall's temperature.
        distance: of the wall from the nozzle, over its diameter or width.
        reach: radius, or half breadth of the wall, over the same.

    Example:
        >>> round(jet_nusselt("round", 23750.0, 0.71, 6.0, 3.0), 1)
        85.0
    """
    if nozzle == "round":
        place = (1.0 - _LEAST_REACH / reach) / (reach + 0.1 * (distance - 6.0))
        of_speed = 2.0 * math.sqrt(reynolds * (1.0 + 0.005 * reynolds**0.55))
    else:
        power = 0.695 - 1.0 / (0.5 * reach + (0.5 * distance) ** 1.33 + 3.06)
        place, of_speed = 3.06 / (reach + distance + 2.78), reynolds**power
    return float(place * of_speed * prandtl**0.42)


def measured(nozzle: Nozzle, reynolds: float, distance: float, reach: float) -> bool:
    """Whether it holds there."""
    return all(low <= value <= high for (low, high), value in zip(_MEASURED[nozzle], (reynolds, distance, reach), strict=True))


def impinging_jet(bound: Bound, roles: ImpingingJet) -> dict[Key, HandValue]:
    """The ledger of a wall under a jet by hand; see `estimate_case`."""
    fluid = bound.part("fluid", roles.fluid)
    size = bound.above_zero("size", roles.size, "length")
    velocity = bound.above_zero("velocity", roles.velocity, "velocity")
    distance = bound.above_zero("distance", roles.distance, "length") / size
    reach = bound.above_zero("reach", roles.reach, "length") / size
    if roles.nozzle == "round" and reach <= _LEAST_REACH:
        problem = f"'{roles.reach}' is {reach:.3g} diameters: the mean of a round jet is not known as near as {_LEAST_REACH:g}"
        raise CaseError(InputProblem("estimate.reach", problem, "take a larger part of the wall, from 2.5 diameters on"))
    area = bound.above_zero("area", roles.area, "area")
    start = bound.entering(fluid.name).temperature
    if bool(roles.heat.strip()) == bool(roles.wall.strip()):
        remedy = "give the heat rate of the wall or its temperature, and leave the other empty"
        raise CaseError(InputProblem("estimate.heat", f"'{roles.heat}' beside the temperature '{roles.wall}'", remedy))
    given_heat = bound.read("heat", roles.heat, "power") if roles.heat.strip() else None
    given_wall = bound.read("wall", roles.wall, "temperature") if roles.wall.strip() else start
    length = size if roles.nozzle == "round" else 2.0 * size
    table = fluid.material

    def solve(way: float) -> dict[str, float]:
        wall, h, reynolds = given_wall, 0.0, 0.0
        for _ in range(_ROUNDS):
            film, before = 0.5 * (start + wall), wall
            reynolds = velocity * length * float(table.density(film)) / float(table.viscosity(film))
            nusselt = jet_nusselt(roles.nozzle, reynolds, float(table.prandtl(film)), distance, reach)
            h = (1.0 + way * _SCATTER) * nusselt * float(table.conductivity(film)) / length
            wall = given_wall if given_heat is None else start + given_heat / (h * area)
            if abs(wall - before) < 1e-7:
                break
        return {"h": h, "wall": wall, "heat": h * area * (wall - start), "reynolds": reynolds}

    ends = bound.over(solve)
    middle = ends[0]
    keys = {"h": Key("surface_h", roles.surface)}
    keys |= {"heat": Key("heat_gained", fluid.name)} if given_heat is None else {"wall": Key("mean_temperature", roles.surface)}
    slot = roles.nozzle == "slot"
    speeds, near, far = _MEASURED[roles.nozzle]
    unit = "widths" if slot else "diameters"
    where = (
        f"Reynolds number {middle['reynolds']:.0f}, from {speeds[0]:.0f} to {speeds[1]:.0f}; wall {distance:.3g} {unit} away, "
        f"{near[0]:g} to {near[1]:g}; "
        f"mean as far as {reach:.3g}, {far[0]:g} to {far[1]:g}"
    )
    inside = measured(roles.nozzle, middle["reynolds"], distance, reach)
    result = {}
    for what, key in keys.items():
        values = sorted(end[what] for end in ends)
        result[key] = HandValue(
            key, middle[what], values[0], values[-1], f"jet from a {roles.nozzle} nozzle: {MARTIN}", where, inside
        )
    return result
