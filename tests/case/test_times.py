"""What a document says of time: frames, beginnings, and conditions and sources that change."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from tests.sections import rectangle, section_case, wall
from wattikos_core.case import Case, resolve
from wattikos_core.errors import CaseError
from wattikos_core.grid import Grid
from wattikos_core.physics import problem_at, problem_of
from wattikos_core.studies import grid_of, prepare, solve_case


def bar(*, material: str = "copper", ambient: str = "20 °C", heat: str = "", regime: str = "time", **more: Any) -> Case:
    """A bar with a film on its top."""
    time = {"end": "2 s", "temperature": "80 °C", **more.pop("time", {})}
    return section_case(
        rectangle("bar", material, "0 m", "0 m", "20 mm", "10 mm", heat=heat),
        conditions=[wall("bar, top", thermal="convection", heat_transfer_coefficient="2000 W/m^2/K", ambient_temperature=ambient)],
        physics={"regime": regime},
        time=time,
        **more,
    )


class Frames(unittest.TestCase):
    def times(self, **time: Any) -> tuple[float, ...]:
        resolved = resolve(bar(time=time)).time
        assert resolved is not None
        return resolved.frames

    def test_interval_and_list_are_joined_and_end_at_the_end(self) -> None:
        self.assertEqual(self.times(every="0.8 s"), (0.8, 1.6, 2.0))
        self.assertEqual(self.times(every="2 s", frames=["0.1 s", "1500 ms"]), (0.1, 1.5, 2.0))
        self.assertEqual(self.times(every="1 s", frames=["0.5 s"]), (0.5, 1.0, 2.0))
        self.assertEqual(len(self.times()), 50)

    def test_what_cannot_be_is_refused_with_its_field(self) -> None:
        for field, time in (
            ("time.frames[0]", {"frames": ["3 s"]}),
            ("time.every", {"every": "0.1 ms"}),
            ("time.first_step", {"fixed": True}),
            ("time.end", {"end": "-1 s"}),
            ("time.part_temperatures.rod", {"part_temperatures": {"rod": "20 °C"}}),
        ):
            with self.assertRaises(CaseError) as caught:
                resolve(bar(time=time))
            self.assertIn(field, [p.field for p in caught.exception.problems])

    def test_a_steady_case_has_no_time(self) -> None:
        with self.assertRaisesRegex(CaseError, "depends on the time"):
            resolve(bar(ambient="20 °C + 1 K*time/(1 s)", regime="steady"))

    def test_gravity_across_an_axis_is_refused(self) -> None:
        case = bar(axisymmetric=True)
        with self.assertRaises(CaseError) as caught:
            resolve(case.model_copy(update={"physics": case.physics.model_copy(update={"gravity_y": "-9.81 m/s^2"})}))
        self.assertEqual(caught.exception.problems[0].field, "physics.gravity_y")


class Changing(unittest.TestCase):
    def given(self, case: Case, time: float) -> tuple[float, float]:
        """Ambient at the film and source in the bar at a time, K and W/m3."""
        prepared = prepare(case)
        grid: Grid = grid_of(prepared)
        problem = problem_at(problem_of(prepared.resolved, grid), prepared.resolved, time)
        return float(problem.given.ambient[grid.groups["bar, top"][0]]), float(problem.cells.source[0])

    def test_expressions(self) -> None:
        case = bar(ambient="20 °C + 10 K*step(time - 1 s)", heat="5 W*time/(1 s)")
        self.assertAlmostEqual(self.given(case, 0.99)[0], 293.15)
        self.assertAlmostEqual(self.given(case, 1.0)[0], 303.15)
        # 20 mm x 10 mm x 1 m of bar.
        self.assertAlmostEqual(self.given(case, 2.0)[1], 10.0 / 2e-4)

    def test_a_table(self) -> None:
        table = {"unit": "min", "value_unit": "degC", "rows": [[0.0, 10.0], [1.0, 40.0]]}
        case = bar(ambient="day(time)", tables={"day": table})
        self.assertAlmostEqual(self.given(case, 30.0)[0], 298.15)

    def test_a_moving_ambient_is_followed(self) -> None:
        """A lump under a film whose ambient rises steadily lags behind it by its time constant, ρ V c / h A."""
        even = {"base": "copper", "density": "8933 kg/m^3", "specific_heat": "385 J/kg/K", "conductivity": "1e5 W/m/K"}
        time = {"end": "100 s", "temperature": "20 °C", "accuracy": 1e-4}
        case = bar(material="even", ambient="20 °C + 1 K*time/(1 s)", time=time, materials={"even": even})
        lag = 8933.0 * 0.01 * 385.0 / 2000.0
        exact = 293.15 + 100.0 - lag * (1.0 - np.exp(-100.0 / lag))
        self.assertAlmostEqual(solve_case(case).value("mean temperature of bar"), exact, delta=0.02)


class Beginnings(unittest.TestCase):
    def test_everywhere_by_part_and_by_place(self) -> None:
        case = section_case(
            rectangle("left", "copper", "0 m", "0 m", "10 mm", "10 mm"),
            rectangle("right", "copper", "10 mm", "0 m", "10 mm", "10 mm"),
            conditions=[],
            physics={"regime": "time"},
            time={
                "end": "1 ms",
                "temperature": "50 °C",
                "part_temperatures": {"right": "20 °C + 10 K*x/(10 mm)"},
                "frames": ["0.1 ms"],
            },
        )
        kept: list[np.ndarray] = []
        grids: list[Grid] = []

        def keep(frame: object) -> None:
            kept.append(frame.state.stretched)  # type: ignore[attr-defined]
            grids.append(frame.grid)  # type: ignore[attr-defined]

        solve_case(case, on_frame=keep)
        grid, first = grids[0], kept[0]
        right = grid.region == grid.region_names.index("right")
        np.testing.assert_allclose(first[~right], 323.15)
        np.testing.assert_allclose(first[right], 293.15 + 1000.0 * grid.centre[right, 0])

    def test_times_are_kept_beside_the_regular_ones(self) -> None:
        case = bar()
        time = case.time.model_copy(update={"every": "", "frames": ["0.123 s"], "end": "1 s"})
        frames = resolve(case.model_copy(update={"time": time})).time
        assert frames is not None
        self.assertEqual(len(frames.frames), 51)
        self.assertIn(0.123, frames.frames)

    def test_a_former_run_is_begun_from_only_where_that_is_wished(self) -> None:
        first = solve_case(bar())
        checkpoint = first.solution.checkpoint()
        ended = first.value("mean temperature of bar")
        self.assertAlmostEqual(solve_case(bar(), start=checkpoint).value("mean temperature of bar"), ended, places=6)
        again = solve_case(bar(time={"begin": "former_run"}), start=checkpoint)
        self.assertLess(again.value("mean temperature of bar"), ended - 3.0)
        self.assertAlmostEqual(again.solution.history[0]["time"], 0.0)

    def test_a_run_that_goes_on_tells_of_all_of_it(self) -> None:
        """Heat stored counts from the very beginning, and times to settle come from the whole course."""
        first = solve_case(bar(time={"end": "60 s"}))
        longer = bar(time={"end": "120 s"})
        second, whole = solve_case(longer, start=first.solution.checkpoint(), go_on=True), solve_case(longer)
        for name in ("heat stored in bar", "time to 95 % of mean temperature of bar", "mean temperature of bar"):
            self.assertAlmostEqual(second.value(name) / whole.value(name), 1.0, delta=5e-3, msg=name)
        self.assertLess(second.value("heat balance"), 1e-8)
        finer = longer.model_copy(update={"grid": longer.grid.model_copy(update={"fineness": 2.0})})
        with self.assertRaisesRegex(CaseError, "has changed since the run"):
            solve_case(finer, start=first.solution.checkpoint(), go_on=True)
