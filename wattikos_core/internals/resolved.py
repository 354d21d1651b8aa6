"""What stands in a stream, in SI."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from wattikos_core.internals.curve import Curve
from wattikos_core.materials import PropertyTable

Array = NDArray[np.float64]


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
class MatrixExchange:
    """How heat passes between a matrix and the fluid in it, where each has its own temperature.

    Attributes:
        fluid: properties of the fluid by itself.
        rate: W/m3/K; NaN where `grain_size` tells it, m.
    """

    fluid: PropertyTable
    rate: float
    grain_size: float = 0.0

    def between(self, porosity: float, flux: Array, temperature: Array) -> Array:
        """Heat that passes for each kelvin, W/m3/K, from mass fluxes ahead of the matrix (kg/m2/s) and fluid temperatures (K).

        Grains: Nu = 2 + 1.1 Pr^(1/3) Re^0.6 on their size, with 6 (1 - ε)/d of surface per volume; Wakao, Kaguei and Funazkri
        (1979, Chem. Eng. Sci. 34, 325), for Re from 15 to 8500.

        Example:
            >>> from wattikos_core.materials import table_of
            >>> bed = MatrixExchange(table_of("air"), math.nan, 0.01)
            >>> [round(float(h), -2) for h in bed.between(0.4, np.array([0.0, 0.6]), np.array([293.15, 293.15]))]
            [1900.0, 31500.0]
        """
        if not math.isnan(self.rate):
            return np.full(np.shape(flux), self.rate)
        fluid, size = self.fluid, self.grain_size
        conductivity, viscosity = fluid.conductivity(temperature), fluid.viscosity(temperature)
        reynolds = flux * size / viscosity
        prandtl = viscosity * fluid.specific_heat(temperature) / conductivity
        nusselt = 2.0 + 1.1 * np.cbrt(prandtl) * reynolds**0.6
        return np.asarray(6.0 * (1.0 - porosity) / size * nusselt * conductivity / size)


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
        exchange: between matrix and fluid, where the matrix has a temperature of its own; None where it is as warm.
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
    exchange: MatrixExchange | None = None

    def rotated(self, angle: float) -> ResolvedDrag:
        """The drag of a copy that stands turned; what it conducts keeps to the axes, as it does in the document."""
        conducts = self.conductivity
        if conducts is not None and abs(math.cos(angle)) < abs(math.sin(angle)):
            conducts = conducts[::-1]
        return replace(self, direction=turned_by(self.direction, angle), conductivity=conducts)


ResolvedInternal = ResolvedFan | ResolvedDrag
