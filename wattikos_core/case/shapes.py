"""The shapes a part can have, as they stand in the case document, and how a part is repeated."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wattikos_core.documents import Expression, Model

Point = Annotated[list[Expression], Field(min_length=2, max_length=2)]
Points = Annotated[list[Point], Field(min_length=3, max_length=2000)]
Loop = Annotated[list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(min_length=3, max_length=20_000)]


class Rectangle(Model):
    """A rectangle by its lower left corner and its size; in an axisymmetric section y is the radius.

    Attributes:
        divided: by side, where it is divided into boundaries of their own: distances from its left or lower end. The pieces of
            `left` are called `left 1`, `left 2`, … from there.
    """

    type: Literal["rectangle"] = "rectangle"
    x: Expression = "0 m"
    y: Expression = "0 m"
    width: Expression
    height: Expression
    divided: dict[Literal["bottom", "right", "top", "left"], Annotated[list[Expression], Field(max_length=20)]] = {}


class Circle(Model):
    """A full circle about its centre."""

    type: Literal["circle"] = "circle"
    x: Expression = "0 m"
    y: Expression = "0 m"
    diameter: Expression


class Ring(Model):
    """The area between two circles about one centre."""

    type: Literal["ring"] = "ring"
    x: Expression = "0 m"
    y: Expression = "0 m"
    outer_diameter: Expression
    inner_diameter: Expression


class Polygon(Model):
    """Straight edges between corners, given about the point (x, y)."""

    type: Literal["polygon"] = "polygon"
    x: Expression = "0 m"
    y: Expression = "0 m"
    points: Points


class Curve(Model):
    """A closed smooth curve through points, given about the point (x, y)."""

    type: Literal["curve"] = "curve"
    x: Expression = "0 m"
    y: Expression = "0 m"
    points: Points


class Blade(Model):
    """A blade profile: a camber line with a thickness about it, its nose at (x, y), its chord along x before it is turned.

    Attributes:
        camber: largest height of the camber line over the chord, as a share of it; `camber_at` where that is.
        thickness: largest thickness as a share of the chord.
        edge_radius: of the rounded trailing edge; the smallest there is when empty.
    """

    type: Literal["blade"] = "blade"
    x: Expression = "0 m"
    y: Expression = "0 m"
    chord: Expression
    camber: Expression = "0.06"
    camber_at: Expression = "0.4"
    thickness: Expression = "0.15"
    edge_radius: Expression = ""


class Outline(Model):
    """Closed loops of points from a file, about (x, y); loops inside others are holes.

    Attributes:
        loops: points in metres, drawn `scale` times as large.
        smooth: whether edges that turn by little are one curve.
        source: the name of the file.
    """

    type: Literal["outline"] = "outline"
    x: Expression = "0 m"
    y: Expression = "0 m"
    scale: Expression = "1"
    loops: Annotated[list[Loop], Field(min_length=1, max_length=200)]
    source: Annotated[str, Field(max_length=200)] = ""


Shape = Annotated[Rectangle | Circle | Ring | Polygon | Curve | Blade | Outline, Field(discriminator="type")]

# What the edges of each shape are called; corners and loops of others are numbered.
SHAPE_SIDES: dict[str, tuple[str, ...]] = {
    "rectangle": ("bottom", "right", "top", "left"),
    "circle": ("outside",),
    "ring": ("outside", "inside"),
    "curve": ("outside",),
    "blade": ("suction side", "pressure side", "trailing edge"),
}


class Repeat(Model):
    """Copies of a part: in a line, a grid, a staggered grid, or around a centre. Copies are called `name 1`, `name 2`, …

    Attributes:
        count: in a line and around a centre; `columns` (along x) and `rows` (along y) in grids.
        dx, dy: step between copies, or between columns and rows; in a staggered grid every second column stands half a
            `dy` higher.
        centre_x, centre_y: what copies stand around; `angle` is the step, a full turn shared equally when empty.
    """

    pattern: Literal["line", "grid", "staggered", "around"]
    count: Expression = "2"
    columns: Expression = "2"
    rows: Expression = "2"
    dx: Expression = "0 m"
    dy: Expression = "0 m"
    centre_x: Expression = "0 m"
    centre_y: Expression = "0 m"
    angle: Expression = ""
