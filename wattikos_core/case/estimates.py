"""The hand calculations a case can carry: which relation, and what of the case it is bound to."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wattikos_core.case.model import Expression, Model, Name


class CounterflowPlates(Model):
    """Hand calculation of two streams in counterflow on both sides of a plate: which part is which."""

    relation: Literal["counterflow_plates"] = "counterflow_plates"
    hot: Name
    cold: Name
    wall: Name


class InsulatedPipe(Model):
    """Hand calculation of a stream in a round pipe with layers around it, losing heat to the surroundings."""

    relation: Literal["insulated_pipe"] = "insulated_pipe"
    fluid: Name
    layers: Annotated[list[Name], Field(min_length=1, max_length=10)]


class DoublePipe(Model):
    """Two streams on both sides of a round pipe, one in it and one in the annulus around it."""

    relation: Literal["double_pipe"] = "double_pipe"
    hot: Name
    cold: Name
    wall: Name


class CrossFlow(Model):
    """Round tubes or bars across a stream: one, or a bundle, in a duct or in the open.

    Attributes:
        body: the part that stands in the stream, with its copies.
        diameter: outside.
        velocity: in the narrowest gap.
        count: of all bodies; `arrangement` of more than a few.
        inner_h, inner_temperature, inner_diameter: what heats a tube from inside; none when the body has a source.
    """

    relation: Literal["cross_flow"] = "cross_flow"
    fluid: Name
    body: Name
    diameter: Expression
    velocity: Expression
    count: Expression = "1"
    arrangement: Literal["single", "in_line", "staggered"] = "single"
    inner_h: Expression = ""
    inner_temperature: Expression = ""
    inner_diameter: Expression = ""


class HeatedDuct(Model):
    """A stream between two walls of which one or both heat it: by a known heat rate, or at a known temperature.

    Attributes:
        gap, length, breadth: height between the walls, length along the stream, and breadth of the walls.
        sides: walls that heat.
        heat: altogether; or `wall`, their temperature.
        ratio: inner over outer diameter of an annulus heated from inside; 1 for plates.
        surface: the interface or boundary the mean temperature is for.
        obstructed: rings or ribs stand in the stream: only its heat balance holds.
    """

    relation: Literal["heated_duct"] = "heated_duct"
    fluid: Name
    gap: Expression
    length: Expression
    breadth: Expression
    sides: Literal["one", "both"] = "one"
    heat: Expression = ""
    wall: Expression = ""
    ratio: Expression = "1"
    surface: str = ""
    obstructed: bool = False


class Fins(Model):
    """A base with fins of one kind, all surfaces with one heat transfer coefficient; heat enters below the base.

    Attributes:
        fin, base: parts, for their materials.
        breadth: of a straight fin, along the base; none for pins.
        bare: area of the base beside the fins.
        under, base_thickness: area the heat enters through, and what it crosses.
        surface: the boundary the heat enters by.
    """

    relation: Literal["fins"] = "fins"
    kind: Literal["straight", "pin"]
    fin: Name
    base: Name
    height: Expression
    thickness: Expression
    breadth: Expression = ""
    count: Expression = "1"
    bare: Expression
    under: Expression
    base_thickness: Expression
    h: Expression
    ambient: Expression
    heat: Expression
    surface: Name


class Layer(Model):
    """A layer heat passes: a part's material, or a resistance, over an area.

    Attributes:
        narrow: the area when heat spreads by no more than 45°; as `area` when empty.
        height: of a vertical gap whose fluid stirs itself, with `thickness` its width; empty where nothing moves.
    """

    part: str = ""
    thickness: Expression = ""
    resistance: Expression = ""
    area: Expression
    narrow: Expression = ""
    height: Expression = ""


class Layers(Model):
    """A heat rate, or a difference of temperatures, through layers in series to surroundings with an h (none when empty).

    Attributes:
        heat: entering; or `hot`, the temperature on the near side.
        place: the ledger quantity that is the near side's temperature, or the heat rate when `hot` is given.
    """

    relation: Literal["layers"] = "layers"
    heat: Expression = ""
    hot: Expression = ""
    layers: Annotated[list[Layer], Field(min_length=1, max_length=20)]
    h: Expression = ""
    h_area: Expression = ""
    h_narrow: Expression = ""
    cold: Expression
    quantity: Name


class CooledBody(Model):
    """A well-conducting body between a hot gas outside and coolant in passages: its mean temperature and heat rate."""

    relation: Literal["cooled_body"] = "cooled_body"
    body: Name
    outer_h: Expression
    outer_temperature: Expression
    outer_perimeter: Expression
    inner_h: Expression
    inner_temperature: Expression
    inner_perimeter: Expression


Estimate = Annotated[
    CounterflowPlates | InsulatedPipe | DoublePipe | CrossFlow | HeatedDuct | Fins | Layers | CooledBody,
    Field(discriminator="relation"),
]
