"""Sections: shapes painted into regions, with boundary and interface names that survive a change of inputs."""

from wattikos_core.section.checks import check_conditions, on_axis, open_boundaries, symmetry_planes, without_layers
from wattikos_core.section.paint import paint
from wattikos_core.section.painted import Boundary, Chain, PaintedSection, Tensor
from wattikos_core.section.rectangles import SIDES, side_names

__all__ = [
    "SIDES",
    "Boundary",
    "Chain",
    "PaintedSection",
    "Tensor",
    "check_conditions",
    "on_axis",
    "open_boundaries",
    "paint",
    "side_names",
    "symmetry_planes",
    "without_layers",
]
