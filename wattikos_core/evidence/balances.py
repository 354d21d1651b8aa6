"""Balances of a solution, share by share: what leaves through each boundary, what is released and stored, and what remains."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wattikos_core.physics import Evaluation, Periodicity, Problem
from wattikos_core.physics.faces import Array
from wattikos_core.physics.state import NOT_PERIODIC
from wattikos_core.solve.convergence import heat_account

# Shares below this part of the largest are left out; what they come to is in the remainder's bar.
_LEAST = 1e-12


@dataclass(frozen=True)
class Share:
    """One share of a balance, leaving counted positive: `place` is a boundary or a part, `what` tells which kind of share it is."""

    place: str
    what: str
    value: float


@dataclass(frozen=True)
class Balance:
    """A balance in SI.

    Attributes:
        name: `mass`, `heat`, or `momentum along` an axis.
        kind: of its shares, see `quantities.KINDS`.
        shares: they sum to the remainder.
        remainder: what does not balance.
    """

    name: str
    kind: str
    shares: tuple[Share, ...]
    remainder: float


def balances_of(problem: Problem, evaluation: Evaluation, periodicity: Periodicity = NOT_PERIODIC) -> list[Balance]:
    """The balances of mass (where something flows) and of heat of a solution.

    What fluid carries counts from the mean enthalpy at which it enters, so that a stream's whole heat is told where it leaves.

    Args:
        problem: the discrete problem.
        evaluation: what passes its faces.
        periodicity: of a module that repeats.
    """
    grid, owner = problem.grid, problem.grid.owner
    leaving, _, _ = heat_account(problem, evaluation, periodicity)
    number, level = problem.body, _entering(problem, evaluation)
    net = evaluation.enthalpy_flow - level[number[owner]] * evaluation.flow
    mass, heat = list[Share](), list[Share]()
    for name, faces in grid.groups.items():
        if grid.neighbour[faces[0]] >= 0:
            continue
        flow = float(evaluation.flow[faces].sum())
        if np.any(evaluation.flow[faces]):
            mass.append(Share(name, "flow", flow))
            heat.append(Share(name, "carried", float(net[faces].sum())))
        heat.append(Share(name, "conducted", float(evaluation.heat[faces].sum())))
    released = problem.source_in(periodicity) * grid.volume
    for index, part in enumerate(grid.region_names):
        mine = grid.region == index
        stored = evaluation.storing[mine] - level[number[mine]] * evaluation.gaining[mine]
        for what, value in (
            ("released", -released[mine]),
            ("friction", -(evaluation.dissipation + evaluation.compression)[mine]),
            ("exchanged", -evaluation.exchanged[mine]),
            ("stored", stored),
        ):
            heat.append(Share(part, what, float(value.sum())))
        mass.append(Share(part, "stored", float(evaluation.gaining[mine].sum())))
    for name, faces in grid.groups.items():
        shining = sum(float(cavity.shining(problem.faces, faces)) for cavity in problem.cavities)
        heat.append(Share(name, "absorbed", -shining))
    remainder = float(leaving.sum())
    carried_on = remainder - sum(share.value for share in heat)
    if problem.module is not None:
        heat.append(Share("next module", "carried on", carried_on))
    balances = [Balance("heat", "power", told_shares(heat), remainder)]
    if problem.cells.fluid.any() and any(share.value for share in mass):
        balances.insert(0, Balance("mass", "mass_flow", told_shares(mass), sum(share.value for share in mass)))
    return balances


def _entering(problem: Problem, evaluation: Evaluation) -> Array:
    """Mean enthalpy of what enters each body of fluid, J/kg; the last entry, of solids, is zero."""
    outer = np.nonzero((problem.grid.neighbour < 0) & (evaluation.flow < 0.0))[0]
    body, count = problem.body[problem.grid.owner[outer]], int(problem.body.max(initial=-1)) + 2
    flow = np.bincount(body, weights=evaluation.flow[outer], minlength=count)
    carried = np.bincount(body, weights=evaluation.enthalpy_flow[outer], minlength=count)
    return np.divide(carried, flow, out=np.zeros(count), where=flow != 0.0)


def told_shares(shares: list[Share]) -> tuple[Share, ...]:
    """The shares that are worth telling."""
    largest = max((abs(share.value) for share in shares), default=0.0)
    return tuple(share for share in shares if abs(share.value) > _LEAST * largest)
