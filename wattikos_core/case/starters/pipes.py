"""Round pipes: a pipe with layers around it, a double pipe, and a pipe with a heater rod in it."""

from __future__ import annotations

from wattikos_core.case.starters.building import (
    Starter,
    given,
    inlet,
    length,
    outlet,
    quantity,
    rectangle,
    sized,
    symmetry,
    temperature,
    wall,
)

FEED_LINE = Starter(
    "feed_line",
    "Insulated pipe",
    "A stream in a round pipe with wall and insulation, losing heat by convection and radiation: loss, outlet, cladding.",
    {
        "version": 6,
        "title": "Insulated feed line",
        "note": (
            "A pipe with glycol water in it, half a section about its axis: how much heat is lost, and how warm the cladding gets."
        ),
        "starter": "feed_line",
        "inputs": {
            "length": length("12 m", "pipe length", "1 m", "100 m"),
            "bore": length("20 mm", "bore", "8 mm", "60 mm"),
            "wall": length("2 mm", "pipe wall", "1 mm", "8 mm"),
            "insulation": length("25 mm", "insulation thickness", "2 mm", "150 mm"),
            "flow": given("mass_flow", "20 g/s", "flow", "2 g/s", "60 g/s"),
            "inlet": temperature("65 °C", "inlet temperature"),
            "ambient": temperature("15 °C", "ambient temperature"),
            "outer_h": given("heat_transfer_coefficient", "8 W/m²/K", "outer h"),
            "emissivity": given("ratio", "0.3", "cladding emissivity"),
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("stream", "propylene_glycol_40", "0 m", "0 m", "length", "bore/2"),
                rectangle("pipe", "stainless_304", "0 m", "bore/2", "length", "wall"),
                rectangle("insulation", "mineral_wool", "0 m", "bore/2 + wall", "length", "insulation"),
            ],
        },
        "conditions": [
            inlet("stream, left", "inlet", "developed", mass_flow="flow"),
            outlet("stream, right"),
            symmetry("stream, bottom"),
            wall(
                "insulation, top",
                thermal="convection_radiation",
                heat_transfer_coefficient="outer_h",
                ambient_temperature="ambient",
                emissivity="emissivity",
                surroundings_temperature="ambient",
            ),
            wall("pipe, left", "pipe, right", "insulation, left", "insulation, right"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("outlet_temperature", "stream"), quantity("heat_given_off", "stream")],
        "wanted": [
            {"key": quantity("outlet_temperature", "stream"), "target": "62 °C"},
            {"key": quantity("heat_given_off", "stream")},
            {"key": quantity("mean_temperature", "insulation, top")},
        ],
        "estimates": [{"relation": "insulated_pipe", "fluid": "stream", "layers": ["pipe", "insulation"]}],
        "sizing": sized("insulation", quantity("outlet_temperature", "stream"), "62 °C"),
    },
)

DOUBLE_PIPE = Starter(
    "double_pipe",
    "Double pipe",
    "A stream in a pipe and one in the annulus around it, counter- or parallel flow: duty, outlets, effectiveness, length.",
    {
        "version": 6,
        "title": "Double pipe cooler",
        "note": (
            "Warm water in the inner pipe, cold water in the annulus, half a section about the axis. The outer shell is left out: "
            "it is insulated. With counterflow 0 both streams enter at the left."
        ),
        "starter": "double_pipe",
        "inputs": {
            "length": length("2 m", "pipe length", "0.2 m", "20 m"),
            "bore": length("10 mm", "bore of the inner pipe", "4 mm", "40 mm"),
            "wall": length("1 mm", "pipe wall", "0.5 mm", "5 mm"),
            "gap": length("4 mm", "height of the annulus", "1 mm", "30 mm"),
            "hot_flow": given("mass_flow", "5 g/s", "hot flow", "0.5 g/s", "8 g/s"),
            "cold_flow": given("mass_flow", "8 g/s", "cold flow", "0.5 g/s", "20 g/s"),
            "hot_inlet": temperature("60 °C", "hot inlet temperature"),
            "cold_inlet": temperature("10 °C", "cold inlet temperature"),
            "counterflow": given("number", "1", "counterflow (1 yes, 0 no)"),
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("hot", "water", "0 m", "0 m", "length", "bore/2"),
                rectangle("pipe", "stainless_304", "0 m", "bore/2", "length", "wall"),
                rectangle("cold", "water", "0 m", "bore/2 + wall", "length", "gap"),
            ],
        },
        "conditions": [
            inlet("hot, left", "hot_inlet", mass_flow="hot_flow"),
            outlet("hot, right"),
            symmetry("hot, bottom"),
            inlet("cold, right", "cold_inlet", mass_flow="cold_flow", present="counterflow"),
            outlet("cold, left", "counterflow"),
            inlet("cold, left", "cold_inlet", mass_flow="cold_flow", present="1 - counterflow"),
            outlet("cold, right", "1 - counterflow"),
            wall("pipe, left", "pipe, right", "cold, top"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("outlet_temperature", "hot")],
        "wanted": [
            {"key": quantity("duty")},
            {"key": quantity("effectiveness"), "target": "0.5"},
            {"key": quantity("outlet_temperature", "hot")},
            {"key": quantity("outlet_temperature", "cold")},
        ],
        "estimates": [{"relation": "double_pipe", "hot": "hot", "cold": "cold", "wall": "pipe"}],
        "sizing": sized("length", quantity("effectiveness"), "0.5", "0.2 m", "20 m"),
    },
)

RINSE_HEATER = Starter(
    "rinse_heater",
    "Pipe with a heater rod",
    "A stream along an immersed heater rod with rings on it, in a pipe: outlet temperature, rod temperature, pressure drop.",
    {
        "version": 6,
        "title": "Rinse-water heater",
        "note": (
            "A heater rod in the middle of a pipe, half a section about the axis. Rings on the rod stir the water and shed heat."
        ),
        "starter": "rinse_heater",
        "inputs": {
            "pipe_length": length("500 mm", "pipe length", "200 mm", "2 m"),
            "bore": length("40 mm", "bore of the pipe", "20 mm", "100 mm"),
            "rod": length("14 mm", "rod diameter", "6 mm", "30 mm"),
            "rod_start": length("60 mm", "start of the rod"),
            "rod_length": length("320 mm", "rod length", "100 mm", "1 m"),
            "rings": given("number", "5", "number of rings", "1", "20"),
            "ring_height": length("4 mm", "ring height", "1 mm", "10 mm"),
            "ring_width": length("4 mm", "ring width", "1 mm", "10 mm"),
            "ring_pitch": length("60 mm", "ring pitch", "10 mm", "200 mm"),
            "power": given("power", "150 W", "heater power", "10 W", "2 kW"),
            "flow": given("mass_flow", "6 g/s", "flow", "1 g/s", "20 g/s"),
            "inlet": temperature("15 °C", "inlet temperature"),
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("stream", "water", "0 m", "0 m", "pipe_length", "bore/2"),
                rectangle("rod", "stainless_316", "rod_start", "0 m", "rod_length", "rod/2", heat="power"),
                rectangle(
                    "ring",
                    "stainless_316",
                    "rod_start + 35 mm",
                    "rod/2",
                    "ring_width",
                    "ring_height",
                    repeat={"pattern": "line", "count": "rings", "dx": "ring_pitch", "dy": "0 m"},
                ),
            ],
        },
        "conditions": [
            inlet("stream, left", "inlet", mass_flow="flow"),
            outlet("stream, right"),
            symmetry("stream, bottom", "rod, bottom"),
            wall("stream, top"),
        ],
        "grid": {"fineness": 0.5},
        "watches": [quantity("outlet_temperature", "stream"), quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("outlet_temperature", "stream"), "target": "20 °C"},
            {"key": quantity("hottest_metal"), "target": "95 °C", "sense": "at_most"},
            {"key": quantity("pressure_drop", "stream")},
            {"key": quantity("surface_h", "stream | rod")},
        ],
        "estimates": [
            {
                "relation": "heated_duct",
                "fluid": "stream",
                "gap": "(bore - rod)/2",
                "length": "rod_length",
                "breadth": "pi*rod",
                "heat": "power",
                "ratio": "rod/bore",
                "obstructed": True,
            }
        ],
        "sizing": sized("flow", quantity("outlet_temperature", "stream"), "20 °C"),
    },
)
