"""All kinds of internals. A new one is a file beside this and a line here."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from wattikos_core.documents import Model
from wattikos_core.internals.core import Core, CoreKind
from wattikos_core.internals.fan import Fan, FanKind
from wattikos_core.internals.kind import InternalKind
from wattikos_core.internals.porous import Porous, PorousKind
from wattikos_core.internals.resistance import Resistance, ResistanceKind

# In the order in which the desk offers them.
INTERNAL_KINDS: dict[str, InternalKind] = {kind.type: kind for kind in (FanKind(), ResistanceKind(), PorousKind(), CoreKind())}

Internal = Annotated[Fan | Resistance | Porous | Core, Field(discriminator="type")]


def internal_kind_of(internal: Model) -> InternalKind:
    """The kind of an internal of a document."""
    return next(kind for kind in INTERNAL_KINDS.values() if isinstance(internal, kind.model))
