"""Paint seen as painters see it: surfaces by medium and finish, rich darks, and what was read or calibrated before."""

import json
import unittest
from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.masses.tone import DARKEST
from ochre_stone.core.mixing.correcting.belief import believe
from ochre_stone.core.mixing.correcting.reading import PileSeen
from ochre_stone.core.mixing.recipe.drying import Drying, dried
from ochre_stone.core.mixing.recipe.finding import recipe_of
from ochre_stone.core.mixing.recipe.search import searcher
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.paint.box import OwnTube, PigmentPart
from ochre_stone.core.paint.calibration import TubeCorrection, corrected
from ochre_stone.core.paint.media import FINISHES, MEDIA, seen
from ochre_stone.core.paint.optics import ANCHORS, USUAL, by_rows, layer_lab, seen_through_surface, surface_slope
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import figures_of, tube
from ochre_stone.core.paint.usual import EDITION, FINISH_WORDS
from ochre_stone.resources import resource
from tests.support import darks


def value(paint: str, finish: str) -> float:
    lab = predict({paint: 1.0}, surface=MEDIA["oil"].surface("dry", finish)).lab
    return float(value_of_lightness(lab[0]))


class Surfaces(unittest.TestCase):
    def test_two_are_named_and_the_data_say_which(self):
        said = json.loads(resource("paint", "pigments.json").read_text(encoding="utf-8"))
        self.assertEqual(said["surfaces"]["usual"], {"k1": USUAL.k1, "k2": USUAL.k2, "g": USUAL.g})
        self.assertEqual(said["surfaces"]["anchors"]["g"], ANCHORS.g)
        self.assertEqual(MEDIA["oil"].surface(), USUAL)
        black = next(p for p in said["paints"] if p["id"] == "ivory-black")
        np.testing.assert_allclose(black["lab"], layer_lab(tube("ivory-black").K, tube("ivory-black").S), atol=0.02)

    def test_each_finish_has_its_own_floor_and_its_words(self):
        self.assertEqual(set(FINISHES), set(FINISH_WORDS))
        for paint in ("ivory-black", "burnt-umber", "alizarin-crimson"):
            stands = [value(paint, f) for f in ("glossy", "satin", "sunk", "matt")]
            self.assertEqual(stands, sorted(stands), paint)
            self.assertGreater(stands[3] - stands[0], 0.8, paint)

    def test_the_range_has_the_blacks_of_the_paint(self):
        for finish, black in DARKEST.items():
            self.assertAlmostEqual(value("ivory-black", finish), black, delta=0.25, msg=finish)
        self.assertTrue(1.0 <= value("ivory-black", "glossy") <= 1.3)

    def test_wet_is_never_duller_than_dry_against_the_words(self):
        """Acrylic dries darker, darks most; oil keeps its colour until it sinks in (common practice, no source)."""
        for paint in ("ivory-black", "ultramarine-blue", "burnt-umber", "phthalo-green-blue-shade", "alizarin-crimson"):
            K, S = tube(paint).K, tube(paint).S
            wet, dry = (seen(K, S, MEDIA["acrylic"], s)[0] for s in ("wet", "dry"))
            self.assertLess(dry, wet, paint)
            wet, sunk = seen(K, S, MEDIA["oil"], "wet")[0], seen(K, S, MEDIA["oil"], "dry", finish="sunk")[0]
            self.assertLess(wet, sunk, paint)
            self.assertEqual(seen(K, S, MEDIA["oil"], "wet"), seen(K, S, MEDIA["oil"]), paint)

    def test_several_surfaces_are_one_with_rows(self):
        several, inside = [USUAL, ANCHORS], np.tile(np.linspace(0.01, 0.9, 36), (2, 1))
        together = seen_through_surface(inside, by_rows(several))
        for row, one in enumerate(several):
            np.testing.assert_allclose(together[row], seen_through_surface(inside[row], one))
        step = (seen_through_surface(0.3 + 1e-6, USUAL) - seen_through_surface(0.3 - 1e-6, USUAL)) / 2e-6
        self.assertAlmostEqual(float(surface_slope(0.3, USUAL)), float(step), places=6)


class RichDarks(unittest.TestCase):
    """Dark natural colours (benchmarks/darks.py tells of all palettes in counted parts)."""

    def test_two_palettes_come_near(self):
        for name in ("portrait", "eight"):
            search = searcher(tuple(tube(i) for i in darks.PAINTS[name].split()))
            goals = [np.array(c, float) for kind in darks.COLOURS.values() for c in kind]
            off = []
            for goal in goals:
                best = search.find(goal, 16)
                off.append(float(ciede2000(search.paints.lab(best.shares[:1], best.index[:1])[0], goal)))
            self.assertLess(np.median(off), 1.0, name)
            self.assertLess(np.quantile(off, 0.9), 3.5, name)

    def test_a_leaf_green_from_five_usual_tubes(self):
        """Was 7.7 off in counted parts."""
        terms = Terms(tuple(tube(i) for i in darks.PAINTS["five"].split()))
        self.assertLess(darks.nearest_one(np.array([25.0, -7.0, 12.0]), terms), 3.0)

    def test_alizarin_turns_toward_orange_from_the_first_touch_of_yellow(self):
        ratios = (0, 1 / 24, 1 / 12, 1 / 6, 1 / 3, 1, 4)
        hues = [
            float(
                lch(np.array(predict({"alizarin-crimson": 1.0} | ({"cadmium-yellow-medium": n} if n else {})).lab))[2]
            )
            for n in ratios
        ]
        self.assertEqual(hues, sorted(hues))
        self.assertGreater(hues[2] - hues[0], 2)


class WordsOfDrying(unittest.TestCase):
    def test_a_flesh_in_gouache_dries_duller(self):
        flesh = {"titanium-white": 6, "yellow-ochre": 2, "cadmium-red-light": 2, "raw-umber": 2}
        recipe = recipe_of(flesh, np.array([55.0, 15, 20]), Terms(palette("portrait-ten").tubes))
        found = dried(replace(palette("portrait-ten"), medium="gouache"), tube, recipe)
        fall = np.hypot(*found.wet[1:]) - np.hypot(*found.dry[1:])
        self.assertGreater(fall, 3)
        self.assertIn("dries duller", found.words)

    def test_what_changes_is_what_is_said(self):
        for wet, dry, words in (
            ((50, 20, 20), (50.2, 16, 16), "It dries duller, of about the same value: mix to the wet one."),
            ((50, 16, 16), (50.2, 20, 20), "It dries stronger, of about the same value: mix to the wet one."),
            ((40, 20, 20), (50, 16, 16), "Wet it looks 1.0 darker than dry, and it dries duller: mix to that."),
            ((60, 20, 20), (50, 19, 19), "Wet it looks 1.0 lighter than dry: mix to that."),
            ((50, 2, 2), (50, 2.1, 2.1), ""),
        ):
            self.assertEqual(Drying(wet, dry).words, words)


class WhatWasBefore(unittest.TestCase):
    def test_a_reading_keeps_the_surface_that_it_was_read_with(self):
        """A black that was read through a satin sheen stands for itself: it teaches nothing of the tube."""
        black, white = tube("ivory-black"), tube("titanium-white")
        satin = replace(USUAL, g=ANCHORS.g)
        lab = tuple(float(v) for v in layer_lab(black.K, black.S, satin))
        kept = believe([black, white], [PileSeen.of([("ivory-black", 1.0)], lab)])
        taken = believe([black, white], [replace(PileSeen.of([("ivory-black", 1.0)], lab), surface=satin)])
        self.assertLess(np.abs(taken.figures[0]).max(), 1e-3)
        self.assertGreater(np.abs(kept.figures[0]).max(), 0.05)

    def test_a_calibration_goes_on_holding_under_the_figures_of_its_time(self):
        parts = (PigmentPart(pigment="cadmium-yellow-medium"),)
        numbers = {"strength": 0.2, "scatter": -0.1, "shift": 2.0}
        before = OwnTube(id="own-y", name="Y", parts=parts, corrections=(TubeCorrection(**numbers),), using=0).tube()
        now = TubeCorrection(edition=EDITION, **numbers)
        after = OwnTube(id="own-y", name="Y", parts=parts, corrections=(now,), using=0).tube()
        x = np.array([0.2, -0.1, 2.0, 0, 0, 0, 0, 0])
        np.testing.assert_allclose(before.K, corrected(*figures_of("cadmium-yellow-medium", 1), x)[0])
        np.testing.assert_allclose(after.K, corrected(*figures_of("cadmium-yellow-medium"), x)[0])
        self.assertGreater(float(ciede2000(np.array(before.lab), np.array(after.lab))), 1.0)

    def test_only_figures_that_shipped_are_known(self):
        with self.assertRaises(ValueError):
            figures_of("ivory-black", 0)
        with self.assertRaises(KeyError):
            figures_of("no-such-paint", 1)
