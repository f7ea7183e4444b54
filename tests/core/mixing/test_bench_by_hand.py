"""Acts on the bench, millilitre by millilitre; rows and looks by hand."""

import unittest
from itertools import pairwise

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench import bench as on
from ochre_stone.core.mixing.bench import rows
from ochre_stone.core.mixing.bench.bench import Bench, Supply
from ochre_stone.core.mixing.bench.nearer import nearer
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.tubes import tube

TEN = PALETTES["portrait-ten"]
WHITE, OCHRE, BLUE, RED = (
    Supply.of_tube(t)
    for i in ("titanium-white", "yellow-ochre", "ultramarine-blue", "cadmium-red-light")
    for t in TEN.tubes
    if t.id == i
)


def two() -> Bench:
    bench = on.add(Bench(), "", WHITE, 2.0)
    bench = on.add(bench, "bench-1", OCHRE, 1.0)
    return on.add(bench, "", BLUE, 0.5)


class Acts(unittest.TestCase):
    def test_a_third_cut_off(self) -> None:
        bench = on.cut(two(), "bench-1", 0.25)
        self.assertEqual([p.id for p in bench.piles], ["bench-1", "bench-3", "bench-2"])  # beside where it came from
        self.assertAlmostEqual(bench.pile("bench-1").ml, 2.25)
        self.assertAlmostEqual(bench.pile("bench-3").ml, 0.75)
        self.assertEqual(bench.made, 3)
        self.assertEqual(dict(bench.pile("bench-1").before), {"titanium-white": 2.0, "yellow-ochre": 1.0})
        self.assertEqual(bench.pile("bench-3").before, ())
        self.assertEqual(bench.taken, two().taken)

    def test_part_of_another_pile_mixed_in(self) -> None:
        bench = on.join(two(), "bench-1", "bench-2", 0.4)
        self.assertAlmostEqual(bench.pile("bench-1").amounts["ultramarine-blue"], 0.2)
        self.assertAlmostEqual(bench.pile("bench-2").ml, 0.3)
        self.assertEqual(dict(bench.pile("bench-2").before), {"ultramarine-blue": 0.5})
        whole = on.join(two(), "bench-1", "bench-2")
        self.assertEqual([p.id for p in whole.piles], ["bench-1"])
        self.assertAlmostEqual(whole.piles[0].ml, 3.5)

    def test_scraped_off(self) -> None:
        bench = on.scrape(two(), "bench-1", 0.5)
        self.assertAlmostEqual(bench.pile("bench-1").ml, 1.5)
        self.assertEqual(dict(bench.scraped), {"titanium-white": 1.0, "yellow-ochre": 0.5})
        gone = on.scrape(bench, "bench-1")
        self.assertEqual([p.id for p in gone.piles], ["bench-2"])
        self.assertEqual(dict(gone.scraped), {"titanium-white": 2.0, "yellow-ochre": 1.0})
        clean = on.cleared(two())
        self.assertEqual((clean.piles, dict(clean.scraped)), ((), dict(two().taken)))

    def test_doses_of_one_supply_in_a_row_are_one(self) -> None:
        bench = on.add(on.add(two(), "bench-1", OCHRE, 0.5), "bench-1", WHITE, 0.1)
        self.assertEqual([(d.source, round(d.volume, 9)) for d in bench.pile("bench-1").doses],
                         [("titanium-white", 2.0), ("yellow-ochre", 1.5), ("titanium-white", 0.1)])  # fmt: skip
        many = Bench()
        many = on.add(many, "", WHITE, 1.0)
        for n in range(on.MOST_DOSES + 5):
            many = on.add(many, "bench-1", (OCHRE, WHITE)[n % 2], 0.01)
        doses = many.piles[0].doses
        self.assertLessEqual(len(doses), on.MOST_DOSES)
        self.assertAlmostEqual(many.piles[0].ml, 1.0 + 0.01 * (on.MOST_DOSES + 5))

    def test_the_bench_holds_eighty_piles_and_no_more(self) -> None:
        bench = Bench()
        for _ in range(on.MOST_PILES - 1):
            bench = on.add(bench, "", WHITE, 1.0)
        full = on.cut(bench, "bench-1")  # there is room for this one
        self.assertEqual(len(full.piles), 80)
        for act in (
            lambda: on.add(full, "", WHITE, 1.0),
            lambda: on.cut(full, "bench-2"),
            lambda: on.lay(full, "x", [Dose.of_tube("titanium-white", 1.0)]),
        ):
            self.assertRaisesRegex(OchreError, "80 piles", act)
        self.assertEqual(len(on.add(full, "bench-2", WHITE, 1.0).piles), 80)
        self.assertEqual(len(on.join(full, "bench-2", "bench-3").piles), 79)

    def test_a_pile_holds_half_a_litre_and_no_more(self) -> None:
        bench = on.add(Bench(), "", WHITE, 400.0)
        self.assertAlmostEqual(on.add(bench, "bench-1", OCHRE, 100.0).piles[0].ml, 500.0)
        self.assertRaisesRegex(OchreError, "more than 500 ml", on.add, bench, "bench-1", OCHRE, 100.1)
        more = on.add(bench, "", OCHRE, 200.0)
        self.assertRaisesRegex(OchreError, "more than 500 ml", on.join, more, "bench-1", "bench-2")
        self.assertAlmostEqual(on.join(more, "bench-1", "bench-2", 0.5).pile("bench-1").ml, 500.0)

    def test_laid_named_and_drawn_on(self) -> None:
        bench = on.lay(two(), "", [Dose.of_tube("titanium-white", 1.5), Dose.of_tube("titanium-white", 0.5)])
        self.assertEqual((bench.piles[-1].id, bench.piles[-1].name), ("bench-3", "Pile 3"))
        self.assertEqual(len(bench.piles[-1].doses), 1)
        self.assertAlmostEqual(dict(bench.taken)["titanium-white"], 4.0)
        self.assertEqual(on.renamed(bench, "bench-3", "  warm\n grey ").pile("bench-3").name, "warm grey")
        self.assertEqual(len(on.renamed(bench, "bench-3", "x" * 90).pile("bench-3").name), 60)
        self.assertRaisesRegex(OchreError, "name", on.renamed, bench, "bench-3", "  ")
        left = Supply("left-1", "grey", WHITE.shares, ml=1.0, kind="leftover")
        used = on.add(on.add(Bench(), "", left, 0.6), "bench-1", left, 0.4)
        self.assertAlmostEqual(used.left(left), 0.0)
        self.assertEqual(dict(used.drawn), {"left-1": 1.0})
        self.assertRaisesRegex(OchreError, "0.00 ml left", on.add, used, "bench-1", left, 0.01)

    def test_shares_the_most_first(self) -> None:
        self.assertEqual(two().pile("bench-1").shares(), (("titanium-white", 2 / 3), ("yellow-ochre", 1 / 3)))


class Rows(unittest.TestCase):
    def test_a_ladder_ends_half_a_value_below_the_white(self) -> None:
        row = rows.ladder(OCHRE, WHITE, tube, TEN.surface)
        top = float(value_of_lightness(row.rungs[-1].lab[0]))
        white = float(value_of_lightness(tube("titanium-white").lab[0]))
        self.assertAlmostEqual(top, white - rows.NEAR_WHITE, delta=0.3)
        self.assertEqual(len(row.rungs), rows.LADDER)
        self.assertEqual(row.rungs[0].parts, (1.0, 0.0))
        self.assertRaisesRegex(OchreError, "nearly white", rows.ladder, WHITE, WHITE, tube, TEN.surface)

    def test_a_line_goes_from_all_of_one_to_all_of_the_other(self) -> None:
        row = rows.line(OCHRE, BLUE, tube, TEN.surface)
        self.assertEqual((row.rungs[0].parts, row.rungs[-1].parts), ((1.0, 0.0), (0.0, 1.0)))
        self.assertLessEqual(len(row.rungs), rows.LINE)

    def test_a_drift_keeps_to_strokes_and_is_no_other_paint(self) -> None:
        pale = Supply("p", "pale", (("titanium-white", 0.9), ("yellow-ochre", 0.1)), kind="pile")
        row = rows.drift(pale, "redder", [RED, BLUE, WHITE], tube, TEN.surface)
        self.assertEqual(row.sources[1].id, RED.id)
        self.assertGreater(row.rungs[-1].parts[0], 0)
        off = [float(ciede2000(np.array(r.lab), np.array(row.rungs[0].lab))) for r in row.rungs]
        self.assertTrue(all(b > a for a, b in pairwise(off)))
        self.assertLess(off[-1], rows.STROKE * rows.DRIFT + 2)
        # Toward a paint that is near: four fifths of the way at most.
        near = rows.drift(OCHRE, "duller", [Supply.of_tube(tube("raw-umber"))], tube, TEN.surface)
        whole = float(ciede2000(np.array(tube("raw-umber").lab), np.array(near.rungs[0].lab)))
        self.assertLess(float(ciede2000(np.array(near.rungs[-1].lab), np.array(near.rungs[0].lab))), 0.9 * whole)
        self.assertRaisesRegex(OchreError, "Nothing at hand", rows.drift, OCHRE, "bluer", [RED], tube, TEN.surface)

    def test_a_triangle_counts_by_strength(self) -> None:
        row = rows.triangle((WHITE, OCHRE, BLUE), tube, TEN.surface, 2)
        self.assertEqual(len(row.rungs), 6)
        self.assertEqual([r.parts for r in (row.rungs[0], row.rungs[3], row.rungs[5])],
                         [(1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)])  # fmt: skip
        self.assertRaises(ValueError, rows.triangle, (WHITE, OCHRE), tube, TEN.surface)
        rung = row.rungs[1]
        doses = rung.doses(row.sources, 2.0)
        self.assertAlmostEqual(sum(d.volume for d in doses), 2.0)
        self.assertEqual([d.source for d in doses], ["titanium-white", "yellow-ochre"])
        self.assertAlmostEqual(doses[0].volume / doses[1].volume, rung.parts[0] / rung.parts[1])

    def test_amounts_in_parts_that_can_be_counted(self) -> None:
        self.assertEqual(rows._counted(np.array([0.0, 3.0, 0.0])).tolist(), [0, 1, 0])
        self.assertEqual(rows._counted(np.array([1.0, 2.0])).tolist(), [1, 2])
        self.assertEqual(rows._counted(np.array([1.0, 5.0, 0.0])).tolist(), [1, 5, 0])
        self.assertLessEqual(max(rows._counted(np.array([1.0, 500.0]))), 20)
        self.assertEqual(rows._counted(np.array([1.0, 1.5])).tolist(), [2, 3])
        self.assertEqual(rows._counted(np.array([1.0, 3.5])).tolist()[0], 1)


class Nearer(unittest.TestCase):
    def test_in_parts_of_its_own_size(self) -> None:
        bench = on.add(on.add(Bench(), "", WHITE, 3.2), "bench-1", OCHRE, 0.4)
        pile = bench.piles[0]
        target = (70.0, 8.0, 40.0)
        supplies = [WHITE, OCHRE, RED]
        small = nearer(pile, target, supplies, TEN.tubes, TEN.surface, 0.4)
        large = nearer(pile, target, supplies, TEN.tubes, TEN.surface, 0.8)
        self.assertTrue(small.additions and large.additions)
        ochre = [dict(c.additions).get("yellow-ochre", 0.0) for c in (small, large)]
        self.assertGreater(ochre[0], ochre[1])  # twice the part, about half as many of them
        self.assertLess(small.de00, small.now)
        self.assertRaisesRegex(ValueError, "nothing at hand", nearer, pile, target, [], TEN.tubes, TEN.surface, 0.4)
        few = [t for t in TEN.tubes if t.id != "yellow-ochre"]
        self.assertRaisesRegex(ValueError, "not on the palette", nearer, pile, target, supplies, few, TEN.surface, 0.4)

    def test_no_more_of_a_leftover_than_there_is(self) -> None:
        bench = on.add(Bench(), "", WHITE, 4.0)
        left = Supply("left-1", "strong ochre", OCHRE.shares, ml=0.4, kind="leftover")
        bench = on.add(bench, "", left, 0.2)
        said = nearer(bench.piles[0], (60.0, 15.0, 45.0), [left], TEN.tubes, TEN.surface, 0.4, bench=bench)
        self.assertLessEqual(sum(v for _, v in said.additions), 0.5 + 1e-9)
