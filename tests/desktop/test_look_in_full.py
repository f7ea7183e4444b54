"""Look in full, by keys and clicks: views, light, chart, frame, what is lost, the monitor, the reader."""

import io
from pathlib import Path
from unittest import mock

import numpy as np
import tifffile
from PIL import Image
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtTest import QTest

from ochre_stone.core.picture import profiles
from ochre_stone.core.picture.balance import NEUTRAL_KELVIN
from ochre_stone.core.picture.frame import Frame
from ochre_stone.core.picture.picture import linear_to_code
from ochre_stone.core.picture.screen import Screen
from ochre_stone.desktop import display
from ochre_stone.desktop import settings as memory
from ochre_stone.desktop.testcard import TestCard
from ochre_stone.desktop.window import Window
from tests.core.picture.test_light import chart_photo
from tests.desktop.helpers import PictureCase, WindowCase

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


def shown(window: Window) -> np.ndarray:
    """Bytes (h, w, 3) of what the easel shows, without what lies over it."""
    image = window.easel._image.convertToFormat(window.easel._image.Format.Format_RGB888)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    return (
        np.array(bits)
        .reshape(image.height(), image.bytesPerLine())[:, : image.width() * 3]
        .reshape(image.height(), image.width(), 3)
    )


class Keys(PictureCase):
    def cross_to(self, x: float, y: float) -> None:
        """Move the cross with the arrow keys to a pixel of the picture."""
        easel = self.window.easel
        easel.setFocus()
        self.key(Qt.Key.Key_Right, widget=easel)
        for _ in range(400):
            goal = easel.to_widget(x, y)
            here = easel._pointer
            off = goal - here
            if abs(off.x()) <= 1 and abs(off.y()) <= 1:
                return
            if abs(off.x()) > 1:
                key, size = (Qt.Key.Key_Right if off.x() > 0 else Qt.Key.Key_Left), abs(off.x())
            else:
                key, size = (Qt.Key.Key_Down if off.y() > 0 else Qt.Key.Key_Up), abs(off.y())
            self.key(key, SHIFT if size < 12 else Qt.KeyboardModifier.NoModifier, easel)
        self.fail("the cross never came there")


class Views(Keys):
    def test_each_key_shows_its_view_and_they_combine(self):
        w = self.window
        plain = shown(w)
        self.key(Qt.Key.Key_C)
        self.settle()
        self.assertGreater(np.ptp(shown(w), axis=2).mean(), 1.3 * np.ptp(plain, axis=2).mean())
        self.key(Qt.Key.Key_H)
        self.key(Qt.Key.Key_V)
        self.settle()
        both = shown(w)
        self.assertEqual(int(np.ptp(both, axis=2).max()), 0)
        self.assertLess(np.abs(both[:, ::-1, 1].astype(int) - plain[..., 1]).mean(), 12)
        self.key(Qt.Key.Key_A)
        self.settle()
        np.testing.assert_array_equal(shown(w), plain)

    def test_a_mirrored_view_still_samples_what_is_under_the_cross(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(30, 100)
        lab = self.studio.document.notes[0].lab
        self.key(Qt.Key.Key_H)
        self.settle()
        at = w.easel.to_widget(30, 100)
        self.assertGreater(at.x(), w.easel.width() / 2, "leaves stand on the right now")
        self.click(w.easel, at + QPointF(0, -30))
        again = self.studio.document.notes[-1]
        self.assertAlmostEqual(again.x, 30, delta=1.5)
        self.assertLess(float(np.abs(np.array(again.lab) - lab).max()), 5)

    def test_before_while_held(self):
        w = self.window
        plain = shown(w)
        w.look.light_page.stops.setValue(15)
        self.settle()
        lit = shown(w)
        self.assertGreater(lit.mean(), plain.mean() + 20)
        QTest.keyPress(w, Qt.Key.Key_B)
        self.settle()
        np.testing.assert_array_equal(shown(w), plain)
        QTest.keyRelease(w, Qt.Key.Key_B)
        self.settle()
        np.testing.assert_array_equal(shown(w), lit)

    def test_isolate_leaves_one_hole(self):
        w = self.window
        self.key(Qt.Key.Key_I)
        self.settle()
        self.cross_to(150, 100)
        picture = w.easel.grab().toImage()
        middle = w.easel._pointer.toPoint()
        card = picture.pixelColor(20, 20)
        self.assertEqual((card.red(), card.green(), card.blue()), (0x77, 0x77, 0x77))
        self.assertNotEqual(picture.pixelColor(middle).name(), card.name())

    def test_grids(self):
        w = self.window
        for key in ("thirds", "squares", "none"):
            self.key(Qt.Key.Key_T)
            self.assertEqual(w.view.grid, key)
            self.assertEqual(w.easel.grid is None, key == "none")
            if key == "squares":  # 30 x 40 cm, lying: 5 cm squares
                self.assertEqual([word for _, word in w.easel.grid.across][:2], ["5", "10"])
                step = w.easel.grid.across[0][0] * 320
                self.assertAlmostEqual(w.easel.grid.down[0][0] * 240, step, delta=1e-6)

    def test_lost_places_are_shown_and_told(self):
        w = self.window
        pixels = np.full((240, 320, 3), 120, np.uint8)
        pixels[:80] = 255
        pixels[200:] = 0
        path = self.folder / "burnt.png"
        Image.fromarray(pixels).save(path)
        self.open(path)
        self.assertIn("33%", w.look.lost.text())
        self.assertIn("darks crushed on 17%", w.look.lost.text())
        self.key(Qt.Key.Key_L)
        self.settle()
        cover = w.easel._cover
        alpha = [[cover.pixelColor(x, y).alpha() > 0 for x in range(50, 400)] for y in (60, cover.height() // 2)]
        self.assertTrue(any(alpha[0]))
        self.assertFalse(any(alpha[1]), "nothing is marked where nothing is lost")
        w.go_to("Note")
        self.click_picture(100, 30)
        self.assertIn("burnt out", w.note_station.read_page.warning.text())


class LightPage(Keys):
    def test_sliders_are_one_step_each_and_notes_follow(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(280, 200)
        before = self.studio.document.notes[0].lab
        w.go_to("Look")
        self.click(w.look.pages_.buttons["Light"])
        page = w.look.light_page
        page.kelvin.setFocus()
        for _ in range(12):
            self.key(Qt.Key.Key_Right, widget=page.kelvin)
        self.settle()
        warmer = self.studio.document
        self.assertLess(warmer.light.kelvin, NEUTRAL_KELVIN)
        self.assertLess(warmer.notes[0].lab[2], before[2] - 1, "a warm light named as such is cooled")
        self.studio.undo.undo()
        self.settle()
        self.assertEqual(self.studio.document.notes[0].lab, before)
        self.assertEqual(page.kelvin_shown.text(), "daylight")

    def test_two_sliders_at_once_lose_nothing(self):
        page = self.window.look.light_page
        self.window.go_to("Note")
        self.click_picture(100, 100)
        self.window.go_to("Look")
        page.tint.setValue(9)
        page.stops.setValue(-5)
        page.lift.setValue(40)
        self.settle()
        light = self.studio.document.light
        self.assertEqual((light.tint, light.stops, light.lift), (9.0, -0.5, 0.4))

    def test_lift_says_what_it_costs(self):
        w = self.window
        pixels = np.random.default_rng(0).integers(8, 26, (240, 320, 3)).astype(np.uint8)
        path = self.folder / "dark.png"
        Image.fromarray(pixels).save(path)
        self.open(path)
        self.click(w.look.pages_.buttons["Light"])
        w.look.light_page.lift.setValue(100)
        self.settle()
        self.assertIn("Grain in the lifted darks", w.look.light_page.honest.text())
        w.go_to("Note")
        self.click_picture(100, 100)
        self.assertIn("raised", w.note_station.read_page.warning.text())

    def test_a_grey_card_by_keys(self):
        w = self.window
        self.click(w.look.pages_.buttons["Light"])
        card = w.look.light_page.picks["card"]
        card.setFocus()
        self.key(Qt.Key.Key_Space, widget=card)
        self.assertTrue(w.easel.hasFocus())
        self.cross_to(290, 200)
        self.key(Qt.Key.Key_Return, widget=w.easel)
        self.settle()
        self.assertIn("grey card", self.studio.document.balance_from)
        y = float(linear_y(self.studio.document.seen(self.studio.picture, 80_000)[200, 290]))
        self.assertAlmostEqual(y, 0.18, delta=0.02)

    def test_a_chart_by_its_corners(self):
        w = self.window
        p, corners = chart_photo(np.diag([0.8, 0.6, 0.35]), 0.001)
        path = self.folder / "chart.tif"
        tifffile.imwrite(path, p.code, photometric="rgb")
        self.open(path)
        self.click(w.look.pages_.buttons["Light"])
        self.click(w.look.light_page.chart)
        for x, y in (corners[2], corners[0], corners[3], corners[1]):
            self.click_picture(x, y)
        self.settle()
        self.assertEqual(self.studio.document.balance_from, "a colour chart")
        self.assertIn("24 patches", w.look.light_page.said.text())
        self.assertFalse(w.look.light_page.chart.isChecked())
        self.click(w.look.light_page.reset)
        self.settle()
        self.assertEqual(self.studio.document.balance_from, "")

    def test_a_wrong_chart_is_refused(self):
        w = self.window
        self.click(w.look.pages_.buttons["Light"])
        self.click(w.look.light_page.chart)
        for x, y in ((20, 20), (300, 20), (300, 220), (20, 220)):
            self.click_picture(x, y)
        self.settle()
        self.assertIn("24", self.complaint())
        self.assertEqual(self.studio.document.balance_from, "")


def linear_y(rgb: np.ndarray) -> float:
    from ochre_stone.core.colour.spaces import SRGB_TO_XYZ

    return float(SRGB_TO_XYZ[1] @ rgb)


class FramePage(Keys):
    def setUp(self) -> None:
        super().setUp()
        self.click(self.window.look.pages_.buttons["Frame"])
        self.settle()
        self.page = self.window.look.frame_page

    def choose_canvas(self, words: str) -> None:
        self.page.canvas.setCurrentText(words)
        self.page.canvas.activated.emit(self.page.canvas.currentIndex())
        self.settle()

    def test_crop_to_a_canvas_and_drag_it(self):
        w = self.window
        self.choose_canvas("8 × 10 in")
        d = self.studio.document
        self.assertEqual((d.canvas.width, d.canvas.height, d.canvas.unit), (10, 8, "in"))
        width, height = d.frame.size(320, 240)
        self.assertAlmostEqual(width / height, 1.25, delta=0.01)
        box = w.easel._cut_box()
        self.drag(w.easel, box.bottomRight(), box.bottomRight() - QPointF(120, 60))
        self.settle()
        smaller = self.studio.document.frame
        self.assertLess(smaller.crop[2], d.frame.crop[2])
        w2, h2 = smaller.size(320, 240)
        self.assertAlmostEqual(w2 / h2, 1.25, delta=0.02)
        box = w.easel._cut_box()
        self.drag(w.easel, box.center(), box.center() + QPointF(900, 0))
        right = self.studio.document.frame.crop
        self.assertAlmostEqual(right[0] + right[2] / 2, 1.0, delta=0.01, msg="it stops at the border")
        w.look.pages_.show("See")
        self.settle()
        self.assertEqual(w.easel._full, self.studio.document.frame.size(320, 240))
        self.undo_all()
        self.settle()
        self.assertTrue(self.studio.document.frame.is_whole)

    def test_the_cut_by_keys(self):
        w = self.window
        w.easel.setFocus()
        for _ in range(8):
            self.key(Qt.Key.Key_Left, CTRL, w.easel)
        narrow = self.studio.document.frame.crop
        self.assertLess(narrow[2], 0.9)
        for _ in range(3):
            self.key(Qt.Key.Key_Left, widget=w.easel)
        self.assertLess(self.studio.document.frame.crop[0], narrow[0])

    def test_straighten_by_a_drawn_line(self):
        w = self.window
        self.click(self.page.level)
        self.settle()
        self.drag(w.easel, w.easel.to_widget(40, 100), w.easel.to_widget(280, 120))
        self.settle()
        self.assertAlmostEqual(self.studio.document.frame.turn, -4.76, delta=0.4)
        self.assertFalse(self.page.level.isChecked())
        self.page.angle.setValue(3.0)
        self.settle()
        self.assertEqual(self.studio.document.frame.turn, 3.0)

    def test_four_corners_by_keys_and_the_whole_photo_again(self):
        w = self.window
        self.page.corners.setFocus()
        self.key(Qt.Key.Key_Space, widget=self.page.corners)
        for x, y in ((30, 30), (290, 40), (280, 220), (40, 210)):
            self.cross_to(x, y)
            self.key(Qt.Key.Key_Space, widget=w.easel)
        self.settle()
        corners = self.studio.document.frame.corners
        self.assertEqual(len(corners), 4)
        self.assertAlmostEqual(corners[0][0], 30, delta=2)
        self.click(self.page.reset)
        self.assertEqual(self.studio.document.frame, Frame())

    def test_escape_puts_the_tool_away(self):
        w = self.window
        self.click(self.page.corners)
        w.easel.setFocus()
        self.click_picture(60, 60)
        self.assertEqual(len(w.easel.points), 1)
        self.key(Qt.Key.Key_Escape, widget=w.easel)
        self.assertEqual(len(w.easel.points), 0)
        self.key(Qt.Key.Key_Escape, widget=w.easel)
        self.assertFalse(self.page.corners.isChecked())

    def test_notes_keep_their_place_in_the_photo(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(150, 100)
        lab, place = self.studio.document.notes[0].lab, self.studio.document.notes[0].place
        frame = Frame(turn=10.0, crop=(0.5, 0.5, 0.7, 0.7), mirror=True)
        self.studio.change("Frame", self.studio.document.model_copy(update={"frame": frame}))
        self.settle()
        note = self.studio.document.notes[0]
        self.assertEqual((note.lab, note.place), (lab, place))
        mark = w.easel._marks[0]
        at = w.easel.to_widget(mark.x, mark.y)
        self.click(w.note_station.tools["spot"])
        w.easel.marks_move = False
        self.click(w.easel, at)
        again = self.studio.document.notes[-1]
        self.assertAlmostEqual(again.place[0], place[0], delta=1.5)
        self.assertAlmostEqual(again.place[1], place[1], delta=1.5)


class Monitor(WindowCase):
    def tearDown(self) -> None:
        display.use(Screen())
        super().tearDown()

    def test_no_profile_is_said_and_a_chosen_one_is_used(self):
        w = self.window
        self.open()
        self.assertIn("no profile", w.display_words.text())
        plain = shown(w)
        file = self.folder / "monitor.icc"
        file.write_bytes(profiles.matrix_profile(profiles.PRIMARIES[12], 2.2))
        w.choose_profile(str(file))
        self.settle()
        self.assertNotIn("no profile", w.display_words.text())
        self.assertIn("monitor.icc", display.details())
        self.assertGreater(np.abs(shown(w).astype(int) - plain).max(), 10)
        np.testing.assert_array_equal(linear_to_code(w.studio.screen), plain)
        self.assertEqual(memory.load().monitor_profile, str(file))
        w.choose_profile("")
        self.settle()
        np.testing.assert_array_equal(shown(w), plain)

    def test_the_desktops_profile_is_found(self):
        file = self.folder / "known.icc"
        file.write_bytes(profiles.matrix_profile(profiles.PRIMARIES[12], 2.2))
        with mock.patch.object(display, "profile_file", return_value=file):
            self.window.find_display()
            self.settle()
        self.assertIn("desktop", display.details())

    def test_what_is_no_profile_is_refused(self):
        file = self.folder / "words.icc"
        file.write_bytes(b"words" * 50)
        self.window.choose_profile(str(file))
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
        w.studio.glimpsed.connect(lambda code: seen.append((code.shape[1], w.studio.picture.width)))
        w.studio.opening.connect(steps.append)
        w.filing.open(path, asked=True)
        self.wait(lambda: bool(seen))
        self.assertEqual(seen[0][1], 320, "the glimpse comes before the picture")
        self.assertLess(seen[0][0], 2000)
        self.assertTrue(w.progress.isVisible())
        w.stop_opening.click()
        self.settle()
        self.assertEqual(w.studio.picture.width, 320)
        np.testing.assert_array_equal(shown(w), before)
        self.assertFalse(w.progress.isVisible())
        self.open(path)
        self.assertEqual(w.studio.picture.width, 5600)
        self.assertEqual(steps[-1], 1.0)

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
        self.click(w.look.pages_.buttons["Scene"])
        w.reader.connect_to("", ("--warm-up", "0", "--seconds", "0.05", *options))
        self.settle()
        self.assertTrue(w.reader.connected)

    def test_connect_calibrate_read_with_keys(self):
        w = self.window
        self.connect()
        page = w.look.scene_page
        self.assertIn("not calibrated", page.state.text())
        self.key(Qt.Key.Key_R)
        self.settle()
        self.assertIn("Click the picture", self.complaint())
        self.click(page.calibrate)
        self.settle()
        self.assertIn("calibrated", page.state.text())
        w.take_tool("reader")
        self.key(Qt.Key.Key_Right, widget=w.easel)
        self.key(Qt.Key.Key_R)
        self.settle()
        note = self.studio.document.notes[0]
        self.assertEqual((note.source, len(note.spectrum)), ("reader", 36))
        self.assertIsNotNone(note.place)
        self.assertTrue(w.note_station.read_page.spectrum.isVisible())
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
        w.reader.calibrate()
        self.settle()
        w.go_to("Note")
        w.note_station.take("reader")
        self.click_picture(100, 100)
        self.settle()
        self.click_picture(200, 150)
        self.settle()
        self.assertIn("unplugged", self.complaint())
        self.assertEqual(len(self.studio.document.notes), 1, "the note before it is kept")
        self.assertFalse(w.reader.connected)
        self.assertIn("No reader", w.reader.words())
        self.click_picture(200, 150)
        self.assertIn("No reader is connected", self.complaint())

    def test_low_battery_is_told(self):
        w = self.window
        self.connect("--battery", "10")
        w.reader.calibrate()
        self.settle()
        self.assertIn("charge it soon", w.reader.words())
        self.click_picture(100, 100)
        self.settle()
        self.assertIn("battery", w.last_told)

    def test_warming_up_is_told_until_it_is_warm(self):
        w = self.window
        self.connect("--warm-up", "2")
        self.assertIn("warming", w.reader.words())
        self.click(w.look.scene_page.calibrate)
        self.settle()
        self.assertIn("warming up", self.complaint())
        self.wait(lambda: "warming" not in w.reader.words() and not w.reader.busy, 20)
        self.click(w.look.scene_page.calibrate)
        self.settle()
        self.assertIn(", calibrated", w.reader.words())

    def test_disconnect_ends_the_process(self):
        w = self.window
        self.connect()
        stand_in = w.reader._stand_in
        self.click(w.look.scene_page.connect_)
        self.assertFalse(stand_in.running)
        self.assertFalse(w.reader.connected)

    def test_no_port_is_told(self):
        self.window.reader.connect_to("/dev/no-such-port")
        self.settle()
        self.assertIn("/dev/no-such-port", self.complaint())


class Grips(WindowCase):
    def test_sides_and_corners(self):
        from ochre_stone.desktop.widgets.easelmarks import grip_at, sized

        cut = QRectF(100, 100, 200, 100)
        for at, grip in (
            (QPointF(100, 100), "lt"), (QPointF(300, 150), "r"), (QPointF(200, 200), "b"),
            (QPointF(200, 150), "inside"), (QPointF(20, 20), ""),
        ):  # fmt: skip
            self.assertEqual(grip_at(cut, at), grip)
        self.assertEqual(sized(cut, "r", 50, 0, None), QRectF(100, 100, 250, 100))
        kept = sized(cut, "rb", 100, 10, 2.0)
        self.assertAlmostEqual(kept.width() / kept.height(), 2.0)
        self.assertEqual(kept.topLeft(), cut.topLeft())
        self.assertEqual(QPoint(round(sized(cut, "lt", 100, 0, 2.0).right()), 0), QPoint(300, 0))
