"""Grids and fields for the browser: little-endian arrays in base64."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np

from wattikos_core.grid import Grid, quality_of, worst_cells
from wattikos_core.read import FIELDS


def packed(values: np.ndarray, kind: str) -> str:
    """An array as base64 of little-endian `kind`."""
    return b64encode(np.ascontiguousarray(values, dtype=np.dtype(kind).newbyteorder("<")).tobytes()).decode()


def mesh_out(grid: Grid) -> dict[str, Any]:
    """A grid as `MeshOut`."""
    quality = quality_of(grid)
    return {
        "nodes": packed(grid.nodes.ravel(), "f4"),
        "cell_start": packed(grid.cell_start, "u4"),
        "cell_nodes": packed(grid.cell_nodes, "u4"),
        "region": packed(grid.region, "u2"),
        "cells": grid.n_cells,
        "quality": {
            "non-orthogonality": quality.non_orthogonality,
            "aspect ratio": quality.aspect_ratio,
            "growth": quality.growth,
        },
        "worst": [asdict(cell) for cell in worst_cells(grid)],
    }


def fields_out(fields: Mapping[str, np.ndarray]) -> list[dict[str, Any]]:
    """Cell fields by name as a list of `FieldOut`, those without any value left out."""
    out = []
    for name, values in fields.items():
        if np.isnan(values).all():
            continue
        low, high = float(np.nanmin(values)), float(np.nanmax(values))
        out.append({"name": name, "kind": FIELDS[name], "values": packed(values, "f4"), "low": low, "high": high})
    return out
