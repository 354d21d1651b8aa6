"""How long a stream stays in a round tube, beside what heat it loses on the way."""

from __future__ import annotations

import math

from wattikos_core.case.estimates import HoldingTube, InsulatedPipe
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.ducts import TRANSITION_REYNOLDS
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.estimate.pipes import insulated_pipe
from wattikos_core.ledger import Key

DANCKWERTS = "Danckwerts (1953), Chem. Eng. Sci. 2, 1"
# Mean over highest velocity: of a paraboloid, exact; of the seventh-root profile of turbulent flow (Schlichting, Boundary Layer
# Theory).
_LAMINAR, _TURBULENT = 0.5, 0.817
_SCATTER_LAMINAR, _SCATTER_TURBULENT = 0.03, 0.05


def holding_tube(bound: Bound, roles: HoldingTube) -> dict[Key, HandValue]:
    """The ledger of a holding tube by hand; see `estimate_case`.

    In laminar flow the stream that leaves younger than t is 1 - (τ / 2t)² of it, with the mean age τ: of a paraboloid of velocity.
    """
    found = insulated_pipe(bound, InsulatedPipe(fluid=roles.fluid, layers=roles.walls))
    fluid = bound.part("fluid", roles.fluid)
    name, table = fluid.name, fluid.material
    inlet = bound.entering(name)
    flow = bound.mass_flow(fluid, math.pi * fluid.height**2)
    mean_temperature = 0.5 * (inlet.temperature + found[Key("outlet_temperature", name)].value)
    volume = math.pi * fluid.height**2 * fluid.width
    mean = volume * float(table.density(mean_temperature)) / flow
    reynolds = found[Key("reynolds_number", name)].value
    laminar = reynolds < TRANSITION_REYNOLDS
    share, scatter = (_LAMINAR, _SCATTER_LAMINAR) if laminar else (_TURBULENT, _SCATTER_TURBULENT)
    # Where the profile still develops the fastest part has not been as fast all the way.
    highest = share * mean * (1.0 + scatter) if inlet.developed or not laminar else mean
    profile = "velocity a paraboloid" if laminar else "velocity profile of the seventh root"
    values = {
        Key("mean_age_at_outlet", name): (mean, mean, mean, f"volume over flow: {DANCKWERTS}"),
        Key("shortest_age_at_outlet", name): (share * mean, share * mean * (1.0 - scatter), highest, f"{profile}; {DANCKWERTS}"),
    }
    limit = bound.resolved.age_limit
    if limit is not None and laminar:
        younger = [max(1.0 - (0.5 * tau / limit) ** 2, 0.0) for tau in (mean * (1.0 + scatter), mean, mean * (1.0 - scatter))]
        values[Key("share_younger", name)] = (younger[1], younger[0], younger[2], f"{profile}; {DANCKWERTS}")
    where = "a straight tube with developed flow"
    for key, (value, low, high, source) in values.items():
        found[key] = HandValue(key, value, low, high, source, where, inlet.developed)
    return found
