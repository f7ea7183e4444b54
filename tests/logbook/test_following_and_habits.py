"""What happened to a pile, told step by step; and habits, weeks and courses counted by hand."""

import math
import unittest
from datetime import date, datetime

import numpy as np
from pydantic import ValidationError

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.mixing.recipe.dose import Dose, shrunk
from ochre_stone.core.mixing.session.minutes import pile_minutes
from ochre_stone.logbook import habits as room
from ochre_stone.logbook.again import age_words
from ochre_stone.logbook.entry import Cut, Put, Seen
from ochre_stone.logbook.following import course_steps
from ochre_stone.logbook.habits import by_week, courses, firsts, habits
from tests.logbook.made import START, cut_and_added, entry


class Steps(unittest.TestCase):
    def test_added_cut_and_added_again(self) -> None:
        first = (Dose.of_tube("a", 4.0), Dose.of_tube("b", 1.0))
        more = (*first, Dose.of_tube("c", 0.5))
        cut = (*shrunk(more, 0.5), Dose.of_tube("a", 2.0))
        steps = course_steps([first, more, cut])
        self.assertEqual([(d.source, d.volume) for d in steps.puts], [("a", 4.0), ("b", 1.0), ("c", 0.5), ("a", 2.0)])
        self.assertEqual(steps.cuts, ((3, 0.5),))
        self.assertEqual(steps.first, 2)
        twice = course_steps([first, shrunk(first, 0.5), shrunk(first, 0.125)])
        self.assertEqual(twice.cuts, ((2, 0.5), (2, 0.25)))
        self.assertEqual(course_steps([first, first]).cuts, ())
        with self.assertRaisesRegex(ValueError, "less than it did"):
            course_steps([more, first])

    def test_minutes_before_anyone_has_measured_them(self) -> None:
        self.assertAlmostEqual(pile_minutes(0), 0.8)
        self.assertAlmostEqual(pile_minutes(4), 2.8)

    def test_what_is_in_a_pile_after_a_cut(self) -> None:
        e = cut_and_added()
        whole, kept = {}, {}
        for n, p in enumerate(e.puts):
            keep = math.prod(c.keep for c in e.cuts if n < c.place)
            for key, share in p.dose.shares:
                whole[key] = whole.get(key, 0.0) + p.ml * share
                kept[key] = kept.get(key, 0.0) + p.ml * share * keep
        self.assertEqual(e.inside(), kept)
        self.assertAlmostEqual(e.used_ml, sum(whole.values()))
        self.assertLess(e.ml, e.used_ml)
        put = Put(at=START, dose=Dose.of_tube("a", 0.8), parts=2.0)
        one = e.model_copy(update={"puts": (put, put), "cuts": (Cut(at=START, place=1, keep=0.5),)})
        self.assertEqual(one.inside(), {"a": 0.4 + 0.8})
        self.assertEqual(one.inside(1), {"a": 0.8})  # just after the first went in, nothing was cut yet

    def test_a_put_stands_flat_in_a_file_and_comes_back(self) -> None:
        put = Put(
            at=START, dose=Dose((("a", 0.25), ("b", 0.75)), 0.4, 0.2, "tint-a", 0.3, "a tint"), parts=1.5, first=False
        )
        told = put.model_dump()
        self.assertEqual(told["supply"], "tint-a")
        self.assertEqual((told["ml"], told["error"], told["within"], told["name"]), (0.4, 0.2, 0.3, "a tint"))
        self.assertNotIn("dose", told)
        self.assertEqual(Put.model_validate(told), put)
        self.assertEqual(Put.model_validate_json(put.model_dump_json()), put)


class Bounds(unittest.TestCase):
    def test_colours_that_light_can_have(self) -> None:
        for lab, good in (
            ((0, 0, 0), True), ((130, 300, -300), True), ((130.1, 0, 0), False), ((-0.1, 0, 0), False),
            ((50, 300.1, 0), False), ((50, 0, -300.1), False),
        ):  # fmt: skip
            fields = {"at": START, "place": 1, "lab": lab, "noise": 0.3, "how": "reader"}
            if good:
                Seen.model_validate(fields)
            else:
                self.assertRaises(ValidationError, Seen.model_validate, fields)


class Ages(unittest.TestCase):
    def test_of_leftovers(self) -> None:
        said = {0.1: "just now", 0.2: "an hour old", 1.4: "an hour old", 1.5: "2 hours old", 35.9: "36 hours old",
                36.0: "2 days old", 100.0: "4 days old"}  # fmt: skip
        self.assertEqual({h: age_words(h) for h in said}, said)


class Habits(unittest.TestCase):
    def test_a_week_is_its_median(self) -> None:
        monday = datetime(2026, 11, 2, 10).timestamp()
        offs = ((0, 1.0), (1, 5.0), (6, 3.0), (7, 9.0))
        found = [room.First(monday + day * 86_400, off, 0.0, 0.0, 5.0) for day, off in offs]
        self.assertEqual(by_week(found), [(date(2026, 11, 2), 3.0, 3), (date(2026, 11, 9), 9.0, 1)])

    def test_firsts_and_courses_are_read_piles_with_a_target(self) -> None:
        lab, target = (60.0, 10.0, 20.0), (55.0, 8.0, 20.0)
        read = entry({"titanium-white": 1.0, "yellow-ochre": 0.4}, lab=lab, target=target)
        blind = entry({"titanium-white": 1.0}, at=START + 10, n=1, target=target)
        free = entry({"titanium-white": 1.0}, at=START + 20, n=2, lab=lab)
        found = firsts([free, blind, read])
        self.assertEqual(len(found), 1)
        self.assertAlmostEqual(found[0].off, apart(lab, target))
        self.assertGreater(found[0].value, 0.4)
        self.assertAlmostEqual(found[0].value, room._value(lab) - room._value(target))
        self.assertEqual(found[0].target, room._value(target))
        self.assertEqual([c.off for c in courses([free, blind, read])], [(apart(lab, target),)])

    def test_told_from_so_many_on_and_where_it_is_sure(self) -> None:
        few = room._FEWEST
        self.assertIsNone(room._told(np.full(few - 1, 1.0), 0.1))
        mean, error = room._told(np.array([0.9, 1.1] * few), 0.1)
        self.assertAlmostEqual(mean, 1.0)
        self.assertAlmostEqual(error, float(np.std([0.9, 1.1] * few, ddof=1) / math.sqrt(2 * few)))
        self.assertIsNone(room._told(np.array([0.9, 1.1] * few), 1.01))
        self.assertIsNone(room._told(np.array([3.0, -2.0] * few), 0.1))

    def test_time_and_paint_against_what_was_planned(self) -> None:
        piles = []
        for n in range(12):
            e = entry({"titanium-white": 0.8, "yellow-ochre": 0.4}, at=START + 600 * n, n=n)
            spread = 1.0 + 0.02 * (n % 3)
            more = {"planned_minutes": 2.0, "finished": e.begun + 60 * 3.0 * spread, "planned_ml": 0.8 * spread}
            piles.append(e.model_copy(update=more))
        said = {h.words: h for h in habits(piles, None, {})}
        time = next(h for w, h in said.items() if "minutes" in w)
        self.assertIn("1.5 times the minutes", time.words)
        self.assertAlmostEqual(time.size, float(np.mean(np.log([1.5 * (1 + 0.02 * (n % 3)) for n in range(12)]))))
        self.assertEqual(time.piles, 12)
        self.assertTrue(any("1.5 times the paint" in w for w in said), said)
        self.assertEqual(habits(piles[:3], None, {}), [])
