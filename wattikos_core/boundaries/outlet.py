"""Outlets: fluid leaves at a pressure."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from typing_extensions import override

from wattikos_core.boundaries.face_kinds import OUTLET
from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.boundaries.kind import BoundaryKind, Conditional, Shown
from wattikos_core.boundaries.on_faces import FaceCondition, Giving, Index, values_on
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.documents import Expression

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader
    from wattikos_core.grid import Grid


class Outlet(Conditional):
    """Fluid leaves at a pressure (gauge)."""

    type: Literal["outlet"] = "outlet"
    pressure: Expression = "0 Pa"


class OutletKind(BoundaryKind):
    """See `Outlet`. Inlets by pressure are written on faces as outlets that are fed."""

    type = "outlet"
    model = Outlet
    leaves = True

    @override
    def resolve(self, condition: Outlet, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
        return ResolvedCondition(
            field, boundary, "outlet", "outlet", reader.read(condition.pressure, "pressure", f"{field}.pressure")
        )

    @override
    def on_faces(self, given: ResolvedCondition, grid: Grid, group: Index, time: float) -> FaceCondition:
        return FaceCondition("outlet", pressure=float(np.mean(values_on(given, grid, group, time)["amount"])))

    @override
    def give(self, condition: FaceCondition, giving: Giving) -> None:
        given, group = giving.given, giving.group
        given.kind[group] = OUTLET
        given.pressure[group], given.fed[group] = condition.pressure, condition.fed
        given.outlet[group] = group[0]
        if condition.temperature is not None:
            given.temperature[group] = condition.temperature
            giving.totals.temperature(group, condition.temperature, condition.temperature)

    @override
    def flag(self, condition: Outlet, given: ResolvedCondition, shown: Shown) -> tuple[str, str]:
        return "outlet", shown.value(given.amount, "pressure", condition.pressure)

    @override
    def form(self) -> Form:
        fresh = Option(value="outlet", label="outlet", when={"type": ["outlet"]}, gives={"pressure": "0 Pa"})
        pressure = Field(control="entry", field="pressure", label="Pressure (gauge)")
        return Form(type="outlet", stands_on="fluid", options=[fresh], fields=[pressure])
