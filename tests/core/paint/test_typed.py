"""Tubes by what a painter types."""

import unittest
from dataclasses import replace

from ochre_stone.core.paint.tubes import all_tubes, tube
from ochre_stone.core.paint.typed import one_tube, tubes_typed, unclear_words


class TypedNames(unittest.TestCase):
    def test_a_palette_in_one_line(self):
        typed = tubes_typed("white, yellow ochre; burnt sienna\n french ultramarine, terre verte, PBk9, lemon")
        self.assertEqual(
            typed.paints,
            (
                "titanium-white",
                "yellow-ochre",
                "burnt-sienna",
                "ultramarine-blue",
                "green-earth",
                "ivory-black",
                "azo-yellow-light",
            ),
        )
        self.assertEqual(typed.unclear, ())
        self.assertEqual(unclear_words(typed), "")

    def test_every_pigment_by_its_own_name(self):
        for i, t in all_tubes().items():
            self.assertEqual(one_tube(t.name)[0], i, t.name)
            self.assertEqual(one_tube(i.replace("-", " "))[0], i)

    def test_what_is_not_understood_is_told_with_the_nearest(self):
        typed = tubes_typed("white, cadmium, ultramarin, moonstone blue, , ")
        self.assertEqual(typed.paints, ("titanium-white",))
        names = [n for n, _ in typed.unclear]
        self.assertEqual(names, ["cadmium", "ultramarin", "moonstone blue"][: len(names)])
        self.assertEqual(len(dict(typed.unclear)["cadmium"]), 3, "several: which one?")
        said = unclear_words(typed)
        self.assertIn("do you mean", said)
        self.assertIn("Cadmium", said)
        self.assertTrue(said.endswith("."))

    def test_each_once(self):
        self.assertEqual(tubes_typed("white, titanium white, white").paints, ("titanium-white",))
        self.assertEqual(tubes_typed("").paints, ())

    def test_own_tubes_come_first(self):
        mine = replace(tube("ultramarine-blue"), id="own-blue", name="My warm blue")
        self.assertEqual(one_tube("my warm blue", [mine])[0], "own-blue")
        self.assertEqual(one_tube("warm blue", [mine])[0], "own-blue")
        self.assertEqual(one_tube("ultramarine", [mine])[0], "ultramarine-blue")


if __name__ == "__main__":
    unittest.main()
