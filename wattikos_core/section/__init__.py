"""Sections: shapes painted into regions, with boundary and interface names that survive a change of inputs."""

from wattikos_core.section.bodies import Body, bodies_in_streams, entering_part
from wattikos_core.section.checks import check_conditions, on_axis, open_boundaries, symmetry_planes, without_layers
from wattikos_core.section.measures import contains, volumes
from wattikos_core.section.paint import paint
from wattikos_core.section.painted import Boundary, Chain, PaintedSection, Tensor
from wattikos_core.section.rectangles import SIDES, side_names

__all__ = [
    "SIDES",
    "Body",
    "Boundary",
    "Chain",
    "PaintedSection",
    "Tensor",
    "bodies_in_streams",
    "check_conditions",
    "contains",
    "entering_part",
    "on_axis",
    "open_boundaries",
    "paint",
    "side_names",
    "symmetry_planes",
    "volumes",
    "without_layers",
]
