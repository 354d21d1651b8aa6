"""Planes and axes of symmetry."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from typing_extensions import override

from wattikos_core.boundaries.face_kinds import SYMMETRY
from wattikos_core.boundaries.forms import Form, Option
from wattikos_core.boundaries.kind import BoundaryKind, Conditional, Shown
from wattikos_core.boundaries.on_faces import FaceCondition, Giving, Index
from wattikos_core.boundaries.resolved import ResolvedCondition

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader
    from wattikos_core.grid import Grid


class Symmetry(Conditional):
    """A plane or axis of symmetry: no flow, no shear and no heat across."""

    type: Literal["symmetry"] = "symmetry"


class SymmetryKind(BoundaryKind):
    """See `Symmetry`."""

    type = "symmetry"
    model = Symmetry
    mirrors = True

    @override
    def resolve(self, condition: Symmetry, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
        return ResolvedCondition(field, boundary, "symmetry", "symmetry")

    @override
    def on_faces(self, given: ResolvedCondition, grid: Grid, group: Index, time: float) -> FaceCondition:
        return FaceCondition("symmetry")

    @override
    def give(self, condition: FaceCondition, giving: Giving) -> None:
        giving.given.kind[giving.group] = SYMMETRY

    @override
    def flag(self, condition: Any, given: ResolvedCondition, shown: Shown) -> tuple[str, str]:
        return "symmetry", "symmetry"

    @override
    def form(self) -> Form:
        option = Option(value="symmetry", label="symmetry", when={"type": ["symmetry"]})
        return Form(type="symmetry", stands_on="any", options=[option], fields=[])
