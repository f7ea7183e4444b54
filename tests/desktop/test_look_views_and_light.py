"""Look by keys and clicks: views, light, the chart, what is lost."""

import numpy as np
import tifffile
from PIL import Image
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from ochre_stone.core.picture.balance import NEUTRAL_KELVIN
from tests.core.picture.test_light import chart_photo
from tests.desktop.helpers import KeysCase, shown

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Views(KeysCase):
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
        w.at("Look").light_page.stops.setValue(15)
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
            self.assertEqual(w.session.sight.view.grid, key)
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
        self.assertIn("33%", w.at("Look").see_page.lost.text())
        self.assertIn("darks crushed on 17%", w.at("Look").see_page.lost.text())
        self.key(Qt.Key.Key_L)
        self.settle()
        cover = w.easel._cover
        alpha = [[cover.pixelColor(x, y).alpha() > 0 for x in range(50, 400)] for y in (60, cover.height() // 2)]
        self.assertTrue(any(alpha[0]))
        self.assertFalse(any(alpha[1]), "nothing is marked where nothing is lost")
        w.go_to("Note")
        self.click_picture(100, 30)
        self.assertIn("burnt out", w.at("Note").read_page.warning.text())


class LightPage(KeysCase):
    def test_the_field_is_one_step_and_notes_follow(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(280, 200)
        before = self.studio.document.notes[0].lab
        w.go_to("Look")
        self.turn(w.at("Look").pages, "Light")
        page = w.at("Look").light_page
        page.field.setFocus()
        for _ in range(30):
            self.key(Qt.Key.Key_Left, widget=page.field)
        self.assertIn("lamp", page.field.items[0].state)
        self.settle()
        warmer = self.studio.document
        self.assertLess(warmer.light.kelvin, NEUTRAL_KELVIN)
        self.assertLess(warmer.notes[0].lab[2], before[2] - 1, "a warm light named as such is cooled")
        self.studio.undo.undo()
        self.settle()
        self.assertEqual(self.studio.document.notes[0].lab, before)
        self.assertEqual(page.where.text(), "The light was daylight.")

    def test_field_and_strips_at_once_lose_nothing(self):
        page = self.window.at("Look").light_page
        self.window.go_to("Note")
        self.click_picture(100, 100)
        self.window.go_to("Look", "Light")
        at = page.field.mark()
        self.drag(page.field, at, at - QPointF(0, 20))
        self.assertGreater(page.field.tint, 0, "up is greener")
        tint = float(page.field.tint)
        page.stops.setValue(-5)
        page.lift.setValue(40)
        self.settle()
        light = self.studio.document.light
        self.assertEqual((light.tint, light.stops, light.lift), (tint, -0.5, 0.4))

    def test_a_known_white_replaces_what_was_set_by_hand(self):
        w = self.window
        self.turn(w.at("Look").pages, "Light")
        page = w.at("Look").light_page
        page.stops.setValue(-15)
        page.field.setFocus()
        for _ in range(9):
            self.key(Qt.Key.Key_Left, widget=page.field)
        self.settle()
        for kind, stops in (("grey", -1.5), ("white", 0.0)):
            self.click(page.picks[kind])
            self.click_picture(230, 100)
            self.settle()
            light = self.studio.document.light
            self.assertEqual((light.kelvin, light.stops), (NEUTRAL_KELVIN, stops))
        y = linear_y(self.studio.document.seen(self.studio.picture, 80_000)[100, 230])
        self.assertAlmostEqual(y, 0.9, delta=0.06)

    def test_exposure_far_up_is_read_as_white_at_most(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(230, 100)
        w.at("Look").light_page.stops.setValue(40)
        self.settle()
        self.assertEqual(self.complaint(), "")
        self.assertEqual(self.studio.document.light.stops, 4.0)
        self.assertAlmostEqual(self.studio.document.notes[0].lab[0], 100, delta=0.1)
        self.click_picture(60, 60)
        w.at("Note").proposals.ask_whole()
        self.settle()
        for title in ("Mass", "Harmonise", "Mix"):
            w.go_to(title)
            self.settle()
        self.assertEqual(self.complaint(), "")

    def test_lift_says_what_it_costs(self):
        w = self.window
        pixels = np.random.default_rng(0).integers(8, 26, (240, 320, 3)).astype(np.uint8)
        path = self.folder / "dark.png"
        Image.fromarray(pixels).save(path)
        self.open(path)
        self.turn(w.at("Look").pages, "Light")
        w.at("Look").light_page.lift.setValue(100)
        self.settle()
        self.assertIn("Grain in the lifted darks", w.at("Look").light_page.honest.text())
        w.go_to("Note")
        self.click_picture(100, 100)
        self.assertIn("raised", w.at("Note").read_page.warning.text())

    def test_a_grey_card_by_keys(self):
        w = self.window
        self.turn(w.at("Look").pages, "Light")
        card = w.at("Look").light_page.picks["card"]
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
        self.turn(w.at("Look").pages, "Light")
        self.click(w.at("Look").light_page.chart)
        for x, y in (corners[2], corners[0], corners[3], corners[1]):
            self.click_picture(x, y)
        self.settle()
        self.assertEqual(self.studio.document.balance_from, "a colour chart")
        self.assertIn("24 patches", w.at("Look").light_page.said.text())
        self.assertFalse(w.at("Look").light_page.chart.isChecked())
        self.click(w.at("Look").light_page.reset)
        self.settle()
        self.assertEqual(self.studio.document.balance_from, "")

    def test_a_wrong_chart_is_refused(self):
        w = self.window
        self.turn(w.at("Look").pages, "Light")
        self.click(w.at("Look").light_page.chart)
        for x, y in ((20, 20), (300, 20), (300, 220), (20, 220)):
            self.click_picture(x, y)
        self.settle()
        self.assertIn("24", self.complaint())
        self.assertEqual(self.studio.document.balance_from, "")


def linear_y(rgb: np.ndarray) -> float:
    from ochre_stone.core.colour.spaces import SRGB_TO_XYZ

    return float(SRGB_TO_XYZ[1] @ rgb)
