"""Tubes, palettes, cautions, predictions and their uncertainty."""

import unittest

import numpy as np

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.cautions import NO_AUTHORITY, cautions, tube_cautions
from ochre_stone.core.paint.optics import band, layer_lab, scattering
from ochre_stone.core.paint.palettes import PALETTES, palette
from ochre_stone.core.paint.predict import predict, uncertainty
from ochre_stone.core.paint.tubes import all_tubes, tube
from tests.support.drawn import sampled


class Tubes(unittest.TestCase):
    def test_enough_and_each_as_its_k_and_s_say(self):
        self.assertGreaterEqual(sum(not t.parts for t in all_tubes().values()), 74)
        for t in all_tubes().values():
            self.assertIn(t.opacity, ("O", "SO", "ST", "T"))
            np.testing.assert_allclose(layer_lab(t.K, t.S), t.lab, atol=0.02)

    def test_unknown_tube_names_the_nearest(self):
        with self.assertRaises(OchreError) as caught:
            tube("cadmium-rot")
        self.assertIn("cadmium-red", str(caught.exception))

    def test_data_cannot_be_changed_by_accident(self):
        with self.assertRaises(ValueError):
            tube("yellow-ochre").K[0] = 1.0

    def test_features(self):
        self.assertAlmostEqual(float(band(("E", 2.0, 550, 10))[17]), 1.0)
        self.assertAlmostEqual(float(band(("G", 3.0, 550, 20, 30))[17]), 3.0)
        self.assertAlmostEqual(float(band(("P", 1.0, 2.0))[17]), 1.0)
        self.assertTrue((band(("B", 0.5)) == 0.5).all())
        self.assertAlmostEqual(float(scattering(0.7, 0.4)[17]), 0.7)
        with self.assertRaises(ValueError):
            band(("X", 1.0))


class Palettes(unittest.TestCase):
    def test_ids_of_the_contract(self):
        self.assertEqual(
            set(PALETTES),
            {
                "four-tube-earth",
                "three-primaries",
                "three-primaries-black",
                "double-primaries",
                "underpainting-three",
                "portrait-ten",
                "landscape-greens",
                "many-blues",
                "prismatic",
            },
        )
        self.assertEqual(len(palette("portrait-ten").paints), 10)

    def test_white_first_and_all_tubes_known(self):
        for p in PALETTES.values():
            self.assertTrue(p.tubes[0].is_white, p.id)
            self.assertEqual(len(set(p.paints)), len(p.paints))

    def test_unknown(self):
        with self.assertRaises(OchreError):
            palette("nine-tubes")


class Cautions(unittest.TestCase):
    def test_hazards_and_lasting_substitutes(self):
        self.assertIn("Cadmium", " ".join(tube_cautions(tube("cadmium-red"))))
        self.assertIn("quinacridone", " ".join(tube_cautions(tube("alizarin-crimson"))))
        self.assertIn("mercury", " ".join(tube_cautions(tube("vermilion"))))
        self.assertEqual(tube_cautions(tube("yellow-ochre")), [])

    def test_every_named_hazard_has_words(self):
        for t in all_tubes().values():
            if not t.hazard.startswith("none"):
                self.assertTrue(tube_cautions(t), t.id)
            if t.lightfastness == "III":
                self.assertTrue(any("fade" in c or "lightfast" in c for c in tube_cautions(t)), t.id)

    def test_each_caution_once_and_labels_come_first(self):
        found = cautions([tube("cadmium-red"), tube("cadmium-yellow-light")])
        self.assertEqual(sum("breathed in" in c for c in found), 1)
        self.assertIn("Cadmium red medium, Cadmium yellow light", found[0])
        self.assertIn("cadmium red medium: pyrrole red", " ".join(found))
        self.assertEqual(found[-1], NO_AUTHORITY)
        self.assertTrue(any("rags" in c for c in found))


class Uncertainty(unittest.TestCase):
    def test_against_sampling(self):
        """Linear propagation must agree with drawing tubes at random from the same tolerances."""
        for ids, shares in (
            (("titanium-white", "ultramarine-blue"), (10, 1)),
            (("titanium-white", "yellow-ochre", "cadmium-red"), (4, 2, 1)),
            (("burnt-sienna",), (1,)),
            (("titanium-white", "phthalo-blue-green-shade"), (5, 1)),
            (("yellow-ochre", "cobalt-violet"), (1, 1)),
        ):
            tubes, c = [tube(i) for i in ids], np.array(shares, float)
            drawn = sampled(tubes, c, 1500)[1]
            self.assertAlmostEqual(uncertainty(tubes, c), drawn, delta=0.2 * drawn, msg=str(ids))

    def test_unsure_tubes_make_unsure_mixtures(self):
        sure = predict({"titanium-white": 1, "yellow-ochre": 1}).uncertainty
        unsure = predict({"titanium-white": 1, "cobalt-violet": 1}).uncertainty
        self.assertLess(sure, unsure)
        self.assertTrue(predict({"yellow-ochre": 1}).trust)

    def test_nothing_is_no_mixture(self):
        for parts in ({}, {"yellow-ochre": 0.0}, {"yellow-ochre": float("nan")}):
            with self.assertRaises(ValueError):
                predict(parts)
