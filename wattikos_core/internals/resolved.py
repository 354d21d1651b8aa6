"""What stands in a stream, in SI."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from wattikos_core.internals.curve import Curve
from wattikos_core.materials import PropertyTable


def turned_by(direction: tuple[float, float], angle: float) -> tuple[float, float]:
    """A direction turned anticlockwise by an angle, rad."""
    c, s = math.cos(angle), math.sin(angle)
    return c * direction[0] - s * direction[1], s * direction[0] + c * direction[1]


@dataclass(frozen=True)
class ResolvedFan:
    """A fan, or a pump.

    Attributes:
        field: where it stands in the document.
        direction: in which it drives, unit vector; `thickness` of its part that way, m.
        curve: pressure rise, Pa, against the volume flow of one fan, m3/s.
        stands_for: how many fans the part is, a half of one or several side by side.
        efficiency: of what the shaft gives, the share that the stream's pressure gains; None where it is not told.
        swirl: angular velocity about the axis that its vanes leave in the stream, rad/s.
    """

    field: str
    direction: tuple[float, float]
    thickness: float
    curve: Curve
    stands_for: float = 1.0
    efficiency: float | None = None
    swirl: float = 0.0

    def rotated(self, angle: float) -> ResolvedFan:
        """The fan of a copy that stands turned."""
        return replace(self, direction=turned_by(self.direction, angle))


@dataclass(frozen=True)
class LiquidSide:
    """What flows inside the tubes of a core, and how heat passes to it.

    Attributes:
        temperature: at which it enters, K.
        mass_flow: kg/s; infinite where it condenses or boils at its temperature.
        table: its properties; None where it condenses or boils.
        conductance: UA of all the core, W/K, or `curve` of it against the speed ahead of the core, m/s.
        passes: along the core, one behind the other.
        counter: whether it enters where the stream leaves.
        from_start: whether its first pass runs along the second axis, or against it.
    """

    temperature: float
    mass_flow: float
    table: PropertyTable | None
    conductance: float
    curve: Curve | None = None
    passes: int = 1
    counter: bool = True
    from_start: bool = True

    @property
    def capacity_rate(self) -> float:
        """Heat capacity rate at the temperature at which it enters, W/K; infinite where it condenses or boils."""
        return math.inf if self.table is None else self.mass_flow * float(self.table.specific_heat(self.temperature))

    def conductance_at(self, speed: float) -> float:
        """UA at a speed ahead of the core (m/s), W/K."""
        return self.conductance if self.curve is None else max(float(self.curve(abs(speed))), 0.0)


@dataclass(frozen=True)
class ResolvedDrag:
    """What holds a stream back: -(μ D_i + ρ C_i |u| / 2) u_i along two axes, or a drop against the speed along the first.

    Attributes:
        kind: `resistance`, `porous` or `core`.
        direction: of the first axis, unit vector; the second one is turned from it anticlockwise.
        thickness: of the part along it, m; NaN where it has none.
        viscous: D along both axes, 1/m2; `inertial`: C, 1/m.
        by_component: whether each component is held back by its own magnitude, in place of the speed.
        curve: pressure drop over the thickness, Pa, against the speed across it, m/s, in place of what acts along the first axis;
            None without one.
        porosity: share of the part that is fluid; `matrix`: properties of the rest, which is as warm, None where it takes no part.
        in_words: what it is taken for.
        liquid: what flows in the tubes of a core; None in all else.
        conductivity: along x and y of matrix and fluid together, W/m/K; None where both tell it.
        mixing_length: over which the ways through a matrix mix what passes, m; 0 where they do not.
    """

    field: str
    kind: str
    direction: tuple[float, float]
    thickness: float
    viscous: tuple[float, float] = (0.0, 0.0)
    inertial: tuple[float, float] = (0.0, 0.0)
    by_component: bool = False
    curve: Curve | None = None
    porosity: float = 1.0
    matrix: PropertyTable | None = None
    in_words: str = ""
    liquid: LiquidSide | None = None
    conductivity: tuple[float, float] | None = None
    mixing_length: float = 0.0

    def rotated(self, angle: float) -> ResolvedDrag:
        """The drag of a copy that stands turned; what it conducts keeps to the axes, as it does in the document."""
        conducts = self.conductivity
        if conducts is not None and abs(math.cos(angle)) < abs(math.sin(angle)):
            conducts = conducts[::-1]
        return replace(self, direction=turned_by(self.direction, angle), conductivity=conducts)


ResolvedInternal = ResolvedFan | ResolvedDrag
