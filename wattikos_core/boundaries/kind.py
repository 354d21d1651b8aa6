"""What a kind of boundary is: everything about it in one file.

A kind has its model in the document, what it is in SI, what makes no sense, what it puts on faces, its flag on the drawing and its
form on the desk. A new one is a file beside this, a line in the registry, and its tests.
"""

from __future__ import annotations

import builtins
import copy
from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Any, ClassVar

from pydantic import Field

from wattikos_core.boundaries.forms import Form
from wattikos_core.boundaries.on_faces import FaceCondition, Giving, Index
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.documents import Expression, Model, Name
from wattikos_core.errors import InputProblem
from wattikos_core.quantities.values import show

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader
    from wattikos_core.case.repeating import ResolvedModule
    from wattikos_core.grid import Grid

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
    """

    unit_of: Callable[[str], str]
    module: ResolvedModule | None = None

    def value(self, value: float, kind: str, text: str) -> str:
        """A value as it is typed in `text`."""
        return show(value, kind, self.unit_of(text) or None, 4)


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
