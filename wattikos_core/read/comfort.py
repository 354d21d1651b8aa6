"""How people feel at a place: predicted mean vote and percentage dissatisfied, and draught, by ISO 7730:2005."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.case.comfort import ResolvedComfort
from wattikos_core.ledger import Key
from wattikos_core.physics.faces import Array
from wattikos_core.read.instant import Instant
from wattikos_core.read.surface_fields import surface_faces

# One met, W/m2, and one clo, m2 K/W, by the standard.
MET, CLO = 58.2, 0.155
# Turbulence of air where nothing is known of it, as a share of its speed: annex of the standard.
USUAL_TURBULENCE = 0.4
_CELSIUS = 273.15
_MOST_STEPS, _SETTLED = 300, 1e-9
# Rays from a place to the surfaces around it.
_RAYS = 360


def predicted_mean_vote(
    air: float, radiant: float, speed: float, humidity: float, *, activity: float = 1.2, clothing: float = 0.5
) -> float:
    """Mean vote from -3, cold, to +3, hot; equations 1 to 4 of ISO 7730:2005, no work done outside.

    Args:
        air: temperature, K.
        radiant: mean radiant temperature, K.
        speed: of the air, m/s.
        humidity: relative, 0 to 1.
        activity: metabolic rate, met.
        clothing: clo.

    Example:
        The first row of the standard's table for checking programs, -0.75:

        >>> round(predicted_mean_vote(295.15, 295.15, 0.1, 0.6, activity=1.2, clothing=0.5), 2)
        -0.75
    """
    t_air, t_radiant = air - _CELSIUS, radiant - _CELSIUS
    metabolic, insulation = activity * MET, clothing * CLO
    vapour = humidity * 1000.0 * math.exp(16.6536 - 4030.183 / (t_air + 235.0))
    larger = 1.0 + 1.29 * insulation if insulation <= 0.078 else 1.05 + 0.645 * insulation

    def lost(skin: float) -> tuple[float, float]:
        film = max(2.38 * abs(skin - t_air) ** 0.25, 12.1 * math.sqrt(max(speed, 0.0)))
        radiated = 3.96e-8 * larger * ((skin + 273.0) ** 4 - (t_radiant + 273.0) ** 4)
        return radiated, larger * film * (skin - t_air)

    # The surface of clothing: between what it is far too cold and far too warm for.
    low, high = min(t_air, t_radiant) - 100.0, 136.0
    for _ in range(_MOST_STEPS):
        skin = 0.5 * (low + high)
        wanted = 35.7 - 0.028 * metabolic - insulation * sum(lost(skin))
        low, high = (skin, high) if wanted > skin else (low, skin)
        if high - low < _SETTLED:
            break
    radiated, convected = lost(skin)
    left = metabolic - 3.05e-3 * (5733.0 - 6.99 * metabolic - vapour) - 0.42 * (metabolic - 58.15)
    left -= 1.7e-5 * metabolic * (5867.0 - vapour) + 0.0014 * metabolic * (34.0 - t_air) + radiated + convected
    return (0.303 * math.exp(-0.036 * metabolic) + 0.028) * left


def predicted_dissatisfied(vote: float) -> float:
    """Share of people who are dissatisfied at a mean vote; equation 5.

    Example:
        >>> predicted_dissatisfied(0.0)
        0.05
    """
    return 1.0 - 0.95 * math.exp(-0.03353 * vote**4 - 0.2179 * vote**2)


def draught_rate(air: float, speed: float, turbulence: float) -> float:
    """Share of people whom a draught bothers; equation 6, for 20 to 26 °C and below 0.5 m/s.

    Args:
        air: temperature, K.
        speed: mean of the air, m/s.
        turbulence: as a share of the speed.
    """
    v, per_cent = max(speed, 0.05), 100.0 * turbulence
    rate = (34.0 - (air - _CELSIUS)) * (v - 0.05) ** 0.62 * (0.37 * v * per_cent + 3.14)
    return float(min(max(0.01 * rate, 0.0), 1.0))


def comfort_at(
    comfort: ResolvedComfort, place: str, air: float, speed: float, radiant: float, turbulence: float
) -> dict[Key, float]:
    """Vote, dissatisfied and draught at a place, by key."""
    warm = radiant if comfort.radiant is None else comfort.radiant
    vote = predicted_mean_vote(air, warm, speed, comfort.humidity, activity=comfort.activity, clothing=comfort.clothing)
    return {
        Key("mean_vote", place): vote,
        Key("dissatisfied", place): predicted_dissatisfied(vote),
        Key("draught_rate", place): draught_rate(air, speed, turbulence),
        Key("radiant_temperature", place): warm,
    }


def radiant_temperature(instant: Instant, place: Array) -> float:
    """Mean radiant temperature at a place of a flat section, K: of the surfaces around, black, each by the angle it fills.

    Rays go out evenly in the plane of the section: of strips without end a small body sees as much. About an axis all surfaces
    count by their area.
    """
    grid = instant.grid
    kept = surface_faces(grid)
    stands = np.array([_is_surface(instant, name) for name in grid.groups])
    faces = np.unique(np.concatenate([g for g, s in zip(grid.groups.values(), stands, strict=True) if s] or [kept[:0]]))
    if not faces.size:
        return float("nan")
    both = np.stack([instant.on_faces(name, faces) for name in ("temperature", "temperature beyond")])
    if grid.axisymmetric:
        area = np.hypot(*grid.area[faces].T)
        return float(np.average(both[0] ** 4, weights=area) ** 0.25)
    start, end = grid.nodes[grid.edges[faces, 0]], grid.nodes[grid.edges[faces, 1]]
    angle = 2.0 * np.pi * (np.arange(_RAYS) + 0.5) / _RAYS
    way = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    edge, to = end - start, start - place
    across = way[:, :1] * edge[:, 1] - way[:, 1:] * edge[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        far = (to[:, 0] * edge[:, 1] - to[:, 1] * edge[:, 0]) / across
        share = (to[:, 0] * way[:, 1:] - to[:, 1] * way[:, :1]) / across
    far = np.where((across != 0.0) & (far > 0.0) & (share >= -1e-9) & (share <= 1.0 + 1e-9), far, np.inf)
    nearest = np.argmin(far, axis=1)
    met = np.isfinite(far[np.arange(_RAYS), nearest])
    if not met.any():
        return float("nan")
    # On the side from which it is seen.
    out = np.einsum("ij,ij->i", way, grid.area[faces[nearest]])
    seen = np.where(out > 0.0, both[0][nearest], both[1][nearest])[met]
    return float(np.mean(seen**4) ** 0.25)


def _is_surface(instant: Instant, name: str) -> bool:
    """Whether radiation ends at a boundary or an interface: where two fluids open into one another it does not."""
    first, bar, second = name.partition(" | ")
    names = instant.grid.region_names
    return not bar or not all(instant.flows[names.index(part)] for part in (first, second) if part in names)


def comfort_quantities(
    resolved: ResolvedCase, instant: Instant, places: Iterable[tuple[str, Array, float, float]], turbulence: Array | None
) -> dict[Key, float]:
    """Comfort at places by key: of each its name, where it is (m), the air's temperature (K) and its speed (m/s)."""
    comfort = resolved.comfort
    values: dict[Key, float] = {}
    if comfort is None:
        return values
    for name, place, air, speed in places:
        stirred = USUAL_TURBULENCE
        if turbulence is not None and speed > 0.0:
            cell = instant.between.locate(place[None, :])[0]
            stirred = math.sqrt(2.0 / 3.0 * max(float(turbulence[cell]), 0.0)) / speed if cell >= 0 else USUAL_TURBULENCE
        radiant = radiant_temperature(instant, place)
        if math.isfinite(radiant):
            values |= comfort_at(comfort, name, air, speed, radiant, min(stirred, 1.0))
    return values
