"""What all document models share."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

# Marks the text that is evaluated, which must be told from names and notes.
EVALUATED = "evaluated"
Expression = Annotated[str, Field(max_length=400), EVALUATED]
Name = Annotated[str, Field(min_length=1, max_length=60)]


class Model(BaseModel):
    """Base of all document models: unknown fields are refused, so that a typing error is told, and numbers that are none."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
