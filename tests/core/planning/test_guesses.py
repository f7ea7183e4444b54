"""Guessed roles, subjects and names of notes, the strings that notes belong to: at and beside each line."""

import unittest

import numpy as np

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.document.choices import Blend
from ochre_stone.core.document.document import Document, LightChoice, MixChoice, Note
from ochre_stone.core.masses.gradations import Turn
from ochre_stone.core.picture.frame import Frame
from ochre_stone.core.planning import noting
from ochre_stone.core.planning.massing import blend_of
from ochre_stone.core.planning.rows import groups, string_of, string_title, wanted_rows
from ochre_stone.core.planning.suggesting import suggest_notes
from tests.support.made import blocks, picture

THREE = picture(blocks((150, 80, 60), (90, 110, 140), (225, 220, 210), side=100), "three.png")


def note(number: int, value: float, subject: str = "skin", role: str = "light", **fields: object) -> Note:
    lab = (float(lightness_of_value(value)), 10.0, 12.0)
    return Note.model_validate(
        {"id": f"n{number}", "name": f"note {number}", "lab": lab, "subject": subject, "role": role, **fields}
    )


class Roles(unittest.TestCase):
    def test_by_value_against_the_division(self):
        for value, subject, role in (
            (1.9, "skin", "dark accent"),
            (2.0, "skin", "core shadow"),
            (4.9, "skin", "core shadow"),
            (5.0, "skin", "halftone"),
            (6.1, "skin", "halftone"),
            (6.3, "skin", "light"),
            (9.2, "skin", "light"),
            (9.3, "skin", "highlight"),
            (3.0, "sky", "light"),
            (1.5, "sky", "dark accent"),
            (4.0, "wall", "cast shadow"),
            (4.0, "ground", "cast shadow"),
        ):
            self.assertEqual(noting.guess_role(value, 5.0, subject), role, (value, subject))


class Taken(unittest.TestCase):
    def test_a_colour_that_was_typed_has_no_role_and_one_pile(self):
        brown = noting.note_of_colour(Document(), (30.0, 12.0, 18.0), "typed")
        self.assertEqual((brown.role, brown.lit, brown.group), ("", True, "other"))
        document = Document(notes=(brown,))
        self.assertEqual([len(r.goals) for r in wanted_rows(document)], [1])

    def test_a_new_note_is_of_the_thing_that_a_near_colour_is_of(self):
        first = noting.read_note(THREE, Document(), 50, 100, 15)
        self.assertEqual(first.subject, "other")
        known = Document().with_note(first.model_copy(update={"subject": "fruit"}))
        self.assertEqual(noting.read_note(THREE, known, 60, 90, 15).subject, "fruit")
        self.assertEqual(noting.read_note(THREE, known, 150, 90, 15).subject, "other")

    def test_lifted_darks_are_held_at_twenty_times(self):
        dark = picture(np.full((60, 60, 3), 6, np.uint8))
        lifted = noting.read_note(dark, Document(light=LightChoice(lift=1.0)), 30, 30, 9).lifted
        self.assertTrue(1.5 < lifted <= 20, lifted)
        self.assertEqual(noting.read_note(dark, Document(), 30, 30, 9).lifted, 1.0)

    def test_suggested_notes_have_shares_and_names(self):
        found = suggest_notes(THREE, 3, Document())
        self.assertEqual([n.id for n in found.notes], ["n1", "n2", "n3"])
        self.assertLess(found.rest.mean, 2)
        self.assertEqual(len({n.name for n in found.notes}), 3)
        for n in found.notes:
            self.assertAlmostEqual(n.share, 1 / 3, delta=0.03)


class Strings(unittest.TestCase):
    def of(self, *notes: Note, **mix: object) -> list[str]:
        d = Document(notes=notes, mix=MixChoice(**mix))
        return [string_of(d, n) for n in notes]

    def test_light_and_shade_apart(self):
        lit, core = note(1, 7), note(2, 3, role="core shadow")
        self.assertEqual(self.of(lit, core), ["skin", "skin"])
        self.assertEqual(self.of(lit, core, apart=(("skin", "light"),)), ["skin-lit", "skin-shade"])
        self.assertEqual(self.of(lit, note(2, 6, role="halftone"), apart=(("skin", "light"),)), ["skin", "skin"])

    def test_by_distance(self):
        near, far, plain = (note(i, 4 + i, "foliage", distance=d) for i, d in ((1, "near"), (2, "far"), (3, "")))
        apart = (("foliage", "distance"),)
        self.assertEqual(self.of(near, far, plain, apart=apart), ["foliage-near", "foliage-far", "foliage-near"])
        self.assertEqual(self.of(near, plain, apart=apart), ["foliage", "foliage"])

    def test_shadows_are_cast_ones_and_accents_and_a_note_is_in_one_string(self):
        core, lit = note(1, 3, role="core shadow"), note(2, 7)
        cast, accent = note(3, 3, "wall", "cast shadow"), note(4, 1.5, role="dark accent")
        self.assertEqual(groups(Document(notes=(core, lit))), {"skin": [0, 1]})
        self.assertEqual(groups(Document(notes=(core, lit, cast))), {"skin": [0, 1], "shadows": [2]})
        self.assertEqual(groups(Document(notes=(lit, accent))), {"skin": [0], "shadows": [1]})
        self.assertEqual(groups(Document(notes=(lit,))), {"skin": [0]})

    def test_titles(self):
        for string_id, title in (
            ("skin", "Skin"),
            ("skin-lit", "Skin, lit"),
            ("foliage-far", "Foliage, far"),
            ("skin-flush", "Lips and cheeks"),
            ("shadows-cast", "Cast shadows"),
        ):
            self.assertEqual(string_title(string_id), title)

    def test_what_is_left_out_is_not_wanted(self):
        notes = (note(1, 7), note(2, 4), note(3, 8, "sky"))
        self.assertEqual([r.id for r in wanted_rows(Document(notes=notes))], ["skin", "sky"])
        rows = wanted_rows(Document(notes=notes, mix=MixChoice(left_out=("sky",), stand="even", steps=4)))
        self.assertEqual([(r.id, len(r.goals)) for r in rows], [("skin", 4)])

    def test_lips_are_redder_than_the_middle_of_the_skin(self):
        notes = (note(1, 7.5), note(2, 6.0), note(3, 4.0, role="core shadow"))
        rows = {r.id: r for r in wanted_rows(Document(notes=notes, mix=MixChoice(rules=(("skin-flush", True),))))}
        lip, cheek = rows["skin-flush"].goals
        middle = sorted(rows["skin"].goals, key=lambda g: g.value)[len(rows["skin"].goals) // 2]
        self.assertAlmostEqual(cheek.lab[0] - lip.lab[0], 9.0, delta=0.1)
        for g in (lip, cheek):
            self.assertLess(np.arctan2(g.lab[2], g.lab[1]), np.arctan2(middle.lab[2], middle.lab[1]))


class Ends(unittest.TestCase):
    def test_a_turn_becomes_a_blend_at_its_place(self):
        made = picture(np.full((100, 200, 3), 120, np.uint8))
        for x, y, direction, mirror, want in (
            (0.0, 0.0, 0.0, False, (0.0, 0.0, 0.0)),
            (0.25, 0.5, 30.0, False, (50.0, 50.0, 30.0)),
            (0.25, 0.5, 30.0, True, (150.0, 50.0, 150.0)),
        ):
            turn = Turn((0,), x, y, direction, (20.0, 0, 0), (70.0, 0, 0), 0.9, 0.2)
            got = blend_of(turn, made, Document(frame=Frame(mirror=mirror)))
            np.testing.assert_allclose((got.x, got.y, got.direction), want, atol=1e-4)
            self.assertEqual((got.dark[0], got.light[0]), (20.0, 70.0))

    def test_a_blend_keeps_its_place_in_the_picture(self):
        with self.assertRaises(ValueError):
            Blend(x=-1, y=0, dark=(10, 0, 0), light=(20, 0, 0), direction=0)
        with self.assertRaises(ValueError):
            Blend(x=1, y=0, dark=(10, 0, 0), light=(20, 0, 0), direction=360)
