"""Cores of exchangers, finned or of plain tubes, too fine to grid: a stream passes across, what flows in the tubes is marched."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field as Limits
from typing_extensions import override

from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.documents import Expression, Model
from wattikos_core.internals.kind import InternalKind, Place, drop_curve, only_one, table_curve
from wattikos_core.internals.resolved import LiquidSide, ResolvedDrag, ResolvedInternal
from wattikos_core.quantities.values import show

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader

# Fins let a stream through in one direction: along the tubes it meets this many times the loss (common practice, no source).
_ASIDE = 1000.0
_MOST_PASSES = 12
# Data sheets are of streams at room temperature, K (common practice, no source).
_MEASURED_AT = 293.15


class Core(Model):
    """A core across a stream.

    Attributes:
        loss: coefficient of the pressure it takes, by the speed ahead of it; or `table`, a table of the case with pressure drops
            against speeds.
        liquid: what flows in its tubes, a material; nothing where it condenses or boils at its temperature.
        mass_flow: of it; `temperature` at which it enters.
        conductance: UA of all of it; or `conductance_table`, a table of the case with UA against the speed ahead of it.
        passes: of the tubes along the core; the last of them stands where the stream enters if `order` is `counter`.
        begins: at which end of the core the first pass begins: at its own left or lower `start`, or at its `end`.
    """

    type: Literal["core"] = "core"
    loss: Expression = ""
    table: Annotated[str, Limits(max_length=60)] = ""
    liquid: Annotated[str, Limits(max_length=60)] = "water"
    mass_flow: Expression = ""
    temperature: Expression = ""
    conductance: Expression = ""
    conductance_table: Annotated[str, Limits(max_length=60)] = ""
    passes: Expression = "1"
    order: Literal["counter", "parallel"] = "counter"
    begins: Literal["start", "end"] = "start"


class CoreKind(InternalKind):
    """See `Core`."""

    type = "core"
    model = Core

    @override
    def resolve(self, internal: Core, place: Place, reader: Reader) -> ResolvedInternal:
        field = place.field
        direction, thickness = place.across(reader, "a core")
        curve, loss, aside = None, 0.0, 0.0
        way = only_one(
            reader,
            field,
            {name: bool(getattr(internal, name).strip()) for name in ("loss", "table")},
            "give its loss coefficient or a table",
        )
        if way == "table":
            curve = drop_curve(reader, internal.table.strip(), f"{field}.table")
            if curve is not None and curve.at[-1] > 0.0:
                aside = curve.value[-1] / (0.5 * float(place.table.density(_MEASURED_AT)) * curve.at[-1] ** 2)
        elif way == "loss":
            loss = aside = reader.read(internal.loss, "number", f"{field}.loss", at_least=0.0)
        liquid = self._liquid(internal, field, reader)
        inertial = (loss / thickness, _ASIDE * max(aside, 1.0) / thickness)
        return ResolvedDrag(
            field,
            "core",
            direction,
            thickness,
            inertial=inertial,
            by_component=True,
            curve=curve,
            in_words=self._words(liquid),
            liquid=liquid,
        )

    def _liquid(self, internal: Core, field: str, reader: Reader) -> LiquidSide:
        temperature = reader.read(internal.temperature, "temperature", f"{field}.temperature")
        table, mass_flow = None, math.inf
        if internal.liquid.strip():
            table = reader.material(internal.liquid, f"{field}.liquid")
            if table is not None and not table.fluid:
                reader.fail(f"{field}.liquid", f"'{internal.liquid}' is a solid", "name what flows in the tubes, or nothing")
            mass_flow = reader.read(internal.mass_flow, "mass_flow", f"{field}.mass_flow", above=0.0)
        given = {name: bool(getattr(internal, name).strip()) for name in ("conductance", "conductance_table")}
        way = only_one(reader, field, given, "give its conductance UA, or a table of it")
        conductance, curve = 0.0, None
        if way == "conductance":
            conductance = reader.read(internal.conductance, "thermal_conductance", f"{field}.conductance", at_least=0.0)
        elif way == "conductance_table":
            units = ("velocity", "thermal_conductance")
            curve = table_curve(reader, internal.conductance_table.strip(), units, f"{field}.conductance_table")
        passes = reader.count(internal.passes, f"{field}.passes")
        if passes > _MOST_PASSES:
            reader.fail(f"{field}.passes", f"'{internal.passes}' is {passes}", f"give up to {_MOST_PASSES}")
            passes = 1
        return LiquidSide(
            temperature,
            mass_flow,
            table,
            conductance,
            curve,
            passes,
            internal.order == "counter",
            internal.begins == "start",
        )

    def _words(self, liquid: LiquidSide) -> str:
        held = f"UA {show(liquid.conductance, 'thermal_conductance')}" if liquid.curve is None else "UA by its table"
        what = "at" if liquid.table is None else f"{show(liquid.mass_flow, 'mass_flow')} at"
        return f"{what} {show(liquid.temperature, 'temperature')} · {held}"

    @override
    def flag(self, given: ResolvedInternal) -> str:
        assert isinstance(given, ResolvedDrag)
        return given.in_words

    @override
    def form(self) -> Form:
        by_loss = [
            Option(value="table", label="a table of the case", when={"table": ["*"]}, gives={"loss": "", "table": "core"}),
            Option(value="loss", label="loss coefficient", gives={"loss": "20", "table": ""}),
        ]
        by_conductance = [
            Option(
                value="table",
                label="a table of the case",
                when={"conductance_table": ["*"]},
                gives={"conductance": "", "conductance_table": "UA"},
            ),
            Option(value="value", label="one value", gives={"conductance": "100 W/K", "conductance_table": ""}),
        ]
        inside = [
            Option(
                value="phases",
                label="condenses or boils at its temperature",
                when={"liquid": [""]},
                gives={"liquid": "", "mass_flow": ""},
            ),
            Option(value="liquid", label="a liquid or gas", gives={"liquid": "water", "mass_flow": "0.1 kg/s"}),
        ]
        flows = {"liquid": ["*"]}
        orders = [
            Option(value=value, label=label, when={"order": [value]}, gives={"order": value})
            for value, label in (("counter", "enters where the stream leaves"), ("parallel", "enters where the stream enters"))
        ]
        begins = [
            Option(value=value, label=label, when={"begins": [value]}, gives={"begins": value})
            for value, label in (("start", "at its left or lower end"), ("end", "at its right or upper end"))
        ]
        return Form(
            type="core",
            stands_on="fluid",
            options=[
                Option(
                    value="core",
                    label="a core of tubes and fins",
                    when={"type": ["core"]},
                    gives={"loss": "20", "conductance": "100 W/K", "mass_flow": "0.1 kg/s", "temperature": "60 °C"},
                )
            ],
            fields=[
                Field(control="choice", field="inside", label="In its tubes", options=inside),
                Field(control="material", field="liquid", label="of", placeholder="nothing", fluids=True, shown=flows),
                Field(control="entry", field="temperature", label="Enters at", kind="temperature"),
                Field(control="entry", field="mass_flow", label="Mass flow", kind="mass_flow", shown=flows),
                Field(control="choice", field="by", label="Heat by", options=by_conductance),
                Field(
                    control="entry",
                    field="conductance",
                    label="UA",
                    kind="thermal_conductance",
                    shown={"conductance_table": [""]},
                ),
                Field(
                    control="table",
                    field="conductance_table",
                    label="Table of UA against speed",
                    shown={"conductance_table": ["*"]},
                ),
                Field(control="entry", field="passes", label="Passes", kind="number", shown=flows),
                Field(control="choice", field="order", label="It", options=orders, shown=flows),
                Field(control="choice", field="begins", label="First pass begins", options=begins, shown=flows),
                Field(control="choice", field="drop", label="Pressure by", options=by_loss),
                Field(control="entry", field="loss", label="Loss coefficient", kind="number", shown={"table": [""]}),
                Field(control="table", field="table", label="Table of drop against speed", shown={"table": ["*"]}),
                Field(control="hint", label="The stream passes across the thinner side; fins hold it from going along the tubes."),
            ],
        )
