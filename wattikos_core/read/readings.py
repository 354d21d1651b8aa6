"""The probes and lines of a case as quantities of its ledger, so that they can be watched, limited and compared."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.case.places import PlacedLine, PlacedProbe, placed_line, placed_probe
from wattikos_core.errors import CaseError
from wattikos_core.grid import Grid
from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Point
from wattikos_core.physics.faces import Array
from wattikos_core.physics.turbulence.constants import ENERGY
from wattikos_core.read.comfort import comfort_quantities
from wattikos_core.read.fields import flow_fields
from wattikos_core.read.instant import Instant
from wattikos_core.read.interpolation import Interpolant, interpolant_of
from wattikos_core.read.lines import paths_of
from wattikos_core.read.probes import probe_values, values_over, volumes_in
from wattikos_core.read.profiles import Path, profile_along
from wattikos_core.read.surface_fields import surface_fields

# Grids whose interpolants are kept: those of a grid study, and of what follows it.
_KEPT = 6
_PROBED = ["temperature", "speed"]


class _Places:
    """Where the probes and lines of a case lie in a grid; found once."""

    def __init__(self, resolved: ResolvedCase, grid: Grid) -> None:
        self.between: Interpolant = interpolant_of(grid)
        self.points: list[PlacedProbe] = []
        # Boxes and parts with how much of every cell lies in them, m3.
        self.weights: list[tuple[str, Array]] = []
        self.paths: list[Path] = []
        nothing = Instant(self.between, {"temperature": np.zeros(grid.n_cells)})
        for probe in resolved.case.reading.probes:
            try:
                placed = placed_probe(resolved.case, probe)
                if len(placed.place) == 2:
                    probe_values(nothing, placed)
                    self.points.append(placed)
                else:
                    self.weights.append((placed.name, volumes_in(nothing, placed)))
            except CaseError:
                # It is told where it is read; a solve does not end for it.
                continue
        for line in resolved.case.reading.lines:
            try:
                self.paths += _single(nothing, placed_line(resolved.case, line))
            except CaseError:
                continue


def _single(instant: Instant, line: PlacedLine) -> list[Path]:
    """The path of a line that is one; rows of stations and surfaces have no one value."""
    return [] if line.boundaries or line.count else paths_of(instant, line)


_kept: dict[tuple[int, str], _Places] = {}


def _places_of(resolved: ResolvedCase, grid: Grid) -> _Places:
    key = (id(grid), resolved.case.reading.model_dump_json())
    known = _kept.get(key)
    if known is None or known.between.grid is not grid:
        while len(_kept) >= _KEPT:
            _kept.pop(next(iter(_kept)))
        known = _kept[key] = _Places(resolved, grid)
    return known


def _turbulence(point: Point) -> Array | None:
    """Energy of turbulence in cells, m2/s2; None where all flow is laminar."""
    scalars = point.problem.unknowns.scalars
    return point.state.scalars[:, scalars.index(ENERGY)] if ENERGY in scalars else None


def reading_quantities(resolved: ResolvedCase, point: Point, evaluation: Evaluation) -> dict[Key, float]:
    """Ledger quantities of the probes and single lines of a case, SI; those that miss the section are left out."""
    reading, problem, state = resolved.case.reading, point.problem, point.state
    if (not reading.probes and not reading.lines) or problem.grid.dimensions != 2:
        return {}
    places = _places_of(resolved, problem.grid)
    flows = problem.cells.fluid == 1
    fields = {"temperature": point.properties.temperature}
    if flows.any():
        moving = flow_fields(state, flows)
        fields |= {name: moving[name] for name in ("speed", "velocity x", "velocity y")}
        fields["density"] = np.where(flows, point.properties.density, np.nan)
    instant = Instant(places.between, fields, surface_fields(problem, state, evaluation, friction=False))
    values: dict[Key, float] = {}
    found = [(probe.name, probe_values(instant, probe, _PROBED)) for probe in places.points]
    found += [(name, values_over(instant, weight, _PROBED)) for name, weight in places.weights]
    for name, told in found:
        if "temperature" in told:
            warm = told["temperature"]
            values[Key("probe_temperature", name)] = warm.mean
            if warm.lowest < warm.highest:
                values[Key("probe_lowest_temperature", name)] = warm.lowest
                values[Key("probe_highest_temperature", name)] = warm.highest
        if "speed" in told:
            values[Key("probe_speed", name)] = told["speed"].mean
            if told["speed"].uniformity is not None:
                values[Key("probe_uniformity", name)] = told["speed"].uniformity
    places_of_people = [(probe.name, np.array(probe.place)) for probe in places.points]
    places_of_people += [(name, weight @ problem.grid.centre / weight.sum()) for name, weight in places.weights]
    values |= comfort_quantities(
        resolved,
        instant,
        (
            (name, place, values[Key("probe_temperature", name)], values[Key("probe_speed", name)])
            for name, place in places_of_people
            if Key("probe_speed", name) in values
        ),
        _turbulence(point),
    )
    for path in places.paths:
        profile = profile_along(instant, path)
        along = profile.statistics.get("temperature")
        if along is None:
            continue
        values[Key("line_temperature", path.name)] = along.mean
        values[Key("line_highest_temperature", path.name)] = along.highest
        if along.flow_mean is not None and profile.mass_flow is not None:
            values[Key("line_bulk_temperature", path.name)] = along.flow_mean
            values[Key("line_mass_flow", path.name)] = profile.mass_flow
    return values
