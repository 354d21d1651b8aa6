"""Vortices behind bodies: how much finer their section is gridded, and how long a step may be, where they are followed in time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wattikos_core.case import LocalSize, ResolvedCase
from wattikos_core.section import Body, PaintedSection, bodies_in_streams

# Vortices leave a free circular cylinder from here on: Williamson (1996), Annu. Rev. Fluid Mech. 28, 477.
VORTICES_REYNOLDS = 47.0
# At fineness 1 a cylinder in a channel sheds 6 % too slowly and lifts 7 % too much; so fine all over it lifts as it should, but
# sheds 4 % too slowly; with cells of half the size around it and where vortices form, frequency, drag and lift are within 1 % (our
# own solutions against Schäfer and Turek 1996).
_FINER, _FINER_BEHIND = 1.5, 2.0
# That place, in diameters from the middle of the body: to the sides, ahead, behind.
_BESIDE, _BEFORE, _BEHIND = 1.7, 1.0, 3.0
# The longest step as a share of the time a stream takes past a diameter: a twenty-fifth of a period at a Strouhal number of 0.2.
_SHARE_OF_PASSING = 0.2


@dataclass(frozen=True)
class Wake:
    """A body all round in a stream that sheds vortices.

    Attributes:
        diameter: of the circle with its perimeter, m; `speed` the mean of what enters, m/s.
        box: where its vortices form, x0, y0, x1, y1 in m.
    """

    diameter: float
    speed: float
    box: tuple[float, float, float, float]


def wakes(resolved: ResolvedCase, section: PaintedSection) -> list[Wake]:
    """The bodies behind which vortices are to be followed; none in steady state."""
    if resolved.time is None or resolved.axisymmetric:
        return []
    given = resolved.temperatures_given
    return [
        Wake(body.diameter, body.speed, _box(body))
        for body in bodies_in_streams(resolved, section)
        if body.whole and body.reynolds(resolved, 0.5 * (min(given) + max(given))) > VORTICES_REYNOLDS
    ]


def _box(body: Body) -> tuple[float, float, float, float]:
    """Around a body and behind it, along the axis that points most from where fluid enters to the body."""
    size, middle, along = float((body.high - body.low).max()), 0.5 * (body.low + body.high), body.along
    reach = np.full((2, 2), _BESIDE * size)
    downstream = int(middle[along] > body.entry[along])
    reach[downstream, along], reach[1 - downstream, along] = _BEHIND * size, _BEFORE * size
    (x0, y0), (x1, y1) = middle - reach[0], middle + reach[1]
    return float(x0), float(y0), float(x1), float(y1)


def wake_fineness(resolved: ResolvedCase, section: PaintedSection) -> float:
    """By what a fineness is multiplied, so that vortices behind bodies in a stream are followed in time; at least 1."""
    return _FINER if wakes(resolved, section) else 1.0


def wake_sizes(resolved: ResolvedCase, section: PaintedSection) -> tuple[LocalSize, ...]:
    """Finer cells where the vortices of a body form: across wide ones they lag, and are shed too slowly.

    Among several bodies gaps ask for fine cells already, and vortices have little room.
    """
    found = wakes(resolved, section)
    return (LocalSize("grid", (), found[0].box, _FINER_BEHIND),) if len(found) == 1 else ()


def wake_step(resolved: ResolvedCase, section: PaintedSection) -> float | None:
    """The longest step, s, in which vortices still grow out of a calm stream; None where none are shed.

    An unsteady wake begins as a disturbance far below any error that steps are chosen by: in the long steps this allows, what
    grows in truth dies out, and the stream stays steady for ever.
    """
    passing = [wake.diameter / wake.speed for wake in wakes(resolved, section)]
    return _SHARE_OF_PASSING * min(passing) if passing else None
