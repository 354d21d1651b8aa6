"""What several tests need: plain grids, and cases of simple ducts with constant properties."""

from __future__ import annotations

import copy
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np

from wattikos_core.case import Case, read_case
from wattikos_core.grid import Grid, Polygons, build_grid
from wattikos_core.section import SIDES


def quads(
    x: np.ndarray,
    y: np.ndarray,
    *,
    shake: float = 0.0,
    onto: Callable[[np.ndarray, np.ndarray], tuple[np.ndarray, np.ndarray]] | None = None,
    axisymmetric: bool = False,
    depth: float = 1.0,
) -> Grid:
    """A grid of one region called `fluid` on the lines x and y.

    `shake` moves inner nodes by that share of a cell; `onto` moves all nodes.
    """
    nx, ny = len(x) - 1, len(y) - 1
    nodes = np.stack(np.meshgrid(x, y), axis=-1).astype(float)
    if shake:
        random = np.random.default_rng(7)
        sizes = np.minimum(np.diff(x).min(), np.diff(y).min())
        nodes[1:-1, 1:-1] += shake * sizes * random.uniform(-1.0, 1.0, nodes[1:-1, 1:-1].shape)
    if onto is not None:
        nodes = np.stack(onto(nodes[..., 0], nodes[..., 1]), axis=-1)
    row, column = np.divmod(np.arange(nx * ny), nx)
    corner = row * (nx + 1) + column
    cell_nodes = np.stack([corner, corner + 1, corner + nx + 2, corner + nx + 1], axis=1).ravel()
    return build_grid(
        Polygons(nodes.reshape(-1, 2), np.arange(0, cell_nodes.size + 1, 4), cell_nodes),
        np.zeros(nx * ny, dtype=np.int64),
        ["fluid"],
        np.tile(np.array(SIDES), nx * ny),
        axisymmetric=axisymmetric,
        depth=depth,
    )


def triangles(n: int) -> Grid:
    """The unit square in triangles: every square cut along its diagonal."""
    lines = np.linspace(0.0, 1.0, n + 1)
    nodes = np.stack(np.meshgrid(lines, lines), axis=-1).reshape(-1, 2)
    row, column = np.divmod(np.arange(n * n), n)
    a = row * (n + 1) + column
    b, c, d = a + 1, a + n + 2, a + n + 1
    lower, upper = np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)
    cell_nodes = np.stack([lower, upper], axis=1).reshape(-1)
    sides = np.tile(np.array(["bottom", "right", "inside", "inside", "top", "left"]), n * n)
    return build_grid(
        Polygons(nodes, np.arange(0, cell_nodes.size + 1, 3), cell_nodes),
        np.zeros(2 * n * n, dtype=np.int64),
        ["fluid"],
        sides,
        axisymmetric=False,
        depth=1.0,
    )


def with_entry(document: dict[str, Any], where: Sequence[Any], entry: Any) -> dict[str, Any]:
    """A copy of a document with something else at a place: keys and indices from the outside in."""
    changed = copy.deepcopy(document)
    place: Any = changed
    for step in where[:-1]:
        place = place[step]
    place[where[-1]] = entry
    return changed


# A made-up liquid with round numbers: Pr = 10.
LIQUID = {
    "base": "water",
    "density": "1000 kg/m^3",
    "specific_heat": "4000 J/kg/K",
    "viscosity": "0.0015 Pa*s",
    "conductivity": "0.6 W/m/K",
}


def duct(
    *,
    length: float,
    height: float,
    reynolds: float,
    bottom: dict[str, Any],
    top: dict[str, Any],
    diameter: float,
    axisymmetric: bool = False,
    profile: str = "developed",
    fineness: float = 1.0,
) -> Case:
    """One fluid part `duct` from left to right with constant properties, entering at 20 °C."""
    speed = reynolds * 0.0015 / (1000.0 * diameter)
    return read_case(
        {
            "title": "duct",
            "inputs": {"length": {"value": f"{length} m"}, "height": {"value": f"{height} m"}},
            "section": {
                "extent": "axisymmetric" if axisymmetric else "flat",
                "depth": "1 m",
                "parts": [
                    {
                        "name": "duct",
                        "material": "liquid",
                        "shape": {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "length", "height": "height"},
                    }
                ],
            },
            "materials": {"liquid": LIQUID},
            "conditions": [
                {
                    "type": "inlet",
                    "boundaries": ["duct, left"],
                    "velocity": f"{speed} m/s",
                    "temperature": "20 °C",
                    "profile": profile,
                },
                {"type": "outlet", "boundaries": ["duct, right"]},
                {"boundaries": ["duct, bottom"], **bottom},
                {"boundaries": ["duct, top"], **top},
            ],
            "grid": {"fineness": fineness},
        }
    )


WALL_AT_60 = {"type": "wall", "thermal": "temperature", "temperature": "60 °C"}
HEATED = {"type": "wall", "thermal": "heat_flux", "heat_flux": "1 kW/m^2"}
INSULATED = {"type": "wall", "thermal": "adiabatic"}
SYMMETRIC = {"type": "symmetry"}
