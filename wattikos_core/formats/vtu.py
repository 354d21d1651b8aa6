"""Fields as VTU (the open XML format for unstructured grids), through meshio."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import numpy as np

from wattikos_core.formats.grids import polygon_blocks
from wattikos_core.grid import Grid


def write_vtu(path: Path | str, grid: Grid, fields: Mapping[str, np.ndarray]) -> None:
    """Write cells with temperature (K), pressure (Pa), velocity (m/s, swirl along the third axis) and region number to `path`."""
    import meshio

    blocks, order = polygon_blocks(grid)
    data: dict[str, list[np.ndarray]] = {
        name: [values[cells] for cells in order] for name, values in fields.items() if not name.startswith("velocity")
    }
    nothing = np.zeros(grid.n_cells)
    velocity = np.nan_to_num(np.column_stack([fields.get(name, nothing) for name in ("velocity x", "velocity y", "swirl")]))
    data["velocity"] = [velocity[cells] for cells in order]
    data["region"] = [grid.region[cells] for cells in order]
    points = np.column_stack([grid.nodes, np.zeros(len(grid.nodes))])
    meshio.Mesh(points, blocks, cell_data=data).write(path, file_format="vtu")
