"""Grids and fields for the browser: little-endian arrays, as bytes or in base64."""

from __future__ import annotations

import json
from base64 import b64encode
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np

from wattikos_core.grid import Grid, quality_of, worst_cells
from wattikos_core.read import FIELDS, codes_of
from wattikos_core.read.frames import NOTHING


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


def mesh_bytes(grid: Grid) -> bytes:
    """A grid for the browser, before compression, little-endian: how many nodes, cells and corners (uint32), then float32 nodes
    (x, y pairs), uint32 cell starts and corner indices, uint16 regions."""
    counts = np.array([len(grid.nodes), grid.n_cells, len(grid.cell_nodes)])
    arrays = ((counts, "<u4"), (grid.nodes, "<f4"), (grid.cell_start, "<u4"), (grid.cell_nodes, "<u4"), (grid.region, "<u2"))
    return b"".join(np.ascontiguousarray(values, dtype=kind).tobytes() for values, kind in arrays)


def frame_out(data: bytes) -> bytes:
    """A frame for the browser, before compression, little-endian: the length of a heading (uint32), the heading (JSON: name, kind,
    low and high of each field) with padding to an even place, and the codes of all fields (uint16). Fields without any value are
    left out."""
    kept = {name: entry for name, entry in codes_of(data).items() if name in FIELDS and (entry[0] != NOTHING).any()}
    heading = json.dumps([{"name": name, "kind": FIELDS[name], "low": low, "high": high} for name, (_, low, high) in kept.items()])
    text = heading.encode()
    text += b" " * (len(text) % 2)
    return b"".join([len(text).to_bytes(4, "little"), text, *(codes.astype("<u2").tobytes() for codes, _, _ in kept.values())])


def fields_out(fields: Mapping[str, np.ndarray]) -> list[dict[str, Any]]:
    """Cell fields by name as a list of `FieldOut`, those without any value left out."""
    out = []
    for name, values in fields.items():
        if np.isnan(values).all():
            continue
        low, high = float(np.nanmin(values)), float(np.nanmax(values))
        out.append({"name": name, "kind": FIELDS[name], "values": packed(values, "f4"), "low": low, "high": high})
    return out
