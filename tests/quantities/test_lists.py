"""Several values in one entry."""

from __future__ import annotations

import unittest

from wattikos_core.quantities import QuantityError, evaluate_in
from wattikos_core.quantities.lists import read_list, read_span


class Lists(unittest.TestCase):
    def test_what_is_written_is_what_is_meant(self) -> None:
        cases = {
            ("300, 500, 800 W", "power"): [300.0, 500.0, 800.0],
            ("0.3 kW, 500; 0.8 kW", "power"): [300.0, 500e3, 800.0],
            ("1..3 m/s : 5", "velocity"): [1.0, 1.5, 2.0, 2.5, 3.0],
            ("1..3 m/s by 0.5", "velocity"): [1.0, 1.5, 2.0, 2.5, 3.0],
            ("3 to 1 m/s in 3", "velocity"): [3.0, 2.0, 1.0],
            ("1..100 W : 3 log", "power"): [1.0, 10.0, 100.0],
            ("10, 20 °C", "temperature"): [283.15, 293.15],
            ("10..30 °C : 3", "temperature"): [283.15, 293.15, 303.15],
            ("0 °C..86 °F : 2", "temperature"): [273.15, 303.15],
            ("2..6 by 2", "number"): [2.0, 4.0, 6.0],
            ("0..0.3 m by 0.1", "length"): [0.0, 0.1, 0.2, 0.3],
            ("5, 7", "length"): [0.005, 0.007],
        }
        for (text, kind), expected in cases.items():
            with self.subTest(text):
                found = [evaluate_in(kind, value, {}) for value in read_list(text, kind)]
                self.assertEqual(len(found), len(expected))
                for one, other in zip(found, expected, strict=True):
                    self.assertAlmostEqual(one, other, places=9)

    def test_expressions_stay_as_they_are(self) -> None:
        self.assertEqual(read_list("gap, 2*gap, 5 mm", "length"), ["gap", "2*gap", "5 mm"])

    def test_a_number_without_unit_takes_that_of_the_input(self) -> None:
        self.assertEqual(read_list("1, 2", "length", "ft"), ["1 ft", "2 ft"])

    def test_what_makes_no_sense_says_what_to_do(self) -> None:
        for text, kind, words in (
            ("", "velocity", "no values"),
            ("1..3 m/s", "velocity", "how many"),
            ("3..1 m/s by 1", "velocity", "do not lead"),
            ("0..3 m/s : 3 log", "velocity", "logarithmic"),
            ("1..3 m/s by 1 log", "velocity", "even steps"),
            ("1..3 W : 3", "velocity", "no unit of"),
            ("1..3 m/s by 2 mm/s", "velocity", "the step is in"),
            ("1..3 m/s by 0.00001", "velocity", "values"),
            ("1..3 m/s : 20000", "velocity", "20000 values"),
        ):
            with self.subTest(text), self.assertRaises(QuantityError) as raised:
                read_list(text, kind)
            self.assertIn(words, raised.exception.problem)
            self.assertTrue(raised.exception.remedy)

    def test_between_two_ends(self) -> None:
        span = read_span("1..100 W log", "power")
        assert span is not None
        self.assertAlmostEqual(span.at(0.5), 10.0)
        self.assertIsNone(read_span("5 W", "power"))
