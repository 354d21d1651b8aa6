"""A cooled body by hand: its heat, its effectiveness, and a coolant that warms on its way."""

from __future__ import annotations

import json
import math
import unittest

from tests.by_name import hand_of
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.studies import solve_case


class CooledBody(unittest.TestCase):
    def test_heat_and_effectiveness_stand_beside_the_field(self) -> None:
        run = solve_case(starter_case("vane"))
        hand = hand_of(resolve(starter_case("vane")))
        for name in ("mean temperature of vane", "heat passing vane", "overall effectiveness of vane"):
            row = next(r for r in run.ledger if r.name == name)
            self.assertTrue(row.agrees, row.verdict)
        through = sum(r.solved or 0.0 for r in run.ledger if r.name.startswith("heat in through vane"))
        self.assertAlmostEqual(run.value("heat passing vane"), through, delta=1e-6 * through)
        gas, coolant = (hand["mean temperature of vane"].value, hand["overall effectiveness of vane"].value)
        self.assertTrue(0.0 < coolant < 1.0 < gas)

    def test_coolant_warms_along_its_passages(self) -> None:
        """Enthalpy of the coolant against the heat, and exp(-NTU) of its passages."""
        document = json.loads(starter_case("vane").model_dump_json())
        plain = hand_of(resolve(read_case(document)))
        document["estimates"][0] |= {"inner_flow": "5 g/s", "inner_specific_heat": "1050 J/kg/K"}
        hand = hand_of(resolve(read_case(document)))
        entry = resolve(read_case(document))
        coolant = min(t for c in entry.conditions for t in c.temperatures)
        out, heat, mean = (hand[n].value for n in ("coolant outlet temperature", "heat passing vane", "mean temperature of vane"))
        self.assertAlmostEqual(5e-3 * 1050.0 * (out - coolant) / heat, 1.0, places=9)
        self.assertGreater(mean, plain["mean temperature of vane"].value)
        ntu = -math.log((mean - out) / (mean - coolant))
        self.assertGreater(ntu, 0.0)
        document["estimates"][0]["inner_flow"] = "5000 kg/s"
        much = hand_of(resolve(read_case(document)))["mean temperature of vane"].value
        self.assertAlmostEqual(much, plain["mean temperature of vane"].value, delta=0.01)
