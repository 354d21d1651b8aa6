"""Starters: ready parametric cases for a kind of equipment. Demo values are Ferrow Dairy's, all invented."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from wattikos_core.case.document import Case, read_case


@dataclass(frozen=True)
class Starter:
    """A starter's key, what it is for, and its document."""

    key: str
    label: str
    summary: str
    document: dict[str, Any]


def _rectangle(name: str, material: str, x: str, y: str, width: str, height: str, present: str = "1") -> dict[str, Any]:
    shape = {"type": "rectangle", "x": x, "y": y, "width": width, "height": height}
    return {"name": name, "material": material, "shape": shape, "present": present}


_PLATE_PASSAGE: dict[str, Any] = {
    "version": 1,
    "title": "Plate regenerator passage",
    "note": (
        "Half of a hot passage and half of a cold one with the plate between them, in counterflow: the smallest piece "
        "that represents the whole stack. The outer edges are the mid planes of the passages (symmetry). With end walls "
        "it is the last pair of the stack: whole passages, closed by a solid wall that is insulated outside."
    ),
    "starter": "plate_passage",
    "inputs": {
        "length": {"value": "600 mm", "kind": "length", "unit": "mm", "label": "plate length", "lower": "50 mm", "upper": "3 m"},
        "hot_height": {
            "value": "1.2 mm",
            "kind": "length",
            "unit": "mm",
            "label": "hot passage height",
            "note": "as drawn: half the gap between plates while the outer edge is a symmetry plane",
            "lower": "0.4 mm",
            "upper": "6 mm",
        },
        "cold_height": {
            "value": "1.2 mm",
            "kind": "length",
            "unit": "mm",
            "label": "cold passage height",
            "note": "as drawn: half the gap between plates while the outer edge is a symmetry plane",
            "lower": "0.4 mm",
            "upper": "6 mm",
        },
        "plate": {
            "value": "0.6 mm",
            "kind": "length",
            "unit": "mm",
            "label": "plate thickness",
            "lower": "0.3 mm",
            "upper": "5 mm",
        },
        "width": {
            "value": "180 mm",
            "kind": "length",
            "unit": "mm",
            "label": "plate width",
            "note": "depth of the section",
            "lower": "20 mm",
            "upper": "2 m",
        },
        "hot_flow": {
            "value": "4.6 g/s",
            "kind": "mass_flow",
            "unit": "g/s",
            "label": "hot flow",
            "lower": "0.5 g/s",
            "upper": "40 g/s",
        },
        "cold_flow": {
            "value": "5.0 g/s",
            "kind": "mass_flow",
            "unit": "g/s",
            "label": "cold flow",
            "lower": "0.5 g/s",
            "upper": "40 g/s",
        },
        "hot_inlet": {"value": "72 °C", "kind": "temperature", "unit": "degC", "label": "hot inlet temperature"},
        "cold_inlet": {"value": "6 °C", "kind": "temperature", "unit": "degC", "label": "cold inlet temperature"},
        "end_walls": {"value": "0", "kind": "number", "label": "end walls (1 yes, 0 no)"},
        "end_wall": {"value": "2 mm", "kind": "length", "unit": "mm", "label": "end wall thickness"},
    },
    "section": {
        "extent": "flat",
        "depth": "width",
        "parts": [
            _rectangle("cold", "water", "0 m", "0 m", "length", "cold_height"),
            _rectangle("plate", "stainless_304", "0 m", "cold_height", "length", "plate"),
            _rectangle("hot", "water", "0 m", "cold_height + plate", "length", "hot_height"),
            _rectangle("cold end wall", "stainless_304", "0 m", "-end_wall", "length", "end_wall", "end_walls"),
            _rectangle(
                "hot end wall", "stainless_304", "0 m", "cold_height + plate + hot_height", "length", "end_wall", "end_walls"
            ),
        ],
    },
    "conditions": [
        {"type": "inlet", "boundaries": ["hot, left"], "mass_flow": "hot_flow", "temperature": "hot_inlet", "profile": "uniform"},
        {"type": "outlet", "boundaries": ["hot, right"], "pressure": "0 Pa"},
        {
            "type": "inlet",
            "boundaries": ["cold, right"],
            "mass_flow": "cold_flow",
            "temperature": "cold_inlet",
            "profile": "uniform",
        },
        {"type": "outlet", "boundaries": ["cold, left"], "pressure": "0 Pa"},
        {"type": "symmetry", "boundaries": ["hot, top", "cold, bottom"]},
        {"type": "wall", "boundaries": ["plate, left", "plate, right"], "thermal": "adiabatic"},
        {
            "type": "wall",
            "boundaries": [f"{side} end wall, {edge}" for side in ("hot", "cold") for edge in ("left", "right")]
            + ["hot end wall, top", "cold end wall, bottom"],
            "thermal": "adiabatic",
        },
    ],
    "grid": {"fineness": 1.4},
    "watches": ["duty", "hot outlet temperature", "cold outlet temperature"],
    "wanted": [
        {"quantity": "effectiveness", "target": "0.85"},
        {"quantity": "duty"},
        {"quantity": "hot outlet temperature"},
        {"quantity": "cold outlet temperature"},
    ],
    "estimate": {"relation": "counterflow_plates", "hot": "hot", "cold": "cold", "wall": "plate"},
    "sizing": {"input": "length", "quantity": "effectiveness", "target": "0.85", "lower": "50 mm", "upper": "3 m"},
}

STARTERS: dict[str, Starter] = {
    "plate_passage": Starter(
        "plate_passage",
        "Plate passage, counterflow",
        "Two streams in counterflow on both sides of a plate: duty, outlet temperatures, effectiveness, plate length.",
        _PLATE_PASSAGE,
    )
}


def starter_case(key: str) -> Case:
    """The case of starter `key`; KeyError when there is none."""
    return read_case(STARTERS[key].document)
