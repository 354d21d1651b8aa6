"""A well-conducting body between a hot gas outside and coolant in passages: its temperature, its heat, the coolant's way."""

from __future__ import annotations

import math

from wattikos_core.case.estimates import CooledBody
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

LUMPED = "heat balance of a body at one temperature (common practice, no source)"
_MOST_BIOT = 0.3
_SCATTER_TEMPERATURE = 0.1


def cooled_body(bound: Bound, roles: CooledBody) -> dict[Key, HandValue]:
    """Mean temperature, heat and overall effectiveness of a body between gas and coolant; see `estimate_case`.

    With the coolant's flow and specific heat given, it warms along its passages, across the section.
    """
    depth = bound.resolved.depth
    body = bound.part("body", roles.body)
    sides = []
    for side in ("outer", "inner"):
        h = bound.above_zero(f"{side}_h", getattr(roles, f"{side}_h"), "heat_transfer_coefficient")
        temperature = bound.read(f"{side}_temperature", getattr(roles, f"{side}_temperature"), "temperature")
        perimeter = bound.above_zero(f"{side}_perimeter", getattr(roles, f"{side}_perimeter"), "length")
        sides.append((h * perimeter * depth, temperature, h))
    (outer, gas, h_out), (inner, coolant, h_in) = sides
    capacity = _capacity(bound, roles)
    # What passes the coolant's film, per difference from where it enters: less than all of it where it warms on its way.
    passes = capacity * -math.expm1(-inner / capacity) if capacity else inner
    mean = (outer * gas + passes * coolant) / (outer + passes)
    heat = outer * (gas - mean)
    conductivity = float(body.material.conductivity(mean))
    # Half the metal between the surfaces, taken as a plate of a twentieth of the outer perimeter.
    thickness = 0.025 * bound.read("outer_perimeter", roles.outer_perimeter, "length")
    biot = max(h_out, h_in) * thickness / conductivity
    where = f"Biot number about {biot:.2g}, below {_MOST_BIOT:g}: the metal hardly resists"
    inside = biot < _MOST_BIOT
    span = gas - coolant
    reach = _SCATTER_TEMPERATURE * abs(span)
    values = {Key("mean_temperature", body.name): (mean, reach), Key("heat_passing", body.name): (abs(heat), outer * reach)}
    if span:
        values[Key("overall_effectiveness", body.name)] = ((gas - mean) / span, _SCATTER_TEMPERATURE)
    if capacity:
        values[Key("coolant_outlet_temperature")] = (coolant + heat / capacity, abs(outer * reach / capacity))
    return {key: HandValue(key, value, value - band, value + band, LUMPED, where, inside) for key, (value, band) in values.items()}


def _capacity(bound: Bound, roles: CooledBody) -> float:
    """Heat capacity rate of the coolant, W/K; 0 where its flow is not given."""
    if not roles.inner_flow.strip():
        return 0.0
    flow = bound.above_zero("inner_flow", roles.inner_flow, "mass_flow")
    return flow * bound.above_zero("inner_specific_heat", roles.inner_specific_heat, "specific_heat")
