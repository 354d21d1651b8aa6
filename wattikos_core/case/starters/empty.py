"""A section with nothing in it: what it is of is drawn."""

from __future__ import annotations

from wattikos_core.case.starters.building import Starter

EMPTY = Starter(
    "empty",
    "Empty section",
    "Nothing in it yet: draw parts, give them materials and conditions, and solve.",
    {
        "version": 6,
        "title": "New section",
        "starter": "empty",
        "inputs": {},
        "section": {"extent": "flat", "depth": "1 m", "parts": []},
    },
)
