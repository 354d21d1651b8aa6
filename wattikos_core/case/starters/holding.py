"""Holding tubes: how long fluid stays."""

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

HOLDING_TUBE = Starter(
    "holding_tube",
    "Holding tube",
    "A round tube in which a stream is to stay for a time: mean and shortest age, share that leaves too early, heat lost.",
    {
        "version": 6,
        "title": "Holding tube",
        "note": (
            "A product is held at its temperature in a tube, half a section about the axis. In laminar flow the fastest part, on "
            "the axis, stays for half the mean time."
        ),
        "starter": "holding_tube",
        "inputs": {
            "length": length("3 m", "tube length", "0.5 m", "30 m"),
            "bore": length("25 mm", "bore", "8 mm", "60 mm"),
            "wall": length("1.5 mm", "tube wall", "1 mm", "5 mm"),
            "flow": given("mass_flow", "30 g/s", "flow", "3 g/s", "80 g/s"),
            "inlet": temperature("72 °C", "inlet temperature"),
            "ambient": temperature("20 °C", "ambient temperature"),
            "outer_h": given("heat_transfer_coefficient", "8 W/m²/K", "outer h"),
            "holding": given("time", "30 s", "time to be held"),
        },
        "section": {
            "extent": "axisymmetric",
            "parts": [
                rectangle("product", "product", "0 m", "0 m", "length", "bore/2"),
                rectangle("tube", "stainless_304", "0 m", "bore/2", "length", "wall"),
            ],
        },
        "materials": {"product": {"base": "water", "viscosity": "2 mPa*s"}},
        "physics": {"age": True, "age_limit": "holding"},
        "conditions": [
            inlet("product, left", "inlet", "developed", mass_flow="flow"),
            outlet("product, right"),
            symmetry("product, bottom"),
            wall("tube, top", thermal="convection", heat_transfer_coefficient="outer_h", ambient_temperature="ambient"),
            wall("tube, left", "tube, right"),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("mean_age_at_outlet", "product"), quantity("outlet_temperature", "product")],
        "wanted": [
            {"key": quantity("shortest_age_at_outlet", "product"), "target": "holding"},
            {"key": quantity("mean_age_at_outlet", "product")},
            {"key": quantity("share_younger", "product")},
            {"key": quantity("outlet_temperature", "product")},
        ],
        "estimates": [{"relation": "holding_tube", "fluid": "product", "walls": ["tube"]}],
        "sizing": sized("length", quantity("shortest_age_at_outlet", "product"), "holding"),
    },
)
