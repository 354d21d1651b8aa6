"""Resistances across a stream: screens, grilles, filters, perforated plates."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field as Limits
from typing_extensions import override

from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.documents import Expression, Model
from wattikos_core.internals.kind import InternalKind, Place, drop_curve, only_one
from wattikos_core.internals.resolved import ResolvedDrag, ResolvedInternal

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader


class Resistance(Model):
    """What takes pressure from a stream that crosses the thinner side of its part, by the speed ahead of it.

    Attributes:
        loss: coefficient K of Δp = K ρ u²/2.
        open_area: share of the face that is open, of `made_of`: a thin plate with sharp holes, or a screen of round wires.
        table: name of a table of the case with pressure drops against speeds: a filter's data sheet.
    """

    type: Literal["resistance"] = "resistance"
    loss: Expression = ""
    open_area: Expression = ""
    made_of: Literal["perforated_plate", "wire_screen"] = "perforated_plate"
    table: Annotated[str, Limits(max_length=60)] = ""


def perforated_plate_loss(open_area: float) -> float:
    """Loss coefficient of a thin plate with sharp-edged holes, on the speed ahead of it.

    Idelchik, Handbook of Hydraulic Resistance (3rd ed. 1994), diagram 8-1, for Reynolds numbers of the holes above 1e5.

    Example:
        >>> round(perforated_plate_loss(0.5), 2)
        4.0
    """
    f = open_area
    return float((0.707 * (1.0 - f) ** 0.5 + 1.0 - f) ** 2 / f**2)


def wire_screen_loss(open_area: float) -> float:
    """Loss coefficient of a screen of round wires, on the speed ahead of it.

    Idelchik, Handbook of Hydraulic Resistance (3rd ed. 1994), diagram 8-6, for Reynolds numbers of the wires above 1000.

    Example:
        >>> round(wire_screen_loss(0.5), 2)
        1.65
    """
    f = open_area
    return float(1.3 * (1.0 - f) + (1.0 / f - 1.0) ** 2)


LOSS_OF = {"perforated_plate": perforated_plate_loss, "wire_screen": wire_screen_loss}


class ResistanceKind(InternalKind):
    """See `Resistance`."""

    type = "resistance"
    model = Resistance

    @override
    def resolve(self, internal: Resistance, place: Place, reader: Reader) -> ResolvedInternal:
        field = place.field
        direction, thickness = place.across(reader, "a resistance")
        given = {name: bool(getattr(internal, name).strip()) for name in ("loss", "open_area", "table")}
        way = only_one(reader, field, given, "give its loss coefficient, its open area, or a table")
        if way == "table":
            curve = drop_curve(reader, internal.table.strip(), f"{field}.table")
            return ResolvedDrag(field, "resistance", direction, thickness, curve=curve, in_words=f"table {internal.table.strip()}")
        loss, words = 0.0, ""
        if way == "loss":
            loss = reader.read(internal.loss, "number", f"{field}.loss", at_least=0.0)
            words = f"K {loss:.3g}"
        elif way == "open_area":
            share = reader.read(internal.open_area, "ratio", f"{field}.open_area", above=0.0)
            if share > 1.0:
                reader.fail(
                    f"{field}.open_area", f"'{internal.open_area}' is more than the whole", "give a share up to 1, or percent"
                )
                share = 1.0
            loss = LOSS_OF[internal.made_of](share) if share > 0.0 else 0.0
            words = f"{100.0 * share:.3g} % open · K {loss:.3g}"
        inertial = (loss / thickness, 0.0)
        return ResolvedDrag(field, "resistance", direction, thickness, inertial=inertial, by_component=True, in_words=words)

    @override
    def flag(self, given: ResolvedInternal) -> str:
        assert isinstance(given, ResolvedDrag)
        return given.in_words

    @override
    def form(self) -> Form:
        none = {"loss": "", "open_area": "", "table": ""}
        ways = [
            Option(value="open_area", label="open area", when={"open_area": ["*"]}, gives=none | {"open_area": "50 percent"}),
            Option(value="table", label="a table of the case", when={"table": ["*"]}, gives=none | {"table": "filter"}),
            Option(value="loss", label="loss coefficient", gives=none | {"loss": "1"}),
        ]
        made_of = [
            Option(value=value, label=label, when={"made_of": [value]}, gives={"made_of": value})
            for value, label in (("perforated_plate", "thin plate, sharp holes"), ("wire_screen", "round wires"))
        ]
        by_loss = {"open_area": [""], "table": [""]}
        return Form(
            type="resistance",
            stands_on="fluid",
            options=[Option(value="resistance", label="a resistance", when={"type": ["resistance"]}, gives={"loss": "1"})],
            fields=[
                Field(control="choice", field="by", label="Given by", options=ways),
                Field(control="entry", field="loss", label="Loss coefficient", kind="number", shown=by_loss),
                Field(control="entry", field="open_area", label="Open area", kind="ratio", shown={"open_area": ["*"]}),
                Field(control="choice", field="made_of", label="made of", shown={"open_area": ["*"]}, options=made_of),
                Field(control="table", field="table", label="Table of drop against speed", shown={"table": ["*"]}),
                Field(control="hint", label="Pressure is lost by the speed ahead of it, across the thinner side of the part."),
            ],
        )
