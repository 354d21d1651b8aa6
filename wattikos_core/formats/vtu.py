"""Fields as VTU (the open XML format for unstructured grids), through meshio."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from wattikos_core.formats.grids import polygon_blocks
from wattikos_core.grid import Grid
from wattikos_core.read import cell_fields
from wattikos_core.solve import State


def write_vtu(path: Path | str, grid: Grid, state: State, fluid: np.ndarray) -> None:
    """Write cells with temperature (K), pressure (Pa), velocity (m/s) and region number to `path`."""
    import meshio

    blocks, order = polygon_blocks(grid)
    fields = cell_fields(state, fluid)
    data: dict[str, list[np.ndarray]] = {
        name: [values[cells] for cells in order] for name, values in fields.items() if not name.startswith("velocity")
    }
    velocity = np.column_stack([np.where(fluid, state.u, 0.0), np.where(fluid, state.v, 0.0), np.zeros(grid.n_cells)])
    data["velocity"] = [velocity[cells] for cells in order]
    data["region"] = [grid.region[cells] for cells in order]
    points = np.column_stack([grid.nodes, np.zeros(len(grid.nodes))])
    meshio.Mesh(points, blocks, cell_data=data).write(path, file_format="vtu")
