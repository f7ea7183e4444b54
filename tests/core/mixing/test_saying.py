"""A pile described in words: with what it is mended, how much of it, and why."""

import unittest

import numpy as np

from ochre_stone.core.advice.frame import of_tube
from ochre_stone.core.advice.ways import StartPile
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.mixing.correcting.belief import Belief
from ochre_stone.core.mixing.correcting.correct import LARGEST, AtHand, Correction, Handling
from ochre_stone.core.mixing.correcting.saying import by_words, differs, remedies
from ochre_stone.core.mixing.correcting.words import HOW_MUCH, WORDS, said_of, said_words, seen_as
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.recipe import tint_of
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.paint.tubes import Tube, tube

THREE = tuple(tube(i) for i in ("titanium-white", "cadmium-yellow-medium", "cadmium-red", "cobalt-blue"))
PEACH = {"titanium-white": 6.0, "cadmium-yellow-medium": 3.0, "cadmium-red": 2.0, "cobalt-blue": 0.5}


def mended(
    said: list[tuple[str, str]],
    parts: dict[str, float] = PEACH,
    tubes: tuple[Tube, ...] = THREE,
    planned: float | None = None,
) -> Correction | None:
    goal = as_lab(layer_lab(*spectra([tube(i) for i in parts], list(parts.values()))))
    seen, noise = seen_as(goal, said)
    white = tubes[0]
    hold = [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in tubes]
    hold += [AtHand(b.id, b.name, b.shares, trouble=0.1) for b in (tint_of(t, white) for t in tubes[1:])]
    size = sum(parts.values())
    how = Handling(planned or size, Hand(), 0.0, noise=noise, said_off=True)
    return by_words(Belief.prior(tubes), [Dose.of_tube(i, v) for i, v in parts.items()], seen, goal, hold, how, said)


class Directions(unittest.TestCase):
    def test_too_orange_takes_a_blue_and_says_why(self) -> None:
        """On white, a yellow, a red and cobalt (common practice, no source)."""
        for parts in (PEACH, {"cadmium-yellow-medium": 3.0, "cadmium-red": 1.0, "titanium-white": 1.0}):
            found = mended([("too orange", "clearly")], parts)
            assert found is not None
            ((put, volume),) = found.additions
            self.assertEqual(put.removeprefix("tint-"), "cobalt-blue")
            self.assertGreater(volume, 0)
            self.assertIn("Too orange: cobalt blue", found.why.replace(" tint", ""))
            self.assertEqual(found.verdict, "add")

    def test_across_the_wheel(self) -> None:
        for word, tubes in (
            ("too green", {"cadmium-red"}), ("too purple", {"cadmium-yellow-medium"}),
            ("too cool", {"cadmium-red", "cadmium-yellow-medium"}),
            ("too light", {"cobalt-blue", "cadmium-red"}), ("too dark", {"titanium-white"}),
        ):  # fmt: skip
            found = mended([(word, "clearly")])
            assert found is not None, word
            self.assertLessEqual({i.removeprefix("tint-") for i, _ in found.additions}, tubes, word)
            self.assertTrue(found.why.startswith(word.capitalize()), found.why)

    def test_black_is_the_blue_of_the_four_earths(self) -> None:
        earths = palette("four-tube-earth").tubes
        found = mended([("too orange", "clearly")], {"titanium-white": 4, "yellow-ochre": 2, "cadmium-red": 1}, earths)
        assert found is not None
        self.assertIn("is the blue of this palette", found.why)

    def test_every_word_has_a_remedy_where_painters_have_one(self) -> None:
        tubes = palette("portrait-ten").tubes
        parts = {"titanium-white": 4.0, "yellow-ochre": 2.0, "cadmium-red-light": 0.5}
        at = StartPile.of(*spectra([tube(i) for i in parts], list(parts.values())), inside=list(parts))
        for word in WORDS:
            self.assertTrue(remedies(word, at, [of_tube(t) for t in tubes]), word)


class Sizes(unittest.TestCase):
    def test_more_is_said_more_goes_in(self) -> None:
        volumes = []
        for how in HOW_MUCH:
            found = mended([("too green", how)])
            assert found is not None
            volumes.append(sum(v for i, v in found.additions if not i.startswith("tint-")))
        self.assertEqual(volumes, sorted(volumes))
        self.assertGreater(volumes[-1], 0)

    def test_it_ends_nearer_and_where_it_says(self) -> None:
        for word in ("too green", "too purple", "too dark", "too red"):
            found = mended([(word, "clearly")])
            assert found is not None
            goal = layer_lab(*spectra([tube(i) for i in PEACH], list(PEACH.values())))
            self.assertLess(found.de00, found.now, word)
            self.assertAlmostEqual(found.de00, float(ciede2000(np.array(found.expected), goal)), delta=1e-6)

    def test_two_words_put_two_things_in(self) -> None:
        found = mended([("too dark", "clearly"), ("too green", "clearly")])
        assert found is not None
        self.assertEqual({i.removeprefix("tint-") for i, _ in found.additions}, {"titanium-white", "cadmium-red"})
        self.assertIn("Too dark", found.why)
        self.assertIn("Too green", found.why)

    def test_a_pile_keeps_to_its_size_or_is_cut(self) -> None:
        for word in ("too dark", "too blue", "too cool"):
            for how in HOW_MUCH:
                found = mended([(word, how)])
                assert found is not None
                if found.verdict == "add":
                    self.assertLessEqual(found.growth, LARGEST + 1e-9, (word, how))
                else:
                    self.assertEqual((found.verdict, found.keep), ("cut", 0.5))

    def test_nothing_at_hand(self) -> None:
        self.assertIsNone(mended([("too dark", "clearly")], {"titanium-white": 4.0}, THREE))


class Said(unittest.TestCase):
    def test_what_was_said_is_read_again_the_loudest_first(self) -> None:
        said = [("too red", "a little"), ("too light", "a lot"), ("too grey", "clearly")]
        self.assertEqual(said_of(said_words(said)), [said[1], said[2], said[0]])
        self.assertEqual(said_of("nothing of the kind"), [])

    def test_other_paints_are_another_advice_a_tint_is_its_tube(self) -> None:
        def put(*ids: str) -> Correction:
            lab = (50.0, 0.0, 0.0)
            return Correction(tuple((i, 1.0) for i in ids), ids, lab, lab, 1.0, 2.0, 1.1, "add")

        self.assertFalse(differs(put("tint-cobalt-blue"), put("cobalt-blue")))
        self.assertTrue(differs(put("cobalt-blue"), put("cobalt-blue", "titanium-white")))


if __name__ == "__main__":
    unittest.main()
