"""Documents of every version are read, and mean what they meant: every starter, as it was stored with its flags at the time."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

from wattikos_core.case import read_case, starter_case
from wattikos_core.case.document import VERSION
from wattikos_core.errors import CaseError
from wattikos_core.section.sketch import sketch_of
from wattikos_core.studies import draft

# By starter: `document`, and `flags` by boundary as they were drawn.
STORED = Path(__file__).parent / "stored"


def stored(version: int) -> dict[str, Any]:
    found: dict[str, Any] = json.loads((STORED / f"version_{version}.json").read_text())
    return found


class OldVersions(unittest.TestCase):
    def test_every_starter_of_every_version_keeps_its_conditions(self) -> None:
        for version in range(1, VERSION):
            for starter, entry in stored(version).items():
                with self.subTest(version=version, starter=starter):
                    self.assertEqual(entry["document"]["version"], version)
                    found = draft(read_case(entry["document"]))
                    self.assertEqual(found.problems, [])
                    assert found.resolved is not None
                    assert found.section is not None
                    boundaries = sketch_of(found.resolved, found.section)["boundaries"]
                    self.assertEqual({b["name"]: b["flag"] for b in boundaries if b["flag"]}, entry["flags"])

    def test_the_one_value_of_a_wall_becomes_what_it_was(self) -> None:
        document = stored(2)["plate_sink"]["document"]
        fields = {
            "temperature": "temperature",
            "heat_flux": "heat_flux",
            "heat_rate": "heat_rate",
            "convection": "heat_transfer_coefficient",
            "convection_radiation": "heat_transfer_coefficient",
            "adiabatic": "heat_transfer_coefficient",
        }
        for thermal, field in fields.items():
            wall = {"type": "wall", "boundaries": ["base, bottom"], "thermal": thermal, "value": "7", "ambient": "20 degC"}
            read = read_case(document | {"conditions": [wall]}).conditions[0].model_dump()
            self.assertEqual({name: read[name] for name in set(fields.values())}, dict.fromkeys(fields.values(), "") | {field: "7"})
            self.assertEqual(read["ambient_temperature"], "20 degC")

    def test_quantities_are_those_that_were_written(self) -> None:
        """Until version 3 they were known by how they are written."""
        for starter, entry in stored(3).items():
            document, case = entry["document"], read_case(entry["document"])
            self.assertEqual([key.label for key in case.watches], document["watches"], starter)
            self.assertEqual([wish.key.label for wish in case.wanted], [wish["quantity"] for wish in document["wanted"]], starter)
            self.assertEqual("".join(goal.key.label for goal in case.sizing.goals), document["sizing"]["quantity"], starter)

    def test_a_sizing_becomes_an_input_and_a_goal_in_the_sense_that_is_wanted(self) -> None:
        for starter, sense in (("plate_passage", "at_least"), ("plate_sink", "at_most")):
            document = stored(5)[starter]["document"]
            sizing = read_case(document).sizing
            self.assertEqual([one.varied[0].input for one in sizing.chosen], [document["sizing"]["input"]])
            self.assertEqual(
                (sizing.chosen[0].lower, sizing.chosen[0].upper), tuple(document["sizing"][e] for e in ("lower", "upper"))
            )
            self.assertEqual([(goal.target, goal.sense) for goal in sizing.goals], [(document["sizing"]["target"], sense)])
        document["wanted"] = []
        self.assertEqual(read_case(document).sizing.goals[0].sense, "equal")

    def test_the_one_hand_calculation_becomes_the_first_of_a_list(self) -> None:
        for starter, entry in stored(4).items():
            one = entry["document"]["estimate"]
            read = [estimate.model_dump(mode="json") for estimate in read_case(entry["document"]).estimates]
            # What hand calculations have been asked since is left empty.
            newer: dict[str, Any] = (
                {"rib_height": "", "rib_pitch": ""} if one is not None and one["relation"] == "heated_duct" else {}
            )
            if one is not None and one["relation"] == "layers":
                newer = {"layers": [{**layer, "emissivity_beyond": ""} for layer in one["layers"]]}
            self.assertEqual(read, [] if one is None else [{"on": True, **one, **newer}], starter)

    def test_layers_that_were_followed_or_not_still_are(self) -> None:
        """Version 6 had two ways before it had three."""
        for was, is_now in ((True, "followed"), (False, "throughout")):
            document = starter_case("fast_bar").model_dump(mode="json")
            document["physics"]["transition"] = was
            self.assertEqual(read_case(document).physics.transition, is_now)
        with self.assertRaises(CaseError) as refused:
            read_case(document | {"physics": {"transition": "sometimes"}})
        self.assertIn("sometimes", str(refused.exception))

    def test_what_is_stored_stays_as_it_was(self) -> None:
        document = stored(1)["tank"]["document"]
        before = json.dumps(document)
        read_case(document)
        self.assertEqual(json.dumps(document), before)


if __name__ == "__main__":
    unittest.main()
