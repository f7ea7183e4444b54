"""Learning the tubes from readings, and the smallest addition."""

import itertools
import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.correcting.belief import (
    Belief,
    Reading,
    as_believed,
    believe,
    departed,
)
from ochre_stone.core.mixing.correcting.correct import (
    AtHand,
    Handling,
    correct,
    nearest_mixture,
    start_again,
)
from ochre_stone.core.mixing.correcting.words import HOW_MUCH, WORDS, seen_as
from ochre_stone.core.mixing.recipe.search import Searcher
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.tubes import tube

TUBES = palette("four-tube-earth").tubes
PORTRAIT = palette("portrait-ten").tubes


def truth(figures, shares):
    """Lab of a mixture of tubes that depart from their data."""
    K, S = departed(TUBES, figures)
    c = np.array([shares.get(t.id, 0.0) for t in TUBES])
    return layer_lab(c @ K / c.sum(), c @ S / c.sum())


MIXES = (
    {"titanium-white": 0.7, "yellow-ochre": 0.3},
    {"titanium-white": 0.8, "cadmium-red": 0.2},
    {"titanium-white": 0.9, "ivory-black": 0.1},
    {"yellow-ochre": 0.6, "cadmium-red": 0.3, "ivory-black": 0.1},
    {"titanium-white": 0.5, "yellow-ochre": 0.3, "cadmium-red": 0.1, "ivory-black": 0.1},
)


class Learning(unittest.TestCase):
    def setUp(self):
        self.figures = np.zeros((4, 3))
        self.figures[:, 0] = [0.0, 0.3, -0.25, 0.2]
        self.figures[:, 2] = [0.0, 4.0, -3.0, 0.0]
        self.readings = [Reading(tuple(m.items()), tuple(float(x) for x in truth(self.figures, m)), 0.3) for m in MIXES]

    def test_exact_readings_bring_the_predictions_home(self):
        """After five piles, a sixth of other shares is foreseen far better than from the data."""
        known = believe(TUBES, self.readings)
        sixth = {"titanium-white": 0.55, "yellow-ochre": 0.15, "cadmium-red": 0.25, "ivory-black": 0.05}
        c = np.array([sixth[t.id] for t in TUBES])
        real = truth(self.figures, sixth)
        before = float(ciede2000(Belief.prior(TUBES).lab(c), real))
        after = float(ciede2000(known.lab(c), real))
        self.assertGreater(before, 2.0)
        self.assertLess(after, 0.5)

    def test_strengths_are_told_against_white(self):
        """Only ratios of strength can be seen in a mixture: black against white grows as it was made to."""
        known = believe(TUBES, self.readings)
        relative = known.figures[:, 0] - known.figures[0, 0]
        self.assertLess(abs(relative[3] - 0.2), 0.12)
        self.assertLess(abs(relative[1] - 0.3), 0.15)
        self.assertTrue(any("stronger" in w or "weaker" in w for w in known.words()))

    def test_each_reading_makes_surer(self):
        c = np.array([0.5, 0.3, 0.1, 0.1])
        sure = [Belief.prior(TUBES).unsure(c)]
        known = Belief.prior(TUBES)
        for r in self.readings:
            known = known.learn(r)
            sure.append(known.unsure(c))
        self.assertLess(sure[-1], sure[0] / 2)
        self.assertTrue(all(b <= a + 0.05 for a, b in itertools.pairwise(sure)), sure)

    def test_one_slip_of_the_hand_does_not_ruin_what_was_learnt(self):
        wild = Reading(tuple(MIXES[0].items()), (20.0, 40.0, -40.0), 0.3)
        with_slip = believe(TUBES, [*self.readings, wild])
        c = np.array([0.5, 0.3, 0.1, 0.1])
        real = truth(self.figures, dict(zip([t.id for t in TUBES], c, strict=True)))
        self.assertLess(float(ciede2000(with_slip.lab(c), real)), 2.0)

    def test_believed_tubes_mix_as_the_belief_says(self):
        known = believe(TUBES, self.readings)
        tubes = as_believed(known, TUBES)
        K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
        c = np.array([0.4, 0.3, 0.2, 0.1])
        self.assertLess(float(ciede2000(layer_lab(c @ K, c @ S), known.lab(c))), 1e-9)
        self.assertNotEqual(tubes[1], TUBES[1])  # no cache may take one for the other
        self.assertEqual(as_believed(Belief.prior(TUBES), TUBES), TUBES)

    def test_what_cannot_teach_is_refused(self):
        for amounts, words in (((("viridian", 1.0),), "not on the palette"), ((), "paint in it")):
            with self.assertRaisesRegex(ValueError, words):
                believe(TUBES, [Reading(amounts, (50, 0, 0))])
        with self.assertRaisesRegex(ValueError, "noise"):
            believe(TUBES, [Reading((("yellow-ochre", 1.0),), (50, 0, 0), 0.0)])


class Additions(unittest.TestCase):
    def setUp(self):
        self.known = Belief.prior(PORTRAIT)

    def lab(self, pile, additions=()):
        held = dict(pile)
        for i, v in additions:
            held[i] = held.get(i, 0.0) + v
        return self.known.lab(np.array([held.get(t.id, 0.0) for t in PORTRAIT]))

    def test_a_lack_of_two_tubes_is_found_and_closed(self):
        whole = {"titanium-white": 6.0, "yellow-ochre": 3.0, "cadmium-red-light": 0.6, "ultramarine-blue": 0.2}
        goal = self.lab(whole.items())
        for missing in (("yellow-ochre", "cadmium-red-light"), ("ultramarine-blue",), ("titanium-white",)):
            pile = [(i, v * (0.7 if i in missing else 1.0)) for i, v in whole.items()]
            c = correct(self.known, pile, goal)
            self.assertLess(c.de00, 0.7, missing)
            self.assertLessEqual(len(c.additions), 2)
            self.assertAlmostEqual(
                float(ciede2000(self.lab(pile, c.additions), np.array(c.expected))), 0.0, places=6, msg=missing
            )

    def test_half_first_lies_on_the_way(self):
        pile = [("titanium-white", 8.0), ("yellow-ochre", 2.0)]
        goal = np.array([62.0, 16.0, 26.0])
        c = correct(self.known, pile, goal)
        half = float(ciede2000(np.array(c.halfway), goal))
        self.assertTrue(c.de00 < half < c.now, (c.de00, half, c.now))

    def test_doses_are_what_a_hand_can_measure(self):
        c = correct(
            self.known, [("titanium-white", 8.0), ("yellow-ochre", 2.0)], (66, 10, 30), handling=Handling(dose=0.125)
        )
        self.assertTrue(c.additions)
        for _, v in c.additions:
            self.assertAlmostEqual(v * 8, round(v * 8), places=9)

    def test_what_the_belief_cannot_explain_is_carried_on(self):
        """Seen 3 too light, whatever the tubes are thought to be: the addition darkens."""
        pile = [("titanium-white", 8.0), ("yellow-ochre", 2.0)]
        goal = self.lab(pile)
        self.assertEqual(correct(self.known, pile, goal).verdict, "home")
        c = correct(self.known, pile, goal, seen=goal + np.array([4.0, 0, 0]))
        self.assertGreater(c.now, 2.0)
        self.assertLess(self.lab(pile, c.additions)[0], goal[0] - 1)

    def test_a_hopeless_pile_is_begun_again_and_a_strong_one_cut(self):
        blue = [("ultramarine-blue", 5.0), ("titanium-white", 5.0)]
        self.assertEqual(correct(self.known, blue, (82, 4, 30)).verdict, "again")
        dark = [("titanium-white", 5.0), ("ivory-black", 1.0)]
        c = correct(
            self.known, dark, self.lab([("titanium-white", 13.0), ("ivory-black", 1.0)]), handling=Handling(planned=6.0)
        )
        self.assertEqual(c.verdict, "cut")
        self.assertLess(c.keep, 0.7)
        fresh = start_again(self.known, (70, 12, 30))
        self.assertLess(float(ciede2000(self.lab(fresh.items()), np.array([70.0, 12, 30]))), 2.0)
        self.assertAlmostEqual(sum(fresh.values()), 1.0, places=3)

    def test_no_more_is_taken_from_a_pile_than_there_is(self):
        grey = AtHand("skin-2", "skin 2", (("titanium-white", 0.5), ("ivory-black", 0.5)), most=0.05, is_pile=True)
        c = correct(self.known, [("titanium-white", 10.0)], (60, 0, 0), [grey])
        self.assertLessEqual(dict(c.additions).get("skin-2", 0.0), 0.05 + 1e-9)

    def test_an_empty_pile(self):
        with self.assertRaisesRegex(ValueError, "paint in it"):
            correct(self.known, [], (50, 0, 0))

    def test_the_free_search_is_as_near_as_the_prepared_one(self):
        search = Searcher(PORTRAIT)
        K, S = np.stack([t.K for t in PORTRAIT]), np.stack([t.S for t in PORTRAIT])
        for goal in ((62, 14, 22), (45, -12, 25), (70, -4, -18)):
            found = search.find(goal)
            prepared = float(ciede2000(search.paints.lab(found.shares[:1], found.index[:1])[0], np.array(goal, float)))
            self.assertLess(nearest_mixture(K, S, goal)[0], prepared + 0.1)


class Unsure(unittest.TestCase):
    def test_what_the_optics_leave_stays_when_the_tubes_are_known(self):
        known = Belief(TUBES, np.zeros((4, 3)), np.zeros((12, 12)))
        self.assertAlmostEqual(known.unsure(np.array([1.0, 1, 0, 0])), 0.25)
        prior = Belief.prior(TUBES).unsure(np.array([1.0, 1, 0, 0]))
        self.assertGreater(prior, 1.0)


class Learnt(unittest.TestCase):
    """What is said of the tubes: made beliefs, so that every word has one cause."""

    def belief(self, **more):
        """Ochre a third stronger, red a fifth weaker, black leaning by 6 nm; ``more``: how sure (sd) of each."""
        prior = Belief.prior(TUBES)
        figures = np.zeros((4, 3))
        figures[1, 0], figures[2, 0], figures[3, 2] = np.log(1.3), np.log(0.8), -6.0
        sd = np.sqrt(np.diag(prior.cov)).reshape(-1, 3)
        sd[1, 0], sd[2, 0], sd[3, 2] = more.get("ochre", 0.02), more.get("red", 0.05), more.get("black", 1.0)
        return Belief(TUBES, figures, np.diag(sd.ravel() ** 2))

    def test_stronger_and_weaker_with_their_shares_clearest_first(self):
        said = self.belief().words()
        ochre, red, black = (t.short for t in TUBES[1:])
        self.assertEqual(said, [
            f"{ochre} is stronger than its data, by about 30%",
            f"{black} leans away from its data (-6 nm)",
            f"{red} is weaker than its data, by about 20%",
        ])  # fmt: skip

    def test_weak_evidence_says_nothing(self):
        """Neither where the spread is larger than the departure, nor where the readings hardly made it smaller."""
        ochre, red, black = (t.short for t in TUBES[1:])
        for more, silent in (({"ochre": 0.27}, ochre), ({"red": 0.3}, red), ({"black": 7.0}, black)):
            said = self.belief(**more).words()
            self.assertEqual(len(said), 2, more)
            self.assertFalse(any(w.startswith(silent) for w in said), said)
        for i, name in ((1, ochre), (2, red), (3, black)):
            prior = _as_sure_as_before(i)
            self.assertFalse(any(w.startswith(name) for w in prior.words()), name)
        self.assertEqual(Belief.prior(TUBES).words(), [])

    def test_readings_of_a_stronger_tube_say_stronger(self):
        for grow, word in ((0.3, "stronger"), (-0.3, "weaker")):
            figures = np.zeros((4, 3))
            figures[1, 0] = grow
            readings = [Reading(tuple(m.items()), tuple(float(x) for x in truth(figures, m)), 0.3) for m in MIXES]
            said = believe(TUBES, readings).words()
            self.assertTrue(any(w.startswith(f"{TUBES[1].short} is {word} than its data") for w in said), said)


def _as_sure_as_before(i):
    """Tube ``i`` far from its data, but no surer than before any reading."""
    prior = Belief.prior(TUBES)
    figures = np.zeros((4, 3))
    figures[i] = (0.9, 0.0, 20.0)
    return Belief(TUBES, figures, prior.cov)


class Words(unittest.TestCase):
    def test_every_word_moves_its_way(self):
        target = (55.0, 15.0, 25.0)
        for what in WORDS:
            lab, noise = seen_as(target, [(what, "clearly")])
            self.assertAlmostEqual(float(np.linalg.norm(np.subtract(lab, target))), HOW_MUCH["clearly"], places=6)
            self.assertGreater(noise, 1.0)
        self.assertGreater(seen_as(target, [("too light", "a lot")])[0][0], target[0] + 10)
        self.assertLess(seen_as(target, [("too blue", "a little")])[0][2], target[2])
        self.assertEqual(seen_as(target, [("too dark", "a little")])[0], (52.0, 15.0, 25.0))
        np.testing.assert_allclose(seen_as((50.0, 6.0, 8.0), [("too grey", "a little")])[0], (50.0, 4.2, 5.6))
        np.testing.assert_allclose(seen_as((50.0, 6.0, 8.0), [("too strong", "clearly")])[0], (50.0, 10.2, 13.6))
        # Chroma of 2 cannot lose 14: it ends at grey, not on the other side.
        np.testing.assert_allclose(seen_as((50.0, 2.0, 0.0), [("too grey", "a lot")])[0], (50.0, 0.0, 0.0), atol=1e-12)
        both, unsure = seen_as((50.0, 0.0, 0.0), [("too light", "a little"), ("too yellow", "clearly")])
        np.testing.assert_allclose(both, (53.0, 0.0, 7.0), atol=1e-12)
        self.assertAlmostEqual(unsure, 0.35 * 7 + 1)
        for L, word, end in ((95, "too light", 100.0), (5, "too dark", 0.0)):
            self.assertEqual(seen_as((L, 0.0, 0.0), [(word, "a lot")])[0][0], end)

    def test_nothing_said_or_not_understood(self):
        with self.assertRaises(ValueError):
            seen_as((50, 0, 0), [])
        with self.assertRaisesRegex(ValueError, "too loud"):
            seen_as((50, 0, 0), [("too loud", "a little")])


class OneTube(unittest.TestCase):
    def test_a_palette_of_one(self):
        known = Belief.prior([tube("ivory-black")])
        c = correct(known, [("ivory-black", 1.0)], (60, 0, 0))
        self.assertEqual(c.verdict, "again")


if __name__ == "__main__":
    unittest.main()
