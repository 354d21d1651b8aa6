"""Fluid in a gap: a conical one that is flowed through, and closed ones."""

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
    temperature,
    wall,
)

_SLOPE = "sqrt(length^2 + (large - small)^2/4)"

CONE_GAP = Starter(
    "cone_gap",
    "Cone gap",
    "A viscous stream through the gap between a turning cone and its heated housing: outlet temperature, torque, friction heat.",
    {
        "version": 6,
        "title": "Butter-oil cone gap",
        "note": (
            "Oil flows between a cone that turns and a housing held at a temperature outside, half a section about the axis. "
            "Friction heats the oil; the hand calculation leaves the turning out."
        ),
        "starter": "cone_gap",
        "inputs": {
            "length": length("80 mm", "length", "20 mm", "400 mm"),
            "small": length("20 mm", "small diameter of the cone", "5 mm", "100 mm"),
            "large": length("60 mm", "large diameter of the cone", "10 mm", "300 mm"),
            "gap": length("2 mm", "gap, measured along the radius", "0.3 mm", "10 mm"),
            "housing": length("4 mm", "housing thickness"),
            "flow": given("mass_flow", "8 g/s", "flow", "0.5 g/s", "50 g/s"),
            "inlet": temperature("40 °C", "oil inlet temperature"),
            "jacket": temperature("85 °C", "temperature outside the housing"),
            "speed": given("angular_velocity", "300 rpm", "angular velocity of the cone", "0 rpm", "3000 rpm"),
        },
        "materials": {
            "butter oil": {
                "base": "thermal_oil",
                "density": "910 kg/m^3",
                "specific_heat": "2100 J/kg/K",
                "viscosity": "40 mPa*s",
                "conductivity": "0.17 W/m/K",
            }
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                {
                    "name": "oil",
                    "material": "butter oil",
                    "shape": {
                        "type": "polygon",
                        "points": [
                            ["0 m", "small/2"],
                            ["length", "large/2"],
                            ["length", "large/2 + gap"],
                            ["0 m", "small/2 + gap"],
                        ],
                    },
                },
                {
                    "name": "housing",
                    "material": "stainless_316",
                    "shape": {
                        "type": "polygon",
                        "points": [
                            ["0 m", "small/2 + gap"],
                            ["length", "large/2 + gap"],
                            ["length", "large/2 + gap + housing"],
                            ["0 m", "small/2 + gap + housing"],
                        ],
                    },
                },
            ],
        },
        "conditions": [
            inlet("oil, side 4", "inlet", mass_flow="flow", profile="developed"),
            outlet("oil, side 2"),
            wall("oil, side 1", angular_velocity="speed"),
            wall("housing, side 2", "housing, side 4"),
            wall("housing, side 3", thermal="temperature", temperature="jacket"),
        ],
        "physics": {"friction_heat": True},
        "grid": {"fineness": 1.0},
        "watches": [quantity("outlet_temperature", "oil"), quantity("torque_to_turn", "oil, side 1")],
        "wanted": [
            {"key": quantity("outlet_temperature", "oil"), "target": "60 °C"},
            {"key": quantity("torque_to_turn", "oil, side 1")},
            {"key": quantity("power_to_turn", "oil, side 1")},
            {"key": quantity("heat_gained", "oil")},
            {"key": quantity("pressure_drop", "oil"), "target": "20 kPa", "sense": "at_most"},
            {"key": quantity("h", "oil")},
        ],
        "estimates": [
            {
                "relation": "heated_duct",
                "fluid": "oil",
                "gap": f"gap*length/{_SLOPE}",
                "length": _SLOPE,
                "breadth": "pi*((small + large)/2 + gap)",
                "wall": "jacket",
            }
        ],
        "sizing": sized("flow", quantity("outlet_temperature", "oil"), "60 °C"),
    },
)

CAVITY = Starter(
    "cavity",
    "Closed gap",
    "A closed gap of air or liquid between a warm and a cold plate: heat through it, whether its fluid rests or stirs itself.",
    {
        "version": 6,
        "title": "Closed gap of a cabinet wall",
        "note": "Without gravity (Solve) the fluid is at rest: right for narrow gaps and small differences of temperature.",
        "starter": "cavity",
        "inputs": {
            "height": length("200 mm", "height", "20 mm", "2 m"),
            "gap": length("16 mm", "gap", "2 mm", "60 mm"),
            "plate": length("1 mm", "plate thickness", "0.5 mm", "10 mm"),
            "depth": length("500 mm", "depth"),
            "warm": temperature("35 °C", "warm side"),
            "cold": temperature("5 °C", "cold side"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [
                rectangle("warm plate", "stainless_304", "-plate", "0 m", "plate", "height"),
                rectangle("air", "air", "0 m", "0 m", "gap", "height"),
                rectangle("cold plate", "stainless_304", "gap", "0 m", "plate", "height"),
            ],
        },
        "conditions": [
            wall("warm plate, left", thermal="temperature", temperature="warm"),
            wall("cold plate, right", thermal="temperature", temperature="cold"),
            wall(*(f"{part}, {edge}" for part in ("warm plate", "air", "cold plate") for edge in ("top", "bottom"))),
        ],
        "physics": {"gravity_y": "-9.81 m/s^2"},
        "grid": {"fineness": 1.0},
        "watches": [quantity("heat_between", "warm plate", "air")],
        "wanted": [
            {"key": quantity("heat_between", "warm plate", "air"), "target": "10 W", "sense": "at_most"},
            {"key": quantity("mean_temperature", "warm plate | air")},
            {"key": quantity("rayleigh_number", "air")},
        ],
        "estimates": [
            {
                "relation": "layers",
                "hot": "warm",
                "cold": "cold",
                "layers": [
                    {"part": "warm plate", "thickness": "plate", "area": "height*depth"},
                    {"part": "air", "thickness": "gap", "area": "height*depth", "height": "height"},
                    {"part": "cold plate", "thickness": "plate", "area": "height*depth"},
                ],
                "key": quantity("heat_between", "warm plate", "air"),
            }
        ],
        "sizing": sized("gap", quantity("heat_between", "warm plate", "air"), "10 W", sense="at_most"),
    },
)

_WHOLE = "depth*height"
_LAYERS = ("liner", "inner gap", "shield", "outer gap", "cladding")

OVEN_WALL = Starter(
    "oven_wall",
    "Oven wall",
    "Sheets with air between them whose surfaces radiate: heat through the wall, temperature of its cladding, what a shield saves.",
    {
        "version": 6,
        "title": "Wall of a drying oven",
        "note": "Air rises and falls in both gaps while their sheets radiate to each other. Bright sheets hold more heat back.",
        "starter": "oven_wall",
        "inputs": {
            "height": length("500 mm", "height", "100 mm", "2 m"),
            "depth": length("800 mm", "depth"),
            "gap": length("25 mm", "width of each gap", "5 mm", "60 mm"),
            "sheet": length("1 mm", "sheet thickness", "0.5 mm", "3 mm"),
            "oven": temperature("220 °C", "oven air"),
            "inside": given("heat_transfer_coefficient", "20 W/m^2/K", "film inside"),
            "room": temperature("22 °C", "room"),
            "outside": given("heat_transfer_coefficient", "11 W/m^2/K", "film outside, radiation included"),
            "emissivity": given("ratio", "0.4", "emissivity of liner and cladding", "0.05", "0.95"),
            "shield_emissivity": given("ratio", "0.1", "emissivity of the shield", "0.05", "0.95"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [
                rectangle("liner", "stainless_304", "-sheet", "0 m", "sheet", "height"),
                rectangle(
                    "inner gap",
                    "air",
                    "0 m",
                    "0 m",
                    "gap",
                    "height",
                    radiation={
                        "emissivity": "emissivity",
                        "surfaces": [{"surface": "inner gap | shield", "emissivity": "shield_emissivity"}],
                    },
                ),
                rectangle("shield", "aluminium", "gap", "0 m", "sheet", "height"),
                rectangle(
                    "outer gap",
                    "air",
                    "gap + sheet",
                    "0 m",
                    "gap",
                    "height",
                    radiation={
                        "emissivity": "emissivity",
                        "surfaces": [{"surface": "shield | outer gap", "emissivity": "shield_emissivity"}],
                    },
                ),
                rectangle("cladding", "stainless_304", "2*gap + sheet", "0 m", "sheet", "height"),
            ],
        },
        "conditions": [
            wall(
                "liner, left",
                thermal="convection",
                heat_transfer_coefficient="inside",
                ambient_temperature="oven",
            ),
            wall(
                "cladding, right",
                thermal="convection",
                heat_transfer_coefficient="outside",
                ambient_temperature="room",
            ),
            wall(*(f"{part}, {edge}" for part in _LAYERS for edge in ("top", "bottom"))),
        ],
        "physics": {"gravity_y": "-9.81 m/s^2", "density": "varying"},
        "grid": {"fineness": 0.5},
        "watches": [quantity("heat_between", "outer gap", "cladding")],
        "wanted": [
            {"key": quantity("heat_between", "outer gap", "cladding"), "target": "120 W", "sense": "at_most"},
            {"key": quantity("highest_temperature", "cladding"), "target": "60 °C", "sense": "at_most"},
            {"key": quantity("mean_temperature", "shield")},
            {"key": quantity("radiated", "liner | inner gap")},
            {"key": quantity("radiated_share", "inner gap")},
            {"key": quantity("radiated_share", "outer gap")},
        ],
        "estimates": [
            {
                "relation": "layers",
                "hot": "oven",
                "cold": "room",
                "h": "outside",
                "h_area": _WHOLE,
                "layers": [
                    {"resistance": "1/inside", "area": _WHOLE},
                    {"part": "liner", "thickness": "sheet", "area": _WHOLE},
                    {
                        "part": "inner gap",
                        "thickness": "gap",
                        "area": _WHOLE,
                        "height": "height",
                        "emissivity": "emissivity",
                        "emissivity_beyond": "shield_emissivity",
                    },
                    {"part": "shield", "thickness": "sheet", "area": _WHOLE},
                    {
                        "part": "outer gap",
                        "thickness": "gap",
                        "area": _WHOLE,
                        "height": "height",
                        "emissivity": "shield_emissivity",
                        "emissivity_beyond": "emissivity",
                    },
                    {"part": "cladding", "thickness": "sheet", "area": _WHOLE},
                ],
                "key": quantity("heat_between", "outer gap", "cladding"),
            }
        ],
        "sizing": sized("gap", quantity("heat_between", "outer gap", "cladding"), "120 W", sense="at_most"),
    },
)
