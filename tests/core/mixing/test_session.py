"""The whole session: methods, rules of subjects, what is mixed on, the order of adding, and what the painter chose."""

import functools
import itertools
import unittest
from dataclasses import replace

import numpy as np

from ochre_stone.core.advice.frame import hues_apart, of_tube
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.mixing.recipe.finding import recipe_of
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.recipe.tints import MOTHER
from ochre_stone.core.mixing.session.adding import adding, pool
from ochre_stone.core.mixing.session.drafting import Pin, StringRow
from ochre_stone.core.mixing.session.plan import MixOn, plan_session
from ochre_stone.core.mixing.strings.methods import kit, mud, verdict
from ochre_stone.core.mixing.strings.schools import METHODS
from ochre_stone.core.mixing.strings.subjects import RULES, flush, shape, span, through_leaf, turned
from ochre_stone.core.mixing.strings.targets import PileTarget, targets
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import tube
from tests.support.made import follow

PORTRAIT = palette("portrait-ten")
BOUNDS = Terms(PORTRAIT.tubes, PORTRAIT.name)
SKIN = [(72, 14, 26), (62, 18, 28), (50, 16, 24), (38, 12, 16)]
SKY = [(88, -2, -4), (70, -4, -18), (55, 0, -30)]
ON = [r.id for r in RULES if r.on]


def rows(**more):
    return [
        StringRow("skin", "Skin", tuple(targets(SKIN, [1] * 4, 5)), **more),
        StringRow("sky", "Sky", tuple(targets(SKY, [1] * 3, 5))),
    ]


class Whole(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.session = plan_session(rows(), BOUNDS, {f"{s}-{n}": 3.0 for s in ("skin", "sky") for n in range(1, 6)})
        cls.piles = {p.id: p for s in cls.session.strings for p in s.piles}

    def test_some_piles_go_on_and_stay_matched(self):
        on = [p for p in self.piles.values() if any(i.id in self.piles for i in p.recipe.ingredients)]
        self.assertGreaterEqual(len(on), 2)
        for p in self.piles.values():
            if p.reachable:
                self.assertLessEqual(p.recipe.de00, 2.0, p.id)
                self.assertLessEqual(abs(p.recipe.value_error), 0.25, p.id)

    def test_predicted_from_what_is_really_in_them(self):
        for p in self.piles.values():
            self.assertLess(float(ciede2000(predict(dict(p.recipe.shares)).lab, p.recipe.lab)), 1e-6, p.id)

    def test_nothing_is_mixed_before_what_it_goes_on_from(self):
        turn = {i: p.order for i, p in self.piles.items()}
        self.assertEqual(sorted(turn.values()), list(range(1, 11)))
        for p in self.piles.values():
            for i in p.recipe.ingredients:
                if i.id in turn:
                    self.assertLess(turn[i.id], p.order)
        self.assertEqual([self.piles[i].order for i in self.session.branching.order], list(range(1, 11)))

    def test_the_plan_tells_what_the_recipes_do(self):
        for pile_id, way in self.session.branching.chosen.items():
            drawn = [i.id for i in self.piles[pile_id].recipe.ingredients if i.id in self.piles]
            self.assertEqual(sorted(drawn), sorted(way.parents), pile_id)
            parts = {i.id: i.parts for i in self.piles[pile_id].recipe.ingredients}
            for parent, share in way.draws:
                self.assertAlmostEqual(share, parts[parent] / sum(parts.values()))

    def test_without_mixing_on_all_start_from_tubes(self):
        plain = plan_session(rows(), BOUNDS, mix_on=MixOn(False))
        for s in plain.strings:
            for p in s.piles:
                self.assertFalse(any(i.id in self.piles for i in p.recipe.ingredients))
        # Nothing is needed of any of the ten: what each is large for its doses is waste, a quarter of an operation to
        # the millilitre.
        piles = [p for s in plain.strings for p in s.piles]
        strong = {t.id for t in PORTRAIT.tubes if t.is_strong}
        things = sum(1 + 0.5 * (i.id in strong) for p in piles for i in p.recipe.ingredients)
        waste = sum(
            max(1.0, 0.05 * sum(i.parts for i in p.recipe.ingredients) / min(i.parts for i in p.recipe.ingredients))
            for p in piles
        )
        self.assertAlmostEqual(plain.branching.cost, things + 0.25 * waste)

    def test_what_the_ways_are_priced_at(self):
        """Each thing put in and each dose of strong paint, counted from the recipes."""
        blues = palette("many-blues")
        strong = {t.id for t in blues.tubes if t.is_strong}
        self.assertTrue({"phthalo-blue-green-shade", "prussian-blue"} <= strong)
        self.assertFalse({"titanium-white", "yellow-ochre"} & strong)
        wanted = [
            StringRow("sky", "Sky", tuple(targets([(80, -4, -14), (60, -4, -32), (45, 0, -44)], [1] * 3, 4))),
            StringRow("sea", "Sea", tuple(targets([(55, -18, -20), (30, -10, -22)], [1] * 2, 3))),
        ]
        need = {f"{s}-{n}": 3.0 for s, most in (("sky", 4), ("sea", 3)) for n in range(1, most + 1)}
        found = plan_session(wanted, Terms(blues.tubes, blues.name), need)
        piles = {p.id: p for s in found.strings for p in s.piles}
        counted = 0
        for pile_id, way in found.branching.chosen.items():
            items = piles[pile_id].recipe.ingredients
            counted += sum(i.id in strong for i in items)
            self.assertEqual((way.operations, way.strong), (len(items), sum(i.id in strong for i in items)), pile_id)
            self.assertTrue(all(0.1 <= share < 1 for _, share in way.draws), way)
            self.assertGreaterEqual(found.branching.ml[pile_id], way.least_ml)
        self.assertGreater(counted, 0)
        self.assertLessEqual(found.branching.cost, found.branching.from_tubes)

    def test_families_are_crossed_only_when_asked(self):
        need = {f"{s}-{n}": 3.0 for s in ("skin", "sky") for n in range(1, 6)}
        inside = plan_session(rows(), BOUNDS, need).branching.chosen
        self.assertTrue(all(i.split("-")[0] == parent.split("-")[0] for i, w in inside.items() for parent in w.parents))
        both = [
            StringRow("skin", "Skin", tuple(targets(SKIN, [1] * 4, 5))),
            StringRow("wall", "Wall", tuple(targets([(70, 13, 24), (45, 14, 20)], [1] * 2, 4))),
        ]
        across = plan_session(both, BOUNDS, mix_on=MixOn(True, True)).branching.chosen
        self.assertTrue(any(i.split("-")[0] != parent.split("-")[0] for i, w in across.items() for parent in w.parents))

    def test_the_order_of_a_school_is_kept(self):
        """A pile goes on only from piles that the school mixes before it."""
        for first in ("lightest", "middle", "darkest"):
            session = plan_session(rows(first=first), BOUNDS)
            order = list(session.branching.order)
            for i, w in session.branching.chosen.items():
                self.assertTrue(all(order.index(parent) < order.index(i) for parent in w.parents))
            skin = [p.order for p in session.strings[0].piles]
            wanted = {"lightest": [5, 4, 3, 2, 1], "middle": [5, 3, 1, 2, 4], "darkest": [1, 2, 3, 4, 5]}[first]
            self.assertEqual(skin, wanted)

    def test_first_pile_by_school(self):
        for first, number in (("lightest", 5), ("darkest", 1), ("middle", 3)):
            s = plan_session(rows(first=first), BOUNDS, mix_on=MixOn(False)).strings[0]
            self.assertEqual(min(s.piles, key=lambda p: p.order).id, f"skin-{number}")

    def test_a_pin_stays_until_its_target_moves(self):
        parts = (("titanium-white", 3.0), ("yellow-ochre", 3.0), ("burnt-sienna", 1.0))
        goal = rows()[0].goals[2].lab
        for target, kept in ((goal, True), ((goal[0] + 20, 0.0, 0.0), False)):
            s = plan_session(rows(), BOUNDS, pins=[Pin("skin-3", parts, target)]).strings[0]
            self.assertEqual(s.piles[2].pinned, kept)
            if kept:
                self.assertEqual({i.id: i.parts for i in s.piles[2].recipe.ingredients}, dict(parts))
        gone = plan_session(rows(), BOUNDS, pins=[Pin("skin-3", (("phthalo-green-blue-shade", 1.0),), goal)])
        self.assertFalse(gone.strings[0].piles[2].pinned)

    def test_recipes_of_nothing_or_of_strangers(self):
        for parts in ({}, {"nobody": 1.0}, {"titanium-white": 0.0}):
            with self.assertRaises(ValueError):
                recipe_of(parts, np.array([50.0, 0, 0]), Terms(PORTRAIT.tubes))


def chain(session):
    """The number of each pile that goes on from another, and the number of that one."""
    return {int(i[-1]): int(w.parents[0][-1]) for i, w in session.branching.chosen.items() if w.draws}


@functools.cache
def skin_by(method, mother=""):
    """A string of skin by a method, planned once."""
    row = StringRow("skin", "Skin", tuple(targets(SKIN, [1] * 4, 5)), method, mother)
    return plan_session([row], BOUNDS, mix_on=MixOn(False))


class Methods(unittest.TestCase):
    def build(self, method, mother=""):
        return skin_by(method, mother)

    def test_each_keeps_to_its_kind(self):
        for method in METHODS:
            session = self.build(method)
            used = [{i for i, _ in p.recipe.shares} for p in session.strings[0].piles]
            every = set().union(*used)
            white, black = "titanium-white", "ivory-black"
            if method == "ladder":
                self.assertLessEqual(len(every), 3)
            elif method == "complement":
                hues = [of_tube(tube(i)).hue for i in every - {white}]
                self.assertLessEqual(len(every), 3)
                if len(hues) == 2:
                    self.assertGreaterEqual(hues_apart(*hues), 119)
            elif method == "neutral":
                (base,) = [b for b in session.strings[0].bases if not b.is_tint]
                self.assertLessEqual({i for i, _ in base.parts}, {white, black})
                on = [any(i.id == base.id for i in p.recipe.ingredients) for p in session.strings[0].piles]
                self.assertTrue(any(on))
                for p, goes_on in zip(session.strings[0].piles, on, strict=True):
                    self.assertEqual(p.recipe.why.startswith("Cleaner from tubes"), not goes_on, p.id)
                said = session.strings[0].kit_words
                self.assertEqual("cleaner from tubes" in said, not all(on))
                for p, goes_on in zip(session.strings[0].piles, on, strict=True):
                    self.assertEqual(p.id in said, not goes_on)
            elif method == "fewest":
                self.assertLess(len(every), 6)
            elif method == "parents":
                self.assertTrue(all(len(u) <= 4 for u in used))
                for p in session.strings[0].piles:
                    self.assertEqual([i.id for i in p.recipe.ingredients], [b.id for b in p.recipe.bases])
                    self.assertEqual(len(p.recipe.bases), 2)
                    for base in p.recipe.bases:
                        value = value_of_lightness(predict(dict(base.parts)).lab[0])
                        self.assertLess(abs(float(value) - p.target.value), 0.25, base.name)
            elif method == "chain":
                self.assertEqual(chain(session), {1: 2, 2: 3, 4: 3, 5: 4}, "from the middle both ways")
            self.assertEqual(session.strings[0].method, method)

    def test_each_string_has_a_neutral_of_its_own_name_and_none_is_a_tube_as_it_comes(self):
        pale = tuple(targets([(92.0, 2.0, 6.0)], [1], 2))
        wanted = [replace(r, method="neutral") for r in rows()] + [StringRow("wall", "Wall", pale, "neutral")]
        found = plan_session(wanted, BOUNDS, mix_on=MixOn(False)).strings
        bases = [b for s in found for b in s.bases if not b.is_tint]
        self.assertEqual(len({b.name for b in bases}), len(bases))
        self.assertTrue(all(len(b.parts) > 1 for b in bases))
        for p in (p for s in found for p in s.piles):
            self.assertTrue(not p.reachable or p.recipe.de00 <= 2.0, p.id)

    def test_a_chain_goes_the_way_that_was_asked_for(self):
        for first, links in (("lightest", {1: 2, 2: 3, 3: 4, 4: 5}), ("darkest", {2: 1, 3: 2, 4: 3, 5: 4})):
            row = StringRow("skin", "Skin", tuple(targets(SKIN, [1] * 4, 5)), "chain", first=first)
            session = plan_session([row], BOUNDS)
            self.assertEqual(chain(session), links)
            self.assertEqual(
                list(session.branching.order),
                sorted(session.branching.order, key=lambda i: int(i[-1]) * (-1 if first == "lightest" else 1)),
            )

    def test_methods_come_to_different_recipes(self):
        made = {m: [p.recipe.ingredients for p in self.build(m).strings[0].piles] for m in METHODS}
        for a, b in itertools.combinations(METHODS, 2):
            self.assertNotEqual(made[a], made[b], (a, b))

    def test_the_mother_is_in_everything(self):
        for mother in ("", "raw-umber"):
            session = self.build("mother", mother)
            inside = session.kits["skin"].mother
            self.assertTrue(not mother or inside == mother)
            for p in session.strings[0].piles:
                self.assertGreaterEqual(dict(p.recipe.shares).get(inside, 0.0), MOTHER * 0.9, p.id)

    def test_fewer_constraints_come_nearer(self):
        goals = [p.target.lab for p in self.build("nearest").strings[0].piles]
        off = {}
        for m in METHODS:
            found = [p.recipe for p in self.build(m).strings[0].piles]
            told = verdict(m, found, PORTRAIT.tubes)
            off[m] = told.off
            self.assertGreater(told.chroma_kept, 0.2)
            self.assertTrue(0 <= told.mud <= 1)
            self.assertEqual(len(found), len(goals))
        self.assertLess(off["nearest"], min(off.values()) + 0.3)

    def test_mud_is_what_cancels(self):
        def mixed(parts):
            return recipe_of(parts, np.array([50.0, 0, 0]), Terms(PORTRAIT.tubes))

        clean = mud(mixed({"cadmium-yellow-medium": 1, "titanium-white": 3}), PORTRAIT.tubes)
        dull = mud(mixed({"burnt-sienna": 4, "ultramarine-blue": 2, "titanium-white": 1}), PORTRAIT.tubes)
        self.assertLess(clean, 0.2)
        self.assertGreater(dull, clean + 0.2)

    def test_palettes_that_lack_what_a_method_needs(self):
        few = palette("underpainting-three").tubes
        self.assertLessEqual(set(kit("neutral", SKIN, few).tubes), set(few))
        with self.assertRaisesRegex(ValueError, "no method"):
            kit("magic", SKIN, few)


class Rules(unittest.TestCase):
    def test_notes_are_never_moved(self):
        for subject in ("skin", "foliage"):
            plain = targets(SKIN, [1] * 4, 7, subject, None, ())
            ruled = targets(SKIN, [1] * 4, 7, subject, None, ON)
            for a, b in zip(plain, ruled, strict=True):
                self.assertEqual(a.value, b.value)
                if a.origin == "note":
                    self.assertEqual(a.lab, b.lab)
                    self.assertEqual(b.rules, ())

    def test_what_each_does(self):
        where = span([4.0, 5.0, 6.0], [False, True, True])
        hue = lambda c: float(np.degrees(np.arctan2(c[2], c[1])))  # noqa: E731
        chroma = lambda c: float(np.hypot(c[1], c[2]))  # noqa: E731
        light = (80.0, 12.0, 20.0)
        lit, said = shape("skin", light, 8.0, where, ON)
        self.assertLess(hue(lit), hue(light))  # yellow goes first: cooler
        self.assertGreaterEqual(lit[2], 0)  # and no blue
        self.assertEqual([r.id for r in said], ["skin-highlight"])
        turning, said = shape("skin", (46.0, 14.0, 20.0), 4.5, where, ON)
        self.assertLess(chroma(turning), chroma((46.0, 14.0, 20.0)))
        self.assertGreater(hue(turning), hue((46.0, 14.0, 20.0)))  # toward green
        dark, _ = shape("skin", (25.0, 8.0, 14.0), 2.5, where, ON)
        self.assertLess(hue(dark), hue((25.0, 8.0, 14.0)))  # toward red
        green = (45.0, -35.0, 40.0)
        dull, _ = shape("foliage", green, 5.0, where, ON)
        self.assertLess(chroma(dull), chroma(green))
        warm, _ = shape("foliage", (20.0, -8.0, 10.0), 2.0, where, ON)
        cool, _ = shape("foliage", (20.0, -8.0, 10.0), 2.0, where, [*ON, "foliage-cool"])
        self.assertLess(hue(warm), hue((20.0, -8.0, 10.0)))
        self.assertGreater(hue(cool), hue((20.0, -8.0, 10.0)))
        self.assertEqual(shape("skin", light, 8.0, where, ()), (light, []))

    def test_added_strings(self):
        middle = (60.0, 16.0, 26.0)
        for lab in flush(middle):
            self.assertLess(np.arctan2(lab[2], lab[1]), np.arctan2(middle[2], middle[1]))
        leaf = (50.0, -18.0, 36.0)
        self.assertGreater(np.hypot(*through_leaf(leaf)[1][1:]), np.hypot(*leaf[1:]))
        self.assertGreater(through_leaf(leaf)[1][0], leaf[0])

    def test_a_turn_never_goes_past(self):
        self.assertAlmostEqual(
            turned((50, 10, 10), 50, 90)[2] / turned((50, 10, 10), 50, 90)[1], np.tan(np.radians(50))
        )
        self.assertTrue(all(r.why and r.title for r in RULES))


class Adding(unittest.TestCase):
    def steps(self, parts, target=(55, 10, 20), **how):
        recipe = recipe_of(parts, np.array(target, float), Terms(PORTRAIT.tubes))
        by_id = {t.id: t for t in PORTRAIT.tubes}
        return recipe, adding(recipe, lambda i: (by_id[i.id].K, by_id[i.id].S), pool(PORTRAIT.tubes), **how)

    def test_ends_at_the_recipe_and_leaves_nothing_out(self):
        for parts in (
            {"titanium-white": 6, "yellow-ochre": 3, "ultramarine-blue": 1},
            {"titanium-white": 4, "ivory-black": 2},
            {"titanium-white": 12, "yellow-ochre": 6, "alizarin-crimson": 1, "ivory-black": 1},
        ):
            for ml in (1.0, 20.0):
                recipe, steps = self.steps(parts, ml=ml)
                self.assertLess(float(ciede2000(np.array(steps[-1].lab), np.array(recipe.lab))), 1e-9)
                inside = follow(steps, {})
                for item in recipe.ingredients:
                    self.assertAlmostEqual(inside[item.id], item.parts)

    def test_strong_paint_last_in_halves_into_half_the_pile(self):
        _, steps = self.steps(
            {"titanium-white": 12, "yellow-ochre": 6, "alizarin-crimson": 1, "ivory-black": 1}, ml=20.0
        )
        strong = pool(PORTRAIT.tubes)
        acts = [s.act for s in steps]
        self.assertEqual((acts.count("cut"), acts.count("join"), acts[-1]), (1, 1, "join"))
        cut = acts.index("cut")
        after = [s for s in steps[cut + 1 :] if s.act == "add"]
        self.assertTrue(all(s.half and strong(s.doses[0].id) for s in after))
        self.assertFalse(any(s.half for s in steps[:cut]))
        self.assertGreater(len([s for s in steps if s.act == "add" and s.doses[0].id == "ivory-black"]), 1)
        self.assertIn("into the half", after[0].said)
        self.assertEqual(sum(d.parts for s in after for d in s.doses), sum(d.parts for d in steps[-1].doses))

    def test_nothing_is_cut_or_halved_that_is_then_too_small_to_dose(self):
        parts = {"titanium-white": 12, "yellow-ochre": 6, "alizarin-crimson": 1, "ivory-black": 1}
        for ml in (1.0, 2.0, 5.0, 40.0):
            _, steps = self.steps(parts, ml=ml)
            for s in steps:
                for d in s.doses:
                    self.assertGreaterEqual(d.parts / 20 * ml, 0.05 - 1e-9, (ml, s.said))

    def test_each_thing_is_done_once(self):
        for parts in (
            {"titanium-white": 6, "ivory-black": 2, "burnt-sienna": 3, "yellow-ochre": 4},
            {"titanium-white": 2, "raw-umber": 3, "ultramarine-blue": 3, "burnt-sienna": 3},
        ):
            _, steps = self.steps(parts)
            words = [s.words for s in steps if "the rest" not in s.words]
            self.assertEqual(len(words), len(set(words)), words)
            self.assertLessEqual(sum("sets the value" in w for w in words), 1, words)

    def test_the_mother_comes_after_the_first(self):
        parts = {"titanium-white": 6, "raw-umber": 1, "yellow-ochre": 3, "ivory-black": 1}
        _, steps = self.steps(parts, mother="raw-umber")
        self.assertIn("mother", next(s for s in steps if s.doses and s.doses[0].id == "raw-umber").words)
        order = [s.doses[0].id for s in steps if s.doses]
        self.assertLess(order.index("raw-umber"), order.index("ivory-black"))

    def test_what_was_mixed_already_is_too_fine_for_a_hand(self):
        """A pile kept as it was mixed may hold less than can be dosed: it errs by more, and the step says so."""
        parts = {"titanium-white": 10, "ivory-black": 0.01}
        recipe, steps = self.steps(parts, ml=1.0)
        self.assertIn("less than the tip of a knife", steps[-1].words)
        steady = recipe_of(parts, np.array(recipe.target), Terms(PORTRAIT.tubes, hand=Hand(least_ml=0.001)))
        at_goal = [
            recipe_of(parts, np.array(recipe.lab), Terms(PORTRAIT.tubes, hand=h)).by_eye
            for h in (Hand(), Hand(least_ml=0.001))
        ]
        self.assertGreater(at_goal[0], 1.5 * at_goal[1])
        self.assertEqual(steady.lab, recipe.lab)

    def test_a_part_that_goes_on_is_cut_off(self):
        row = StringRow("skin", "Skin", tuple(targets(SKIN, [1] * 4, 5)), "chain")
        p = next(
            p
            for p in plan_session([row], BOUNDS).strings[0].piles
            if any(i.is_pile and not i.is_base for i in p.recipe.ingredients)
        )
        by_id = {t.id: t for t in PORTRAIT.tubes}
        white = by_id["titanium-white"]
        steps = adding(p.recipe, lambda i: (by_id.get(i.id, white).K, by_id.get(i.id, white).S), pool(PORTRAIT.tubes))
        self.assertIn("the rest stays as it is", steps[0].words)

    def test_a_single_tube(self):
        _, steps = self.steps({"burnt-sienna": 1})
        self.assertEqual([(s.words, s.act) for s in steps], [("first", "add")])


class Shifts(unittest.TestCase):
    def test_a_pile_out_of_reach_is_said(self):
        goal = (float(70), -60.0, -60.0)
        row = StringRow("other", "Other", (PileTarget(goal, float(value_of_lightness(70.0)), "note"),) * 2)
        s = plan_session([row], BOUNDS).strings[0]
        self.assertFalse(s.piles[0].reachable)
        self.assertIn("out of reach", s.piles[0].recipe.why.lower())


if __name__ == "__main__":
    unittest.main()
