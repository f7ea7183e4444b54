"""Harmonise, Mix and Block in by mouse and keys; the surrounds."""

import unittest

import numpy as np
from PyQt6.QtCore import QPoint, Qt

from ochre_stone.core.colour.wheel import turn
from ochre_stone.desktop.widgets import theme
from tests.desktop.helpers import PictureCase, WindowCase


class HarmoniseStation(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Note")
        self.click(self.window.at("Note").proposals.whole)
        self.settle()
        self.window.go_to("Harmonise")
        self.settle()

    def choose(self, name: str) -> None:
        box = self.window.at("Harmonise").scheme_page.list
        item = next(box.item(i) for i in range(box.count()) if box.item(i).data(Qt.ItemDataRole.UserRole).name == name)
        box.itemClicked.emit(item)

    def test_choose_turn_and_pull(self):
        w = self.window
        self.choose("triad")
        h = self.studio.document.harmony
        self.assertEqual(h.scheme, "triad")
        self.assertGreater(h.amount, 0)
        self.assertEqual(len(w.at("Harmonise").wheel._arms), 3)
        w.at("Harmonise").wheel.setFocus()
        self.key(Qt.Key.Key_Right, widget=w.at("Harmonise").wheel)
        self.assertAlmostEqual(float(turn(h.rotation, self.studio.document.harmony.rotation)), 5, places=3)
        before = self.studio.document.harmony.rotation
        start, end = w.at("Harmonise").wheel.place(before, 1.1), w.at("Harmonise").wheel.place(before + 30, 1.1)
        self.drag(w.at("Harmonise").wheel, start, end, steps=10)
        self.assertAlmostEqual(float(turn(before, self.studio.document.harmony.rotation)), 30, delta=3)
        targets = w.session.notes.targets()
        for n in self.studio.document.notes:
            self.assertAlmostEqual(targets[n.id][0], n.lab[0], places=9, msg="value is kept")
        self.choose("none")
        self.assertEqual(w.session.notes.targets(), {n.id: n.lab for n in self.studio.document.notes})

    def test_both_wheels_rank(self):
        w = self.window.at("Harmonise").scheme_page
        self.assertEqual(w.list.count(), 9)
        self.click(w.wheels["perceptual"])
        self.assertEqual(self.studio.document.harmony.wheel, "perceptual")
        self.assertEqual(w.list.count(), 9)
        self.undo_all()
        self.assertEqual(self.studio.document.harmony.wheel, "traditional")

    def test_click_a_note_on_the_wheel(self):
        w = self.window.at("Harmonise").wheel
        n, lab = w._notes[-1]
        self.click(w, w._dab_box(n, lab, len(w._notes) - 1).center())
        self.assertIsNotNone(self.studio.selected)


class MixStation(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Note")
        for x, y, subject in ((150, 100, "skin"), (175, 140, "skin"), (30, 20, "sky")):
            self.click_picture(x, y)
            self.window.at("Note").read_page.subject.setCurrentText(subject)
            self.window.at("Note").read_page.subject.activated.emit(0)
        self.settle()
        self.window.go_to("Mix")
        self.settle()

    def test_strings_follow_palette_steps_and_choice(self):
        w = self.window.at("Mix")
        first = self.studio.document.mixed
        w.pages.show("All")
        self.assertEqual({s.id for s in first.strings} & {"skin", "sky"}, {"skin", "sky"})
        w.all_page.stand.setCurrentIndex(w.all_page.stand.findData("even"))
        w.all_page.stand.activated.emit(1)
        w.all_page.steps.setValue(3)
        self.settle()
        self.assertTrue(all(len(s.piles) == 3 for s in self.studio.document.mixed.strings))
        w.all_page.boxes["sky"].click()
        self.settle()
        self.assertNotIn("sky", [s.id for s in self.studio.document.mixed.strings])
        self.undo_all_mix()
        self.settle()
        self.assertEqual(self.studio.document.mixed, first)

    def undo_all_mix(self) -> None:
        while self.studio.document.mix != type(self.studio.document.mix)():
            self.studio.undo.undo()

    def test_piles_of_equal_value_stand_level(self):
        view, scale = self.window.at("Mix").strings, self.window.scale
        offset = scale.mapTo(self.window, QPoint(0, 0)).y() - view.mapTo(self.window, QPoint(0, 0)).y()
        free = 0
        for s in self.studio.document.mixed.strings:
            exact = [scale._y(p.target.value) + offset for p in s.piles]
            for p, y in zip(s.piles, exact, strict=True):
                box = view.box_of(p.id)
                alone = min((abs(y - other) for other in exact if other != y), default=99.0) > box.height() + 3
                free += alone
                self.assertAlmostEqual(box.center().y(), y, delta=1 if alone else 16, msg="level with the scale")
        self.assertTrue(free)

    def test_keys_walk_the_strings(self):
        w = self.window
        view = w.at("Mix").strings
        strings = [[p for _, p in column.piles] for column in view._columns]
        view.setFocus()
        w.session.piles.choose(strings[0][0].id)
        self.key(Qt.Key.Key_Up, widget=view)
        self.assertEqual(w.session.piles.in_hand, strings[0][1].id, "up is lighter")
        value = strings[0][1].target.value
        self.key(Qt.Key.Key_Right, widget=view)
        nearest = min(strings[1], key=lambda p: abs(p.target.value - value))
        self.assertEqual(w.session.piles.in_hand, nearest.id)

    def test_take_another_recipe_and_undo(self):
        w = self.window.at("Mix")
        string = self.studio.document.mixed.strings[0]
        free = next(
            p
            for p in string.piles
            if p.alternatives
            and not any(
                i.id == p.id for s in self.studio.document.mixed.strings for q in s.piles for i in q.recipe.ingredients
            )
        )
        self.window.session.piles.choose(free.id)
        w.pages.show("Ways")
        self.settle()
        wanted = w.ways_page.other_ways(free)[0]
        w.ways_page.others.setCurrentRow(0)
        self.click(w.ways_page.take)
        now = next(p for p in self.studio.document.mixed.strings[0].piles if p.id == free.id)
        self.assertEqual(now.recipe, wanted)
        self.assertTrue(self.studio.strings.ready())
        self.studio.undo.undo()
        self.assertEqual(next(p for p in self.studio.document.mixed.strings[0].piles if p.id == free.id), free)

    def test_the_scale_shows_target_touching_mixture(self):
        mixtures = self.window.session.notes.mixtures()
        self.assertTrue({n.id for n in self.studio.document.notes if n.group in ("skin", "sky")} <= set(mixtures))

    def test_stop(self):
        w = self.window.at("Mix")
        w.all_page.steps.setValue(8)
        self.wait(lambda: self.studio.jobs.busy("mix"), 30)
        self.click(w.cancel)
        self.assertFalse(self.studio.jobs.busy("mix"))
        self.assertFalse(self.studio.strings.ready())
        self.assertTrue(w.again.isVisible())
        self.click(w.again)
        self.settle()
        self.assertTrue(self.studio.strings.ready())


class BlockInStation(PictureCase):
    def test_what_is_missing_is_said_with_the_way_there(self):
        w = self.window
        w.go_to("Block in", "Sheet")
        self.settle()
        self.assertIn("Notes are missing", w.at("Block in").sheet_page.state.text())
        self.assertFalse(w.at("Block in").sheet_page.save.isEnabled())
        self.click(w.at("Block in").sheet_page.go)
        self.assertEqual(w.station.title, "Note")

    def test_canvas_changes_the_amounts(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(150, 100)
        w.go_to("Block in", "Sheet")
        self.settle()
        small = w.at("Block in").sheet_page.sheet.amounts.total
        w.at("Block in").sheet_page.format.setCurrentText("50 x 70 cm")
        w.at("Block in").sheet_page._choose_format(w.at("Block in").sheet_page.format.currentIndex())
        self.settle()
        self.assertGreater(w.at("Block in").sheet_page.sheet.amounts.total, small * 2)
        self.assertEqual((self.studio.document.canvas.width, self.studio.document.canvas.unit), (70, "cm"))
        w.at("Block in").sheet_page.paper.setCurrentText("Letter")
        w.at("Block in").sheet_page.paper.activated.emit(1)
        self.settle()
        self.assertEqual(self.studio.document.canvas.paper, "Letter")
        self.undo_all()
        self.settle()
        self.assertEqual(self.studio.document.canvas.width, 30)


class Surround(WindowCase):
    def contrast(self, one: str, two: str) -> float:
        """WCAG 2.1 contrast ratio (W3C Recommendation, 2018)."""
        from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, decode_srgb

        y = sorted(
            float(SRGB_TO_XYZ[1] @ decode_srgb(np.array([int(c[i : i + 2], 16) for i in (1, 3, 5)]) / 255))
            for c in (one, two)
        )
        return (y[1] + 0.05) / (y[0] + 0.05)

    def test_text_reads_and_greys_are_neutral(self):
        for t in theme.THEMES.values():
            for ground in (t.panel, t.deep):
                self.assertGreaterEqual(self.contrast(t.text, ground), 4.5, t.name)
                self.assertGreaterEqual(self.contrast(t.quiet, ground), 4.5, t.name)
            self.assertGreaterEqual(self.contrast(t.on_surround, t.surround), 4.4, t.name)
            for grey in (t.surround, t.panel, t.deep, t.line, t.text, t.quiet):
                self.assertTrue(grey[1:3] == grey[3:5] == grey[5:7], grey)

    def test_all_three_settings(self):
        self.open()
        for name in ("dark", "light", "middle"):
            self.window.set_surround(name)
            self.settle()
            shot = self.window.grab().toImage()
            at = self.window.easel.mapTo(self.window, self.window.easel.rect().topLeft())
            self.assertEqual(shot.pixelColor(at.x() + 3, at.y() + 3).name(), theme.THEMES[name].surround)

    def test_nothing_is_cut_at_the_smallest_size(self):
        w = self.window
        self.open_small()
        w.resize(1024, 700)
        for s in w.stations:
            w.go_to(s.title)
            self.settle()
            scroll = w.stage.trays.currentWidget()
            self.assertLessEqual(scroll.widget().minimumSizeHint().width(), scroll.viewport().width() + 1, s.title)


if __name__ == "__main__":
    unittest.main()
