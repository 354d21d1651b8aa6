"""Finned sinks: with a heat transfer coefficient, and with the air between the fins."""

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

PLATE_SINK = Starter(
    "plate_sink",
    "Plate-fin sink",
    "A base with straight fins, heat from below and one h on all surfaces: base temperature, fin efficiency, number of fins.",
    {
        "version": 6,
        "title": "Plate-fin sink",
        "note": "Cut across the fins. All surfaces in the air have one heat transfer coefficient.",
        "starter": "plate_sink",
        "inputs": {
            "fins": given("number", "8", "number of fins", "2", "40"),
            "fin": length("2 mm", "fin thickness", "0.5 mm", "6 mm"),
            "height": length("30 mm", "fin height", "5 mm", "100 mm"),
            "breadth": length("80 mm", "base breadth", "20 mm", "400 mm"),
            "base": length("6 mm", "base thickness", "2 mm", "20 mm"),
            "depth": length("100 mm", "fin length"),
            "power": given("power", "60 W", "heat into the base"),
            "film": given("heat_transfer_coefficient", "25 W/m²/K", "h"),
            "ambient": temperature("30 °C", "air temperature"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [
                rectangle("base", "aluminium", "0 m", "0 m", "breadth", "base"),
                rectangle(
                    "fin",
                    "aluminium",
                    "0 m",
                    "base",
                    "fin",
                    "height",
                    repeat={"pattern": "line", "count": "fins", "dx": "(breadth - fin)/(fins - 1)", "dy": "0 m"},
                ),
            ],
        },
        "conditions": [
            wall("base, bottom", thermal="heat_rate", heat_rate="power"),
            wall(
                "base, top",
                "base, left",
                "base, right",
                "fin, left",
                "fin, right",
                "fin, top",
                thermal="convection",
                heat_transfer_coefficient="film",
                ambient_temperature="ambient",
            ),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("mean_temperature", "base, bottom"), "target": "75 °C", "sense": "at_most"},
            {"key": quantity("hottest_metal")},
        ],
        "estimates": [
            {
                "relation": "fins",
                "kind": "straight",
                "fin": "fin",
                "base": "base",
                "height": "height",
                "thickness": "fin",
                "breadth": "depth",
                "count": "fins",
                "bare": "(breadth - fins*fin + 2*base)*depth",
                "under": "breadth*depth",
                "base_thickness": "base",
                "h": "film",
                "ambient": "ambient",
                "heat": "power",
                "surface": "base, bottom",
            }
        ],
        "sizing": sized("height", quantity("mean_temperature", "base, bottom"), "75 °C", sense="at_most"),
    },
)

PIN_SINK = Starter(
    "pin_sink",
    "Pin fin",
    "One pin of a pin-fin sink with its share of the base, about its axis, with one h on all surfaces.",
    {
        "version": 6,
        "title": "Pin of a pin-fin sink",
        "note": "The share of the base is a disc of the same area as a square of one pitch.",
        "starter": "pin_sink",
        "inputs": {
            "pin": length("4 mm", "pin diameter", "1 mm", "12 mm"),
            "height": length("35 mm", "pin height", "5 mm", "100 mm"),
            "pitch": length("9 mm", "pitch of the pins", "3 mm", "40 mm"),
            "base": length("5 mm", "base thickness", "2 mm", "20 mm"),
            "power": given("power", "1 W", "heat of one pitch"),
            "film": given("heat_transfer_coefficient", "40 W/m²/K", "h"),
            "ambient": temperature("30 °C", "air temperature"),
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("base", "aluminium", "-base", "0 m", "base", "pitch/sqrt(pi)"),
                rectangle("pin", "aluminium", "0 m", "0 m", "height", "pin/2"),
            ],
        },
        "conditions": [
            wall("base, left", thermal="heat_rate", heat_rate="power"),
            symmetry("base, bottom", "pin, bottom", "base, top"),
            wall(
                "base, right",
                "pin, top",
                "pin, right",
                thermal="convection",
                heat_transfer_coefficient="film",
                ambient_temperature="ambient",
            ),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("mean_temperature", "base, left"), "target": "80 °C", "sense": "at_most"},
            {"key": quantity("hottest_metal")},
        ],
        "estimates": [
            {
                "relation": "fins",
                "kind": "pin",
                "fin": "pin",
                "base": "base",
                "height": "height",
                "thickness": "pin",
                "bare": "pitch^2 - pi*pin^2/4",
                "under": "pitch^2",
                "base_thickness": "base",
                "h": "film",
                "ambient": "ambient",
                "heat": "power",
                "surface": "base, left",
            }
        ],
        "sizing": sized("height", quantity("mean_temperature", "base, left"), "80 °C", sense="at_most"),
    },
)

FINNED_TUBE = Starter(
    "finned_tube",
    "Finned tube",
    "One annular fin on its piece of a tube, about the axis, with one h outside: temperature of the bore, heat of a pitch.",
    {
        "version": 6,
        "title": "Finned tube of a drying room",
        "note": "One pitch between two planes of symmetry; steam in the tube gives its heat evenly.",
        "starter": "finned_tube",
        "inputs": {
            "tube": length("25 mm", "outside diameter of the tube", "8 mm", "100 mm"),
            "wall": length("2 mm", "tube wall", "0.5 mm", "8 mm"),
            "height": length("12 mm", "fin height", "2 mm", "60 mm"),
            "fin": length("0.5 mm", "fin thickness", "0.2 mm", "5 mm"),
            "pitch": length("4 mm", "pitch of the fins", "1 mm", "30 mm"),
            "power": given("power", "10 W", "heat of one pitch"),
            "film": given("heat_transfer_coefficient", "55 W/m²/K", "h outside"),
            "ambient": temperature("35 °C", "air temperature"),
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("tube", "copper", "0 m", "tube/2 - wall", "pitch", "wall"),
                rectangle("fin", "aluminium", "(pitch - fin)/2", "tube/2", "fin", "height"),
            ],
        },
        "conditions": [
            wall("tube, bottom", thermal="heat_rate", heat_rate="power"),
            symmetry("tube, left", "tube, right"),
            wall(
                "tube, top",
                "fin, left",
                "fin, right",
                "fin, top",
                thermal="convection",
                heat_transfer_coefficient="film",
                ambient_temperature="ambient",
            ),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("mean_temperature", "tube, bottom"), "target": "90 °C", "sense": "at_most"},
            {"key": quantity("coldest_metal")},
        ],
        "estimates": [
            {
                "relation": "fins",
                "kind": "annular",
                "fin": "fin",
                "base": "tube",
                "height": "height",
                "thickness": "fin",
                "inner_diameter": "tube",
                "bare": "pi*tube*(pitch - fin)",
                "under": "pi*(tube - 2*wall)*pitch",
                "base_thickness": "wall",
                "h": "film",
                "ambient": "ambient",
                "heat": "power",
                "surface": "tube, bottom",
            }
        ],
        "sizing": sized("height", quantity("mean_temperature", "tube, bottom"), "90 °C", sense="at_most"),
    },
)

FIN_CHANNEL = Starter(
    "fin_channel",
    "Air between two fins",
    "The passage between two heated fins, cut along the air: outlet and fin temperatures, h, pressure drop.",
    {
        "version": 6,
        "title": "Air between two fins",
        "note": "One passage of a plate-fin sink with half a fin on both sides; the fins' heat is a source in them.",
        "starter": "fin_channel",
        "inputs": {
            "length": length("100 mm", "fin length along the air", "20 mm", "400 mm"),
            "gap": length("3 mm", "gap between fins", "1 mm", "12 mm"),
            "fin": length("1 mm", "fin thickness", "0.3 mm", "5 mm"),
            "height": length("40 mm", "fin height", note="depth of the section"),
            "power": given("power", "5 W", "heat into the passage"),
            "velocity": given("velocity", "2 m/s", "air velocity", "0.2 m/s", "5 m/s"),
            "inlet": temperature("25 °C", "air inlet temperature"),
        },
        "section": {
            "extent": "flat",
            "depth": "height",
            "parts": [
                rectangle("lower fin", "aluminium", "0 m", "-fin/2", "length", "fin/2", heat="power/2"),
                rectangle("air", "air", "0 m", "0 m", "length", "gap"),
                rectangle("upper fin", "aluminium", "0 m", "gap", "length", "fin/2", heat="power/2"),
            ],
        },
        "conditions": [
            inlet("air, left", "inlet", velocity="velocity"),
            outlet("air, right"),
            symmetry("lower fin, bottom", "upper fin, top"),
            wall("lower fin, left", "lower fin, right", "upper fin, left", "upper fin, right"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("outlet_temperature", "air"), quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("hottest_metal"), "target": "60 °C", "sense": "at_most"},
            {"key": quantity("mean_temperature", "lower fin | air")},
            {"key": quantity("outlet_temperature", "air")},
            {"key": quantity("pressure_drop", "air")},
        ],
        "estimates": [
            {
                "relation": "heated_duct",
                "fluid": "air",
                "gap": "gap",
                "length": "length",
                "breadth": "height",
                "sides": "both",
                "heat": "power",
                "surface": "lower fin | air",
            }
        ],
        "sizing": sized("velocity", quantity("hottest_metal"), "60 °C", sense="at_most"),
    },
)
