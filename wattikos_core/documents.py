"""What all document models share."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Expression = Annotated[str, Field(max_length=400)]
Name = Annotated[str, Field(min_length=1, max_length=60)]


class Model(BaseModel):
    """Base of all document models: unknown fields are refused, so that a typing error is told."""

    model_config = ConfigDict(extra="forbid")
