"""Quantities of what stands in a stream: fans, resistances, porous parts."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_INTERNALS: dict[str, Quantity] = {
    "flow_through": Quantity(
        "volume flow through {place}", "volume_flow", "what passes {place}, along the direction it drives or hinders in"
    ),
    "face_speed": Quantity(
        "speed ahead of {place}", "velocity", "volume flow through {place} over its face: its volume by its thickness"
    ),
    "rise_in": Quantity("rise of pressure in {place}", "pressure", "what {place} raises the pressure by, at the flow through it"),
    "loss_in": Quantity(
        "loss of pressure in {place}", "pressure", "force of {place} on the stream over its face, along the way through it"
    ),
    "shaft_power": Quantity(
        "shaft power of {place}", "power", "flow through {place} times its rise of pressure, over its efficiency"
    ),
    "share_of_end": Quantity(
        "share of its curve used by {place}", "ratio", "flow through {place} over that at the end of its curve", share=False
    ),
}
