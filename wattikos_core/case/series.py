"""What a series varies: inputs, or materials of parts, by lists and ranges, and how they go together."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wattikos_core.documents import Model
from wattikos_core.ledger import Key

MOST_VARIED = 6


class Varied(Model):
    """An input, or the material of a part, with its values.

    Attributes:
        input: its name; empty where a material is varied.
        material_of: the part whose material is varied; empty where an input is.
        values: see `quantities.lists`; keys of materials between commas.
    """

    input: Annotated[str, Field(max_length=60)] = ""
    material_of: Annotated[str, Field(max_length=60)] = ""
    values: Annotated[str, Field(max_length=20_000)] = ""


class SeriesWish(Model):
    """What is varied and how: all combinations, row by row, or a Latin hypercube of `count` points within the ends of each.

    Attributes:
        keys: the quantities that are read; those that are wanted when empty.
        grid_check: whether points are solved with their Grid ±, on two coarser grids besides.
    """

    varied: Annotated[list[Varied], Field(max_length=MOST_VARIED)] = []
    how: Literal["all", "paired", "hypercube"] = "all"
    count: Annotated[int, Field(ge=2, le=10_000)] = 20
    seed: Annotated[int, Field(ge=0, le=999_999)] = 1
    keys: Annotated[list[Key], Field(max_length=20)] = []
    grid_check: bool = False
