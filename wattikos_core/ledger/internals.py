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
    "matrix_temperature": Quantity(
        "mean temperature of the matrix of {place}", "temperature", "of what {place} is made of beside its fluid, by volume"
    ),
    "hottest_matrix": Quantity("hottest of the matrix of {place}", "temperature", "highest in the cells of {place}"),
    "coldest_matrix": Quantity("coldest of the matrix of {place}", "temperature", "lowest in the cells of {place}"),
    "core_heat": Quantity(
        "heat from the tubes of {place}", "power", "what flows in the tubes of {place} gives to the stream across them"
    ),
    "tube_outlet_temperature": Quantity(
        "outlet temperature in the tubes of {place}", "temperature", "at which what flows in the tubes of {place} leaves, mixed"
    ),
    "core_effectiveness": Quantity(
        "effectiveness of {place}",
        "ratio",
        "heat from the tubes of {place} over the smaller heat capacity rate times the difference of the temperatures at which both "
        "enter; that of the stream mixed over the face of {place}",
    ),
    "uneven_loss": Quantity(
        "heat lost to uneven flow in {place}",
        "ratio",
        "by how much less passes than if all of the stream came to {place} evenly and equally warm (effectiveness and NTU)",
    ),
    "share_of_end": Quantity(
        "share of its curve used by {place}", "ratio", "flow through {place} over that at the end of its curve", share=False
    ),
}
