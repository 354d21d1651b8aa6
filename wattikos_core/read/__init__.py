"""Reading a solution: integrals on boundaries, streams, the solved ledger, and fields for pictures."""

from wattikos_core.read.fields import FIELDS, cell_fields, flow_fields
from wattikos_core.read.frames import pack_frame, unpack_frame
from wattikos_core.read.fronts import front_distance
from wattikos_core.read.motion import heated_from_below
from wattikos_core.read.quantities import Definition, definition_of, quantity_names, watch_for
from wattikos_core.read.solved import solved_quantities
from wattikos_core.read.streams import Stream, streams_of

__all__ = [
    "FIELDS",
    "Definition",
    "Stream",
    "cell_fields",
    "definition_of",
    "flow_fields",
    "front_distance",
    "heated_from_below",
    "pack_frame",
    "quantity_names",
    "solved_quantities",
    "streams_of",
    "unpack_frame",
    "watch_for",
]
