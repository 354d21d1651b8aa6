"""What all document models share."""

from __future__ import annotations

from typing import Annotated, Any, get_args

from pydantic import BaseModel, ConfigDict, Field
from pydantic.fields import FieldInfo

# Marks the text that is evaluated, which must be told from names and notes.
EVALUATED = "evaluated"
Expression = Annotated[str, Field(max_length=400), EVALUATED]
Name = Annotated[str, Field(min_length=1, max_length=60)]


def is_evaluated(field: FieldInfo) -> bool:
    """Whether a field holds expressions, alone or in lists and dictionaries."""

    def marked(annotation: Any) -> bool:
        return EVALUATED in getattr(annotation, "__metadata__", ()) or any(marked(part) for part in get_args(annotation))

    return EVALUATED in field.metadata or marked(field.annotation)


class Model(BaseModel):
    """Base of all document models: unknown fields are refused, so that a typing error is told, and numbers that are none."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
