"""Sizings over the API and through the worker: by hand, maps, fronts and scatter; stopped, gone on with, nothing tried twice."""

from __future__ import annotations

import json
from itertools import pairwise
from typing import Any

from django.apps import apps
from django.test import Client

from tests.web.test_api import ApiCase
from tests.web.test_migrations import migration
from tests.web.working import WorkerTestCase
from wattikos_core.case import read_case
from wattikos_core.ledger import Key
from wattikos_web.models import CaseRecord, Run

EFFECTIVENESS = {"quantity": "effectiveness"}
DROP = {"quantity": "pressure_drop", "place": "hot"}
WISH: dict[str, Any] = {
    "chosen": [
        {"varied": [{"input": "length"}], "lower": "300 mm", "upper": "2 m"},
        {"varied": [{"input": "hot_height"}], "lower": "0.8 mm", "upper": "3 mm"},
    ],
    "goals": [
        {"key": EFFECTIVENESS, "target": "0.8"},
        {"key": DROP, "target": "15 Pa", "sense": "at_most"},
    ],
    "aim": {"expression": "length"},
    "second": {"key": DROP},
    "spreads": [{"input": "hot_flow", "plus_minus": "5 %"}],
}


class Around(ApiCase):
    def asked(self, what: str, wish: dict[str, Any] = WISH, **more: Any) -> Any:
        return self.post(f"/api/sizings/{what}", {"document": {**self.document, "sizing": wish}, **more})

    def test_by_hand(self) -> None:
        told = self.asked("by-hand").json()
        self.assertTrue(told["met"])
        self.assertEqual([one["varied"][0]["input"] for one in told["chosen"]], ["length", "hot_height"])
        self.assertEqual([one["name"] for one in told["quantities"]], ["effectiveness", "hot pressure drop"])
        self.assertAlmostEqual(told["found"][0], 0.8, delta=1e-3)
        self.assertEqual(told["aim"]["kind"], "length")
        # Of what nobody calculates by hand it is told so.
        wish = {
            **WISH,
            "goals": [{"key": {"quantity": "mean_temperature", "place": "plate"}, "target": "60 °C", "sense": "at_most"}],
        }
        self.assertEqual(self.asked("by-hand", wish).json()["without_hand"], ["mean temperature of plate"])

    def test_what_is_met_as_it_stands_is_left_as_it_is(self) -> None:
        """To the last digit: what is to change as little as it can does not change by the noise of a search."""
        goal = {"key": EFFECTIVENESS, "target": "0.5", "sense": "at_least"}
        lengths = {"varied": [{"input": "length"}], "lower": "300 mm", "upper": "2 m"}
        told = self.asked("by-hand", {"chosen": [lengths], "goals": [goal]}).json()
        self.assertEqual(told["values"], [self.document["inputs"]["length"]["value"]])

    def test_map_front_and_scatter(self) -> None:
        told = self.asked("map", first=1, second=0).json()
        self.assertEqual(told["chosen"][0]["varied"][0]["input"], "hot_height")
        self.assertEqual(len(told["missing"]), len(told["places"][1]))
        self.assertEqual(len(told["goals"][0]["values"][0]), len(told["places"][0]))
        points = self.asked("front").json()["points"]
        self.assertTrue(all(a["aim"] < b["aim"] and a["second"] > b["second"] for a, b in pairwise(points)))
        one = {**WISH, "chosen": WISH["chosen"][:1], "goals": WISH["goals"][:1]}
        scatter = self.asked("scatter", one).json()
        self.assertTrue(0.3 < scatter["share"] < 0.7)
        self.assertGreaterEqual(scatter["share_there"], 0.95)
        self.assertTrue(scatter["values"][0].endswith("mm"))

    def test_what_makes_no_sense_names_its_field(self) -> None:
        goal = {"key": EFFECTIVENESS, "target": "1.4"}
        rows = {"varied": [{"input": "length", "values": "1 m"}]}
        for field, wish in (
            ("sizing.chosen", {}),
            ("sizing.goals", {"chosen": WISH["chosen"]}),
            ("sizing.chosen[0].lower", {**WISH, "chosen": [{"varied": [{"input": "length"}], "lower": "3 m", "upper": "1 m"}]}),
            ("sizing.goals[0].target", {**WISH, "goals": [goal]}),
            ("sizing.goals[0].upper", {**WISH, "goals": [{**goal, "target": "0.8", "sense": "between", "upper": "0.7"}]}),
            ("sizing.aim", {**WISH, "aim": {"expression": "lenght"}}),
            ("sizing.chosen", {**WISH, "chosen": [WISH["chosen"][0]] * 2}),
            ("sizing.chosen[0].varied", {**WISH, "chosen": [rows]}),
        ):
            with self.subTest(field):
                answer = self.asked("by-hand", wish)
                self.assertEqual(answer.status_code, 422, answer.content)
                problem = answer.json()["problems"][0]
                self.assertEqual(problem["field"], field)
                self.assertTrue(problem["remedy"])

    def test_another_one_s_run_is_not_there(self) -> None:
        self.assertEqual(self.asked("by-hand", run=999_999).status_code, 404)

    def test_tubes(self) -> None:
        tables = self.client.get("/api/tubes").json()
        food = next(table for table in tables if table["key"] == "dairy")
        self.assertAlmostEqual(next(size["inside"] for size in food["sizes"] if size["label"] == "DN 25"), 0.026)
        for table in tables:
            outside = [size["outside"] for size in table["sizes"]]
            self.assertEqual(outside, sorted(outside))
            self.assertTrue(all(size["inside"] > 0.0 for size in table["sizes"]))


class Stored(ApiCase):
    def test_what_older_programs_found(self) -> None:
        """A sizing had one input and one goal, and told them in words of its own."""
        task = {"input": "length", "target": 0.85, "kind": "length", "unit": "mm"}
        task |= {"quantity": "effectiveness", "quantity_kind": "ratio"}
        old = {
            "task": {**task, "key": {"quantity": "effectiveness", "place": "", "other": "", "of": None}},
            "outcome": "met",
            "text": "length = 900 mm gives effectiveness 0.85",
            "suggestions": [],
            "trials": [{"value": 0.9, "hand": 0.84, "solved": 0.85}],
            "curve": [[0.5, 0.7], [1.0, 0.86]],
            "value": "900 mm",
        }
        run = Run.objects.create(
            case=self.case, kind="sizing", state="done", document=self.document, revision=1, summary={"sizing": old}
        )
        step = migration("0010_sizings").operations[1]
        step.code(apps, None)
        step.code(apps, None)
        run.refresh_from_db()
        now = run.summary["sizing"]
        self.assertEqual((now["values"], now["outcome"], now["target"]), (["900 mm"], "met", 0.85))
        self.assertEqual(now["chosen"][0]["varied"][0]["input"], "length")
        self.assertEqual(run.trials[0]["solved"], [0.85])
        self.assertEqual(Key(**run.trials[0]["keys"][0]), Key("effectiveness"))


class ByTheWorker(WorkerTestCase):
    def begin(self, client: Client, wish: dict[str, Any], fineness: float) -> Run:
        self.record.refresh_from_db()
        document = {**self.record.document, "sizing": wish}
        document["grid"] = {**document["grid"], "fineness": fineness}
        read_case(document)
        CaseRecord.objects.filter(pk=self.record.pk).update(document=document)
        body = {"revision": self.record.revision, "kind": "sizing"}
        answer = client.post(f"/api/cases/{self.record.pk}/runs", json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 201, answer.content)
        return Run.objects.get(pk=answer.json()["id"])

    def test_stopped_gone_on_with_and_asked_for_more(self) -> None:
        client = Client()
        client.force_login(self.record.project.owner)
        # Fine enough that what is left after one trial takes several times what a stop takes to be heard.
        fineness = 1.5
        first = self.begin(client, WISH, fineness)
        self.until(lambda: first.pk in self.loop.active and bool(self.loop.active[first.pk].trials))
        client.post(f"/api/runs/{first.pk}/stop")
        self.until(self.over(first))
        tried = len(first.trials)
        self.assertEqual(self.state(first), "stopped")
        self.assertGreater(tried, 0)
        second = self.begin(client, WISH, fineness)
        self.until(self.over(second))
        sizing = second.summary["sizing"]
        self.assertEqual(sizing["outcome"], "met", sizing["text"])
        self.assertEqual(second.trials[:tried], first.trials)
        self.assertEqual(len(sizing["margins"]), 2)
        # A goal that is drawn in uses what has been tried, too.
        wish = {**WISH, "goals": [{"key": EFFECTIVENESS, "target": "0.8"}, {"key": DROP, "target": "14.5 Pa", "sense": "at_most"}]}
        third = self.begin(client, wish, fineness)
        self.assertEqual(third.trials, second.trials)
        self.until(self.over(third))
        self.assertLessEqual(len(third.trials) - len(second.trials), 2)
        self.assertLessEqual(third.summary["sizing"]["margins"][1]["value"], 14.5 * 1.01)
        # By hand it is corrected by them now; another case's trials correct nothing.
        self.record.refresh_from_db()
        body = {"document": self.record.document, "run": third.pk}
        told = client.post("/api/sizings/by-hand", json.dumps(body), content_type="application/json").json()
        self.assertEqual(told["trials"], len(third.trials))
        inputs = {**body["document"]["inputs"], "hot_flow": {**body["document"]["inputs"]["hot_flow"], "value": "4 g/s"}}
        body["document"] = {**body["document"], "inputs": inputs}
        told = client.post("/api/sizings/by-hand", json.dumps(body), content_type="application/json").json()
        self.assertEqual(told["trials"], 0)
