"""A case made ready: evaluated, painted, checked and calculated by hand. Desk, command line and worker all begin here."""

from __future__ import annotations

from dataclasses import dataclass, field

from wattikos_core.case import Case, ResolvedCase, evaluate_inputs, resolve_values
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate import ByHand, HandValue, estimate_case, first_values
from wattikos_core.evidence import Finding, LedgerRow, build_ledger, findings_before
from wattikos_core.evidence.findings import refuse_impossible
from wattikos_core.evidence.findings_in_time import findings_of_weight
from wattikos_core.formats.grids import imported_grid
from wattikos_core.grid import Grid
from wattikos_core.ledger import Key
from wattikos_core.quantities import Value
from wattikos_core.section import PaintedSection, check_conditions, paint


@dataclass(frozen=True)
class Draft:
    """As much as can be said of a case that is still being typed.

    Attributes:
        values: of the inputs that can be evaluated.
        problems: all that keeps the case from being solved; none where it can be.
        resolved, section: None where the case cannot be read, or its section not be painted.
        by_hand: the hand calculations one by one; `hand` the values of all.
    """

    case: Case
    values: dict[str, Value]
    problems: list[InputProblem]
    resolved: ResolvedCase | None = None
    section: PaintedSection | None = None
    by_hand: list[ByHand] = field(default_factory=list)
    hand: dict[Key, HandValue] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)


@dataclass(frozen=True)
class Prepared:
    """A case made ready: everything that can be refused has been refused.

    Attributes:
        imported: the grid from a file, when the case uses one.
    """

    case: Case
    resolved: ResolvedCase
    section: PaintedSection
    hand: dict[Key, HandValue]
    findings: list[Finding]
    imported: Grid | None = None


def draft(case: Case) -> Draft:
    """Evaluate, paint, check and calculate by hand as far as possible, and collect all problems on the way.

    Example:
        >>> from wattikos_core.case.starters import starter_case
        >>> draft(starter_case("plate_passage")).problems
        []
    """
    values, problems = evaluate_inputs(case)
    found = Draft(case, values, problems)
    try:
        if problems:
            raise CaseError([])
        resolved = resolve_values(case, values)
        section = paint(resolved)
    except CaseError as error:
        problems.extend(error.problems)
        return found
    for check in (check_conditions, refuse_impossible):
        try:
            check(resolved, section)
        except CaseError as error:
            problems.extend(error.problems)
    by_hand = estimate_case(resolved)
    hand = first_values(by_hand)
    findings = findings_before(resolved, section, hand) + findings_of_weight(resolved, section)
    findings += [_not_by_hand(case, calculation) for calculation in by_hand if calculation.problems]
    return Draft(case, values, problems, resolved, section, by_hand, hand, findings)


def _not_by_hand(case: Case, calculation: ByHand) -> Finding:
    """A hand calculation that cannot be evaluated never keeps a case from being solved; it is told."""
    problem = calculation.problems[0]
    text = f"the hand calculation '{case.estimates[calculation.index].label}' gives nothing: {problem.problem}"
    return Finding("note", "", text, problem.remedy)


def prepare(case: Case, grid_file: bytes | None = None) -> Prepared:
    """Make a case ready for a study.

    Args:
        case: the document, read.
        grid_file: content of the grid file, for a case that uses one.

    Raises:
        CaseError: with all that is wrong.
    """
    found = draft(case)
    if found.problems or found.resolved is None or found.section is None:
        raise CaseError(found.problems)
    imported = imported_grid(found.resolved, found.section, grid_file) if case.grid.file else None
    return Prepared(case, found.resolved, found.section, found.hand, found.findings, imported)


def estimate_ledger(case: Case) -> list[LedgerRow]:
    """The ledger by hand alone; CaseError as from `prepare`."""
    prepared = prepare(case)
    return build_ledger(prepared.resolved, prepared.hand, {})
