"""What a study gives: one type for all, whose fields are optional, so that what has no field fits too."""

from __future__ import annotations

from dataclasses import dataclass
from dataclasses import field as with_default

from wattikos_core.case import Case
from wattikos_core.evidence import Finding, LedgerRow
from wattikos_core.evidence.ledger import solved_in
from wattikos_core.grid import Quality
from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.solve import Solution


@dataclass(frozen=True)
class FieldSolution:
    """The field behind a result.

    Attributes:
        grids: of all grids that were solved on, coarse to fine: cells, steps and seconds.
        solver_seconds: time in the solvers alone.
    """

    problem: Problem
    solution: Solution
    evaluation: Evaluation
    quality: Quality
    solver_seconds: float
    grids: list[dict[str, float]] = with_default(default_factory=list)


@dataclass(frozen=True)
class Result:
    """A finished study of a case: its ledger and evidence, and the field they come from where there is one.

    Attributes:
        good_enough: whether all that is wanted is known as well as was asked for; None where that was not asked.
    """

    case: Case
    ledger: list[LedgerRow]
    findings: list[Finding]
    seconds: float
    field_solution: FieldSolution | None = None
    good_enough: bool | None = None

    def value(self, key: Key | str) -> float:
        """The solved value of a ledger quantity, SI, by its key or as it is written; KeyError when it was not solved."""
        value = solved_in(self.ledger, key)
        if value is None:
            raise KeyError(key)
        return value

    @property
    def field(self) -> FieldSolution:
        """The field behind the result; ValueError where it has none."""
        if self.field_solution is None:
            raise ValueError("this result has no field")
        return self.field_solution

    @property
    def problem(self) -> Problem:
        """The discrete problem of the field."""
        return self.field.problem

    @property
    def solution(self) -> Solution:
        """The solved field."""
        return self.field.solution

    @property
    def evaluation(self) -> Evaluation:
        """Balances and flows of the field."""
        return self.field.evaluation
