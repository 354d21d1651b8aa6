"""Modules that repeat along a stream: two rows of a bundle, and one rib of a ribbed duct."""

from __future__ import annotations

from typing import Any

from wattikos_core.case.starters.building import (
    Document,
    Starter,
    circle,
    given,
    length,
    periodic,
    quantity,
    rectangle,
    sized,
    symmetry,
    temperature,
    wall,
)

_NARROWEST = "max(pitch_y/(pitch_y - tube), pitch_y/2/(sqrt(pitch_x^2 + pitch_y^2/4) - tube))"


def _ring(name: str, x: str, y: str) -> Document:
    shape: dict[str, Any] = {"type": "ring", "x": x, "y": y, "outer_diameter": "tube", "inner_diameter": "tube - 2*tube_wall"}
    return {"name": name, "material": "stainless_316", "shape": shape}


BUNDLE_MODULE = Starter(
    "bundle_module",
    "Tube bundle, two rows that repeat",
    "Deep inside a staggered bundle of many rows: h, pressure drop, and what leaves after all rows, from two half tubes.",
    {
        "version": 6,
        "title": "Whey bundle module",
        "note": (
            "Two rows of a deep staggered bundle, between the planes through the tubes' middles: what leaves at the right enters "
            "at the left, cooler by what the rows gave. Whey is taken as water; the hot water is a film and a temperature inside "
            "the tubes."
        ),
        "starter": "bundle_module",
        "inputs": {
            "tube": length("12 mm", "tube diameter", "4 mm", "40 mm"),
            "tube_wall": length("1 mm", "tube wall", "0.5 mm", "4 mm"),
            "rows": given("number", "24", "rows behind each other", "2", "100", "an even number"),
            "pitch_x": length("20 mm", "pitch along the stream", "6 mm", "100 mm"),
            "pitch_y": length("24 mm", "pitch across the stream", "14 mm", "100 mm"),
            "depth": length("400 mm", "tube length"),
            "velocity": given("velocity", "2 mm/s", "velocity ahead", "0.2 mm/s", "6 mm/s"),
            "inlet": temperature("20 °C", "whey at the first row"),
            "heating": temperature("36 °C", "hot water temperature"),
            "inner_h": given("heat_transfer_coefficient", "1500 W/m²/K", "h inside the tubes"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [
                rectangle("whey", "water", "0 m", "0 m", "2*pitch_x", "pitch_y/2"),
                circle("lower bore", "void", "pitch_x/2", "0 m", "tube - 2*tube_wall"),
                circle("upper bore", "void", "1.5*pitch_x", "pitch_y/2", "tube - 2*tube_wall"),
                _ring("lower tube", "pitch_x/2", "0 m"),
                _ring("upper tube", "1.5*pitch_x", "pitch_y/2"),
                rectangle("below", "void", "0 m", "-tube", "2*pitch_x", "tube"),
                rectangle("above", "void", "0 m", "pitch_y/2", "2*pitch_x", "tube"),
            ],
        },
        "conditions": [
            periodic(
                "whey, left",
                "whey, right",
                "inlet",
                velocity="velocity",
                properties_at="inlet + (heating - inlet)/2",
                modules="rows/2",
            ),
            symmetry("whey, bottom", "whey, top", "lower tube, below top", "upper tube, above bottom"),
            wall(
                "lower tube, inside",
                "upper tube, inside",
                thermal="convection",
                heat_transfer_coefficient="inner_h",
                ambient_temperature="heating",
            ),
        ],
        "grid": {"fineness": 1.5},
        "watches": [quantity("h", "whey"), quantity("pressure_drop", "whey")],
        "wanted": [
            {"key": quantity("last_outlet_temperature", "whey"), "target": "32 °C"},
            {"key": quantity("total_heat_gained", "whey")},
            {"key": quantity("total_pressure_drop", "whey")},
            {"key": quantity("h", "whey")},
            {"key": quantity("friction_factor", "whey")},
        ],
        "estimates": [
            {
                "relation": "cross_flow",
                "fluid": "whey",
                "body": "lower tube",
                "diameter": "tube",
                "velocity": f"velocity*{_NARROWEST}",
                "arrangement": "staggered",
                "inner_h": "inner_h",
                "inner_temperature": "heating",
                "inner_diameter": "tube - 2*tube_wall",
            }
        ],
        "sizing": sized("velocity", quantity("last_outlet_temperature", "whey"), "32 °C"),
    },
)

RIBBED_DUCT = Starter(
    "ribbed_duct",
    "Ribbed duct, one rib that repeats",
    "One rib of a long duct whose wall gives its heat evenly: how much ribs help, what they cost in pressure, how hot they get.",
    {
        "version": 6,
        "title": "Air heater duct with ribs",
        "note": (
            "One pitch of a long flat duct with ribs on its heated lower wall. The upper wall is insulated. What leaves at the "
            "right enters at the left, warmer by what the wall gave."
        ),
        "starter": "ribbed_duct",
        "inputs": {
            "height": length("16 mm", "duct height", "4 mm", "60 mm"),
            "pitch": length("40 mm", "pitch of the ribs", "8 mm", "200 mm"),
            "rib": length("4 mm", "rib height", "0.5 mm", "20 mm"),
            "rib_width": length("4 mm", "rib width", "0.5 mm", "20 mm"),
            "breadth": length("300 mm", "breadth of the duct", note="depth of the section"),
            "ribs": given("number", "30", "ribs behind each other", "1", "200"),
            "velocity": given("velocity", "90 mm/s", "mean velocity", "10 mm/s", "500 mm/s"),
            "inlet": temperature("20 °C", "air temperature at the first rib"),
            "flux": given("heat_flux", "15 W/m²", "heat flux of the wall", "1 W/m²", "500 W/m²"),
        },
        "section": {
            "extent": "flat",
            "depth": "breadth",
            "parts": [
                rectangle("air", "air", "0 m", "0 m", "pitch", "height"),
                rectangle("rib", "aluminium", "pitch/2 - rib_width/2", "0 m", "rib_width", "rib"),
            ],
        },
        "conditions": [
            periodic("air, left", "air, right", "inlet", velocity="velocity", modules="ribs"),
            wall("air, bottom", "rib, bottom", thermal="heat_flux", heat_flux="flux"),
            wall("air, top"),
        ],
        "grid": {"fineness": 1.5},
        "watches": [quantity("h", "air"), quantity("pressure_drop", "air")],
        "wanted": [
            {"key": quantity("last_outlet_temperature", "air"), "target": "50 °C"},
            {"key": quantity("highest_temperature", "air, bottom")},
            {"key": quantity("h", "air")},
            {"key": quantity("total_pressure_drop", "air")},
            {"key": quantity("friction_factor", "air")},
        ],
        "estimates": [
            {
                "relation": "heated_duct",
                "fluid": "air",
                "gap": "height",
                "length": "pitch",
                "breadth": "breadth",
                "heat": "flux*pitch*breadth",
                "obstructed": True,
            }
        ],
        "sizing": sized("velocity", quantity("last_outlet_temperature", "air"), "50 °C"),
    },
)
