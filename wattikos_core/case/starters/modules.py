"""A power module on a cooler, flat and about an axis."""

from __future__ import annotations

from typing import Any

from wattikos_core.case.starters.building import (
    Document,
    Starter,
    given,
    length,
    quantity,
    rectangle,
    sized,
    symmetry,
    temperature,
    wall,
)

_NOTE = (
    "Half of a chip on a copper base that is pressed onto a cooler plate, with a thin layer of paste between: how hot the chip "
    "gets, and what the paste costs. Water below the cooler is a film and a temperature."
)

_MATERIALS: Document = {
    "silicon": {"base": "aluminium", "density": "2330 kg/m^3", "specific_heat": "700 J/kg/K", "conductivity": "130 W/m/K"},
    "paste": {"base": "silicone", "conductivity": "1.2 W/m/K"},
}

_INPUTS: Document = {
    "chip": length("10 mm", "chip size", "2 mm", "30 mm"),
    "chip_height": length("0.3 mm", "chip height"),
    "base": length("30 mm", "base size", "10 mm", "100 mm"),
    "base_height": length("3 mm", "base height", "1 mm", "12 mm"),
    "paste": length("80 um", "paste thickness", "10 um", "500 um"),
    "cooler": length("60 mm", "cooler size", "20 mm", "200 mm"),
    "cooler_height": length("8 mm", "cooler height", "3 mm", "30 mm"),
    "power": given("power", "120 W", "heat of the chip", "1 W", "1 kW"),
    "film": given("heat_transfer_coefficient", "3000 W/m²/K", "h below the cooler", "200 W/m²/K", "20000 W/m²/K"),
    "coolant": temperature("20 °C", "coolant temperature"),
}


def _layers(flat: bool) -> dict[str, Any]:
    """Heat through chip, base, paste and cooler: over the mean of their areas, and over narrower ones where heat spreads by 45°."""

    def area(size: str) -> str:
        return f"({size})*depth" if flat else f"pi*({size})^2/4"

    def narrow(layer: str) -> str:
        spread = "chip + 2*base_height" + (" + 2*cooler_height" if layer == "cooler" else "")
        return f"min({layer}, {spread})"

    return {
        "relation": "layers",
        "heat": "power",
        "layers": [
            {"part": "chip", "thickness": "chip_height/2", "area": area("chip")},
            {
                "part": "base",
                "thickness": "base_height",
                "area": f"({area('chip')} + {area('base')})/2",
                "narrow": area(f"({narrow('base')} + chip)/2"),
            },
            {"resistance": "paste/(1.2 W/m/K)", "area": area("base"), "narrow": area(narrow("base"))},
            {
                "part": "cooler",
                "thickness": "cooler_height",
                "area": f"({area('base')} + {area('cooler')})/2",
                "narrow": area(f"({narrow('base')} + {narrow('cooler')})/2"),
            },
        ],
        "h": "film",
        "h_area": area("cooler"),
        "h_narrow": area(narrow("cooler")),
        "cold": "coolant",
        "key": quantity("mean_temperature", "chip"),
    }


def _module(key: str, title: str, label: str, *, flat: bool) -> Starter:
    # In the flat section heat goes down (y) and half of everything is drawn; about an axis it goes along x.
    if flat:
        parts = [
            rectangle("cooler", "aluminium", "0 m", "-cooler_height", "cooler/2", "cooler_height"),
            rectangle("base", "copper", "0 m", "0 m", "base/2", "base_height"),
            rectangle("chip", "silicon", "0 m", "base_height", "chip/2", "chip_height", heat="power/2"),
        ]
        middle, wet = ("cooler, left", "base, left", "chip, left"), "cooler, bottom"
        free = ("cooler, right", "cooler, top", "base, right", "base, top", "chip, right", "chip, top")
    else:
        parts = [
            rectangle("cooler", "aluminium", "-cooler_height", "0 m", "cooler_height", "cooler/2"),
            rectangle("base", "copper", "0 m", "0 m", "base_height", "base/2"),
            rectangle("chip", "silicon", "base_height", "0 m", "chip_height", "chip/2", heat="power"),
        ]
        middle, wet = ("cooler, bottom", "base, bottom", "chip, bottom"), "cooler, left"
        free = ("cooler, top", "cooler, right", "base, top", "base, right", "chip, top", "chip, right")

    inputs = {
        **_INPUTS,
        **({"depth": length("30 mm", "depth", note="of the section: chip, base and cooler are as deep")} if flat else {}),
    }
    document: Document = {
        "version": 6,
        "title": title,
        "note": _NOTE,
        "starter": key,
        "inputs": inputs,
        "materials": _MATERIALS,
        "section": {"extent": "flat" if flat else "axisymmetric", "depth": "depth" if flat else "1 m", "parts": parts},
        "conditions": [
            symmetry(*middle),
            wall(wet, thermal="convection", heat_transfer_coefficient="film", ambient_temperature="coolant"),
            wall(*free),
        ],
        "contacts": [{"between": ["base", "cooler"], "thickness": "paste", "material": "paste"}],
        "grid": {"fineness": 1.5},
        "watches": [quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("hottest_metal"), "target": "80 °C", "sense": "at_most"},
            {"key": quantity("mean_temperature", "chip")},
            {"key": quantity("mean_temperature", wet)},
        ],
        "estimates": [_layers(flat)],
        "sizing": sized("film", quantity("hottest_metal"), "80 °C", sense="at_most"),
    }
    return Starter(
        key, label, "A chip on a base and a cooler with a contact layer: how hot the chip gets, where the kelvins go.", document
    )


POWER_MODULE_FLAT = _module("power_module", "Drive cooler", "Power module on a cooler", flat=True)
POWER_MODULE_ROUND = _module("power_module_round", "Drive cooler, round module", "Power module on a cooler, round", flat=False)
