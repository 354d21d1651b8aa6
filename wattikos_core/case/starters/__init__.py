"""Starters: ready parametric cases for a kind of equipment. Demo values are Ferrow Dairy's, all invented."""

from __future__ import annotations

from wattikos_core.case.document import Case, read_case
from wattikos_core.case.starters.blades import VANE
from wattikos_core.case.starters.building import Starter
from wattikos_core.case.starters.crossflow import BUNDLE, BUNDLE_IN_LINE, PIN_CHANNEL, TUBE
from wattikos_core.case.starters.driven import CORE_WITH_FANS, FAN_CHANNEL, PACKED_BED
from wattikos_core.case.starters.empty import EMPTY
from wattikos_core.case.starters.gaps import CAVITY, CONE_GAP, OVEN_WALL
from wattikos_core.case.starters.holding import HOLDING_TUBE
from wattikos_core.case.starters.modules import POWER_MODULE_FLAT, POWER_MODULE_ROUND
from wattikos_core.case.starters.pipes import DOUBLE_PIPE, FEED_LINE, RINSE_HEATER
from wattikos_core.case.starters.plates import PLATE_PASSAGE
from wattikos_core.case.starters.reading import READING
from wattikos_core.case.starters.repeating import BUNDLE_MODULE, RIBBED_DUCT
from wattikos_core.case.starters.rooms import RIPENING_ROOM
from wattikos_core.case.starters.sinks import FIN_CHANNEL, FINNED_TUBE, PIN_SINK, PLATE_SINK
from wattikos_core.case.starters.stores import CAPSULE, DUCT_START, ICE_BANK, MELTING_BOX, SILO, TANK
from wattikos_core.case.starters.turbulent import (
    FAST_BAR,
    TURBULENT_BUNDLE,
    TURBULENT_DOUBLE_PIPE,
    TURBULENT_PASSAGE,
    TURBULENT_RIBS,
)

__all__ = ["FAMILIES", "STARTERS", "Starter", "starter_case"]

# By kind of equipment, as they are offered.
FAMILIES: dict[str, tuple[Starter, ...]] = {
    "Heat exchangers": (
        PLATE_PASSAGE,
        DOUBLE_PIPE,
        BUNDLE,
        BUNDLE_IN_LINE,
        BUNDLE_MODULE,
        TURBULENT_PASSAGE,
        TURBULENT_DOUBLE_PIPE,
        TURBULENT_BUNDLE,
    ),
    "Pipes and ducts": (FEED_LINE, RINSE_HEATER, HOLDING_TUBE, RIBBED_DUCT, TURBULENT_RIBS, DUCT_START),
    "Fins and sinks": (PLATE_SINK, PIN_SINK, FINNED_TUBE, FIN_CHANNEL, PIN_CHANNEL),
    "Hot parts and blades": (POWER_MODULE_FLAT, POWER_MODULE_ROUND, VANE, TUBE, FAST_BAR),
    "Gaps and cavities": (CAVITY, CONE_GAP, OVEN_WALL),
    "Stores": (SILO, TANK, ICE_BANK, MELTING_BOX, CAPSULE),
    "Fans and beds": (FAN_CHANNEL, PACKED_BED, CORE_WITH_FANS),
    "Ventilated rooms": (RIPENING_ROOM,),
    "From nothing": (EMPTY,),
}
STARTERS: dict[str, Starter] = {starter.key: starter for family in FAMILIES.values() for starter in family}


def starter_case(key: str) -> Case:
    """The case of starter `key`; KeyError when there is none."""
    reading = READING.get(key)
    return read_case(STARTERS[key].document | ({"reading": reading} if reading else {}))
