"""Calibration: what is learned, what is left out, how sure it is; and a photographed chart read back."""

import unittest
from dataclasses import replace

import cv2
import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.calibrate import NOISE, Swatch, calibrate
from ochre_stone.core.paint.calibration import corrected
from ochre_stone.core.paint.chart import chart_values, make_chart
from ochre_stone.core.paint.chartpage import pages
from ochre_stone.core.paint.optics import layer_lab, reflectance
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import spectra, uncertainty
from ochre_stone.core.paint.tubes import tube
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.load import load_bytes
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.core.planning.chartreading import read_page
from tests.support.drawn import perturbed
from tests.support.made import encoded

WHITE, BLUE, OCHRE = (tube(i) for i in ("titanium-white", "ultramarine-blue", "yellow-ochre"))


def painted(tubes, parts, label="", noise=0.0, seed=1) -> Swatch:
    real = {t.id: t for t in tubes}
    K, S = spectra([real[i] for i in parts], list(parts.values()))
    lab = layer_lab(K, S) + np.random.default_rng(seed).normal(0, noise, 3)
    return Swatch(label or str(parts), parts, as_lab(lab))


def changed(t, **x):
    order = ("strength", "scatter", "shift")
    K, S = corrected(t.K, t.S, np.array([*(x.get(f, 0.0) for f in order), 0, 0, 0, 0, 0]))
    return replace(t, K=K, S=S, stamp="real")


class Learning(unittest.TestCase):
    def test_strength_is_found_from_one_tint(self):
        mine = changed(BLUE, strength=0.3)
        found = calibrate([WHITE, BLUE], [painted([WHITE, mine], {WHITE.id: 5.0, BLUE.id: 1.0})], NOISE["reader"])
        learned = found.corrections[BLUE.id]
        self.assertGreater(learned.strength, 0.03)
        self.assertLess(found.after, found.before / 3)
        self.assertLess(learned.strength_sd, BLUE.tolerance.strength)
        K, S = learned.apply(BLUE.K, BLUE.S)
        for white in (1.0, 15.0):  # tints that were not painted
            parts = {WHITE.id: white, BLUE.id: 1.0}
            truth = painted([WHITE, mine], parts).lab
            before = float(ciede2000(painted([WHITE, BLUE], parts).lab, truth))
            after = float(ciede2000(painted([WHITE, replace(BLUE, K=K, S=S)], parts).lab, truth))
            self.assertLess(after, before * 0.6)

    def test_nothing_is_learned_where_nothing_differs(self):
        swatches = [painted([WHITE, BLUE], {WHITE.id: w, BLUE.id: 1.0}) for w in (0.5, 2.0, 8.0)]
        learned = calibrate([WHITE, BLUE], swatches).corrections[BLUE.id]
        self.assertLess(abs(learned.strength), 0.01)
        self.assertLess(abs(learned.shift), 0.2)

    def test_a_shift_of_hue_is_found_from_tints_and_mass_tone(self):
        mine = changed(OCHRE, shift=6.0)
        swatches = [painted([WHITE, mine], {WHITE.id: w, OCHRE.id: 1.0}) for w in (0.01, 0.5, 2.0, 8.0)]
        found = calibrate([WHITE, OCHRE], swatches, NOISE["reader"])
        self.assertLess(found.after, 0.4)
        K, S = found.corrections[OCHRE.id].apply(OCHRE.K, OCHRE.S)
        unseen = {WHITE.id: 4.0, OCHRE.id: 1.0}
        truth = painted([WHITE, mine], unseen).lab
        guess = painted([WHITE, replace(OCHRE, K=K, S=S)], unseen).lab
        self.assertLess(float(ciede2000(guess, truth)), 0.3)

    def test_spectra_tell_more_than_colours(self):
        rng = np.random.default_rng(5)
        mine = perturbed(BLUE, rng)
        parts = {WHITE.id: 4.0, BLUE.id: 1.0}
        colour = painted([WHITE, mine], parts)
        R = reflectance(*spectra([WHITE, mine], [4.0, 1.0]))
        full = replace(colour, spectrum=tuple(float(v) for v in R))
        errors = []
        for swatch in (colour, full):
            K, _ = calibrate([WHITE, BLUE], [swatch], NOISE["reader"]).corrections[BLUE.id].apply(BLUE.K, BLUE.S)
            errors.append(float(np.abs(np.log(K[3:33] / mine.K[3:33])).mean()))
        self.assertLess(errors[1], errors[0])

    def test_a_calibrated_tube_is_surer(self):
        swatches = [painted([WHITE, BLUE], {WHITE.id: w, BLUE.id: 1.0}) for w in (0.5, 2.0, 8.0)]
        found = calibrate([WHITE, BLUE], swatches, NOISE["reader"]).corrections
        sure = []
        for t in (WHITE, BLUE):
            c = found[t.id]
            sure.append(replace(t, tolerance=type(t.tolerance)(c.strength_sd, c.scatter_sd, c.hue_sd)))
        parts = np.array([4.0, 1.0])
        self.assertLess(uncertainty(sure, parts), 0.8 * uncertainty([WHITE, BLUE], parts))

    def test_swapped_labels_are_found(self):
        chart = make_chart(palette("four-tube-earth"), chart_values(6))
        tubes = palette("four-tube-earth").tubes
        rng = np.random.default_rng(2)
        mine = [perturbed(t, rng) for t in tubes]
        swatches = [painted(mine, dict(c.parts), c.label, 0.7, i) for i, c in enumerate(chart.cells)]
        a, b = (next(i for i, s in enumerate(swatches) if s.label == label) for label in ("B4", "G5"))
        swatches[a], swatches[b] = replace(swatches[a], lab=swatches[b].lab), replace(swatches[b], lab=swatches[a].lab)
        found = calibrate(tubes, swatches, 1.0)
        self.assertEqual({t.swatch.label for t in found.outliers}, {"B4", "G5"})
        self.assertEqual({t.resembles for t in found.outliers}, {"B4", "G5"})
        self.assertLess(found.after, found.before / 2)

    def test_honest_noise_is_no_slip(self):
        """Swatches painted by an unsteady hand, each off by 2 to 8 in some direction: none is a slip among them."""
        tubes = palette("four-tube-earth").tubes
        cells = make_chart(palette("four-tube-earth"), chart_values(6), ("singles", "pairs")).cells
        rng = np.random.default_rng(9)
        swatches = []
        for c in cells:
            way = rng.normal(0, 1, 3)
            size = rng.uniform(2.0, 8.0)
            lab = np.array(painted(tubes, dict(c.parts)).lab) + way / np.linalg.norm(way) * size
            swatches.append(Swatch(c.label, dict(c.parts), as_lab(lab)))
        found = calibrate(tubes, swatches, 1.0)
        self.assertEqual(found.outliers, ())
        self.assertEqual(len(found.swatches), len(cells))
        self.assertGreater(max(t.gap_after for t in found.swatches), 5)

    def test_what_cannot_be_learned_from(self):
        for swatches, words in (
            ([], "nothing to learn"),
            ([Swatch("A1", {"moon-blue": 1.0}, (50, 0, 0))], "moon-blue"),
            ([Swatch("A1", {BLUE.id: 0.0}, (50, 0, 0))], "A1"),
            ([Swatch("A1", {BLUE.id: -1.0, WHITE.id: 2.0}, (50, 0, 0))], "A1"),
        ):
            with self.subTest(words=words), self.assertRaises(OchreError) as caught:
                calibrate([WHITE, BLUE], swatches)
            self.assertIn(words, str(caught.exception))


class Photographed(unittest.TestCase):
    def photo(self, warp: bool = True):
        chart = make_chart(palette("four-tube-earth"), chart_values(6))
        page, scale = pages(chart)[0], 5
        sheet = np.full((int(page.height * scale), int(page.width * scale), 3), 0.8, dtype=np.float32)
        for c, box in page.cells:
            y, x = int(box.y * scale), int(box.x * scale)
            sheet[y : y + int(box.height * scale), x : x + int(box.width * scale)] = np.clip(
                lab_to_linear(np.array(c.lab)), 0, 1
            )
        corners = np.array([[(x * scale, y * scale) for x, y in page.corners]], dtype=np.float32)
        to = np.array([[80, 40], [1000, 90], [1050, 1380], [30, 1420]], dtype=np.float32)
        whole = np.array([[0, 0], [1050, 0], [1050, 1485], [0, 1485]], dtype=np.float32)
        move = cv2.getPerspectiveTransform(whole, to)
        picture = cv2.warpPerspective(sheet, move, (1100, 1450))
        crosses = cv2.perspectiveTransform(corners, move)[0]
        return page, load_bytes(encoded(linear_to_code(picture)), "chart.png"), crosses

    def test_the_cells_come_back(self):
        page, picture, crosses = self.photo()
        found, lost = read_page(picture, page, crosses, Balance())
        self.assertGreater(len(found), 0.9 * len(page.cells))
        self.assertEqual(len(found) + len(lost), len(page.cells))
        cells = {c.label: c for c, _ in page.cells}
        # Eight bits and saturated cells beyond the screen's gamut cost a little.
        off = [float(ciede2000(s.lab, cells[s.label].lab)) for s in found]
        self.assertLess(np.median(off), 0.6)

    def test_crosses_outside_the_photo(self):
        page, picture, crosses = self.photo()
        with self.assertRaises(OchreError) as caught:
            read_page(picture, page, crosses + 4000, Balance())
        self.assertIn("outside", str(caught.exception))
        with self.assertRaises(OchreError) as caught:
            read_page(picture, page, crosses / 60 + 300, Balance())
        self.assertIn("too small", str(caught.exception))
