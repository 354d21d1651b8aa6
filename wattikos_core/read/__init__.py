"""Reading a solution: integrals on boundaries, streams, the solved ledger, and fields for pictures."""

from wattikos_core.read.fields import FIELDS, cell_fields, flow_fields
from wattikos_core.read.frames import pack_frame, unpack_frame
from wattikos_core.read.fronts import front_distance
from wattikos_core.read.motion import heated_from_below
from wattikos_core.read.solved import solved_quantities
from wattikos_core.read.streams import Stream, streams_of
from wattikos_core.read.watches import watch_for

__all__ = [
    "FIELDS",
    "Stream",
    "cell_fields",
    "flow_fields",
    "front_distance",
    "heated_from_below",
    "pack_frame",
    "solved_quantities",
    "streams_of",
    "unpack_frame",
    "watch_for",
]
