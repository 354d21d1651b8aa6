"""Radiation between the surfaces around a gas: its place in the document, and what it is in SI."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Annotated

from pydantic import Field

from wattikos_core.documents import Expression, Model, Name
from wattikos_core.radiation import Emitting

if TYPE_CHECKING:
    from wattikos_core.case.document import Case, Part
    from wattikos_core.case.parts import ResolvedPart
    from wattikos_core.case.reader import Reader
    from wattikos_core.materials import PropertyTable

# What is denser at 300 K lets no heat radiation through a few millimetres of it.
_OPAQUE = 50.0
_ROOM = 300.0


class RadiatingSurface(Model):
    """A surface with values of its own.

    Attributes:
        surface: a boundary or an interface of the gas; of a repeated part without number for all copies.
        emissivity: as that of all others when empty.
        absorbed: flux that shines on it from elsewhere and is absorbed, such as that of the sun; none when empty.
    """

    surface: Name
    emissivity: Expression = ""
    absorbed: Expression = ""


class SurfaceRadiation(Model):
    """The surfaces around a gas radiate to each other, grey and diffuse; openings are black at what is beyond.

    Attributes:
        emissivity: of all surfaces that are not named.
    """

    emissivity: Expression = "0.9"
    surfaces: Annotated[list[RadiatingSurface], Field(max_length=60)] = []


def transparent(table: PropertyTable) -> bool:
    """Whether heat radiation passes a material: a gas."""
    return table.fluid and table.melting is None and float(table.density(_ROOM)) <= _OPAQUE


def with_radiation(
    case: Case, reader: Reader, parts: Sequence[ResolvedPart], copies: Mapping[str, Sequence[str]]
) -> list[ResolvedPart]:
    """The parts, those of radiating gas with what their surfaces are.

    Args:
        case: the document.
        reader: of its expressions, which problems are told to.
        parts: that are present.
        copies: names of all copies of a part, by its own name.
    """
    emitting: dict[str, Emitting] = {}
    for i, part in enumerate(case.section.parts):
        if part.radiation is None or part.name not in copies:
            continue
        found = _emitting(part, f"section.parts[{i}].radiation", case, reader, parts, copies)
        if found is not None:
            emitting[part.name] = found
    return [replace(part, emitting=emitting[part.origin]) if part.origin in emitting else part for part in parts]


def _emitting(
    part: Part, field: str, case: Case, reader: Reader, parts: Sequence[ResolvedPart], copies: Mapping[str, Sequence[str]]
) -> Emitting | None:
    assert part.radiation is not None
    table = next(one.table for one in parts if one.origin == part.name)
    if table is None or not table.fluid or table.melting is not None:
        reader.fail(field, f"'{part.name}' is no gas", "let the gas radiate that lies between the surfaces")
        return None
    if not transparent(table):
        problem = f"'{part.name}' is of {table.label}, which lets no heat radiation through"
        reader.fail(field, problem, "let a gas radiate, or take the radiation out")
        return None
    if part.internal is not None:
        reader.fail(field, f"a {part.internal.type} stands in '{part.name}'", "let the gas before and behind it radiate")
        return None
    emissivities: dict[str, float] = {}
    absorbed: dict[str, float] = {}
    for k, surface in enumerate(part.radiation.surfaces):
        where = f"{field}.surfaces[{k}]"
        names = _names(surface.surface, copies)
        if surface.emissivity.strip():
            emissivities |= dict.fromkeys(names, _share(surface.emissivity, f"{where}.emissivity", reader))
        if surface.absorbed.strip():
            flux = reader.read(surface.absorbed, "heat_flux", f"{where}.absorbed", at_least=0.0)
            absorbed |= dict.fromkeys(names, flux)
    return Emitting(_share(part.radiation.emissivity, f"{field}.emissivity", reader), emissivities, absorbed)


def _share(text: str, field: str, reader: Reader) -> float:
    value = reader.read(text, "ratio", field, above=0.0)
    if value > 1.0:
        reader.fail(field, f"'{text}' is {value:g}", "an emissivity lies above 0 and at most at 1")
    return value


def _names(name: str, copies: Mapping[str, Sequence[str]]) -> list[str]:
    """Names of a surface on the grid: of all copies, an interface in both orders of its parts."""
    if " | " in name:
        first, second = (copies.get(side, (side,)) for side in name.split(" | ", 1))
        return [text for a in first for b in second for text in (f"{a} | {b}", f"{b} | {a}")]
    part, comma, side = name.partition(", ")
    return [copy + comma + side for copy in copies.get(part, (part,))]
