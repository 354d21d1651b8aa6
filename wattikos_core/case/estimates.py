"""The hand calculations a case can carry: which relation, and what of the case it is bound to."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wattikos_core.documents import Expression, Model, Name
from wattikos_core.ledger import Key


class CounterflowPlates(Model):
    """Two streams on both sides of a plate, in counterflow or parallel: which part is which, and the walls' roughness (sand)."""

    relation: Literal["counterflow_plates"] = "counterflow_plates"
    hot: Name
    cold: Name
    wall: Name
    roughness: Expression = ""


class InsulatedPipe(Model):
    """A stream in a round pipe with layers around it, losing heat to the surroundings.

    Attributes:
        roughness: of the pipe inside (equivalent sand).
        losses: sum of the loss coefficients of inlet, outlet, bends and fittings.
    """

    relation: Literal["insulated_pipe"] = "insulated_pipe"
    fluid: Name
    layers: Annotated[list[Name], Field(min_length=1, max_length=10)]
    roughness: Expression = ""
    losses: Expression = ""


class DoublePipe(Model):
    """Two streams on both sides of a round pipe, one in it and one in the annulus around it; `roughness` of all walls (sand)."""

    relation: Literal["double_pipe"] = "double_pipe"
    hot: Name
    cold: Name
    wall: Name
    roughness: Expression = ""


class CrossFlow(Model):
    """Round tubes or bars across a stream: one, or a bundle, in a duct or in the open; in an axisymmetric section, a sphere.

    Attributes:
        body: the part that stands in the stream, with its copies.
        diameter: outside.
        velocity: in the narrowest gap.
        count: of all bodies; `arrangement` of more than a few.
        inner_h, inner_temperature, inner_diameter: what heats a tube from inside; none when the body has a source.
        wall: temperature of the bodies' surface, where that is given instead.
        pitch_across, pitch_along, rows: of a bundle, between middles, and how many tubes stand behind each other.
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
    wall: Expression = ""
    pitch_across: Expression = ""
    pitch_along: Expression = ""
    rows: Expression = ""


class HeatedDuct(Model):
    """A stream between two walls of which one or both heat it: by a known heat rate, or at a known temperature.

    Attributes:
        gap, length, breadth: height between the walls, length along the stream, and breadth of the walls.
        sides: walls that heat.
        heat: altogether; or `wall`, their temperature.
        ratio: inner over outer diameter of an annulus heated from inside; 1 for plates.
        surface: the interface or boundary the mean temperature is for.
        obstructed: rings or ribs stand in the stream: only its heat balance holds.
        roughness: of the walls (equivalent sand); `losses`: sum of the loss coefficients of inlet, outlet and bends.
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
    roughness: Expression = ""
    losses: Expression = ""


class Fins(Model):
    """A base with fins of one kind, all surfaces with one heat transfer coefficient; heat enters below the base.

    Attributes:
        fin, base: parts, for their materials.
        breadth: of a straight fin, along the base; none for others.
        inner_diameter: of what annular fins stand on; a hyperbolic one thins as one over its radius.
        bare: area of the base beside the fins.
        under, base_thickness: area the heat enters through, and what it crosses.
        surface: the boundary the heat enters by.
    """

    relation: Literal["fins"] = "fins"
    kind: Literal["straight", "pin", "annular", "annular_hyperbolic"]
    fin: Name
    base: Name
    height: Expression
    thickness: Expression
    breadth: Expression = ""
    inner_diameter: Expression = ""
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
        height: of a gap whose fluid stirs itself, with `thickness` its width; empty where nothing moves. Where its warm side
            is follows from its neighbours and from gravity.
        emissivity: of both sides of a gap that radiation crosses.
    """

    part: str = ""
    thickness: Expression = ""
    resistance: Expression = ""
    area: Expression
    narrow: Expression = ""
    height: Expression = ""
    emissivity: Expression = ""


class Layers(Model):
    """A heat rate, or a difference of temperatures, through layers in series to surroundings with an h (none when empty).

    Attributes:
        heat: entering; or `hot`, the temperature on the near side.
        key: of the quantity of the ledger that is the near side's temperature, or the heat rate when `hot` is given.
        outside: shape for the free convection of air after the last layer, where `h` is empty; `outside_size` its height,
            diameter, or area over perimeter.
    """

    relation: Literal["layers"] = "layers"
    heat: Expression = ""
    hot: Expression = ""
    layers: Annotated[list[Layer], Field(min_length=1, max_length=20)]
    h: Expression = ""
    h_area: Expression = ""
    h_narrow: Expression = ""
    outside: Literal["", "upright_plate", "lying_cylinder", "sphere", "plate_facing_up", "plate_facing_down"] = ""
    outside_size: Expression = ""
    cold: Expression
    key: Key


class CooledBody(Model):
    """A well-conducting body between a hot gas outside and coolant in passages: its mean temperature and heat rate.

    Attributes:
        inner_flow, inner_specific_heat: of all coolant, where it is to warm along its passages.
    """

    relation: Literal["cooled_body"] = "cooled_body"
    body: Name
    outer_h: Expression
    outer_temperature: Expression
    outer_perimeter: Expression
    inner_h: Expression
    inner_temperature: Expression
    inner_perimeter: Expression
    inner_flow: Expression = ""
    inner_specific_heat: Expression = ""


class MeltingFront(Model):
    """A body that melts or freezes from a flat wall held at a temperature, or around a tube with a coolant in it.

    Attributes:
        wall: temperature of the wall, or of the coolant; `start` of the body at the beginning.
        time: after which front and heat are wanted.
        depth: of the body from the wall, `area` of the wall.
        radius: outer radius of a tube; a flat wall where empty. `h` from the coolant to the tube's outside, perfect where empty.
    """

    relation: Literal["melting_front"] = "melting_front"
    part: Name
    wall: Expression
    start: Expression
    time: Expression
    depth: Expression
    area: Expression
    radius: Expression = ""
    h: Expression = ""


class HoldingTube(Model):
    """A stream that is to stay in a round tube for a time, and loses heat through the `walls` around it."""

    relation: Literal["holding_tube"] = "holding_tube"
    fluid: Name
    walls: Annotated[list[Name], Field(min_length=1, max_length=10)]


Estimate = Annotated[
    CounterflowPlates
    | InsulatedPipe
    | DoublePipe
    | CrossFlow
    | HeatedDuct
    | Fins
    | Layers
    | CooledBody
    | MeltingFront
    | HoldingTube,
    Field(discriminator="relation"),
]
