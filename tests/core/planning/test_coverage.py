"""Every note its pile: strings through the notes, a number of piles, and what is said of those that have none."""

import json
import unittest
from dataclasses import replace

from ochre_stone.core.colour.munsell import munsell_to_lab, value_of_lightness
from ochre_stone.core.document.document import FORMAT_VERSION, Document, MixChoice
from ochre_stone.core.mixing.recipe.nearness import MATCHES, NEAR, OUT, Nearness
from ochre_stone.core.planning.coverage import Covered, coverage, coverage_words, lacks
from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.planning.rows import note_targets, wanted_rows
from ochre_stone.core.store.files import open_project, read_document
from ochre_stone.export.tables import covered_json
from ochre_stone.resources import resource

DEMO = open_project(resource("demo", "orchard-keeper.ochre")).document


def with_mix(**fields: object) -> Document:
    return DEMO.model_copy(update={"mix": MixChoice.model_validate(DEMO.mix.model_dump() | fields)})


class EveryNote(unittest.TestCase):
    def test_each_note_stands_on_a_pile_and_strings_end_on_their_extreme_notes(self):
        goal = dict(zip([n.id for n in DEMO.notes], note_targets(DEMO), strict=True))
        rows = wanted_rows(DEMO)
        self.assertEqual(sorted(i for r in rows for g in r.goals for i in g.notes), sorted(goal))
        for r in rows:
            mine = [float(value_of_lightness(goal[i][0])) for g in r.goals for i in g.notes]
            self.assertAlmostEqual(r.goals[0].value, min(mine), delta=0.02, msg=r.id)
            self.assertAlmostEqual(r.goals[-1].value, max(mine), delta=0.02, msg=r.id)
            self.assertTrue(all((g.origin == "note") == bool(g.notes) for g in r.goals))

    def test_of_the_demo_those_in_reach_are_met(self):
        found = coverage(DEMO)
        self.assertEqual(set(found), {n.id for n in DEMO.notes})
        for c in found.values():
            self.assertTrue(c.own)
            self.assertEqual(c.has_pile, not c.is_out)
            if c.reach:
                self.assertLess(c.de00, 2.0, c)
        self.assertGreaterEqual(sum(c.has_pile for c in found.values()), 14)

    def test_an_older_project_keeps_its_even_steps(self):
        raw = json.loads(with_mix(steps=4).model_dump_json())
        raw["version"] = 5
        for field in ("stand", "step", "touch", "piles", "medium", "finish"):
            del raw["mix"][field]
        opened = read_document(json.dumps(raw).encode(), "old")
        self.assertEqual((opened.mix.stand, opened.mix.steps, opened.version), ("even", 4, FORMAT_VERSION))
        self.assertEqual(Document().mix.stand, "notes")

    def test_a_subject_left_out_is_the_painters_choice(self):
        ids = {r.id for r in wanted_rows(with_mix(left_out=("sky",)))}
        self.assertNotIn("sky", ids)
        self.assertIn("other-yellows", {r.id for r in wanted_rows(DEMO)}, "a lone note is an accent pile")


class Shared(unittest.TestCase):
    def test_a_pile_that_others_share_is_no_match_for_what_is_far_from_it(self):
        planned = DEMO
        first, other = next(
            (p, q) for s in planned.mixed.strings for p in s.piles for q in s.piles if p.reachable and p.id != q.id
        )
        target = replace(first.target, notes=(*first.target.notes, *other.target.notes))
        strings = tuple(
            replace(
                s,
                piles=tuple(replace(p, target=target) if p.id == first.id else p for p in s.piles if p.id != other.id),
            )
            for s in planned.mixed.strings
        )
        document = planned.model_copy(update={"mixed": planned.mixed.model_copy(update={"strings": strings})})
        found = coverage(document)
        self.assertTrue(found[first.target.notes[0]].has_pile)
        lost = found[other.target.notes[0]]
        self.assertEqual((lost.pile, lost.has_pile), (first.id, False))
        self.assertTrue(lost.why)


class SoManyPiles(unittest.TestCase):
    def test_the_number_is_kept_and_more_piles_lose_less(self):
        weight = {n.id: 1.0 for n in DEMO.notes}
        lost = []
        for most in (6, 12, 18):
            rows = wanted_rows(with_mix(piles=most, step=1.5))
            self.assertEqual(sum(len(r.goals) for r in rows), most)
            held = {i for r in rows for g in r.goals for i in g.notes}
            lost.append(sum(weight[n.id] for n in DEMO.notes if n.id not in held))
        self.assertEqual(lost, sorted(lost, reverse=True))
        self.assertGreater(lost[0], 0)

    def test_what_dropped_notes_lose_is_told(self):
        document = with_mix(piles=8)
        document = document.model_copy(update={"mixed": mix_strings(document)})
        found = coverage(document)
        without = [c for c in found.values() if not c.own]
        self.assertTrue(without)
        self.assertIn("have none", coverage_words(found))
        for c in without:
            self.assertGreater(c.de00, document.mix.touch)
            self.assertEqual((covered_json(c)["pile"], c.reach), ("", None))
        whole, searched = coverage(DEMO), coverage(document, search=True)
        for c in without:
            self.assertEqual(searched[c.note].reach, whole[c.note].reach, "as its own pile would tell")

    def test_what_a_mixture_lacks(self):
        def lab(hue: float, value: float, chroma: float) -> tuple[float, float, float]:
            L, a, b = munsell_to_lab(hue, value, chroma).tolist()
            return L, a, b

        for goal, mixture, want in (
            ((25, 8, 12), (25, 8, 9.9), "too strong by 2.1 in chroma"),
            ((25, 8, 6), (25, 8, 7), "too grey by 1.0 in chroma"),
            ((25, 1.2, 2), (25, 1.8, 2), "too dark by 0.6 in value"),
            ((25, 9, 3), (25, 8.6, 3), "too light by 0.4 in value"),
            ((25, 5, 8), (25, 5.8, 7.4), "too dark by 0.8 in value, too strong by 0.6 in chroma"),
        ):
            self.assertEqual(lacks(lab(*goal), lab(*mixture)), want)
        self.assertRegex(lacks(lab(25, 5, 8), lab(29, 5, 8)), r"^its hue, .*yellow.*, is not there$")
        out = [c for c in coverage(DEMO).values() if c.own and c.is_out]
        self.assertTrue(out and all(c.why for c in out))

    def test_words(self):
        def of(own: bool, grade: str) -> Covered:
            return Covered("n", "skin-1", 1.234, own, Nearness(grade, "" if grade == MATCHES else "grey"))

        found = {"a": of(True, MATCHES), "b": of(True, OUT), "c": of(False, MATCHES), "d": of(True, NEAR)}
        self.assertEqual(
            coverage_words(found),
            "2 of 4 notes have their pile, 1 of them near; 1 is out of reach of this palette; 1 has none.",
        )
        self.assertEqual(coverage_words({"a": of(True, MATCHES)}), "1 of 1 notes have their pile.")
        told = {"pile": "skin-1", "de00": 1.23, "reach": False, "near": "out of reach (too grey)"}
        self.assertEqual(covered_json(of(True, OUT)), told)
        self.assertEqual(json.dumps(covered_json(None)), '{"pile": "", "de00": null, "reach": null, "near": ""}')
        self.assertEqual(coverage(Document()), {})
