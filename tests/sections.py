"""Short ways to write sections of any shape for tests, and random ones."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from wattikos_core.case import Case, read_case

Document = dict[str, Any]

# A made-up solid whose conductivity does not depend on temperature.
PLAIN = {"base": "aluminium", "conductivity": "10 W/m/K"}


def part(name: str, material: str, shape: str, x: str = "0 m", y: str = "0 m", **fields: Any) -> Document:
    """A part; fields of the shape and of the part are told apart by name."""
    of_part: Document = {
        key: fields.pop(key) for key in ("present", "heat", "angle", "mirror", "repeat", "internal", "radiation") if key in fields
    }
    return {"name": name, "material": material, "shape": {"type": shape, "x": x, "y": y, **fields}, **of_part}


def rectangle(name: str, material: str, x: str, y: str, width: str, height: str, **fields: Any) -> Document:
    """A rectangle."""
    return part(name, material, "rectangle", x, y, width=width, height=height, **fields)


def circle(name: str, material: str, x: str, y: str, diameter: str, **fields: Any) -> Document:
    """A circle."""
    return part(name, material, "circle", x, y, diameter=diameter, **fields)


def polygon(name: str, material: str, *points: tuple[float, float], **fields: Any) -> Document:
    """A polygon with corners in m."""
    return part(name, material, "polygon", points=[[f"{x:.9g} m", f"{y:.9g} m"] for x, y in points], **fields)


def wall(*boundaries: str, **values: Any) -> Document:
    """A wall; adiabatic unless told otherwise."""
    return {"type": "wall", "boundaries": list(boundaries), **values}


def held(*boundaries: str, at: str) -> Document:
    """A wall at a temperature."""
    return wall(*boundaries, thermal="temperature", temperature=at)


def section_case(
    *parts: Document, conditions: list[Document], axisymmetric: bool = False, depth: str = "1 m", fineness: float = 1.0, **more: Any
) -> Case:
    """A case of some parts."""
    grid = {"fineness": fineness, **more.pop("grid", {})}
    extent = "axisymmetric" if axisymmetric else "flat"
    document = {"title": "test", "inputs": {}, "section": {"extent": extent, "depth": depth, "parts": list(parts)}}
    return read_case({**document, "conditions": conditions, "grid": grid, **more})


def random_section(seed: int) -> Case:
    """A rectangle with up to seven random parts in, on and across its edges: what a gridder must take or refuse with a place."""
    random = np.random.default_rng(seed)
    width, height = random.uniform(0.03, 0.2), random.uniform(0.02, 0.08)
    parts = [rectangle("ground", "water" if seed % 2 else "iron", "0 m", "0 m", f"{width} m", f"{height} m")]
    for k in range(int(random.integers(1, 8))):
        x, y = random.uniform(-0.05, 1.05) * width, random.uniform(-0.05, 1.05) * height
        size = random.uniform(0.05, 0.5) * min(width, height)
        material = str(random.choice(["copper", "aluminium", "void", "water" if seed % 2 else "pvc"]))
        at = {"x": f"{x} m", "y": f"{y} m"}
        kind = str(random.choice(["rectangle", "circle", "ring", "polygon", "curve", "blade"]))
        turned = {"angle": f"{random.uniform(0.0, 180.0):.3f} deg"}
        if kind == "rectangle":
            parts.append(
                part(f"p{k}", material, kind, **at, width=f"{size} m", height=f"{size * random.uniform(0.2, 2)} m", **turned)
            )
        elif kind == "circle":
            parts.append(part(f"p{k}", material, kind, **at, diameter=f"{size} m"))
        elif kind == "ring":
            inner = size * random.uniform(0.4, 0.95)
            parts.append(part(f"p{k}", material, kind, **at, outer_diameter=f"{size} m", inner_diameter=f"{inner} m"))
        elif kind == "blade":
            parts.append(part(f"p{k}", material, kind, **at, chord=f"{2 * size} m", edge_radius=f"{0.02 * size} m", **turned))
        else:
            count = int(random.integers(3, 8))
            turns = (
                np.sort(random.uniform(0.0, 2.0 * math.pi, count))
                if kind == "polygon"
                else np.arange(count) * 2.0 * math.pi / count
            )
            reach = size * random.uniform(0.4, 1.0, count)
            points = [[f"{r * math.cos(a)} m", f"{r * math.sin(a)} m"] for r, a in zip(reach, turns, strict=True)]
            parts.append(part(f"p{k}", material, kind, **at, points=points))
    return section_case(*parts, conditions=[], fineness=float(random.uniform(0.4, 1.2)))
