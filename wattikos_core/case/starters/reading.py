"""What is read of starters: their lines, probes and views, written in their inputs."""

from __future__ import annotations

from typing import Any

Document = dict[str, Any]


def _straight(name: str, x0: str, y0: str, x1: str, y1: str) -> Document:
    return {"name": name, "along": {"type": "straight", "x0": x0, "y0": y0, "x1": x1, "y1": y1}}


def _surface(name: str, *boundaries: str) -> Document:
    return {"name": name, "along": {"type": "surface", "boundaries": list(boundaries)}}


def _centre(name: str, part: str) -> Document:
    return {"name": name, "along": {"type": "centre", "part": part}}


def _stations(name: str, part: str, count: int) -> Document:
    return {"name": name, "along": {"type": "stations", "part": part, "count": count}}


def _point(name: str, x: str, y: str) -> Document:
    return {"name": name, "at": {"type": "point", "x": x, "y": y}}


def _box(name: str, x0: str, y0: str, x1: str, y1: str) -> Document:
    return {"name": name, "at": {"type": "box", "x0": x0, "y0": y0, "x1": x1, "y1": y1}}


def _part(name: str) -> Document:
    return {"name": name, "at": {"type": "part", "part": name}}


READING: dict[str, Document] = {
    "plate_passage": {
        "lines": [
            _straight("across the middle", "length/2", "0 m", "length/2", "cold_height + plate + hot_height"),
            _surface("plate, hot side", "plate | hot"),
            _stations("along the hot stream", "hot", 8),
        ],
        "probes": [_point("middle of the plate", "length/2", "cold_height + plate/2")],
        "views": [
            {"name": "local coefficient", "lines": ["plate, hot side"], "plotted": "local h"},
            {"name": "profile across", "lines": ["across the middle"], "arrows": False},
        ],
    },
    "double_pipe": {
        "lines": [_surface("pipe, inside", "hot | pipe"), _stations("along the hot stream", "hot", 8)],
        "probes": [_part("pipe")],
        "views": [{"name": "local coefficient", "lines": ["pipe, inside"], "plotted": "local h"}],
    },
    "ripening_room": {
        "lines": [
            _straight("up through the stack", "width/2 + 0.2 m", "0 m", "width/2 + 0.2 m", "height"),
            _straight("under the ceiling", "0 m", "height - slot/2", "width", "height - slot/2"),
        ],
        "probes": [
            _point("bottom shelf", "width/2 + 0.2 m", "0.3 m"),
            _point("middle shelf", "width/2 + 0.2 m", "0.1 m + stack_height/2"),
            _point("top shelf", "width/2 + 0.2 m", "stack_height"),
            _box("aisle", "0.2 m", "0.2 m", "0.8 m", "1.8 m"),
        ],
        "views": [
            {"name": "speed and flow", "field": "speed"},
            {"name": "age of the air", "field": "age"},
            {"name": "up through the stack", "lines": ["up through the stack"], "arrows": False},
        ],
    },
    "feed_line": {
        "lines": [
            _straight("through the wall", "length/2", "0 m", "length/2", "bore/2 + wall + insulation"),
            _surface("cladding", "insulation, top"),
        ],
        "probes": [_point("cladding in the middle", "length/2", "bore/2 + wall + insulation")],
        "views": [{"name": "through the insulation", "lines": ["through the wall"], "arrows": False}],
    },
    "bundle_staggered": {
        "lines": [
            _surface("around tube 1", "whey | tube 1"),
            _straight(
                "behind the bundle", "upstream + columns*pitch_x", "0 m", "upstream + columns*pitch_x", "rows*pitch_y + pitch_y/2"
            ),
        ],
        "probes": [_part("tube 1")],
        "views": [
            {"name": "wakes", "field": "speed", "streamlines": "even", "arrows": False},
            {
                "name": "around the first tube",
                "lines": ["around tube 1"],
                "plotted": "local h",
                "streamlines": "even",
                "arrows": False,
            },
        ],
    },
    "bundle_module": {
        "lines": [_surface("around the lower tube", "whey | lower tube")],
        "probes": [_part("whey")],
        "views": [{"name": "lines of flow", "field": "speed", "streamlines": "even", "arrows": False}],
    },
    "rinse_heater": {
        "lines": [_surface("along the rod", "stream | rod"), _stations("along the stream", "stream", 8)],
        "probes": [_part("rod")],
        "views": [{"name": "where the rod is hot", "field": "temperature", "shown": "solids"}],
    },
    "holding_tube": {
        "lines": [_stations("along the tube", "product", 6), _centre("axis", "product")],
        "probes": [_part("product")],
        "views": [{"name": "age across", "field": "age", "lines": ["along the tube"], "plotted": "age"}],
    },
    "power_module": {
        "lines": [_straight("down through the chip", "0 m", "base_height + chip_height", "0 m", "-cooler_height")],
        "probes": [_part("chip"), _point("under the chip", "0 m", "0 m")],
        "views": [
            {"name": "where the kelvins go", "lines": ["down through the chip"]},
            {"name": "lines of one temperature", "look": "lines", "levels": 15},
        ],
    },
    "vane": {
        "lines": [_surface("suction side", "vane, suction side"), _surface("pressure side", "vane, pressure side")],
        "probes": [_part("vane")],
        "views": [{"name": "metal, in bands", "look": "bands", "levels": 10, "lines": ["suction side", "pressure side"]}],
    },
    "tank": {
        "lines": [_straight("up the middle", "width/2", "0 m", "width/2", "height")],
        "probes": [
            _point("under the lid", "width/2", "0.9*height"),
            _point("near the bottom", "width/2", "0.1*height"),
            _part("water"),
        ],
        "views": [
            {"name": "lines of flow", "streamlines": "even", "arrows": False},
            {"name": "up the middle", "lines": ["up the middle"], "arrows": False},
        ],
    },
    "silo": {
        "lines": [_centre("axis", "content")],
        "probes": [_part("content")],
        "views": [{"name": "in bands", "look": "bands", "levels": 8, "arrows": False}],
    },
    "ice_bank": {
        "lines": [
            _surface("tube in the store", "tube | store"),
            _straight("out from the tube", "length/2", "0 m", "length/2", "outer/2"),
        ],
        "probes": [_part("store")],
        "views": [{"name": "ice and water", "field": "liquid fraction", "arrows": False}],
    },
    "duct_start": {
        "lines": [_straight("across", "length/2", "0 m", "length/2", "gap")],
        "probes": [_point("middle of the duct", "length/2", "gap/2")],
        "views": [{"name": "profile", "field": "velocity x", "lines": ["across"], "plotted": "velocity x"}],
    },
    "cone_gap": {
        "lines": [_surface("housing", "oil | housing")],
        "probes": [_part("oil")],
        "views": [{"name": "swirl", "field": "swirl", "arrows": False}],
    },
    "plate_sink": {
        "lines": [
            _straight("up a fin", "fin/2", "0 m", "fin/2", "base + height"),
            _straight("along the base", "0 m", "base/2", "breadth", "base/2"),
        ],
        "probes": [_part("base"), _point("tip of the first fin", "fin/2", "base + height")],
        "views": [{"name": "in bands", "look": "bands", "levels": 10}],
    },
}
