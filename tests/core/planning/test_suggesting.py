"""Proposed notes in a project: named, counted, added to what is there; a subject said of a whole thing."""

import unittest

from ochre_stone.core.document.choices import Area, MassChoice
from ochre_stone.core.document.document import Document
from ochre_stone.core.errors import OchreError
from ochre_stone.core.planning import suggesting
from ochre_stone.core.planning.noting import note_of_reading, read_note
from tests.support.made import demo_picture

SHIRT = [(1080, 700), (1300, 700), (1350, 940), (1080, 940)]


class Proposed(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.picture = demo_picture()
        cls.whole = suggesting.suggest_notes(cls.picture, 12, Document())

    def test_each_has_a_name_of_its_own_a_thing_and_a_sureness(self):
        notes = self.whole.notes
        self.assertEqual(len({n.name for n in notes}), len(notes))
        self.assertEqual(set(self.whole.sure), {n.id for n in notes})
        for n in notes:
            self.assertEqual(n.subject == "other", self.whole.sure[n.id] < 0.5)

    def test_what_has_no_sure_name_is_asked_for(self):
        said = self.whole.words(self.whole.notes)
        unnamed = sum(n.subject == "other" for n in self.whole.notes)
        self.assertGreater(unnamed, 1)
        self.assertTrue(said.startswith(f"{unnamed} notes have no sure name"), said)
        named = [n for n in self.whole.notes if n.subject != "other"]
        self.assertEqual(self.whole.words(named), f"{unnamed} more are on the scale already.")
        one = [n for n in self.whole.notes if n.subject == "other"][:1]
        self.assertTrue(self.whole.words(one).endswith(" already. 1 note has no sure name: say what it is (Ctrl+U)."))

    def test_a_second_time_nothing_is_added(self):
        document, new = suggesting.added(Document(), self.whole)
        self.assertEqual(document.notes, self.whole.notes)
        self.assertEqual(new, self.whole.notes)
        again, more = suggesting.added(document, suggesting.suggest_notes(self.picture, 12, document))
        self.assertEqual((again, more), (document, ()))

    def test_a_note_taken_meanwhile_is_not_lost(self):
        mine = read_note(self.picture, Document(), 1500, 1150, 9).model_copy(
            update={"id": self.whole.notes[0].id, "name": "mine"}
        )
        document, new = suggesting.added(Document(notes=(mine,)), self.whole)
        self.assertEqual(document.notes[0], mine)
        self.assertEqual(len(document.notes), 1 + len(new))

    def test_of_an_area_besides_what_is_there(self):
        document, _ = suggesting.added(Document(), self.whole)
        found = suggesting.suggest_here(self.picture, document, SHIRT, "2-2-2", 6)
        self.assertEqual(len(found.notes), 6)
        self.assertFalse({n.id for n in found.notes} & {n.id for n in document.notes})
        new, notes = suggesting.added(document, found)
        self.assertEqual(len(new.notes), len(document.notes) + len(notes))
        self.assertEqual({n.subject for n in found.notes}, {"cloth"})

    def test_focus_areas_get_more(self):
        face = Area(points=((820, 280), (1130, 280), (1130, 560), (820, 560)))
        looked = Document(masses=MassChoice(focus=(face,)))
        more = suggesting.suggest_notes(self.picture, 12, looked).notes

        def there(notes: tuple) -> int:
            return sum(820 < n.x < 1130 and 280 < n.y < 560 for n in notes)

        self.assertGreater(there(more), there(self.whole.notes))

    def test_outlines_that_are_said(self):
        loose = [(770, 560), (1480, 560), (1480, 1140), (770, 1140)]
        found = suggesting.suggest_here(self.picture, Document(), loose, "1-1-1", 3)
        self.assertIn(f"its main thing was looked at, {found.kept:.0%} of it", found.words(()))
        sky = [(1100, 30), (1560, 30), (1560, 190), (1100, 190)]
        found = suggesting.suggest_here(self.picture, Document(), sky, "form", 3)
        self.assertIn("Not there: core shadow, cast shadow", found.words(()))
        with self.assertRaises(OchreError):
            suggesting.suggest_here(self.picture, Document(), [(5, 5), (9, 5), (9, 8)], "1-1-1", 3)


class Spread(unittest.TestCase):
    """The face of the demo lies under a hat: nobody finds it but the painter."""

    def setUp(self) -> None:
        self.picture = demo_picture()
        self.document = Document()
        for x, y in ((1000, 700), (900, 470), (1020, 520), (300, 1000)):
            self.document = self.document.with_note(read_note(self.picture, self.document, x, y, 9))
        first = self.document.notes[0].model_copy(update={"subject": "skin", "name": "chest"})
        self.document = self.document.with_note(first)

    def test_notes_on_the_same_thing_are_named_and_others_are_not(self):
        locked = self.document.notes[2].model_copy(update={"locked": True, "subject": "other"})
        self.document = self.document.with_note(locked)
        before = {n.id: n.subject for n in self.document.notes}
        after, named = suggesting.spread_thing(self.picture, self.document, "n1")
        self.assertTrue(after.note("n1").whole_thing)
        for n in after.notes[1:]:
            self.assertEqual(n.subject, "skin" if n.id in named else before[n.id])
        self.assertNotIn("n3", named)
        self.assertNotIn("n4", named)

    def test_later_suggestions_know_it(self):
        after, _ = suggesting.spread_thing(self.picture, self.document, "n1")
        self.assertNotIn("skin", {n.subject for n in suggesting.suggest_notes(self.picture, 12, self.document).notes})
        self.assertIn("skin", {n.subject for n in suggesting.suggest_notes(self.picture, 12, after).notes})

    def test_the_last_word_of_a_thing_stands(self):
        after, _ = suggesting.spread_thing(self.picture, self.document, "n1")
        other = read_note(self.picture, after, 1000, 702, 9).model_copy(update={"subject": "cloth"})
        last, named = suggesting.spread_thing(self.picture, after.with_note(other), other.id)
        self.assertIn("n1", named)
        self.assertEqual([n.whole_thing for n in last.notes if n.subject == "cloth"].count(True), 1)
        self.assertEqual(last.note("n1").name, "chest", "a name of the painter's stays")

    def test_a_reading_of_the_scene_has_no_thing(self):
        reading = note_of_reading(self.document, (50.0, 5.0, 5.0), [0.2] * 36, None)
        with self.assertRaisesRegex(OchreError, "no place in the picture"):
            suggesting.spread_thing(self.picture, self.document.with_note(reading), reading.id)
