"""Every starter bent out of its shape: it is solved, or what is missing is said with the place where it is entered."""

from __future__ import annotations

import json
import unittest
from collections.abc import Callable, Iterator, Sequence
from typing import Any

import numpy as np
from django.test import tag

from wattikos_core.case import STARTERS, Case, edited, read_case, starter_case
from wattikos_core.errors import CaseError, InputProblem, SolveError
from wattikos_core.evidence import build_ledger
from wattikos_core.formats import ledger_json
from wattikos_core.materials import CATALOGUE
from wattikos_core.section.sketch import sketch_of
from wattikos_core.studies import draft, solve_case

# Where something can be entered on the desk.
PLACES = "inputs section conditions contacts materials tables physics grid time solve wanted case".split()  # noqa: SIM905


def other_fluids(case: Case) -> Case:
    """Water where there was air, and air everywhere else."""
    for part in case.section.parts:
        base = case.materials[part.material].base if part.material in case.materials else part.material
        if base in CATALOGUE and CATALOGUE[base].state == "fluid":
            part.material = "water" if base == "air" else "air"
    return case


def no_inlet(case: Case) -> Case:
    """A wall where the first stream entered."""
    return _replaced(case, lambda c: c["type"] == "inlet", {"type": "wall"})


def no_outlet(case: Case) -> Case:
    """A wall where the first stream left."""
    return _replaced(case, lambda c: c["type"] == "outlet", {"type": "wall"})


def heat_flux_instead(case: Case) -> Case:
    """A heat flux on the first wall that gave something else."""
    flux = {"type": "wall", "thermal": "heat_flux", "heat_flux": "500 W/m^2"}
    return _replaced(case, lambda c: c["type"] == "wall" and c["thermal"] != "adiabatic", flux)


def convection_instead(case: Case) -> Case:
    """Convection on the first wall that held or gave something."""
    film = {"type": "wall", "thermal": "convection", "heat_transfer_coefficient": "20 W/m^2/K", "ambient_temperature": "30 degC"}
    return _replaced(case, lambda c: c["type"] == "wall" and c["thermal"] in ("temperature", "heat_flux", "heat_rate"), film)


def a_part_more(case: Case) -> Case:
    """A block of copper in the middle of everything."""
    found = draft(case)
    if found.section is None:
        return case
    x0, y0, x1, y1 = found.section.bounds()
    shape = {
        "type": "rectangle",
        "x": f"{x0 + 0.45 * (x1 - x0)} m",
        "y": f"{y0 + 0.42 * (y1 - y0)} m",
        "width": f"{0.1 * (x1 - x0)} m",
        "height": f"{0.16 * (y1 - y0)} m",
    }
    document = json.loads(case.model_dump_json())
    document["section"]["parts"].append({"name": "block", "material": "copper", "shape": shape})
    return read_case(document)


def a_part_less(case: Case) -> Case:
    """Without the part that was drawn first."""
    return edited(case, "remove_part", case.section.parts[0].name)[0] if case.section.parts else case


BENDS: tuple[Callable[[Case], Case], ...] = (
    other_fluids,
    no_inlet,
    no_outlet,
    heat_flux_instead,
    convection_instead,
    a_part_more,
    a_part_less,
)


def _replaced(case: Case, which: Callable[[dict[str, Any]], bool], by: dict[str, Any]) -> Case:
    document = json.loads(case.model_dump_json())
    for condition in document["conditions"]:
        if which(condition):
            kept = {name: condition[name] for name in ("boundaries", "present")}
            condition.clear()
            condition.update(kept | by)
            break
    return read_case(document)


def bent() -> Iterator[tuple[str, str, Case]]:
    """All starters in all ways."""
    for starter in STARTERS:
        for bend in BENDS:
            yield starter, bend.__name__, bend(starter_case(starter))


class OutOfShape(unittest.TestCase):
    def assert_told(self, problems: Sequence[InputProblem]) -> None:
        for problem in problems:
            self.assertTrue(problem.problem, problem)
            self.assertTrue(problem.remedy, problem)
            self.assertIn(problem.field.split(".")[0].split("[")[0], PLACES, problem)

    def test_what_can_be_said_is_said(self) -> None:
        """Whatever hand calculations no longer fit, they are notes; nothing is not a number."""
        for starter, bend, case in bent():
            with self.subTest(starter=starter, bend=bend):
                found = draft(case)
                self.assert_told(found.problems)
                self.assertFalse([p for p in found.problems if p.field.startswith("estimates")])
                if found.resolved is None or found.section is None:
                    self.assertTrue(found.problems)
                    continue
                sketch_of(found.resolved, found.section)
                ledger = ledger_json(case.title, build_ledger(found.resolved, found.hand, {}), found.findings)
                json.dumps(ledger, allow_nan=False)
                for finding in found.findings:
                    self.assertTrue(finding.text, finding)
                    self.assertTrue(finding.remedy, finding)

    @tag("slow")
    def test_it_is_solved_or_told_why_not(self) -> None:
        """On coarse grids, and runs in time for a hundredth of their time."""
        for starter, bend, case in bent():
            case.grid.fineness = min(case.grid.fineness, 0.4)
            case.solve.grid_check = False
            case.time.end = f"({case.time.end})/100"
            with self.subTest(starter=starter, bend=bend):
                try:
                    run = solve_case(case)
                except CaseError as error:
                    self.assert_told(error.problems)
                except SolveError as error:
                    self.assertTrue(str(error))
                else:
                    faults = [f for f in run.findings if f.severity == "stop"]
                    self.assertTrue(run.solution.converged or faults)
                    self.assertTrue(np.isfinite(run.evaluation.temperature).all())
