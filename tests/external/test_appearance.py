"""Colour appearance, simultaneous contrast and Munsell in bulk, against published figures and colour-science.

Sources: CIE 248:2022 and Li et al. 2017 (CIECAM16, with their worked example); Breneman 1987, J. Opt. Soc. Am. A 4
(corresponding colours, data through colour-science); Newhall, Nickerson and Judd 1943 (renotation); the direction rules
of simultaneous contrast are common practice, no source (Chevreul and Itten teach them; from memory).
"""

import unittest
import warnings

import colour
import numpy as np

from ochre_stone.core.colour import munsell
from ochre_stone.core.colour.appearance import Conditions, appearance, xyz_of
from ochre_stone.core.colour.contrast import seen_against
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import adaptation, xyz_to_lab
from ochre_stone.core.colour.wheel import turn, wheel


class Model(unittest.TestCase):
    def test_published_worked_example(self):
        c = Conditions(white=(0.9505, 1.0, 1.0888), background=0.2, adapting=318.31)
        seen = appearance(np.array([0.1901, 0.2, 0.2178]), c)
        self.assertAlmostEqual(float(seen.J), 41.7312, delta=1e-3)
        self.assertAlmostEqual(float(seen.C), 0.10336, delta=1e-4)
        self.assertAlmostEqual(float(seen.h), 217.068, delta=1e-2)
        self.assertAlmostEqual(float(seen.M), 0.10744, delta=1e-4)

    def test_against_colour_science(self):
        rng = np.random.default_rng(6)
        xyz = rng.random((500, 3)) @ np.array([[0.41, 0.21, 0.02], [0.36, 0.72, 0.12], [0.18, 0.07, 0.95]])
        for background, adapting in ((0.05, 4.0), (0.2, 64.0), (0.7, 318.0)):
            white = np.array([0.9505, 1.0, 1.0888])
            reference = colour.XYZ_to_CIECAM16(xyz * 100, white * 100, adapting, background * 100)
            seen = appearance(xyz, Conditions(tuple(white), background, adapting))
            np.testing.assert_allclose(seen.J, reference.J, atol=1e-3)
            np.testing.assert_allclose(seen.C, reference.C, atol=1e-3)
            np.testing.assert_allclose(np.cos(np.radians(seen.h - reference.h)), 1, atol=1e-6)

    def test_corresponding_colours_of_breneman(self):
        """Colours matched by eye between lamp light and daylight: the model must beat doing nothing, and come near."""
        model, nothing = [], []
        for number in (1, 2, 8):
            results = colour.BRENEMAN_EXPERIMENTS[number]
            level = float(colour.BRENEMAN_EXPERIMENT_PRIMARIES_CHROMATICITIES[number].Y)
            white = next(r for r in results if r.name == "Illuminant")

            def xyz(uv: np.ndarray, y: float) -> np.ndarray:
                x_y = colour.Luv_uv_to_xy(uv)
                return colour.xyY_to_XYZ([*x_y, y])

            lamp, day = (Conditions(tuple(xyz(uv, 1.0)), 0.3, level / 5, full=True) for uv in (white.uv_t, white.uv_m))
            for r in results:
                if r.name in ("Illuminant",):
                    continue
                seen = appearance(xyz(r.uv_t, 0.3), lamp)
                predicted = xyz_of(seen, day)
                uv = np.array([4 * predicted[0], 9 * predicted[1]]) / (predicted @ [1, 15, 3])
                model.append(float(np.linalg.norm(uv - r.uv_m)))
                nothing.append(float(np.linalg.norm(r.uv_t - r.uv_m)))
        self.assertGreater(len(model), 25)
        self.assertLess(float(np.mean(model)), 0.35 * float(np.mean(nothing)))
        self.assertLess(float(np.mean(model)), 0.02, "u'v'; the best models reach about .01 on these data")


class DirectionRules(unittest.TestCase):
    """Common practice, no source."""

    def at(self, angle: float, lightness: float = 55.0, chroma: float = 45.0) -> tuple[float, float, float]:
        hue = np.radians(float(wheel("traditional").lab_hue(angle)))
        return lightness, chroma * float(np.cos(hue)), chroma * float(np.sin(hue))

    def test_a_grey_is_lighter_on_black_and_darker_on_white(self):
        grey = (55.0, 0.0, 0.0)
        on_black, on_white = seen_against(grey, (5.0, 0.0, 0.0)), seen_against(grey, (98.0, 0.0, 0.0))
        self.assertGreater(on_black.value, 0.3)
        self.assertLess(on_white.value, -0.3)
        self.assertIn("lighter", on_black.words())
        self.assertIn("darker", on_white.words())

    def test_a_grey_takes_on_the_complement_of_its_neighbour(self):
        """Beside orange it seems blue, beside red green, beside yellow violet, beside blue orange."""
        for angle in range(0, 360, 30):
            seems = seen_against((55.0, 0.0, 0.0), self.at(angle)).seems
            off = abs(float(turn(read(seems).hue_angle, angle + 180)))
            self.assertLess(off, 50, angle)
        beside_orange = seen_against((55.0, 0.0, 0.0), self.at(60))
        self.assertIn("blue", beside_orange.words())

    def test_complements_strengthen_each_other_and_like_colours_dull_each_other(self):
        for angle in (0, 60, 120, 240):
            colour_ = self.at(angle, chroma=30.0)
            self.assertGreater(read(seen_against(colour_, self.at(angle + 180)).seems).chroma, read(colour_).chroma)
            self.assertLess(read(seen_against(colour_, self.at(angle, chroma=80.0)).seems).chroma, read(colour_).chroma)

    def test_hues_push_each_other_apart(self):
        """An orange beside red seems yellower, beside yellow redder."""
        orange = self.at(60, chroma=35.0)
        here = read(orange).hue_angle
        self.assertGreater(float(turn(here, read(seen_against(orange, self.at(0)).seems).hue_angle)), 2)
        self.assertLess(float(turn(here, read(seen_against(orange, self.at(120)).seems).hue_angle)), -2)

    def test_it_acts_most_at_equal_value(self):
        def pull(lightness: float) -> float:
            return float(np.hypot(*seen_against((55.0, 0.0, 0.0), self.at(60, lightness)).seems[1:]))

        self.assertGreater(pull(55.0), 1.3 * pull(85.0))
        self.assertGreater(pull(55.0), 1.3 * pull(20.0))


class MunsellInBulk(unittest.TestCase):
    def test_hundreds_of_colours_between_the_chips(self):
        """Random notations through colour-science's interpolation of the renotation, read back by the table."""
        rng = np.random.default_rng(12)
        to_d65 = adaptation(colour.xy_to_XYZ(colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["C"]))
        hue_off, chroma_off, value_off = [], [], []
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            while len(hue_off) < 300:
                family = int(rng.integers(0, 10))
                within, value, chroma = rng.uniform(0.3, 10), rng.uniform(2.2, 8.8), rng.uniform(1.5, 9)
                words = f"{within:.2f}{munsell.HUE_NAMES[family]} {value:.2f}/{chroma:.2f}"
                try:
                    xyy = colour.munsell_colour_to_xyY(words)
                except Exception:
                    continue  # beyond the reference's own data
                xyz = colour.xyY_to_XYZ(xyy)
                # The reference counts value against magnesium oxide; take the luminance of ASTM D1535 at this value.
                xyz = xyz / xyz[1] * float(munsell.luminance_of_value(value))
                hue, v, c, extrapolated = munsell.hue_value_chroma(xyz_to_lab(xyz @ to_d65.T))
                if bool(extrapolated):
                    continue
                goal = within + 10 * family
                hue_off.append(abs((float(hue) - goal + 50) % 100 - 50))
                chroma_off.append(abs(float(c) - chroma))
                value_off.append(abs(float(v) - value))
        found = {
            k: np.percentile(o, [50, 95, 99]).round(3).tolist()
            for k, o in (("hue", hue_off), ("chroma", chroma_off), ("value", value_off))
        }
        self.assertLess(found["hue"][1], 0.6, found)
        self.assertLess(found["chroma"][1], 0.25, found)
        self.assertLess(found["value"][2], 0.05, found)
