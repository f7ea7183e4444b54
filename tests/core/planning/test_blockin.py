"""The block-in of whole plans: every place has one pile, belongs together, and is the same each time."""

import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.choices import Area
from ochre_stone.core.document.document import Document
from ochre_stone.core.masses.shapes import regions
from ochre_stone.core.placing.numbers import number_spots
from ochre_stone.core.planning.blockin import ONE_COLOUR, block_in, one_of_each, placing_ground
from ochre_stone.core.planning.blocking import pile_order, pile_stages
from ochre_stone.core.planning.planning import mix_strings, pile_cover
from ochre_stone.core.planning.rows import notes_without_pile, target_by_note
from tests.support.cases import cases, with_strings

PICTURES = {name: picture for name, picture, _ in cases()}
DEMO = with_strings("demo")
LAID = block_in(PICTURES["demo"], DEMO)
assert LAID is not None


class Places(unittest.TestCase):
    def test_shares_add_up_and_are_the_same_twice(self) -> None:
        for name in ("demo", "still life"):
            first, second = (block_in(PICTURES[name], with_strings(name)) for _ in range(2))
            assert first is not None and second is not None
            np.testing.assert_array_equal(first.labels, second.labels)
            piles = {p.id for s in with_strings(name).mixed.strings for p in s.piles}
            self.assertEqual(set(first.shares), piles)
            self.assertAlmostEqual(sum(first.shares.values()), 1.0)
            self.assertLessEqual(first.figures.off, 8.0)
            self.assertGreater(first.figures.values, 0.93)
            self.assertLess(first.figures.shapes, 200)

    def test_what_is_hidden_is_never_laid(self) -> None:
        most = max(LAID.shares, key=lambda i: LAID.shares[i])
        without = block_in(PICTURES["demo"], DEMO, hidden={most})
        assert without is not None
        self.assertNotIn(most, without.shares)
        self.assertGreater(without.figures.off, LAID.figures.off)
        every = {p.id for s in DEMO.mixed.strings for p in s.piles}
        self.assertIsNone(block_in(PICTURES["demo"], DEMO, hidden=every))
        self.assertIsNone(block_in(PICTURES["demo"], Document()))

    def test_most_notes_lie_in_their_own_pile(self) -> None:
        """Of those that the palette reaches: a spot may lie in a shape too small to keep."""
        own = {i: p for s in DEMO.mixed.strings for p in s.piles for i in p.target.notes}
        width, height = PICTURES["demo"].width, PICTURES["demo"].height
        near = [n for n in DEMO.notes if n.place is not None and own[n.id].nearness.grade != "out of reach"]
        right = [LAID.at(n.place[0] / width, n.place[1] / height).id == own[n.id].id for n in near]
        self.assertGreaterEqual(sum(right), 0.7 * len(right))

    def test_a_pile_and_its_places_point_at_each_other(self) -> None:
        for group in LAID.piles:
            mask = LAID.places(group[0].id)
            self.assertAlmostEqual(float(mask.mean()), LAID.shares[group[0].id], places=9)
            if mask.any():
                y, x = np.argwhere(mask)[0]
                h, w = mask.shape
                self.assertEqual(LAID.at((x + 0.5) / w, (y + 0.5) / h).id, group[0].id)

    def test_piles_of_one_colour_are_one(self) -> None:
        piles = [p for s in DEMO.mixed.strings for p in s.piles]
        groups = one_of_each([*piles, *piles[:2]])
        self.assertEqual(sorted(len(g) for g in groups)[-2:], [2, 2])
        self.assertGreater(ONE_COLOUR, 0)
        lightness = [g[0].recipe.lab[0] for g in groups]
        self.assertEqual(lightness, sorted(lightness))

    def test_a_focus_area_keeps_more_shapes(self) -> None:
        picture = PICTURES["still life"]
        plain = with_strings("still life")
        w, h = picture.width, picture.height
        corners = [(0.2 * w, 0.2 * h), (0.8 * w, 0.2 * h), (0.8 * w, 0.8 * h), (0.2 * w, 0.8 * h)]
        masses = plain.masses.model_copy(update={"focus": (Area(points=tuple(corners)),)})
        looked_at = block_in(picture, plain.model_copy(update={"masses": masses}))
        before = block_in(picture, plain)
        assert looked_at is not None and before is not None
        self.assertGreater(looked_at.figures.shapes, before.figures.shapes)


class Amounts(unittest.TestCase):
    def test_what_a_pile_covers_is_what_is_squeezed_out(self) -> None:
        shares, _ = pile_cover(PICTURES["demo"], DEMO)
        self.assertEqual(shares, LAID.covered)
        self.assertLess(sum(shares.values()), 1.0)
        self.assertGreater(sum(shares.values()), 0.9)

    def test_a_place_without_a_pile_of_its_own_is_bare_only_where_none_comes_near(self) -> None:
        """What the block-in lays with a pile that is near is bought; what it lays for want of a better one is not."""
        mix = DEMO.mix.model_copy(update={"piles": 9})
        few = DEMO.model_copy(update={"mix": mix})
        few = few.model_copy(update={"mixed": mix_strings(few)})
        laid, ground = block_in(PICTURES["demo"], few), placing_ground(PICTURES["demo"], few)
        assert laid is not None
        self.assertTrue(notes_without_pile(few))
        off = np.asarray(ciede2000(ground.melted, laid.colours[laid.labels]))
        self.assertGreater(float(off[laid.bare].min()), 5.0)
        self.assertGreater(float(laid.bare.mean()), 0.02)
        self.assertAlmostEqual(sum(laid.covered.values()), 1 - float(laid.bare.mean()))

    def test_the_ground_is_the_picture_as_it_is_to_be_painted(self) -> None:
        ground, goal = placing_ground(PICTURES["demo"], DEMO), target_by_note(DEMO)
        spot = next(n for n in DEMO.notes if n.name == "sky overhead")
        h, w = ground.thing.shape
        y, x = spot.place[1] / PICTURES["demo"].height * h, spot.place[0] / PICTURES["demo"].width * w
        seen = ground.melted[int(y), int(x)]
        self.assertLess(float(np.abs(seen - np.array(goal[spot.id])).max()), 6.0)


class LayingIn(unittest.TestCase):
    def test_piles_cover_the_canvas_once_and_it_comes_nearer(self) -> None:
        seen = placing_ground(PICTURES["demo"], DEMO).melted
        found = pile_stages(DEMO, LAID, seen)
        self.assertEqual(len(found), len([s for s in LAID.shares.values() if s > 0]) + 1)
        covered = [s.covered for s in found]
        self.assertEqual(covered, sorted(covered))
        self.assertAlmostEqual(covered[-1], 1.0)
        self.assertAlmostEqual(found[-1].off, LAID.figures.off, delta=0.2)
        self.assertGreater(found[0].off, 2 * found[-1].off)
        self.assertEqual(found[0].name, "")
        self.assertEqual(found[1].name, LAID.piles[found[1].mass][0].name)

    def test_schools_go_by_large_steps_with_slivers_last(self) -> None:
        share = [LAID.shares[g[0].id] for g in LAID.piles]
        for laying, sign in (("dark", 1), ("light", -1)):
            row = pile_order(LAID, laying)
            large = [i for i in row if share[i] >= 0.012]
            self.assertEqual(row[: len(large)], large, "what is next to nothing comes last")
            steps = [sign * round(float(LAID.colours[i][0]) / 20) for i in large]
            self.assertEqual(steps, sorted(steps))
        by_size = [share[i] for i in pile_order(LAID, "large")]
        self.assertEqual(by_size, sorted(by_size, reverse=True))


class Numbers(unittest.TestCase):
    def test_each_large_shape_and_each_pile_has_a_spot_inside_it(self) -> None:
        count = len(LAID.piles)
        spots = number_spots(LAID.labels, count, 0.006)
        h, w = LAID.labels.shape
        for s in spots:
            self.assertEqual(int(LAID.labels[int(s.y * h), int(s.x * w)]), s.pile)
            self.assertGreater(s.room, 0)
        there = set(np.unique(LAID.labels).tolist())
        self.assertEqual({s.pile for s in spots if s.largest}, there)
        large = [n for n in np.bincount(regions(LAID.labels, count)[0].ravel()) if n >= 0.006 * LAID.labels.size]
        self.assertGreaterEqual(len(spots), len(large))


if __name__ == "__main__":
    unittest.main()
