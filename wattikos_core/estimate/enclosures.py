"""Surfaces around a gas that radiate to each other: the network of an enclosure, with view factors of the section as it is drawn.

Every surface has one temperature and is evenly lit. Those with a temperature have it, films give what they let through, heat that
is given is given off, and what has none of these floats: it gives off what it takes in (re-radiating). Openings are black.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import ResolvedCondition, ResolvedPart
from wattikos_core.case.estimates import RadiatingEnclosure
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key
from wattikos_core.radiation import Emitting, Mirror, net_radiation, pieces_of, view_factors
from wattikos_core.section import PaintedSection, contains, paint
from wattikos_core.section.painted import Boundary

Array = NDArray[np.float64]

OPPENHEIM = "network of grey, diffuse surfaces: Oppenheim (1956), Trans. ASME 78, 725 (from memory)"
STRINGS, RINGS = "view factors by crossed strings (Hottel)", "view factors of rings by integration"
_WHERE = "surfaces of one temperature each, evenly lit; a gas that takes no part"
# The outline is cut into about so many pieces.
_PIECES = 160
_ENTERS = ("inlet_mass", "inlet_velocity", "inlet_static", "inlet_total", "opening")


@dataclass(frozen=True)
class _Surface:
    """One surface of an enclosure.

    Attributes:
        start, end: of its pieces, m, shape (n, 2), the gas to the left on the way.
        temperature: K, NaN where it is not given; `ambient` of the film behind it, K, and `conductance` of that, W/m2/K.
        heat: that comes to it from behind, W, where it has no temperature.
        absorbed: that shines on it from elsewhere, W/m2.
    """

    name: str
    start: Array
    end: Array
    emissivity: float
    temperature: float = float("nan")
    heat: float = 0.0
    flux: float = 0.0
    ambient: float = 0.0
    conductance: float = 0.0
    absorbed: float = 0.0


def radiating_enclosure(bound: Bound, roles: RadiatingEnclosure) -> dict[Key, HandValue]:
    """Heat that each surface radiates, and the temperature of those that have none given; see `estimate_case`."""
    gas = bound.part("gas", roles.gas)
    if gas.emitting is None:
        remedy = "give them an emissivity in the form of the part"
        raise CaseError(InputProblem("estimate.gas", f"the surfaces around '{gas.name}' do not radiate", remedy))
    bound.account.take("radiation", gas.origin)
    resolved, section = bound.resolved, paint(bound.resolved)
    edges = [boundary for boundary in section.boundaries.values() if gas.name in boundary.parts]
    size = sum(boundary.length for boundary in edges) / _PIECES
    surfaces, mirrors = [], []
    for boundary in edges:
        start, end = _left_of(boundary, section, gas.name, size)
        condition = None if boundary.interface else resolved.condition(boundary.name)
        if resolved.axisymmetric and not boundary.interface and np.all(boundary.segments[:, (1, 3)] == 0.0):
            continue
        if condition is not None and condition.type == "symmetry":
            way = end[0] - start[0]
            mirrors.append(Mirror(start[0], np.array([-way[1], way[0]]) / float(np.hypot(*way))))
            continue
        surfaces.append(_surface(bound, section, gas, boundary, condition, start, end))
    heat, temperature = _exchange(surfaces, tuple(mirrors), resolved.axisymmetric, 1.0 if resolved.axisymmetric else resolved.depth)
    source = f"{OPPENHEIM}; {RINGS if resolved.axisymmetric else STRINGS}"
    found: dict[Key, HandValue] = {}
    for surface, given_off, at in zip(surfaces, heat.tolist(), temperature.tolist(), strict=True):
        told: dict[Key, float] = {Key("radiated", surface.name): given_off}
        if np.isnan(surface.temperature):
            told[Key("mean_temperature", surface.name)] = at
        found |= {key: HandValue(key, value, value, value, source, _WHERE, True) for key, value in told.items()}
    return found


def _surface(
    bound: Bound,
    section: PaintedSection,
    gas: ResolvedPart,
    boundary: Boundary,
    condition: ResolvedCondition | None,
    start: Array,
    end: Array,
) -> _Surface:
    """A surface with what is given for it; CaseError where its temperature follows from what is not part of the enclosure."""
    name, emitting = boundary.name, gas.emitting
    assert emitting is not None
    plain = _Surface(name, start, end, _emissivity(emitting, name), absorbed=emitting.absorbed.get(name, 0.0))
    if boundary.interface:
        return _before_solid(bound, section, gas, boundary, plain)
    if condition is None or condition.type == "adiabatic":
        return plain
    if condition.type in _ENTERS:
        bound.account.take("stream", gas.origin)
        return _Surface(name, start, end, 1.0, condition.temperature)
    bound.account.take("outside", name)
    if condition.type == "temperature":
        return replace(plain, temperature=condition.amount)
    if condition.type == "heat_flux":
        return replace(plain, flux=condition.amount)
    if condition.type == "heat_rate":
        return replace(plain, heat=condition.amount)
    if condition.type == "surroundings" and condition.emissivity == 0.0 and condition.amount > 0.0:
        return replace(plain, ambient=condition.ambient, conductance=1.0 / (1.0 / condition.amount + condition.coating))
    problem = f"by hand the temperature of '{name}' is not known"
    raise CaseError(InputProblem(condition.field, problem, "hold it at a temperature, or switch this hand calculation off"))


def _before_solid(bound: Bound, section: PaintedSection, gas: ResolvedPart, boundary: Boundary, plain: _Surface) -> _Surface:
    """The surface of a solid that stands in the gas by itself gives off the heat that is released in it."""
    other = next(part for part in boundary.parts if part != gas.name)
    solid = bound.part("gas", other)
    edges = [edge for edge in section.boundaries.values() if other in edge.parts]
    if solid.material.fluid or len(edges) > 1:
        problem = f"by hand the temperature of '{boundary.name}' is not known: '{other}' conducts to elsewhere"
        remedy = "hold it at a temperature by a void in its place, or switch this hand calculation off"
        raise CaseError(InputProblem("estimate.gas", problem, remedy))
    if solid.heat_density or solid.heat_along is not None:
        problem = f"by hand the heat that '{other}' gives off is not known: it is given per volume, or varies"
        raise CaseError(InputProblem("estimate.gas", problem, "give one heat rate, or switch this hand calculation off"))
    bound.account.take("source", solid.origin)
    return replace(plain, heat=solid.heat)


def _emissivity(emitting: Emitting, name: str) -> float:
    return emitting.emissivities.get(name, emitting.emissivity)


def _left_of(boundary: Boundary, section: PaintedSection, gas: str, size: float) -> tuple[Array, Array]:
    """Pieces of a boundary of about a length, m, with the gas to the left on the way: starts and ends."""
    starts, ends = [], []
    for x0, y0, x1, y1 in boundary.segments.tolist():
        count = max(1, round(float(np.hypot(x1 - x0, y1 - y0)) / size))
        share = np.linspace(0.0, 1.0, count + 1)[:, None]
        points = np.array([x0, y0]) + share * np.array([x1 - x0, y1 - y0])
        middle, way = 0.5 * (points[0] + points[1]), points[1] - points[0]
        beside = middle + 1e-3 * np.array([-way[1], way[0]])
        if not contains(section.rings[gas], beside):
            points = points[::-1]
        starts.append(points[:-1])
        ends.append(points[1:])
    return np.concatenate(starts), np.concatenate(ends)


def _exchange(surfaces: list[_Surface], mirrors: tuple[Mirror, ...], axisymmetric: bool, depth: float) -> tuple[Array, Array]:
    """Heat that each surface radiates, less what shines on it, W, and its temperature, K."""
    from scipy.optimize import root

    count = len(surfaces)
    start, end = (np.concatenate([getattr(one, side) for one in surfaces]) for side in ("start", "end"))
    whose = np.repeat(np.arange(count), [len(one.start) for one in surfaces])
    pieces = pieces_of(start, end, axisymmetric, mirrors)
    between = pieces.area[:, None] * view_factors(pieces)
    member = np.equal.outer(np.arange(count), whose).astype(float)
    area = member @ pieces.area
    factors = member @ between @ member.T / area[:, None]
    area = area * depth
    emissivity, temperature, ambient, conductance, absorbed = (
        np.array([getattr(one, name) for one in surfaces])
        for name in ("emissivity", "temperature", "ambient", "conductance", "absorbed")
    )
    shines = absorbed * area
    behind = np.array([one.heat for one in surfaces]) + np.array([one.flux for one in surfaces]) * area + shines
    films = np.nonzero(conductance > 0.0)[0]

    def at(filmed: Array) -> tuple[Array, Array]:
        known = temperature.copy()
        known[films] = filmed
        return net_radiation(area, emissivity, factors, known, behind)

    def missing(filmed: Array) -> Array:
        coming = conductance[films] * area[films] * (ambient[films] - filmed) + shines[films]
        return np.asarray((at(filmed)[0][films] - coming) / (conductance[films] * area[films]))

    if not films.size and not np.isfinite(temperature).any():
        problem = "no surface around the gas has a temperature, and nothing that has one is behind any of them"
        raise CaseError(InputProblem("estimate.gas", problem, "hold one of them at a temperature"))
    filmed = np.zeros(0)
    if films.size:
        balanced = root(missing, ambient[films])
        if not balanced.success:
            problem = "no temperatures of the surfaces with films were found at which their heat balances"
            raise CaseError(InputProblem("estimate.gas", problem, "look at the films, or switch this hand calculation off"))
        filmed = balanced.x
    heat, at_surface = at(filmed)
    # What floats gives off what it gets, without round-off.
    floats = np.isnan(temperature) & (conductance == 0.0)
    return np.where(floats, behind, heat) - shines, at_surface
