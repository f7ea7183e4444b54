"""What is said of losses, and small arithmetic of reading a picture."""

import math
import unittest

import colour as reference_colour
import numpy as np
from PIL import Image

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import Balance, locus_white
from ochre_stone.core.picture.chart import reference
from ochre_stone.core.picture.frame import Frame, framed, turn_from_line
from ochre_stone.core.picture.load import load_bytes
from ochre_stone.core.picture.losses import Losses, grain_in_darks, grain_in_values, losses
from ochre_stone.core.picture.picture import linear_to_code
from ochre_stone.core.picture.sampling import area_region, look_at
from tests.support.made import encoded, picture


class Lost(unittest.TestCase):
    def test_words(self):
        def lost(lights: float, darks: float) -> str:
            zero = np.zeros((1, 1), np.float32)
            return Losses(zero, zero, lights, darks, 0.0).words

        self.assertEqual(lost(0.0004, 0.0004), "Nothing to speak of: lights and darks are all there.")
        self.assertEqual(lost(0.0005, 0.0), "Lights burnt out on 0.1% of the picture.")
        self.assertEqual(lost(0.003, 0.0019), "Lights burnt out on 0.3% and darks crushed on 0.2% of the picture.")
        self.assertEqual(
            lost(0.002, 0.0031),
            "Lights burnt out on 0.2% and darks crushed on 0.3% of the picture. Judge those places from life or from "
            "another exposure.",
        )
        self.assertTrue(lost(0.0, 0.125).startswith("Darks crushed on 12% of the picture. Judge"))

    def test_shares_of_a_large_picture(self):
        """Larger than the map: a tenth burnt out, a twentieth crushed, each where it is."""
        pixels = np.full((900, 1000, 3), 128, np.uint8)
        pixels[:, :100] = 255
        pixels[:, 950:] = 0
        found = losses(framed(picture(pixels), Frame()))
        self.assertLessEqual(found.lights.size, 400_000)
        self.assertAlmostEqual(found.lights_share, 0.1, delta=0.001)
        self.assertAlmostEqual(found.darks_share, 0.05, delta=0.001)
        self.assertEqual(float(found.lights[:, found.lights.shape[1] // 5 :].max()), 0.0)
        self.assertEqual(float(found.darks[:, -3:].min()), 1.0)
        self.assertEqual(float(found.darks[:, : found.darks.shape[1] * 9 // 10].max()), 0.0)

    def test_grain_of_known_noise(self):
        """Independent noise of a known spread on a dark field, in linear light, is measured as such."""
        rng = np.random.default_rng(2)
        for sd in (0.001, 0.003):
            y = 0.015 + rng.normal(0, sd, (480, 300, 1)).repeat(3, axis=2)
            made = picture(np.asarray(linear_to_code(np.clip(y, 0, 1))))
            self.assertAlmostEqual(grain_in_darks(made), sd, delta=0.15 * sd)
        self.assertEqual(grain_in_darks(picture(np.full((480, 300, 3), 200, np.uint8))), 0.0)

    def test_grain_in_steps_of_value(self):
        self.assertEqual(grain_in_values(0.0, Balance()), 0.0)
        one, two = grain_in_values(0.001, Balance()), grain_in_values(0.002, Balance())
        self.assertTrue(0.05 < one < two < 2.3 * one, (one, two))
        lifted = Balance(tuple(tuple(float(v) for v in row) for row in np.eye(3) * 4))
        self.assertNotAlmostEqual(grain_in_values(0.001, lifted), one, places=2)


class Drawn(unittest.TestCase):
    def test_a_line_of_eight_pixels_is_long_enough(self):
        self.assertAlmostEqual(turn_from_line((0, 0), (8, 0)), 0.0)
        self.assertAlmostEqual(turn_from_line((0, 0), (100, 10)), -math.degrees(math.atan2(10, 100)))
        self.assertAlmostEqual(turn_from_line((0, 0), (10, 100)), math.degrees(math.atan2(10, 100)))
        with self.assertRaises(OchreError):
            turn_from_line((0, 0), (7.9, 0))

    def test_a_large_area_is_thinned_and_reads_the_same(self):
        pixels = np.full((1200, 1200, 3), (120, 90, 60), np.uint8)
        pixels[:, 900:] = (20, 40, 200)
        made = picture(pixels)
        small = look_at(made, area_region(made, [(10, 10), (60, 10), (60, 60), (10, 60)]))
        region = area_region(made, [(5, 5), (890, 5), (890, 1190), (5, 1190)])
        large = look_at(made, region)
        self.assertEqual(region.step, 5)
        self.assertTrue(30_000 < region.inside.sum() <= 60_000, region.inside.sum())
        np.testing.assert_allclose(large.lab, small.lab, atol=1e-6)
        self.assertEqual(large.clipped, 0.0)


class Orientations(unittest.TestCase):
    def test_all_eight(self):
        """EXIF orientation n of a stored picture, against what turning and flipping it by hand gives (CIPA DC-008)."""
        pixels = np.zeros((40, 60, 3), np.uint8)
        pixels[:20, :30], pixels[:20, 30:], pixels[20:, :30] = (200, 0, 0), (0, 200, 0), (0, 0, 200)
        upright = {
            1: pixels, 2: pixels[:, ::-1], 3: pixels[::-1, ::-1], 4: pixels[::-1], 5: pixels.swapaxes(0, 1),
            6: np.rot90(pixels, -1), 7: pixels[::-1, ::-1].swapaxes(0, 1), 8: np.rot90(pixels),
        }  # fmt: skip
        for n, want in upright.items():
            exif = Image.Exif()
            exif[0x0112] = n
            for kind in ("PNG", "TIFF"):
                data = encoded(pixels, kind, exif=exif)
                got = load_bytes(data, f"o.{kind.lower()}").code
                self.assertEqual(got.shape, want.shape, (n, kind))
                np.testing.assert_array_equal(got, want, f"{n} {kind}")


class Locus(unittest.TestCase):
    def test_against_the_published_planckian_locus(self):
        """Krystek 1985 (Color Res. Appl. 10(1)) as colour-science has it: its u, v, moved so that 6504 K is D65."""

        def uv(xyz: np.ndarray) -> np.ndarray:
            X, Y, Z = xyz
            return np.array([4 * X, 6 * Y]) / (X + 15 * Y + 3 * Z)

        at = {k: uv(locus_white(k)) for k in (3000.0, 4000.0, 8000.0, 12000.0)}
        want = {k: np.asarray(reference_colour.temperature.CCT_to_uv_Krystek1985(k)) for k in at}
        shift = [at[k] - want[k] for k in at]
        for s in shift:
            np.testing.assert_allclose(s, shift[0], atol=3e-3)
        self.assertLess(float(np.abs(shift).max()), 0.005)
        self.assertGreater(float(uv(locus_white(5000.0, 5.0))[1]), float(uv(locus_white(5000.0))[1]))
        np.testing.assert_allclose(SRGB_TO_XYZ.sum(axis=1), locus_white(6504.0), atol=2e-3)


class Published(unittest.TestCase):
    def test_the_charts_values_cannot_be_changed(self):
        names, lab = reference()
        self.assertEqual((len(names), lab.shape), (24, (24, 3)))
        with self.assertRaises(ValueError):
            lab[0, 0] = 1.0
