"""What a kind of internal is: its model in the document, what it is in SI, what is written on the drawing, and its form.

A new one is a file beside this and a line in the registry; what it does to the flow is a term of its own in `physics/terms`.
"""

from __future__ import annotations

import builtins
import copy
import math
from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Any, ClassVar

from wattikos_core.boundaries.forms import Form
from wattikos_core.documents import Model
from wattikos_core.internals.curve import Curve
from wattikos_core.internals.resolved import ResolvedInternal, turned_by
from wattikos_core.materials import PropertyTable

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader

_SMALLEST_FIRST = 1e-9


@dataclass(frozen=True)
class Place:
    """The part that an internal stands in.

    Attributes:
        field: of the internal in the document.
        name: of the part; `shape` its type; `size` its dimensions, m; `angle` it is turned by, rad; `mirror` as in the document.
        table: properties of its fluid.
    """

    field: str
    name: str
    shape: str
    size: Mapping[str, float]
    angle: float
    mirror: str
    table: PropertyTable

    def across(self, reader: Reader, what: str) -> tuple[tuple[float, float], float]:
        """Unit vector across the thinner side of a rectangle, and how thick it is, m; notes a problem for other shapes."""
        if self.shape != "rectangle":
            reader.fail(
                self.field, f"'{self.name}' is a {self.shape}, and {what} stands across a stream", "make the part a thin rectangle"
            )
            return (1.0, 0.0), float("nan")
        width, height = self.size["width"], self.size["height"]
        own = (1.0, 0.0) if width <= height * (1.0 + _SMALLEST_FIRST) else (0.0, 1.0)
        return self._placed(own), min(width, height)

    def along(self, angle: float) -> tuple[float, float]:
        """Unit vector at an angle (rad) from the part's own x axis."""
        return self._placed((math.cos(angle), math.sin(angle)))

    def _placed(self, own: tuple[float, float]) -> tuple[float, float]:
        x, y = own
        flipped = (-x if self.mirror == "left_right" else x, -y if self.mirror == "upside_down" else y)
        return turned_by(flipped, self.angle)


class InternalKind(ABC):
    """One kind of internal.

    Attributes:
        type: its name in documents.
        model: of it in documents.
    """

    type: ClassVar[str]
    model: ClassVar[builtins.type[Model]]

    def defaults(self) -> dict[str, Any]:
        """What a fresh one holds where nothing is entered."""
        return {name: copy.copy(field.default) for name, field in self.model.model_fields.items() if not field.is_required()}

    @abstractmethod
    def resolve(self, internal: Any, place: Place, reader: Reader) -> ResolvedInternal:
        """What it is in SI; notes in `reader` what cannot be read."""

    @abstractmethod
    def flag(self, given: ResolvedInternal) -> str:
        """What is written on the drawing, in an engineer's notation."""

    @abstractmethod
    def form(self) -> Form:
        """How the desk asks for it."""


def table_curve(reader: Reader, name: str, kinds: tuple[str, str], field: str) -> Curve | None:
    """The curve of a table of the case in SI; None, with a problem noted, where there is none or its units are of other kinds."""
    from wattikos_core.quantities.kinds import KINDS, measures
    from wattikos_core.quantities.units import dimension_and_factor

    table = reader.case.tables.get(name)
    if table is None:
        known = ", ".join(reader.case.tables) or "none yet"
        reader.fail(field, f"there is no table '{name}'", f"bring one in under Conditions, or name one of: {known}")
        return None
    for unit, kind, column in zip((table.unit, table.value_unit), kinds, ("unit", "value_unit"), strict=True):
        if not unit or not measures(unit, kind):
            wanted = KINDS[kind]
            reader.fail(
                f"tables.{name}.{column}",
                f"'{unit}' is no unit of a {wanted.label}, which {field.rpartition('.')[2]} needs",
                f"use one of {', '.join(u for u in wanted.units if u)}",
            )
            return None
    at, value = (dimension_and_factor(unit)[1] for unit in (table.unit, table.value_unit))
    rows = sorted(table.rows)
    if any(b[0] <= a[0] for a, b in pairwise(rows)):
        reader.fail(f"tables.{name}.rows", "two rows stand at the same place", "take one of them out")
        return None
    return Curve(tuple(at * row[0] for row in rows), tuple(value * row[1] for row in rows))


def drop_curve(reader: Reader, name: str, field: str) -> Curve | None:
    """The curve of a table with pressure drops against speeds, from rest on, where nothing is lost."""
    curve = table_curve(reader, name, ("velocity", "pressure"), field)
    if curve is not None and curve.at[0] > 0.0:
        curve = Curve((0.0, *curve.at), (0.0, *curve.value))
    return curve


def only_one(reader: Reader, field: str, given: Mapping[str, bool], remedy: str) -> str:
    """Which of several ways is given; empty, with a problem noted, where none or more than one is."""
    found = [name for name, there in given.items() if there]
    if len(found) == 1:
        return found[0]
    if not found:
        reader.fail(field, "nothing is given", remedy)
        return ""
    reader.fail(f"{field}.{found[1]}", f"both {found[0]} and {found[1]} are given".replace("_", " "), "leave one of them empty")
    return ""
