"""How the surfaces around a gas radiate."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Emitting:
    """How the surfaces around a gas radiate.

    Attributes:
        emissivity: of all surfaces that are not named.
        emissivities: of boundaries and interfaces by name.
        absorbed: what else shines on them and is absorbed, by name, W/m2.
    """

    emissivity: float
    emissivities: Mapping[str, float]
    absorbed: Mapping[str, float]
