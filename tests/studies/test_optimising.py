"""Several inputs under limits: solved optima that are known, or that every step aside makes worse."""

from __future__ import annotations

import contextlib
import io
import tempfile
import unittest
from pathlib import Path

import numpy as np

from wattikos_core.case import Case, starter_case
from wattikos_core.case.series import Varied
from wattikos_core.case.sizing import ChosenWish
from wattikos_core.cli import main
from wattikos_core.errors import CaseError
from wattikos_core.ledger import Key
from wattikos_core.studies import read_task, size_case, solve_case
from wattikos_core.studies.optimising import Optimum, in_words, optimise
from wattikos_core.studies.search_space import Aim, Chosen, Goal, Search
from wattikos_core.studies.series import case_at
from wattikos_core.studies.sizing_wish import read_chosen

EFFECTIVENESS, DROP = Key("effectiveness"), Key("pressure_drop", "hot")
SHORTEST = Aim(False, expression="length")


def passage() -> Case:
    case = starter_case("plate_passage")
    return case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.3})})


def choose(case: Case, name: str, lower: str = "", upper: str = "") -> Chosen:
    return read_chosen(case, ChosenWish(varied=[Varied(input=name)], lower=lower, upper=upper))


def best(case: Case, chosen: list[Chosen], goals: list[Goal], aim: Aim) -> Optimum:
    return optimise(case, Search(tuple(chosen), tuple(goals), (aim,)))


class Optimising(unittest.TestCase):
    def test_one_input_is_what_sizing_finds(self) -> None:
        case = passage()
        found = best(case, [choose(case, "length", "300 mm", "2 m")], [Goal(EFFECTIVENESS, lower=0.85)], SHORTEST)
        task = read_task(case, input="length", key=EFFECTIVENESS, target="0.85", lower="300 mm", upper="2 m")
        alone = size_case(case, task)
        lengths = [one.case.inputs["length"].value for one in (found, alone)]
        self.assertAlmostEqual(float(lengths[0].split()[0]) / float(lengths[1].split()[0]), 1.0, delta=2e-3)
        self.assertEqual(found.outcome, "met")
        self.assertLessEqual(len(found.trials), 4)

    def test_two_inputs_and_two_limits(self) -> None:
        """Both limits hold the shortest passage; what the multiplier of the drop says is what solving with more room gives."""
        case = passage()
        chosen = [choose(case, "length", "300 mm", "2 m"), choose(case, "hot_height", "0.8 mm", "3 mm")]

        def shortest(drop: float) -> tuple[float, list[float], int]:
            found = best(case, chosen, [Goal(EFFECTIVENESS, lower=0.8), Goal(DROP, upper=drop)], SHORTEST)
            self.assertEqual(found.outcome, "met", found.text)
            self.assertGreaterEqual(found.margins[0].kept_by, -5e-4)
            self.assertIsNotNone(found.margins[0].plus_minus)
            self.assertIn("more room", in_words(found.margins[1], found.aim))
            return found.aim, [margin.saves for margin in found.margins], len(found.trials)

        length, saves, solves = shortest(15.0)
        self.assertLessEqual(solves, 6)
        longer, _, _ = shortest(13.0)
        self.assertAlmostEqual((longer - length) / 2.0 / saves[1], 1.0, delta=0.35)
        # A shorter passage of any height misses one of both limits.
        for height in np.linspace(1.2e-3, 1.7e-3, 6):
            run = solve_case(
                case_at(case, [Varied(input="length"), Varied(input="hot_height")], (f"{0.99 * length} m", f"{height} m"))
            )
            self.assertTrue(run.value(EFFECTIVENESS) < 0.8 or run.value(DROP) > 15.0)

    def test_what_cannot_be_met_says_what_is_nearest(self) -> None:
        case = passage()
        found = best(case, [choose(case, "length", "300 mm", "400 mm")], [Goal(EFFECTIVENESS, lower=0.9)], SHORTEST)
        self.assertEqual(found.outcome, "unreachable")
        self.assertIn("length = 400 mm", found.text)

    def test_what_makes_no_sense(self) -> None:
        case = passage()
        chosen = [choose(case, "length", "300 mm", "2 m")]
        unbound = next(name for name, item in case.inputs.items() if not item.lower and item.kind == "length")
        for words, act in (
            ("no input 'lenght'", lambda: choose(case, "lenght")),
            ("has no lower bound", lambda: choose(case, unbound, "", "1 mm")),
            ("are 2 m to 1 m|are 2,000|are 2000", lambda: choose(case, "length", "2 m", "1 m")),
            ("inputs to choose", lambda: best(case, [], [], SHORTEST)),
            ("not a result of this case", lambda: best(case, chosen, [Goal(Key("mass", "nothing"), upper=1.0)], SHORTEST)),
            ("neither an input", lambda: best(case, chosen, [], Aim(False, expression="lenght"))),
        ):
            with self.subTest(words), self.assertRaisesRegex(CaseError, words):
                act()

    def test_from_the_command_line(self) -> None:
        with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stdout(io.StringIO()) as said:
            path, sized = Path(folder) / "case.json", Path(folder) / "sized.json"
            path.write_text(passage().model_dump_json())
            arguments = [
                "size",
                str(path),
                "--input",
                "length=300..2000mm",
                "--want",
                "effectiveness >= 0.85",
                "--minimise",
                "length",
            ]
            self.assertEqual(main([*arguments, "--quiet", "--case-out", str(sized)]), 0)
            self.assertIn("length is least there", said.getvalue())
            self.assertIn("mm", Case.model_validate_json(sized.read_text()).inputs["length"].value)
