"""Reading: streams, wall exchange, definitions, fields, watches."""

from __future__ import annotations

import json
import unittest
from functools import lru_cache

import numpy as np

from tests.support import INSULATED, SYMMETRIC, duct
from wattikos_core.case import read_case, starter_case
from wattikos_core.quantities import KINDS
from wattikos_core.read import FIELDS, cell_fields, solved_quantities, streams_of, watch_for
from wattikos_core.read.streams import exchange_with
from wattikos_core.studies import Result, prepare, solve_case


@lru_cache(maxsize=1)
def passage() -> Result:
    data = json.loads(starter_case("plate_passage").model_dump_json())
    data["grid"]["fineness"] = 0.5
    return solve_case(read_case(data))


# Fields that a laminar case without swirl, melting, age and time does not have.
_OF_OTHER_CASES = {
    "temperature in tubes",
    "temperature of the matrix",
    "swirl",
    "liquid fraction",
    "age",
    "Courant number",
    "turbulence energy",
    "turbulence frequency",
    "intermittency",
    "eddy viscosity ratio",
}


class Streams(unittest.TestCase):
    def test_what_a_stream_is(self) -> None:
        run = passage()
        streams = streams_of(run.problem, run.evaluation)
        self.assertEqual(set(streams), {"hot", "cold"})
        hot = streams["hot"]
        self.assertAlmostEqual(hot.mass_flow, 4.6e-3, places=12)
        self.assertAlmostEqual(hot.inlet_temperature, 345.15, places=6)
        # Half a gap of 1.2 mm between plates: four times the drawn height.
        self.assertAlmostEqual(hot.hydraulic_diameter, 4 * 0.0012, places=9)
        self.assertAlmostEqual(hot.cross_section, 0.0012 * 0.18, places=12)
        self.assertEqual(hot.backflow, 0.0)
        self.assertGreater(hot.direction[0], 0.99)
        self.assertLess(streams["cold"].direction[0], -0.99)

    def test_outlet_temperature_is_mixed_mean(self) -> None:
        """Against a direct sum over the outlet: ΣF h(T) / ΣF, turned back into a temperature."""
        run = passage()
        hot = streams_of(run.problem, run.evaluation)["hot"]
        faces = run.problem.grid.groups["hot, right"]
        cells = run.problem.grid.owner[faces]
        flow = run.evaluation.flow[faces]
        mean = (flow * hot.table.enthalpy(run.solution.state.stretched[cells])).sum() / flow.sum()
        self.assertAlmostEqual(float(hot.table.enthalpy(hot.outlet_temperature)), float(mean), delta=1e-6 * abs(float(mean)))
        plain = float(run.solution.state.stretched[cells].mean())
        self.assertGreater(abs(hot.outlet_temperature - plain), 0.05)

    def test_exchange_adds_up_and_its_bulk_ends_at_the_outlet(self) -> None:
        run = passage()
        cold = streams_of(run.problem, run.evaluation)["cold"]
        exchange = exchange_with(run.problem, run.evaluation, cold, "plate")
        assert exchange is not None
        self.assertAlmostEqual(exchange.total / run.value("duty"), 1.0, places=9)
        self.assertTrue(np.all(np.diff(exchange.position) >= 0.0))
        self.assertAlmostEqual(float(exchange.bulk[-1]), cold.outlet_temperature, delta=0.3)
        self.assertGreater(exchange.coefficient, 500.0)
        self.assertIsNone(exchange_with(run.problem, run.evaluation, cold, "nothing"))


class Quantities(unittest.TestCase):
    def test_every_quantity_of_a_solution_is_defined(self) -> None:
        run = passage()
        resolved = prepare(run.case).resolved
        for key, value in solved_quantities(resolved, run.problem, run.evaluation, run.solution.state).items():
            self.assertIn(key.kind, KINDS)
            self.assertGreater(len(key.text), 15)
            self.assertTrue(np.isfinite(value), key)

    def test_relations_between_them(self) -> None:
        run = passage()
        area = 0.6 * 0.18
        smaller = run.value("overall U") * area / run.value("NTU")
        self.assertAlmostEqual(run.value("effectiveness"), run.value("duty") / (smaller * 66.0), places=9)
        k = float(
            streams_of(run.problem, run.evaluation)["hot"].table.conductivity(0.5 * (345.15 + run.value("hot outlet temperature")))
        )
        self.assertAlmostEqual(run.value("hot Nusselt number"), run.value("hot h") * 4 * 0.0012 / k, places=9)
        # Resistances in series: 1/U = 1/h + t/k + 1/h, with k of the plate between 14 and 16 W/m/K.
        wall = 1.0 / run.value("overall U") - 1.0 / run.value("hot mean local h") - 1.0 / run.value("cold mean local h")
        self.assertTrue(0.0006 / 18.0 < wall < 0.0006 / 12.0, wall)

    def test_metal_lies_between_the_streams(self) -> None:
        run = passage()
        self.assertTrue(279.15 < run.value("coldest metal") < run.value("hottest metal") < 345.15)

    def test_watches_follow_the_choice(self) -> None:
        run = passage()
        resolved = prepare(run.case).resolved
        watched = watch_for(resolved, run.problem)(run.evaluation, run.solution.state)
        self.assertEqual([key.label for key in watched], ["duty", "hot outlet temperature", "cold outlet temperature"])


class WithoutADifference(unittest.TestCase):
    def test_an_isothermal_stream_has_no_coefficient(self) -> None:
        case = duct(length=0.02, height=0.002, reynolds=50.0, diameter=0.004, bottom=INSULATED, top=SYMMETRIC)
        data = json.loads(case.model_dump_json())
        shape = {"type": "rectangle", "x": "0 m", "y": "-1 mm", "width": "length", "height": "1 mm"}
        data["section"]["parts"].append({"name": "plate", "material": "pvc", "shape": shape})
        data["conditions"] = [c for c in data["conditions"] if c["boundaries"] != ["duct, bottom"]]
        solved = {row.name for row in solve_case(read_case(data)).ledger if row.solved is not None}
        self.assertIn("duct outlet temperature", solved)
        self.assertNotIn("duct h", solved)


class Fields(unittest.TestCase):
    def test_solids_have_no_speed(self) -> None:
        run = passage()
        fluid = run.problem.cells.fluid == 1
        fields = cell_fields(run.problem, run.solution.state, run.evaluation)
        self.assertEqual(set(fields), set(FIELDS) - _OF_OTHER_CASES)
        self.assertTrue(np.isnan(fields["speed"][~fluid]).all())
        self.assertTrue(np.isfinite(fields["temperature"]).all())
        self.assertGreater(float(np.nanmax(fields["speed"])), 0.02)
