"""Fans and pumps: a pressure rise against the flow that passes them."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING, Annotated, Literal

import numpy as np
from pydantic import Field as Limits
from typing_extensions import override

from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.documents import Expression, Model
from wattikos_core.internals.curve import Curve
from wattikos_core.internals.kind import InternalKind, Place, only_one, table_curve
from wattikos_core.internals.resolved import ResolvedFan, ResolvedInternal
from wattikos_core.quantities.values import show

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader

Point = Annotated[list[Expression], Limits(min_length=2, max_length=2)]


class Fan(Model):
    """A fan (or pump) that fills its part: across the thinner side of a rectangle it raises the pressure.

    Attributes:
        rise: the same at any flow.
        points: of its curve, (flow, rise), two to twelve; `table`: name of a table of the case with rises against flows.
        stands_for: how many fans the part is: 0.5 for one that is cut in half, 3 for three side by side; one when empty.
        efficiency: of what the shaft gives, the share that the stream's pressure gains; no power is told when empty.
        swirl: angular velocity that it leaves in the stream, about the axis of an axisymmetric section.
        turned: whether it drives against x (or y) of the part instead of along.
    """

    type: Literal["fan"] = "fan"
    rise: Expression = ""
    points: Annotated[list[Point], Limits(max_length=12)] = []
    table: Annotated[str, Limits(max_length=60)] = ""
    stands_for: Expression = ""
    efficiency: Expression = ""
    swirl: Expression = ""
    turned: bool = False


class FanKind(InternalKind):
    """See `Fan`."""

    type = "fan"
    model = Fan

    @override
    def resolve(self, internal: Fan, place: Place, reader: Reader) -> ResolvedInternal:
        direction, thickness = place.across(reader, "a fan")
        if internal.turned:
            direction = (-direction[0], -direction[1])
        stands_for, efficiency = 1.0, None
        if internal.stands_for.strip():
            stands_for = reader.read(internal.stands_for, "number", f"{place.field}.stands_for", above=0.0)
        if internal.efficiency.strip():
            efficiency = reader.read(internal.efficiency, "ratio", f"{place.field}.efficiency", above=0.0)
            if efficiency > 1.0:
                reader.fail(
                    f"{place.field}.efficiency",
                    f"'{internal.efficiency}' is more than the shaft gives",
                    "give a share between 0 and 1, or percent",
                )
        swirl = 0.0
        if internal.swirl.strip():
            swirl = reader.read(internal.swirl, "angular_velocity", f"{place.field}.swirl")
            if reader.case.section.extent == "flat":
                reader.fail(f"{place.field}.swirl", "a flat section has no axis to swirl about", "leave it empty")
        curve = _curve(internal, place, reader) or Curve.constant(float("nan"))
        return ResolvedFan(place.field, direction, thickness, curve, stands_for, efficiency, swirl)

    @override
    def flag(self, given: ResolvedInternal) -> str:
        assert isinstance(given, ResolvedFan)
        if given.curve.flat:
            return f"{show(given.curve.value[0], 'pressure', None, 3)}"
        most = show(max(given.curve.value), "pressure", None, 3)
        return f"{most} to {show(given.curve.at[-1], 'volume_flow', None, 3)}"

    @override
    def form(self) -> Form:
        none: dict[str, str | list[list[str]]] = {"rise": "", "table": "", "points": []}
        line = [["0 m^3/h", "50 Pa"], ["100 m^3/h", "35 Pa"], ["200 m^3/h", "0 Pa"]]
        ways = [
            Option(value="rise", label="one pressure rise", when={"rise": ["*"]}, gives=none | {"rise": "50 Pa"}),
            Option(value="table", label="a table of the case", when={"table": ["*"]}, gives=none | {"table": "fan"}),
            Option(value="points", label="points of its curve", gives=none | {"points": line}),
        ]
        return Form(
            type="fan",
            stands_on="fluid",
            options=[Option(value="fan", label="a fan or pump", when={"type": ["fan"]}, gives={"rise": "50 Pa"})],
            fields=[
                Field(control="choice", field="by", label="Rise by", options=ways),
                Field(control="entry", field="rise", label="Pressure rise", kind="pressure", shown={"rise": ["*"]}),
                Field(control="table", field="table", label="Table of rise against flow", shown={"table": ["*"]}),
                Field(control="points", field="points", label="Flow and rise", shown={"rise": [""], "table": [""]}),
                Field(control="switch", field="turned", label="turned round"),
                Field(control="entry", field="stands_for", label="Fans it stands for", kind="number", placeholder="1"),
                Field(control="entry", field="efficiency", label="Efficiency", kind="ratio", placeholder="not told"),
                Field(
                    control="entry",
                    field="swirl",
                    label="Swirl it leaves",
                    kind="angular_velocity",
                    placeholder="none",
                    round_only=True,
                ),
            ],
        )


def _curve(fan: Fan, place: Place, reader: Reader) -> Curve | None:
    given = {"rise": bool(fan.rise.strip()), "points": bool(fan.points), "table": bool(fan.table.strip())}
    way = only_one(reader, place.field, given, "give its pressure rise, points of its curve, or a table")
    if way == "rise":
        return Curve.constant(reader.read(fan.rise, "pressure", f"{place.field}.rise"))
    if way == "table":
        found = table_curve(reader, fan.table.strip(), ("volume_flow", "pressure"), f"{place.field}.table")
        return None if found is None else Curve(found.at, found.value, falls=True)
    if way != "points":
        return None
    points = sorted(
        (
            reader.read(flow, "volume_flow", f"{place.field}.points[{k}]"),
            reader.read(rise, "pressure", f"{place.field}.points[{k}]"),
        )
        for k, (flow, rise) in enumerate(fan.points)
    )
    if len(points) < 2:
        reader.fail(f"{place.field}.points", "one point makes no curve", "give two or more, or one pressure rise")
        return None
    if not np.isfinite(points).all():
        return None
    if any(b[0] <= a[0] for a, b in pairwise(points)):
        reader.fail(f"{place.field}.points", "two points stand at the same flow", "take one of them out, or change its flow")
        return None
    return Curve(tuple(p[0] for p in points), tuple(p[1] for p in points), falls=True)
