"""How the desk asks for a condition: options and fields, by what stands in the condition already."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import BaseModel, model_validator

# By field, what it may hold; `*` stands for anything that is not empty.
When = Mapping[str, list[str]]


_KINDS = {
    "mass_flow": "mass_flow",
    "velocity": "velocity",
    "slide_x": "velocity",
    "slide_y": "velocity",
    "properties_at": "temperature",
    "pressure": "pressure",
    "pressure_gradient": "pressure_gradient",
    "temperature": "temperature",
    "ambient_temperature": "temperature",
    "surroundings_temperature": "temperature",
    "heat_flux": "heat_flux",
    "heat_rate": "power",
    "heat_transfer_coefficient": "heat_transfer_coefficient",
    "angular_velocity": "angular_velocity",
    "coating_thickness": "length",
    "turbulence_intensity": "ratio",
    "eddy_size": "length",
}


class Option(BaseModel):
    """One of several ways, chosen where all of `when` holds; `gives` is written when it is chosen.

    Attributes:
        flat_only: whether it makes sense in flat sections alone.
    """

    value: str
    label: str
    when: dict[str, list[str]] = {}
    gives: Mapping[str, str | list[list[str]]] = {}
    flat_only: bool = False


class Field(BaseModel):
    """One row of a form: an entry for a quantity, a choice, a layer with its material, or a hint in words; a table or a material of
    the case by name, points of a curve, or a switch.

    Attributes:
        shown: it stands there where all of this holds.
        fluid_only: it makes sense on fluids alone; `turbulent_only` where flow may be turbulent; `round_only` in axisymmetric
            sections.
        field: of the condition; `material` the field beside it that names a layer's material.
        fluids: whether a material is chosen among fluids, and not among solids.
        kind: of the quantity that is entered, whose unit a bare number takes; that of the field's name when empty.
    """

    control: Literal["entry", "choice", "layer", "hint", "turn_round", "table", "points", "switch", "material"]
    field: str = ""
    label: str = ""
    title: str = ""
    placeholder: str = ""
    shown: dict[str, list[str]] = {}
    fluid_only: bool = False
    turbulent_only: bool = False
    round_only: bool = False
    options: list[Option] = []
    material: str = ""
    fluids: bool = False
    kind: str = ""

    @model_validator(mode="after")
    def _of_its_kind(self) -> Field:
        self.kind = self.kind or _KINDS.get(self.field, "")
        return self


class Form(BaseModel):
    """A kind of boundary on the desk.

    Attributes:
        options: ways to choose it among all conditions, each with what a fresh one holds.
        stands_on: any outer boundary, those of fluids, or the two ends of a module.
    """

    type: str
    stands_on: Literal["any", "fluid", "ends"]
    options: list[Option]
    fields: list[Field]
