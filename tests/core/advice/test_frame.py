"""The painters' frame by hand: where colours and paints stand, and what one small dose does."""

import unittest

import numpy as np

from ochre_stone.core.advice.frame import (
    PER_VALUE,
    SHOWS,
    as_paint,
    hues_apart,
    of_tube,
    opposite_hue,
    place,
    touch,
    vectors,
    way,
)  # fmt: skip
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import munsell_to_lab
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.tubes import tube


class Places(unittest.TestCase):
    def test_value_hue_and_chroma_of_a_chip(self) -> None:
        stands = place(as_lab(munsell_to_lab(6.25, 5.0, 8.0)))  # where the wheel has its red
        self.assertAlmostEqual(stands.value, 5.0, delta=0.02)
        self.assertAlmostEqual(stands.chroma, 8.0, delta=0.1)
        self.assertLess(hues_apart(stands.hue, 0.0), 1.0)
        np.testing.assert_allclose(stands.vector, [PER_VALUE * 5, 8.0, 0.0], atol=0.2)
        labs = np.array([munsell_to_lab(h, 5.0, 6.0) for h in (5.0, 25.0, 65.0)])
        np.testing.assert_allclose(vectors(labs), [place(x).vector for x in labs], atol=1e-6)

    def test_hues_go_round(self) -> None:
        self.assertEqual((hues_apart(10, 350), hues_apart(350, 10), hues_apart(0, 180)), (20.0, 20.0, 180.0))
        self.assertEqual((opposite_hue(0), opposite_hue(60), opposite_hue(200)), (180.0, 240.0, 20.0))
        np.testing.assert_allclose(way(90), [0, 1], atol=1e-12)


class Paints(unittest.TestCase):
    def test_a_dark_is_known_by_its_tint(self) -> None:
        for name, hue in (("ultramarine-blue", 255), ("alizarin-crimson", 337), ("phthalo-green-blue-shade", 200)):
            self.assertLess(hues_apart(of_tube(tube(name)).hue, hue), 12, name)
        self.assertGreater(of_tube(tube("dioxazine-violet")).chroma, 8, "its mass tone is nearly black")

    def test_what_its_name_says(self) -> None:
        """Common practice, no source."""
        said = {
            "warm": "cadmium-yellow-light yellow-ochre cadmium-orange cadmium-red burnt-sienna burnt-umber raw-umber",
            "cool": "ultramarine-blue cerulean-blue viridian ivory-black dioxazine-violet cobalt-blue",
            "neutral": "titanium-white zinc-white ivory-black lamp-black mars-black",
            "black": "ivory-black lamp-black mars-black",
            "white": "titanium-white zinc-white lead-white",
            "umber": "burnt-umber raw-umber",
        }
        for kind, names in said.items():
            for name in names.split():
                p = of_tube(tube(name))
                known = {"warm": p.is_warm, "cool": p.is_cool, "neutral": p.neutral, "black": p.is_black,
                         "white": p.is_white, "umber": p.is_umber}  # fmt: skip
                self.assertTrue(known[kind], (kind, name))
        for name in ("alizarin-crimson", "titanium-white"):
            p = of_tube(tube(name))
            self.assertFalse(p.is_warm or p.is_cool, name)

    def test_a_pile_is_known_by_its_spectrum(self) -> None:
        white, black = tube("titanium-white"), tube("ivory-black")
        self.assertTrue(as_paint("w", "white", white.K, white.S).is_white)
        grey = as_paint("g", "grey", 20 * white.K + black.K, 20 * white.S + black.S)
        self.assertTrue(grey.neutral and not grey.is_white and not grey.is_black)


class Doses(unittest.TestCase):
    def test_a_dose_that_shows(self) -> None:
        pile = (
            4 * tube("titanium-white").K + tube("yellow-ochre").K,
            (4 * tube("titanium-white").S + tube("yellow-ochre").S),
        )
        K, S = pile[0] / 5, pile[1] / 5
        for name in ("cadmium-red", "phthalo-blue-green-shade", "raw-umber", "titanium-white"):
            t = touch(K, S, of_tube(tube(name)))
            far = float(ciede2000(np.array(t.lab), layer_lab(K, S)))
            self.assertAlmostEqual(far, SHOWS, delta=0.3, msg=name)
            x = tube(name)
            mixed = layer_lab((1 - t.share) * K + t.share * x.K, (1 - t.share) * S + t.share * x.S)
            np.testing.assert_allclose(t.lab, mixed)
            self.assertAlmostEqual(t.value, t.after.value - t.before.value)
            self.assertAlmostEqual(float(np.linalg.norm(t.moved)), t.size)
            self.assertLessEqual(abs(t.toward(way(40.0))), 1.0)

    def test_little_of_a_strong_paint_much_of_a_weak_one(self) -> None:
        grey = tube("titanium-white").K + 0.1 * tube("ivory-black").K, tube("titanium-white").S * 1.0
        share = {n: touch(*grey, of_tube(tube(n))).share for n in ("phthalo-blue-green-shade", "yellow-ochre")}
        self.assertGreater(share["yellow-ochre"], 8 * share["phthalo-blue-green-shade"])

    def test_a_paint_into_itself_goes_nowhere(self) -> None:
        red = tube("cadmium-red")
        self.assertLess(touch(red.K, red.S, of_tube(red)).size, 1e-3)


if __name__ == "__main__":
    unittest.main()
