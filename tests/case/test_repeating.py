"""What a document may ask of a module that repeats, and what it may not."""

from __future__ import annotations

import unittest
from typing import Any

from tests.by_name import hand_of
from tests.sections import held, rectangle, section_case, wall
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.studies import prepare

ENDS: dict[str, Any] = {
    "type": "periodic",
    "boundaries": ["water, left"],
    "downstream": ["water, right"],
    "velocity": "10 mm/s",
    "temperature": "20 °C",
}


def prepared(*conditions: dict[str, Any], **more: Any) -> Any:
    parts = more.pop("parts", [rectangle("water", "water", "0 m", "0 m", "20 mm", "10 mm")])
    return prepare(section_case(*parts, conditions=list(conditions), **more))


class Modules(unittest.TestCase):
    def problems(self, *conditions: dict[str, Any], **more: Any) -> dict[str, str]:
        with self.assertRaises(CaseError) as caught:
            prepared(*conditions, **more)
        return {p.field: f"{p.problem}; {p.remedy}" for p in caught.exception.problems}

    def test_what_is_asked_for(self) -> None:
        module = prepared({**ENDS, "properties_at": "35 °C", "modules": "12"}, held("water, top", at="50 °C")).resolved.module
        self.assertEqual((module.upstream, module.downstream, module.count), (("water, left",), ("water, right",), 12))
        self.assertEqual((module.velocity, module.mass_flow, module.gradient), (0.01, None, None))
        self.assertAlmostEqual(module.properties_at, 308.15)
        self.assertAlmostEqual(module.wall, 323.15)
        flux = prepared(ENDS, wall("water, top", thermal="heat_flux", heat_flux="1 kW/m^2")).resolved.module
        self.assertIsNone(flux.wall)
        self.assertEqual(flux.properties_at, flux.temperature)

    def test_one_drive_and_no_more(self) -> None:
        both = self.problems({**ENDS, "mass_flow": "1 g/s"})
        self.assertIn("both a mass flow and a velocity ('10 mm/s')", both["conditions[0].velocity"])
        none = self.problems({**ENDS, "velocity": ""})
        self.assertIn("neither a mass flow nor a velocity nor a pressure gradient", none["conditions[0].mass_flow"])
        self.assertIn("above zero", self.problems({**ENDS, "velocity": "-1 mm/s"})["conditions[0].velocity"])

    def test_one_wall_temperature(self) -> None:
        two = self.problems(ENDS, held("water, top", at="50 °C"), held("water, bottom", at="40 °C"))
        self.assertIn("a module repeats with one wall temperature", two["conditions[2].temperature"])
        mixed = self.problems(ENDS, held("water, top", at="50 °C"), wall("water, bottom", thermal="heat_flux", heat_flux="5 W/m^2"))
        self.assertIn("not with both", mixed["conditions[2].heat_flux"])
        same = self.problems(ENDS, held("water, top", at="20 °C"))
        self.assertIn("no heat passes", same["conditions[0].temperature"])
        bright = {"thermal": "radiation", "emissivity": "0.9", "surroundings_temperature": "50 °C"}
        self.assertIn("radiates", self.problems(ENDS, wall("water, top", **bright))["conditions[1].emissivity"])
        along = self.problems(ENDS, held("water, top", at="50 °C + 5 K*x/(1 m)"))
        self.assertIn("varies along it", along["conditions[1].temperature"])

    def test_what_does_not_repeat(self) -> None:
        outlet = self.problems(ENDS, {"type": "outlet", "boundaries": ["water, top"]})
        self.assertIn("lets fluid in or out", outlet["conditions[1].boundaries"])
        heavy = self.problems(ENDS, physics={"gravity_y": "-9.81 m/s^2"})
        self.assertIn("weight does not repeat", heavy["physics.gravity_x"])
        self.assertIn("solved steady", self.problems(ENDS, physics={"regime": "time"})["physics.regime"])
        self.assertIn("friction heat", self.problems(ENDS, physics={"friction_heat": True})["physics.friction_heat"])
        ice = [
            rectangle("water", "water", "0 m", "0 m", "20 mm", "10 mm"),
            rectangle("ice", "ice_water", "5 mm", "0 m", "4 mm", "4 mm"),
        ]
        self.assertIn("melts", self.problems(ENDS, parts=ice)["section.parts[1].material"])
        self.assertIn("in one condition", self.problems(ENDS, ENDS)["conditions[1]"])

    def test_ends_that_do_not_fit(self) -> None:
        self.assertIn("at both ends", self.problems({**ENDS, "downstream": ["water, left"]})["conditions[0].downstream"])
        across = self.problems({**ENDS, "downstream": ["water, top"]})
        self.assertIn("10 mm long and the downstream end 20 mm", across["conditions[0].downstream"])
        step = [
            rectangle("water", "water", "0 m", "0 m", "20 mm", "10 mm"),
            rectangle("block", "void", "18 mm", "6 mm", "2 mm", "4 mm"),
        ]
        shorter = self.problems(ENDS, parts=step)
        self.assertIn("10 mm long and the downstream end 6 mm", shorter["conditions[0].downstream"])
        unknown = self.problems({**ENDS, "downstream": ["water, rihgt"]})
        self.assertIn("did you mean 'water, right'?", unknown["conditions[0].boundaries"])
        solid = [*step[:1], rectangle("lid", "copper", "0 m", "10 mm", "20 mm", "2 mm")]
        lids = {**ENDS, "boundaries": ["lid, left"], "downstream": ["lid, right"]}
        self.assertIn("no fluid passes", self.problems(lids, parts=solid)["conditions[0].boundaries"])


class ByHand(unittest.TestCase):
    def test_the_bundle_module_by_hand(self) -> None:
        hand = hand_of(resolve(starter_case("bundle_module")))
        last, heat = hand["whey last outlet temperature"], hand["whey total heat gained"]
        # 2 mm/s x 12 mm x 400 mm of water at 4180 J/kg/K (from memory).
        rate = 2e-3 * 0.012 * 0.4 * 998.0 * 4180.0
        self.assertAlmostEqual(heat.value / (rate * (last.value - 293.15)), 1.0, delta=5e-3)
        self.assertLess(last.value, 309.15)

    def test_the_ribbed_duct_by_hand(self) -> None:
        hand = hand_of(resolve(starter_case("ribbed_duct")))
        # 15 W/m² on 40 mm x 300 mm, thirty times.
        self.assertAlmostEqual(hand["air heat gained"].value, 15.0 * 0.04 * 0.3, places=9)
        self.assertAlmostEqual(hand["air total heat gained"].value, 30.0 * 15.0 * 0.04 * 0.3, delta=0.01)

    def test_a_pressure_gradient_has_no_flow_by_hand(self) -> None:
        document = starter_case("bundle_module").model_dump(mode="json")
        document["conditions"][0] |= {"velocity": "", "pressure_gradient": "0.5 Pa/m"}
        with self.assertRaisesRegex(CaseError, "by hand the flow does not follow"):
            hand_of(resolve(read_case(document)))
