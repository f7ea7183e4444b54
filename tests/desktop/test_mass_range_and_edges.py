"""Mass in full, by real clicks and keys: the range of paint, edges, turns, swaps, and what hangs on mass numbers."""

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QPushButton

from ochre_stone.core.masses.tone import DARKEST
from tests.desktop.helpers import shown
from tests.desktop.test_mass_in_full import MassCase


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
        self.assertEqual(self.studio.undo.undoText(), "Finish: matt")
        self.choose("lights")
        r = self.choice.range
        self.assertEqual((r.keep, r.black), ("lights", round(DARKEST["matt"], 2)))
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
        self.open_small()
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

    def test_one_shape_alone(self):
        self.assertFalse(self.swap.alone.isEnabled())
        self.assertIn("Click a shape", self.swap.alone.toolTip())
        self.click_picture(150, 90)
        mass = self.swap._mass()
        self.click(self.swap.alone)
        self.swap.hue.setValue(240)
        self.settle()
        (one,) = self.choice.swaps
        self.assertEqual((one.mass, one.place is not None), (mass.index, True))
        self.swap.alone.setChecked(False)
        self.swap.refresh()
        self.assertTrue(self.swap.back.isEnabled() is False, "the mass itself has its own colour")
        self.click_picture(152, 92)
        self.click(self.swap.alone)
        self.swap.hue.setValue(120)
        self.settle()
        self.assertEqual(len(self.choice.swaps), 1, "the same shape was taken up again")
        self.assertNotEqual(self.choice.swaps[0].hue, one.hue)
        self.click(self.swap.note)
        self.assertIn("a shape, recoloured", self.studio.document.notes[-1].name)
        self.click(self.swap.back)
        self.assertEqual(self.choice.swaps, ())

    def test_hues_of_one_value_are_parted(self):
        self.page("Values")
        self.click(self.mass.values_page.hues)
        self.settle()
        self.assertTrue(self.choice.hues)
        self.assertTrue(self.mass.overlay().hues)
        self.studio.undo.undo()
        self.assertFalse(self.mass.values_page.hues.isChecked())


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
