"""Mass in full, by real clicks and keys: thresholds, shapes, focus, light and shadow, plans, range, edges, swaps."""

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from ochre_stone.core.colour.schools import School
from ochre_stone.core.masses.shapes import enlarge
from ochre_stone.core.masses.tone import FINISHES
from ochre_stone.core.mixing.strings import MixString, Pile, PileTarget
from ochre_stone.desktop import numbers
from ochre_stone.desktop.widgets.score import columns
from tests.desktop.helpers import KeysCase, WindowCase, shown

SHIFT = Qt.KeyboardModifier.ShiftModifier


class MassCase(KeysCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Mass")
        self.settle()
        self.mass = self.window.mass

    @property
    def choice(self):
        return self.studio.document.masses

    def page(self, name: str) -> None:
        self.click(self.mass.pages_.buttons[name])
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
        QTest.mouseDClick(scale, Qt.MouseButton.LeftButton, pos=scale.handle(0).toPoint())
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
        self.addCleanup(numbers.use, School())
        numbers.use(School(9))
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
        self.assertIn("will break", light.rule.text())
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
        filing = self.window.filing
        filing.write_outlines(self.folder / "o.svg")
        self.settle()
        self.assertIn(b"<svg", (self.folder / "o.svg").read_bytes())
        filing.write_transfer(self.folder / "t.pdf")
        self.settle()
        self.assertTrue((self.folder / "t.pdf").read_bytes().startswith(b"%PDF"))
        filing.write_outlines(self.folder / "no" / "such" / "o.svg")
        self.settle()
        self.assertTrue(self.complaint())


class Range(MassCase):
    def setUp(self) -> None:
        super().setUp()
        self.page("Range")
        self.range = self.mass.range_page

    def choose(self, key: str) -> None:
        i = self.range.keep.findData(key)
        self.range.keep.setCurrentIndex(i)
        self.range.keep.activated.emit(i)
        self.settle()

    def test_keep_and_finish(self):
        i = self.range.finish.findData("matt")
        self.range.finish.setCurrentIndex(i)
        self.range.finish.activated.emit(i)
        self.choose("lights")
        r = self.choice.range
        self.assertEqual((r.keep, r.black), ("lights", round(FINISHES["matt"], 2)))
        self.assertGreaterEqual(min(m.value for m in self.studio.masses.masses), r.black - 0.01)
        self.assertIn("paint from", self.range.told.text())
        self.window.go_to("Look")
        self.assertIn("eased", self.mass.done_words())
        self.undo_all()
        self.settle()
        self.assertEqual(self.choice.range.keep, "scene")

    def test_drawn_by_mouse_and_key(self):
        self.choose("drawn")
        curve = self.range.curve
        points = self.choice.range.drawn
        self.assertEqual(len(points), 5)
        at = curve.place(*points[2])
        self.drag(curve, at, at + QPointF(0, 18))
        self.settle()
        lower = self.choice.range.drawn[2][1]
        self.assertLess(lower, points[2][1] - 0.5)
        curve.setFocus()
        for _ in range(5):
            self.key(Qt.Key.Key_Up, widget=curve)
        self.assertAlmostEqual(self.choice.range.drawn[2][1], lower + 0.5, delta=0.02)
        self.key(Qt.Key.Key_Left, widget=curve)
        for _ in range(60):
            self.key(Qt.Key.Key_Up, widget=curve)
        ys = [y for _, y in self.choice.range.drawn]
        self.assertEqual(ys, sorted(ys), "points never cross")

    def test_from_the_palette_and_a_range_that_is_none(self):
        self.click(self.range.palette)
        self.assertIn("white reaches", self.window.last_told)
        self.assertLess(self.choice.range.black, 2.0)
        self.range.black.setValue(9.0)
        self.assertIn("leave no range", self.window.last_told)
        self.assertLess(self.choice.range.black, 2.0, "nothing was changed")

    def test_a_chosen_range_follows_the_light(self):
        self.choose("even")
        low = self.choice.range.low
        light = self.studio.document.light.model_copy(update={"stops": -2.0})
        self.studio.change("Darker", self.studio.document.model_copy(update={"light": light}))
        self.settle()
        self.assertLess(self.choice.range.low, low)


class Edges(MassCase):
    def setUp(self) -> None:
        super().setUp()
        self.page("Edges")
        self.edges = self.mass.edges_page

    def test_overrule_a_border_and_take_it_back(self):
        self.assertGreater(self.edges.list.count(), 2)
        self.assertIsNotNone(self.window.easel._cover)
        self.edges.list.setFocus()
        self.edges.list.setCurrentRow(0)
        b = self.edges._border()
        other = "lost" if b.kind != "lost" else "hard"
        self.click(self.edges.kinds[other])
        self.settle()
        self.assertEqual(self.choice.edges, ((b.a, b.b, other),))
        now = next(x for x in self.studio.masses.borders if (x.a, x.b) == (b.a, b.b))
        self.assertEqual((now.kind, now.found), (other, b.found))
        self.assertIn(f"found {b.found}", self.edges.list.currentItem().text())
        self.click(self.edges.found)
        self.settle()
        self.assertEqual(self.choice.edges, ())

    def test_click_a_border_on_the_picture(self):
        self.click_picture(200, 200)  # blue cloth meets the white wall
        b = self.edges._border()
        self.assertIsNotNone(b)
        plan = self.studio.masses
        h, w = plan.labels.shape
        pair = {int(plan.labels[int(200 / 240 * h), int(x / 320 * w)]) for x in (190, 212)}
        self.assertEqual({b.a, b.b}, pair)


class Turns(MassCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.filing.open_demo()
        self.settle()
        self.window.go_to("Mass")
        self.page("Edges")

    def test_the_sky_is_planned_as_a_blend(self):
        page = self.mass.edges_page
        self.wait(lambda: page.turns.count() > 0)
        flat = shown(self.window).copy()
        b = page.turns.itemAt(0).widget().findChild(QPushButton)
        self.click(b)
        self.settle()
        self.assertEqual(len(self.choice.blends), 1)
        self.assertGreater(int((shown(self.window) != flat).sum()), 5000)
        b = page.turns.itemAt(0).widget().findChild(QPushButton)
        self.assertTrue(b.isChecked())
        self.click(b)
        self.settle()
        self.assertEqual(self.choice.blends, ())


class Swaps(MassCase):
    def setUp(self) -> None:
        super().setUp()
        self.page("Swap")
        self.swap = self.mass.swap_page

    def test_recolour_by_click_and_key_keeps_values(self):
        before = shown(self.window).astype(float) / 255
        self.click_picture(150, 200)
        mass = self.swap._mass()
        self.swap.hue.setFocus()
        for _ in range(12):
            self.key(Qt.Key.Key_PageUp, widget=self.swap.hue)
        self.settle()
        self.assertEqual([s.mass for s in self.choice.swaps], [mass.index])
        after = shown(self.window).astype(float) / 255
        self.assertGreater(float(np.abs(after - before).max()), 0.05)
        weights = np.array([0.2126, 0.7152, 0.0722])
        light = lambda c: np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4) @ weights  # noqa: E731
        self.assertLess(float(np.abs(light(after) - light(before)).mean()), 0.004, "values stay")
        self.key(Qt.Key.Key_M)
        self.settle()
        np.testing.assert_allclose(shown(self.window) / 255.0, before, atol=0.02)

    def test_note_the_colours_and_take_all_back(self):
        self.swap.chroma.setValue(80)
        self.settle()
        self.click(self.swap.note)
        self.assertEqual(len(self.studio.document.notes), 1)
        self.assertIn("recoloured", self.studio.document.notes[0].name)
        self.click(self.swap.all_back)
        self.settle()
        self.assertEqual(self.choice.swaps, ())


class Refined(WindowCase):
    def test_the_masses_are_refined_with_the_cuts_that_were_shown(self):
        self.window.filing.open_demo()
        self.settle()
        self.window.go_to("Mass")
        studio = self.window.studio
        self.assertIsNone(studio.fine)
        self.wait(lambda: studio.fine is not None)
        self.assertEqual(studio.fine.thresholds, studio.masses.thresholds)
        self.assertGreater(studio.fine.labels.size, 3 * studio.masses.labels.size)
        large = enlarge(studio.masses.labels, len(studio.masses.masses), *studio.fine.labels.shape[::-1])
        self.assertGreater(float((large == studio.fine.labels).mean()), 0.85)
        self.click(self.window.mass.values_page.counts[3])
        self.wait(lambda: studio.fine is not None and len(studio.fine.masses) == 3)
        self.settle()
        self.assertEqual(len(np.unique(shown(self.window)[..., 0])), 3)

    def test_every_page_fits_its_tray(self):
        self.window.filing.open_demo()
        self.settle()
        self.window.resize(1024, 700)
        for title in ("Mass", "Harmonise"):
            self.window.go_to(title)
            station = self.window.station
            for page in station.tray_pages.names:
                station.tray_pages.show(page)
                self.settle()
                room = self.window.trays.currentWidget().viewport().width()
                self.assertLessEqual(station.minimumSizeHint().width(), room + 1, (title, page))


class HangsOnNumbers(MassCase):
    def test_edges_and_swaps_go_when_masses_may_change_their_numbers(self):
        self.page("Edges")
        self.edges = self.mass.edges_page
        self.edges.list.setCurrentRow(0)
        self.click(self.edges.kinds["lost" if self.edges._border().kind != "lost" else "hard"])
        self.settle()
        self.page("Light")
        self.click_picture(230, 180)
        self.settle()
        self.assertEqual(len(self.choice.edges), 1, "a family alone changes no number")
        self.key(Qt.Key.Key_J)
        self.encircle(205, 115, 315, 235)
        self.assertEqual(self.choice.edges, (), "painting parts masses")

    def test_a_score_keeps_ladders_level_with_strings(self):
        def string(*values: float) -> MixString:
            piles = tuple(
                Pile(f"x-{i}", PileTarget((50.0, 0.0, 0.0), v, "rule"), None, (), True, 1)
                for i, v in enumerate(values, 1)
            )
            return MixString("x", "x", piles, ())

        self.assertEqual(list(columns(string(2.0, 3.5, 5.0)).values()), [2.0, 3.5, 5.0])
        self.assertEqual(list(columns(string(3.62, 3.9, 5.1)).values()), [3.5, 4.0, 5.0])
        self.assertEqual(list(columns(string(8.0, 8.1, 8.2, 8.3)).values()), [8.0, 8.1, 8.2, 8.3], "too crowded")
