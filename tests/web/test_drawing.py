"""Drawing in headless Chromium: placing, dragging with snapping, exact numbers, files; one condition for copies; grids."""

from __future__ import annotations

from pathlib import Path
from typing import Any
from unittest import skipUnless

from tests.formats.test_imports import dxf
from tests.web.browser import CHROMIUM, BrowserTestCase
from wattikos_core.case import starter_case
from wattikos_core.case.document import Part
from wattikos_core.case.shapes import Rectangle
from wattikos_web.models import CaseRecord


@skipUnless(Path(CHROMIUM).exists(), "Chromium is not installed")
class Drawing(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.record = self.new_case(starter_case("bundle_staggered"), fineness=0.5)
        self.go("draw")

    def go(self, stage: str) -> None:
        self.page.goto(f"{self.live_server_url}/cases/{self.record.pk}/{stage}")
        self.page.wait_for_selector("[data-row='whey heat gained']")

    def spot(self, x: float, y: float) -> tuple[float, float]:
        """Where a place of the section (mm) is on the page; the duct is 194 mm by 60 mm."""
        left, top, width, height = self.page.evaluate(
            """() => {
                const path = document.querySelector("[data-outline='whey']")
                const [box, sheet] = [path.getBBox(), path.ownerSVGElement.getBoundingClientRect()]
                return [box.x + sheet.left, box.y + sheet.top, box.width, box.height]
            }"""
        )
        return left + x / 194.0 * width, top + (1.0 - y / 60.0) * height

    def drag(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        mouse = self.page.mouse
        mouse.move(*self.spot(*start))
        mouse.down()
        mouse.move(*self.spot(*(0.5 * (a + b) for a, b in zip(start, end, strict=True))))
        mouse.move(*self.spot(*end))
        mouse.up()

    def stored(self) -> dict[str, Any]:
        self.until(lambda: self.page.inner_text("[data-test=save-state]") == "saved")
        return CaseRecord.objects.get(pk=self.record.pk).document

    def parts(self) -> list[dict[str, Any]]:
        return list(self.stored()["section"]["parts"])

    def test_a_rectangle_is_drawn_typed_moved_and_taken_back(self) -> None:
        page = self.page
        self.choose("[data-test=add-part]", "draw a rectangle")
        self.drag((150.2, 24.3), (169.8, 36.4))
        # Along the duct both corners lie on the step, across it on the middles of tubes; the first size waits to be typed.
        self.until(lambda: page.locator("[data-part='part 4']").count() == 1)
        shape = self.parts()[3]["shape"]
        self.assertEqual((shape["x"], shape["y"], shape["width"], shape["height"]), ("150 mm", "24 mm", "20 mm", "12 mm"))
        focused = "document.activeElement?.closest('[data-path]')?.dataset.path"
        self.until(lambda: page.evaluate(focused) == "section.parts[3].shape.width")
        page.keyboard.type("18")
        page.keyboard.press("Enter")
        self.assertEqual(self.parts()[3]["shape"]["width"], "18 mm")
        # Moved near the edge of a tube, its own edge is caught by it.
        shares = "['part 4', 'whey'].map((name) => document.querySelector(`[data-outline='${name}']`)?.getBBox().width ?? 0)"

        def drawn_anew() -> bool:
            part, duct = page.evaluate(shares)
            return abs(part - 18.0 / 194.0 * duct) < 0.002 * duct

        self.until(drawn_anew)
        self.drag((152.0, 25.0), (152.0, 30.6))
        self.until(lambda: self.parts()[3]["shape"]["y"] == "30 mm")
        page.keyboard.press("Escape")
        page.click("header >> text=undo")
        self.assertEqual(self.parts()[3]["shape"]["y"], "24 mm")

    def test_what_is_snapped_to_an_edge_stays_there(self) -> None:
        """A block drawn to the outlet goes on touching it when the duct becomes longer."""
        page = self.page
        self.choose("[data-test=add-part]", "draw a rectangle")
        self.drag((180.0, 10.0), (193.7, 20.0))
        self.until(lambda: page.locator("[data-part='part 4']").count() == 1)
        shape = self.parts()[3]["shape"]
        self.assertEqual(shape["x"], "180 mm")
        self.assertEqual(shape["width"], "upstream + (columns - 1)*pitch_x + downstream - 180 mm")
        page.fill("[data-input=downstream] input", "130 mm")
        page.keyboard.press("Tab")
        right = "name => { const b = document.querySelector(`[data-outline='${name}']`).getBBox(); return b.x + b.width }"
        self.until(lambda: "214" in page.inner_text("section[aria-label=Sketch]"))
        self.until(lambda: abs(page.evaluate(right, "part 4") - page.evaluate(right, "whey")) < 0.01)

    def test_a_polygon_is_clicked_and_closed(self) -> None:
        page = self.page
        self.choose("[data-test=add-part]", "draw a polygon")
        for place in ((150.0, 24.0), (170.0, 24.0), (170.0, 36.0)):
            page.mouse.move(*self.spot(*place))
            page.mouse.down()
            page.mouse.up()
        page.keyboard.press("Enter")
        self.until(lambda: page.locator("[data-part='part 4']").count() == 1)
        shape = self.parts()[3]["shape"]
        self.assertEqual(shape["points"], [["0 mm", "0 mm"], ["20 mm", "0 mm"], ["20 mm", "12 mm"]])
        page.fill("[data-test=points] textarea", "0, 0\n20, 0\n20, 20\n0, 20 mm")
        page.locator("[data-test=points] textarea").blur()
        self.until(lambda: len(self.parts()[3]["shape"]["points"]) == 4)

    def test_a_dimension_becomes_an_input_that_can_be_varied(self) -> None:
        page = self.page
        self.choose("[data-test=add-part]", "draw a circle")
        self.drag((160.0, 30.0), (166.0, 30.0))
        self.until(lambda: page.locator("[data-part='part 4']").count() == 1)
        page.fill("[data-path='section.parts[3].shape.diameter'] input", "rod = 9 mm")
        page.keyboard.press("Enter")
        page.wait_for_selector("[data-input=rod] input")
        self.assertEqual(self.parts()[3]["shape"]["diameter"], "rod")
        page.fill("[data-input=rod] input", "11")
        self.until(lambda: "11 mm" in page.inner_text("[data-test=sketch]"))

    def give_file(self, content: Any) -> None:
        """Choose an outline in millimetres, and give it."""
        with self.page.expect_file_chooser() as chooser:
            self.choose("[data-test=add-part]", "file in mm…")
        chooser.value.set_files(content)

    def test_an_outline_from_a_drawing(self) -> None:
        self.give_file({"name": "plate.dxf", "mimeType": "image/vnd.dxf", "buffer": dxf()})
        self.until(lambda: self.page.locator("[data-part='plate 4']").count() == 1)
        self.assertEqual(self.parts()[3]["shape"]["source"], "plate.dxf")
        self.give_file({"name": "bad.dxf", "mimeType": "x/y", "buffer": b"nothing"})
        self.page.wait_for_selector("text=cannot be read as DXF")

    def test_parts_are_reordered_renamed_and_switched_off(self) -> None:
        page = self.page
        page.click("[data-part=tube]")
        page.fill("#part-name", "pipe")
        page.keyboard.press("Enter")
        self.until(lambda: "pipe, inside" in str(self.stored()["conditions"]))
        document = self.stored()
        keys = [(w["key"]["quantity"], w["key"]["place"], w["key"]["other"]) for w in document["wanted"]]
        self.assertIn(("heat_between", "pipe 1", "whey"), keys)
        self.assertEqual(document["estimates"][0]["body"], "pipe")
        page.fill("[data-path='section.parts[2].present'] input", "0")
        self.until(lambda: page.locator("[data-part=pipe] >> text=off").count() == 1)
        page.fill("[data-path='section.parts[2].present'] input", "1")
        page.click("[aria-label='paint earlier']")
        self.until(lambda: [p["name"] for p in self.parts()] == ["whey", "pipe", "bore"])

    def test_what_is_wrong_stands_at_its_place(self) -> None:
        page = self.page
        self.choose("[data-test=add-part]", "draw a polygon")
        for place in ((150.0, 24.0), (170.0, 36.0), (170.0, 24.0), (150.0, 36.0)):
            page.mouse.move(*self.spot(*place))
            page.mouse.down()
            page.mouse.up()
        page.keyboard.press("Enter")
        page.wait_for_selector(".trouble")
        box, (x, y) = page.locator(".trouble").bounding_box(), self.spot(160.0, 30.0)
        assert box is not None
        self.assertLess(abs(box["x"] + 7 - x) + abs(box["y"] + box["height"] / 2 - y), 12)

    def test_one_condition_for_all_copies_and_one_of_its_own(self) -> None:
        page = self.page
        self.go("conditions")
        row = "[data-boundary='tube, inside']"
        self.assertIn("× 6", page.inner_text(row))
        page.click(f"{row} .copies")
        page.click("[data-boundary='tube 2, inside']")
        self.choose("#kind", "wall at a temperature")
        # What it convected to is what it is held at.
        self.until(lambda: page.inner_text("[data-boundary='tube 2, inside']").split("\n")[-1].strip() == "65 °C")
        self.assertIn("different", page.inner_text(row))
        self.assertIn("65 °C", page.inner_text("[data-boundary='tube 3, inside']"))

    def test_a_fan_is_put_on_an_end_and_taken_back(self) -> None:
        page = self.page
        self.go("conditions")
        page.click("[data-boundary='whey, right']")
        page.click("[data-test=put-fan]")
        page.wait_for_selector("[data-boundary='fan, right'][aria-selected=true]")
        # One fan is enough there.
        self.assertEqual(page.locator("[data-test=put-fan]").count(), 0)
        self.until(lambda: [part["name"] for part in self.parts()][-1] == "fan")
        page.keyboard.press("Control+z")
        page.wait_for_selector("[data-boundary='whey, right']")
        self.until(lambda: [part["name"] for part in self.parts()][-1] == "tube")

    def test_a_condition_is_copied_into_another_case(self) -> None:
        page = self.page
        self.go("conditions")
        page.click("[data-boundary='whey, left']")
        page.fill("#condition-velocity", "2 mm/s")
        page.keyboard.press("Tab")
        page.click("[data-test=copy-condition]")
        self.record = self.new_case(starter_case("bundle_in_line"), fineness=0.5)
        self.go("conditions")
        page.click("[data-boundary='whey, left']")
        page.click("[data-test=paste-condition]")
        self.until(lambda: "2 mm/s" in page.inner_text("[data-boundary='whey, left']"))

    def test_a_table_along_a_boundary(self) -> None:
        page = self.page
        self.go("conditions")
        with page.expect_file_chooser() as chooser:
            page.click("text=table from a CSV file")
        chooser.value.set_files({"name": "wall.csv", "mimeType": "text/csv", "buffer": b"0,20\n194,40\n"})
        page.wait_for_selector("text=wall(x)")
        page.click("[data-boundary='whey, top']")
        self.choose("#kind", "wall at a temperature")
        page.fill("#condition-temperature", "wall(x)")
        page.keyboard.press("Tab")
        self.until(lambda: self.stored()["conditions"][-1].get("temperature") == "wall(x)")
        self.assertEqual(page.locator("[data-form=conditions] .problems").count(), 0)

    def test_finer_at_a_part_and_a_grid_that_goes_out_and_in(self) -> None:
        page = self.page
        self.go("grid")
        cells = "[data-test=cell-count] b"
        self.until(lambda: page.inner_text(cells)[0].isdigit())
        before = int(page.inner_text(cells).replace(",", ""))
        self.choose("[data-test=finer-at]", "tube")
        self.until(lambda: page.inner_text(cells)[0].isdigit() and int(page.inner_text(cells).replace(",", "")) > 1.1 * before)
        self.assertEqual(page.locator(".worst circle").count(), 5)
        finer = page.inner_text(cells)
        with page.expect_download() as download:
            page.click("text=save as VTU")
        saved = Path(download.value.path()).read_bytes()
        with page.expect_file_chooser() as chooser:
            page.click("text=use a grid file")
        chooser.value.set_files({"name": "mine.vtu", "mimeType": "text/xml", "buffer": saved})
        page.wait_for_selector("text=make it here instead")
        self.until(lambda: page.inner_text(cells) == finer)
        self.assertEqual(self.stored()["grid"]["file"], "mine.vtu")
        page.keyboard.press("4")
        page.click("[data-test=solve]")
        self.until(lambda: "converged" in page.inner_text("[data-stage=solve]"))

    def test_a_quantity_is_kept_in_the_ledger_by_choice(self) -> None:
        page = self.page
        page.keyboard.press("4")
        page.click("[data-test=solve]")
        self.until(lambda: "converged" in page.inner_text("[data-stage=solve]"))
        page.click("[data-test=ledger] >> text=more")
        page.click("[data-want='drag on tube 2']")
        self.until(lambda: any(w["key"]["quantity"] == "drag" and w["key"]["place"] == "tube 2" for w in self.stored()["wanted"]))
        page.click("[data-test=ledger] >> text=fewer")
        page.wait_for_selector("[data-row='drag on tube 2']")
        page.keyboard.press("5")
        page.click("[data-test=read-places]")
        self.choose("[data-test=places]", "drag and lift")
        page.wait_for_selector("[data-place='tube 6']")

    def test_a_resistance_stands_in_a_part_and_becomes_a_fan(self) -> None:
        page = self.page
        case = starter_case("bundle_staggered")
        shape = Rectangle(x="150 mm", y="0 m", width="5 mm", height="60 mm")
        parts = [*case.section.parts, Part(name="screen", material="water", shape=shape)]
        drawn = case.model_copy(update={"section": case.section.model_copy(update={"parts": parts})})
        self.record = self.new_case(drawn, fineness=0.5)
        self.go("draw")
        page.click("[data-part=screen]")
        self.choose("#part-internal", "a resistance")
        page.wait_for_selector("path.internal.resistance")
        page.fill("#internal-loss input, input#internal-loss", "7")
        page.press("#internal-loss input, input#internal-loss", "Tab")
        self.until(lambda: (self.parts()[3]["internal"] or {}).get("loss") == "7")
        self.choose("#part-internal", "a fan or pump")
        page.wait_for_selector(".blowing .head")
        before = page.get_attribute(".blowing .head", "d")
        page.check("#internal-turned")
        self.until(lambda: page.get_attribute(".blowing .head", "d") != before)
        internal = self.parts()[3]["internal"]
        self.assertEqual((internal["type"], internal["rise"], internal["turned"]), ("fan", "50 Pa", True))
        self.choose("#part-internal", "a core of tubes and fins")
        page.wait_for_selector("path.internal.core")
        self.choose("#internal-inside", "condenses or boils at its temperature")
        self.until(lambda: self.parts()[3]["internal"]["liquid"] == "")
        self.choose("#part-internal", "nothing")
        self.until(lambda: self.parts()[3]["internal"] is None)


class Gases(BrowserTestCase):
    def test_surfaces_around_a_gas_radiate(self) -> None:
        page = self.page
        self.record = self.new_case(starter_case("cavity"), fineness=0.5)
        page.goto(f"{self.live_server_url}/cases/{self.record.pk}/draw")
        page.click("[data-part=air]")
        self.choose("#part-radiation", "between its surfaces")
        page.wait_for_selector("[data-test=radiation-form]")
        page.click("[data-test=new-radiating-surface]")
        page.click("[data-item='warm plate | air']")
        page.fill("[aria-label='emissivity of warm plate | air']", "0.2")
        page.press("[aria-label='emissivity of warm plate | air']", "Tab")
        expected = [{"surface": "warm plate | air", "emissivity": "0.2", "absorbed": ""}]
        self.until(lambda: (self.parts()[1]["radiation"] or {}).get("surfaces") == expected)
        page.click("[aria-label='take warm plate | air out']")
        self.until(lambda: self.parts()[1]["radiation"]["surfaces"] == [])

    def parts(self) -> list[dict[str, Any]]:
        self.record.refresh_from_db()
        return self.record.document["section"]["parts"]
