"""What is read of every run of a case, as it stands in the document: named lines, probes, and views of the drawing."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wattikos_core.case.comfort import Comfort
from wattikos_core.documents import Expression, Model, Name


class StraightLine(Model):
    """From one place to another."""

    type: Literal["straight"] = "straight"
    x0: Expression
    y0: Expression
    x1: Expression
    y1: Expression


class ArcLine(Model):
    """A piece of a circle about (x, y), from one direction (anticlockwise from that of x) to another."""

    type: Literal["arc"] = "arc"
    x: Expression
    y: Expression
    radius: Expression
    begin: Expression = "0 deg"
    end: Expression = "360 deg"


class SurfaceLine(Model):
    """Along boundaries and interfaces, read on the side of one part (that which flows when empty)."""

    type: Literal["surface"] = "surface"
    boundaries: Annotated[list[Name], Field(min_length=1, max_length=40)]
    side: Annotated[str, Field(max_length=60)] = ""


class CentreLine(Model):
    """Along the middle of a part, the longer way; along the axis for one that reaches it."""

    type: Literal["centre"] = "centre"
    part: Name


class StationLines(Model):
    """A row of lines across a part, evenly spaced along its longer way: profiles, and bulk values along the stream."""

    type: Literal["stations"] = "stations"
    part: Name
    count: Annotated[int, Field(ge=2, le=60)] = 5


Along = Annotated[StraightLine | ArcLine | SurfaceLine | CentreLine | StationLines, Field(discriminator="type")]


class ReadLine(Model):
    """A line of the case that is read in every run.

    Attributes:
        along: where it lies.
    """

    name: Name
    along: Along


class AtPoint(Model):
    """One place."""

    type: Literal["point"] = "point"
    x: Expression
    y: Expression


class InBox(Model):
    """All between two corners."""

    type: Literal["box"] = "box"
    x0: Expression
    y0: Expression
    x1: Expression
    y1: Expression


class InPart(Model):
    """All of a part."""

    type: Literal["part"] = "part"
    part: Name


class Probe(Model):
    """A place of the case that is read in every run."""

    name: Name
    at: Annotated[AtPoint | InBox | InPart, Field(discriminator="type")]


class View(Model):
    """How a run is looked at: kept by name, for later runs and the report.

    Attributes:
        field: that lies in the drawing.
        look: smooth, in bands, or as labelled lines; `levels` of the latter two.
        colours: name of a colour map; that of the field's kind when empty.
        middle: value about which a diverging map is centred, SI.
        low, high: ends of the colour range, SI; those of the field when None.
        band: two values, SI, outside of which all is grey; none when empty.
        shown: all parts, or only solids or fluids.
        streamlines: how they begin; `spacing` of even ones, as a share of the drawing's width; `seed` is the line or boundary that
            others begin at.
        lines: that are plotted, `plotted` the field that is.
        walls: what is drawn on the walls.
        time: of the frame, s; the last one when None.
        zoom: x0, y0, x1, y1 of what is in view, m; all when empty.
        printed: whether the report has it.
    """

    name: Name
    field: Annotated[str, Field(max_length=60)] = "temperature"
    look: Literal["smooth", "bands", "lines"] = "smooth"
    levels: Annotated[int, Field(ge=2, le=60)] = 10
    colours: Annotated[str, Field(max_length=20)] = ""
    middle: float | None = None
    low: float | None = None
    high: float | None = None
    band: Annotated[list[float], Field(max_length=2)] = []
    shown: Literal["all", "solids", "fluids"] = "all"
    arrows: bool = True
    streamlines: Literal["none", "even", "line", "point"] = "none"
    seed: Annotated[str, Field(max_length=200)] = ""
    spacing: Annotated[float, Field(ge=0.003, le=0.5)] = 0.03
    lines: Annotated[list[Name], Field(max_length=40)] = []
    plotted: Annotated[str, Field(max_length=60)] = ""
    walls: Literal["", "heat flux into it", "heat flux radiated", "friction", "local h", "local Nusselt number", "y⁺"] = ""
    time: float | None = None
    zoom: Annotated[list[float], Field(max_length=4)] = []
    printed: bool = False


class Reading(Model):
    """Lines, probes and views of a case; a solution does not depend on them.

    Attributes:
        balances: whether they are in the report.
        comfort: people at the probes; nobody when None.
    """

    lines: Annotated[list[ReadLine], Field(max_length=40)] = []
    probes: Annotated[list[Probe], Field(max_length=40)] = []
    views: Annotated[list[View], Field(max_length=40)] = []
    balances: bool = False
    comfort: Comfort | None = None
