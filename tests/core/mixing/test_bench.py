"""Mixing by hand: paint is neither made nor lost, colours are those of predict, rows are even and can be counted."""

import random
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.reading import read
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench import bench as on
from ochre_stone.core.mixing.bench.bench import Bench, Supply
from ochre_stone.core.mixing.bench.look import look
from ochre_stone.core.mixing.bench.nearer import nearer
from ochre_stone.core.mixing.bench.rows import BenchRow, drift, ladder, line, triangle
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import tube

TEN = PALETTES["portrait-ten"]
AT_HAND = {t.id: Supply.of_tube(t) for t in TEN.tubes}
WHITE, OCHRE, RED, BLUE = (
    AT_HAND[i] for i in ("titanium-white", "yellow-ochre", "cadmium-red-light", "ultramarine-blue")
)
GREY = (("titanium-white", 0.75), ("ivory-black", 0.25))
LEFTOVER = Supply("left-1", "yesterday's grey", GREY, ml=1.0, kind="leftover")


def skin() -> Bench:
    """Two parts of white, one of ochre, a touch of red."""
    bench = on.add(Bench(), "", WHITE, 0.8)
    bench = on.add(bench, "bench-1", OCHRE, 0.4)
    return on.add(bench, "bench-1", RED, 0.1)


def total(bench: Bench) -> dict[str, float]:
    """All paint that is or was on a bench, by its tube."""
    out = dict(bench.scraped)
    for p in bench.piles:
        for tube_id, ml in p.amounts.items():
            out[tube_id] = out.get(tube_id, 0.0) + ml
    return out


def an_act(bench: Bench, r: random.Random) -> Bench:
    """Some act that a hand can do, or none where it is refused."""
    supplies = [*AT_HAND.values(), LEFTOVER]
    ids = [p.id for p in bench.piles]
    kind = r.choice(("add", "add", "add", "new", "cut", "join", "part", "scrape", "some", "lay"))
    try:
        if kind == "new" or not ids:
            return on.add(bench, "", r.choice(supplies), r.uniform(0.01, 3))
        if kind == "add":
            return on.add(bench, r.choice(ids), r.choice(supplies), r.uniform(0.01, 3))
        if kind == "cut":
            return on.cut(bench, r.choice(ids), r.uniform(0.05, 0.95))
        if kind in ("join", "part") and len(ids) > 1:
            a, b = r.sample(ids, 2)
            return on.join(bench, a, b, 1.0 if kind == "join" else r.uniform(0.05, 0.9))
        if kind == "lay":
            return on.lay(bench, "", on.shrunk(bench.piles[0].doses, 0.5))
        return on.scrape(bench, r.choice(ids), 1.0 if kind == "scrape" else r.uniform(0.05, 0.9))
    except OchreError:
        return bench


class PaintTest(unittest.TestCase):
    @given(st.integers(0, 2**32 - 1))
    @settings(max_examples=3, deadline=None)
    def test_paint_is_kept_through_a_thousand_acts_and_undone_ones(self, seed: int) -> None:
        r = random.Random(seed)
        history, at = [Bench()], 0
        for _ in range(1000):
            if r.random() < 0.15:
                at = max(at - 1, 0)
            elif r.random() < 0.1 and at + 1 < len(history):
                at += 1
            else:
                del history[at + 1 :]
                history.append(an_act(history[at], r))
                at += 1
            bench = history[at]
            taken, there = dict(bench.taken), total(bench)
            self.assertEqual(set(taken), set(there))
            for tube_id, ml in taken.items():
                self.assertAlmostEqual(ml, there[tube_id], delta=1e-9 * max(ml, 1) * 100)
            self.assertGreaterEqual(bench.left(LEFTOVER), -1e-9)
            self.assertTrue(all(p.ml > 0 for p in bench.piles))
        # Back at the beginning there is none.
        self.assertEqual(total(history[0]), {})

    def test_a_pile_looks_as_predict_says(self) -> None:
        amounts = skin().piles[0].amounts
        for medium, palette in (("oil", TEN), ("gouache", TEN), ("acrylic", TEN)):
            seen = look(amounts, tube, medium)
            said = predict(
                {"titanium-white": 8, "yellow-ochre": 4, "cadmium-red-light": 1},
                palette.tube,
                MEDIA[medium].surface("dry"),
            )
            np.testing.assert_allclose(seen.lab, said.lab, atol=1e-9)
            self.assertAlmostEqual(seen.uncertainty, said.uncertainty, places=9)
        self.assertTrue(look({"ivory-black": 1.0}, tube, "gouache").drying.differs)

    def test_a_pile_by_many_touches_is_the_pile_by_parts(self) -> None:
        slow = Bench()
        for _ in range(8):
            slow = on.add(slow, slow.piles[0].id if slow.piles else "", WHITE, 0.1)
        for _ in range(4):
            slow = on.add(slow, "bench-1", OCHRE, 0.1)
        slow = on.add(slow, "bench-1", RED, 0.1)
        self.assertEqual([d.name for d in slow.piles[0].doses], ["white", "ochre", "cadmium red light"])
        np.testing.assert_allclose(look(slow.piles[0].amounts, tube).lab, look(skin().piles[0].amounts, tube).lab)

    def test_what_was_before_stays_beside_it(self) -> None:
        bench = skin()
        self.assertEqual(set(dict(bench.piles[0].before)), {"titanium-white", "yellow-ochre"})
        halves = on.cut(bench, "bench-1")
        self.assertEqual([p.id for p in halves.piles], ["bench-1", "bench-2"])
        self.assertAlmostEqual(halves.piles[0].ml, 0.65)
        self.assertEqual(halves.piles[0].shares(), halves.piles[1].shares())
        pushed = on.add(halves, "bench-1", BLUE, 0.05)
        self.assertNotIn("ultramarine-blue", pushed.pile("bench-2").amounts)
        back = on.join(pushed, "bench-1", "bench-2")
        self.assertEqual(len(back.piles), 1)
        self.assertAlmostEqual(back.piles[0].ml, 1.35)

    def test_what_is_left_of_a_pile_of_yesterday_is_all_there_is(self) -> None:
        bench = on.add(Bench(), "", LEFTOVER, 0.7)
        with self.assertRaisesRegex(OchreError, "0.30 ml left"):
            on.add(bench, "bench-1", LEFTOVER, 0.4)
        self.assertAlmostEqual(on.add(bench, "bench-1", LEFTOVER, 0.3).left(LEFTOVER), 0.0)

    def test_what_cannot_be_done_is_said(self) -> None:
        bench = skin()
        for act in (lambda: on.add(bench, "nowhere", WHITE, 1), lambda: on.cut(bench, "nowhere")):
            self.assertRaises(KeyError, act)
        for act in (
            lambda: on.add(bench, "bench-1", WHITE, 0),
            lambda: on.cut(bench, "bench-1", 1.0),
            lambda: on.join(bench, "bench-1", "bench-1"),
            lambda: on.scrape(bench, "bench-1", 0),
            lambda: on.add(bench, "bench-1", WHITE, float("nan")),
        ):
            self.assertRaises(ValueError, act)
        self.assertRaisesRegex(OchreError, "500", on.add, bench, "bench-1", WHITE, 499.5)
        for n in range(on.MOST_PILES - 1):
            bench = on.add(bench, "", WHITE, 0.1 + n)
        self.assertRaisesRegex(OchreError, "80 piles", on.add, bench, "", WHITE, 1)
        self.assertEqual(on.cleared(bench).piles, ())


class RowTest(unittest.TestCase):
    def setUp(self) -> None:
        self.pile = Supply("p", "Pile 1", skin().piles[0].shares(), ml=1.3, kind="pile")

    def counted(self, row: BenchRow) -> None:
        """Every amount of a row can be counted or told by eye."""
        for rung in row.rungs:
            used = [p for p in rung.parts if p > 0]
            self.assertTrue(all(p % 0.25 == 0 and p <= 40 for p in used), rung.parts)
            self.assertLessEqual(max(used) / min(used), 81)
            parts = {}
            for s, p in zip(row.sources, rung.parts, strict=True):
                for tube_id, share in s.shares:
                    parts[tube_id] = parts.get(tube_id, 0.0) + p * share
            said = predict({i: v for i, v in parts.items() if v > 0}, tube, TEN.surface)
            np.testing.assert_allclose(rung.lab, said.lab, atol=1e-6)

    def test_a_ladder_is_even_in_value(self) -> None:
        for base in (self.pile, OCHRE, RED):
            row = ladder(base, WHITE, tube, TEN.surface)
            self.counted(row)
            values = np.array([read(r.lab).value for r in row.rungs])
            steps = np.diff(values)
            self.assertGreater(steps.min(), 0)
            self.assertLess(steps.max() / steps.min(), 1.8)  # parts that can be counted are coarse
            self.assertEqual(row.rungs[0].parts, (1.0, 0.0))
        self.assertRaisesRegex(OchreError, "nearly white", ladder, WHITE, WHITE, tube, TEN.surface)

    def test_a_line_is_even_to_the_eye_although_blue_is_strong(self) -> None:
        row = line(BLUE, WHITE, tube, TEN.surface)
        self.counted(row)
        labs = np.array([r.lab for r in row.rungs])
        steps = ciede2000(labs[1:], labs[:-1])
        self.assertLess(steps[:-1].max() / steps[:-1].min(), 2.1)  # the last, from a touch in twenty on, is what it is
        even_parts = np.array(
            [
                predict(
                    {"ultramarine-blue": 6 - k, "titanium-white": k}
                    if 0 < k < 6
                    else {("ultramarine-blue", "titanium-white")[k > 0]: 1},
                    tube,
                    TEN.surface,
                ).lab
                for k in range(7)
            ]
        )
        naive = ciede2000(even_parts[1:], even_parts[:-1])
        self.assertGreater(naive.max() / naive.min(), 2 * steps.max() / steps.min())

    def test_a_drift_goes_where_it_is_asked_to(self) -> None:
        yellower = drift(self.pile, "yellower", list(AT_HAND.values()), tube, TEN.surface)
        self.counted(yellower)
        self.assertEqual(len(yellower.rungs), 6)
        b = [r.lab[2] for r in yellower.rungs]
        self.assertEqual(b, sorted(b))
        darker = drift(self.pile, "darker", list(AT_HAND.values()), tube, TEN.surface)
        self.assertLess(darker.rungs[-1].lab[0], self.pile_lab()[0] - 8)
        grey = drift(self.pile, "duller", list(AT_HAND.values()), tube, TEN.surface)
        self.assertLess(np.hypot(*grey.rungs[-1].lab[1:]), np.hypot(*self.pile_lab()[1:]) - 8)
        with self.assertRaisesRegex(OchreError, "Nothing at hand"):
            drift(self.pile, "greener", [WHITE, RED], tube, TEN.surface)

    def pile_lab(self) -> tuple[float, float, float]:
        return look(dict(self.pile.shares), tube).lab

    def test_a_triangle_has_its_corners_and_its_middle(self) -> None:
        row = triangle([OCHRE, RED, BLUE], tube, TEN.surface)
        self.counted(row)
        self.assertEqual(len(row.rungs), 15)
        pure = [r for r in row.rungs if sum(p > 0 for p in r.parts) == 1]
        self.assertEqual(len(pure), 3)
        self.assertEqual(len([r for r in row.rungs if all(p > 0 for p in r.parts)]), 3)
        self.assertRaises(ValueError, triangle, [OCHRE, RED], tube, TEN.surface)

    def test_a_rung_becomes_a_pile_of_its_own_colour(self) -> None:
        row = line(RED, BLUE, tube, TEN.surface)
        bench = on.lay(Bench(), "", row.rungs[3].doses(row.sources, 2.0))
        self.assertAlmostEqual(bench.piles[0].ml, 2.0)
        np.testing.assert_allclose(look(bench.piles[0].amounts, tube).lab, row.rungs[3].lab, atol=1e-6)


class NearerTest(unittest.TestCase):
    def test_advice_for_paint_that_is_known_brings_it_near(self) -> None:
        bench = skin()
        goal = look({"titanium-white": 8, "yellow-ochre": 5, "cadmium-red-light": 2, "burnt-sienna": 1}, tube).lab
        supplies, pile = list(AT_HAND.values()), bench.piles[0]
        for _ in range(4):
            advice = nearer(pile, goal, supplies, TEN.tubes, TEN.surface, on.PART_ML, bench=bench)
            if advice.verdict not in ("add", "cut"):
                break
            for supply_id, parts in advice.additions:
                bench = on.add(bench, pile.id, AT_HAND[supply_id], parts * on.PART_ML)
            pile = bench.piles[0]
        near = float(ciede2000(np.array(look(pile.amounts, tube).lab), np.array(goal)))
        self.assertLess(near, 2.0)
        self.assertEqual(advice.verdict, "home")

    def test_what_is_used_up_is_not_advised(self) -> None:
        bench = on.add(skin(), "bench-1", LEFTOVER, 1.0)
        with self.assertRaisesRegex(ValueError, "nothing at hand"):
            nearer(bench.piles[0], (40, 0, 0), [LEFTOVER], TEN.tubes, TEN.surface, on.PART_ML, bench=bench)
        advice = nearer(bench.piles[0], (40, 0, 0), [LEFTOVER, BLUE], TEN.tubes, TEN.surface, on.PART_ML, bench=bench)
        self.assertEqual({i for i, _ in advice.additions}, {BLUE.id})

    def test_a_pile_of_strange_tubes_is_told(self) -> None:
        strange = on.add(Bench(), "", Supply("x", "x", (("prussian-blue", 1.0),)), 1)
        with self.assertRaisesRegex(ValueError, "not on the palette"):
            nearer(strange.piles[0], (40, 0, 0), [WHITE], TEN.tubes, TEN.surface, on.PART_ML)


if __name__ == "__main__":
    unittest.main()
