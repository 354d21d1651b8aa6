"""What a kind of boundary is: everything about it in one file.

A kind has its model in the document, what it is in SI, what makes no sense, what it puts on faces, its flag on the drawing and its
form on the desk. A new one is a file beside this, a line in the registry, and its tests.
"""

from __future__ import annotations

import builtins
import copy
from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Annotated, Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from wattikos_core.boundaries.forms import Form
from wattikos_core.boundaries.on_faces import FaceCondition, Giving, Index
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.documents import Expression, Model, Name
from wattikos_core.errors import InputProblem
from wattikos_core.quantities import QuantityError
from wattikos_core.quantities.values import show, show_range

if TYPE_CHECKING:
    from wattikos_core.case.reader import Along, Reader
    from wattikos_core.case.repeating import ResolvedModule
    from wattikos_core.grid import Grid

Array = NDArray[np.float64]
Boundaries = Annotated[list[Name], Field(min_length=1, max_length=200)]


class Conditional(Model):
    """What stands on boundaries; `present` is an expression: the condition holds when it is not zero."""

    boundaries: Boundaries
    present: Expression = "1"


@dataclass(frozen=True)
class Shown:
    """How values are shown in flags: in the unit of the input or the number that was typed.

    Attributes:
        module: of the case, for what stands at its ends; None where nothing repeats.
        points: places along the boundary, m, shape (n, 2), and times, s, at which what varies is looked at for its range.
    """

    unit_of: Callable[[str], str]
    module: ResolvedModule | None = None
    points: Array = field(default_factory=lambda: np.zeros((0, 2)))
    times: tuple[float, ...] = (0.0,)

    def value(self, value: float, kind: str, text: str, varying: Along | None = None) -> str:
        """A value as it is typed in `text`, or the range of one that varies."""
        unit = self.unit_of(text) or None
        if varying is None:
            return show(value, kind, unit, 4)
        times = self.times if varying.in_time else (0.0,)
        try:
            if varying.in_place:
                found = np.concatenate([varying.at(self.points, time) for time in times])
            else:
                found = np.array([varying.at_time(time) for time in times])
        except QuantityError:
            # What it is elsewhere is told where it is solved.
            return show(value, kind, unit, 4)
        return show_range(float(found.min()), float(found.max()), kind, unit, 4)


class BoundaryKind(ABC):
    """One kind of boundary.

    Attributes:
        type: its name in documents.
        model: of its condition in documents.
        enters, leaves: whether fluid comes in, or goes out, there.
        layers: whether grids have a layer of thin cells along it.
        mirrors: whether the section goes on beyond it as it is before: a plane of symmetry, an end of a module.
    """

    type: ClassVar[str]
    model: ClassVar[builtins.type[Conditional]]
    enters: ClassVar[bool] = False
    leaves: ClassVar[bool] = False
    layers: ClassVar[bool] = False
    mirrors: ClassVar[bool] = False

    def defaults(self) -> dict[str, Any]:
        """What a fresh condition holds where nothing is entered."""
        return {name: copy.copy(field.default) for name, field in self.model.model_fields.items() if not field.is_required()}

    def boundaries(self, condition: Any) -> list[str]:
        """All boundaries that a condition stands on."""
        return list(condition.boundaries)

    def gives_heat(self, condition: Any) -> bool:
        """Whether it has a temperature or gives heat, so that what enters anywhere must have a temperature too."""
        return False

    @abstractmethod
    def resolve(self, condition: Any, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
        """The condition in SI on one of its boundaries; notes in `reader` what cannot be read."""

    def check(self, given: ResolvedCondition, fluid: bool) -> InputProblem | None:
        """What makes no sense on a boundary of a fluid or of a solid."""
        if (self.enters or self.leaves) and not fluid:
            problem = f"'{given.boundary}' belongs to a solid"
            return InputProblem(f"{given.field}.boundaries", problem, "put inlets and outlets on a fluid part")
        return None

    @abstractmethod
    def on_faces(self, given: ResolvedCondition, grid: Grid, group: Index, time: float) -> FaceCondition | None:
        """What holds on the faces of a boundary at a time (s); None where nothing is written on them."""

    @abstractmethod
    def give(self, condition: FaceCondition, giving: Giving) -> None:
        """Write on the faces what the condition gives."""

    @abstractmethod
    def flag(self, condition: Any, given: ResolvedCondition, shown: Shown) -> tuple[str, str]:
        """What the boundary counts as on the drawing, and its flag in an engineer's notation."""

    @abstractmethod
    def form(self) -> Form:
        """How the desk asks for it."""
