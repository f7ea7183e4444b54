"""The order of adding followed to the letter, over the plans for the demo and five photographs (scikit-image,
scikit-learn): whoever does what the steps say, and nothing else, ends at the recipe's colour.

The follower (``tests.support.made.follow``) knows of the steps only their acts and the parts of their doses.
"""

import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.document import Document
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.planning.steps import steps_of
from tests.support.cases import cases, with_strings
from tests.support.made import follow


class ToTheLetter(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.documents = {name: with_strings(name) for name, _, _ in cases()}
        methods = ("parents", "neutral", "chain", "mother", "complement")
        demo = cls.documents["demo"]
        strings = [{"id": s.id, "method": methods[k % 5]} for k, s in enumerate(demo.mixed.strings)]
        asked = Document.model_validate(demo.model_dump() | {"mix": demo.mix.model_dump() | {"strings": strings}})
        cls.documents["demo by methods"] = asked.model_copy(update={"mixed": mix_strings(asked)})

    def follow(self, document):
        tubes, surface = document.mix.chosen().tubes, document.mix.chosen().surface
        K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
        made, steps = {}, {}
        for p in sorted((p for s in document.mixed.strings for p in s.piles), key=lambda p: p.order):
            steps[p.id] = steps_of(document, p)
            made[p.id] = follow(steps[p.id], made)
            c = np.array([made[p.id].get(t.id, 0.0) for t in tubes])
            lab = layer_lab(c / c.sum() @ K, c / c.sum() @ S, surface)
            self.assertLess(float(ciede2000(lab, np.array(p.recipe.lab))), 0.1, p.id)
            told = np.array(steps[p.id][-1].lab)
            self.assertLess(float(ciede2000(lab, told)), 0.1, f"{p.id}: what the last step says it looks like")
        return steps

    def test_every_pile_ends_at_its_recipe(self):
        acts = set()
        for name, document in self.documents.items():
            with self.subTest(name):
                acts |= {s.act for steps in self.follow(document).values() for s in steps}
        self.assertEqual(acts, {"make", "add", "cut", "join"}, "all of it was tried")

    def test_no_dose_of_a_step_is_too_small_and_nothing_is_done_twice(self):
        for name, document in self.documents.items():
            plan, hand = document.mixed.branching, document.mix.hand.made()
            for p in (p for s in document.mixed.strings for p in s.piles):
                whole = sum(i.parts for i in p.recipe.ingredients)
                steps = [s for s in steps_of(document, p) if s.act != "make"]
                for s in steps:
                    for d in s.doses:
                        ml = d.parts / whole * plan.ml[p.id]
                        self.assertGreaterEqual(ml, hand.least_ml - 1e-6, f"{name}, {p.id}: {s.said}")
                setters = sum("sets the value" in s.words for s in steps)
                self.assertLessEqual(setters, 1, f"{name}, {p.id}")


if __name__ == "__main__":
    unittest.main()
