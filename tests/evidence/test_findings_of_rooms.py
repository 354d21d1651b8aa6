"""Jets that sink, and air that leaves before it has been everywhere."""

from __future__ import annotations

import unittest
from typing import Any

from tests.sections import rectangle, section_case, wall
from wattikos_core.studies import solve_case
from wattikos_core.studies.result import Result


def room(**physics: Any) -> Result:
    """A room of 40 by 60 mm with a slot of 5 mm at its left, through which colder air comes in, and one at its right."""
    air = rectangle("air", "air", "0 m", "0 m", "40 mm", "60 mm", divided={"left": ["5 mm"], "right": ["5 mm"]})
    conditions = [
        {"type": "inlet", "boundaries": ["air, left 1"], "velocity": "0.1 m/s", "temperature": "15 °C", "profile": "uniform"},
        {"type": "outlet", "boundaries": ["air, right 1"]},
        wall("air, top", thermal="temperature", temperature="25 °C"),
        wall("air, bottom", "air, left 2", "air, right 2"),
    ]
    return solve_case(section_case(air, conditions=conditions, fineness=0.5, physics=physics))


class Rooms(unittest.TestCase):
    def test_a_cold_jet_sinks(self) -> None:
        (found,) = [f for f in room(gravity_y="-9.81 m/s^2").findings if "Archimedes" in f.text]
        self.assertEqual((found.severity, found.place), ("note", "air, left 1"))
        self.assertIn("it sinks", found.text)

    def test_without_weight_nothing_is_said_and_a_short_way_out_is(self) -> None:
        run = room(age=True)
        self.assertFalse([f for f in run.findings if "Archimedes" in f.text])
        (found,) = [f for f in run.findings if "air change efficiency" in f.text]
        self.assertEqual((found.severity, found.place), ("check", "air"))
        self.assertLess(run.value("air air change efficiency"), 0.4)
