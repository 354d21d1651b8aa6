"""Reading a solution: integrals on boundaries, streams, the solved ledger, and fields for pictures."""

from wattikos_core.read.fields import FIELDS, cell_fields, flow_fields
from wattikos_core.read.frames import codes_of, pack_frame, unpack_frame, unpack_surfaces
from wattikos_core.read.fronts import front_distance
from wattikos_core.read.instant import Instant
from wattikos_core.read.interpolation import interpolant_of
from wattikos_core.read.lines import read_line
from wattikos_core.read.motion import heated_from_below
from wattikos_core.read.probes import probe_values
from wattikos_core.read.solved import solved_quantities
from wattikos_core.read.streamlines import even_streamlines, seeds_along, streamlines_from
from wattikos_core.read.streams import Stream, streams_of
from wattikos_core.read.surface_fields import surface_faces, surface_fields
from wattikos_core.read.watches import watch_for

__all__ = [
    "FIELDS",
    "Instant",
    "Stream",
    "cell_fields",
    "codes_of",
    "even_streamlines",
    "flow_fields",
    "front_distance",
    "heated_from_below",
    "interpolant_of",
    "pack_frame",
    "probe_values",
    "read_line",
    "seeds_along",
    "solved_quantities",
    "streamlines_from",
    "streams_of",
    "surface_faces",
    "surface_fields",
    "unpack_frame",
    "unpack_surfaces",
    "watch_for",
]
