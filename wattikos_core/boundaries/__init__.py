"""Kinds of boundaries, one file each: document, sense, what they put on faces, flag and form."""

from wattikos_core.boundaries.inlet import Inlet
from wattikos_core.boundaries.kind import BoundaryKind, Conditional, Shown
from wattikos_core.boundaries.on_faces import FaceCondition, Giving
from wattikos_core.boundaries.opening import Opening
from wattikos_core.boundaries.outlet import Outlet
from wattikos_core.boundaries.periodic import Periodic
from wattikos_core.boundaries.registry import BOUNDARY_KINDS, Condition, kind_of
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.boundaries.symmetry import Symmetry
from wattikos_core.boundaries.wall import Wall

__all__ = [
    "BOUNDARY_KINDS",
    "BoundaryKind",
    "Condition",
    "Conditional",
    "FaceCondition",
    "Giving",
    "Inlet",
    "Opening",
    "Outlet",
    "Periodic",
    "ResolvedCondition",
    "Shown",
    "Symmetry",
    "Wall",
    "kind_of",
]
