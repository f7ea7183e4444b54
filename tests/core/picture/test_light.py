"""Temperature, tint, exposure, lift, the chart, what the photo lost, views."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, WHITE_D65, XYZ_TO_SRGB, encode_srgb, lab_to_xyz, lch, xyz_to_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import Balance, as_rows, balance_from, lift_gain, light_matrix, locus_white
from ochre_stone.core.picture.chart import find_chart, fit_chart, patch_places, read_chart, reference
from ochre_stone.core.picture.frame import Frame, framed
from ochre_stone.core.picture.losses import grain_in_darks, grain_in_values, losses
from ochre_stone.core.picture.picture import Picture, linear_to_code, linear_to_lab
from ochre_stone.core.picture.views import View, exaggerate, show, squint
from tests.support.made import blocks, orchard, picture


class Scene(unittest.TestCase):
    def test_daylight_without_tint_changes_nothing(self):
        np.testing.assert_allclose(locus_white(6504.0), WHITE_D65, atol=1e-6)
        np.testing.assert_array_equal(light_matrix(6504.0, 0.0, 0.0), np.eye(3))

    def test_a_grey_under_the_named_light_becomes_neutral(self):
        for kelvin in (2500.0, 4000.0, 9000.0):
            grey = XYZ_TO_SRGB @ (locus_white(kelvin) * 0.2)
            after = light_matrix(kelvin, 0.0, 0.0) @ grey
            self.assertLess(float(np.ptp(after)), 1e-6)

    def test_directions(self):
        """Lamplight named as such is cooled; a greenish light named as such is turned pink."""
        grey = np.full(3, 0.2)
        warm = light_matrix(3000.0, 0.0, 0.0) @ grey
        self.assertGreater(warm[2], warm[0])
        green = light_matrix(6504.0, 20.0, 0.0) @ grey
        self.assertLess(green[1], (green[0] + green[2]) / 2)
        np.testing.assert_allclose(light_matrix(6504.0, 0.0, 1.0) @ grey, 0.4)

    def test_a_grey_card_sets_the_exposure_too(self):
        after = balance_from((0.3, 0.25, 0.2), "card").apply(np.array((0.3, 0.25, 0.2)))
        self.assertAlmostEqual(float(SRGB_TO_XYZ[1] @ after), 0.18, delta=1e-4)

    @given(st.floats(0.01, 1.0))
    def test_lift_raises_the_darks_and_never_crosses_values(self, lift):
        y = np.linspace(0, 1, 4000)
        after = y * lift_gain(y, lift)
        self.assertTrue((np.diff(after) > 0).all())
        self.assertLess(float(after[-1]), 1.01)
        self.assertGreater(float(after[20] / y[20]), 1 + 2 * lift)

    def test_lift_keeps_hue_and_says_how_much_it_raised(self):
        rgb = np.array([[0.02, 0.01, 0.004], [0.6, 0.5, 0.2]], np.float32)
        lifted = Balance(lift=0.8).apply(rgb)
        before, after = (lch(xyz_to_lab(c @ SRGB_TO_XYZ.T))[2] for c in (rgb, lifted))
        np.testing.assert_allclose(before[1], after[1], atol=0.3)
        np.testing.assert_allclose(lifted[0] / rgb[0], lifted[0, 0] / rgb[0, 0], rtol=1e-4)
        L = float(linear_to_lab(lifted)[0, 0])
        self.assertAlmostEqual(Balance(lift=0.8).lifted(L), float(lifted[0, 0] / rgb[0, 0]), delta=0.03)
        self.assertEqual(Balance().lifted(L), 1.0)


def chart_photo(tint: np.ndarray, noise: float = 0.0, turn: bool = False) -> tuple[Picture, list[tuple[float, float]]]:
    """A photo of the chart in a grey room under a light, and where its corners are."""
    rng = np.random.default_rng(4)
    linear = np.full((500, 720, 3), 0.1)
    rgb = (lab_to_xyz(reference()[1]) @ XYZ_TO_SRGB.T).reshape(4, 6, 3)
    if turn:
        rgb = rgb[::-1, ::-1]
    for row in range(4):
        for column in range(6):
            y, x = 60 + row * 95, 75 + column * 95
            linear[y + 8 : y + 87, x + 8 : x + 87] = rgb[row, column]
    linear = np.maximum(linear @ tint.T, 0) + rng.normal(0, noise, linear.shape)
    code = np.round(encode_srgb(linear) * 65535).astype(np.uint16)
    from ochre_stone.core.picture.picture import srgb_encoding

    made = Picture(code, "chart.tif", b"", (), srgb_encoding(2))
    return made, [(75.0, 60.0), (645.0, 60.0), (645.0, 440.0), (75.0, 440.0)]


class Chart(unittest.TestCase):
    tint = np.array([[0.7, 0.1, 0.0], [0.05, 0.55, 0.02], [0.0, 0.06, 0.32]])

    def test_a_tinted_chart_is_corrected_whichever_way_it_lies(self):
        for turn in (False, True):
            p, corners = chart_photo(self.tint, 0.001, turn)
            for quarter in range(4):
                code = np.ascontiguousarray(np.rot90(p.code, quarter))
                turned = Picture(code, p.name, b"", (), p.encoding)
                there = corners
                width, height = p.width, p.height
                for _ in range(quarter):  # np.rot90 turns against the clock
                    there = [(y, width - x) for x, y in there]
                    width, height = height, width
                found = find_chart(turned, [there[i] for i in (2, 0, 3, 1)])
                self.assertLess(found.mean, 0.6)
                self.assertGreater(found.before, 8)
                self.assertIn("24 patches", found.words)

    def test_burnt_out_patches_are_left_out(self):
        p, corners = chart_photo(np.eye(3) * 1.15)
        colours, lost = read_chart(p, corners)
        self.assertTrue(lost.any())
        found = fit_chart(colours, lost)
        self.assertEqual(found.lost, int(lost.sum()))
        self.assertLess(found.mean, 0.6)

    def test_what_is_no_chart_is_refused(self):
        with self.assertRaises(OchreError) as caught:
            find_chart(picture(orchard()), [(10, 10), (300, 10), (300, 230), (10, 230)])
        self.assertIn("24", str(caught.exception))
        with self.assertRaises(OchreError) as caught:
            find_chart(picture(orchard()), [(10, 10), (50, 10), (50, 40), (10, 40)])
        self.assertIn("small", str(caught.exception))
        p, corners = chart_photo(np.eye(3) * 40)
        with self.assertRaises(OchreError):
            find_chart(p, corners)

    def test_patch_places_follow_perspective(self):
        corners = ((100.0, 100.0), (700.0, 160.0), (660.0, 480.0), (120.0, 560.0))
        middles, reach = patch_places(corners)
        self.assertEqual(middles.shape, (24, 2))
        self.assertGreater(
            float(np.linalg.norm(middles[18] - middles[0])), float(np.linalg.norm(middles[23] - middles[5]))
        )
        self.assertTrue((reach > 10).all())


class Lost(unittest.TestCase):
    def test_shares_and_places(self):
        pixels = np.full((200, 300, 3), 120, np.uint8)
        pixels[:40] = 255
        pixels[180:, :150] = 0
        found = losses(framed(picture(pixels), Frame()))
        self.assertAlmostEqual(found.lights_share, 0.2, delta=1e-3)
        self.assertAlmostEqual(found.darks_share, 0.05, delta=1e-3)
        self.assertGreater(float(found.lights[10, 100]), 0.9)
        self.assertIn("20%", found.words)
        below = losses(framed(picture(pixels), Frame(crop=(0.5, 0.65, 1.0, 0.7))))
        self.assertLess(below.lights_share, 0.01, "the shares are those of the frame")
        self.assertIn("all there", losses(framed(picture(orchard()), Frame())).words)

    def test_grain_is_measured_where_it_is_dark(self):
        rng = np.random.default_rng(1)
        for sigma in (0.001, 0.003):
            light = np.clip(0.012 + rng.normal(0, sigma, (300, 300, 1)), 0, 1)
            deep = np.round(encode_srgb(np.repeat(light, 3, axis=2)) * 65535).astype(np.uint16)
            import io

            import tifffile

            from ochre_stone.core.picture.load import load_bytes

            out = io.BytesIO()
            tifffile.imwrite(out, deep, photometric="rgb")
            found = grain_in_darks(load_bytes(out.getvalue(), "dark.tif"))
            self.assertAlmostEqual(found, sigma, delta=0.2 * sigma)
            plain, lifted = (grain_in_values(found, Balance(lift=v)) for v in (0.0, 1.0))
            self.assertGreater(lifted, 1.05 * plain, "a lift raises grain with the darks")
        self.assertEqual(grain_in_darks(picture(np.full((100, 100, 3), 200, np.uint8))), 0.0)


class Views(unittest.TestCase):
    def test_exaggerated_chroma_keeps_luminance_and_lean(self):
        linear = picture(orchard()).linear()
        strong = exaggerate(linear)
        np.testing.assert_allclose(strong @ SRGB_TO_XYZ[1], linear @ SRGB_TO_XYZ[1], atol=2e-4)
        near_grey = np.array([[[0.21, 0.2, 0.19]]], np.float32)
        more = exaggerate(near_grey)[0, 0]
        self.assertGreater(float(np.ptp(more)), 2.5 * 0.02)
        self.assertTrue(more[0] > more[1] > more[2])
        self.assertGreaterEqual(float(strong.min()), -1e-4)
        self.assertLessEqual(float(strong.max()), 1 + 1e-4)

    def test_views_combine(self):
        linear = picture(blocks((200, 40, 40), (40, 90, 200))).linear()
        y = np.repeat((linear @ SRGB_TO_XYZ[1])[..., None], 3, axis=2)
        values = show(linear, View(value=True, chroma=True))
        self.assertLessEqual(int(np.abs(values.astype(int) - linear_to_code(y)).max()), 1)
        mirrored = show(linear, View(value=True, mirror=True))
        np.testing.assert_array_equal(mirrored[:, ::-1], show(linear, View(value=True)))
        np.testing.assert_array_equal(show(linear, View(chroma=True)), linear_to_code(exaggerate(linear)))
        np.testing.assert_array_equal(
            show(linear, View(squint=True, strength=0.3, chroma=True)), linear_to_code(exaggerate(squint(linear, 0.3)))
        )

    def test_rows_of_a_matrix(self):
        self.assertEqual(as_rows(np.eye(3)), Balance().matrix)
