"""What stands in a stream, kind by kind: fans that drive it, resistances across it, porous parts that it passes."""

from wattikos_core.internals.core import Core
from wattikos_core.internals.curve import Curve
from wattikos_core.internals.fan import Fan
from wattikos_core.internals.kind import InternalKind, Place
from wattikos_core.internals.porous import Porous
from wattikos_core.internals.registry import INTERNAL_KINDS, Internal, internal_kind_of
from wattikos_core.internals.resistance import Resistance
from wattikos_core.internals.resolved import LiquidSide, MatrixExchange, ResolvedDrag, ResolvedFan, ResolvedInternal

__all__ = [
    "INTERNAL_KINDS",
    "Core",
    "Curve",
    "Fan",
    "Internal",
    "InternalKind",
    "LiquidSide",
    "MatrixExchange",
    "Place",
    "Porous",
    "Resistance",
    "ResolvedDrag",
    "ResolvedFan",
    "ResolvedInternal",
    "internal_kind_of",
]
