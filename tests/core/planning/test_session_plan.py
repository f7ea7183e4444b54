"""Strings from a document: subjects kept apart, strings that rules add, pins, piles as they are, and older files."""

import itertools
import json
import unittest
from dataclasses import replace

import numpy as np
from pydantic import ValidationError

from ochre_stone.core.document.choices import PileReading, StringChoice
from ochre_stone.core.document.document import FORMAT_VERSION, Document, MixChoice
from ochre_stone.core.masses.laying import LAYINGS, order
from ochre_stone.core.masses.plan import Mass
from ochre_stone.core.mixing.correcting.correct import HOME
from ochre_stone.core.mixing.recipe.dose import Dose, contents, weighed
from ochre_stone.core.planning import planning, rows
from ochre_stone.core.planning.advising import advice_lines, verdict_words
from ochre_stone.core.planning.benching import with_planned
from ochre_stone.core.planning.blocking import mass_colours, stages, why
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.mending import (
    _instead,
    addable,
    advise,
    begun,
    forget,
    goal_of,
    held,
    last_reading,
    part_ml,
    put,
    put_since,
    readings_of,
    with_advice,
    with_reading,
    with_words,
)
from ochre_stone.core.planning.pinning import choose_recipe, let_go, pile_of
from ochre_stone.core.store.files import open_project, read_document
from ochre_stone.resources import resource

PROJECT = open_project(resource("demo", "orchard-keeper.ochre"))
DEMO = PROJECT.document


def with_mix(document: Document = DEMO, **fields: object) -> Document:
    mix = MixChoice.model_validate(document.mix.model_dump() | fields)
    return document.model_copy(update={"mix": mix})


def goes_alone(recipe) -> bool:
    """Whether a recipe starts from tubes."""
    return all(not i.is_pile or i.id.startswith("tint-") for i in recipe.ingredients)


class Rows(unittest.TestCase):
    def test_light_and_distance_apart(self):
        lit = rows.groups(with_mix(apart=(("skin", "light"),)))
        self.assertIn("skin-lit", lit)
        self.assertNotIn("skin", lit)
        shade = [DEMO.notes[i] for i in lit["skin-shade"]]
        self.assertTrue(shade and not any(n.lit for n in shade))
        far = rows.groups(with_mix(apart=(("foliage", "distance"),)))
        self.assertEqual([DEMO.notes[i].name for i in far["foliage-far"]], ["far trees, sunny"])
        # a subject noted at one distance or in one light only stays whole
        self.assertIn("sky", rows.groups(with_mix(apart=(("sky", "light"), ("sky", "distance")))))
        titles = [rows.string_title(s) for s in ("skin-shade", "foliage-far", "sky-clouds", "shadows", "distance")]
        self.assertEqual(titles, ["Skin, shaded", "Foliage, far", "Clouds", "Shadows", "Distance"])

    def test_strings_that_rules_add_and_their_marks(self):
        rules = tuple((r, True) for r in rows.ADDED_ROWS)
        found = {r.id: r for r in rows.wanted_rows(with_mix(rules=rules))}
        self.assertTrue(set(rows.ADDED_ROWS) <= set(found))
        for string_id in rows.ADDED_ROWS:
            for g in found[string_id].goals:
                self.assertEqual((g.origin, g.rules), ("rule", (string_id,)))
        # cast shadows hold some colour of the thing; form shadows get light back from the ground
        form = np.array([g.lab for g in found["shadows-form"].goals])
        cast = np.array([g.lab for g in found["shadows-cast"].goals])
        self.assertGreater(form[:, 0].mean(), cast[:, 0].mean())
        without = {r.id for r in rows.wanted_rows(with_mix(rules=rules, left_out=tuple(rows.ADDED_ROWS)))}
        self.assertFalse(without & set(rows.ADDED_ROWS))

    def test_fingerprint_sees_every_choice(self):
        base = rows.fingerprint(DEMO)
        changed = [
            with_mix(rules=(("skin-highlight", False),)),
            with_mix(apart=(("skin", "light"),)),
            with_mix(strings=(StringChoice(id="skin", method="ladder").model_dump(),)),
            with_mix(mix_on=False),
            with_reading(DEMO, "skin-3", (50.0, 10.0, 20.0), "reader"),
        ]
        prints = [rows.fingerprint(d) for d in changed]
        said = with_words(DEMO, "skin-3", [("too light", "a little")])
        self.assertEqual(rows.fingerprint(said), base, "what is said of one pile does not replan all strings")
        self.assertEqual(len({base, *prints}), 6)

    def test_choices_that_cannot_be(self):
        for bad in (
            {"rules": (("skin-magic", True),)},
            {"apart": (("nothing", "light"),)},
            {"strings": ({"id": "skin", "method": "magic"},)},
            {"strings": ({"id": "skin"}, {"id": "skin"})},
            {"pins": ({"pile": "skin-1", "parts": (("a", -1.0),), "target": (1, 2, 3)},)},
        ):
            with self.assertRaises(ValidationError):
                with_mix(**bad)
        with self.assertRaises(ValidationError):
            PileReading(pile="a", target=(50, 0, 0), doses=(), lab=(50, 0, 0), noise=1, how="reader")


class Pins(unittest.TestCase):
    def test_a_leaf_changes_at_once_and_a_parent_asks_for_new_strings(self):
        drawn = {i.id for s in DEMO.mixed.strings for p in s.piles for i in p.recipe.ingredients}
        piles = [p for s in DEMO.mixed.strings for p in s.piles if p.alternatives]
        leaf, wanted = next((p, r) for p in piles if p.id not in drawn for r in p.alternatives if goes_alone(r))
        new = choose_recipe(DEMO, leaf.id, wanted)
        self.assertEqual(pile_of(new, leaf.id).recipe, wanted)
        self.assertEqual(new.mixed.fingerprint, rows.fingerprint(new))
        self.assertFalse(new.mixed.branching.chosen[leaf.id].draws)
        back = let_go(new, leaf.id)
        self.assertEqual(back.mix.pins, ())
        parent = next(p for p in piles if p.id in drawn)
        wanted = next(r for r in parent.alternatives if goes_alone(r))
        new = choose_recipe(DEMO, parent.id, wanted)
        self.assertNotEqual(new.mixed.fingerprint, rows.fingerprint(new))
        again = planning.mix_strings(new)
        pinned = next(p for s in again.strings for p in s.piles if p.id == parent.id)
        self.assertTrue(pinned.pinned)
        self.assertEqual(
            {i.id: i.parts for i in pinned.recipe.ingredients}, {i.id: i.parts for i in wanted.ingredients}
        )

    def test_what_goes_on_cannot_be_pinned(self):
        on = next(
            p
            for s in DEMO.mixed.strings
            for p in s.piles
            if any(i.is_pile and not i.id.startswith("tint-") for i in p.recipe.ingredients)
        )
        with self.assertRaisesRegex(ValueError, "cannot be kept"):
            choose_recipe(DEMO, on.id, on.recipe)
        with self.assertRaises(KeyError):
            pile_of(DEMO, "nobody-1")


class Mending(unittest.TestCase):
    def test_readings_are_kept_with_what_was_in_the_pile(self):
        pile = pile_of(DEMO, "skin-3")
        first = begun(DEMO, pile)
        d = with_reading(DEMO, "skin-3", (55, 14, 28), "reader")
        self.assertEqual(contents(held(d, pile).doses), contents(first))
        more = (*first, Dose((("titanium-white", 1.0),), 2.0, 0.2))
        d = put(d, "skin-3", more, 0)
        self.assertEqual(len(held(d, pile).doses), len(more))
        d = with_reading(d, "skin-3", (58, 13, 26), "typed")
        self.assertIsNone(put_since(d, "skin-3"))
        self.assertEqual(contents(held(forget(d, "skin-3"), pile).doses), contents(first))
        self.assertEqual(len(readings_of(d, "skin-3")), 2)
        now = dict(last_reading(d, "skin-3").amounts)
        self.assertGreaterEqual(sum(v.volume for v in first), 8)
        self.assertAlmostEqual(now["titanium-white"], contents(first).get("titanium-white", 0) + 2.0, 5)
        self.assertEqual(Document.model_validate_json(d.model_dump_json()), d)
        for lab in ((200, 0, 0), (50, 300, 0)):
            with self.assertRaises(ValueError):
                with_reading(DEMO, "skin-3", lab, "reader")

    def test_every_pile_is_begun_with_what_its_recipe_holds(self):
        """Base piles and piles mixed on from taken apart, as much as a part of it is in millilitres."""
        for p in (q for s in DEMO.mixed.strings for q in s.piles):
            inside = contents(begun(DEMO, p))
            whole = sum(inside.values())
            for tube_id, share in p.recipe.shares:
                self.assertAlmostEqual(inside[tube_id] / whole, share, delta=0.01, msg=p.id)
            self.assertGreaterEqual(whole * part_ml(DEMO, p), 1.0 - 1e-6)

    def test_what_was_advised_goes_in_dose_by_dose(self):
        pile = pile_of(DEMO, "skin-3")
        L, a, b = pile.target.lab
        d = with_reading(DEMO, "skin-3", (L + 6, a, b), "reader")
        advice = advise(d, "skin-3")
        c = advice.correction
        self.assertIn(c.verdict, ("add", "cut"))
        before, after = held(d, pile).doses, held(with_advice(d, "skin-3", advice), pile).doses
        self.assertEqual(len(after), len(before) + len(c.additions))
        self.assertAlmostEqual(after[0].volume, before[0].volume * c.keep, 5)
        for dose, (_, volume) in zip(after[len(before) :], c.additions, strict=True):
            self.assertAlmostEqual(dose.volume, volume, 5)
            self.assertGreaterEqual(dose.error, 0.2)
        half = held(with_advice(d, "skin-3", advice, 0.5), pile).doses
        self.assertAlmostEqual(half[-1].volume, after[-1].volume / 2, 5)

    def test_words_always_get_an_answer(self):
        for said in ("too light", "too dark", "too red", "too blue", "too strong"):
            for how in ("a little", "clearly"):
                d = with_words(DEMO, "skin-3", [(said, how)])
                advice = advise(d, "skin-3")
                c = advice.correction
                self.assertNotEqual(c.verdict, "home", (said, how))
                self.assertLess(c.de00, c.now + 0.6)
                for other in c.others:
                    self.assertLess(other.de00, c.de00, "beside it stands only what ends nearer")
                if c.de00 >= c.now:  # the least dose, and nothing better is promised of it
                    self.assertEqual(len(c.additions), 1)
                    self.assertLess(c.growth, 1.06)
                    self.assertNotIn("nearer", verdict_words(advice))
                self.assertTrue(c.why.startswith(said.capitalize()), c.why)

    def test_a_match_is_told_and_a_hopeless_one_begun_again(self):
        pile = pile_of(DEMO, "skin-3")
        self.assertEqual(
            advise(with_reading(DEMO, "skin-3", pile.target.lab, "reader"), "skin-3").correction.verdict, "home"
        )
        seen = with_reading(DEMO, "skin-3", (50, 10, 20), "reader")
        blue = put(seen, "skin-3", weighed([("ultramarine-blue", 9.0)], 0.2), 1)
        wrong = with_reading(blue, "skin-3", (25, 5, -30), "reader")
        found = advise(wrong, "skin-3")
        self.assertEqual(found.correction.verdict, "again")
        self.assertLess(np.linalg.norm(np.subtract(found.again.lab, pile.target.lab)), 3 * HOME)
        anew = held(with_advice(wrong, "skin-3", found), pile)
        self.assertEqual(anew.batch, 2)
        self.assertEqual(len(anew.doses), len(found.again.ingredients))

    def test_a_pile_begun_anew_is_counted_in_its_own_parts(self):
        """A recipe of other numbers: its part is another volume, and its size is its own plan, so nothing is cut."""
        pile = pile_of(DEMO, "skin-3")
        ml = part_ml(DEMO, pile) * sum(d.volume for d in begun(DEMO, pile))
        first = with_reading(DEMO, "skin-3", (50, 10, 20), "reader")
        many = weighed([(i, 40.0 * c) for i, c in pile.recipe.shares], 0.2)
        anew = put(first, "skin-3", many, 1)
        self.assertAlmostEqual(part_ml(anew, pile) * 40.0, ml, delta=0.01)
        L, a, b = pile.target.lab
        seen = with_reading(anew, "skin-3", (L + 4, a, b), "reader")
        self.assertAlmostEqual(part_ml(seen, pile) * 40.0, ml, delta=0.01)
        c = advise(seen, "skin-3").correction
        self.assertEqual((c.verdict, c.keep), ("add", 1.0))
        for _, parts in c.additions:  # what is told can be dosed in this pile
            self.assertGreaterEqual(parts * part_ml(seen, pile), 0.05 - 1e-6)

    def test_the_goal_of_a_pile_out_of_reach_stays_when_it_was_read(self):
        far = next(p for s in DEMO.mixed.strings for p in s.piles if not p.reachable)
        goal = goal_of(DEMO, far)
        d = with_reading(DEMO, far.id, (goal[0] + 7, goal[1], goal[2] + 4), "reader")
        planned = d.model_copy(update={"mixed": planning.mix_strings(d)})
        again = pile_of(planned, far.id)
        self.assertTrue(again.pinned)
        self.assertGreater(np.linalg.norm(np.subtract(again.recipe.lab, goal)), 1.0)
        self.assertEqual(goal_of(planned, again), goal)
        self.assertLess(np.linalg.norm(np.subtract(goal, far.target.lab)), 25)
        self.assertNotEqual(advise(planned, far.id).correction.verdict, "home")

    def test_a_tint_that_is_not_there_is_told_with_what_it_is_made_of(self):
        pile = pile_of(DEMO, "skin-3")
        d = with_reading(DEMO, "skin-3", (pile.target.lab[0] + 4, *pile.target.lab[1:]), "reader")
        advice = advise(d, "skin-3")
        made = next(s for s in advice.sources if s.trouble > 0)
        c = replace(advice.correction, additions=((made.id, 1.0),), names=(made.name,), verdict="add", keep=1.0)
        said = " ".join(advice_lines(d, pile, replace(advice, correction=c)))
        self.assertIn(f"Make first: {made.name}: 10 white to 1", said)
        self.assertIn(f"1 {made.name}", said)
        there = replace(made, trouble=0.0)
        same = replace(advice, correction=c, sources=(there,))
        self.assertNotIn("Make first", " ".join(advice_lines(d, pile, same)))

    def test_a_cut_is_counted_in_the_parts_of_the_whole_pile(self):
        pile = pile_of(DEMO, "skin-3")
        d = with_reading(DEMO, "skin-3", (pile.target.lab[0] - 9, *pile.target.lab[1:]), "reader")
        advice = advise(d, "skin-3")
        cut = replace(advice, correction=replace(advice.correction, verdict="cut", keep=1 / 3))
        said = " ".join(advice_lines(d, pile, cut))
        whole = round(sum(x.volume for x in held(d, pile).doses))
        self.assertIn(f"Counting the pile as {whole} parts: keep a third, then add", said)

    def test_what_is_at_hand(self):
        found = {a.id: a for a in addable(DEMO, pile_of(DEMO, "skin-3"))}
        self.assertIn("skin-2", found)
        self.assertNotIn("skin-3", found)
        tubes = DEMO.mix.chosen().tubes
        self.assertTrue({t.id for t in tubes} <= set(found))
        made = {b.id for s in DEMO.mixed.strings for b in s.bases}
        for t in tubes:  # a tint of every tube, those that are there at no trouble
            if not t.is_white:
                tint = found[f"tint-{t.id}"]
                self.assertEqual(tint.trouble > 0, tint.id not in made)
                self.assertGreater(tint.within, 0.2)
        self.assertLess(found["skin-2"].most, sum(d.volume for d in held(DEMO, pile_of(DEMO, "skin-2")).doses))

    def test_a_pile_that_comes_no_nearer_is_left_or_another_taken(self):
        """A violet on a palette of earths: no addition helps, and it is said what would."""
        few = DEMO.mix.chosen().paints
        pile = pile_of(DEMO, "sky-2")
        L, a, b = pile.target.lab
        d = with_words(DEMO, "sky-2", [("too grey", "a lot")])
        said = advise(d, "sky-2")
        self.assertTrue(few)
        self.assertIn(said.correction.verdict, ("add", "cut", "leave", "again"))
        near = with_reading(DEMO, "sky-1", (L, a, b), "reader")  # another pile has just this colour
        far = with_reading(DEMO, "sky-2", (L, a + 9, b), "reader").readings[0]
        words = _instead(near, pile, planning.belief(near), far)
        self.assertIn("take sky overhead", words)

    def test_what_was_seen_of_another_pile_in_its_place_does_not_count(self):
        d = with_reading(DEMO, "skin-3", (50, 10, 20), "reader")
        other = d.readings[0].model_copy(update={"target": (80.0, 0.0, 0.0)})
        d = d.model_copy(update={"readings": (other,)})
        self.assertIsNone(last_reading(d, "skin-3"))
        pile = pile_of(d, "skin-3")
        self.assertEqual(contents(held(d, pile).doses), contents(begun(d, pile)))

    def test_not_read_or_tubes_gone(self):
        with self.assertRaisesRegex(ValueError, "read the pile first"):
            advise(DEMO, "skin-3")
        d = with_reading(DEMO, "skin-3", (50, 10, 20), "reader")
        other = with_mix(d, palette="many-blues")
        with self.assertRaisesRegex(ValueError, "not on the palette"):
            advise(other, "skin-3")
        self.assertEqual(planning.belief(other).readings, ())  # nor do they teach there

    def test_the_mixed_pile_stays_and_others_are_mixed_from_what_was_learnt(self):
        pile = pile_of(DEMO, "skin-3")
        d = with_reading(DEMO, "skin-3", (pile.recipe.lab[0] + 6, pile.recipe.lab[1], pile.recipe.lab[2] - 5), "reader")
        again = planning.mix_strings(d)
        now = next(p for s in again.strings for p in s.piles if p.id == "skin-3")
        self.assertTrue(now.pinned)
        shares = dict(now.recipe.shares)
        first = contents(begun(d, pile))
        for i, v in first.items():
            self.assertAlmostEqual(shares[i], v / sum(first.values()), delta=0.01)
        # foreseen nearer to what was read than before
        seen = last_reading(d, "skin-3").lab
        self.assertLess(
            np.linalg.norm(np.subtract(now.recipe.lab, seen)), np.linalg.norm(np.subtract(pile.recipe.lab, seen))
        )


class LayingIn(unittest.TestCase):
    MASSES = tuple(
        Mass(i, i, v, v, (v * 10, 0, 0), share, family)
        for i, (v, share, family) in enumerate(
            [(2, 0.2, "shadow"), (4, 0.1, "shadow"), (6, 0.5, "light"), (9, 0.2, "light")]
        )
    )

    def test_schools(self):
        self.assertEqual(order(self.MASSES, "dark"), [0, 1, 2, 3])
        self.assertEqual(order(self.MASSES, "light"), [3, 2, 1, 0])
        self.assertEqual(order(self.MASSES, "large")[0], 2)
        self.assertEqual(order(self.MASSES, "middle")[0], 1)
        self.assertEqual(order((), "dark"), [])
        self.assertEqual(set(LAYINGS), {"dark", "light", "middle", "large"})
        with self.assertRaisesRegex(ValueError, "no order"):
            order(self.MASSES, "sideways")

    def test_stages_cover_the_canvas_once_in_planned_values(self):
        plan = fine_masses(PROJECT.picture, DEMO)
        found = stages(DEMO, plan)
        self.assertEqual(len(found), len(plan.masses) + 1)
        covered = [s.covered for s in found]
        self.assertEqual(covered, sorted(covered))
        self.assertAlmostEqual(covered[-1], 1.0, places=6)
        ground = found[0].image[0, 0]
        for before, now in itertools.pairwise(found):
            changed = (before.image != now.image).any(axis=2)
            self.assertTrue((before.image[changed] == ground).all())  # nothing is painted over
            self.assertAlmostEqual(changed.mean(), now.covered - before.covered, delta=0.01)
        colours = mass_colours(DEMO, plan)
        for m, lab in zip(plan.masses, colours, strict=True):
            self.assertAlmostEqual(lab[0] / 10, m.value, delta=0.35)

    def test_a_dark_on_white_seems_darker_a_grey_on_grey_as_it_is(self):
        self.assertIn("darker than it is", why((40.0, 0, 0), (95.0, 0, 2), True))
        self.assertIn("seems as it is", why((50.0, 0, 0), (51.0, 0, 0), False))
        self.assertIn("lighter than it is", why((60.0, 0, 0), (15.0, 0, 0), False))


class OlderFiles(unittest.TestCase):
    def test_version_four_opens_with_the_new_choices_at_rest(self):
        raw = json.loads(DEMO.model_dump_json())
        raw["version"] = 4
        for gone in ("strings", "rules", "apart", "pins", "mix_on", "learn"):
            raw["mix"].pop(gone)
        for gone in ("thick", "ground", "laying", "board_width", "board_height"):
            raw["canvas"].pop(gone)
        raw.pop("readings")
        raw.pop("put_in")
        for n in raw["notes"]:
            n.pop("distance")
        for gone in ("branching", "tweaks"):
            raw["mixed"].pop(gone)
        for s in raw["mixed"]["strings"]:
            s.pop("method")
            s.pop("kit")
            for p in s["piles"]:
                p.pop("pinned")
                p["target"].pop("rules")
        as_tints(raw)
        old = read_document(json.dumps(raw).encode(), "old.ochre")
        self.assertEqual(old.version, FORMAT_VERSION)
        self.assertIsNone(old.mixed.branching)
        self.assertEqual(old.mix, DEMO.mix)

    def test_version_eight_keeps_its_readings(self):
        """What a pile held was told by tube; it counts as dosed by eye, each reading for itself."""
        d = with_reading(with_reading(DEMO, "skin-3", (50, 10, 20), "reader"), "skin-3", (52, 10, 20), "reader")
        raw = json.loads(d.model_dump_json())
        raw["version"] = 8
        for r in raw["readings"]:
            r.pop("doses"), r.pop("batch")
            r["amounts"] = [["titanium-white", 6.0], ["yellow-ochre", 2.0]]
        raw["put_in"] = [{"pile": "skin-3", "amounts": [["titanium-white", 7.0]]}]
        old = read_document(json.dumps(raw).encode(), "old.ochre")
        self.assertEqual([dict(r.amounts) for r in old.readings], [{"titanium-white": 6.0, "yellow-ochre": 2.0}] * 2)
        self.assertEqual(len({r.batch for r in old.readings}), 2)
        self.assertEqual(old.put_in[0].doses[0].error, 0.2)
        self.assertGreater(abs(planning.belief(old).figures).max(), 0)

    def test_version_ten_keeps_its_doses(self):
        """A dose on the bench and one of the plan had names of their own for the same."""
        d = with_reading(DEMO, "skin-3", (50, 10, 20), "reader")
        d = with_planned(d, "skin-3", as_mixed=True)
        raw = json.loads(d.model_dump_json())
        raw["version"] = 10
        for dose in raw["readings"][0]["doses"]:
            dose["parts"] = dose.pop("volume")
            dose["source"] = "" if len(dose["shares"]) == 1 else dose["source"]
            dose.pop("name")
        for dose in raw["bench"]["bench"]["piles"][0]["doses"]:
            dose["supply"], dose["ml"] = dose.pop("source"), dose.pop("volume")
            dose.pop("error"), dose.pop("within")
        old = read_document(json.dumps(raw).encode(), "old.ochre")
        self.assertEqual(old.readings, d.readings)
        self.assertEqual(old.mixed, d.mixed)
        self.assertTrue(any(way.draws for way in old.mixed.branching.chosen.values()))
        on_bench = [(x.source, x.name, x.volume) for x in old.bench.bench.piles[0].doses]
        self.assertEqual(on_bench, [(x.source, x.name, x.volume) for x in d.bench.bench.piles[0].doses])

    def test_version_seven_keeps_its_strings(self):
        """Tints became base piles, and ways may draw on two piles."""
        raw = json.loads(DEMO.model_dump_json())
        raw["version"] = 7
        as_tints(raw)
        for gone in ("hand", "loose", "across"):
            raw["mix"].pop(gone)
        ways = raw["mixed"]["branching"]["chosen"]
        for way in ways.values():
            draws = way.pop("draws")
            way.pop("least_ml")
            way |= {"parent": draws[0][0] if draws else "", "share": draws[0][1] if draws else 0.0, "small": 0}
        old = read_document(json.dumps(raw).encode(), "old.ochre")
        self.assertEqual(old.version, FORMAT_VERSION)
        self.assertEqual(old.mix, DEMO.mix)
        for a, b in zip(old.mixed.strings, DEMO.mixed.strings, strict=True):
            self.assertEqual([x.recipe.bases for x in a.piles], [x.recipe.bases for x in b.piles])
            self.assertEqual(a.bases, b.bases)
        for i, way in old.mixed.branching.chosen.items():
            self.assertEqual(way.parents[:1], DEMO.mixed.branching.chosen[i].parents[:1])


def as_tints(raw):
    """Base piles as formats up to 7 told them."""
    for s in raw["mixed"]["strings"]:
        for holder in (s, *(r for p in s["piles"] for r in (p["recipe"], *p["alternatives"]))):
            holder["tints"] = [{k: v for k, v in b.items() if k != "parts"} for b in holder.pop("bases")]


if __name__ == "__main__":
    unittest.main()
