"""Harmonise in full, by real clicks and keys: lock, accents, hold, previews, balance, meetings, ladders, the sheet."""

import io

import numpy as np
from pypdf import PdfReader
from PyQt6.QtCore import Qt

from ochre_stone.core.colour.wheel import turn
from ochre_stone.core.harmony.schemes import dominant, hue_weights, places
from tests.desktop.helpers import WindowCase, shown


class SmallCase(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_small()
        self.studio, self.station = self.window.studio, self.window.at("Harmonise")
        self.window.go_to("Harmonise")
        self.settle()

    @property
    def choice(self):
        return self.studio.document.harmony

    def page(self, name: str) -> None:
        self.turn(self.station.pages, name)
        self.settle()

    def choose(self, name: str) -> None:
        box = self.station.scheme_page.list
        item = next(box.item(i) for i in range(box.count()) if box.item(i).data(Qt.ItemDataRole.UserRole).name == name)
        box.setCurrentItem(item)
        self.click(box.viewport(), box.visualItemRect(item).center())
        self.settle()


class Scheme(SmallCase):
    def test_keep_the_dominant_hue(self):
        self.choose("triad")
        page = self.station.scheme_page
        page.lock.setFocus()
        self.key(Qt.Key.Key_Space, widget=page.lock)
        notes = self.studio.document.notes
        keep = dominant(hue_weights([n.lab for n in notes], [max(n.share, 0.01) for n in notes], "traditional"))
        self.assertTrue(self.choice.locked)
        arms = places("triad", self.choice.rotation)
        self.assertLess(min(abs(float(turn(keep, a))) for a in arms), 1)
        before = self.choice.rotation
        self.window.at("Harmonise").wheel.setFocus()
        self.key(Qt.Key.Key_Right, widget=self.window.at("Harmonise").wheel)
        self.assertEqual(self.choice.rotation, before)
        self.assertIn("free it to turn", self.window.last_told)
        self.choose("complementary")
        self.assertLess(min(abs(float(turn(keep, a))) for a in places("complementary", self.choice.rotation)), 1)

    def test_accent_arms_by_key(self):
        self.choose("complementary")
        box = self.station.scheme_page.arms[1]
        box.setFocus()
        self.key(Qt.Key.Key_Space, widget=box)
        self.assertEqual(self.choice.accents, (1,))
        self.choose("accented-analogous")
        self.assertEqual(self.choice.accents, (3,), "the arm across is the accent by its nature")

    def test_hold_a_note_by_key(self):
        self.choose("triad")
        note = self.studio.document.notes[3]
        self.studio.select(note.id)
        self.key(Qt.Key.Key_X)
        self.assertEqual(self.choice.held, (note.id,))
        self.assertTrue(self.station.scheme_page.hold.isChecked())
        np.testing.assert_allclose(self.window.session.notes.targets()[note.id], note.lab)
        self.key(Qt.Key.Key_X)
        self.assertEqual(self.choice.held, ())

    def test_previews_by_key_and_their_values(self):
        self.choose("triad")
        self.station.scheme_page.amount.setValue(100)
        self.settle()
        plain = shown(self.window).astype(float) / 255
        self.key(Qt.Key.Key_K)
        self.settle()
        self.assertTrue(self.window.stage.centre.bar.scenes["pulled"].isChecked())
        pulled = shown(self.window).astype(float) / 255
        self.assertGreater(float(np.abs(pulled - plain).max()), 0.08)
        weights = np.array([0.2126, 0.7152, 0.0722])
        linear = lambda c: np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4) @ weights  # noqa: E731
        self.assertLess(float(np.abs(linear(pulled) - linear(plain)).mean()), 0.004, "values stay")
        self.key(Qt.Key.Key_K)
        self.settle()
        self.assertLess(len(np.unique(shown(self.window).reshape(-1, 3), axis=0)), 40, "flat masses")

    def test_masses_on_the_wheel(self):
        self.station.masses_too.setFocus()
        self.key(Qt.Key.Key_Space, widget=self.station.masses_too)
        self.assertEqual(len(self.window.at("Harmonise").wheel._masses), len(self.studio.masses.masses))


class Balance(SmallCase):
    def test_proportions_and_push(self):
        self.page("Balance")
        page = self.station.balance_page
        self.assertIn("dominant", page.bars.accessibleDescription())
        self.assertIn("Loudest", page.loudest.text())
        self.assertTrue(page.list.text())
        before = self.window.session.notes.targets()
        page.push.setFocus()
        for _ in range(4):
            self.key(Qt.Key.Key_PageUp, widget=page.push)
        self.assertGreater(self.choice.push, 0)
        after = self.window.session.notes.targets()
        self.assertTrue(any(np.abs(np.subtract(after[i], before[i])).max() > 0.5 for i in after))
        self.assertEqual({i: t[0] for i, t in after.items()}, {i: t[0] for i, t in before.items()})
        self.click(page.reset)
        self.assertEqual(self.choice.push, 0.0)


class Meet(SmallCase):
    def test_pairs_are_mixed_and_filtered(self):
        self.page("Meet")
        page = self.station.meet_page
        self.wait(lambda: bool(page.found))
        self.settle()
        everything = page.list.count()
        self.assertGreater(everything, 20)
        self.assertIn("goes dull", page.list.item(0).text())
        self.assertIn("of their chroma", page.says.text())
        stirred, _, beside = page.says.text().partition("Side by side")
        self.assertIn("Stirred", stirred)
        self.assertIn("go dull", stirred)
        self.assertNotIn("go dull", beside, "what is stirred and what only lies beside are told apart")
        page.list.setFocus()
        first = page.says.text()
        self.key(Qt.Key.Key_Down, widget=page.list)
        self.assertNotEqual(page.says.text(), first)
        self.studio.select(self.studio.document.notes[0].id)
        page.shows.setCurrentIndex(1)
        page.shows.activated.emit(1)
        self.assertLess(page.list.count(), everything)


class Ladders(SmallCase):
    def test_plan_choose_and_see_them_as_strings(self):
        self.page("Ladders")
        page = self.station.ladders_page
        page.distance.setFocus()
        self.key(Qt.Key.Key_Space, widget=page.distance)
        self.assertIsNotNone(self.choice.distance)
        self.assertEqual(len(page.rungs["air"]._blocks), 5)
        self.click(page.ways["painters"])
        self.assertEqual(self.choice.distance.way, "painters")
        page.steps.setValue(4)
        self.assertEqual(len(page.rungs["painters"]._blocks), 4)
        page.first.setValue(50)
        self.assertIn("farther away", self.window.last_told)
        self.assertLess(self.choice.distance.first, 1, "nothing was changed")
        page.horizon.setCurrentIndex(page.near.currentIndex())
        page.horizon.activated.emit(page.near.currentIndex())
        self.assertIn("two different notes", self.window.last_told)
        self.assertNotEqual(self.choice.distance.near, self.choice.distance.horizon)
        self.click(page.sky)
        self.assertIsNotNone(self.choice.sky)
        page.band.setCurrentIndex(1)
        page.band.activated.emit(1)
        self.assertEqual(self.choice.sky.band, "pink")
        self.window.go_to("Block in", "Sheet")
        self.settle()
        strings = {s.id: s for s in self.studio.document.mixed.strings}
        self.assertEqual(len(strings["distance"].piles), 4)
        text = "".join(p.extract_text() for p in PdfReader(io.BytesIO(self.window.at("Block in").sheet_page.pdf)).pages)
        for words in ("painters' rule", "pink band", "The plan", "strongest contrast", "Edges between masses"):
            self.assertIn(words, " ".join(text.split()))
        self.undo_all_of_them()

    def undo_all_of_them(self) -> None:
        while self.studio.undo.canUndo():
            self.studio.undo.undo()
        self.assertIsNone(self.choice.distance)

    def test_without_a_sky_it_says_what_is_missing(self):
        d = self.studio.document
        kept = tuple(n for n in d.notes if n.subject != "sky")
        self.studio.change("Remove the sky", d.model_copy(update={"notes": kept}))
        self.page("Ladders")
        self.click(self.station.ladders_page.sky)
        self.assertIsNone(self.choice.sky)
        self.assertIn("two notes of the sky", self.window.last_told)
