"""Parents at one value, what comes of them together; and lighter and darker side by side."""

import unittest

import numpy as np

from ochre_stone.core.colour.spaces import lab_to_xyz
from ochre_stone.core.mixing.recipe.recipe import Source
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.technique.lighter import moves, step_down
from ochre_stone.core.mixing.technique.parents import brought_to, by_parents
from ochre_stone.core.mixing.technique.together import TURNED, greying, leans, nearest_parts, source_of, together
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import predict

PORTRAIT = palette("portrait-ten")
TERMS = Terms(PORTRAIT.tubes, PORTRAIT.name)
PILE = Source("skin-2", "skin 2", (("titanium-white", 0.5), ("yellow-ochre", 0.3), ("burnt-sienna", 0.2)))


def parent(i, lightness=55.0):
    return brought_to(source_of(i, TERMS, [PILE]), lightness, TERMS)


class Parents(unittest.TestCase):
    def test_every_tube_in_countable_parts_at_the_value(self):
        there = 0
        for t in PORTRAIT.tubes:
            for lightness in (35.0, 55.0, 70.0):
                one = parent(t.id, lightness)
                if one is None:
                    continue
                there += 1
                self.assertLess(abs(one.lab[0] - lightness), 2.0, (t.id, lightness))
                self.assertLess(abs(predict(dict(one.parts)).lab[0] - one.lab[0]), 1e-6)
                self.assertTrue(all(p == 0.25 or p == 0.5 or float(p).is_integer() for _, p in one.parts))
                self.assertLessEqual(sum(p for _, p in one.parts), 12.25)
        self.assertGreater(there, 22)

    def test_a_pile_can_be_a_parent(self):
        one = parent("skin-2", 72.0)
        self.assertEqual([i for i, _ in one.parts], ["skin-2", "titanium-white"])
        self.assertAlmostEqual(sum(c for _, c in one.shares), 1.0)
        with self.assertRaises(KeyError):
            source_of("nobody", TERMS)

    def test_two_parents_make_a_pile(self):
        found = by_parents(np.array([55.0, 18, 26]), TERMS, 5.4)
        self.assertTrue(found)
        self.assertLess(found[0].de00, 4.0)
        for r in found:
            self.assertEqual(len(r.bases), 2)
            self.assertTrue(all(i.is_base and i.parts > 0 for i in r.ingredients))
            self.assertLess(abs(predict(r.tube_parts).lab[0] - r.lab[0]), 1e-6, "counted out in tubes")


class Together(unittest.TestCase):
    def test_strokes_add_light_and_turns_lie_between(self):
        pair = [parent("cadmium-red-light"), parent("viridian")]
        made = together(pair, (2, 1), TERMS)
        xyz = lab_to_xyz(np.array([p.lab for p in pair]))
        np.testing.assert_allclose(lab_to_xyz(np.array(made.strokes)), np.array([2, 1]) @ xyz / 3, atol=1e-6)
        half = TURNED * lab_to_xyz(np.array(made.stirred)) + (1 - TURNED) * lab_to_xyz(np.array(made.strokes))
        np.testing.assert_allclose(lab_to_xyz(np.array(made.turned)), half, atol=1e-6)
        strokes, turned, stirred = made.kept
        self.assertTrue(strokes > turned > stirred > 0)
        for parts in ((1,), (1, 0), (1, 1, 1)):
            with self.assertRaises(ValueError):
                together(pair, parts, TERMS)

    def test_there_is_always_some_of_each(self):
        for pair in (("cadmium-red-light", "viridian"), ("yellow-ochre", "ultramarine-blue")):
            made = [parent(i) for i in pair]
            parts = nearest_parts(made, made[0].lab, TERMS)  # what one of them is anyway
            self.assertTrue(all(p >= 1 for p in parts))
            self.assertEqual(parts[0], 6.0)

    def test_from_one_lean_to_the_other(self):
        three = [parent("cadmium-red-light"), parent("skin-2"), parent("viridian")]
        turned = leans(three, TERMS)
        self.assertEqual(turned[0].parts, (4.0, 1.0, 1.0))
        a = [t.turned[1] for t in turned]
        self.assertEqual(a, sorted(a, reverse=True), "less and less red")

    def test_bits_grey_by_a_third(self):
        pile = (55.0, 18.0, 26.0)
        for bits in greying(pile, TERMS):
            chroma = float(np.hypot(*bits.lab[1:]) / np.hypot(*pile[1:]))
            self.assertTrue(0.5 < chroma < 0.85, (bits.parent.tube, chroma))
            self.assertGreaterEqual(bits.pile_parts, 1)
        self.assertTrue(greying(pile, TERMS))
        self.assertEqual(greying((55.0, 0.5, 0.5), TERMS), [])


class Lighter(unittest.TestCase):
    def test_white_dulls_and_a_yellow_strengthens(self):
        """White cools and dulls; a yellow keeps the chroma (common practice, no source)."""
        found = {m.kind: m for m in moves(PILE, (predict(dict(PILE.shares)).lab[0] + 10, 0, 0), TERMS)}
        self.assertTrue({"white", "white and yellow"} <= set(found))
        self.assertLess(found["white"].chroma, 0)
        self.assertLess(found["white"].warmer, 0)
        self.assertGreater(found["white and yellow"].chroma, found["white"].chroma + 1)
        self.assertNotIn("yellow", found, "yellow alone turns a skin yellow")

    def test_four_ways_darker_at_one_value(self):
        own = predict(dict(PILE.shares)).lab
        found = {m.kind: m for m in moves(PILE, (own[0] - 10, own[1], own[2]), TERMS)}
        self.assertTrue({"complement", "brown", "black"} <= set(found), found)
        for m in found.values():
            self.assertLess(abs(m.lab[0] - own[0] + 10), 2.6 if m.there else 10, m.kind)
            self.assertTrue(all(p in (0.25, 0.5) or (2 * p).is_integer() for p in (m.pile_parts, m.added[0][1])))
        self.assertLess(found["brown"].off, found["black"].off, "a brown keeps a skin warm")
        alone = [m.added[0][0].id for m in found.values() if len(m.added) == 1]
        self.assertEqual(len(set(alone)), len(alone), "each tube once")
        kept = np.hypot(*found["complement"].lab[1:]) / np.hypot(*own[1:])
        self.assertGreater(kept, 0.4, "a complement darkens while the colour is still itself")

    def test_a_lighter_pile_at_hand(self):
        light = Source("skin-4", "skin 4", (("titanium-white", 0.9), ("yellow-ochre", 0.06), ("burnt-sienna", 0.04)))
        own = predict(dict(PILE.shares)).lab
        found = {m.kind: m for m in moves(PILE, (own[0] + 8, own[1], own[2]), TERMS, [light, PILE])}
        self.assertEqual(found["lighter pile"].added[0][0].id, "skin-4")
        self.assertIn("of skin 4", found["lighter pile"].words)

    def test_step_down(self):
        own = predict(dict(PILE.shares)).lab
        parts, lab = step_down(PILE, own[0] + 12, TERMS)
        self.assertLess(abs(lab[0] - own[0] - 12), 2.5)
        self.assertTrue(all(p > 0 for p in parts))
        self.assertIsNone(step_down(PILE, 99.5, TERMS))
        self.assertIsNone(step_down(PILE, own[0] + 12, Terms((PORTRAIT.tubes[1],))))


if __name__ == "__main__":
    unittest.main()
