"""What palettes reach, which tube would help, the smallest palette; ranking and other ways."""

import itertools
import unittest

import cv2
import numpy as np

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.reach.slices import Nets, additions, reach_of
from ochre_stone.core.mixing.reach.smallest import Wanted, smallest_palette
from ochre_stone.core.mixing.recipe.ranking import WAY_KINDS, Means
from ochre_stone.core.mixing.recipe.search import ORDERS, Searcher, weighted_error
from ochre_stone.core.paint.cautions import is_safe
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.tubes import all_tubes, tube
from tests.support.made import find_recipes

PORTRAIT = palette("portrait-ten")


def random_mixtures(tubes, count, seed=1, sparse=0.4):
    rng = np.random.default_rng(seed)
    power = np.array([t.strength for t in tubes])
    c = rng.dirichlet(np.ones(len(tubes)) * sparse, count) / power
    c /= c.sum(axis=1, keepdims=True)
    return layer_lab(c @ np.stack([t.K for t in tubes]), c @ np.stack([t.S for t in tubes]))


class Slices(unittest.TestCase):
    def test_every_mixture_lies_inside(self):
        for name in ("four-tube-earth", "three-primaries", "portrait-ten", "prismatic"):
            tubes = palette(name).tubes
            lab = random_mixtures(tubes, 3000)
            value = np.asarray(value_of_lightness(lab[:, 0]))
            nets = Nets(tubes)
            for v in (3.0, 5.0, 7.0):
                s = nets.slice(v)
                for _, a, b in lab[np.abs(value - v) < 0.03]:
                    far = max(
                        (
                            cv2.pointPolygonTest(np.array(o, dtype=np.float32), (float(a), float(b)), True)
                            for o in s.outlines
                        ),
                        default=-99,
                    )
                    self.assertGreater(far, -1.2, (name, v))

    def test_what_lies_well_outside_cannot_be_mixed(self):
        """The search finds nothing there either: the slice promises no more than there is."""
        tubes = PORTRAIT.tubes
        s, search = Nets(tubes).slice(5.0), Searcher(tubes, 4, None, "even")
        L = float(lightness_of_value(5.0))
        tried = 0
        for angle in np.arange(0, 360, 20):
            direction = np.array([np.cos(np.radians(angle)), np.sin(np.radians(angle))])
            edge = max(r for r in np.arange(0, 110, 1.0) if s.holds(*(direction * r)))
            far = search.find([L, *(direction * (edge + 20))])
            near = search.find([L, *(direction * max(edge - 3, 0))])
            self.assertGreater(far.error[0], 0.8, angle)
            self.assertLess(near.error[0], 0.8, angle)
            tried += 1
        self.assertEqual(tried, 18)

    def test_it_is_not_the_hull_of_the_tubes(self):
        """A line between yellow and blue bends: half-way between them in colour nothing can be mixed."""
        tubes = [tube(i) for i in ("titanium-white", "cadmium-yellow-light", "ultramarine-blue")]
        nets = Nets(tubes)
        areas = [nets.slice(v).area for v in (3.0, 5.0, 7.0)]
        self.assertTrue(all(a > 20 for a in areas))
        K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
        ends = layer_lab(K, S)
        middle = (ends[1] + ends[2]) / 2
        self.assertFalse(nets.slice(float(value_of_lightness(middle[0]))).holds(middle[1], middle[2]))

    def test_beyond_the_palette_there_is_nothing(self):
        self.assertEqual(Nets(palette("underpainting-three").tubes).slice(0.5).outlines, ())


class Notes(unittest.TestCase):
    def test_own_mixtures_are_inside_and_a_vivid_green_is_not(self):
        found = reach_of([*random_mixtures(PORTRAIT.tubes, 6), [60.0, -60, 50]], PORTRAIT.tubes)
        self.assertEqual([r.inside for r in found], [True] * 6 + [False])
        self.assertGreater(found[-1].far, 5)
        self.assertLess(found[-1].nearest[1], 0)

    def test_the_tube_that_would_help(self):
        earth = palette("four-tube-earth").tubes
        outside = [[45.0, 5, -40], [60.0, -5, -30]]
        found = additions(outside, earth, [tube(i) for i in ("burnt-sienna", "ultramarine-blue", "cadmium-orange")])
        self.assertEqual(found[0].tube.id, "ultramarine-blue")
        self.assertGreater(found[0].gained, 0)
        self.assertEqual(found[-1].gained, 0)


class FewTubes(unittest.TestCase):
    def test_one_tube_reaches_its_own_colour(self):
        ochre = tube("yellow-ochre")
        nets = Nets([ochre])
        self.assertEqual(nets.slice(3.0).area, 0.0)
        near, far = reach_of([ochre.lab, (30.0, 0.0, 0.0)], [ochre])
        self.assertLess(near.far, 0.01)
        self.assertEqual((near.inside, far.inside), (True, False))
        np.testing.assert_allclose(far.nearest, ochre.lab, atol=0.01)

    def test_two_tubes_reach_the_line_between_them(self):
        """A slice of two is a point of the line: where it crosses, as thin as it can be drawn, and no wider."""
        two = [tube("titanium-white"), tube("burnt-sienna")]
        nets = Nets(two)
        lab = random_mixtures(two, 2000, sparse=1.0)
        for v in (5.0, 7.0):
            at = lab[np.abs(lab[:, 0] - float(lightness_of_value(v))).argmin(), 1:]
            s = nets.slice(v)
            self.assertLess(s.area, 8.0)
            for outline in s.outlines:
                self.assertLess(np.linalg.norm(np.array(outline) - at, axis=1).max(), 3.0)
        self.assertEqual(nets.slice(1.0).outlines, ())
        self.assertTrue(all(r.far < 0.3 for r in reach_of(lab[:5], two)))
        found = smallest_palette(lab[:3], two, Wanted(2.0))
        self.assertEqual({t.id for t in found.tubes}, {t.id for t in two})
        self.assertTrue(found.proven and all(found.reached))

    def test_what_a_third_would_bring(self):
        two = [tube("titanium-white"), tube("burnt-sienna")]
        three = [*two, tube("ultramarine-blue")]
        outside = [layer_lab(three[2].K + 4 * two[0].K, three[2].S + 4 * two[0].S)]
        best = additions(outside, two, [tube("yellow-ochre"), three[2]])[0]
        self.assertEqual((best.tube.id, best.gained, best.left), ("ultramarine-blue", 1, 0.0))


class Smallest(unittest.TestCase):
    def test_fewer_cannot(self):
        """Every palette with one tube less is tried with a search of its own."""
        tubes = PORTRAIT.tubes
        notes = [r.lab for r in reach_of(random_mixtures(tubes, 9, 5), tubes) if r.far < 0.5]
        found = smallest_palette(notes, tubes, Wanted(2.0))
        self.assertTrue(found.proven)
        self.assertTrue(all(found.reached))
        self.assertEqual(found.bound, len(found.tubes))
        self.assertTrue(all(r.far <= 2.05 for r in reach_of(notes, found.tubes)))
        for fewer in itertools.combinations(tubes, len(found.tubes) - 1):
            search = Searcher(fewer, min(4, len(fewer)), None, "even")
            if all(search.find(n, 20).error[0] <= 1.95 for n in notes):
                self.fail([t.id for t in fewer])

    def test_wishes_are_kept(self):
        notes = random_mixtures(PORTRAIT.tubes, 5, 3)
        plain = smallest_palette(notes, PORTRAIT.tubes, Wanted(3.0))
        kept = smallest_palette(notes, PORTRAIT.tubes, Wanted(3.0, fixed=("viridian",)))
        self.assertIn("viridian", [t.id for t in kept.tubes])
        self.assertLessEqual(len(plain.tubes), len(kept.tubes))
        two = smallest_palette(notes, PORTRAIT.tubes, Wanted(3.0, size=2))
        self.assertEqual(len(two.tubes), 2)
        self.assertLess(sum(two.reached), sum(plain.reached))

    def test_price_and_hazards_decide_between_equals(self):
        pool = [tube(i) for i in ("titanium-white", "cadmium-red", "pyrrole-red", "naphthol-red")]
        note = [layer_lab(pool[1].K * 0.3 + pool[2].K * 0.1 + pool[0].K, pool[1].S * 0.3 + pool[2].S * 0.1 + pool[0].S)]
        safe = smallest_palette(note, pool, Wanted(12.0, avoid_hazards=True))
        self.assertNotIn("cadmium-red", [t.id for t in safe.tubes])
        price = {"titanium-white": 0.2, "cadmium-red": 0.1, "pyrrole-red": 3.0, "naphthol-red": 3.0}
        self.assertIn("cadmium-red", [t.id for t in smallest_palette(note, pool, Wanted(12.0, price=price)).tubes])

    def test_what_nobody_reaches_is_told(self):
        found = smallest_palette([[50.0, 10, 10], [60.0, -80, 60]], PORTRAIT.tubes)
        self.assertEqual((found.impossible, found.reached), ((1,), (True, False)))

    def test_wishes_that_cannot_be(self):
        for call, words in (
            (lambda: smallest_palette([], PORTRAIT.tubes), "notes first"),
            (lambda: smallest_palette([[50, 0, 0]], []), "0 tubes"),
            (lambda: smallest_palette([[50, 0, 0]], PORTRAIT.tubes, Wanted(size=13)), "2 to 12"),
            (
                lambda: smallest_palette([[50, 0, 0]], PORTRAIT.tubes, Wanted(fixed=PORTRAIT.paints, size=3)),
                "10 tubes are to stay",
            ),
        ):
            with self.subTest(words=words), self.assertRaises(OchreError) as caught:
                call()
            self.assertIn(words, str(caught.exception))


class Ways(unittest.TestCase):
    TARGET = np.array([40.0, 8.0, 10.0])

    def ways(self, most=4, **means):
        _, found = find_recipes(self.TARGET, PORTRAIT.tubes, most, 3, means=Means(**means))
        return found

    def test_kinds_are_what_they_say(self):
        stock = dict.fromkeys(("titanium-white", "yellow-ochre", "raw-umber", "burnt-sienna", "ultramarine-blue"), 10.0)
        price = {t.id: 0.3 for t in PORTRAIT.tubes} | {"cadmium-red-light": 2.0, "viridian": 1.5}
        found = {r.kind: r for r in self.ways(stock=stock, price=price)}
        best = found[""]
        self.assertLessEqual(set(found), set(WAY_KINDS) | {""})
        for kind, r in found.items():
            ids = {i for i, _ in r.shares}
            if kind == "no black":
                self.assertNotIn("ivory-black", ids)
            if kind == "safest":
                self.assertTrue(all(is_safe(tube(i)) for i in ids))
            if kind == "own stock":
                self.assertLessEqual(ids, set(stock))
            if kind == "fewest tubes":
                self.assertLessEqual(len(ids), len(best.shares))
            if kind == "least white":
                self.assertLessEqual(
                    dict(r.shares).get("titanium-white", 0), dict(best.shares).get("titanium-white", 0)
                )
        self.assertGreaterEqual(len(found), 3)

    def test_tubes_are_left_out_of_the_search_altogether(self):
        search = Searcher(PORTRAIT.tubes)
        allowed = [t.id in ("titanium-white", "yellow-ochre") for t in PORTRAIT.tubes]
        found = search.find([75.0, 6, 30], allowed=allowed)
        used = {PORTRAIT.tubes[int(i)].id for i, c in zip(found.index[0], found.shares[0], strict=True) if c > 0}
        self.assertLessEqual(used, {"titanium-white", "yellow-ochre"})
        with self.assertRaises(ValueError):
            search.find([75.0, 6, 30], allowed=[False] * 10)

    def test_five_tubes_are_no_worse_than_four(self):
        for lab in random_mixtures(PORTRAIT.tubes, 4, 8):
            four, five = (Searcher(PORTRAIT.tubes, n).find(lab) for n in (4, 5))
            self.assertLessEqual(five.error[0], four.error[0] + 1e-6)
            self.assertEqual(five.shares.shape[1], 5)

    def test_the_order_of_judging_is_a_choice(self):
        self.assertGreater(ORDERS["value"][0], max(ORDERS["value"][1:]))
        self.assertGreater(ORDERS["value"][2], ORDERS["value"][1])  # hue before chroma
        vivid = np.array([55.0, 60, -40])  # out of reach: something has to give
        by = {}
        for order in ORDERS:
            by[order] = find_recipes(vivid, palette("four-tube-earth").tubes, 4, 1, order, tints=())[1][0]
        self.assertLessEqual(abs(by["value"].value_error), abs(by["even"].value_error) + 0.05)
        self.assertLessEqual(by["even"].de00, by["value"].de00 + 0.05)
        self.assertEqual(float(weighted_error([50, 0, 0], [50, 0, 0])), 0.0)

    def test_twenty_four_tubes(self):
        ids = [i for i in all_tubes() if "white" not in i][::3][:23]
        tubes = [tube("titanium-white"), *(tube(i) for i in ids)]
        reachable, found = find_recipes(np.array([62.0, 14, 22]), tubes, 4, 3, tints=())
        self.assertTrue(reachable)
        self.assertLess(found[0].de00, 1.5)
