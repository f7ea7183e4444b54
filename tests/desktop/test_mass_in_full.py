"""Mass in full, by real clicks and keys: thresholds, shapes, focus, light and shadow, plans, refining."""

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from ochre_stone.core.colour.schools import School
from ochre_stone.core.document.choices import MOST_PAINTED, PaintedArea
from ochre_stone.core.masses.shapes import enlarge
from ochre_stone.desktop.session import numbers
from ochre_stone.export.outlines import tiling
from tests.desktop.helpers import KeysCase, WindowCase, shown
from tests.support.made import pdf_pages

SHIFT = Qt.KeyboardModifier.ShiftModifier


class MassCase(KeysCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Mass")
        self.settle()
        self.mass = self.window.at("Mass")

    @property
    def choice(self):
        return self.studio.document.masses

    def page(self, name: str) -> None:
        self.turn(self.mass.pages, name)
        self.settle()

    def encircle(self, left: float, top: float, right: float, bottom: float) -> None:
        """Click the corners of an area on the picture and close it with Enter."""
        for x, y in ((left, top), (right, top), (right, bottom), (left, bottom)):
            self.click_picture(x, y)
        self.key(Qt.Key.Key_Return, widget=self.window.easel)
        self.settle()


class Values(MassCase):
    def test_lock_by_key_and_find_the_others_anew(self):
        scale = self.window.scale
        scale.setFocus()
        self.key(Qt.Key.Key_Right, widget=scale)
        for _ in range(4):
            self.key(Qt.Key.Key_Up, widget=scale)
        self.settle()
        moved = self.choice.cuts[1]
        self.key(Qt.Key.Key_L, widget=scale)
        self.settle()
        self.assertEqual(self.choice.locked, (moved,))
        self.click(self.mass.values_page.best)
        self.settle()
        now = self.studio.masses.thresholds
        self.assertEqual(self.choice.cuts, ())
        self.assertLess(min(abs(c - moved) for c in now), 0.03, "the locked one stays")
        self.key(Qt.Key.Key_L, widget=scale)
        self.settle()
        self.assertEqual(self.choice.locked, (), "L frees it again")

    def test_a_locked_threshold_that_is_moved_stays_locked(self):
        scale = self.window.scale
        QTest.mouseDClick(scale.viewport(), Qt.MouseButton.LeftButton, pos=scale.handle(0).toPoint())
        self.settle()
        self.assertEqual(len(self.choice.locked), 1)
        self.drag(scale, scale.handle(0), scale.handle(0) + QPointF(0, 12))
        self.settle()
        self.assertEqual(self.choice.locked, (self.choice.cuts[0],))

    def test_type_a_threshold(self):
        box = self.mass.values_page.cut
        box.setFocus()
        box.selectAll()
        QTest.keyClicks(box, "2.25")
        self.key(Qt.Key.Key_Return, widget=box)
        self.settle()
        self.assertAlmostEqual(self.choice.cuts[0], 2.25, places=3)
        self.studio.undo.undo()
        self.settle()
        self.assertEqual(self.choice.cuts, ())

    def test_equal_steps_follow_the_school_and_the_count(self):
        page = self.mass.values_page
        self.click(page.equal)
        self.settle()
        self.assertEqual(self.choice.cuts, (2.5, 5.0, 7.5))
        self.click(page.counts[5])
        self.settle()
        self.assertEqual(self.choice.cuts, (2.0, 4.0, 6.0, 8.0))
        self.addCleanup(numbers.use_school, School())
        numbers.use_school(School(9))
        self.click(page.counts[3])
        self.settle()
        np.testing.assert_allclose(self.choice.cuts, (3.5, 6.5))

    def test_three_controls_and_one_undo_each(self):
        page = self.mass.values_page
        for slider, field in ((page.smallest, "smallest"), (page.outline, "outline"), (page.simplify, "simplify")):
            before, count = getattr(self.choice, field), self.studio.undo.count()
            slider.setFocus()
            for _ in range(5):
                self.key(Qt.Key.Key_Right, widget=slider)
            self.settle()
            self.assertGreater(getattr(self.choice, field), before, field)
            self.assertEqual(self.studio.undo.count(), count + 1, field)

    def test_a_focus_by_key_and_its_undo(self):
        self.window.go_to("Look")
        self.key(Qt.Key.Key_U)
        self.assertIs(self.window.station, self.mass)
        self.assertTrue(self.mass.values_page.focus.isChecked())
        for x, y in ((120, 70), (190, 70), (190, 160)):
            self.cross_to(x, y)
            self.key(Qt.Key.Key_Space, widget=self.window.easel)
        self.key(Qt.Key.Key_Return, widget=self.window.easel)
        self.settle()
        self.assertEqual(len(self.choice.focus), 1)
        self.assertIsNotNone(self.studio.ground.focus)
        self.assertIsNotNone(self.window.easel._cover, "the area is shown")
        self.key(Qt.Key.Key_Escape, widget=self.window.easel)
        self.assertFalse(self.mass.values_page.focus.isChecked())
        self.click(self.mass.values_page.clear)
        self.settle()
        self.assertEqual(self.choice.focus, ())
        self.assertIsNone(self.studio.ground.focus)


class Light(MassCase):
    def setUp(self) -> None:
        super().setUp()
        self.page("Light")

    def family_at(self, x: float, y: float) -> str:
        plan = self.studio.masses
        h, w = plan.labels.shape
        return plan.masses[plan.labels[int(y / 240 * h), int(x / 320 * w)]].family

    def test_division_by_key_and_as_suggested(self):
        scale = self.window.scale
        self.key(Qt.Key.Key_Q)
        self.assertTrue(scale.hasFocus())
        before = self.studio.masses.division
        for _ in range(3):
            self.key(Qt.Key.Key_Up, SHIFT, scale)
            self.settle()
        self.assertAlmostEqual(self.choice.division, before + 1.5, delta=0.05)
        self.assertEqual(self.studio.masses.division, self.choice.division)
        self.click(self.mass.light_page.suggested)
        self.settle()
        self.assertIsNone(self.choice.division)

    def test_division_dragged(self):
        scale = self.window.scale
        at = scale.division_handle()
        self.drag(scale, at, at + QPointF(0, -60))
        self.settle()
        self.assertGreater(self.choice.division, self.studio.masses.suggested + 0.4)
        self.assertEqual(self.choice.cuts, (), "no threshold was moved")

    def test_click_a_mass_on_the_picture(self):
        before = self.family_at(230, 180)
        self.click_picture(230, 180)
        self.settle()
        self.assertNotEqual(self.family_at(230, 180), before)
        self.studio.undo.undo()
        self.settle()
        self.assertEqual(self.family_at(230, 180), before)

    def test_paint_over_breaks_the_rule_and_the_repair_mends_it(self):
        light = self.mass.light_page
        self.assertIn("Kept", light.rule.text())
        self.key(Qt.Key.Key_J)
        self.encircle(205, 115, 315, 235)
        self.assertEqual(self.choice.painted[0].family, "shadow")
        self.assertEqual(self.family_at(230, 180), "shadow")
        self.assertEqual(self.family_at(250, 60), "light", "only what was painted")
        self.assertTrue(self.studio.masses.breaks())
        self.assertIn("will break", light.warning.text())
        self.key(Qt.Key.Key_Escape, widget=self.window.easel)
        count = self.studio.undo.count()
        self.click_picture(250, 60)
        self.assertIn("parted by painting", self.window.last_told)
        self.assertEqual(self.studio.undo.count(), count)
        self.click(light.apart)
        self.settle()
        self.assertEqual(self.studio.masses.breaks(), [])
        self.assertIn("values moved", light.rule.text())
        moved = [m for m in self.studio.masses.masses if abs(m.value - m.measured) > 0.05]
        self.assertTrue(moved)
        self.undo_all()
        self.settle()
        self.assertEqual(self.family_at(230, 180), "light")

    def test_families_in_the_list_by_keyboard(self):
        rows = self.mass.light_page.list
        b = rows.itemAt(0).widget().findChild(QPushButton)
        b.setFocus()
        self.key(Qt.Key.Key_Space, widget=b)
        self.settle()
        self.assertEqual(self.studio.masses.masses[-1].family, "shadow")

    def test_more_areas_than_a_project_holds_are_refused_in_words(self):
        triangle = {"points": ((10, 10), (60, 10), (60, 60)), "family": "light"}
        full = self.choice.model_copy(update={"painted": (PaintedArea.model_validate(triangle),) * MOST_PAINTED})
        self.studio.change("Fill", self.studio.document.model_copy(update={"masses": full}))
        self.settle()
        self.key(Qt.Key.Key_Y)
        self.encircle(205, 115, 315, 235)
        self.assertIn("take one back", self.window.last_told)
        self.assertEqual(len(self.choice.painted), MOST_PAINTED)


class Plans(MassCase):
    def test_statement_thumbs_and_choice(self):
        self.page("Plan")
        page = self.mass.plan_page
        self.assertIn("key", page.words.text())
        self.assertIn("strongest contrast", page.place.text())
        self.assertEqual(
            [t.text() for t in page.thumbs], ["3 values", "4 values", "5 values", "lights joined", "darks joined"]
        )
        self.assertEqual([t.isChecked() for t in page.thumbs], [False, True, False, False, False])
        thumb = page.thumbs[3]
        thumb.setFocus()
        self.key(Qt.Key.Key_Space, widget=thumb)
        self.settle()
        self.assertEqual((self.choice.values, len(self.choice.cuts)), (4, 3))
        np.testing.assert_allclose(self.studio.masses.thresholds, page.found[3].plan.thresholds)
        self.studio.undo.undo()
        self.settle()
        self.assertEqual(self.choice.cuts, ())

    def test_the_focus_is_judged(self):
        self.key(Qt.Key.Key_U)
        self.encircle(5, 5, 315, 235)
        self.page("Plan")
        self.assertIn("inside the focus", self.mass.plan_page.place.text())

    def test_outlines_and_transfer_are_written(self):
        filing = self.window.session.exports
        filing.outlines(self.folder / "o.svg")
        self.settle()
        self.assertIn(b"<svg", (self.folder / "o.svg").read_bytes())
        filing.transfer(self.folder / "t.pdf")
        self.settle()
        pages, tiles = pdf_pages(self.folder / "t.pdf"), tiling(self.studio.document.canvas)
        self.assertEqual(len(pages), tiles.pages + 1)
        self.assertIn(f"{tiles.pages} pages", pages[0])
        self.assertIn(f"column {tiles.columns} of {tiles.columns}", pages[-1])
        filing.outlines(self.folder / "no" / "such" / "o.svg")
        self.settle()
        self.assertTrue(self.complaint())


class Refined(WindowCase):
    def test_the_masses_are_refined_with_the_cuts_that_were_shown(self):
        self.window.files.open_demo()
        self.settle()
        self.window.go_to("Mass")
        studio = self.window.studio
        self.assertIsNone(studio.fine)
        self.wait(lambda: studio.fine is not None)
        self.assertEqual(studio.fine.thresholds, studio.masses.thresholds)
        self.assertGreater(studio.fine.labels.size, 3 * studio.masses.labels.size)
        large = enlarge(studio.masses.labels, len(studio.masses.masses), *studio.fine.labels.shape[::-1])
        self.assertGreater(float((large == studio.fine.labels).mean()), 0.85)
        self.click(self.window.at("Mass").values_page.counts[3])
        self.wait(lambda: studio.fine is not None and len(studio.fine.masses) == 3)
        self.settle()
        self.assertEqual(len(np.unique(shown(self.window)[..., 0])), 3)

    def test_every_page_fits_its_tray(self):
        self.open_small()
        self.window.resize(1024, 700)
        for title in ("Mass", "Harmonise", "Paint box"):
            self.window.go_to(title)
            station = self.window.station
            for page in station.pages.names:
                station.pages.show(page)
                self.settle()
                room = self.window.stage.trays.currentWidget().viewport().width()
                self.assertLessEqual(station.minimumSizeHint().width(), room + 1, (title, page))
