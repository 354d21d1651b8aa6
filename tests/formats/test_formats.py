"""Files and the command line: VTU read back, ledger JSON, exit codes."""

from __future__ import annotations

import io
import json
import tempfile
import unittest
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path

import meshio
import numpy as np

from tests.sections import rectangle, section_case, wall
from tests.support import triangles
from wattikos_core.case import starter_case
from wattikos_core.cli import main
from wattikos_core.formats import write_vtu


class CommandLine(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        case = starter_case("plate_passage")
        self.case = self.folder / "case.json"
        self.case.write_text(case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.4})}).model_dump_json())

    def run_command(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            code = main(arguments)
        return code, out.getvalue(), err.getvalue()

    def test_estimate(self) -> None:
        code, out, _ = self.run_command("estimate", str(self.case))
        self.assertEqual(code, 0)
        self.assertIn("effectiveness", out)

    def test_solve_writes_fields_and_ledger(self) -> None:
        vtu, ledger = self.folder / "out.vtu", self.folder / "out.json"
        code, out, err = self.run_command("solve", str(self.case), "--vtu", str(vtu), "--ledger", str(ledger))
        self.assertEqual(code, 0)
        self.assertIn("step", err)
        self.assertIn("coupled method", out)
        mesh = meshio.read(vtu)
        temperature = mesh.cell_data["temperature"][0]
        self.assertTrue(278.0 < temperature.min() < temperature.max() < 346.0)
        rows = {row["name"]: row for row in json.loads(ledger.read_text())["quantities"]}
        duty = rows["duty"]
        self.assertEqual(duty["unit"], "W")
        self.assertEqual(duty["value"], duty["solved"])
        self.assertAlmostEqual(duty["by_hand"]["value"] / duty["solved"], 1.0, delta=0.03)
        self.assertTrue(duty["definition"])

    def test_a_run_in_time_goes_to_files_and_is_carried_on(self) -> None:
        case = section_case(
            rectangle("bar", "copper", "0 m", "0 m", "20 mm", "10 mm"),
            conditions=[
                wall("bar, top", thermal="convection", heat_transfer_coefficient="2000 W/m^2/K", ambient_temperature="20 °C")
            ],
            physics={"regime": "time"},
            time={"end": "4 s", "every": "1 s", "temperature": "80 °C"},
        )
        self.case.write_text(case.model_dump_json())
        frames, checkpoint = self.folder / "frames", self.folder / "run.npz"
        files = ("--frames", str(frames), "--checkpoint", str(checkpoint), "--quiet")
        code, out, _ = self.run_command("solve", str(self.case), *files)
        self.assertEqual(code, 0)
        self.assertIn("in time method", out)
        table = (frames / "times.csv").read_text().splitlines()
        self.assertEqual([float(line.split(",")[1]) for line in table[1:]], [0.0, 1.0, 2.0, 3.0, 4.0])
        temperatures = [meshio.read(path).cell_data["temperature"][0].mean() for path in sorted(frames.glob("*.vtu"))]
        self.assertEqual(temperatures, sorted(temperatures, reverse=True))
        # The same end again is refused, a later one is carried on to.
        code, _, err = self.run_command("solve", str(self.case), *files)
        self.assertEqual(code, 1)
        self.assertIn("has reached 4 s already", err)
        self.case.write_text(case.model_copy(update={"time": case.time.model_copy(update={"end": "6 s"})}).model_dump_json())
        self.assertEqual(self.run_command("solve", str(self.case), *files)[0], 0)
        table = (frames / "times.csv").read_text().splitlines()
        self.assertEqual(float(table[1].split(",")[1]), 4.0)

    def test_size(self) -> None:
        sized = self.folder / "sized.json"
        arguments = ("--input", "length", "--want", "effectiveness=0.8", "--case-out", str(sized), "--quiet")
        code, out, _ = self.run_command("size", str(self.case), *arguments)
        self.assertEqual(code, 0)
        self.assertIn("gives effectiveness 0.8", out)
        self.assertNotEqual(json.loads(sized.read_text())["inputs"]["length"]["value"], "600 mm")
        code, _, _ = self.run_command("size", str(self.case), "--want", "effectiveness=0.999", "--quiet")
        self.assertEqual(code, 3)

    def test_starters_and_schema(self) -> None:
        self.assertIn("plate_passage", self.run_command("starters")[1])
        self.assertEqual(json.loads(self.run_command("starters", "plate_passage")[1])["starter"], "plate_passage")
        self.assertIn("properties", json.loads(self.run_command("schema")[1]))
        self.assertEqual(self.run_command("starters", "submarine")[0], 1)

    def test_bad_cases_exit_with_1_and_a_remedy(self) -> None:
        self.assertEqual(self.run_command("solve", str(self.folder / "none.json"))[0], 1)
        data = json.loads(self.case.read_text())
        data["inputs"]["length"]["value"] = "600"
        self.case.write_text(json.dumps(data))
        code, _, err = self.run_command("solve", str(self.case))
        self.assertEqual(code, 1)
        self.assertIn("inputs.length", err)
        self.assertIn("600 mm", err)

    def test_a_solve_that_does_not_converge_exits_with_2(self) -> None:
        data = json.loads(self.case.read_text())
        data["solve"] = {"max_steps": 1, "method": "coupled"}
        self.case.write_text(json.dumps(data))
        self.assertEqual(self.run_command("solve", str(self.case), "--quiet")[0], 2)


class Vtu(unittest.TestCase):
    def test_polygons_of_other_shapes(self) -> None:
        grid = triangles(3)
        fields = {"temperature": np.arange(grid.n_cells) + 300.0}
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "t.vtu"
            write_vtu(path, grid, fields)
            mesh = meshio.read(path)
        self.assertEqual(mesh.cells[0].type, "triangle")
        np.testing.assert_array_equal(mesh.cell_data["temperature"][0], fields["temperature"])
