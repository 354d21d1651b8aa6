"""Several inputs under limits: solved optima that are known, or that every step aside makes worse."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

import numpy as np
from django.test import tag
from scipy.optimize import brentq

from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.case.series import Varied
from wattikos_core.case.sizing import ChosenWish
from wattikos_core.cli import main
from wattikos_core.errors import CaseError
from wattikos_core.ledger import Key
from wattikos_core.materials import table_of
from wattikos_core.search.space_mapping import Trial
from wattikos_core.studies import read_task, size_case, solve_case
from wattikos_core.studies.optimising import Optimum, in_words, optimise
from wattikos_core.studies.search_space import Aim, Chosen, Goal, Search, SearchSpace
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
            self.assertIn("more room", in_words(found.margins[1], SHORTEST, found.aim))
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


class Known(unittest.TestCase):
    def test_a_straight_fin_of_least_mass(self) -> None:
        """Nothing is by hand here, so the search learns from field solves.

        Of all straight fins that give off a heat, the lightest, insulated at its tip, has tanh(u) = 3 u / cosh(u)^2 with
        u = H sqrt(2 h / (k t)) (Schmidt 1926, Z. VDI 70, 885): u = 1.4192. The field is that of a fin so thin that heat goes
        along it alone.
        """
        conductivity, h, excess, heat = 400.0, 100.0, 50.0, 150.0
        u = brentq(lambda u: np.tanh(u) - 3.0 * u / np.cosh(u) ** 2, 1.0, 2.0)
        # heat = excess sqrt(2 h k t) tanh(u), per metre of depth; a mean between the bounds in x is the fin's.
        thickness = (heat / excess / np.tanh(u)) ** 2 / (2.0 * h * conductivity)
        height = u / np.sqrt(2.0 * h / (conductivity * thickness))
        case = fin(conductivity, h)
        chosen = [choose(case, "height", "10 mm", "60 mm"), choose(case, "thickness", "0.05 mm", "0.6 mm")]
        found = best(case, chosen, [Goal(Key("heat_out", "fin, left"), upper=-heat)], Aim(False, key=Key("mass", "fin")))
        self.assertEqual(found.outcome, "met", found.text)
        self.assertFalse(found.led)
        self.assertLessEqual(len(found.trials), 25)
        density = 8900.0
        self.assertAlmostEqual(found.aim / (density * height * thickness), 1.0, delta=0.01)
        # About a best place much changes little: its shape is known less well than its mass.
        self.assertAlmostEqual(found.trials[-1].place[1] / thickness, 1.0, delta=0.25)

    @tag("slow")
    def test_the_cheapest_bore(self) -> None:
        """Cost of the pipe by its bore against that of pumping, laminar and as warm as its surroundings: D = (4 B / A)^(1/5).

        Pumping power 128 mu l V^2 / (pi D^4) (Hagen and Poiseuille) times a price is B / D^4; the pipe costs A D.
        """
        case = line()
        table = table_of("water")
        viscosity, density = float(table.viscosity(293.15)), float(table.density(293.15))
        flow = 0.02 / density
        pumping = 128.0 * viscosity * 12.0 * flow**2 / np.pi * 3.0e4
        exact = (4.0 * pumping / 100.0) ** 0.2
        aim = Aim(False, expression="100*bore/(1 m) + 3e4*stream_pumping_power/(1 W)")
        found = best(case, [choose(case, "bore", "8 mm", "60 mm")], [], aim)
        self.assertEqual(found.outcome, "met", found.text)
        self.assertAlmostEqual(found.trials[-1].place[0] / exact, 1.0, delta=0.02)
        self.assertAlmostEqual(found.aim / (1.25 * 100.0 * exact), 1.0, delta=2e-3)

    def test_stopped_and_gone_on_with(self) -> None:
        """What has been tried is not tried again, and the end is the same."""
        case = passage()
        search = Search(
            (choose(case, "length", "300 mm", "2 m"), choose(case, "hot_height", "0.8 mm", "3 mm")),
            (Goal(EFFECTIVENESS, lower=0.8), Goal(DROP, upper=15.0)),
            (SHORTEST,),
        )
        told: list[tuple[tuple[str, ...], dict[Key, float]]] = []

        def remember(space: SearchSpace, trial: Trial) -> None:
            told.append((space.texts(trial.place), dict(zip(space.keys, (float(x) for x in trial.found), strict=True))))

        whole = optimise(case, search, on_trial=remember)
        first = told[:1]
        told.clear()
        stopped = optimise(case, search, known=first, cancel=lambda: True)
        self.assertEqual((stopped.outcome, len(stopped.trials)), ("stopped", 1))
        again = optimise(case, search, known=first, on_trial=remember)
        self.assertEqual(len(told), len(whole.trials) - 1)
        self.assertAlmostEqual(again.aim / whole.aim, 1.0, delta=1e-6)
        # What is known does not count towards the solves that may be made.
        told.clear()
        with patch("wattikos_core.studies.optimising.MOST_SOLVES", 1):
            optimise(case, search, known=first, on_trial=remember)
        self.assertEqual(len(told), 1)

    def test_ways_out(self) -> None:
        case = passage()
        chosen = [choose(case, "length", "300 mm", "500 mm")]
        found = best(case, chosen, [Goal(EFFECTIVENESS, lower=0.8), Goal(DROP, upper=15.0)], SHORTEST)
        self.assertEqual(found.outcome, "unreachable")
        said = "\n".join(found.suggestions)
        self.assertIn("length is at its upper bound", said)
        self.assertRegex(said, "instead of .*, by hand")


def fin(conductivity: float, h: float) -> Case:
    """A straight fin, held at its foot 50 K above the air around it."""
    document = json.loads(starter_case("empty").model_dump_json())
    document["inputs"] = {
        "height": {"value": "30 mm", "kind": "length", "unit": "mm"},
        "thickness": {"value": "0.6 mm", "kind": "length", "unit": "mm"},
    }
    shape = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "height", "height": "thickness"}
    document["section"]["parts"] = [{"name": "fin", "material": "own", "shape": shape}]
    own = {"conductivity": f"{conductivity} W/m/K", "density": "8900 kg/m^3", "specific_heat": "385 J/kg/K"}
    document["materials"] = {"own": {"base": "copper", **own}}
    outside = {"type": "wall", "thermal": "convection", "heat_transfer_coefficient": f"{h} W/m²/K", "ambient_temperature": "20 °C"}
    document["conditions"] = [
        {"type": "wall", "boundaries": ["fin, left"], "thermal": "temperature", "temperature": "70 °C"},
        {"type": "wall", "boundaries": ["fin, right"], "thermal": "adiabatic"},
        {"boundaries": ["fin, top", "fin, bottom"], **outside},
    ]
    return read_case(document)


def line() -> Case:
    """A pipe with water in it that is as warm as its surroundings."""
    document = json.loads(starter_case("feed_line").model_dump_json())
    for name, value in (("inlet", "20 °C"), ("ambient", "20 °C"), ("length", "12 m"), ("flow", "20 g/s")):
        document["inputs"][name]["value"] = value
    document["section"]["parts"][0]["material"] = "water"
    document["grid"]["fineness"] = 0.8
    return read_case(document)
