"""Conditions in SI: what stands on one boundary, and what of it varies."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from wattikos_core.case.reader import Along


@dataclass(frozen=True)
class ResolvedCondition:
    """A condition in SI on one boundary.

    Attributes:
        field: of the condition in the document.
        kind: which of the boundary kinds it is of.
        amount: mass flow (kg/s), mean velocity (m/s), pressure (Pa), temperature (K), heat flux (W/m2), heat rate (W)
            or heat transfer coefficient (W/m2/K), by type.
        temperature: of the entering fluid, or of what an opening opens to, K.
        stagnation: whether `temperature` is that of the fluid when it is slowed down to rest.
        ambient, surroundings: what a wall convects and radiates to, K.
        absorbed: flux that shines on a wall from outside beside convection and radiation, W/m2.
        coating: resistance of a wall or coating outside the section, m2 K/W.
        roughness: equivalent sand roughness of a wall, m.
        angular_velocity: of a wall or of what enters, rad/s; `slide_x`, `slide_y` of a wall, m/s; `centre` it turns about, m.
        intensity, eddies: of turbulence that enters, and the size of its eddies, m; None to be found from the stream.
        along: what varies along the boundary or in time: `amount`, `ambient`, `temperature`, `surroundings`, `absorbed`,
            `angular_velocity`, `slide_x` or `slide_y`, with how.
    """

    field: str
    boundary: str
    kind: str
    type: Literal[
        "inlet_mass",
        "inlet_velocity",
        "inlet_static",
        "inlet_total",
        "outlet",
        "opening",
        "symmetry",
        "periodic",
        "adiabatic",
        "temperature",
        "heat_flux",
        "heat_rate",
        "surroundings",
    ]
    amount: float = 0.0
    temperature: float = 0.0
    developed: bool = False
    ambient: float = 0.0
    emissivity: float = 0.0
    surroundings: float = 0.0
    absorbed: float = 0.0
    coating: float = 0.0
    roughness: float = 0.0
    angular_velocity: float = 0.0
    slide_x: float = 0.0
    slide_y: float = 0.0
    centre: tuple[float, float] | None = None
    intensity: float | None = None
    eddies: float | None = None
    stagnation: bool = False
    along: Mapping[str, Along] = dataclasses.field(default_factory=dict)

    @property
    def temperatures(self) -> list[float]:
        """The temperatures it names, K."""
        if self.kind in ("inlet", "opening"):
            return [self.temperature]
        if self.type == "temperature":
            return [self.amount]
        if self.type != "surroundings":
            return []
        return ([self.ambient] if self.amount > 0.0 else []) + ([self.surroundings] if self.emissivity > 0.0 else [])

    @property
    def profile_given(self) -> bool:
        """Whether what enters varies from place to place."""
        return self.kind == "inlet" and any(varying.in_place for varying in self.along.values())

    @property
    def moves(self) -> bool:
        """Whether a wall moves, or what enters turns."""
        moving = {"angular_velocity", "slide_x", "slide_y"}
        return bool(self.angular_velocity or self.slide_x or self.slide_y or moving & set(self.along))
