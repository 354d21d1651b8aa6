"""Series over the API and through the worker: by hand at once, solved, held, gone on with, nothing twice, handed on."""

from __future__ import annotations

import csv
import io
import json
import random
from typing import Any

import openpyxl
from django.test import Client

from tests.web.test_api import ApiCase
from tests.web.working import WorkerTestCase
from wattikos_core.case import read_case, starter_case
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.evidence.ledger import solved_in
from wattikos_core.studies import solve_case
from wattikos_core.studies.series import case_at, points_of
from wattikos_web import series as stored
from wattikos_web.api.projects import create_case
from wattikos_web.archives import read_archive, write_archive
from wattikos_web.models import CaseRecord, Run, Series
from wattikos_web.repeating import repeat
from wattikos_web.worker.loop import WorkerLoop

TWO = [{"input": "length", "values": "400, 600 mm"}, {"input": "hot_inlet", "values": "60, 80 °C"}]


def with_series(document: dict[str, Any], varied: list[dict[str, str]], how: str = "all") -> dict[str, Any]:
    return {**document, "series": {"varied": varied, "how": how}}


class SeriesApi(ApiCase):
    def varied(self, varied: list[dict[str, str]] = TWO) -> int:
        """Save what is varied; the revision."""
        saved = self.save(with_series(self.document, varied), 1)
        self.assertEqual(saved.status_code, 200, saved.content)
        return int(saved.json()["revision"])

    def begin(self) -> dict[str, Any]:
        answer = self.post(f"/api/cases/{self.case.pk}/series", {"revision": self.varied()})
        self.assertEqual(answer.status_code, 201, answer.content)
        return dict(answer.json())

    def test_by_hand_at_once(self) -> None:
        body = {"document": with_series(self.document, TWO), "case": self.case.pk}
        answer = self.post("/api/series/by-hand", body).json()
        self.assertEqual([point["values"][0] for point in answer["points"]], ["400 mm", "400 mm", "600 mm", "600 mm"])
        self.assertEqual(answer["points"][3]["place"], [0.6, 353.15])
        names = [quantity["name"] for quantity in answer["quantities"]]
        duty = [point["hand"][names.index("duty")] for point in answer["points"]]
        self.assertTrue(duty[0] < duty[1] < duty[3] and duty[0] < duty[2] < duty[3], duty)
        self.assertEqual([one["kind"] for one in answer["varied"]], ["length", "temperature"])

    def test_many_are_shared_out_and_come_back_in_order(self) -> None:
        varied = [{"input": "length", "values": "400..800 mm : 250"}]
        answer = self.post("/api/series/by-hand", {"document": with_series(self.document, varied)}).json()
        names = [quantity["name"] for quantity in answer["quantities"]]
        found = [point["hand"][names.index("effectiveness")] for point in answer["points"]]
        self.assertEqual(len(found), 250)
        self.assertEqual(found, sorted(found))

    def test_what_cannot_be_varied_is_said_by_field(self) -> None:
        body = {"document": with_series(self.document, [{"input": "length", "values": "1..2 m"}])}
        answer = self.post("/api/series/by-hand", body)
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(answer.json()["problems"][0]["field"], "series.varied[0].values")

    def test_sensitivities(self) -> None:
        answer = self.post("/api/series/sensitivities", {"document": self.document, "key": {"quantity": "effectiveness"}}).json()
        told = {one["input"]: one for one in answer}
        self.assertAlmostEqual(told["length"]["elasticity"], told["width"]["elasticity"], places=6)
        self.assertEqual(told["hot_inlet"]["step"], "kelvin")

    def test_begun_held_added_to_and_discarded(self) -> None:
        begun = self.begin()
        self.assertEqual([point["state"] for point in begun["points"]], ["queued"] * 4)
        self.assertEqual(begun["name"], "plate length and hot inlet temperature")
        path = f"/api/series/{begun['id']}"
        self.assertEqual(self.post(f"{path}/hold", {}).json()["state"], "held")
        self.assertEqual(self.post(f"{path}/go-on", {}).json()["state"], "running")
        both = ["length", "hot_inlet"]
        more = self.post(f"{path}/points", {"varied": both, "points": [["700 mm", "80 °C"], ["600 mm", "80 °C"]]}).json()
        self.assertEqual(len(more["points"]), 5)
        self.assertIsNotNone(more["points"][4]["hand"][0])
        self.assertEqual(self.post(f"{path}/points", {"varied": both, "points": [["700 mm"]]}).status_code, 422)
        turned = self.post(f"{path}/points", {"varied": both[::-1], "points": [["80 °C", "700 mm"]]})
        self.assertIn("the series is of length, hot_inlet", turned.json()["problems"][0]["problem"])
        line = self.client.get(f"/api/cases/{self.case.pk}/series").json()[0]
        self.assertEqual((line["points"], line["solved"], line["state"]), (5, 0, "running"))
        # Points are no solutions of the case itself.
        self.assertEqual(self.client.get(f"/api/cases/{self.case.pk}/runs").json(), [])
        self.assertEqual(self.client.delete(path).status_code, 204)
        self.assertEqual((Series.objects.count(), Run.objects.count()), (0, 0))

    def test_too_many_to_solve(self) -> None:
        revision = self.varied([{"input": "length", "values": "400..800 mm : 1500"}])
        answer = self.post(f"/api/cases/{self.case.pk}/series", {"revision": revision})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("1,000 are the most", answer.json()["problems"][0]["remedy"])

    def test_others_have_none(self) -> None:
        begun = self.begin()
        other = Client()
        other.force_login(self.other)
        path = f"/api/series/{begun['id']}"
        for end in ("", "/table.csv", "/table.xlsx"):
            self.assertEqual(other.get(path + end).status_code, 404)
        for end in ("/hold", "/stop", "/go-on", "/retry"):
            self.assertEqual(self.post(path + end, {}, other).status_code, 404)
        self.assertEqual(other.delete(path).status_code, 404)

    def test_tables(self) -> None:
        begun = self.begin()
        path = f"/api/series/{begun['id']}"
        rows = list(csv.reader(io.StringIO(self.client.get(f"{path}/table.csv").content.decode())))
        self.assertTrue(rows[0][1].endswith("(mm)") and rows[0][2].endswith("(°C)"), rows[0])
        self.assertEqual([round(float(row[1])) for row in rows[1:]], [400, 400, 600, 600])
        sheet = openpyxl.load_workbook(io.BytesIO(self.client.get(f"{path}/table.xlsx").content)).active
        assert sheet is not None
        self.assertEqual([cell.value for cell in sheet[1]], rows[0])
        self.assertEqual(sheet.max_row, 5)


class SeriesSolved(WorkerTestCase):
    def setUp(self) -> None:
        super().setUp()
        document = json.loads(json.dumps(self.record.document))
        document["grid"]["fineness"] = 0.3
        document["series"] = {"varied": TWO, "how": "all"}
        CaseRecord.objects.filter(pk=self.record.pk).update(document=document)
        self.record.refresh_from_db()

    def begin(self) -> Series:
        case = read_case(self.record.document)
        points = [("400 mm", "60 °C"), ("400 mm", "80 °C"), ("600 mm", "60 °C"), ("600 mm", "80 °C")]
        self.points = points
        self.case = case
        return stored.begin(self.record, "two inputs", points, {"quantities": [], "values": []})

    def solved(self, series: Series) -> int:
        return series.points.filter(run__state="done").count()

    def duties(self, series: Series) -> list[float]:
        found = []
        for point in series.points.select_related("run"):
            assert point.run is not None
            assert point.run.ledger is not None
            found.append(next(row["solved"] for row in point.run.ledger["quantities"] if row["name"] == "duty"))
        return found

    def test_each_from_the_nearest_and_equal_to_a_single_solve(self) -> None:
        series = self.begin()
        self.until(lambda: self.solved(series) == 4)
        starts = [point.run.warm_start for point in series.points.select_related("run__warm_start") if point.run]
        self.assertIsNone(starts[0])
        self.assertEqual([start is not None for start in starts[1:]], [True] * 3)
        for values, duty in zip(self.points, self.duties(series), strict=True):
            alone = solve_case(case_at(self.case, self.case.series.varied, values))
            expected = solved_in(alone.ledger, "duty")
            assert expected is not None
            self.assertAlmostEqual(duty / expected, 1.0, places=6)

    def test_the_last_is_led_on_from_the_others_and_repeats(self) -> None:
        """Three corners of a square tell much of the fourth; the run says what it began with, and repeated it is the same."""
        series = self.begin()
        self.until(lambda: self.solved(series) == 4)
        runs = [point.run for point in series.points.select_related("run").order_by("number") if point.run]
        last = max(runs, key=lambda run: run.pk)
        self.assertEqual({pk for pk, _ in last.led_from}, {run.pk for run in runs} - {last.pk})
        self.assertEqual(last.led_from[0][0], last.warm_start_id)
        self.assertAlmostEqual(sum(weight for _, weight in last.led_from), 1.0, places=9)
        self.assertTrue(all(row.same for row in repeat(last)))
        again = read_archive(self.record.project, write_archive(self.record))
        kept = [run.pk for run in again.runs.order_by("id")]
        before = [run.pk for run in self.record.runs.order_by("id")]
        led = again.runs.order_by("-id")[0].led_from
        self.assertEqual([[kept.index(pk), w] for pk, w in led], [[before.index(pk), w] for pk, w in last.led_from])

    def test_slopes_of_the_solved_points(self) -> None:
        series = self.begin()
        self.until(lambda: self.solved(series) == 4)
        self.client.force_login(self.record.project.owner)
        told = self.client.get(f"/api/series/{series.pk}/slopes").json()
        duty = {one["input"]: one for one in told if one["key"]["quantity"] == "duty"}
        values = self.duties(series)
        # A plane of least squares through the corners of a rectangle has the mean of two differences as its slope.
        self.assertAlmostEqual(duty["length"]["slope"], 0.5 * (values[2] - values[0] + values[3] - values[1]) / 0.2, places=3)
        self.assertAlmostEqual(duty["hot_inlet"]["slope"], 0.5 * (values[1] - values[0] + values[3] - values[2]) / 20.0, places=6)

    def test_nothing_is_solved_twice(self) -> None:
        """The same points again, and the same case under another name, are stored runs: nothing is submitted."""
        first = self.begin()
        self.until(lambda: self.solved(first) == 4)
        submitted: list[int] = []
        submit = self.engine.submit
        self.engine.submit = lambda run, *rest: submitted.append(run) or submit(run, *rest)  # type: ignore[method-assign,func-returns-value]
        self.addCleanup(setattr, self.engine, "submit", submit)
        again = self.begin()
        self.until(lambda: self.solved(again) == 4)
        self.assertEqual(self.duties(again), self.duties(first))
        alone = create_case(self.record.project, case_at(self.case, self.case.series.varied, self.points[2]))
        run = Run.objects.create(
            case=alone, kind="solve", document=alone.document, revision=1, meaning=stored.meaning_of(read_case(alone.document))
        )
        self.until(self.over(run))
        run.refresh_from_db()
        self.assertEqual(submitted, [])
        self.assertEqual((run.state, run.frames.count()), ("done", 1))
        self.assertEqual(run.summary["stored"]["case"], self.record.title)

    def test_killed_at_random_instants_it_equals_the_undisturbed_one(self) -> None:
        whole = self.begin()
        self.until(lambda: self.solved(whole) == 4)
        expected = self.duties(whole)
        stored.discard(whole)
        series = self.begin()
        chance = random.Random(5)
        for _ in range(4):
            wait = chance.randrange(1, 12)
            for _ in range(wait):
                self.loop.tick()
            # The worker goes without a word: another one finds its runs with an old heartbeat.
            self.loop.give_back() if chance.random() < 0.5 else self.lose()
            self.loop = WorkerLoop(self.engine, at_once=1)
        stored.stop(series)
        self.loop.tick()
        stored.go_on(series)
        self.until(lambda: self.solved(series) == 4)
        for one, other in zip(self.duties(series), expected, strict=True):
            self.assertAlmostEqual(one / other, 1.0, places=6)

    def test_courses_in_time_and_points_with_their_grid(self) -> None:
        case = starter_case("duct_start")
        case = case_at(case, [Varied(input="duration")], ("3 s",))
        coarse = case.grid.model_copy(update={"fineness": 0.4})
        wish = SeriesWish(varied=[Varied(input="pressure", values="0.2, 0.4 Pa")], grid_check=True)
        timed = create_case(self.record.project, case.model_copy(update={"grid": coarse, "series": wish}))
        points = points_of(case, wish)
        series = stored.begin(timed, "two", points, {"quantities": [], "values": []})
        self.until(lambda: self.solved(series) == 2)
        self.client.force_login(self.record.project.owner)
        told = self.client.get(f"/api/series/{series.pk}/courses").json()
        self.assertEqual([one["number"] for one in told["courses"]], [0, 1])
        self.assertIn(told["shown"], told["quantities"])
        ends = []
        for one, point in zip(told["courses"], series.points.select_related("run"), strict=True):
            assert point.run is not None
            self.assertEqual(one["time"], sorted(one["time"]))
            self.assertAlmostEqual(one["time"][-1], point.run.summary["time"], places=9)
            ends.append(one["values"][-1])
            # In time no grid is checked.
            self.assertFalse(point.run.document["solve"]["grid_check"])
        self.assertNotEqual(*ends)
        other = next(name for name in told["quantities"] if name != told["shown"])
        self.assertEqual(self.client.get(f"/api/series/{series.pk}/courses", {"quantity": other}).json()["shown"], other)
        wish = SeriesWish(varied=[Varied(input="length", values="500 mm")], grid_check=True)
        steady = read_case(self.record.document).model_copy(update={"series": wish})
        checked = stored.begin(self.record, "checked", points_of(steady, wish), {"quantities": [], "values": []}, steady)
        made = checked.points.get().run
        assert made is not None
        self.assertTrue(made.document["solve"]["grid_check"])

    def lose(self) -> None:
        for active in self.loop.active.values():
            active.future.cancel()
        Run.objects.filter(state="running").update(state="queued")

    def test_what_did_not_converge_is_not_used(self) -> None:
        """Its numbers are not shown, no point begins from it, nobody takes it over, and it is tried again with the failed."""
        series = self.begin()
        self.until(lambda: self.solved(series) == 4)
        points = list(series.points.select_related("run"))
        for point in points[:3]:
            assert point.run is not None
            Run.objects.filter(pk=point.run.pk).update(summary={**point.run.summary, "converged": False})
        last = points[3].run
        assert last is not None
        self.assertEqual([pk for pk, _ in stored.starts_of(last)], [last.pk])
        self.client.force_login(self.record.project.owner)
        told = self.client.get(f"/api/series/{series.pk}").json()
        self.assertEqual([point["state"] for point in told["points"]], ["failed", "failed", "failed", "done"])
        self.assertEqual({value for point in told["points"][:3] for value in point["solved"]}, {None})
        line = self.client.get(f"/api/cases/{self.record.pk}/series").json()[0]
        self.assertEqual((line["solved"], line["failed"]), (1, 3))
        stored.retry(series)
        self.assertEqual(series.points.filter(run__state="queued").count(), 3)
        self.until(lambda: series.points.filter(run__state="done", run__summary__converged=True).count() == 4)

    def test_a_point_that_failed_is_tried_again_alone(self) -> None:
        series = self.begin()
        self.until(lambda: self.solved(series) == 4)
        point = series.points.select_related("run")[2]
        assert point.run is not None
        kept = list(series.points.values_list("run__finished", flat=True))
        Run.objects.filter(pk=point.run.pk).update(state="failed", failure={"problem": "x", "remedy": "y"}, meaning="")
        stored.retry(series)
        self.until(lambda: self.solved(series) == 4)
        after = list(series.points.values_list("run__finished", flat=True))
        self.assertEqual([one == other for one, other in zip(kept, after, strict=True)], [True, True, False, True])
