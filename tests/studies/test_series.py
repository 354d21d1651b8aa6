"""Series: their points, what they are by hand, what is near, what is the same."""

from __future__ import annotations

import unittest

import numpy as np

from wattikos_core.case import STARTERS, fingerprint, resolve, starter_case
from wattikos_core.case.comfort import Comfort
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.errors import CaseError
from wattikos_core.estimate import estimate_case, first_values
from wattikos_core.evidence.ledger import hand_in
from wattikos_core.grid import grid_section
from wattikos_core.ledger import Key
from wattikos_core.studies import estimate_ledger, prepare
from wattikos_core.studies.sensitivity import of_points, sensitivities
from wattikos_core.studies.series import by_hand, case_at, coordinates, points_of, weights_of

PASSAGE = starter_case("plate_passage")


def wish(how: str = "all", **more: object) -> SeriesWish:
    two = [Varied(input="length", values="400, 600 mm"), Varied(input="hot_inlet", values="60..80 °C : 3")]
    return SeriesWish.model_validate({"varied": two, "how": how, **more})


class Points(unittest.TestCase):
    def test_all_combinations_in_order(self) -> None:
        points = points_of(PASSAGE, wish())
        self.assertEqual(len(points), 6)
        self.assertEqual(points[:2], [("400 mm", "60 °C"), ("400 mm", "70 °C")])

    def test_row_by_row(self) -> None:
        rows = [Varied(input="length", values="400, 600 mm"), Varied(input="hot_inlet", values="60, 80 °C")]
        self.assertEqual(points_of(PASSAGE, SeriesWish(varied=rows, how="paired")), [("400 mm", "60 °C"), ("600 mm", "80 °C")])
        with self.assertRaisesRegex(CaseError, "2 of length, 3 of hot_inlet"):
            points_of(PASSAGE, wish("paired"))

    def test_a_hypercube_has_one_point_in_each_slice_and_is_the_same_again(self) -> None:
        spans = [Varied(input="length", values="400..900 mm"), Varied(input="hot_flow", values="0.001..0.1 kg/s log")]
        asked = SeriesWish(varied=spans, how="hypercube", count=25)
        points = points_of(PASSAGE, asked)
        self.assertEqual(points, points_of(PASSAGE, asked))
        self.assertNotEqual(points, points_of(PASSAGE, asked.model_copy(update={"seed": 2})))
        places = coordinates(PASSAGE, spans, points)
        shares = (places[:, 0] - 0.4) / 0.5, np.log10(places[:, 1] / 0.001) / 2.0
        for share in shares:
            self.assertEqual(sorted(np.floor(25 * share).astype(int)), list(range(25)))

    def test_materials_and_counts(self) -> None:
        sink = starter_case("plate_sink")
        part = sink.section.parts[-1].name
        varied = [Varied(material_of=part, values="aluminium, copper"), Varied(input="fins", values="4..8 by 2")]
        points = points_of(sink, SeriesWish(varied=varied))
        self.assertEqual(points[0], ("aluminium", "4"))
        changed = case_at(sink, varied, points[-1])
        self.assertEqual((changed.section.parts[-1].material, changed.inputs["fins"].value), ("copper", "8"))
        self.assertEqual(coordinates(sink, varied, points)[:, 0].tolist(), [0, 0, 0, 1, 1, 1])

    def test_what_cannot_be_varied(self) -> None:
        for varied, words in (
            ([], "nothing is varied"),
            ([Varied(input="lenght", values="1 m")], "no input 'lenght'"),
            ([Varied(material_of="plait", values="copper")], "no part 'plait'"),
            ([Varied(input="length", values="1, 2 W")], "length"),
            ([Varied(material_of="plate", values="coper")], "no material 'coper'"),
            ([Varied(input="length", values="1 m")] * 2, "varied twice"),
            ([Varied(input="length", values="1..2 m : 200"), Varied(input="width", values="1..2 m : 200")], "40,000 points"),
        ):
            with self.subTest(words), self.assertRaisesRegex(CaseError, words):
                points_of(PASSAGE, SeriesWish(varied=varied))


class ByHand(unittest.TestCase):
    def test_the_same_as_the_ledger_of_each_case(self) -> None:
        asked = wish()
        points = points_of(PASSAGE, asked)
        for values, found in zip(points, by_hand(PASSAGE, asked.varied, points), strict=True):
            rows = estimate_ledger(case_at(PASSAGE, asked.varied, values))
            for key in (Key("effectiveness"), Key("duty"), Key("pressure_drop", "hot stream")):
                row = hand_in(rows, key)
                self.assertEqual(found.values.get(key), None if row is None else row.value)
        self.assertTrue(found.values)

    def test_without_the_scatter_values_are_the_same_in_every_starter(self) -> None:
        """Points are reckoned without the ends of the usual scatter."""
        for key in STARTERS:
            case = starter_case(key)
            with_scatter = first_values(estimate_case(resolve(case))) if case.estimates else {}
            self.assertEqual(by_hand(case, [], [()])[0].values, {k: value.value for k, value in with_scatter.items()}, key)

    def test_what_was_read_before_changes_nothing(self) -> None:
        """Points reckoned one behind the other are what each is by itself, in every starter, with any two inputs and a material."""
        for key in STARTERS:
            case = starter_case(key)
            numbers = [name for name, item in case.inputs.items() if item.value.split()[0].replace(".", "").isdigit()]
            if not case.estimates or len(numbers) < 2:
                continue
            varied = [Varied(input=name) for name in (numbers[0], numbers[-1])]
            texts = [case.inputs[one.input].value for one in varied]
            near = [" ".join([f"{1.01 * float(text.split()[0]):.6g}", *text.split()[1:]]) for text in texts]
            points = [(texts[0], texts[1]), (near[0], texts[1]), (texts[0], near[1]), (texts[0], texts[1])]
            alone = [by_hand(case, varied, [values])[0] for values in points]
            self.assertEqual(by_hand(case, varied, points), alone, key)
        plates = [Varied(material_of="plate"), Varied(input="plate")]
        points = [("stainless_304", "0.6 mm"), ("copper", "0.6 mm"), ("copper", "0.9 mm"), ("stainless_304", "0.6 mm")]
        found = by_hand(PASSAGE, plates, points)
        self.assertEqual(found, [by_hand(PASSAGE, plates, [values])[0] for values in points])
        self.assertNotEqual(found[0], found[1])

    def test_a_point_without_an_answer_says_why(self) -> None:
        asked = [Varied(input="length", values="")]
        good, bad = by_hand(PASSAGE, asked, [("600 mm",), ("600 W",)])
        self.assertTrue(good.values)
        self.assertEqual(bad.values, {})
        self.assertIn("length", bad.problem)

    def test_slopes_by_hand_and_of_points(self) -> None:
        """A plane has its own slopes."""
        rng = np.random.default_rng(3)
        places = rng.random((20, 2)) * [1.0, 1e-3]
        found = of_points(places, (3.0 * places[:, 0] - 2000.0 * places[:, 1]).tolist(), ["a", "b"], {"a": "length", "b": "length"})
        self.assertAlmostEqual(found["a"], 3.0, places=9)
        self.assertAlmostEqual(found["b"], -2000.0, places=5)
        # A length and a width of plates enter by their product alone.
        both = {one.input: one for one in sensitivities(PASSAGE, Key("effectiveness"))}
        assert both["length"].elasticity is not None
        self.assertAlmostEqual(both["length"].elasticity, both["width"].elasticity or 0.0, places=9)


class Near(unittest.TestCase):
    def test_each_input_counts_by_what_it_spans(self) -> None:
        places = np.array([[0.0, 0.0], [1.0, 100.0], [0.1, 30.0], [0.6, 10.0]])
        self.assertEqual(weights_of(places, 0, [1, 2, 3])[0][0], 2)
        self.assertEqual(weights_of(places, 0, []), [])
        self.assertEqual(weights_of(places, 0, [3]), [(3, 1.0)])

    def test_planes_are_led_on_exactly(self) -> None:
        """A quantity that is linear in the inputs is found at a point from others that span its surroundings."""
        rng = np.random.default_rng(5)
        places = rng.random((9, 2)) * [1.0, 1e-3]
        values = 3.0 * places[:, 0] - 2000.0 * places[:, 1] + 7.0
        found = weights_of(places, 8, list(range(8)))
        self.assertAlmostEqual(sum(weight for _, weight in found), 1.0, places=9)
        self.assertAlmostEqual(sum(weight * values[row] for row, weight in found), values[8], places=9)

    def test_several_at_one_place(self) -> None:
        """A row that is there three times begins from one of the others alone; one beside them is led on as from one."""
        places = np.array([[0.5, 2.0], [0.5, 2.0], [0.5, 2.0], [0.0, 1.0], [1.0, 3.0]])
        found = weights_of(places, 0, [1, 2, 3])
        self.assertEqual(found, [(1, 1.0)])
        beside = weights_of(places, 4, [1, 2, 3])
        self.assertAlmostEqual(sum(weight for _, weight in beside), 1.0, places=9)
        self.assertAlmostEqual(sum(weight * places[row, 0] for row, weight in beside), 1.0, places=9)

    def test_no_farther_than_is_sound(self) -> None:
        """Two points close together do not tell what is ten times as far away; nor what has no place."""
        places = np.array([[0.0], [0.05], [1.0], [np.nan]])
        self.assertEqual(weights_of(places, 2, [0, 1]), [(1, 1.0)])
        self.assertEqual(weights_of(places, 2, [3]), [(3, 1.0)])

    def test_meaning_is_what_is_solved(self) -> None:
        metres = case_at(PASSAGE, [Varied(input="length")], ["0.6 m"])
        self.assertEqual(fingerprint(PASSAGE), fingerprint(metres))
        for changed in (
            case_at(PASSAGE, [Varied(input="length")], ["0.601 m"]),
            case_at(PASSAGE, [Varied(material_of="plate")], ["copper"]),
            PASSAGE.model_copy(update={"solve": PASSAGE.solve.model_copy(update={"grid_check": True})}),
            PASSAGE.model_copy(update={"grid": PASSAGE.grid.model_copy(update={"fineness": 1.1})}),
            PASSAGE.model_copy(update={"reading": PASSAGE.reading.model_copy(update={"comfort": Comfort()})}),
        ):
            self.assertNotEqual(fingerprint(PASSAGE), fingerprint(changed))
        self.assertEqual(fingerprint(PASSAGE.model_copy(update={"grid": PASSAGE.grid.model_copy(update={"file": "a.msh"})})), "")

    def test_a_grid_of_the_same_section_is_made_once(self) -> None:
        case = starter_case("bundle_staggered")
        warmer = case_at(case, [Varied(input="heating")], ["70 °C"])
        wider = case_at(case, [Varied(input="pitch_x")], ["23 mm"])
        first, same, other = (grid_section(p.resolved, p.section, 0.4) for p in map(prepare, (case, warmer, wider)))
        self.assertIs(first, same)
        self.assertIsNot(first, other)
