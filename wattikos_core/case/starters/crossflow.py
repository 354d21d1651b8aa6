"""Tubes, bars and pins across a stream: one, and bundles of them."""

from __future__ import annotations

from typing import Any

from wattikos_core.case.starters.building import (
    Document,
    Starter,
    circle,
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

TUBE = Starter(
    "cross_flow",
    "Tube or bar in cross-flow",
    "A heated bar across a wide slow stream: its h and Nusselt number, drag and lift, and how hot it gets.",
    {
        "version": 6,
        "title": "Sensor bar in a stream",
        "note": "A bar across a wide stream. The stream is long and wide enough that the bar does not feel its ends.",
        "starter": "cross_flow",
        "inputs": {
            "diameter": length("4 mm", "bar diameter", "1 mm", "20 mm"),
            "velocity": given("velocity", "9 mm/s", "velocity ahead of the bar", "1 mm/s", "12 mm/s"),
            "upstream": length("12*diameter", "distance to the inlet"),
            "downstream": length("30*diameter", "distance to the outlet"),
            "breadth": length("24*diameter", "breadth of the stream"),
            "power": given("power", "40 W", "heat in the bar"),
            "bar_length": length("1 m", "bar length", note="depth of the section"),
            "inlet": temperature("18 °C", "inlet temperature"),
        },
        "section": {
            "extent": "flat",
            "depth": "bar_length",
            "parts": [
                rectangle("stream", "water", "-upstream", "-breadth/2", "upstream + downstream", "breadth"),
                circle("bar", "stainless_304", "0 m", "0 m", "diameter", heat="power"),
            ],
        },
        "conditions": [
            inlet("stream, left", "inlet", velocity="velocity"),
            outlet("stream, right"),
            symmetry("stream, top", "stream, bottom"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("surface_h", "stream | bar"), quantity("drag", "bar")],
        "wanted": [
            {"key": quantity("surface_h", "stream | bar")},
            {"key": quantity("surface_nusselt_number", "stream | bar")},
            {"key": quantity("drag_coefficient", "bar")},
            {"key": quantity("hottest_metal"), "target": "22 °C", "sense": "at_most"},
        ],
        "estimates": [
            {
                "relation": "cross_flow",
                "fluid": "stream",
                "body": "bar",
                "diameter": "diameter",
                "velocity": "velocity/(1 - diameter/breadth)",
            }
        ],
        "sizing": sized("diameter", quantity("hottest_metal"), "22 °C", sense="at_most"),
    },
)


def _bundle_section(pattern: str) -> dict[str, Any]:
    """Copies of one tube in a duct, half a pitch from its walls."""
    repeat: dict[str, Any] = {"pattern": pattern, "columns": "columns", "rows": "rows", "dx": "pitch_x", "dy": "pitch_y"}
    x, y = "upstream", "pitch_y/2"
    return {
        "extent": "flat",
        "depth": "depth",
        "parts": [
            rectangle(
                "whey",
                "water",
                "0 m",
                "0 m",
                "upstream + (columns - 1)*pitch_x + downstream",
                "(rows + 0.5)*pitch_y" if pattern == "staggered" else "rows*pitch_y",
            ),
            circle("bore", "void", x, y, "tube - 2*tube_wall", repeat=repeat),
            {
                "name": "tube",
                "material": "stainless_316",
                "shape": {"type": "ring", "x": x, "y": y, "outer_diameter": "tube", "inner_diameter": "tube - 2*tube_wall"},
                "repeat": repeat,
            },
        ],
    }


def _bundle(key: str, label: str, pattern: str, columns: str) -> Starter:
    staggered = pattern == "staggered"
    document: Document = {
        "version": 6,
        "title": f"Whey heater bundle, {'staggered' if staggered else 'in line'}",
        "note": (
            "Tubes across a slow stream of whey (taken as water) in a duct, heated from inside by hot water along the tubes: how "
            "much each tube gives. The hot water is a film and a temperature inside the tubes."
        ),
        "starter": key,
        "inputs": {
            "tube": length("12 mm", "tube diameter", "4 mm", "40 mm"),
            "tube_wall": length("1 mm", "tube wall", "0.5 mm", "4 mm"),
            "columns": given("number", columns, "tubes behind each other", "1", "8"),
            "rows": given("number", "2", "tubes above each other", "1", "6"),
            "pitch_x": length("22 mm", "pitch along the stream", "6 mm", "100 mm"),
            "pitch_y": length("24 mm", "pitch across the stream", "6 mm", "100 mm"),
            "upstream": length("40 mm", "distance to the inlet"),
            "downstream": length("110 mm", "distance to the outlet"),
            "depth": length("400 mm", "tube length"),
            "velocity": given("velocity", "1.5 mm/s", "velocity at the inlet", "0.2 mm/s", "3 mm/s"),
            "inlet": temperature("12 °C", "whey inlet temperature"),
            "heating": temperature("65 °C", "hot water temperature"),
            "inner_h": given("heat_transfer_coefficient", "1500 W/m²/K", "h inside the tubes"),
        },
        "section": _bundle_section(pattern),
        "conditions": [
            inlet("whey, left", "inlet", velocity="velocity"),
            outlet("whey, right"),
            wall("whey, top", "whey, bottom"),
            wall("tube, inside", thermal="convection", heat_transfer_coefficient="inner_h", ambient_temperature="heating"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("outlet_temperature", "whey"), quantity("heat_gained", "whey")],
        "wanted": [
            {"key": quantity("heat_gained", "whey")},
            {"key": quantity("outlet_temperature", "whey"), "target": "40 °C"},
            {"key": quantity("heat_between", "tube 1", "whey")},
            {"key": quantity("drag", "tube 1")},
            {"key": quantity("pressure_drop", "whey")},
        ],
        "estimates": [
            {
                "relation": "cross_flow",
                "fluid": "whey",
                "body": "tube",
                "diameter": "tube",
                "velocity": "velocity*(rows + 0.5)*pitch_y/((rows + 0.5)*pitch_y - rows*tube)"
                if staggered
                else "velocity*pitch_y/(pitch_y - tube)",
                "count": "columns*rows",
                "arrangement": "staggered" if staggered else "in_line",
                "inner_h": "inner_h",
                "inner_temperature": "heating",
                "inner_diameter": "tube - 2*tube_wall",
                "pitch_across": "pitch_y",
                "pitch_along": "pitch_x",
                "rows": "columns",
            }
        ],
        "sizing": sized("velocity", quantity("outlet_temperature", "whey"), "40 °C"),
    }
    summary = "Heated tubes across a slow stream in a duct: heat of each tube, outlet temperature, drag and pressure drop."
    return Starter(key, label, summary, document)


BUNDLE = _bundle("bundle_staggered", "Tube bundle, staggered", "staggered", "3")
BUNDLE_IN_LINE = _bundle("bundle_in_line", "Tube bundle, in line", "grid", "3")

PIN_CHANNEL = Starter(
    "pin_channel",
    "Pin fins in a stream",
    "Air across heated pins in line, between two planes of symmetry: air and pin temperatures, pressure drop.",
    {
        "version": 6,
        "title": "Pin fin row",
        "note": (
            "One row of pins of a pin-fin sink, cut across the pins, with the air between two planes of symmetry. Each pin gives "
            "its share of the heat."
        ),
        "starter": "pin_channel",
        "inputs": {
            "pin": length("3 mm", "pin diameter", "1 mm", "10 mm"),
            "pins": given("number", "5", "pins behind each other", "2", "20"),
            "pitch": length("6 mm", "pitch along the air", "2 mm", "30 mm"),
            "spacing": length("6 mm", "pitch across the air", "2 mm", "30 mm"),
            "height": length("25 mm", "pin height", note="depth of the section"),
            "power": given("power", "0.2 W", "heat of one pin"),
            "velocity": given("velocity", "0.15 m/s", "velocity ahead of the pins", "0.02 m/s", "0.3 m/s"),
            "inlet": temperature("25 °C", "air inlet temperature"),
        },
        "section": {
            "extent": "flat",
            "depth": "height",
            "parts": [
                rectangle("air", "air", "-4*pin", "-spacing/2", "4*pin + (pins - 1)*pitch + 10*pin", "spacing"),
                circle(
                    "pin",
                    "aluminium",
                    "0 m",
                    "0 m",
                    "pin",
                    heat="power",
                    repeat={"pattern": "line", "count": "pins", "dx": "pitch", "dy": "0 m"},
                ),
            ],
        },
        "conditions": [
            inlet("air, left", "inlet", velocity="velocity"),
            outlet("air, right"),
            symmetry("air, top", "air, bottom"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("hottest_metal"), "target": "75 °C", "sense": "at_most"},
            {"key": quantity("outlet_temperature", "air")},
            {"key": quantity("pressure_drop", "air")},
            {"key": quantity("surface_h", "air | pin 1")},
        ],
        "estimates": [
            {
                "relation": "cross_flow",
                "fluid": "air",
                "body": "pin",
                "diameter": "pin",
                "velocity": "velocity*spacing/(spacing - pin)",
                "count": "pins",
                "arrangement": "in_line",
            }
        ],
        "sizing": sized("velocity", quantity("hottest_metal"), "75 °C", sense="at_most"),
    },
)
