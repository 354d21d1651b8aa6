"""What stands in a stream, by hand: losses of screens, filters and beds at the flow that is given, or that fans drive."""

from __future__ import annotations

from wattikos_core.case.estimates import OnTheWay
from wattikos_core.estimate.blown import KAYS_LONDON
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

# A stream that loses nothing but what stands in it; a fan's search needs a number, Pa.
_NEXT_TO_NOTHING = 1e-9


def on_the_way(bound: Bound, roles: OnTheWay) -> dict[Key, HandValue]:
    """Flow, speed, loss and rise of each that stands in a stream; see `estimate_case`."""
    fluid = bound.part("fluid", roles.fluid)
    area = bound.above_zero("area", roles.area, "area")
    losses = bound.or_zero("losses", roles.losses, "number")
    entering = bound.entering(fluid.name)
    mass_flow = bound.mass_flow(fluid, area)
    table = fluid.material
    density, viscosity = float(table.density(entering.temperature)), float(table.viscosity(entering.temperature))
    for part in bound.system.drags:
        bound.account.take("internal", part.name)
    flow = mass_flow / density
    found = bound.system.values(flow, density, viscosity)
    of_cores, leaves = bound.system.exchanged(mass_flow, table, entering.temperature)
    found |= of_cores
    if of_cores:
        outlet = Key("outlet_temperature", fluid.name)
        reach = 0.05 * abs(leaves - entering.temperature)
        found[outlet] = HandValue(outlet, leaves, leaves - reach, leaves + reach, KAYS_LONDON, "heat of cores alone", True)
    key = Key("pressure_drop", fluid.name)
    head = 0.5 * density * (flow / area) ** 2
    if bound.system.fans:
        # What is left over for walls, bends and ends; where fans and losses meet is found with it.
        drop = max(losses * head, _NEXT_TO_NOTHING)
        found[key] = HandValue(key, drop, drop, drop, "loss coefficients", "friction on walls left out", True)
    return found
