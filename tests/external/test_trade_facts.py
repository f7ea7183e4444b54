"""What painters know of their tubes. Common practice, no source: directions, not figures."""

import unittest

import numpy as np

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import all_tubes, tube


def seen(**parts: float):
    return read(predict({name.replace("_", "-"): n for name, n in parts.items()}).lab)


class RulesOfThumb(unittest.TestCase):
    def test_values_of_tubes(self):
        red, ochre, black = seen(cadmium_red=1), seen(yellow_ochre=1), seen(ivory_black=1)
        self.assertTrue(3.5 < red.value < 5.5, red.value)  # a middle red sits near 5 of ten steps
        self.assertGreater(ochre.value, red.value)
        self.assertLess(black.value, 2)  # of the earth tubes only black reaches the darkest of six steps

    def test_white_cools_and_dulls(self):
        for name in ("cadmium_red", "quinacridone_rose", "alizarin_crimson", "naphthol_red"):
            tints = [seen(**{name: 1, "titanium_white": n}) for n in (2, 8)]
            mass_hue = float(lch(np.array(seen(**{name: 1}).lab))[2])
            hues = [float(lch(np.array(t.lab))[2]) for t in tints]
            # Toward blue: away from the warm pole at orange.
            off = [abs((h - 60 + 180) % 360 - 180) for h in (mass_hue, *hues)]
            self.assertLess(off[0], off[1], name)
            self.assertLess(tints[1].chroma, tints[0].chroma, name)

    def test_yellow_lightens_with_chroma_kept_where_white_does_not(self):
        by_yellow = seen(cadmium_red=1, cadmium_yellow_medium=8)
        self.assertGreater(by_yellow.value, seen(cadmium_red=1).value + 0.8)
        # As much white as lightens the red to the same value.
        tints = [seen(cadmium_red=8, titanium_white=n) for n in range(1, 40)]
        by_white = min(tints, key=lambda t: abs(t.value - by_yellow.value))
        self.assertAlmostEqual(by_white.value, by_yellow.value, delta=0.15)
        self.assertGreater(by_yellow.chroma, by_white.chroma * 1.1)

    def test_black_and_yellow_make_green(self):
        mixed = seen(ivory_black=1, cadmium_yellow_light=4)
        self.assertTrue(120 < mixed.hue_angle < 180, mixed.hue)

    def test_black_and_white_lean_blue(self):
        grey = predict({"ivory-black": 1, "titanium-white": 6}).lab
        self.assertLess(grey[2], 0)

    def test_orange_brown_and_ultramarine_are_nearly_neutral_and_dark(self):
        mixed = seen(burnt_sienna=1, ultramarine_blue=1)
        self.assertLess(mixed.value, 2.6)
        self.assertLess(mixed.chroma, 1.5)

    def test_complements_dull(self):
        for a, b in (
            ("cadmium_red", "viridian"),
            ("cadmium_orange", "ultramarine_blue"),
            ("cadmium_yellow_light", "dioxazine_violet"),
        ):
            alone = seen(**{a: 1, "titanium_white": 1})
            mixed = seen(**{a: 4, b: 1, "titanium_white": 4})
            self.assertLess(mixed.chroma, alone.chroma * 0.8, (a, b))

    def test_orange_red_goes_grey_with_blue_and_bluish_red_stays_violet(self):
        warm = seen(cadmium_red_light=1, ultramarine_blue=1, titanium_white=4)
        cool = seen(quinacridone_magenta=1, ultramarine_blue=1, titanium_white=4)
        self.assertLess(warm.chroma, cool.chroma * 0.6)
        self.assertTrue(240 < cool.hue_angle < 345, cool.hue)

    def test_mixed_green_is_far_brighter_than_leaves_and_a_little_red_brings_it_back(self):
        green = seen(cadmium_yellow_light=4, phthalo_blue_green_shade=1)
        tamed = seen(cadmium_yellow_light=4, phthalo_blue_green_shade=1, cadmium_red_light=2)
        by_ochre = seen(yellow_ochre=4, phthalo_blue_green_shade=1)
        self.assertLess(tamed.chroma, green.chroma)
        self.assertLess(by_ochre.chroma, green.chroma)

    def test_two_tubes_are_never_brighter_than_the_brighter(self):
        rng = np.random.default_rng(2)
        bright = [t for t in all_tubes().values() if not t.is_white and t.opacity in ("O", "SO")]
        for _ in range(60):
            a, b = rng.choice(len(bright), 2, replace=False)
            one, two = bright[a], bright[b]
            chroma = [
                float(lch(np.array(predict(p).lab))[1]) for p in ({one.id: 1}, {two.id: 1}, {one.id: 1, two.id: 1})
            ]
            self.assertLess(chroma[2], max(chroma[:2]) + 1.0, (one.id, two.id))

    def test_strong_tubes_are_known_as_strong(self):
        for name in ("phthalo-blue-green-shade", "prussian-blue", "dioxazine-violet", "phthalo-green-blue-shade"):
            self.assertTrue(tube(name).is_strong, name)
        for name in ("yellow-ochre", "titanium-white", "green-earth", "cerulean-blue"):
            self.assertFalse(tube(name).is_strong, name)

    def test_a_touch_of_phthalo_turns_much_white_blue(self):
        self.assertGreater(seen(titanium_white=20, phthalo_blue_green_shade=0.25).chroma, 3)
        self.assertLess(seen(titanium_white=20, yellow_ochre=0.25).chroma, 2)

    def test_brown_is_a_dark_dull_orange(self):
        brown = seen(cadmium_yellow_medium=6, cadmium_red=2, ultramarine_blue=1.5)
        self.assertTrue(20 < brown.hue_angle < 95, brown.hue)
        self.assertLess(brown.value, 4.5)
        self.assertLess(brown.chroma, 6)
