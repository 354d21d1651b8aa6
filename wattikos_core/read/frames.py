"""Frames: the fields of one instant, compressed to sixteen bits a value.

Each value is kept to 1/65,534 of its field's range in the frame, rounded to the nearest: an error of at most 8e-6 of the
range. A frame of 10,000 cells with five fields takes about 50 kB.
"""

from __future__ import annotations

import io
from collections.abc import Mapping

import numpy as np

from wattikos_core.physics.faces import Array

_STEPS = 65_534
_NOTHING = 65_535


def pack_frame(fields: Mapping[str, Array]) -> bytes:
    """Fields by name as a compressed NumPy archive of codes and ranges."""
    arrays: dict[str, np.ndarray] = {}
    for name, values in fields.items():
        there = np.isfinite(values)
        low, high = (float(values[there].min()), float(values[there].max())) if there.any() else (0.0, 0.0)
        span = high - low if high > low else 1.0
        codes = np.full(values.shape, _NOTHING, dtype="<u2")
        codes[there] = np.rint((values[there] - low) / span * _STEPS)
        arrays[f"codes:{name}"], arrays[f"range:{name}"] = codes, np.array([low, high])
    buffer = io.BytesIO()
    np.savez_compressed(buffer, allow_pickle=False, **arrays)
    return buffer.getvalue()


def unpack_frame(data: bytes) -> dict[str, Array]:
    """The inverse of `pack_frame`; NaN where a field has no value."""
    fields: dict[str, Array] = {}
    with np.load(io.BytesIO(data), allow_pickle=False) as stored:
        for key in stored.files:
            if not key.startswith("codes:"):
                continue
            name = key.removeprefix("codes:")
            low, high = stored[f"range:{name}"]
            codes = stored[key]
            values = low + codes / _STEPS * (high - low if high > low else 1.0)
            fields[name] = np.where(codes == _NOTHING, np.nan, values)
    return fields
