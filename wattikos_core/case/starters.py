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

_FEED_LINE: dict[str, Any] = {
    "version": 1,
    "title": "Insulated feed line",
    "note": "A pipe with glycol water in it, half a section about its axis: how much heat is lost, and how warm the cladding gets.",
    "starter": "feed_line",
    "inputs": {
        "length": {"value": "12 m", "kind": "length", "unit": "m", "label": "pipe length", "lower": "1 m", "upper": "100 m"},
        "bore": {"value": "20 mm", "kind": "length", "unit": "mm", "label": "bore", "lower": "8 mm", "upper": "60 mm"},
        "wall": {"value": "2 mm", "kind": "length", "unit": "mm", "label": "pipe wall", "lower": "1 mm", "upper": "8 mm"},
        "insulation": {
            "value": "25 mm",
            "kind": "length",
            "unit": "mm",
            "label": "insulation thickness",
            "lower": "2 mm",
            "upper": "150 mm",
        },
        "flow": {"value": "20 g/s", "kind": "mass_flow", "unit": "g/s", "label": "flow", "lower": "2 g/s", "upper": "60 g/s"},
        "inlet": {"value": "65 °C", "kind": "temperature", "unit": "degC", "label": "inlet temperature"},
        "ambient": {"value": "15 °C", "kind": "temperature", "unit": "degC", "label": "ambient temperature"},
        "outer_h": {"value": "8 W/m²/K", "kind": "heat_transfer_coefficient", "unit": "W/m^2/K", "label": "outer h"},
        "emissivity": {"value": "0.3", "kind": "ratio", "label": "cladding emissivity"},
    },
    "section": {
        "extent": "axisymmetric",
        "parts": [
            _rectangle("stream", "propylene_glycol_40", "0 m", "0 m", "length", "bore/2"),
            _rectangle("pipe", "stainless_304", "0 m", "bore/2", "length", "wall"),
            _rectangle("insulation", "mineral_wool", "0 m", "bore/2 + wall", "length", "insulation"),
        ],
    },
    "conditions": [
        {"type": "inlet", "boundaries": ["stream, left"], "mass_flow": "flow", "temperature": "inlet", "profile": "developed"},
        {"type": "outlet", "boundaries": ["stream, right"], "pressure": "0 Pa"},
        {"type": "symmetry", "boundaries": ["stream, bottom"]},
        {
            "type": "wall",
            "boundaries": ["insulation, top"],
            "thermal": "convection_radiation",
            "value": "outer_h",
            "ambient": "ambient",
            "emissivity": "emissivity",
            "surroundings": "ambient",
        },
        {
            "type": "wall",
            "boundaries": ["pipe, left", "pipe, right", "insulation, left", "insulation, right"],
            "thermal": "adiabatic",
        },
    ],
    "grid": {"fineness": 1.0},
    "watches": ["stream outlet temperature", "stream heat gained"],
    "wanted": [
        {"quantity": "stream outlet temperature", "target": "62 °C"},
        {"quantity": "stream heat gained"},
        {"quantity": "mean temperature of insulation, top"},
    ],
    "estimate": {"relation": "insulated_pipe", "fluid": "stream", "layers": ["pipe", "insulation"]},
    "sizing": {"input": "insulation", "quantity": "stream outlet temperature", "target": "62 °C"},
}

STARTERS: dict[str, Starter] = {
    "feed_line": Starter(
        "feed_line",
        "Insulated pipe",
        "A stream in a round pipe with wall and insulation, losing heat by convection and radiation: loss, outlet, cladding.",
        _FEED_LINE,
    ),
    "plate_passage": Starter(
        "plate_passage",
        "Plate passage, counterflow",
        "Two streams in counterflow on both sides of a plate: duty, outlet temperatures, effectiveness, plate length.",
        _PLATE_PASSAGE,
    ),
}


def starter_case(key: str) -> Case:
    """The case of starter `key`; KeyError when there is none."""
    return read_case(STARTERS[key].document)
