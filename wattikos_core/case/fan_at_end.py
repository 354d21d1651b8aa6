"""A fan at the end of a stream: a thin part outside of where fluid enters or leaves, which then does so beyond the fan."""

from __future__ import annotations

import re
from typing import Any, Literal

from wattikos_core.boundaries import Inlet, Opening, Outlet, Symmetry
from wattikos_core.case.document import Case, Part
from wattikos_core.case.shapes import Rectangle
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.internals import Fan

# Its thickness, as a share of its face.
_THICKNESS = 0.3
# What of a document may name a boundary, beside conditions.
_NAMING = ("watches", "wanted", "sizing", "grid", "reading", "contacts", "estimates")
_RISE = "50 Pa"

Side = Literal["bottom", "right", "top", "left"]
SIDES: tuple[Side, ...] = ("bottom", "right", "top", "left")


def put_fan(case: Case, boundary: str) -> list[str]:
    """Put a fan on a side of a rectangle, or on a piece of one; the case is changed. It blows in at inlets and out at outlets.

    Args:
        case: to change.
        boundary: where fluid enters or leaves, as conditions name it: `room, left` or `room, left 2`.

    Returns:
        in words, what else changes.

    Raises:
        CaseError: nothing enters or leaves there, or the boundary is no side of a rectangle that stands upright.
    """
    # The last one given holds, as with paint.
    index = next((i for i, one in reversed(list(enumerate(case.conditions))) if boundary in one.boundaries), None)
    condition = None if index is None else case.conditions[index]
    if index is None or not isinstance(condition, Inlet | Outlet | Opening):
        problem = f"no fluid enters or leaves at '{boundary}'"
        raise CaseError(InputProblem("conditions", problem, "give it an opening, an inlet or an outlet first"))
    material, rectangle, side, piece = _side_of(case, boundary)
    name = _free_name([one.name for one in case.section.parts])
    into = side in ("left", "bottom") if isinstance(condition, Opening) else isinstance(condition, Inlet)
    shape = _box(rectangle, side, piece)
    # A fan drives along x or y of its part: into the section at its left and its bottom.
    # What enters turning does so behind the fan.
    swirl = condition.angular_velocity if isinstance(condition, Inlet) else ""
    fan = Fan(rise=_RISE, swirl=swirl, turned=into != (side in ("left", "bottom")))
    case.section.parts.append(Part(name=name, material=material, shape=shape, present=condition.present, internal=fan))
    outside, also = f"{name}, {side}", []
    condition.boundaries = [one for one in condition.boundaries if one != boundary]
    beyond: Inlet | Outlet | Opening = condition.model_copy(deep=True, update={"boundaries": [outside]})
    if isinstance(condition, Inlet):
        fields = ("present", "temperature", "turbulence_intensity", "eddy_size")
        pressure = condition.pressure or "0 Pa"
        beyond = Opening(boundaries=[outside], pressure=pressure, **{field: getattr(condition, field) for field in fields})
        also.append(f"'{outside}' is an opening to surroundings, and the fan decides what enters")
    case.conditions[index : index + (0 if condition.boundaries else 1)] = [beyond]
    rims = [f"{name}, {rim}" for rim in (("bottom", "top") if side in ("left", "right") else ("left", "right"))]
    if case.section.extent == "axisymmetric" and rims[0].endswith("bottom") and re.fullmatch(r"0(\.0*)? ?m?", shape.y.strip("( )")):
        # It reaches to the axis.
        rims = rims[1:]
    # The friction of its housing is in its curve.
    case.conditions.append(Symmetry(boundaries=rims))
    moved = {
        field: _followed(value, boundary, outside) for field, value in case.model_dump(mode="json", include=set(_NAMING)).items()
    }
    for field, value in Case.model_validate(case.model_dump(mode="json") | moved):
        if field in _NAMING:
            setattr(case, field, value)
    return [f"what stood on '{boundary}' stands on '{outside}'", *also]


def _side_of(case: Case, boundary: str) -> tuple[str, Rectangle, Side, int | None]:
    """Material and shape of the upright rectangle that a boundary is a side of, the side, and which piece of it (from 0)."""
    for part in case.section.parts:
        if not isinstance(part.shape, Rectangle) or part.angle.strip() or part.mirror or part.repeat is not None:
            continue
        for side in SIDES:
            place = re.fullmatch(rf"{re.escape(part.name)}, {side}(?: (\d+))?", boundary)
            if place is not None:
                return part.material, part.shape, side, int(place[1]) - 1 if place[1] else None
    problem = f"'{boundary}' is no side of a rectangle that stands upright"
    raise CaseError(InputProblem("section.parts", problem, "draw the fan as a part: a thin rectangle across the stream"))


def _box(shape: Rectangle, side: Side, piece: int | None) -> Rectangle:
    """The rectangle outside of a side, or of a piece of it."""
    upright = side in ("left", "right")
    whole = shape.height if upright else shape.width
    cuts = ["", *shape.divided.get(side, []), f"({whole})"]
    first, last = ("", cuts[-1]) if piece is None else (cuts[piece], cuts[piece + 1])
    span = f"{last} - ({first})" if first else last
    thickness = f"{_THICKNESS}*({span})"
    along = f"({shape.y if upright else shape.x})" + (f" + {first}" if first else "")
    if side == "left":
        return Rectangle(x=f"({shape.x}) - {thickness}", y=along, width=thickness, height=span)
    if side == "right":
        return Rectangle(x=f"({shape.x}) + ({shape.width})", y=along, width=thickness, height=span)
    if side == "bottom":
        return Rectangle(x=along, y=f"({shape.y}) - {thickness}", width=span, height=thickness)
    return Rectangle(x=along, y=f"({shape.y}) + ({shape.height})", width=span, height=thickness)


def _free_name(taken: list[str]) -> str:
    name, number = "fan", 2
    while name in taken:
        name, number = f"fan {number}", number + 1
    return name


def _followed(value: Any, name: str, now: str) -> Any:
    """A value with another name in all places where one stands by itself."""
    if isinstance(value, str):
        return now if value == name else value
    if isinstance(value, list):
        return [_followed(item, name, now) for item in value]
    return {key: _followed(item, name, now) for key, item in value.items()} if isinstance(value, dict) else value
