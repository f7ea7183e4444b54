"""Glazes, ways lighter and darker, meetings and the reach of a palette, against what can be worked out another way."""

import itertools
import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import hue_value_chroma, lightness_of_value
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.mixing.reach.slices import Nets, Slice, additions, reach_of
from ochre_stone.core.mixing.recipe.nearness import REACH
from ochre_stone.core.mixing.recipe.recipe import Source
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.technique.glazes import (
    COATS_UM,
    MEDIUM,
    coat,
    ground_of,
    is_transparent,
    plan_glaze,
    white_ground,
)
from ochre_stone.core.mixing.technique.lighter import counted, moves
from ochre_stone.core.mixing.technique.meeting import Meeting, meetings
from ochre_stone.core.mixing.technique.parents import as_source
from ochre_stone.core.paint.layers import SCATTER_PER_MM
from ochre_stone.core.paint.optics import USUAL, film_reflectance, layer_lab, reflectance_to_lab, seen_through_surface
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.tubes import tube

TEN = PALETTES["portrait-ten"]


def seen(R: np.ndarray) -> np.ndarray:
    return reflectance_to_lab(seen_through_surface(R, USUAL))


class Glazes(unittest.TestCase):
    def test_one_to_six_coats(self) -> None:
        for wrong in (0, 7):
            self.assertRaises(ValueError, plan_glaze, (50, 20, 20), white_ground(), TEN.tubes, wrong)
        for most in (1, 6):
            found = plan_glaze((45, 40, 25), white_ground(), TEN.tubes, most)
            self.assertTrue(found)
            self.assertTrue(all(1 <= len(g.coats) <= most for g in found))

    def test_coats_are_films_of_their_thickness(self) -> None:
        """A coat of 12 um with 9 parts of medium is 1.2 um of paint, and coats of one glaze lie on each other."""
        t = next(t for t in TEN.tubes if is_transparent(t))
        below = white_ground()
        one = coat(t, 9, 12.0, below)
        film = film_reflectance(t.K, t.S, np.array([0.0012 * SCATTER_PER_MM]), below)
        np.testing.assert_allclose(np.ravel(one), np.ravel(film))
        g = plan_glaze((45, 40, 25), below, TEN.tubes, 3)[0]
        R = below
        for c in g.coats:
            self.assertIn(c.medium, MEDIUM)
            self.assertIn(c.um, COATS_UM)
            R = coat(tube(c.tube), c.medium, c.um, R)
            np.testing.assert_allclose(np.ravel(seen(R)), c.lab, atol=1e-6)
        self.assertAlmostEqual(g.off, float(ciede2000(np.array(g.coats[-1].lab), np.array([45.0, 40, 25]))))
        np.testing.assert_allclose(g.under, seen(below), atol=1e-6)
        self.assertTrue(all(is_transparent(tube(c.tube)) for c in g.coats))

    def test_the_first_is_the_best_of_all_single_films(self) -> None:
        goal = np.array([70.0, 20, 45])
        best = min(
            float(ciede2000(np.ravel(seen(coat(t, m, um * n, white_ground()))), goal))
            for t in TEN.tubes
            if is_transparent(t)
            for m, um, n in itertools.product(MEDIUM, COATS_UM, (1,))
        )
        found = plan_glaze(goal, white_ground(), TEN.tubes, 1)
        self.assertLessEqual(min(g.off for g in found), best + 0.5)

    def test_a_toned_ground_has_its_lightness(self) -> None:
        for lab in ((50.0, 5.0, 15.0), (70.0, 2.0, 8.0)):
            self.assertAlmostEqual(float(seen(ground_of(lab, TEN.tubes))[0]), lab[0], delta=1.5)
        white = seen(white_ground(0.9))
        self.assertAlmostEqual(float(white[0]), 96.0, delta=0.6)  # CIE L* of Y = 90


class Lighter(unittest.TestCase):
    def kinds(self, tubes: list[str], step: float, pile: str = "burnt-sienna") -> dict[str, str]:
        terms = Terms(tuple(tube(i) for i in tubes))
        own = layer_lab(tube(pile).K, tube(pile).S)
        goal = (float(own[0]) + step, float(own[1]), float(own[2]))
        return {m.kind: m.added[0][0].id for m in reversed(moves(as_source(tube(pile)), goal, terms))}

    def test_what_counts_as_a_yellow_and_as_a_neighbour(self) -> None:
        base = ["titanium-white", "burnt-sienna"]
        yellow = self.kinds(["titanium-white", "cadmium-orange", "cadmium-yellow-medium"], 10, "cadmium-orange")
        self.assertEqual((yellow["white"], yellow["yellow"]), ("titanium-white", "cadmium-yellow-medium"))
        for green in ("viridian", "chromium-oxide-green"):  # a green is neither
            self.assertEqual(set(self.kinds([*base, green], 15)), {"white"}, green)
        kin = self.kinds(["titanium-white", "cadmium-red", "cadmium-orange"], 10, "cadmium-red")
        self.assertEqual(kin["lighter neighbour"], "cadmium-orange")

    def test_what_counts_as_a_blue_a_brown_and_a_complement(self) -> None:
        pile = "yellow-ochre"
        base = ["titanium-white", pile]
        self.assertEqual(self.kinds([*base, "ivory-black"], -15, pile), {"black": "ivory-black"})
        self.assertEqual(self.kinds([*base, "raw-umber"], -5, pile).get("brown"), "raw-umber")
        dark = self.kinds([*base, "ultramarine-blue"], -15, pile)
        self.assertEqual(set(dark.values()), {"ultramarine-blue"})
        self.assertTrue({"complement", "blue"} & set(dark))
        self.assertNotIn("brown", self.kinds([*base, "viridian"], -15, pile))

    def test_parts_are_the_nearest_that_can_be_counted(self) -> None:
        """Tried one by one: no mixture of as few parts comes nearer by more than what a part weighs."""
        terms = Terms(TEN.tubes)
        pile, white = as_source(tube("burnt-sienna")), as_source(tube("titanium-white"))
        (a, b), lab = counted(pile, white, 55.0, terms)
        K, S = pile.spectra(TEN.tubes)
        k, s = white.spectra(TEN.tubes)
        cost = abs(float(lab[0]) - 55.0) + 0.15 * (a + b)
        for x, y in itertools.product(range(1, 10), range(1, 10)):
            if x + y <= 10 and y <= 4 * x and y / (x + y) <= 0.75:
                L = float(layer_lab((K * x + k * y) / (x + y), (S * x + s * y) / (x + y))[0])
                self.assertGreaterEqual(abs(L - 55.0) + 0.15 * (x + y), cost - 0.35, (x, y))

    def test_the_nearest_pile_that_is_light_enough(self) -> None:
        terms = Terms(TEN.tubes)
        white, sienna = "titanium-white", "burnt-sienna"
        pile = Source("p", "p", ((white, 0.2), (sienna, 0.8)))
        piles = [Source(f"p{n}", f"p{n}", ((white, n / 10), (sienna, 1 - n / 10))) for n in (3, 6, 9)]
        L = [float(layer_lab(*p.spectra(TEN.tubes))[0]) for p in piles]
        goal = (L[1] - 1.0, 20.0, 20.0)
        found = {m.kind: m.added[0][0].id for m in moves(pile, goal, terms, piles)}
        self.assertEqual(found["lighter pile"], "p6")


class Meetings(unittest.TestCase):
    def test_half_and_half(self) -> None:
        notes = [(60.0, 30.0, 40.0), (45.0, -20.0, 20.0), (60.0, 1.0, 1.0)]
        told: list[float] = []
        found = meetings(notes, TEN.tubes, progress=told.append)
        self.assertEqual([(m.first, m.second) for m in found], [(0, 1)])  # a grey has nothing to lose
        np.testing.assert_allclose(told, [1 / 3, 2 / 3, 1.0])
        m = found[0]
        own = [float(hue_value_chroma(np.array(n))[2]) for n in notes[:2]]
        mixed = float(hue_value_chroma(np.array(m.lab))[2])
        self.assertAlmostEqual(m.kept, mixed / (sum(own) / 2), places=2)
        self.assertNotIn("titanium-white", m.tubes)
        self.assertEqual(meetings([(60.0, 1.0, 1.0)], TEN.tubes), [])

    def test_verdicts(self) -> None:
        said = [Meeting(0, 1, (0, 0, 0), kept, ()).verdict for kept in (0.449, 0.451, 0.799, 0.801)]
        self.assertEqual(said, ["goes dull", "greys a little", "greys a little", "stays lively"])


class Reach(unittest.TestCase):
    def test_a_square_holds_what_is_in_it(self) -> None:
        s = Slice(5.0, (((-10.0, -10.0), (10.0, -10.0), (10.0, 10.0), (-10.0, 10.0)),))
        self.assertEqual(s.area, 400.0)
        self.assertEqual([s.holds(*p) for p in ((0, 0), (9.9, 9.9), (10.1, 0), (0, -10.1))], [True, True, False, False])
        self.assertEqual(Slice(5.0, ()).area, 0.0)

    def test_the_net_covers_each_triple_once(self) -> None:
        """A triangle of side n has n^2 small ones; together they are the whole, each step of a net used."""
        nets = Nets(TEN.tubes[:4])
        n = 14
        self.assertEqual(nets.lab.shape[:2], (4, (n + 1) * (n + 2) // 2))
        self.assertEqual(len(nets.faces), n * n)
        self.assertEqual(len({frozenset(f) for f in nets.faces.tolist()}), n * n)
        self.assertEqual(len(set(nets.faces.ravel().tolist())), nets.lab.shape[1])
        borders = {}
        for f in nets.faces.tolist():
            for a, b in ((0, 1), (1, 2), (2, 0)):
                key = frozenset((f[a], f[b]))
                borders[key] = borders.get(key, 0) + 1
        self.assertEqual(sorted(set(borders.values())), [1, 2])
        self.assertEqual(sum(v == 1 for v in borders.values()), 3 * n)

    def test_two_tubes_are_a_line_and_one_a_point(self) -> None:
        two, one = Nets(TEN.tubes[:2]), Nets(TEN.tubes[:1])
        self.assertEqual(two.lab.shape[1], 15)
        self.assertEqual(two.faces[:2].tolist() + two.faces[-2:].tolist(),
                         [[0, 1, 0], [1, 2, 1], [13, 14, 13], [14, 14, 14]])  # fmt: skip
        self.assertEqual(one.lab.shape[1], 1)
        self.assertEqual(one.faces.tolist(), [[0, 0, 0]])

    def test_corners_of_a_net_are_the_tubes(self) -> None:
        nets = Nets(TEN.tubes[:3])
        for t in TEN.tubes[:3]:
            own = layer_lab(t.K, t.S)
            self.assertLess(float(np.abs(nets.lab[0] - own).sum(axis=1).min()), 1e-6)

    def test_a_slice_is_where_mixtures_of_that_value_are(self) -> None:
        three = [tube(i) for i in ("titanium-white", "cadmium-red-light", "ultramarine-blue")]
        s = Nets(three).slice(5.0)
        rng = np.random.default_rng(3)
        strength = np.array([t.strength for t in three])
        c = rng.dirichlet(np.ones(3), 20_000) / strength
        c /= c.sum(axis=1, keepdims=True)
        lab = layer_lab(c @ np.stack([t.K for t in three]), c @ np.stack([t.S for t in three]))
        near = lab[np.abs(lab[:, 0] - float(lightness_of_value(5.0))) < 0.15]
        self.assertGreater(len(near), 30)
        held = np.mean([s.holds(a, b) for _, a, b in near])
        self.assertGreater(held, 0.75)  # those at the very edge stand on either side
        box = np.array(s.outlines[0])
        np.testing.assert_allclose(box.min(axis=0), near[:, 1:].min(axis=0), atol=10)
        np.testing.assert_allclose(box.max(axis=0), near[:, 1:].max(axis=0), atol=10)
        self.assertEqual(Nets(three).slice(9.9).outlines, ())

    def test_what_another_tube_brings(self) -> None:
        few = [tube(i) for i in ("titanium-white", "ivory-black", "yellow-ochre")]
        outside = [(50.0, 45.0, 30.0), (45.0, 0.0, -35.0), (48.0, -2.0, -38.0)]
        far = [r.far for r in reach_of(outside, few)]
        self.assertTrue(all(f > REACH for f in far))
        told: list[float] = []
        candidates = [tube(i) for i in ("ultramarine-blue", "cadmium-red-light", "yellow-ochre", "raw-umber")]
        found = additions(outside, few, candidates, progress=told.append)
        self.assertNotIn("yellow-ochre", [a.tube.id for a in found])  # it is there
        self.assertEqual(found, sorted(found, key=lambda a: (-a.gained, a.left)))
        for a in found:
            after = [min(r.far, f) for r, f in zip(reach_of(outside, [*few, a.tube]), far, strict=True)]
            self.assertEqual(a.gained, sum(f <= REACH for f in after), a.tube.id)
            self.assertAlmostEqual(a.left, sum(max(f - REACH, 0) for f in after), delta=0.5)
        self.assertEqual({a.tube.id for a in found[:2]}, {"ultramarine-blue", "cadmium-red-light"})
        np.testing.assert_allclose(told, [1 / 6, 2 / 6, 3 / 6, 4 / 6, 5 / 6, 1.0])

    def test_how_far_is_a_colour_difference(self) -> None:
        found = reach_of([(50.0, 60.0, -60.0)], [tube("titanium-white"), tube("ivory-black")])[0]
        self.assertAlmostEqual(found.far, float(ciede2000(np.array(found.lab), np.array(found.nearest))))
        self.assertLess(float(lch(np.array(found.nearest))[1]), 8)
        self.assertFalse(found.inside)
