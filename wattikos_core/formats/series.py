"""Frames as a series of VTU files with the collection (PVD) that says at which time each is."""

from __future__ import annotations

import tempfile
import zipfile
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from xml.sax.saxutils import quoteattr

import numpy as np

from wattikos_core.formats.vtu import write_vtu
from wattikos_core.grid import Grid

COLLECTION = "series.pvd"


def write_collection(path: Path | str, files: Sequence[tuple[float, str]]) -> None:
    """Write the collection of files by their times (s) to `path`; the files lie beside it."""
    rows = "".join(f'    <DataSet timestep="{time:.12g}" group="" part="0" file={quoteattr(name)}/>\n' for time, name in files)
    text = f'<?xml version="1.0"?>\n<VTKFile type="Collection" version="0.1">\n  <Collection>\n{rows}  </Collection>\n</VTKFile>\n'
    Path(path).write_text(text)


def write_series(archive: Path | str, grid: Grid, frames: Iterable[tuple[float, Mapping[str, np.ndarray]]]) -> int:
    """Write frames (time in s, fields) as one archive with their collection; how many there were."""
    files: list[tuple[float, str]] = []
    with tempfile.TemporaryDirectory() as folder, zipfile.ZipFile(archive, "w", zipfile.ZIP_DEFLATED) as packed:
        for time, fields in frames:
            name = f"frame-{len(files):04}.vtu"
            write_vtu(Path(folder) / name, grid, fields)
            packed.write(Path(folder) / name, name)
            (Path(folder) / name).unlink()
            files.append((time, name))
        write_collection(Path(folder) / COLLECTION, files)
        packed.write(Path(folder) / COLLECTION, COLLECTION)
    return len(files)
