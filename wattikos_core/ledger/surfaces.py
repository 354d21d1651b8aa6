"""Quantities of surfaces: of a boundary, of an interface, or of a body in a stream."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_SURFACES: dict[str, Quantity] = {
    "surface_h": Quantity(
        "mean h of {place}",
        "heat_transfer_coefficient",
        "heat from {place} into the fluid over its area and the mean surface temperature minus that at which the fluid enters "
        "(the fluid's mean by volume where none enters)",
    ),
    "surface_nusselt_number": Quantity(
        "mean Nusselt number of {place}",
        "number",
        "mean h of {place} times length over conductivity at the film temperature; the length is that of its Reynolds number for "
        "a body with fluid all round it, else the hydraulic diameter",
    ),
    "body_reynolds_number": Quantity(
        "Reynolds number of {place}",
        "number",
        "of the body {place}, at the state and mean velocity at the inlet, on the diameter of the circle with its perimeter (the "
        "sphere with its surface in an axisymmetric section)",
    ),
    "drag_coefficient": Quantity(
        "drag coefficient of {place}",
        "number",
        "drag on {place} over its frontal area and half the density times the square of the mean velocity at the inlet",
    ),
    "lift_coefficient": Quantity(
        "lift coefficient of {place}",
        "number",
        "lift on {place} over its frontal area and half the density times the square of the mean velocity at the inlet",
    ),
    "drag": Quantity("drag on {place}", "force", "pressure and shear of the fluid on {place}, along the flow at the inlet"),
    "lift": Quantity(
        "lift on {place}", "force", "pressure and shear of the fluid on {place}, across the flow at the inlet, to its left"
    ),
    "mean_shear": Quantity("mean shear on {place}", "pressure", "mean friction of the fluid on {place} per area, along the stream"),
    "highest_shear": Quantity(
        "highest shear on {place}", "pressure", "highest friction of the fluid on {place} per area, in either direction"
    ),
    "mean_y_plus": Quantity(
        "mean y⁺ on {place}",
        "number",
        "distance of the first cells' centres from {place} in wall units, mean over its area: about 1 where layers are resolved, "
        "30 to 100 where the wall treatment stands for them",
    ),
    "highest_y_plus": Quantity(
        "highest y⁺ on {place}", "number", "highest of the first cells' distances from {place} in wall units"
    ),
    "separation": Quantity(
        "separation on {place}",
        "length",
        "where friction on {place} first turns against the stream, along it from its upstream end",
    ),
    "reattachment": Quantity(
        "reattachment on {place}",
        "length",
        "where friction on {place} last turns from against the stream to along it, from its upstream end",
    ),
    "separation_angle": Quantity(
        "separation angle of {place}",
        "angle",
        "angle from the front of {place}, seen from its middle, at which its friction first turns against the stream; mean of "
        "both sides",
    ),
    "torque": Quantity(
        "torque on {place}",
        "torque",
        "moment of the fluid's friction on {place}, which is at rest, in the sense in which the other wall turns; about the axis "
        "(or its own centre in a flat section)",
    ),
    "torque_to_turn": Quantity(
        "torque to turn {place}",
        "torque",
        "moment of the fluid's friction against which {place} turns, about the axis (or its own centre in a flat section)",
    ),
    "power_to_turn": Quantity(
        "power to turn {place}", "power", "moment against which {place} is turned, times its angular velocity"
    ),
    "power_to_slide": Quantity("power to slide {place}", "power", "friction against which {place} slides, times its velocity"),
}
