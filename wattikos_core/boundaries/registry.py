"""All kinds of boundaries. A new one is a file beside this and a line here."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from wattikos_core.boundaries.inlet import Inlet, InletKind
from wattikos_core.boundaries.kind import BoundaryKind, Conditional
from wattikos_core.boundaries.opening import Opening, OpeningKind
from wattikos_core.boundaries.outlet import Outlet, OutletKind
from wattikos_core.boundaries.periodic import Periodic, PeriodicKind
from wattikos_core.boundaries.symmetry import Symmetry, SymmetryKind
from wattikos_core.boundaries.wall import Wall, WallKind

# In the order in which the desk offers them.
BOUNDARY_KINDS: dict[str, BoundaryKind] = {
    kind.type: kind for kind in (InletKind(), OutletKind(), OpeningKind(), SymmetryKind(), PeriodicKind(), WallKind())
}

Condition = Annotated[Inlet | Outlet | Opening | Symmetry | Periodic | Wall, Field(discriminator="type")]


def kind_of(condition: Conditional) -> BoundaryKind:
    """The kind of a condition of a document."""
    return next(kind for kind in BOUNDARY_KINDS.values() if isinstance(condition, kind.model))
