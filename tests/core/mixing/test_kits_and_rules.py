"""Which tubes a method takes, against trying every choice; and how much each rule of a subject does, in figures."""

import itertools
import math
import unittest
from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.relations import warmer, warmer_by
from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.ranking import Means, masks
from ochre_stone.core.mixing.recipe.recipe import TINT
from ochre_stone.core.mixing.recipe.search import searcher
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.recipe.tints import with_mother
from ochre_stone.core.mixing.strings.methods import kit, verdict
from ochre_stone.core.mixing.strings.subjects import RULE_BY_ID, Span, flush, shape, through_leaf
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import tube
from tests.support.made import find_recipes

PORTRAIT = palette("portrait-ten")
TWELVE = (*PORTRAIT.tubes, tube("cerulean-blue"), tube("cadmium-orange"))
SKIN = [(72.0, 14.0, 26.0), (50.0, 16.0, 24.0), (30.0, 10.0, 12.0)]


def least(tubes, goal):
    """Mean weighted error of the best mixtures of these tubes."""
    search = searcher(tuple(tubes), len(tubes), None, "value")
    return float(np.mean([search.find(np.array(g), 1).error[0] for g in goal]))


class Fewest(unittest.TestCase):
    """Against every choice of tubes, each searched on its own."""

    def test_no_smaller_choice_comes_as_near(self):
        tubes = (*PORTRAIT.tubes[:2], *PORTRAIT.tubes[3:4], PORTRAIT.tubes[5], PORTRAIT.tubes[7])
        best = {
            k: min(((least(c, SKIN), c) for c in itertools.combinations(tubes, k)), key=lambda e: e[0])
            for k in range(1, 5)
        }
        want = min(k for k in best if best[k][0] <= best[4][0] + 1.0)
        got = kit("fewest", SKIN, tubes)
        self.assertEqual(len(got.tubes), want)
        self.assertLessEqual(least(got.tubes, SKIN), best[4][0] + 1.1)
        self.assertGreater(best[want - 1][0], best[4][0] + 1.0)
        self.assertEqual(got.words, ", ".join(t.short for t in got.tubes))

    def test_a_palette_of_twelve(self):
        got = kit("fewest", SKIN, TWELVE)
        self.assertIn(len(got.tubes), (2, 3, 4))
        self.assertLessEqual(least(got.tubes, SKIN), min(least(TWELVE[:4], SKIN), least(TWELVE[-4:], SKIN)))

    def test_two_tubes_and_one_are_all_there_is(self):
        for n in (1, 2):
            self.assertEqual(kit("fewest", SKIN, PORTRAIT.tubes[:n]).tubes, PORTRAIT.tubes[:n])

    def test_three_tubes_where_one_stands_at_the_goal(self):
        ochre = next(t for t in PORTRAIT.tubes if t.id == "yellow-ochre")
        self.assertEqual(kit("fewest", [ochre.lab], PORTRAIT.tubes).tubes, (ochre,))


class Kits(unittest.TestCase):
    def test_a_ladder_is_white_one_tube_and_the_darkest(self):
        darkest = min(PORTRAIT.tubes, key=lambda t: t.lab[0])
        best = min(
            ((white, t, darkest) for white in PORTRAIT.tubes[:1] for t in PORTRAIT.tubes[1:] if t is not darkest),
            key=lambda c: least(c, SKIN),
        )
        got = kit("ladder", SKIN, PORTRAIT.tubes).tubes
        self.assertEqual({got[0].id, got[2].id}, {"titanium-white", darkest.id})
        self.assertLessEqual(least(got, SKIN), least(best, SKIN) + 0.5)

    def test_complements_lie_across(self):
        got = kit("complement", SKIN, PORTRAIT.tubes).tubes
        white, a, b = got
        self.assertTrue(white.is_white)
        turn = math.degrees(math.atan2(a.lab[2], a.lab[1]) - math.atan2(b.lab[2], b.lab[1]))
        self.assertGreaterEqual(abs((turn + 180) % 360 - 180), 120)

    def test_a_neutral_is_the_black_or_the_greyest_pair(self):
        self.assertIn("ivory-black", [t.id for t in kit("neutral", SKIN, PORTRAIT.tubes).tubes])
        plain = palette("underpainting-three").tubes
        self.assertEqual(set(kit("neutral", SKIN, (*plain, tube("yellow-ochre"))).tubes[:3]), set(plain))


class Kinds(unittest.TestCase):
    def test_which_tubes_each_kind_leaves_in(self):
        tubes = PORTRAIT.tubes
        stock = {"titanium-white": 20.0, "yellow-ochre": 5.0, "ivory-black": 0.0}
        found = masks(tubes, Means(stock))
        self.assertEqual(
            [t.id for t, on in zip(tubes, found["own stock"], strict=True) if on], ["titanium-white", "yellow-ochre"]
        )
        self.assertEqual([t.id for t, on in zip(tubes, found["no black"], strict=True) if not on], ["ivory-black"])
        self.assertNotIn("own stock", masks(tubes, Means()))
        self.assertNotIn("own stock", masks(tubes, Means({t.id: 1.0 for t in tubes})))
        self.assertNotIn("no black", masks(tubes[:9], Means()))


class Tints(unittest.TestCase):
    def test_a_paint_too_small_to_dose_goes_in_by_its_tint(self):
        """What the tint holds is what was wanted: the same mixture, put together in another way."""
        terms = Terms(PORTRAIT.tubes, PORTRAIT.name)
        for lab in ((88.0, 3.0, 6.0), (85.0, -2.0, -6.0), (90.0, 6.0, 2.0)):
            _, found = recipes(np.array(lab), terms, Wishes(count=3))
            first = found[0]
            whole = sum(i.parts for i in first.ingredients)
            for i in first.ingredients:
                if not i.id.startswith(TINT):
                    self.assertGreater(i.parts / whole, 1 / 60, (lab, i.id))
            self.assertLess(float(ciede2000(predict(dict(first.shares)).lab, first.lab)), 1e-6)
            self.assertAlmostEqual(sum(s for _, s in first.shares), 1.0)

    def test_every_paint_holds_its_twelfth_of_the_mother(self):
        search = searcher(PORTRAIT.tubes, 3, None, "value")
        mixed = with_mother(search.paints, 2)
        np.testing.assert_allclose(mixed.K[5], search.paints.K[5] * 11 / 12 + search.paints.K[2] / 12)
        np.testing.assert_allclose(mixed.S[2], search.paints.S[2])


class Verdicts(unittest.TestCase):
    def test_warmer_is_what_comparing_says(self):
        """A target on either side of the warm pole, mixed nearer to it and farther from it: one measure everywhere."""
        (recipe,) = find_recipes((60, 20, 20), PORTRAIT.tubes, count=1)[1][:1]

        def at(hue, goal):
            def lab(h):
                return 60.0, 20 * math.cos(math.radians(h)), 20 * math.sin(math.radians(h))

            return verdict("nearest", [replace(recipe, lab=lab(hue), target=lab(goal))], PORTRAIT.tubes).warmer

        for hue, goal, sign in (
            (40, 20, 1),
            (20, 40, -1),
            (80, 110, 1),
            (110, 80, -1),
            (60, 60, 0),
            (300, 280, 1),
            (350, 320, 1),
            (280, 300, -1),
        ):
            self.assertEqual(np.sign(round(at(hue, goal), 6)), sign, f"{hue} for {goal}")
            said = warmer(colour(60, 20, hue), colour(60, 20, goal))
            self.assertEqual(warmer_by(at(hue, goal)), said)


def colour(L, chroma, hue):
    return L, chroma * math.cos(math.radians(hue)), chroma * math.sin(math.radians(hue))


class HowMuch(unittest.TestCase):
    """The amounts of the rules (judgements of common practice, no source), as factors and degrees per step of value."""

    WHERE = Span(4.0, 7.0, 5.5)

    def shaped(self, subject, lab, value, *active, where=WHERE):
        (L, a, b), said = shape(subject, lab, value, where, active)
        self.assertEqual(L, lab[0])
        return math.hypot(a, b), math.degrees(math.atan2(b, a)) % 360, [r.id for r in said]

    def test_skin_highlight(self):
        (L, a, b), said = shape("skin", (90.0, 10.0, 20.0), 9.0, self.WHERE, ["skin-highlight"])
        self.assertAlmostEqual(a, 10 * 0.88**2)
        self.assertAlmostEqual(b, 20 * 0.78**2)
        self.assertEqual((L, said), (90.0, [RULE_BY_ID["skin-highlight"]]))
        self.assertEqual(shape("skin", (90.0, 4.0, -3.0), 9.0, self.WHERE, ["skin-highlight"])[0][2], 0.0)

    def test_skin_halftone(self):
        chroma, hue, said = self.shaped("skin", colour(55, 20, 60), 5.0, "skin-halftone")
        self.assertAlmostEqual(chroma, 17.0)
        self.assertAlmostEqual(hue, 66.0)
        self.assertEqual(said, ["skin-halftone"])
        for value, on in ((4.75, True), (4.74, False), (6.25, True), (6.26, False)):
            self.assertEqual(bool(self.shaped("skin", colour(55, 20, 60), value, "skin-halftone")[2]), on, value)
        self.assertEqual(self.shaped("skin", colour(55, 20, 60), 5.5, "skin-halftone", where=Span(4, 7, None))[2], [])

    def test_skin_shadow(self):
        chroma, hue, _ = self.shaped("skin", colour(25, 20, 70), 2.0, "skin-shadow")
        self.assertAlmostEqual(chroma, 20.0)
        self.assertAlmostEqual(hue, 50.0)  # ten degrees for each of two steps
        self.assertAlmostEqual(self.shaped("skin", colour(25, 20, 45), 2.0, "skin-shadow")[1], 40.0)

    def test_foliage(self):
        chroma, _, _ = self.shaped("foliage", colour(50, 40, 130), 5.0, "foliage-dull")
        self.assertAlmostEqual(chroma, 32.0)
        self.assertAlmostEqual(self.shaped("foliage", colour(50, 60, 130), 5.0, "foliage-dull")[0], 45.0)
        for c, h in ((31.9, 130), (40, 94.9), (40, 185.1)):
            self.assertEqual(self.shaped("foliage", colour(50, c, h), 5.0, "foliage-dull")[2], [], (c, h))
        self.assertAlmostEqual(self.shaped("foliage", colour(80, 30, 130), 8.0, "foliage-light")[1], 122.0)
        self.assertAlmostEqual(self.shaped("foliage", colour(25, 20, 130), 2.5, "foliage-warm")[1], 109.0)
        cool = self.shaped("foliage", colour(25, 20, 130), 2.5, "foliage-warm", "foliage-cool")
        self.assertAlmostEqual(cool[1], 157.0)
        self.assertEqual(cool[2], ["foliage-cool"])

    def test_what_rules_add(self):
        lip, cheek = flush((60.0, *colour(60, 20, 55)[1:]))
        self.assertEqual((lip[0], cheek[0]), (51.0, 60.0))
        for got, chroma, hue in ((cheek, 22.0, 41.0), (lip, 24.0, 31.0)):
            self.assertAlmostEqual(math.hypot(*got[1:]), chroma)
            self.assertAlmostEqual(math.degrees(math.atan2(got[2], got[1])), hue)
        dark, light = through_leaf(colour(50, 30, 125))
        self.assertEqual((dark[0], light[0]), (43.0, 55.0))
        for got, chroma, hue in ((light, 40.5, 117.0), (dark, 37.5, 117.0)):
            self.assertAlmostEqual(math.hypot(*got[1:]), chroma)
            self.assertAlmostEqual(math.degrees(math.atan2(got[2], got[1])), hue)
        self.assertEqual([c[0] for c in through_leaf(colour(90, 30, 125))], [83.0, 92.0])
        self.assertEqual(through_leaf(colour(15, 30, 125))[0][0], 12.0)
