"""Learning the tubes from readings, and the smallest addition."""

import itertools
import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.correcting.belief import MODEL, Belief, as_believed, believe, four_in_five
from ochre_stone.core.mixing.correcting.correct import ADDED_PARTS, LARGEST, AtHand, Handling, correct
from ochre_stone.core.mixing.correcting.departing import FIGURES, departed, prior_sd, slopes
from ochre_stone.core.mixing.correcting.drawn import Drawn
from ochre_stone.core.mixing.correcting.other import better_tube
from ochre_stone.core.mixing.correcting.reading import PileSeen
from ochre_stone.core.mixing.correcting.words import HOW_MUCH, WORDS, Saying, excludes, said_words, seen_as
from ochre_stone.core.mixing.recipe.dose import Dose, contents, shrunk, weighed
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.search import Searcher, nearest_mixture
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
        self.readings = [PileSeen.of(m.items(), truth(self.figures, m), 0.3) for m in MIXES]

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
        wild = PileSeen.of(MIXES[0].items(), (20.0, 40.0, -40.0), 0.3)
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
                believe(TUBES, [PileSeen.of(amounts, (50, 0, 0))])
        with self.assertRaisesRegex(ValueError, "noise"):
            believe(TUBES, [PileSeen.of((("yellow-ochre", 1.0),), (50, 0, 0), 0.0)])


STEADY = Hand(least_ml=0.001, dose=0.02, touch=0.02, knife=0.0)
"""A hand that hardly errs: what is left is what the search finds."""


class Additions(unittest.TestCase):
    """What to add, by a hand that hardly errs and a belief that is sure of its tubes."""

    def setUp(self):
        prior = Belief.prior(PORTRAIT)
        n = prior.figures.size
        self.known = Belief(PORTRAIT, prior.figures, prior.cov, prior.surface, (), np.zeros(n), np.eye(n) * 1e-3)

    def lab(self, pile, additions=()):
        held = dict(pile)
        for i, v in additions:
            held[i] = held.get(i, 0.0) + v
        return self.known.lab(np.array([held.get(t.id, 0.0) for t in PORTRAIT]))

    def correct(self, pile, goal, at_hand=None, **handling):
        return correct(self.known, weighed(pile), goal, at_hand, Handling(hand=STEADY, **handling))

    def test_a_lack_of_two_tubes_is_found_and_closed(self):
        whole = {"titanium-white": 12.0, "yellow-ochre": 6.0, "cadmium-red-light": 1.5, "ultramarine-blue": 0.5}
        goal = self.lab(whole.items())
        for missing in (("yellow-ochre", "cadmium-red-light"), ("ultramarine-blue",), ("titanium-white",)):
            pile = [(i, v * (0.67 if i in missing else 1.0)) for i, v in whole.items()]
            c = self.correct(pile, goal)
            self.assertLess(c.de00, 1.2, missing)
            self.assertLessEqual(len(c.additions), 2)
            reached = self.lab(pile, c.additions)
            self.assertLess(float(ciede2000(reached, np.array(c.expected))), 0.3, missing)
            self.assertLess(float(ciede2000(reached, goal)), 1.2, missing)

    def test_half_lies_on_the_way(self):
        pile = [("titanium-white", 8.0), ("yellow-ochre", 2.0)]
        goal = np.array([62.0, 16.0, 26.0])
        c = self.correct(pile, goal)
        half = float(ciede2000(np.array(c.halfway), goal))
        self.assertTrue(c.de00 < half < c.now, (c.de00, half, c.now))

    def test_doses_are_what_a_hand_can_measure(self):
        for ml, least in ((0.0, 0.125), (0.2, 0.25), (0.05, 1.0)):
            c = correct(
                self.known,
                weighed([("titanium-white", 8.0), ("yellow-ochre", 2.0)]),
                (66, 10, 30),
                handling=Handling(hand=Hand(), ml=ml),
            )
            self.assertTrue(c.additions)
            for _, v in c.additions:
                self.assertIn(v, ADDED_PARTS)
                self.assertGreaterEqual(v, least)

    def test_half_first_only_where_a_half_can_be_dosed(self):
        """A noisy reading near the target: where half goes in first, half of each is no less than the least dose."""
        pile = weighed([("titanium-white", 8.0), ("viridian", 1.0)], 0.3)
        goal = self.lab([("titanium-white", 8.0), ("viridian", 1.0)])
        asked = 0
        for off in (1.0, 2.0, 2.5, 3.0):
            known = believe(
                PORTRAIT, [PileSeen(pile, (float(goal[0]) + off, float(goal[1]), float(goal[2])), 2.0, "a")]
            )
            for ml in (0.05, 0.1, 0.4, 2.0):
                c = correct(known, pile, goal, handling=Handling(ml=ml, noise=2.0), seen_as="a")
                for one in (c, *c.others):
                    asked += one.half_first
                    if one.half_first:
                        self.assertGreaterEqual(min(v for _, v in one.additions) / 2 * ml, 0.05 - 1e-9)
        self.assertGreater(asked, 0)

    def test_what_was_read_is_what_is_corrected(self):
        """Seen 4 too light, whatever the tubes are thought to be: the addition darkens."""
        pile = weighed([("titanium-white", 8.0), ("yellow-ochre", 2.0)], 0.2)
        goal = self.lab([("titanium-white", 8.0), ("yellow-ochre", 2.0)])
        known = believe(PORTRAIT, [PileSeen(pile, tuple(goal.tolist()), 0.3, "a")])
        self.assertEqual(correct(known, pile, goal, seen_as="a").verdict, "home")
        known = believe(PORTRAIT, [PileSeen(pile, (float(goal[0]) + 4, float(goal[1]), float(goal[2])), 0.3, "a")])
        c = correct(known, pile, goal, seen_as="a")
        self.assertEqual(c.verdict, "add")
        self.assertGreater(c.now, 2.0)
        self.assertLess(c.expected[0], goal[0] + 3)
        self.assertLess(c.de00, c.now)

    def test_a_noisy_reading_is_no_match_until_it_is_read_again(self):
        pile = weighed([("titanium-white", 8.0), ("yellow-ochre", 2.0)], 0.2)
        goal = self.lab([("titanium-white", 8.0), ("yellow-ochre", 2.0)])
        seen = (float(goal[0]) + 0.5, float(goal[1]), float(goal[2]))
        once = [PileSeen(pile, seen, 2.0, "a")]
        first = correct(believe(PORTRAIT, once), pile, goal, seen_as="a")
        self.assertNotEqual(first.verdict, "home")
        self.assertLess(first.sure, 0.9)
        sure = correct(believe(PORTRAIT, once * 36), pile, goal, seen_as="a")
        self.assertEqual(sure.verdict, "home")
        self.assertGreater(sure.sure, first.sure)
        self.assertLess(sure.give, first.give)

    def test_a_pile_that_would_grow_is_cut(self):
        dark = [("titanium-white", 5.0), ("ivory-black", 1.0)]
        c = self.correct(dark, self.lab([("titanium-white", 13.0), ("ivory-black", 1.0)]), planned=6.0)
        self.assertEqual(c.verdict, "cut")
        self.assertIn(c.keep, (1 / 2, 1 / 3))
        self.assertLessEqual(6.0 * c.keep * c.growth, 6.0 * 1.5)
        self.assertLess(c.de00, 2.0)
        self.assertGreater(LARGEST, 1.0)

    def test_a_new_pile_only_where_it_is_expected_to_end_nearer(self):
        blue, goal = [("ultramarine-blue", 5.0), ("titanium-white", 5.0)], (82, 4, 30)
        right = weighed([("titanium-white", 9.0), ("yellow-ochre", 1.0)], 0.2)
        good = self.lab([("titanium-white", 9.0), ("yellow-ochre", 1.0)])
        self.assertEqual(self.correct(blue, good, again=lambda: right).verdict, "again")
        wrong = weighed([("ivory-black", 1.0)])
        self.assertNotEqual(self.correct(blue, goal, again=lambda: wrong).verdict, "again")
        near = [("titanium-white", 8.0), ("yellow-ochre", 1.0)]
        asked = []
        self.correct(near, good, again=lambda: asked.append(1) or right)
        self.assertEqual(asked, [])  # a search that nobody needs is not made

    def test_nothing_helps(self):
        """Black on a palette of black and white, a green wanted: leave it."""
        few = [t for t in PORTRAIT if t.id in ("titanium-white", "ivory-black")]
        pile = weighed([("titanium-white", 2.0), ("ivory-black", 2.0)])
        grey = Belief.prior(few).lab(np.array([2.0, 2.0]))
        goal = (float(grey[0]), -8.0, 6.0)
        c = correct(Belief.prior(few), pile, goal, handling=Handling(hand=STEADY, said_off=True))
        self.assertEqual(c.verdict, "leave")
        others = [t for t in PORTRAIT if t not in few]
        found = better_tube(Belief.prior(few), pile, tuple(grey.tolist()), np.array(goal), others)
        self.assertEqual(found[0].id, "viridian")
        self.assertLess(found[1], 0.55 * c.now)
        self.assertIsNone(better_tube(Belief.prior(few), pile, tuple(grey.tolist()), np.array(goal), []))

    def test_no_more_is_taken_from_a_pile_than_there_is(self):
        grey = AtHand("skin-2", "skin 2", (("titanium-white", 0.5), ("ivory-black", 0.5)), most=0.3, is_pile=True)
        c = self.correct([("titanium-white", 10.0)], (60, 0, 0), [grey])
        self.assertLessEqual(dict(c.additions).get("skin-2", 0.0), 0.3 + 1e-9)

    def test_what_has_to_be_made_first_is_taken_where_it_is_worth_it(self):
        pile, goal = [("titanium-white", 8.0), ("yellow-ochre", 2.0)], (70, 8, 26)
        shares = (("titanium-white", 0.9), ("cadmium-red-light", 0.1))
        tubes = [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in PORTRAIT]
        free, dear = (AtHand("tint-x", "x", shares, trouble=x) for x in (0.0, 50.0))
        self.assertNotIn("tint-x", dict(self.correct(pile, goal, [*tubes, dear]).additions))
        self.assertEqual(dict(self.correct(pile, goal, [free]).additions).keys(), {"tint-x"})

    def test_an_empty_pile(self):
        with self.assertRaisesRegex(ValueError, "paint in it"):
            correct(self.known, (), (50, 0, 0))

    def test_the_free_search_is_as_near_as_the_prepared_one(self):
        search = Searcher(PORTRAIT)
        K, S = np.stack([t.K for t in PORTRAIT]), np.stack([t.S for t in PORTRAIT])
        for goal in ((62, 14, 22), (45, -12, 25), (70, -4, -18)):
            found = search.find(goal)
            prepared = float(ciede2000(search.paints.lab(found.shares[:1], found.index[:1])[0], np.array(goal, float)))
            self.assertLess(nearest_mixture(K, S, goal)[0], prepared + 0.1)


class Unsure(unittest.TestCase):
    def test_what_the_optics_leave_stays_when_the_tubes_are_known(self):
        known = Belief(TUBES, np.zeros((4, FIGURES)), np.zeros((4 * FIGURES, 4 * FIGURES)))
        self.assertAlmostEqual(known.unsure(np.array([1.0, 1, 0, 0])), four_in_five(MODEL**2 * np.eye(3)))
        prior = Belief.prior(TUBES).unsure(np.array([1.0, 1, 0, 0]))
        self.assertGreater(prior, 1.5)

    def test_four_in_five_of_drawn_vectors_lie_within_what_is_said(self):
        rng = np.random.default_rng(2)
        for V in (np.diag([1.0, 1.0, 1.0]), np.diag([4.0, 0.3, 0.1]), np.array([[2, 1, 0], [1, 2, 0], [0, 0, 0.5]])):
            far = np.linalg.norm(rng.multivariate_normal(np.zeros(3), V, 20_000), axis=1)
            self.assertAlmostEqual(float((far < four_in_five(V)).mean()), 0.8, delta=0.02)


class Doses(unittest.TestCase):
    """A reading tells of the doses as well as of the tubes."""

    PILE = (Dose((("titanium-white", 1.0),), 8.0, 0.2), Dose((("cadmium-red", 1.0),), 2.0, 0.2))

    def seen(self, red, noise=0.3, name="a", pile=None):
        lab = truth(np.zeros((4, 3)), {"titanium-white": 8.0, "cadmium-red": red})
        return PileSeen(pile or self.PILE, tuple(lab.tolist()), noise, name)

    def test_a_dose_that_errs_leaves_the_tubes_nearer_than_one_that_is_weighed(self):
        """Tubes are as their data say, the red dose was half as large again: weighed, it would be a stronger red."""
        weighed_pile = weighed(contents(self.PILE).items())
        blamed = believe(TUBES, [self.seen(3.0, pile=weighed_pile)])
        shared = believe(TUBES, [self.seen(3.0)])
        self.assertGreater(blamed.figures[2, 0] - blamed.figures[0, 0], 0.2)
        stronger = [float(b.figures[2, 0] - b.figures[0, 0]) for b in (shared, blamed)]
        self.assertLess(stronger[0], 0.75 * stronger[1])
        start, _ = shared.unknowns.batches["a"]
        self.assertGreater(shared.values[start + 1] - shared.values[start], 0.3)  # more red than was meant

    def test_readings_of_one_pile_share_its_doses(self):
        """Ten readings of one pile tell of that pile; of ten piles, each dosed anew, they tell of the tube."""
        one = believe(TUBES, [self.seen(3.0) for _ in range(10)])
        ten = believe(TUBES, [self.seen(3.0, name=f"p{k}") for k in range(10)])
        grown = [float(b.figures[2, 0] - b.figures[0, 0]) for b in (one, ten)]
        self.assertGreater(grown[1], 1.3 * grown[0])

    def test_a_tint_that_is_off_is_off_in_every_pile(self):
        tint = (("titanium-white", 10 / 11), ("ivory-black", 1 / 11))

        def pile(k):
            doses = (Dose((("titanium-white", 1.0),), 6.0, 0.05), Dose(tint, 2.0, 0.05, "tint-ivory-black", 0.3))
            strong = {"titanium-white": 6 + 2 * (1 - 1.6 / 11), "ivory-black": 2 * 1.6 / 11}
            return PileSeen(doses, tuple(truth(np.zeros((4, 3)), strong).tolist()), 0.3, f"p{k}")

        known = believe(TUBES, [pile(k) for k in range(4)])
        self.assertGreater(known.values[known.unknowns.bases["tint-ivory-black"]], 0.4)

    def test_a_cut_pile_is_still_the_same(self):
        half = shrunk(self.PILE, 0.5)
        self.assertEqual(contents(half), {"titanium-white": 4.0, "cadmium-red": 1.0})
        a = believe(TUBES, [self.seen(3.0), self.seen(3.0, pile=half)])
        b = believe(TUBES, [self.seen(3.0), self.seen(3.0)])
        np.testing.assert_allclose(a.figures, b.figures, atol=1e-6)

    def test_from_what_was_believed_before_the_search_ends_at_the_same(self):
        readings = [self.seen(3.0), self.seen(1.6, name="b"), self.seen(2.4, name="c")]
        step = Belief.prior(TUBES)
        for r in readings:
            step = step.learn(r)
        whole = believe(TUBES, readings)
        np.testing.assert_allclose(step.figures, whole.figures, atol=0.02)

    def test_the_slopes_are_those_of_small_changes(self):
        rng = np.random.default_rng(3)
        figures = rng.normal(0, 1, (4, FIGURES)) * prior_sd(TUBES) * 0.5
        K, S = departed(TUBES, figures)
        dK, dS = slopes(TUBES, figures, K, S)
        for i in range(FIGURES):
            if i == 2:
                continue  # absorption is told band by band: its slope is that over two nanometres
            moved = figures.copy()
            moved[:, i] += 1e-6
            K2, S2 = departed(TUBES, moved)
            np.testing.assert_allclose((K2 - K) / 1e-6, dK[:, i], rtol=1e-4, atol=1e-6)
            np.testing.assert_allclose((S2 - S) / 1e-6, dS[:, i], rtol=1e-4, atol=1e-6)

    def test_drawn_palettes_scatter_as_the_reading_says(self):
        """A pile that was read often is known as well as its readings, however unsure its tubes and doses are."""
        known = believe(TUBES, [self.seen(3.0, noise=0.6) for _ in range(9)])
        drawn = Drawn.of(known)
        lab = drawn.lab(*drawn.pile(self.PILE, "a"))
        seen = truth(np.zeros((4, 3)), {"titanium-white": 8.0, "cadmium-red": 3.0})
        off = ciede2000(lab, seen)
        self.assertLess(float(np.sqrt((off**2).mean())), 0.8)
        fresh = ciede2000(drawn.lab(*drawn.pile(self.PILE)), seen)
        self.assertGreater(float(fresh.mean()), 2 * float(off.mean()))


class Learnt(unittest.TestCase):
    """What is said of the tubes: made beliefs, so that every word has one cause."""

    def belief(self, **more):
        """Ochre a third stronger, red a fifth weaker, black leaning by 6 nm; ``more``: how sure (sd) of each."""
        prior = Belief.prior(TUBES)
        figures = np.zeros((4, FIGURES))
        figures[1, 0], figures[2, 0], figures[3, 2] = np.log(1.3), np.log(0.8), -6.0
        sd = np.sqrt(np.diag(prior.cov)).reshape(-1, FIGURES)
        sd[1, 0], sd[2, 0], sd[3, 2] = more.get("ochre", 0.02), more.get("red", 0.05), more.get("black", 1.0)
        return Belief(TUBES, figures, np.diag(sd.ravel() ** 2))

    def test_stronger_and_weaker_with_their_shares_clearest_first(self):
        said = self.belief().words()
        ochre, red, black = (t.short for t in TUBES[1:])
        self.assertEqual(
            said,
            [
                f"{ochre} is stronger than its data, by about 30%",
                f"{black} leans away from its data (-6 nm)",
                f"{red} is weaker than its data, by about 20%",
            ],
        )

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
            readings = [PileSeen.of(m.items(), truth(figures, m), 0.3) for m in MIXES]
            said = believe(TUBES, readings).words()
            self.assertTrue(any(w.startswith(f"{TUBES[1].short} is {word} than its data") for w in said), said)


def _as_sure_as_before(i):
    """Tube ``i`` far from its data, but no surer than before any reading."""
    prior = Belief.prior(TUBES)
    figures = np.zeros((4, FIGURES))
    figures[i, :3] = (0.9, 0.0, 20.0)
    return Belief(TUBES, figures, prior.cov)


class Words(unittest.TestCase):
    def test_every_word_moves_its_way(self):
        target = (55.0, 15.0, 25.0)
        for what in WORDS:
            lab, noise = seen_as(target, [(what, "clearly")])
            far = float(np.linalg.norm(np.subtract(lab, target)))
            if WORDS[what][0] == "M":  # of milk and mud, some in each direction
                self.assertTrue(0.6 < far / HOW_MUCH["clearly"] < 2.0, what)
            elif WORDS[what][0] == "L":
                self.assertAlmostEqual(far, HOW_MUCH["clearly"], places=6)
            else:  # as much as is seen of it: a grey's seven, farther the stronger the colour
                self.assertGreater(far, HOW_MUCH["clearly"])
                seen = float(ciede2000(np.array(lab), np.array(target)))
                self.assertTrue(0.6 < seen / HOW_MUCH["clearly"] < 1.45, (what, seen))
            self.assertGreater(noise, 1.0)
        self.assertGreater(seen_as(target, [("too light", "a lot")])[0][0], target[0] + 10)
        self.assertLess(seen_as(target, [("too blue", "a little")])[0][2], target[2])
        self.assertEqual(seen_as(target, [("too dark", "a little")])[0], (52.0, 15.0, 25.0))
        # Of a chroma of 10 as many times S_C = 1.45.
        np.testing.assert_allclose(seen_as((50.0, 6.0, 8.0), [("too grey", "a little")])[0], (50.0, 3.39, 4.52))
        np.testing.assert_allclose(seen_as((50.0, 6.0, 8.0), [("too strong", "clearly")])[0], (50.0, 12.09, 16.12))
        # Chroma of 2 cannot lose 14: it ends at grey, not on the other side.
        np.testing.assert_allclose(seen_as((50.0, 2.0, 0.0), [("too grey", "a lot")])[0], (50.0, 0.0, 0.0), atol=1e-12)
        both, unsure = seen_as((50.0, 0.0, 0.0), [("too light", "a little"), ("too yellow", "clearly")])
        np.testing.assert_allclose(both, (53.0, 0.0, 7.0), atol=1e-12)
        self.assertAlmostEqual(unsure, 0.25 * 7 + 0.75)
        for L, word, end in ((95, "too light", 100.0), (5, "too dark", 0.0)):
            self.assertEqual(seen_as((L, 0.0, 0.0), [(word, "a lot")])[0][0], end)

    def test_milk_and_mud(self):
        target = (55.0, 15.0, 25.0)
        milk, mud = (seen_as(target, [(w, "clearly")])[0] for w in ("too chalky", "too muddy"))
        self.assertTrue(milk[0] > 57 and mud[0] < 53)
        for lab in (milk, mud):
            self.assertLess(np.hypot(*lab[1:]), np.hypot(15, 25) - 2)
        self.assertLess(milk[2] - mud[2], 0)  # white cools

    def test_warm_is_orange_and_cool_its_opposite(self):
        warm, cool = (np.array(seen_as((50.0, 0, 0), [(w, "a lot")])[0]) for w in ("too warm", "too cool"))
        self.assertTrue(warm[1] > 5 and warm[2] > 5)
        np.testing.assert_allclose(warm[1:], -cool[1:], atol=1e-9)

    def test_each_press_says_more_and_opposites_exclude(self):
        s = Saying()
        self.assertEqual((s.pairs(), said_words(s.pairs())), ([], ""))
        s.press("too red")
        s.press("too light")
        s.press("too light")
        self.assertEqual(said_words(s.pairs()), "a little too red, clearly too light")
        s.press("too dark")
        self.assertEqual(s.degree("too light"), 0)
        for degree in (1, 2, 3, 0):
            s.press("too warm")
            self.assertEqual(s.degree("too warm"), degree)
        s.press("too green")  # of hues one is said; warm and cool are said beside it
        self.assertEqual(set(s.said), {"too dark", "too green"})
        self.assertTrue(excludes("too warm", "too cool") and not excludes("too warm", "too red"))
        s.clear()
        self.assertEqual(s.said, {})

    def test_nothing_said_or_not_understood(self):
        with self.assertRaises(ValueError):
            seen_as((50, 0, 0), [])
        with self.assertRaisesRegex(ValueError, "too loud"):
            seen_as((50, 0, 0), [("too loud", "a little")])


class OneTube(unittest.TestCase):
    def test_a_palette_of_one(self):
        known = Belief.prior([tube("ivory-black")])
        c = correct(known, weighed([("ivory-black", 1.0)]), (60, 0, 0), handling=Handling(said_off=True))
        self.assertEqual(c.verdict, "leave")


if __name__ == "__main__":
    unittest.main()
