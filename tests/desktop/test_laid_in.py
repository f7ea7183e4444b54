"""The block-in, seen at every station that has it: by mouse and keys."""

from unittest import mock

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QIcon

from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.core.planning import trying as looking
from tests.desktop.helpers import WindowCase

_FEW = ("portrait-ten", "four-tube-earth", "three-primaries", "underpainting-three")


class _Laid(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_small()
        self.session, self.laid, self.piles = self.window.session, self.window.session.laid, self.window.session.piles
        self.bar = self.window.stage.centre.bar

    def come(self, title: str, page: str = "") -> None:
        self.window.go_to(title, page)
        self.settle()

    @property
    def cover(self):
        return self.window.showing.cover

    def pixel(self, x: float, y: float) -> np.ndarray:
        """sRGB of a place of the picture, as shares of its width and height."""
        colour = self.window.easel.grab().toImage().pixelColor(self.cover.place(x, y).toPoint())
        return np.array([colour.red(), colour.green(), colour.blue()])

    def spot_of(self, pile_id: str) -> tuple[float, float]:
        """A place well inside a pile's largest shape, beside its name."""
        found = self.laid.found
        index = next(i for i, g in enumerate(found.piles) if g[0].id == pile_id)
        spot = next(s for s in self.cover.spots if s.pile == index and s.largest)
        h, w = found.labels.shape
        return spot.x, spot.y + 0.75 * spot.room * w / h

    def biggest(self) -> list[str]:
        shares = self.laid.found.shares
        return sorted(shares, key=lambda i: -shares[i])

    def own(self, pile_id: str) -> np.ndarray:
        labs = {p.id: p.recipe.lab for s in self.window.studio.document.mixed.strings for p in s.piles}
        return linear_to_code(lab_to_linear(np.array(labs[pile_id]))).astype(int)

    def assert_own(self, pile_id: str) -> None:
        self.assertLessEqual(int(np.abs(self.pixel(*self.spot_of(pile_id)) - self.own(pile_id)).max()), 2)

    def assert_pale(self, pile_id: str, beside: str) -> None:
        seen = self.pixel(*self.spot_of(pile_id)).astype(int)
        self.assertLessEqual(int(np.ptp(seen)), 1, "all else is grey")
        self.assertGreater(abs(int(seen.mean()) - int(self.own(beside).mean())), 40, "and far from it in value")


class AtBlockIn(_Laid):
    def setUp(self) -> None:
        super().setUp()
        self.come("Block in", "Piles")
        self.station = self.window.at("Block in")
        self.page = self.station.piles_page

    def test_a_place_points_at_its_pile_and_a_pile_lights_up_its_places(self):
        first, second = self.biggest()[:2]
        self.click(self.cover.viewport(), self.cover.place(*self.spot_of(second)))
        self.assertEqual(self.piles.in_hand, second)
        self.settle()
        self.assertEqual(self.page.list.currentItem().data(Qt.ItemDataRole.UserRole), second)
        self.assertIn(self.piles.names()[second], self.page.held.text().lower())
        self.assert_own(first)
        self.assert_own(second)
        self.click(self.bar.alone)
        self.settle()
        self.assert_own(second)
        self.assert_pale(first, second)

    def test_a_swatch_keeps_its_colour_in_the_row_that_is_chosen(self):
        for row in range(self.page.list.count()):
            icon = self.page.list.item(row).icon()
            size = icon.availableSizes()[0]
            plain, chosen = (icon.pixmap(size, mode).toImage() for mode in (QIcon.Mode.Normal, QIcon.Mode.Selected))
            self.assertEqual(plain, chosen, self.page.list.item(row).text())

    def test_by_keys(self):
        self.cover.setFocus()
        self.piles.choose(self.biggest()[0])
        self.settle()
        seen = set()
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up):
            self.key(key, widget=self.cover)
            self.settle()
            seen.add(self.piles.in_hand)
        self.assertGreater(len(seen), 1)
        self.key(Qt.Key.Key_A, Qt.KeyboardModifier.ShiftModifier)
        self.assertTrue(self.bar.alone.isChecked())
        self.key(Qt.Key.Key_A, Qt.KeyboardModifier.ShiftModifier)
        self.assertFalse(self.laid.alone)
        scenes = [self.station.scene_now]
        for _ in range(3):
            self.key(Qt.Key.Key_K)
            scenes.append(self.station.scene_now)
        self.assertEqual(scenes, ["block-in", "missing", "photo", "block-in"])

    def test_it_follows_the_plan_and_says_how_near_it_is(self):
        before = self.laid.found
        self.assertIn(before.figures.words, self.cover.accessibleDescription())
        self.assertEqual({i.id for i in self.cover.items}, {i for i, s in before.shares.items() if s > 0})
        self.assertEqual(self.page.list.count(), len(before.shares))
        self.window.studio.adjust("mix", "Fewer", palette="four-tube-earth", laid=None)
        self.settle()
        after = self.laid.found
        self.assertIsNot(after, before)
        self.assertNotEqual(after.figures, before.figures)
        self.window.studio.undo.undo()
        self.settle()
        np.testing.assert_array_equal(self.laid.found.labels, before.labels)

    def test_the_photo_at_the_left_of_a_border_that_moves(self):
        self.cover.setFocus()
        whole = self.window.easel.grab().toImage()
        self.key(Qt.Key.Key_B, Qt.KeyboardModifier.ShiftModifier)
        self.settle()
        self.assertEqual(self.laid.border, 0.5)
        where = {i: self.spot_of(i)[0] for i in self.biggest()}
        left = min((i for i, x in where.items() if x > 0.1), key=lambda i: where[i])
        right = max(where, key=lambda i: where[i])
        self.assert_own(right)
        photo = self.window.studio.measuring.screen
        x, y = self.spot_of(left)
        want = linear_to_code(photo[int(y * photo.shape[0]), int(x * photo.shape[1])]).astype(int)
        self.assertLess(int(np.abs(self.pixel(x, y) - want).max()), 40)
        at = self.cover.place(0.5, 0.3)
        self.drag(self.cover.viewport(), at, QPointF(self.cover.place(0.0, 0.3).x() - 5, at.y()))
        self.settle()
        self.assertEqual(self.laid.border, 0.0)
        self.assert_own(left)
        self.key(Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier, widget=self.cover)
        self.assertAlmostEqual(self.laid.border, 0.02)
        self.key(Qt.Key.Key_B, Qt.KeyboardModifier.ShiftModifier)
        self.settle()
        self.assertEqual(self.window.easel.grab().toImage(), whole)

    def test_squinted_and_in_values_only_like_the_photo(self):
        first = self.biggest()[0]
        self.session.sight.set(value=True)
        self.settle()
        seen = self.pixel(*self.spot_of(first))
        self.assertLessEqual(int(np.ptp(seen)), 1)
        before = self.window.easel.grab().toImage()
        self.session.sight.set(value=True, squint=True)
        self.settle()
        self.assertNotEqual(self.window.easel.grab().toImage(), before)
        self.session.sight.set(plain=True)
        self.session.sight.set(mirror=True)
        self.settle()
        x, _ = self.spot_of(first)
        box = self.window.easel.picture_box()
        self.assertAlmostEqual(self.cover.place(x, 0.5).x(), box.right() - x * box.width(), delta=1)
        self.assert_own(first)

    def test_what_is_missing_is_numbered_and_noted_in_one_step(self):
        self.window.studio.adjust("mix", "Few piles", piles=4)
        self.settle()
        page = self.page
        self.assertGreater(page.missing.count(), 0)
        self.assertFalse(page.note_it.isEnabled())
        self.click(self.bar.scenes["missing"])
        self.settle()
        self.assertEqual(len(self.cover.items), page.missing.count())
        page.missing.setCurrentRow(0)
        self.assertEqual(self.laid.missed, 0)
        self.piles.choose(self.biggest()[1])
        self.settle()
        self.assertEqual(page.missing.currentRow(), 0, "what was chosen stays, whatever pile is in hand")
        last = self.laid.missing.found[-1]
        self.click(self.cover.viewport(), self.cover.place(last.x, last.y))
        self.assertEqual(page.missing.currentRow(), page.missing.count() - 1)
        before = self.window.studio.document
        self.click(self.bar.note_it)
        self.settle()
        after = self.window.studio.document
        self.assertEqual(len(after.notes), len(before.notes) + 1)
        self.assertIn(after.notes[-1].id, {n.id for n in after.notes} - {n.id for n in before.notes})
        self.window.studio.undo.undo()
        self.settle()
        self.assertEqual(len(self.window.studio.document.notes), len(before.notes), "one undo step")


class Elsewhere(_Laid):
    def test_one_key_goes_round_at_every_station_that_has_a_picture(self):
        rounds = {
            "Note": ["photo", "block-in", "missing"],
            "Mass": ["masses", "photo", "block-in", "missing"],
            "Harmonise": ["photo", "pulled", "masses", "block-in", "missing"],
            "Mix": ["panel", "block-in", "missing", "photo"],
        }
        self.window.studio.adjust("harmony", "Pull", scheme="triad", amount=1.0)
        for title, scenes in rounds.items():
            with self.subTest(title):
                self.come(title)
                station, seen, shown = self.window.at(title), [], []
                for _ in scenes:
                    seen.append(station.scene_now)
                    shown.append(self.window.easel.grab().toImage() if title != "Mix" else None)
                    self.key(Qt.Key.Key_K)
                    self.settle()
                self.assertEqual(seen, scenes)
                self.assertEqual(station.scene_now, scenes[0])
                if title != "Mix":
                    self.assertTrue(all(a != b for k, a in enumerate(shown) for b in shown[:k]), "each looks different")

    def test_at_note_a_click_on_the_block_in_takes_no_note(self):
        self.come("Note")
        self.click(self.bar.scenes["block-in"])
        self.settle()
        second = self.biggest()[1]
        notes = self.window.studio.document.notes
        self.click(self.cover.viewport(), self.cover.place(*self.spot_of(second)))
        self.assertEqual(self.piles.in_hand, second)
        self.assertEqual(self.window.studio.document.notes, notes)
        self.click(self.bar.scenes["photo"])
        self.settle()
        self.assertTrue(self.cover.isHidden())
        self.click(self.window.easel, self.window.easel.to_widget(40, 40))
        self.assertEqual(len(self.window.studio.document.notes), len(notes) + 1)

    def test_at_note_what_is_missing_is_noted_and_the_block_in_follows(self):
        self.window.studio.adjust("mix", "Few", piles=4)
        self.come("Note")
        self.key(Qt.Key.Key_K)
        self.key(Qt.Key.Key_K)
        self.settle()
        self.assertFalse(self.bar.note_it.isEnabled())
        before, notes = self.laid.found, len(self.window.studio.document.notes)
        self.key(Qt.Key.Key_Right, widget=self.cover)
        self.assertTrue(self.bar.note_it.isEnabled())
        self.click(self.bar.note_it)
        self.assertEqual(len(self.window.studio.document.notes), notes + 1)
        self.settle()
        self.assertTrue(self.window.studio.strings.ready(), "strings are worked out where the block-in is looked at")
        self.assertIsNot(self.laid.found, before)

    def test_at_mix_it_stands_in_the_centre_and_the_small_picture_shows_the_pile_in_hand(self):
        self.come("Mix", "Pile")
        easel = self.window.easel
        self.assertIs(easel.parent(), self.window.stage.foot)
        first, second = self.biggest()[:2]
        for pile, other in ((first, second), (second, first)):
            self.piles.choose(pile)
            self.settle()
            self.assert_own(pile)
            self.assert_pale(other, pile)
        self.key(Qt.Key.Key_K)
        self.settle()
        self.assertIs(easel.parent(), self.window.stage.centre)
        self.assertTrue(self.window.stage.foot.isHidden())
        self.assert_own(first)
        self.window.at("Mix").pages.show("Plan")
        self.settle()
        self.assertIs(easel.parent(), self.window.stage.foot)
        self.assertEqual(self.bar.scenes["panel"].text(), "Order")

    def test_a_note_taken_in_hand_on_the_scale_lights_up_the_places_of_its_pile(self):
        self.window.studio.adjust("mix", "On notes", stand="notes", left_out=())
        self.come("Mix", "Pile")
        for pile in [p for p in self.piles.order() if p.target.notes][:3]:
            self.window.scale.note_chosen.emit(pile.target.notes[0])
            self.settle()
            self.assertEqual(self.piles.in_hand, pile.id)
            self.assertEqual(self.cover.held, self.cover._first_of(pile.id))

    def test_harmonise_shows_it_in_the_pulled_colours(self):
        self.come("Harmonise")
        self.window.at("Harmonise").see("block-in")
        self.settle()
        before = self.laid.found.colours.copy()
        self.window.studio.adjust("harmony", "Pull", scheme="triad", amount=1.0)
        self.settle()
        after = self.laid.found.colours
        self.assertFalse(before.shape == after.shape and np.allclose(before, after, atol=1.0))


class OnTheSheet(_Laid):
    def test_the_keys_of_the_block_in_come_to_where_it_is_seen(self):
        block = self.window.at("Block in")
        self.come("Block in", "Sheet")
        self.key(Qt.Key.Key_A, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual((block.pages.here, block.scene_now), ("Piles", "block-in"))
        self.assertTrue(self.laid.alone)
        self.come("Look")
        self.key(Qt.Key.Key_K)
        self.assertIn("page Piles of Block in", self.window.last_told)
        self.key(Qt.Key.Key_B, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.window.station.title, "Block in")
        self.assertEqual(self.laid.border, 0.5)

    def test_a_line_of_the_sheet_takes_its_pile_in_hand(self):
        self.come("Block in", "Sheet")
        view = self.window.at("Block in").sheet_page.view
        names, paper = self.piles.names(), view.view.viewport()
        text = view._document.getAllText(0).text()
        for pile, name in list(names.items())[:4]:
            box = view._document.getSelectionAtIndex(0, text.find(name), len(name)).boundingRectangle()
            at = view.place_of(0, box.center().x(), box.center().y() + 6)
            view.view.verticalScrollBar().setValue(round(max(at.y() - 300, 0)))
            self.click(paper, view.place_of(0, box.center().x(), box.center().y() + 6))
            self.assertEqual(self.piles.in_hand, pile, name)
            self.settle()
            self.assertEqual(self.cover.held, self.cover._first_of(pile), "the small picture shows where it goes")
            view.view.verticalScrollBar().setValue(0)
        before = self.piles.in_hand
        self.click(paper, view.place_of(0, 300.0, 5.0))
        self.assertEqual(self.piles.in_hand, before, "nothing stands there")


class Fewer(_Laid):
    """Piles kept, left out and brought back; palettes and numbers chosen by looking."""

    def setUp(self) -> None:
        super().setUp()
        self.come("Block in", "Piles")
        self.page = self.window.at("Block in").piles_page

    def on_notes(self) -> None:
        """A pile on each note, in place of even steps."""
        self.assertFalse(self.page.leave.isEnabled())
        self.assertIn("No note stands on it", self.page.leave.toolTip())
        self.window.studio.adjust("mix", "On notes", stand="notes", left_out=())
        self.settle()

    def notes(self):
        return {n.id: n for n in self.window.studio.document.notes}

    def test_the_least_missed_is_left_out_and_brought_back(self):
        self.on_notes()
        self.assertGreater(len(self.piles.names()), 9)
        self.click(self.page.least)
        self.assertIn("is missed least", self.window.last_told)
        self.window.studio.adjust("mix", "Few", piles=5)
        self.settle()
        self.assertFalse(self.page.least.isEnabled(), "below nine piles planning anew does better")
        self.assertIn("How many", self.page.least.toolTip())
        self.window.studio.undo.undo()
        self.settle()
        before = self.piles.names()
        pile = self.laid.least.pile
        self.piles.choose(pile.id)
        self.settle()
        self.click(self.page.leave)
        self.settle()
        self.assertEqual({self.notes()[i].pile for i in pile.target.notes}, {"none"})
        self.assertNotIn(pile.name, self.piles.names().values())
        rows = [self.page.list.item(i) for i in range(self.page.list.count())]
        left = next(row for row in rows if row.text().endswith(": left out"))
        self.page.list.itemClicked.emit(left)
        self.assertEqual(self.page.leave.text(), "Bring it back")
        self.assertFalse(self.page.keep.isEnabled())
        self.click(self.page.leave)
        self.settle()
        self.assertEqual(self.piles.names(), before)
        self.window.studio.undo.undo()
        self.window.studio.undo.undo()
        self.settle()
        self.assertEqual({n.pile for n in self.notes().values()}, {""}, "each one undo step")

    def test_a_pile_is_kept_by_a_press(self):
        self.on_notes()
        pile = self.piles.found()[1]
        self.click(self.page.keep)
        self.settle()
        self.assertEqual({self.notes()[i].pile for i in pile.target.notes}, {"keep"})
        self.assertIn("kept", self.page.list.currentItem().text())
        self.assertNotEqual(self.laid.least.pile.id, pile.id)
        self.click(self.page.keep)
        self.settle()
        self.assertEqual({n.pile for n in self.notes().values()}, {""})

    def test_a_palette_is_chosen_by_looking(self):
        few = [c for c in self.session.palettes.choices() if c[1] in _FEW]
        limited = mock.patch.object(self.session.palettes, "choices", lambda: few)  # the nine take as many seconds more
        limited.start()
        self.addCleanup(limited.stop)
        self.come("Mix")
        mix, trying, view = self.window.at("Mix"), self.session.trying, self.window.at("Mix").by_looking
        self.click(self.bar.scenes["palettes"])
        self.assertIs(mix.panels.currentWidget(), view)
        first = trying.options()[0]
        self.assertEqual(first.key, self.window.studio.document.mix.palette, "what is chosen stands first")
        view.take("underpainting-three")  # looked at: tried before its turn
        self.wait(lambda: trying.found(next(o for o in trying.options() if o.key == "underpainting-three")) is not None)
        self.assertLess(sum(trying.found(o) is not None for o in trying.options()), len(few))
        self.assertRegex(view.foot_words(), r"^\d of \d+ tried")
        words = next(i.state for i in view.items if i.id == "underpainting-three")
        self.assertRegex(words, r"\d of \d notes, off by \d")
        small = view.grab().toImage()
        self.settle()
        self.assertEqual(view.foot_words(), trying.alike_words())
        self.assertNotEqual(view.grab().toImage(), small)
        self.click(self.bar.take_it)
        self.assertEqual(self.window.studio.document.mix.palette, "underpainting-three")
        self.assertTrue(self.window.studio.strings.ready(), "it was planned already")
        self.assertFalse(self.bar.take_it.isEnabled())
        self.come("Note")
        self.assertIsNone(trying.choosing, "nothing is tried where nobody looks")

    def test_a_palette_that_cannot_be_mixed_says_why_and_the_others_are_tried(self):
        real = looking.tried

        def tried(picture, document, mix, progress):
            if mix.palette == "four-tube-earth":
                raise OchreError("These paints cannot be mixed.")
            return real(picture, document, mix, progress)

        few = [c for c in self.session.palettes.choices() if c[1] in _FEW[:2]]
        for patch in (
            mock.patch.object(self.session.palettes, "choices", lambda: few),
            mock.patch.object(looking, "tried", tried),
        ):
            patch.start()
            self.addCleanup(patch.stop)
        self.come("Mix")
        self.click(self.bar.scenes["palettes"])
        self.settle()
        view = self.window.at("Mix").by_looking
        said = {i.id: i.state for i in view.items}
        self.assertEqual(said["four-tube-earth"], "These paints cannot be mixed.")
        self.assertRegex(said["portrait-ten"], "notes, off by")
        view.take("four-tube-earth")
        self.settle()
        self.assertFalse(self.session.studio.jobs.busy("try"), "not tried again and again")

    def test_a_number_of_piles_is_chosen_by_looking(self):
        self.window.studio.adjust("mix", "Few", piles=3)
        self.come("Mix")
        self.click(self.bar.scenes["numbers"])
        self.settle()
        trying, view = self.session.trying, self.window.at("Mix").by_looking
        self.assertEqual([o.key for o in trying.options()], ["3", "6", "0"])
        offs = [trying.found(o).laid.figures.off for o in trying.options()]
        self.assertEqual(offs, sorted(offs, reverse=True))
        self.key(Qt.Key.Key_Right, widget=view)
        self.assertEqual(trying.looked_at, "6")
        self.key(Qt.Key.Key_Return, widget=view)
        self.settle()
        self.assertEqual(self.window.studio.document.mix.piles, 6)
        self.window.studio.undo.undo()
        self.assertEqual(self.window.studio.document.mix.piles, 3)
        self.settle()


class WithoutAPicture(WindowCase):
    def test_it_says_what_is_missing(self):
        self.window.go_to("Block in", "Piles")
        self.settle()
        station = self.window.at("Block in")
        self.assertIsNone(station.piles_page.found)
        self.assertFalse(station.piles_page.list.isVisible())
        self.assertIn("Open a picture first", station.piles_page.words.text())
        bar = self.window.stage.centre.bar
        self.assertFalse(bar.scenes["block-in"].isEnabled())
        self.assertIn("Open a photo first", bar.scenes["block-in"].toolTip())
        self.key(Qt.Key.Key_K)
        self.assertEqual(station.scene_now, "block-in")
