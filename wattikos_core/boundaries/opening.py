"""Openings to surroundings: fluid enters or leaves, whichever the flow wants."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from typing_extensions import override

from wattikos_core.boundaries.face_kinds import OPEN
from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.boundaries.inlet import TURBULENCE_FIELDS, entering_temperature, entering_turbulence
from wattikos_core.boundaries.kind import BoundaryKind, Conditional, Shown
from wattikos_core.boundaries.on_faces import FaceCondition, Giving, Index, values_on
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.documents import Expression

if TYPE_CHECKING:
    from wattikos_core.case.reader import Along, Reader
    from wattikos_core.grid import Grid


class Opening(Conditional):
    """Fluid enters from surroundings at rest, or leaves into them, face by face.

    Attributes:
        pressure: of the surroundings (gauge): the total one of what enters, the static one of what leaves.
        temperature: of the surroundings, which what enters has. May be left out as at inlets.
        turbulence_intensity, eddy_size: of turbulence that enters, as at inlets.
    """

    type: Literal["opening"] = "opening"
    pressure: Expression = "0 Pa"
    temperature: Expression = ""
    turbulence_intensity: Expression = ""
    eddy_size: Expression = ""


class OpeningKind(BoundaryKind):
    """See `Opening`. It is written on faces as an outlet that feeds what comes in."""

    type = "opening"
    model = Opening
    enters = True
    leaves = True

    @override
    def gives_heat(self, condition: Opening) -> bool:
        return bool(condition.temperature.strip())

    @override
    def resolve(self, condition: Opening, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
        along: dict[str, Along] = {}
        temperature = entering_temperature(condition.temperature, reader, field, along)
        pressure, varying = reader.in_time(condition.pressure, "pressure", f"{field}.pressure")
        if varying is not None:
            along["amount"] = varying
        intensity, eddies = entering_turbulence(condition.turbulence_intensity, condition.eddy_size, reader, field)
        return ResolvedCondition(
            field, boundary, "opening", "opening", pressure, temperature, along=along, intensity=intensity, eddies=eddies
        )

    @override
    def on_faces(self, given: ResolvedCondition, grid: Grid, group: Index, time: float) -> FaceCondition:
        value = values_on(given, grid, group, time)
        return FaceCondition(
            "outlet",
            pressure=float(np.mean(value["amount"])),
            fed=OPEN,
            temperature=value["temperature"],
            intensity=given.intensity,
            eddies=given.eddies,
        )

    @override
    def give(self, condition: FaceCondition, giving: Giving) -> None:
        raise NotImplementedError("openings are written on faces as outlets")

    @override
    def flag(self, condition: Opening, given: ResolvedCondition, shown: Shown) -> tuple[str, str]:
        temperature = shown.value(given.temperature, "temperature", condition.temperature, given.along.get("temperature"))
        pressure = f" · {shown.value(given.amount, 'pressure', condition.pressure)}" if given.amount else ""
        return "opening", f"open · {temperature}{pressure}"

    @override
    def form(self) -> Form:
        fresh = Option(
            value="opening",
            label="opening to surroundings",
            when={"type": ["opening"]},
            gives={"pressure": "0 Pa", "temperature": "20 degC"},
        )
        return Form(
            type="opening",
            stands_on="fluid",
            options=[fresh],
            fields=[
                Field(control="entry", field="temperature", label="Temperature around"),
                Field(control="entry", field="pressure", label="Pressure (gauge)"),
                *TURBULENCE_FIELDS,
                Field(control="hint", label="Fluid enters or leaves here, whichever the flow wants; what enters comes from rest."),
            ],
        )
