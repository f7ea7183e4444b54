"""The monitor, opening large photos, and the spot reader, in the window."""

import io
from pathlib import Path
from unittest import mock

import numpy as np
from PIL import Image
from PyQt6.QtCore import QEvent, Qt

from ochre_stone.core.colour.munsell import notation
from ochre_stone.core.picture import profiles
from ochre_stone.core.picture.picture import linear_to_code
from ochre_stone.core.picture.screen import Screen
from ochre_stone.core.planning.noting import note_of_reading
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.widgets.shapes import paint_colour
from ochre_stone.desktop.window import files
from ochre_stone.desktop.window.testcard import TestCard
from ochre_stone.devices.reader import lab_of
from tests.desktop.helpers import PictureCase, WindowCase, shown

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Monitor(WindowCase):
    def tearDown(self) -> None:
        display.use_screen(Screen())
        super().tearDown()

    def test_no_profile_is_said_and_a_chosen_one_is_used(self):
        w = self.window
        self.open()
        self.assertIn("no profile", w.status.display_words.text())
        plain = shown(w)
        file = self.folder / "monitor.icc"
        file.write_bytes(profiles.matrix_profile(profiles.PRIMARIES[12], 2.2))
        w.session.preferences.choose_profile(str(file))
        self.settle()
        self.assertNotIn("no profile", w.status.display_words.text())
        self.assertIn("monitor.icc", display.details())
        self.assertGreater(np.abs(shown(w).astype(int) - plain).max(), 10)
        np.testing.assert_array_equal(linear_to_code(w.studio.measuring.screen), plain)
        self.assertEqual(memory.load_settings().monitor_profile, str(file))
        w.session.preferences.choose_profile("")
        self.settle()
        np.testing.assert_array_equal(shown(w), plain)

    def test_masses_and_swatches_go_through_it_too(self):
        w = self.window
        self.open()
        w.go_to("Mass")
        self.settle()
        plain, colour = shown(w), paint_colour((50.0, 40.0, 20.0)).name()
        file = self.folder / "dark.icc"
        file.write_bytes(profiles.matrix_profile(profiles.PRIMARIES[1], 1.2))
        w.session.preferences.choose_profile(str(file))
        self.settle()
        self.assertGreater(np.abs(shown(w).astype(int) - plain).max(), 20)
        self.assertNotEqual(paint_colour((50.0, 40.0, 20.0)).name(), colour)

    def test_the_desktops_profile_is_found(self):
        file = self.folder / "known.icc"
        file.write_bytes(profiles.matrix_profile(profiles.PRIMARIES[12], 2.2))
        with mock.patch.object(display, "profile_file", return_value=file):
            self.window.session.preferences.find_display()
            self.settle()
        self.assertIn("desktop", display.details())

    def test_what_is_no_profile_is_refused(self):
        file = self.folder / "words.icc"
        file.write_bytes(b"words" * 50)
        self.window.session.preferences.choose_profile(str(file))
        self.settle()
        self.assertIn("words.icc", self.complaint())
        self.assertTrue(display.screen().is_srgb)

    def test_the_card_of_greys(self):
        self.key(Qt.Key.Key_G, CTRL)
        card = self.window.findChild(TestCard)
        self.assertTrue(card.isVisible())
        steps = card.grab().toImage()
        greys = [steps.pixelColor(round((v + 0.5) * card.width() / 11), 60).red() for v in range(11)]
        self.assertEqual(greys, sorted(greys))
        self.assertEqual(len(set(greys)), 11)
        card.close()


class Opening(WindowCase):
    def test_a_large_photo_is_glimpsed_first_and_can_be_given_up(self):
        w = self.window
        self.open()
        before = shown(w)
        big = np.random.default_rng(0).integers(0, 255, (500, 700, 3)).astype(np.uint8)
        path = self.folder / "big.jpg"
        Image.fromarray(big).resize((5600, 4000), Image.Resampling.BICUBIC).save(path, quality=85)
        seen: list[tuple[int, int]] = []
        steps: list[float] = []
        w.studio.files.glimpsed.connect(lambda code: seen.append((code.shape[1], w.studio.picture.width)))
        w.studio.files.opening.connect(steps.append)
        w.files.open(path, asked=True)
        self.wait(lambda: bool(seen))
        self.assertEqual(seen[0][1], 320, "the glimpse comes before the picture")
        self.assertLess(seen[0][0], 2000)
        self.assertTrue(w.status.progress.isVisible())
        w.status.stop_opening.click()
        self.settle()
        self.assertEqual(w.studio.picture.width, 320)
        np.testing.assert_array_equal(shown(w), before)
        self.assertFalse(w.status.progress.isVisible())
        self.open(path)
        self.assertEqual(w.studio.picture.width, 5600)
        self.assertEqual(steps[-1], 1.0)

    def test_work_done_while_a_file_opens_is_asked_about(self):
        w = self.window
        self.open()
        w.go_to("Note")
        for answer, kept in ((files.CANCEL, True), (files.DISCARD, False)):
            with mock.patch("ochre_stone.desktop.window.files.ask", return_value=answer) as asked:
                w.files.open(self.photo, asked=True)
                w.at("Note").spot_clicked(150, 100)
                self.settle()
            self.assertEqual(asked.call_count, 1)
            self.assertEqual(len(w.studio.document.notes) > 0, kept)

    def test_a_failed_opening_shows_the_old_picture_again(self):
        w = self.window
        self.open()
        before = shown(w)
        out = io.BytesIO()
        Image.fromarray(np.random.default_rng(0).integers(0, 255, (900, 900, 3)).astype(np.uint8)).save(out, "JPEG")
        path = Path(self.folder / "cut.jpg")
        path.write_bytes(out.getvalue()[:40_000])
        self.open(path)
        self.assertIn("cut.jpg", self.complaint())
        np.testing.assert_array_equal(shown(w), before)


class Reader(PictureCase):
    def connect(self, *options: str) -> None:
        w = self.window
        self.turn(w.at("Look").pages, "Scene")
        w.session.reader.connect_to("", ("--warm-up", "0", "--seconds", "0.05", *options))
        self.settle()
        self.assertTrue(w.session.reader.connected)

    def test_connect_calibrate_read_with_keys(self):
        w = self.window
        self.connect()
        page = w.at("Look").scene_page
        self.assertIn("not calibrated", page.state.text())
        self.app.sendEvent(w.easel, QEvent(QEvent.Type.Leave))  # wherever the pointer was left
        self.key(Qt.Key.Key_R)
        self.settle()
        self.assertIn("Click the picture", self.complaint())
        self.click(page.calibrate)
        self.settle()
        self.assertIn("calibrated", page.state.text())
        w.at("Note").come_with("reader")
        self.key(Qt.Key.Key_Right, widget=w.easel)
        self.key(Qt.Key.Key_R)
        self.settle()
        note = self.studio.document.notes[0]
        self.assertEqual((note.source, len(note.spectrum)), ("reader", 36))
        self.assertIsNotNone(note.place)
        self.assertTrue(w.at("Note").read_page.spectrum.isVisible())
        self.click_picture(40, 100)
        self.settle()
        self.assertEqual(len(self.studio.document.notes), 2)
        self.undo_all()
        self.assertEqual(self.studio.document.notes, ())

    def test_calibrate_first(self):
        self.connect()
        self.click_picture(100, 100)
        self.settle()
        self.assertIn("white tile", self.complaint())
        self.assertEqual(self.studio.document.notes, ())

    def test_unplugged_while_reading_keeps_everything(self):
        w = self.window
        self.connect("--unplug-after", "1")
        w.session.reader.calibrate()
        self.settle()
        w.go_to("Note")
        w.at("Note").take("reader")
        self.click_picture(100, 100)
        self.settle()
        self.click_picture(200, 150)
        self.settle()
        self.assertIn("unplugged", self.complaint())
        self.assertEqual(len(self.studio.document.notes), 1, "the note before it is kept")
        self.assertFalse(w.session.reader.connected)
        self.assertIn("No reader", w.session.reader.words())
        self.click_picture(200, 150)
        self.assertIn("No reader is connected", self.complaint())

    def test_low_battery_is_told(self):
        w = self.window
        self.connect("--battery", "10")
        w.session.reader.calibrate()
        self.settle()
        self.assertIn("charge it soon", w.session.reader.words())
        self.click_picture(100, 100)
        self.settle()
        self.assertIn("battery", w.last_told)

    def test_warming_up_is_told_until_it_is_warm(self):
        w = self.window
        self.connect("--warm-up", "2")
        self.assertIn("warming", w.session.reader.words())
        self.click(w.at("Look").scene_page.calibrate)
        self.settle()
        self.assertIn("warming up", self.complaint())
        self.wait(lambda: "warming" not in w.session.reader.words() and not w.session.reader.busy, 20)
        self.click(w.at("Look").scene_page.calibrate)
        self.settle()
        self.assertIn(", calibrated", w.session.reader.words())

    def test_disconnect_ends_the_process(self):
        w = self.window
        self.connect()
        stand_in = w.session.reader._stand_in
        self.click(w.at("Look").scene_page.connect_)
        self.assertFalse(w.session.reader.connected)
        self.wait(lambda: not stand_in.running, 20)

    def test_a_reading_for_another_project_is_told_and_not_put_into_this_one(self):
        w = self.window
        self.connect("--seconds", "1.0")
        w.session.reader.calibrate()
        self.settle()
        self.click_picture(100, 100)
        w.files.open(self.photo, asked=True)
        self.settle()
        self.assertEqual(w.studio.document.notes, (), "it was asked for by the other photo")
        self.assertIn("A reading for", w.last_told)
        self.assertIn(notation(lab_of(w.session.reader.last)), w.last_told)
        self.assertTrue(w.session.reader.connected)

    def test_no_port_is_told(self):
        self.window.session.reader.connect_to("/dev/no-such-port")
        self.settle()
        self.assertIn("/dev/no-such-port", self.complaint())


class SceneAlone(WindowCase):
    def test_notes_of_the_scene_without_a_photo_are_mixed_and_kept(self):
        """A reader on the spot and no photo: notes without a place, strings, saved and opened again."""
        w = self.window
        w.at("Note").come_with("spot")
        for lab in ((70.0, 12.0, 20.0), (55.0, 14.0, 22.0), (35.0, 12.0, 15.0)):
            document = w.studio.document
            note = note_of_reading(document, lab, [0.3] * 36, None).model_copy(update={"subject": "skin"})
            w.studio.change("Read", document.with_note(note))
            w.studio.select(note.id)
        self.assertIn("spot reader", w.at("Note").read_page.details.text())
        w.at("Note").pages.show("Beside")
        self.assertNotIn("In the picture", w.at("Note").beside_page.seems.text())
        w.at("Look").light_page.stops.setValue(3)
        for title in ("Look", "Mass", "Harmonise", "Mix", "Block in"):
            w.go_to(title)
            self.settle()
        self.assertGreater(len(w.studio.document.mixed.strings[0].piles), 3)
        path = self.folder / "scene.ochre"
        self.assertEqual(w.studio.files.save(path), "")
        before = w.studio.document
        self.open(path)
        self.assertEqual(w.studio.document.notes, before.notes)
        self.assertEqual(self.complaint(), "")
