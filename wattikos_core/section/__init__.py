"""Sections: shapes painted into regions, with boundary and interface names that survive a change of inputs."""

from wattikos_core.section.conditions import check_conditions, open_boundaries, symmetry_planes
from wattikos_core.section.paint import Boundary, PaintedSection, paint

__all__ = ["Boundary", "PaintedSection", "check_conditions", "open_boundaries", "paint", "symmetry_planes"]
