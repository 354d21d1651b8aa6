"""Plate passages."""

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

_AS_DRAWN = "as drawn: half the gap between plates while the outer edge is a symmetry plane"

PLATE_PASSAGE = Starter(
    "plate_passage",
    "Plate passage, counterflow",
    "Two streams in counterflow on both sides of a plate: duty, outlet temperatures, effectiveness, plate length.",
    {
        "version": 6,
        "title": "Plate regenerator passage",
        "note": (
            "Half of a hot passage and half of a cold one with the plate between them, in counterflow: the smallest piece "
            "that represents the whole stack. The outer edges are the mid planes of the passages (symmetry). With end walls "
            "it is the last pair of the stack: whole passages, closed by a solid wall that is insulated outside."
        ),
        "starter": "plate_passage",
        "inputs": {
            "length": length("600 mm", "plate length", "50 mm", "3 m"),
            "hot_height": length("1.2 mm", "hot passage height", "0.4 mm", "6 mm", _AS_DRAWN),
            "cold_height": length("1.2 mm", "cold passage height", "0.4 mm", "6 mm", _AS_DRAWN),
            "plate": length("0.6 mm", "plate thickness", "0.3 mm", "5 mm"),
            "width": length("180 mm", "plate width", "20 mm", "2 m", "depth of the section"),
            "hot_flow": given("mass_flow", "4.6 g/s", "hot flow", "0.5 g/s", "40 g/s"),
            "cold_flow": given("mass_flow", "5.0 g/s", "cold flow", "0.5 g/s", "40 g/s"),
            "hot_inlet": temperature("72 °C", "hot inlet temperature"),
            "cold_inlet": temperature("6 °C", "cold inlet temperature"),
            "end_walls": given("number", "0", "end walls (1 yes, 0 no)"),
            "end_wall": length("2 mm", "end wall thickness"),
        },
        "section": {
            "extent": "flat",
            "depth": "width",
            "parts": [
                rectangle("cold", "water", "0 m", "0 m", "length", "cold_height"),
                rectangle("plate", "stainless_304", "0 m", "cold_height", "length", "plate"),
                rectangle("hot", "water", "0 m", "cold_height + plate", "length", "hot_height"),
                rectangle("cold end wall", "stainless_304", "0 m", "-end_wall", "length", "end_wall", present="end_walls"),
                rectangle(
                    "hot end wall",
                    "stainless_304",
                    "0 m",
                    "cold_height + plate + hot_height",
                    "length",
                    "end_wall",
                    present="end_walls",
                ),
            ],
        },
        "conditions": [
            inlet("hot, left", "hot_inlet", mass_flow="hot_flow"),
            outlet("hot, right"),
            inlet("cold, right", "cold_inlet", mass_flow="cold_flow"),
            outlet("cold, left"),
            symmetry("hot, top", "cold, bottom"),
            wall("plate, left", "plate, right"),
            wall(
                *(f"{side} end wall, {edge}" for side in ("hot", "cold") for edge in ("left", "right")),
                "hot end wall, top",
                "cold end wall, bottom",
            ),
        ],
        "grid": {"fineness": 1.4},
        "watches": [quantity("duty"), quantity("outlet_temperature", "hot"), quantity("outlet_temperature", "cold")],
        "wanted": [
            {"key": quantity("effectiveness"), "target": "0.85"},
            {"key": quantity("duty")},
            {"key": quantity("outlet_temperature", "hot")},
            {"key": quantity("outlet_temperature", "cold")},
        ],
        "estimates": [{"relation": "counterflow_plates", "hot": "hot", "cold": "cold", "wall": "plate"}],
        "sizing": sized("length", quantity("effectiveness"), "0.85", "50 mm", "3 m"),
    },
)
