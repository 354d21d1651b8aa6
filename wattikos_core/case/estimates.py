"""The hand calculations a case can carry: which relation, and what of the case it is bound to."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from wattikos_core.case.asking import Ask, RelationForm, fresh, questions_of
from wattikos_core.documents import Expression, Model
from wattikos_core.ledger import Key

# A name may still be missing: what is half entered can be saved, and is told in its row.
_Name = Annotated[str, Field(max_length=60)]
_Names = Annotated[list[_Name], Field(max_length=10)]

_ROUGHNESS = Ask("roughness of the walls", kind="length", title="equivalent sand roughness", empty="smooth")
_LOSSES = Ask("loss coefficients", kind="number", title="sum of those of inlet, outlet, bends and fittings", empty="none")


class HandCalculation(Model):
    """What all hand calculations share: whether it is reckoned with."""

    label: ClassVar[str]
    on: bool = True


class CounterflowPlates(HandCalculation):
    """Two streams on both sides of a plate, in counterflow or parallel: which part is which, and the walls' roughness (sand)."""

    label = "Two streams along a plate"
    relation: Literal["counterflow_plates"] = "counterflow_plates"
    hot: Annotated[_Name, Ask("hot stream", "part", state="fluid")]
    cold: Annotated[_Name, Ask("cold stream", "part", state="fluid")]
    wall: Annotated[_Name, Ask("plate between", "part", state="solid")]
    roughness: Annotated[Expression, _ROUGHNESS] = ""


class InsulatedPipe(HandCalculation):
    """A stream in a round pipe with layers around it, losing heat to the surroundings.

    Attributes:
        roughness: of the pipe inside (equivalent sand).
        losses: sum of the loss coefficients of inlet, outlet, bends and fittings.
    """

    label = "Pipe with layers around it"
    relation: Literal["insulated_pipe"] = "insulated_pipe"
    fluid: Annotated[_Name, Ask("stream", "part", state="fluid")]
    layers: Annotated[_Names, Ask("layers, from inside", "parts", state="solid")]
    roughness: Annotated[Expression, _ROUGHNESS] = ""
    losses: Annotated[Expression, _LOSSES] = ""


class DoublePipe(HandCalculation):
    """Two streams on both sides of a round pipe, one in it and one in the annulus around it; `roughness` of all walls (sand)."""

    label = "Double pipe"
    relation: Literal["double_pipe"] = "double_pipe"
    hot: Annotated[_Name, Ask("hot stream", "part", state="fluid")]
    cold: Annotated[_Name, Ask("cold stream", "part", state="fluid")]
    wall: Annotated[_Name, Ask("pipe between", "part", state="solid")]
    roughness: Annotated[Expression, _ROUGHNESS] = ""


class CrossFlow(HandCalculation):
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

    label = "Tubes, bars or a sphere across a stream"
    relation: Literal["cross_flow"] = "cross_flow"
    fluid: Annotated[_Name, Ask("stream", "part", state="fluid")]
    body: Annotated[_Name, Ask("body, with its copies", "part", state="solid")]
    diameter: Annotated[Expression, Ask("outside diameter", kind="length")]
    velocity: Annotated[Expression, Ask("velocity in the narrowest gap", kind="velocity")]
    count: Annotated[Expression, Ask("number of bodies", kind="number")] = "1"
    arrangement: Annotated[
        Literal["single", "in_line", "staggered"],
        Ask("arrangement", "choice", choices=(("single", "single"), ("in_line", "in line"), ("staggered", "staggered"))),
    ] = "single"
    inner_h: Annotated[Expression, Ask("h inside the tube", kind="heat_transfer_coefficient", empty="not heated from inside")] = ""
    inner_temperature: Annotated[Expression, Ask("temperature inside", kind="temperature", empty="not heated from inside")] = ""
    inner_diameter: Annotated[Expression, Ask("inside diameter", kind="length", empty="not heated from inside")] = ""
    wall: Annotated[Expression, Ask("surface temperature", kind="temperature", empty="follows")] = ""
    pitch_across: Annotated[
        Expression, Ask("pitch across the stream", kind="length", title="between middles", empty="no bundle")
    ] = ""
    pitch_along: Annotated[Expression, Ask("pitch along the stream", kind="length", title="between middles", empty="no bundle")] = (
        ""
    )
    rows: Annotated[Expression, Ask("rows behind each other", kind="number", empty="no bundle")] = ""


class ImpingingJet(HandCalculation):
    """A jet that strikes a wall at right angles, from a round nozzle or a slot; free of other jets and of a cross flow.

    Attributes:
        size: diameter of the nozzle, or width of the slot; `distance` of the wall from it.
        velocity: of what leaves the nozzle.
        reach: radius, or half breadth of the wall, from where the jet strikes it.
        area: of the wall; `heat` of it altogether, or `wall`, its temperature.
        surface: the interface or boundary it is.
    """

    label = "Jet onto a wall"
    relation: Literal["impinging_jet"] = "impinging_jet"
    fluid: Annotated[_Name, Ask("stream", "part", state="fluid")]
    surface: Annotated[_Name, Ask("surface it strikes", "boundary")]
    nozzle: Annotated[Literal["round", "slot"], Ask("nozzle", "choice", choices=(("round", "round"), ("slot", "slot")))] = "round"
    size: Annotated[Expression, Ask("diameter of the nozzle, or width of the slot", kind="length")]
    velocity: Annotated[Expression, Ask("velocity at the nozzle", kind="velocity")]
    distance: Annotated[Expression, Ask("distance from nozzle to wall", kind="length")]
    reach: Annotated[Expression, Ask("radius, or half breadth, of the wall", kind="length")]
    area: Annotated[Expression, Ask("area of the wall", kind="area", title="all that the section has of it")]
    heat: Annotated[Expression, Ask("heat rate of the wall", kind="power", empty="follows from its temperature")] = ""
    wall: Annotated[Expression, Ask("temperature of the wall", kind="temperature", empty="follows from the heat rate")] = ""


class HeatedDuct(HandCalculation):
    """A stream between two walls of which one or both heat it: by a known heat rate, or at a known temperature.

    Attributes:
        gap, length, breadth: height between the walls, length along the stream, and breadth of the walls.
        sides: walls that heat.
        heat: altogether; or `wall`, their temperature.
        ratio: inner over outer diameter of an annulus heated from inside; 1 for plates.
        surface: the interface or boundary the mean temperature is for.
        obstructed: rings or ribs stand in the stream: only its heat balance holds.
        roughness: of the walls (equivalent sand); `losses`: sum of the loss coefficients of inlet, outlet and bends.
        rib_height, rib_pitch: of ribs across a turbulent stream, on the walls that heat.
    """

    label = "Stream between heating walls"
    relation: Literal["heated_duct"] = "heated_duct"
    fluid: Annotated[_Name, Ask("stream", "part", state="fluid")]
    gap: Annotated[Expression, Ask("gap between the walls", kind="length")]
    length: Annotated[Expression, Ask("length along the stream", kind="length")]
    breadth: Annotated[
        Expression,
        Ask("breadth of the walls", kind="length", title="the depth of a flat section; the circumference of a round one"),
    ]
    sides: Annotated[Literal["one", "both"], Ask("walls that heat", "choice", choices=(("one", "one"), ("both", "both")))] = "one"
    heat: Annotated[Expression, Ask("heat rate of the walls", kind="power", empty="follows from their temperature")] = ""
    wall: Annotated[Expression, Ask("temperature of the walls", kind="temperature", empty="follows from the heat rate")] = ""
    ratio: Annotated[
        Expression, Ask("inner over outer diameter", kind="ratio", title="of an annulus heated from inside; 1 for plates")
    ] = "1"
    surface: Annotated[_Name, Ask("surface of the mean temperature", "boundary", empty="none")] = ""
    obstructed: Annotated[bool, Ask("rings or ribs stand in the stream", "switch", title="only the heat balance holds then")] = (
        False
    )
    roughness: Annotated[Expression, _ROUGHNESS] = ""
    losses: Annotated[Expression, _LOSSES] = ""
    rib_height: Annotated[
        Expression, Ask("height of ribs", kind="length", title="across a turbulent stream, on the walls that heat", empty="no ribs")
    ] = ""
    rib_pitch: Annotated[Expression, Ask("pitch of ribs", kind="length", title="between middles", empty="no ribs")] = ""


class OnTheWay(HandCalculation):
    """Screens, filters, beds and fans in a stream: what each takes or gives of its pressure.

    Attributes:
        area: where the stream enters.
        losses: sum of loss coefficients of all else, on the speed there.
    """

    label = "What stands in a stream"
    relation: Literal["on_the_way"] = "on_the_way"
    fluid: Annotated[_Name, Ask("stream", "part", state="fluid")]
    area: Annotated[Expression, Ask("area where it enters", kind="area")]
    losses: Annotated[Expression, _LOSSES] = ""


class Fins(HandCalculation):
    """A base with fins of one kind, all surfaces with one heat transfer coefficient; heat enters below the base.

    Attributes:
        fin, base: parts, for their materials.
        breadth: of a straight fin, along the base; none for others.
        inner_diameter: of what annular fins stand on; a hyperbolic one thins as one over its radius.
        bare: area of the base beside the fins.
        under, base_thickness: area the heat enters through, and what it crosses.
        surface: the boundary the heat enters by.
    """

    label = "Base with fins"
    relation: Literal["fins"] = "fins"
    kind: Annotated[
        Literal["straight", "pin", "annular", "annular_hyperbolic"],
        Ask(
            "kind of fin",
            "choice",
            choices=(
                ("straight", "straight"),
                ("pin", "pin"),
                ("annular", "annular"),
                ("annular_hyperbolic", "annular, thinning outwards"),
            ),
        ),
    ]
    fin: Annotated[_Name, Ask("part of a fin", "part", state="solid")]
    base: Annotated[_Name, Ask("part of the base", "part", state="solid")]
    height: Annotated[Expression, Ask("height of a fin", kind="length")]
    thickness: Annotated[Expression, Ask("thickness, or diameter of a pin", kind="length")]
    breadth: Annotated[Expression, Ask("breadth along the base", kind="length", empty="pins and annular fins")] = ""
    inner_diameter: Annotated[Expression, Ask("diameter annular fins stand on", kind="length", empty="other fins")] = ""
    count: Annotated[Expression, Ask("number of fins", kind="number")] = "1"
    bare: Annotated[Expression, Ask("area of the base beside the fins", kind="area")]
    under: Annotated[Expression, Ask("area the heat enters through", kind="area")]
    base_thickness: Annotated[Expression, Ask("thickness of the base", kind="length")]
    h: Annotated[Expression, Ask("h on all surfaces", kind="heat_transfer_coefficient")]
    ambient: Annotated[Expression, Ask("ambient temperature", kind="temperature")]
    heat: Annotated[Expression, Ask("heat rate that enters", kind="power")]
    surface: Annotated[_Name, Ask("boundary the heat enters by", "boundary")]


class Layer(Model):
    """A layer heat passes: a part's material, or a resistance, over an area.

    Attributes:
        narrow: the area when heat spreads by no more than 45°; as `area` when empty.
        height: of a gap whose fluid stirs itself, with `thickness` its width; empty where nothing moves. Where its warm side
            is follows from its neighbours and from gravity.
        emissivity: of the sides of a gap that radiation crosses; `emissivity_beyond` of the far one where it has another.
    """

    part: Annotated[_Name, Ask("part", "part", empty="a resistance")] = ""
    thickness: Annotated[Expression, Ask("thickness", kind="length", empty="a resistance")] = ""
    resistance: Annotated[Expression, Ask("resistance", kind="contact_resistance", empty="of the part")] = ""
    area: Annotated[Expression, Ask("area", kind="area")]
    narrow: Annotated[
        Expression, Ask("narrow area", kind="area", title="where heat spreads by no more than 45°", empty="the area")
    ] = ""
    height: Annotated[
        Expression, Ask("height of the gap", kind="length", title="of a fluid that stirs itself", empty="nothing moves")
    ] = ""
    emissivity: Annotated[Expression, Ask("emissivity", kind="ratio", title="of the sides of a gap", empty="no radiation")] = ""
    emissivity_beyond: Annotated[
        Expression, Ask("emissivity of the far side", kind="ratio", title="of a gap", empty="the same")
    ] = ""


class Layers(HandCalculation):
    """A heat rate, or a difference of temperatures, through layers in series to surroundings with an h (none when empty).

    Attributes:
        heat: entering; or `hot`, the temperature on the near side.
        key: of the quantity of the ledger that is the near side's temperature, or the heat rate when `hot` is given.
        outside: shape for the free convection of air after the last layer, where `h` is empty; `outside_size` its height,
            diameter, or area over perimeter.
    """

    label = "Layers in series"
    relation: Literal["layers"] = "layers"
    heat: Annotated[Expression, Ask("heat rate that enters", kind="power", empty="follows")] = ""
    hot: Annotated[Expression, Ask("temperature of the near side", kind="temperature", empty="follows from the heat rate")] = ""
    layers: Annotated[list[Layer], Field(max_length=20), Ask("layers", "layers")]
    h: Annotated[Expression, Ask("h outside", kind="heat_transfer_coefficient", empty="none, or free convection")] = ""
    h_area: Annotated[Expression, Ask("area outside", kind="area", empty="that of the last layer")] = ""
    h_narrow: Annotated[Expression, Ask("narrow area outside", kind="area", empty="the area")] = ""
    outside: Annotated[
        Literal["", "upright_plate", "lying_cylinder", "sphere", "plate_facing_up", "plate_facing_down"],
        Ask(
            "free convection outside",
            "choice",
            choices=(
                ("", "none"),
                ("upright_plate", "upright plate"),
                ("lying_cylinder", "lying cylinder"),
                ("sphere", "sphere"),
                ("plate_facing_up", "plate facing up"),
                ("plate_facing_down", "plate facing down"),
            ),
        ),
    ] = ""
    outside_size: Annotated[
        Expression, Ask("its size", kind="length", title="height, diameter, or area over perimeter", empty="no free convection")
    ] = ""
    cold: Annotated[Expression, Ask("temperature of the far side", kind="temperature")]
    key: Annotated[Key | None, Ask("the quantity it gives", "quantity")] = None


class CooledBody(HandCalculation):
    """A well-conducting body between a hot gas outside and coolant in passages: its mean temperature and heat rate.

    Attributes:
        inner_flow, inner_specific_heat: of all coolant, where it is to warm along its passages.
    """

    label = "Body between a gas and coolant"
    relation: Literal["cooled_body"] = "cooled_body"
    body: Annotated[_Name, Ask("body", "part", state="solid")]
    outer_h: Annotated[Expression, Ask("h outside", kind="heat_transfer_coefficient")]
    outer_temperature: Annotated[Expression, Ask("temperature outside", kind="temperature")]
    outer_perimeter: Annotated[Expression, Ask("perimeter outside", kind="length")]
    inner_h: Annotated[Expression, Ask("h in the passages", kind="heat_transfer_coefficient")]
    inner_temperature: Annotated[Expression, Ask("temperature of the coolant", kind="temperature")]
    inner_perimeter: Annotated[Expression, Ask("perimeter of the passages", kind="length")]
    inner_flow: Annotated[Expression, Ask("flow of all coolant", kind="mass_flow", empty="it does not warm")] = ""
    inner_specific_heat: Annotated[Expression, Ask("its specific heat", kind="specific_heat", empty="it does not warm")] = ""


class MeltingFront(HandCalculation):
    """A body that melts or freezes from a flat wall held at a temperature, or around a tube with a coolant in it.

    Attributes:
        wall: temperature of the wall, or of the coolant; `start` of the body at the beginning.
        time: after which front and heat are wanted.
        depth: of the body from the wall, `area` of the wall.
        radius: outer radius of a tube; a flat wall where empty. `h` from the coolant to the tube's outside, perfect where empty.
    """

    label = "Front of melting or freezing"
    relation: Literal["melting_front"] = "melting_front"
    part: Annotated[_Name, Ask("part that melts or freezes", "part")]
    wall: Annotated[Expression, Ask("temperature of the wall or coolant", kind="temperature")]
    start: Annotated[Expression, Ask("temperature at the beginning", kind="temperature")]
    time: Annotated[Expression, Ask("time after which it is wanted", kind="time")]
    depth: Annotated[Expression, Ask("depth of the part from the wall", kind="length")]
    area: Annotated[Expression, Ask("area of the wall", kind="area")]
    radius: Annotated[Expression, Ask("outer radius of the tube", kind="length", empty="a flat wall")] = ""
    h: Annotated[Expression, Ask("h from coolant to the tube's outside", kind="heat_transfer_coefficient", empty="perfect")] = ""


class HoldingTube(HandCalculation):
    """A stream that is to stay in a round tube for a time, and loses heat through the `walls` around it."""

    label = "Holding tube"
    relation: Literal["holding_tube"] = "holding_tube"
    fluid: Annotated[_Name, Ask("stream", "part", state="fluid")]
    walls: Annotated[_Names, Ask("walls, from inside", "parts", state="solid")]


class RadiatingEnclosure(HandCalculation):
    """Surfaces around a gas that radiate to each other, each at one temperature."""

    label = "Enclosure of radiating surfaces"
    relation: Literal["radiating_enclosure"] = "radiating_enclosure"
    gas: Annotated[_Name, Ask("gas between them", "part", state="fluid")]


class MixedRoom(HandCalculation):
    """A ventilated room in which air is fully mixed: what enters, what is released, and what its walls let through.

    Attributes:
        film: from the air of the room to its walls.
    """

    label = "Ventilated room, fully mixed"
    relation: Literal["mixed_room"] = "mixed_room"
    room: Annotated[_Name, Ask("room", "part", state="fluid")]
    film: Annotated[Expression, Ask("h from its air to the walls", kind="heat_transfer_coefficient", empty="perfect")] = ""


Estimate = Annotated[
    CounterflowPlates
    | InsulatedPipe
    | DoublePipe
    | CrossFlow
    | ImpingingJet
    | HeatedDuct
    | OnTheWay
    | Fins
    | Layers
    | CooledBody
    | MeltingFront
    | HoldingTube
    | RadiatingEnclosure
    | MixedRoom,
    Field(discriminator="relation"),
]

RELATIONS: tuple[type[HandCalculation], ...] = (
    CounterflowPlates,
    DoublePipe,
    InsulatedPipe,
    HoldingTube,
    HeatedDuct,
    OnTheWay,
    MixedRoom,
    CrossFlow,
    ImpingingJet,
    Fins,
    Layers,
    RadiatingEnclosure,
    CooledBody,
    MeltingFront,
)


def relation_forms() -> list[RelationForm]:
    """All hand calculations that can be chosen, with what they ask."""
    return [
        RelationForm(
            relation=model.model_fields["relation"].default,
            label=model.label,
            summary=(model.__doc__ or "").partition("\n")[0].partition(";")[0].rstrip("."),
            questions=questions_of(model),
            fresh=fresh(model),
        )
        for model in RELATIONS
    ]
