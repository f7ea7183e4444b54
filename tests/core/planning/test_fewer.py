"""Choosing by looking, and leaving a pile out: what is tried, what looks alike, what is missed least."""

import unittest
from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.document import MixChoice
from ochre_stone.core.planning.blockin import block_in, looked_at
from ochre_stone.core.planning.lacking import lacking
from ochre_stone.core.planning.leaving import least_missed, with_wish
from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.planning.rows import fingerprint, notes_without_pile, wanted_rows
from ochre_stone.core.planning.trying import alike_words, looks_alike, tried
from tests.support.cases import cases, with_strings


def planned(document):
    return document.model_copy(update={"mixed": mix_strings(document)})


class Fewer(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.picture = next(picture for name, picture, _ in cases() if name == "demo")
        cls.document = with_strings("demo")
        cls.laid = block_in(cls.picture, cls.document)
        cls.few = tried(cls.picture, cls.document, cls.document.mix.model_copy(update={"piles": 9}))

    def test_what_is_tried_is_the_plan_that_would_be_made(self):
        asked = self.document.model_copy(update={"mix": self.few.mix})
        self.assertEqual(self.few.mixed.fingerprint, fingerprint(asked))
        self.assertEqual(sum(len(s.piles) for s in self.few.mixed.strings), 9)
        self.assertRegex(self.few.words, r"^\d+ of \d+ notes, off by \d+$")
        self.assertEqual(self.few.notes, len(self.document.notes))
        own = tried(self.picture, self.document, self.document.mix)
        self.assertIs(own.mixed, self.document.mixed, "what is planned already is not planned again")
        self.assertGreater(own.have, self.few.have)
        self.assertLess(own.laid.figures.off, self.few.laid.figures.off)

    def test_alike_is_what_cannot_be_told_apart_when_small(self):
        earth = tried(self.picture, self.document, MixChoice(palette="four-tube-earth"))
        self.assertTrue(looks_alike(self.laid, self.laid))
        self.assertFalse(looks_alike(self.laid, earth.laid), "a grey shirt speaks at once")
        these = {"Ten": self.laid, "Other ten": self.laid, "Earth": earth.laid}
        self.assertEqual(alike_words(these, "Ten"), "Other ten looks the same here as Ten.")
        self.assertEqual(alike_words(these, "Earth"), "")
        same = dict.fromkeys("abc", self.laid)
        self.assertEqual(alike_words(same, "a"), "All 3 look the same here: nothing need be bought.")

    def test_the_pile_that_is_missed_least_by_trying_each(self):
        found = least_missed(self.picture, self.document, self.laid)
        ground = looked_at(self.picture, self.document).ground
        seen, labels = ground.melted[::4, ::4], self.laid.labels[::4, ::4]
        weight = 1 + 5 * ground.kept[::4, ::4]
        far = np.stack([ciede2000(seen, c) for c in self.laid.colours], axis=-1)
        now = np.take_along_axis(far, labels[..., None].astype(int), axis=-1)[..., 0]

        def loss(i: int) -> float:
            rest = np.where(labels == i, np.delete(far, i, axis=-1).min(axis=-1), now)
            return float((weight * np.maximum(rest**2 - now**2, 0)).sum() / max((labels == i).mean(), 0.002) ** 0.5)

        losses = {g[0].id: loss(i) for i, g in enumerate(self.laid.piles)}
        ranked = sorted(losses, key=losses.__getitem__)
        self.assertIn(found.pile.id, ranked[:3], "by colour alone it is among the least too")
        self.assertGreaterEqual(found.off, found.before - 0.05)
        self.assertIn("is missed least: off by", found.words)

    def test_a_face_keeps_its_halftone_and_a_fruit_a_yellow(self):
        document, gone = self.document, []
        for _ in range(4):
            laid = block_in(self.picture, document)
            pile = least_missed(self.picture, document, laid).pile
            gone.append({n.subject for n in document.notes if n.id in pile.target.notes} | {pile.name})
            fewer = [replace(s, piles=tuple(p for p in s.piles if p.id != pile.id)) for s in document.mixed.strings]
            strings = tuple(s for s in fewer if s.piles)
            document = document.model_copy(update={"mixed": document.mixed.model_copy(update={"strings": strings})})
        left = {p.name for s in document.mixed.strings for p in s.piles}
        self.assertLessEqual({"cheek in the sun", "cheek turning", "face in hat shade"}, left, gone)
        self.assertTrue({"quince in the sun", "straw hat"} & left, "one light yellow stays")

    def test_left_out_its_note_stays_and_nobody_asks_for_it_again(self):
        pile = least_missed(self.picture, self.document, self.laid).pile
        without = planned(with_wish(self.document, pile, "none"))
        self.assertEqual(len(without.notes), len(self.document.notes))
        self.assertLessEqual(set(pile.target.notes), notes_without_pile(without))
        own = {i for s in without.mixed.strings for p in s.piles for i in p.target.notes}
        self.assertFalse(set(pile.target.notes) & own)
        laid = block_in(self.picture, without)
        self.assertLess(laid.figures.off, self.laid.figures.off + 0.6)
        lab = np.array(pile.target.lab)
        for one in lacking(self.picture, without, laid).found:
            self.assertGreater(float(ciede2000(np.array(one.place.lab), lab)), 3.0)
        self.assertEqual(planned(with_wish(without, pile, "")).mixed.fingerprint, self.document.mixed.fingerprint)

    def test_a_pile_that_is_kept_outlives_any_number(self):
        gone = notes_without_pile(self.document.model_copy(update={"mixed": self.few.mixed}))
        lost = next(p for s in self.document.mixed.strings for p in s.piles if set(p.target.notes) <= gone)
        kept = with_wish(self.document, lost, "keep")
        few = planned(kept.model_copy(update={"mix": self.few.mix}))
        self.assertEqual(sum(len(s.piles) for s in few.mixed.strings), 9)
        self.assertFalse(set(lost.target.notes) & notes_without_pile(few))
        every = kept
        for s in self.document.mixed.strings:
            for p in s.piles:
                every = with_wish(every, p, "keep")
        self.assertIsNone(least_missed(self.picture, every, self.laid))

    def test_more_piles_kept_than_asked_for_all_stay(self):
        document, kept = self.document, []
        for p in [p for s in document.mixed.strings for p in s.piles if p.target.notes][:5]:
            document = with_wish(document, p, "keep")
            kept += p.target.notes
        rows = wanted_rows(document.model_copy(update={"mix": document.mix.model_copy(update={"piles": 3})}))
        stand = [t for row in rows for t in row.goals]
        self.assertEqual(len(stand), 5)
        self.assertLessEqual(set(kept), {i for t in stand for i in t.notes})

    def test_plans_without_wishes_keep_their_fingerprint(self):
        pile = self.document.mixed.strings[0].piles[0]
        wished = with_wish(self.document, pile, "keep")
        self.assertNotEqual(fingerprint(wished), fingerprint(self.document))
        self.assertEqual(fingerprint(with_wish(wished, pile, "")), fingerprint(self.document))


if __name__ == "__main__":
    unittest.main()
