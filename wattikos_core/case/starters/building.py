"""Short ways to write down parts, inputs and conditions of a starter's document."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

Document = dict[str, Any]


@dataclass(frozen=True)
class Starter:
    """A starter's key, what it is for, and its document."""

    key: str
    label: str
    summary: str
    document: Document


def given(kind: str, value: str, label: str, lower: str = "", upper: str = "", note: str = "") -> Document:
    """An input, shown in the unit it is written with."""
    unit = value.partition(" ")[2].replace("°C", "degC").replace("²", "^2")
    item = {"value": value, "kind": kind, "unit": unit, "label": label, "lower": lower, "upper": upper, "note": note}
    return {name: text for name, text in item.items() if text or name == "value"}


def length(value: str, label: str, lower: str = "", upper: str = "", note: str = "") -> Document:
    """A length as an input."""
    return given("length", value, label, lower, upper, note)


def temperature(value: str, label: str, note: str = "") -> Document:
    """A temperature as an input."""
    return given("temperature", value, label, note=note)


def quantity(name: str, place: str = "", other: str = "", of: Document | None = None) -> Document:
    """The key of a quantity of the ledger."""
    key = {"quantity": name, "place": place, "other": other, "of": of}
    return {field: value for field, value in key.items() if value}


def sized(name: str, key: Document, target: str, lower: str = "", upper: str = "", *, sense: str = "at_least") -> Document:
    """A sizing: one input that is chosen for one goal."""
    return {
        "chosen": [{"varied": [{"input": name}], "lower": lower, "upper": upper}],
        "goals": [{"key": key, "target": target, "sense": sense}],
    }


def rectangle(name: str, material: str, x: str, y: str, width: str, height: str, **more: Any) -> Document:
    """A rectangular part."""
    return {
        "name": name,
        "material": material,
        "shape": {"type": "rectangle", "x": x, "y": y, "width": width, "height": height},
        **more,
    }


def circle(name: str, material: str, x: str, y: str, diameter: str, **more: Any) -> Document:
    """A circular part."""
    return {"name": name, "material": material, "shape": {"type": "circle", "x": x, "y": y, "diameter": diameter}, **more}


def inlet(boundary: str, temperature: str, profile: str = "uniform", **amount: str) -> Document:
    """An inlet by `mass_flow` or `velocity`; the other fields of an inlet can follow."""
    return {"type": "inlet", "boundaries": [boundary], "temperature": temperature, "profile": profile, **amount}


def outlet(boundary: str, present: str = "1") -> Document:
    """An outlet at ambient pressure."""
    return {"type": "outlet", "boundaries": [boundary], "pressure": "0 Pa", "present": present}


def symmetry(*boundaries: str) -> Document:
    """Planes or the axis of symmetry."""
    return {"type": "symmetry", "boundaries": list(boundaries)}


def periodic(upstream: str, downstream: str, temperature: str, **values: str) -> Document:
    """The two ends of a module that repeats."""
    return {"type": "periodic", "boundaries": [upstream], "downstream": [downstream], "temperature": temperature, **values}


def wall(*boundaries: str, thermal: str = "adiabatic", **values: str) -> Document:
    """A condition on walls, with the fields of a `Wall`; adiabatic unless told otherwise."""
    return {"type": "wall", "boundaries": list(boundaries), "thermal": thermal, **values}
