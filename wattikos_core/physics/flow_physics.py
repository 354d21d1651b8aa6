"""What the flow of a case answers to: gravity, density, friction heat, mush."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from wattikos_core.internals import ResolvedInternal
from wattikos_core.radiation import Emitting

# Resistance of the mush, kg/m3/s: the customary value, Brent, Voller and Reid (1988, Numer. Heat Transfer 13, 297).
MUSH = 1.6e6


@dataclass(frozen=True)
class TurbulenceModel:
    """How turbulence is modelled where there is any.

    Attributes:
        regions: that flow turbulently.
        prandtl: whether the turbulent Prandtl number rises towards walls by Kays (1994), or is the same everywhere.
        transition: whether layers may be laminar for a while and turn turbulent on their way (see `turbulence.transition`).
        limited: whether shear stress is no more than a share of k (shear stress transport), or free (its baseline; Menter 1994).
        turning: whether turbulence is made only by strain that turns, none where a stream stagnates (Kato and Launder 1993).
        calming: viscosity beside that of the model, m2/s, on the way to a solution; 0 in an answer.
        followed: share of what intermittency does, on the way to a solution; 1 in an answer.
    """

    regions: tuple[int, ...]
    prandtl: Literal["kays", "constant"] = "kays"
    transition: bool = False
    limited: bool = True
    turning: bool = False
    calming: float = 0.0
    followed: float = 1.0


@dataclass(frozen=True)
class FlowPhysics:
    """What moves fluids beside their boundaries, in SI.

    Attributes:
        gravity: m/s2, all components.
        reference: temperature of the density that weight is counted against, K; the mean of those given when None.
        varying_density: whether density varies in all balances and not in the weight alone.
        in_time: whether cells store.
        friction_heat: whether friction heats the fluid.
        drive: force that stands for a pressure falling along repeated modules, N/m3.
        mush: see `MUSH`.
        blend: of convection, 1 for Fromm's scheme, 0 for upwind.
        repeating: whether the section is a module that repeats.
        age_diffusivity: by which the age of fluid spreads, m2/s; None where it is not wanted.
        turbulence: the model of it; None where all flow is laminar.
        rayleigh_length: what Rayleigh numbers are on: the `gap` between the surfaces that give heat and take it, or the `height`.
        internals: what stands in streams, by number of the region.
        emitting: gases whose surfaces radiate to each other, by number of the region.
    """

    gravity: tuple[float, ...] = (0.0, 0.0)
    reference: float | None = None
    varying_density: bool = False
    in_time: bool = False
    friction_heat: bool = False
    drive: tuple[float, ...] = (0.0, 0.0)
    mush: float = MUSH
    rayleigh_length: Literal["gap", "height"] = "gap"
    repeating: bool = False
    blend: float = 1.0
    age_diffusivity: float | None = None
    turbulence: TurbulenceModel | None = None
    internals: tuple[tuple[int, ResolvedInternal], ...] = ()
    emitting: tuple[tuple[int, Emitting], ...] = ()

    @property
    def heavy(self) -> bool:
        """Whether there is gravity."""
        return any(self.gravity)


def follows_pressure(physics: FlowPhysics) -> bool:
    """Whether the density of gases follows the local pressure, as in an ideal gas at its temperature.

    It does in steady flow where density varies at all. In time it would carry waves of sound, which nobody looks for here; a
    module that repeats has one pressure.
    """
    return not (physics.in_time or physics.repeating or (physics.heavy and not physics.varying_density))
