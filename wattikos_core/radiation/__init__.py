"""Radiation between grey, diffuse surfaces of a cavity: pieces of its outline, view factors, exchange.

The entry for a cavity is `view_factors`, of a network of surfaces `net_radiation`.
"""

from wattikos_core.radiation.emitting import Emitting
from wattikos_core.radiation.exchange import STEFAN_BOLTZMANN, irradiation_matrix, net_radiation, with_reflections
from wattikos_core.radiation.outline import Mirror, Pieces, joined_faces, pieces_of, whole_pieces
from wattikos_core.radiation.repeating import modules_in_sight, views_of_module
from wattikos_core.radiation.view_factors import view_factors

__all__ = [
    "STEFAN_BOLTZMANN",
    "Emitting",
    "Mirror",
    "Pieces",
    "irradiation_matrix",
    "joined_faces",
    "modules_in_sight",
    "net_radiation",
    "pieces_of",
    "view_factors",
    "views_of_module",
    "whole_pieces",
    "with_reflections",
]
