"""Films over grounds, undertones, scattering from grain, media wet and dry."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.paint import layers, media, optics, scatter
from ochre_stone.core.paint.tubes import all_tubes, tube

numbers = st.floats(1e-4, 60)


class Films(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(numbers, numbers, st.floats(0, 1))
    def test_no_thickness_is_the_ground_and_a_great_one_hides(self, k, s, ground):
        self.assertAlmostEqual(float(optics.film_reflectance(k, s, 0.0, ground)), ground, places=9)
        thick = 60 / np.sqrt(k * (k + 2 * s)) + 60 / s
        hiding = float(optics.infinite_reflectance(k, s))
        self.assertAlmostEqual(float(optics.film_reflectance(k, s, thick, ground)), hiding, delta=2e-3)

    @settings(max_examples=150, deadline=None)
    @given(numbers, numbers, st.floats(0, 1), st.floats(0, 5))
    def test_energy_is_conserved(self, k, s, ground, thickness):
        R = float(optics.film_reflectance(k, s, thickness, ground))
        self.assertTrue(-1e-12 <= R <= 1 + 1e-12, R)
        R = float(optics.seen_through_surface(R))
        self.assertTrue(0 <= R <= 1, R)

    @settings(max_examples=60, deadline=None)
    @given(numbers, numbers, st.floats(0, 1), st.floats(0, 2), st.floats(0, 2))
    def test_two_films_on_each_other_are_one(self, k, s, ground, first, second):
        once = optics.film_reflectance(k, s, first + second, ground)
        twice = optics.film_reflectance(k, s, second, optics.film_reflectance(k, s, first, ground))
        np.testing.assert_allclose(twice, once, atol=1e-8)

    def test_without_scattering_it_is_beer_and_lambert(self):
        R = float(optics.film_reflectance(0.7, 0.0, 0.9, 0.8))
        self.assertAlmostEqual(R, 0.8 * np.exp(-2 * 0.7 * 0.9), places=6)

    def test_without_absorption_a_film_over_black_is_sx_over_one_plus_sx(self):
        # Kubelka and Munk's limit for a white film over black.
        R = float(optics.film_reflectance(1e-12, 2.0, 1.5, 0.0))
        self.assertAlmostEqual(R, 3 / 4, places=6)

    def test_thickness_below_nothing_is_refused(self):
        with self.assertRaises(ValueError):
            optics.film_reflectance(1.0, 1.0, -0.1, 0.5)


class Pigments(unittest.TestCase):
    def test_ladders_get_lighter_with_white_and_stay_possible(self):
        white = tube("titanium-white")
        parts = np.geomspace(0.01, 1000, 60)[:, None]
        for t in all_tubes().values():
            R = optics.reflectance(t.K + parts * white.K, t.S + parts * white.S)
            self.assertTrue(((R >= 0) & (R <= 1)).all(), t.id)
            light = optics.reflectance_to_lab(R)[:, 0]
            if t.is_white:
                continue
            self.assertTrue((np.diff(light) > -0.05).all(), t.id)

    def test_undertones_are_lighter_than_mass_tones(self):
        for t in all_tubes().values():
            if not t.is_white:
                self.assertGreater(t.undertone[0], t.lab[0], t.id)

    def test_transparent_paints_hide_less_than_opaque_ones(self):
        """The model's contrast over black and white agrees in rank with the labels, among paints of like lightness."""
        hidden = {kind: [] for kind in ("T", "O")}
        for t in all_tubes().values():
            if t.opacity in hidden and not t.is_white and not t.parts:
                hidden[t.opacity].append(layers.undertone(t.K, t.S).contrast)
        self.assertLess(np.median(hidden["T"]), np.median(hidden["O"]) - 0.02)

    def test_scattering_of_coarse_low_index_grains_is_low(self):
        at = 17  # 550 nm
        self.assertAlmostEqual(
            float(scatter.expected_scatter(2.72, 0.25, 0.28)[at]), scatter.CROWDING + scatter.LEAST, places=6
        )
        self.assertLess(float(scatter.expected_scatter(1.5, 1.0, 0.3)[at]), 0.05)
        # A red band lifts the index, and so the scattering, on its far side.
        K = optics.band(("G", 10.0, 530, 40, 30))
        S = scatter.expected_scatter(1.9, 0.2, 0.18, K)
        self.assertGreater(S[24], 1.5 * S[8])

    def test_efficiency_has_its_known_shape(self):
        """Anomalous diffraction: about p^2/2 for small lags, a first maximum of 3.17 at a lag of 4.1, 2 at last."""
        lag = np.array([0.01, 4.08, 500.0])
        wide = lag * 550 / (2 * np.pi * 0.2 * 1000)
        Q = [float(scatter.efficiency(1.48 + 0.2, d, wavelengths=np.array([550.0]))[0]) for d in wide]
        self.assertAlmostEqual(Q[0], 0.01**2 / 2, delta=1e-6)
        self.assertAlmostEqual(Q[1], 3.17, delta=0.02)
        self.assertAlmostEqual(Q[2], 2.0, delta=0.02)


class Media(unittest.TestCase):
    def test_surfaces_from_their_index(self):
        surface = media.surface_of(1.5, 0.3)
        self.assertAlmostEqual(surface.k1, 0.04, places=6)
        self.assertAlmostEqual(surface.k2, 0.596, places=3)  # as in Duntley 1942
        self.assertAlmostEqual(media.diffuse_reflection(4 / 3), 0.0667, delta=0.0005)
        with self.assertRaises(ValueError):
            media.surface_of(1.0, 0.3)

    def test_wet_paper_is_darker(self):
        self.assertLess(media.paper("wet"), media.paper("dry") - 0.05)

    def test_media_that_hide_ignore_the_film(self):
        t = tube("cadmium-red")
        for name in ("oil", "acrylic", "gouache"):
            m = media.MEDIA[name]
            self.assertEqual(media.seen(t.K, t.S, m, "dry", 1.0), media.seen(t.K, t.S, m, "dry", 50.0))
