"""The bench in a real window: paint pushed about by mouse and keys, undone, kept, opened from elsewhere."""

import unittest

import numpy as np
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.paint.predict import predict
from ochre_stone.desktop.stations.bench.page import BenchPage
from tests.desktop.helpers import PictureCase, WindowCase


class Bench(WindowCase):
    """At the Paint box, without a photo."""

    station = "Paint box"

    def setUp(self) -> None:
        super().setUp()
        self.window.go_to(self.station, "Bench")
        self.settle()
        self.work = self.window.session.bench
        self.page: BenchPage = self.window.at(self.station).bench_page

    def press(self, paint: str, mouse: bool = True) -> None:
        """A touch of a paint, pressed on its ribbon or by Enter."""
        view = self.page.paint.supplies
        box = view.boxes()[view.row_of(paint)]
        if mouse:
            QTest.mouseClick(view.viewport_(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        else:
            view.take(paint)
            view.setFocus()
            QTest.keyClick(view, Qt.Key.Key_Return)
        self.settle()

    def some(self) -> None:
        """A pile of white, ochre and red."""
        for paint, touches in (("titanium-white", 6), ("yellow-ochre", 2), ("cadmium-red-light", 1)):
            for _ in range(touches):
                self.press(paint)


class WithoutPhoto(Bench):
    def test_touches_grow_a_pile_and_each_is_undone(self) -> None:
        self.some()
        pile = self.work.pile()
        assert pile is not None
        self.assertAlmostEqual(pile.ml, 0.9)
        seen = self.work.paints.look_at(pile)
        assert seen is not None
        said = predict(
            {"titanium-white": 6, "yellow-ochre": 2, "cadmium-red-light": 1}, surface=self.work.palette.surface
        )
        np.testing.assert_allclose(seen.lab, said.lab, atol=1e-9)
        self.assertIn("1½ white, ½ ochre, a touch of cadmium red light", self.page.pile.says.text())
        self.assertEqual(self.window.undo_group.activeStack(), self.window.studio.undo)
        before = self.page.view._piles[0].before
        assert before is not None
        was = predict({"titanium-white": 3, "yellow-ochre": 1}).lab
        self.assertLess(ciede2000(np.array(before), np.array(was)), 0.1)
        self.window.studio.undo.undo()
        self.settle()
        pile = self.work.pile()
        assert pile is not None
        self.assertEqual(set(pile.amounts), {"titanium-white", "yellow-ochre"})
        for _ in range(8):
            self.window.studio.undo.undo()
        self.assertEqual(self.work.bench.piles, ())
        self.window.studio.undo.redo()
        self.assertEqual(len(self.work.bench.piles), 1)

    def test_keys_dose_by_tip_touch_and_part_and_a_held_button_goes_on(self) -> None:
        view = self.page.paint.supplies
        self.press("yellow-ochre", mouse=False)
        QTest.keyClick(view, Qt.Key.Key_Return, Qt.KeyboardModifier.ShiftModifier)
        QTest.keyClick(view, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
        self.settle()
        pile = self.work.pile()
        assert pile is not None
        self.assertAlmostEqual(pile.ml, 0.1 + 0.4 + 0.05)
        box = view.boxes()[view.row_of("yellow-ochre")]
        QTest.mousePress(view.viewport_(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        self.assertTrue(view._timer.isActive())
        view.cursor().setPos(view.viewport_().mapToGlobal(box.center().toPoint()))
        grown = self.work.bench.piles[0].ml
        self.wait(lambda: self.work.bench.piles[0].ml >= grown + 0.3)  # three touches more while it is held
        QTest.mouseRelease(view.viewport_(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        self.assertFalse(view._timer.isActive())
        self.assertTrue(self.page.paint.sizes["touch"].autoRepeat())

    def test_cut_mix_and_scrape(self) -> None:
        self.some()
        self.click(self.page.pile.cut)
        self.assertEqual(len(self.work.bench.piles), 2)
        self.press("ivory-black")
        kept, aside = self.work.bench.piles
        self.assertIn("ivory-black", kept.amounts)
        self.assertNotIn("ivory-black", aside.amounts)
        self.page.pile.fill_others()
        self.page.pile.others.actions()[0].trigger()
        self.assertEqual(len(self.work.bench.piles), 1)
        self.page.pile.fill_gone()
        self.page.pile.gone.actions()[0].trigger()
        self.assertEqual(self.work.bench.piles, ())
        self.assertAlmostEqual(sum(ml for _, ml in self.work.bench.scraped), 1.0)

    def test_a_click_beside_the_piles_begins_a_new_one(self) -> None:
        self.some()
        QTest.mouseClick(self.page.view.viewport_(), Qt.MouseButton.LeftButton, pos=QPoint(4, 4))
        self.press("ivory-black")
        self.assertEqual([p.name for p in self.work.bench.piles], ["Pile 1", "Pile 2"])
        first = self.page.view.boxes()[0]
        QTest.mouseClick(self.page.view.viewport_(), Qt.MouseButton.LeftButton, pos=first.center().toPoint())
        self.assertEqual(self.work.in_hand, "bench-1")
        self.assertGreater(self.page.view.boxes()[1].center().y(), first.center().y() + 100)  # black stands low

    def test_rows_are_laid_out_at_their_values_and_taken(self) -> None:
        self.some()
        self.page.paint.kind.setCurrentIndex(self.page.paint.kind.findData("row"))
        for what, rungs in (("ladder", 6), ("line", 7), ("triangle", 15)):
            self.page.rows.what.setCurrentIndex(self.page.rows.what.findData(what))
            self.page.refresh()
            corners = ("bench-1", "ultramarine-blue", "cadmium-red-light")
            for box, of in zip(self.page.rows.corners, corners, strict=True):
                box.setCurrentIndex(box.findData(of))
            self.click(self.page.rows.make)
            self.settle()
            assert self.work.row is not None
            self.assertEqual(len(self.work.row.rungs), rungs, what)
            boxes = self.page.view.boxes()[1:]
            values = [r.lab[0] for r in self.work.row.rungs]
            order = sorted(range(rungs), key=lambda i: values[i])
            ys = [boxes[i].center().y() for i in order]
            self.assertEqual(ys, sorted(ys, reverse=True), what)
        self.page.view.opened.emit("rung-4")
        self.assertEqual(len(self.work.bench.piles), 2)
        self.click(self.page.dials.drop)
        self.assertIsNone(self.work.row)

    def test_a_green_drifted_through_all_dials(self) -> None:
        """Ultramarine and yellow: each dial takes a paint that a painter would, and says what else it does."""
        for paint in ("cadmium-yellow-medium", "cadmium-yellow-medium", "ultramarine-blue"):
            self.press(paint)
        signed = {
            "lighter": ("ochre", "white", "cadmium yellow medium"), "darker": ("black", "ultramarine", "raw umber"),
            "warmer": ("cadmium red light", "burnt sienna", "ochre"), "cooler": ("ultramarine", "viridian"),
            "duller": ("alizarin", "cadmium red light", "burnt sienna"), "stronger": ("cadmium yellow medium",),
            "redder": ("cadmium red light", "alizarin"), "oranger": ("ochre", "cadmium red light"),
            "yellower": ("cadmium yellow medium", "ochre"), "greener": ("viridian",), "bluer": ("ultramarine",),
            "more violet": ("alizarin",), "chalkier": ("white",),
        }  # fmt: skip
        self.assertEqual(set(self.page.dials.ways), set(signed))
        for way, names in signed.items():
            self.click(self.page.dials.ways[way])
            self.settle()
            assert self.work.row is not None, way
            self.assertIn(self.work.row.sources[1].name, names, way)
            self.assertIn(way, self.page.view._title)

    def test_no_old_answer_stands_below_a_new_one(self) -> None:
        self.press("titanium-white")
        self.click(self.page.dials.ways["darker"])
        self.settle()
        self.assertIsNotNone(self.work.row)
        self.click(self.page.dials.ways["lighter"])  # white is the lightest there is
        self.settle()
        self.assertIsNone(self.work.row, "the row of the answer before is gone")
        self.assertIn("Nothing at hand makes Pile 1 lighter", self.page.view._title)
        self.click(self.page.dials.ways["darker"])
        self.settle()
        self.assertNotIn("Nothing at hand", self.page.view._title)

    def test_a_typed_target_and_what_brings_it_nearer(self) -> None:
        self.some()
        self.page.target.take_typed("lab 58 20 26")
        self.settle()
        self.assertIn("off", self.page.pile.says.text())
        self.click(self.page.target.nearer)
        self.settle()
        self.assertIn("Add", self.page.target.advice.text())
        now = self.work.paints.look_at(self.work.bench.piles[0])
        self.click(self.page.target.follow)
        then = self.work.paints.look_at(self.work.bench.piles[0])
        assert now is not None and then is not None
        goal = np.array([58, 20, 26])
        self.assertLess(ciede2000(np.array(then.lab), goal), ciede2000(np.array(now.lab), goal) - 1)
        self.window.studio.undo.undo()
        again = self.work.paints.look_at(self.work.bench.piles[0])
        assert again is not None
        self.assertEqual(again.lab, now.lab)
        self.page.target.take_typed("nonsense")
        self.assertIn("nonsense", self.window.last_told)

    def test_any_surround(self) -> None:
        self.some()
        self.page.paint.kind.setCurrentIndex(self.page.paint.kind.findData("around"))
        self.page.refresh()
        self.page.around.ground.setCurrentIndex(self.page.around.ground.findData("black"))
        self.page.refresh()
        self.assertIn("will seem lighter", self.page.around.seems.text())
        self.assertEqual(self.page.view.ground, (8.0, 0.0, 0.0))

    def test_a_mixture_becomes_a_tube_that_can_be_mixed_with(self) -> None:
        self.some()
        self.work.rename("peach")
        self.assertTrue(self.window.session.bench_keeping.keep_as_tube("Orchard peach"))
        own = self.window.session.keeper.box.tubes[-1]
        seen = self.work.paints.look_at(self.work.bench.piles[0])
        assert seen is not None
        self.assertLess(ciede2000(np.array(own.tube().lab), np.array(seen.lab)), 0.3)

    def test_the_bench_is_kept_with_unsaved_work(self) -> None:
        self.some()
        keeping = self.window.session.keeping
        keeping.keep()
        self.settle()
        folder = keeping.copy.folder
        assert folder is not None
        self.assertIn("Pile 1", "".join(p.read_text(errors="ignore") for p in folder.iterdir() if p.is_file()))


class WithAPlan(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.files.open_demo()
        self.settle()
        self.window.go_to("Mix", "Bench")
        self.settle()
        self.work, self.page = self.window.session.bench, self.window.at("Mix").bench_page

    def test_a_plans_pile_is_opened_pushed_and_kept_in_the_plan(self) -> None:
        self.window.session.piles.choose("skin-3")
        self.page.paint.fill_begins()
        self.page.paint.begins.actions()[1].trigger()
        self.settle()
        pile = self.work.pile()
        assert pile is not None
        planned = self.window.session.piles.found()
        assert planned is not None
        seen = self.work.paints.look_at(pile)
        assert seen is not None
        self.assertLess(ciede2000(np.array(seen.lab), np.array(planned[1].recipe.lab)), 0.2)
        self.assertEqual(self.window.studio.document.bench.target, planned[1].target.lab)
        self.work.choose_supply("viridian")
        self.work.add("part")
        pushed = self.work.paints.look_at(self.work.bench.piles[-1])
        assert pushed is not None
        note = self.window.session.bench_keeping.keep_in_plan("skin")
        assert note is not None
        self.settle()
        self.window.go_to("Mix", "Pile")
        self.settle()
        skin = next(s for s in self.window.studio.document.mixed.strings if s.id == "skin")
        kept = min(skin.piles, key=lambda p: ciede2000(np.array(p.target.lab), np.array(note.lab)))
        self.assertTrue(kept.pinned)
        self.assertLess(ciede2000(np.array(kept.recipe.lab), np.array(pushed.lab)), 1.0)
        parts = [i.parts for i in kept.recipe.ingredients]
        self.assertEqual([4 * p for p in parts], [round(4 * p) for p in parts], "in touches")
        self.assertLessEqual(sum(parts), 20)

    def test_planned_piles_are_at_hand(self) -> None:
        self.page.paint.kind.setCurrentIndex(self.page.paint.kind.findData("planned"))
        self.page.refresh()
        self.assertIn("skin-2", [i.id for i in self.page.paint.supplies.items])
        self.work.choose_supply("skin-2")
        self.work.add("part")
        self.assertGreater(len(self.work.bench.piles[0].amounts), 1)

    def test_a_correction_and_a_cell_are_opened(self) -> None:
        self.window.go_to("Mix", "Correct")
        self.window.session.piles.choose("skin-2")
        self.click(self.window.at("Mix").correct_page.bench)
        self.assertEqual(self.window.at("Mix").pages.here, "Bench")
        self.assertEqual(len(self.work.bench.piles), 1)
        self.window.go_to("Paint box", "Charts")
        self.settle()
        charts = self.window.at("Paint box").charts_page
        charts.choose("B2")
        self.click(charts.bench)
        self.assertEqual(self.window.at("Paint box").pages.here, "Bench")
        cell = next(c for c in charts.chart.cells if c.label == "B2")
        seen = self.work.paints.look_at(self.work.bench.piles[-1])
        assert seen is not None
        self.assertLess(ciede2000(np.array(seen.lab), np.array(cell.lab)), 0.2)


if __name__ == "__main__":
    unittest.main()
