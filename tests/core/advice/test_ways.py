"""Which way, with which tube: all directions of one pile, what else a way does, palettes that lack a colour."""

import unittest

import numpy as np

from ochre_stone.core.advice.frame import of_tube, place
from ochre_stone.core.advice.ways import (
    HUES,
    WAYS,
    StartPile,
    besides,
    dulling,
    leading_to,
    nearest_first,
    progress,
    reach_for,
)
from ochre_stone.core.paint.palettes import PALETTES, palette
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.paint.tubes import tube

PORTRAIT = [of_tube(t) for t in palette("portrait-ten").tubes]
GREEN = {"ultramarine-blue": 2.0, "cadmium-yellow-medium": 4.0}


def pile(parts: dict[str, float]) -> StartPile:
    return StartPile.of(*spectra([tube(i) for i in parts], list(parts.values())), inside=list(parts))


def first(parts: dict[str, float], way: str, paints: list = PORTRAIT) -> str:
    found = reach_for(pile(parts), paints, way)
    return found[0].paint.id if found else ""


class Green(unittest.TestCase):
    """A leaf green of ultramarine and yellow through all dials (common practice, no source)."""

    def test_all_ways(self) -> None:
        red, earth = {"cadmium-red-light", "alizarin-crimson", "burnt-sienna"}, {"raw-umber", "ivory-black"}
        yellow = {"cadmium-yellow-medium", "yellow-ochre"}
        signed = {
            "lighter": {*yellow, "titanium-white"}, "darker": {*earth, "ultramarine-blue"},
            "warmer": red | yellow, "cooler": {"ultramarine-blue", "viridian"},
            "duller": red, "stronger": {"cadmium-yellow-medium", "viridian"},
            "redder": red, "oranger": {*red, *yellow}, "yellower": yellow,
            "greener": {"viridian"}, "bluer": {"ultramarine-blue"}, "more violet": {"alizarin-crimson"},
            "chalkier": {"titanium-white"},
        }  # fmt: skip
        self.assertEqual(set(signed), set(WAYS))
        for way, tubes in signed.items():
            self.assertIn(first(GREEN, way), tubes, way)

    def test_each_goes_where_it_says(self) -> None:
        at = pile(GREEN)
        for way in WAYS:
            for t in reach_for(at, PORTRAIT, way):
                gone = progress(at.stands, way, np.array([[*_lab(at)], [*t.lab]]))
                self.assertGreater(gone[1], gone[0] - 0.05, (way, t.paint.id))

    def test_another_word_is_no_way(self) -> None:
        with self.assertRaisesRegex(ValueError, "no way"):
            reach_for(pile(GREEN), PORTRAIT, "nicer")


def _lab(at: StartPile) -> tuple[float, float, float]:
    from ochre_stone.core.paint.optics import layer_lab

    L, a, b = layer_lab(at.K, at.S, at.surface).tolist()
    return L, a, b


class Lacking(unittest.TestCase):
    def test_black_is_the_blue_of_the_four_earths(self) -> None:
        earths = [of_tube(t) for t in palette("four-tube-earth").tubes]
        flesh = {"titanium-white": 4.0, "yellow-ochre": 1.0, "cadmium-red": 0.5}
        for way in ("bluer", "cooler", "duller", "greener"):
            self.assertEqual(first(flesh, way, earths), "ivory-black", way)
        with_blue = [*earths, of_tube(tube("ultramarine-blue"))]
        for way in ("bluer", "duller"):  # and no longer where there is one
            self.assertEqual(first(flesh, way, with_blue), "ultramarine-blue", way)

    def test_an_umber_gives_no_hue_and_greys(self) -> None:
        two = [of_tube(tube(i)) for i in ("titanium-white", "raw-umber", "yellow-ochre")]
        grey = {"titanium-white": 4.0, "ivory-black": 1.0}
        self.assertEqual(first(grey, "yellower", two), "yellow-ochre")
        self.assertEqual([t.paint.id for t in dulling(pile({"yellow-ochre": 1.0}), two[:2])], ["raw-umber"])

    def test_white_brings_out_a_dark_transparent_colour(self) -> None:
        self.assertEqual(
            first({"phthalo-blue-green-shade": 1.0, "cadmium-yellow-light": 1.0}, "stronger",
                  [of_tube(tube(i)) for i in ("titanium-white", "burnt-sienna")]), "titanium-white",
        )  # fmt: skip

    def test_nothing_at_hand(self) -> None:
        self.assertEqual(reach_for(pile({"titanium-white": 1.0}), [of_tube(tube("titanium-white"))], "redder"), [])
        self.assertEqual(first({"cadmium-red": 1.0}, "lighter", [of_tube(tube("ivory-black"))]), "")

    def test_hues_are_answered_on_every_palette_for_a_halftone(self) -> None:
        from ochre_stone.core.advice.roles import middle

        for p in PALETTES.values():
            at = StartPile.of(*middle(p.tubes))
            for way in ("lighter", "darker", "warmer", "cooler", "duller"):
                self.assertTrue(reach_for(at, [of_tube(t) for t in p.tubes], way), (p.id, way))


class Words(unittest.TestCase):
    def test_what_a_way_does_besides(self) -> None:
        at = (50.0, 10.0, 30.0)
        self.assertEqual(besides("yellower", at, at), "yellower")
        self.assertEqual(besides("yellower", at, (54.0, 10.0, 30.0)), "yellower, a little lighter")
        self.assertEqual(besides("yellower", at, (70.0, 10.0, 30.0)), "yellower, lighter")
        self.assertIn("duller", besides("lighter", at, (60.0, 3.0, 8.0)))
        self.assertNotIn("lighter", besides("chalkier", at, (60.0, 3.0, 8.0)))
        self.assertIn("warmer", besides("darker", (60.0, 0.0, 5.0), (50.0, 15.0, 20.0)))
        for hue in HUES:
            self.assertNotIn("warmer", besides(hue, (60.0, 0.0, 5.0), (60.0, 30.0, 40.0)))

    def test_progress_by_hand(self) -> None:
        labs = np.array([[50.0, 20.0, 20.0], [60.0, 10.0, 10.0], [70.0, 5.0, 5.0]])
        stands = place(labs[0])
        for way, rising in (("lighter", True), ("darker", False), ("duller", True), ("stronger", False)):
            gone = progress(stands, way, labs)
            self.assertEqual(bool((np.diff(gone) > 0).all()), rising, way)
        self.assertTrue((np.diff(progress(stands, "cooler", labs)) > 0).all())

    def test_the_nearest_band_that_holds_any(self) -> None:
        found = [(70.0, 0.9, "far"), (30.0, 0.2, "poor"), (50.0, 0.5, "good")]
        self.assertEqual(nearest_first(found, (60.0, 80.0)), ["good", "poor"])
        self.assertEqual(nearest_first(found, (20.0, 40.0)), ["poor"])
        self.assertEqual(nearest_first(found, (10.0,)), [])
        self.assertEqual(leading_to(pile(GREEN), [], 0.0), [])


if __name__ == "__main__":
    unittest.main()
