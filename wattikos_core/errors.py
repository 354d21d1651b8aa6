"""The errors a user can cause: each names the field, the problem with its value, and the remedy."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class InputProblem:
    """One thing that is wrong with what was entered.

    Attributes:
        field: where it was entered, as a path into the case document (``inputs.length``).
        problem: what is wrong, with the value that was entered.
        remedy: what to do about it.
        at: where in the section, x and y in m, when there is such a place.
    """

    field: str
    problem: str
    remedy: str
    at: tuple[float, float] | None = None

    def __str__(self) -> str:
        return f"{self.field}: {self.problem}; {self.remedy}"


class CaseError(ValueError):
    """Bad input, as a list of `InputProblem`s; raised at every entry point of the core."""

    def __init__(self, problems: InputProblem | Iterable[InputProblem]) -> None:
        self.problems: tuple[InputProblem, ...] = (problems,) if isinstance(problems, InputProblem) else tuple(problems)
        super().__init__("\n".join(str(p) for p in self.problems))

    def __reduce__(self) -> tuple[type[CaseError], tuple[tuple[InputProblem, ...]]]:
        return CaseError, (self.problems,)


class SolveError(RuntimeError):
    """A solve that failed, with the reason and what to try next."""

    def __init__(self, reason: str, remedy: str) -> None:
        self.reason = reason
        self.remedy = remedy
        super().__init__(f"{reason}; {remedy}")

    def __reduce__(self) -> tuple[type[SolveError], tuple[str, str]]:
        return SolveError, (self.reason, self.remedy)


class Cancelled(RuntimeError):
    """The user asked a running job to stop."""
