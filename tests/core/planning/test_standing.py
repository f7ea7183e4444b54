"""Where piles of strings stand: numbers and shapes of their own, and how a number for the session is shared out."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.document.choices import Area, MassChoice, StringChoice
from ochre_stone.core.document.document import Document, MixChoice, Note
from ochre_stone.core.mixing.strings.shapes import SHAPES
from ochre_stone.core.planning.planning import glimpse_strings, mix_strings
from ochre_stone.core.planning.rows import fingerprint, wanted_rows
from ochre_stone.core.planning.standing import weight_of


def note(number: int, value: float, subject: str = "skin", **fields: object) -> Note:
    lab = (float(lightness_of_value(value)), 12.0 + number, 14.0)
    return Note.model_validate(
        {"id": f"n{number}", "name": f"note {number}", "lab": lab, "subject": subject, "share": 0.05, **fields}
    )


SKIN = tuple(note(i, v) for i, v in enumerate((2.2, 2.8, 3.1, 4.9, 5.4, 6.0, 7.8, 8.4)))
CLOTH = tuple(note(20 + i, v, "cloth") for i, v in enumerate((3.0, 5.0, 7.0)))


def rows(*strings: StringChoice, notes: tuple[Note, ...] = SKIN + CLOTH, **mix: object) -> dict[str, list]:
    document = Document(notes=notes, mix=MixChoice(strings=strings, **mix))
    return {r.id: list(r.goals) for r in wanted_rows(document)}


class OfItsOwn(unittest.TestCase):
    def test_a_shape(self):
        for shape, (_, counts) in SHAPES.items():
            found = rows(StringChoice(id="skin", stand=shape))["skin"]
            self.assertEqual(len(found), sum(counts), shape)
            low, high = 2.2, 8.4
            third = (high - low) / 3
            values = [t.value for t in found]
            self.assertEqual(values, sorted(values))
            self.assertEqual(
                [sum(v > high - third for v in values), sum(v <= low + third for v in values)], [counts[0], counts[2]]
            )

    def test_a_shape_fills_what_no_note_gives_with_steps_and_says_so(self):
        few = (note(1, 2.5), note(2, 8.5))
        found = rows(StringChoice(id="skin", stand="1-2-3"), notes=few)["skin"]
        self.assertEqual(len(found), 6)
        self.assertEqual([bool(t.notes) for t in found].count(True), 2)
        for t in found:
            self.assertEqual(t.origin, "note" if t.notes else "between")
            self.assertTrue(2.49 <= t.value <= 8.51)

    def test_a_shape_keeps_what_weighs_most(self):
        for heavy in range(3):
            notes = tuple(n.model_copy(update={"share": 0.6 if i == heavy else 0.01}) for i, n in enumerate(SKIN))
            dark = rows(StringChoice(id="skin", stand="1-1-1"), notes=notes)["skin"][0]
            self.assertEqual(dark.notes, (f"n{heavy}",))

    def test_a_focus_area_alone_asks_for_the_strings_anew(self):
        plain = Document(notes=SKIN)
        focus = MassChoice(focus=(Area(points=((0, 0), (100, 0), (100, 100), (0, 100))),))
        self.assertNotEqual(fingerprint(plain), fingerprint(plain.model_copy(update={"masses": focus})))

    def test_a_narrow_string_has_no_bands(self):
        near = tuple(note(i, 5 + 0.2 * i, name=f"x{i}") for i in range(4))
        found = rows(StringChoice(id="skin", stand="1-1-1"), notes=near)["skin"]
        self.assertEqual(len(found), 3)
        self.assertTrue(all(t.notes for t in found))

    def test_a_number(self):
        for count in (1, 3, 5):
            found = rows(StringChoice(id="skin", count=count))
            self.assertEqual(len(found["skin"]), count)
            self.assertGreaterEqual(len(found["cloth"]), 3)

    def test_even_steps_of_one_string_alone(self):
        found = rows(StringChoice(id="skin", stand="even", count=4))
        self.assertEqual(len(found["skin"]), 4)
        gaps = [b.value - a.value for a, b in zip(found["skin"], found["skin"][1:], strict=False)]
        self.assertAlmostEqual(max(gaps), min(gaps), places=6)
        self.assertTrue(all(t.notes for t in found["cloth"] if t.origin == "note"))
        other = rows(StringChoice(id="cloth", stand="notes"), stand="even", steps=5)
        self.assertEqual(len(other["skin"]), 5)
        self.assertEqual(sum(len(t.notes) for t in other["cloth"]), 3)

    def test_numbers_that_no_string_can_have(self):
        for wrong in ({"stand": "even", "count": 12}, {"count": 21}, {"stand": "3-3-3"}):
            with self.assertRaises(ValueError):
                StringChoice(id="skin", **wrong)


class ForTheSession(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.integers(1, 20), st.sampled_from([0, 2, 4]), st.sampled_from(["", "1-1-1"]))
    def test_the_number_is_kept_whatever_strings_ask(self, piles, count, shape):
        string = StringChoice(id="skin", stand=shape, count=0 if shape else count)
        found = rows(string, piles=piles)
        own = 3 if shape else count
        self.assertLessEqual(sum(map(len, found.values())), max(piles, own + 1))
        if own:
            self.assertEqual(len(found["skin"]), own)

    def test_steps_close_the_widest_gap_of_all_strings(self):
        notes = (note(1, 4.0), note(2, 6.0), note(20, 2.0, "cloth"), note(21, 9.0, "cloth"))
        found = rows(notes=notes, piles=5)
        self.assertEqual(([len(r) for r in found.values()]), [2, 3])
        self.assertEqual([t.origin for t in found["cloth"]], ["note", "between", "note"])

    def test_added_strings_are_counted(self):
        plain = rows(piles=8)
        flushed = rows(piles=8, rules=(("skin-flush", True),))
        self.assertEqual(sum(map(len, plain.values())), 8)
        self.assertEqual(sum(map(len, flushed.values())), 8)
        self.assertEqual(len(flushed["skin-flush"]), 2)

    def test_the_focus_area_and_skin_weigh_more(self):
        there = note(1, 5.0, "cloth", x=50.0, y=50.0)
        focus = MassChoice(focus=(Area(points=((0, 0), (100, 0), (100, 100), (0, 100))),))
        plain, looked_at = Document(notes=(there,)), Document(notes=(there,), masses=focus)
        self.assertAlmostEqual(weight_of(there, looked_at), 2 * weight_of(there, plain))
        skin = there.model_copy(update={"subject": "skin"})
        self.assertAlmostEqual(weight_of(skin, plain), 2 * weight_of(there, plain))

    def test_a_string_left_out_takes_no_pile(self):
        found = rows(piles=6, left_out=("cloth",))
        self.assertEqual({s: len(r) for s, r in found.items()}, {"skin": 6})


class Glimpse(unittest.TestCase):
    def test_only_what_moved_is_worked_out_and_nothing_where_all_did(self):
        document = Document(notes=SKIN[:4] + CLOTH, mix=MixChoice(palette="four-tube-earth"))
        document = document.model_copy(update={"mixed": mix_strings(document)})
        self.assertIsNone(glimpse_strings(document), "nothing moved")
        note = CLOTH[1].model_copy(update={"lab": (56.0, 20.0, 2.0)})
        found = glimpse_strings(document.with_note(note))
        old, new = ({s.id: s for s in m.strings} for m in (document.mixed, found))
        self.assertIs(new["skin"], old["skin"])
        self.assertNotEqual(new["cloth"], old["cloth"])
        self.assertIn("n21", {i for p in new["cloth"].piles for i in p.target.notes})
        self.assertEqual(found.fingerprint, document.mixed.fingerprint, "it stands for nothing yet")
        gone = document.without_note("n20").without_note("n21").without_note("n22")
        self.assertIsNone(glimpse_strings(gone), "no string has other piles")
