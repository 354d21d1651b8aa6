"""Findings about modules that repeat along a stream."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.evidence.finding import Finding
from wattikos_core.evidence.ledger import LedgerRow
from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Problem, State
from wattikos_core.quantities.values import show

# Viscosities that differ by more than this make constant properties a doubt (common practice, no source).
_VISCOSITY_SPREAD = 0.3
# Differences that all but vanish within a module are not known to many digits where they leave it.
_LEAST_RATIO = 1e-3
# Temperatures beyond the wall's by this share of the difference belong to another mode than the one wanted.
_OTHER_MODE = 0.05


def findings_after_module(
    resolved: ResolvedCase, problem: Problem, state: State, evaluation: Evaluation, ledger: Sequence[LedgerRow]
) -> list[Finding]:
    """What the solution of a module gives reason to doubt; nothing where nothing repeats."""
    module, wanted = problem.module, resolved.module
    if module is None or wanted is None:
        return []
    name = problem.grid.region_names[module.region]
    found: list[Finding] = []
    mine = problem.grid.region == module.region
    t = evaluation.temperature[mine]
    table = resolved.part(name).material
    low, high = np.percentile(t, (5.0, 95.0))
    viscosity = table.viscosity(np.array([low, wanted.properties_at, high]))
    spread = float(np.abs(viscosity / viscosity[1] - 1.0).max())
    at = show(wanted.properties_at, "temperature")
    if spread > _VISCOSITY_SPREAD:
        text = f"properties of '{name}' are those at {at}, but its viscosity differs by up to {spread:.0%} in the module"
        remedy = "take them at the mean of bulk and wall temperature, or solve a length with an inlet and an outlet"
        found.append(Finding("check", name, text, remedy))
    if module.wall is not None:
        share = (t - module.wall) / (module.temperature - module.wall)
        if float(share.min()) < -_OTHER_MODE:
            text = f"temperatures in '{name}' lie on both sides of the walls' temperature: this is not the field that repeats"
            found.append(Finding("stop", name, text, "use a finer grid, or a shorter module"))
        if state.periodicity.ratio < _LEAST_RATIO:
            text = f"'{name}' all but reaches the walls' temperature within one module"
            found.append(Finding("check", name, text, "cut a shorter module, or solve a length with an inlet"))
    if wanted.count > 1:
        text = f"all {wanted.count} modules are taken as developed, the first ones too"
        remedy = "where flow and heat still develop, more heat passes and more pressure falls: solve some rows with an inlet to see"
        found.append(Finding("note", name, text, remedy))
    last = next((row.solved for row in ledger if row.key == Key("last_outlet_temperature", name)), None)
    if last is not None and not table.start_temperature <= last <= table.end:
        limits = f"{show(table.start_temperature, 'temperature')} to {show(table.end, 'temperature')}"
        text = f"'{name}' would leave the last module at {show(last, 'temperature')}, outside the data of {table.label} ({limits})"
        found.append(Finding("stop", name, text, "count fewer modules, or lower the heat"))
    return found
