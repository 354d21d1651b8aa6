"""Several cases beside each other: what they come to, what is given differently, their fields in one range and how these differ."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wattikos_core.case.comparing import given_differently
from wattikos_core.case.reading import View
from wattikos_core.read import FIELDS
from wattikos_core.read.comparing import difference
from wattikos_core.report.blocks import Block, Heading, Picture, TableBlock
from wattikos_core.report.data import ReportData, Told, printed_views, value_of
from wattikos_core.report.pictures import Tile, tiles_picture

# Tiles of a picture: more are too small to be read on a page.
MOST_TILES = 6


def comparison_of(data: Sequence[ReportData]) -> list[Block]:
    """What several cases come to, in columns (what any of them wants, solved where it is), then their fields beside each other."""
    told = [Told(one) for one in data]
    names: dict[str, None] = {}
    for one in told:
        names |= {row["name"]: None for row in one.rows if row["wanted"]}
    titles = tuple(one.case.title for one in told)
    rows = tuple((name, *(_best(one, name) for one in told)) for name in names)
    numbers = frozenset(range(1, len(titles) + 1))
    blocks: list[Block] = [Heading("Comparison"), TableBlock(("quantity", *titles), rows, numbers)]
    given = given_differently([one.case for one in told])
    if given:
        blocks.append(Heading("Given differently", 2))
        blocks.append(TableBlock(("input", *titles), tuple((row.name, *(v or "" for v in row.values)) for row in given), numbers))
    fields = _fields(told)
    return [*blocks, Heading("Fields beside each other", 2), *fields] if fields else blocks


def _best(one: Told, name: str) -> str:
    row = next((row for row in one.rows if row["name"] == name), None)
    if row is None:
        return ""
    return value_of(row, "solved") or (f"{value_of(row, 'by_hand')} (by hand)" if row["by_hand"] else "")


def _fields(told: Sequence[Told]) -> list[Block]:
    """The printed views of the first solved case, of all that are solved, and what each field is above the first one's."""
    solved = [(one, one.instant, one.sketch) for one in told if one.instant is not None and one.sketch is not None]
    if len(solved) < 2:
        return []
    blocks: list[Block] = []
    for view in printed_views(solved[0][0].case):
        tiles = [
            Tile(one.case.title, instant, sketch, np.asarray(instant.fields[view.field], dtype=float), FIELDS[view.field])
            for one, instant, sketch in solved[:MOST_TILES]
            if instant is not None and sketch is not None and view.field in instant.fields
        ]
        if len(tiles) < 2:
            continue
        caption = f"{view.name}: {view.field} in one range"
        if len(solved) > MOST_TILES:
            caption += f", the first {MOST_TILES} of {len(solved)} cases"
        blocks.append(Picture(tiles_picture(tiles, view, view.field), caption))
        apart = [tile for other in tiles[1:] if (tile := _apart(tiles[0], other, view.field)) is not None]
        if apart:
            plain = View(name=view.name, field=view.field, colours="heather", zoom=view.zoom, shown=view.shown, arrows=False)
            said = f"{view.name}: {view.field} less that of {tiles[0].title}"
            blocks.append(Picture(tiles_picture(apart, plain, f"difference of {view.field}", centred=True), said))
    return blocks


def _apart(first: Tile, other: Tile, field: str) -> Tile | None:
    """A field less that of the first case, on the grid of the first; None where their sections have nothing in common."""
    values = -difference(first.instant, other.instant, field)
    if np.isnan(values).all():
        return None
    kind = "temperature_difference" if first.kind == "temperature" else first.kind
    return Tile(other.title, first.instant, first.sketch, values, kind)
