"""What notes and piles are called."""

import unittest

from ochre_stone.core.document.document import Document, MixChoice, Note
from ochre_stone.core.mixing.strings.targets import PileTarget
from ochre_stone.core.planning.naming import also_for, head_of, named, note_name, pile_names
from ochre_stone.core.planning.planning import mix_strings
from tests.support.cases import cases, with_strings

PEACH, RUST = (75.0, 15.0, 22.0), (35.0, 28.0, 30.0)


def note(n: int, lab: tuple[float, float, float], name: str, subject: str = "skin", role: str = "light") -> Note:
    return Note(id=f"n{n}", name=name, lab=lab, subject=subject, role=role, share=0.2)


class Notes(unittest.TestCase):
    def test_thing_colour_and_part(self) -> None:
        for subject, role, lab, name in (
            ("skin", "light", PEACH, "peach light"),
            ("wall", "core shadow", (55.0, 8.0, 30.0), "wall, tan in shade"),
            ("other", "light", (45.0, 55.0, 35.0), "red in light"),
            ("other", "core shadow", RUST, "rust in shade"),
            ("other", "", RUST, ["rust", " shade"][0]),
        ):
            self.assertEqual(note_name(subject, role, lab, ()), name)

    def test_no_two_are_alike_and_none_is_told_by_a_number(self) -> None:
        taken: list[Note] = []
        for n, L in enumerate((50.0, 50.4, 51.0, 49.0, 48.0, 53.0, 47.0)):
            name = note_name("skin", "light", (L, 15.0, 22.0), taken)
            self.assertNotIn(name, [t.name for t in taken])
            taken.append(note(n, (L, 15.0, 22.0), name))
        self.assertTrue(any("lighter" in t.name for t in taken), [t.name for t in taken])
        for name, _, document in cases()[1:]:
            words = [x.name for x in document.notes]
            self.assertEqual(len(set(words)), len(words), name)
            self.assertFalse([w for w in words if w[-1].isdigit() and "value" not in w], name)


class Piles(unittest.TestCase):
    def test_a_pile_is_called_by_its_note_everywhere(self) -> None:
        for name, _, document in cases():
            planned = with_strings(name)
            notes = {n.id: n.name for n in document.notes}
            names = pile_names(planned)
            self.assertEqual(len({x.name for x in names.values()}), len(names), name)
            for s in planned.mixed.strings:
                for p in s.piles:
                    self.assertEqual((p.name, p.short), (names[p.id].name, names[p.id].short))
                    if p.target.notes:
                        self.assertTrue(p.name.startswith(notes[p.target.notes[0]]), p.name)
                    self.assertNotRegex(p.name, r"^\w+ \d+$")
                    for x in p.recipe.ingredients:
                        if x.id in names:
                            self.assertEqual(x.name, names[x.id].short)
                            self.assertNotRegex(p.recipe.why, r"\b[a-z]+ \d\b")

    def test_an_in_between_is_called_by_its_neighbours(self) -> None:
        notes = (note(1, (30.0, 16.0, 22.0), "neck in shade"), note(2, PEACH, "cheek in the sun"))
        document = Document(notes=notes)
        planned = named(document.model_copy(update={"mixed": mix_strings(document)}))
        steps = [p for s in planned.mixed.strings for p in s.piles if not p.target.notes]
        self.assertGreater(len(steps), 1)
        for p in steps:
            self.assertTrue(p.name.startswith("between neck and cheek"), p.name)
            self.assertTrue(p.short.startswith("neck–cheek"), p.short)

    def test_notes_that_share_a_pile_are_told_and_those_darker_than_paint_are_the_darkest(self) -> None:
        near = (note(1, PEACH, "cheek in the sun"), note(2, (PEACH[0] + 0.5, PEACH[1], PEACH[2]), "chest in the sun"))
        dark = (note(3, (3.0, 4.0, 4.0), "coat in shade"), note(4, (6.0, 5.0, 6.0), "hat in shade"))
        document = Document(notes=(*near, *dark), mix=MixChoice(palette="underpainting-three"))
        planned = named(document.model_copy(update={"mixed": mix_strings(document)}))
        piles = {p.name: p for s in planned.mixed.strings for p in s.piles if p.target.notes}
        self.assertEqual(set(piles), {"cheek in the sun", "darkest"})
        self.assertEqual(also_for(planned, piles["cheek in the sun"]), "Also for chest in the sun.")
        self.assertEqual(also_for(planned, piles["darkest"]), "For coat in shade and hat in shade.")

    def test_another_name_of_a_note_is_its_piles_at_once(self) -> None:
        planned = with_strings("demo")
        assert named(planned) is planned
        piles = [p for s in planned.mixed.strings for p in s.piles]
        known = {p.id for p in piles}
        on, parent = next((p, x) for p in piles for x in p.recipe.ingredients if x.id in known)
        its = next(p for p in piles if p.id == parent.id).target.notes[0]
        moved = planned.with_note(planned.note(its).model_copy(update={"name": "the sunny cheek"}))
        again = named(moved)
        found = {p.id: p for s in again.mixed.strings for p in s.piles}
        self.assertEqual(found[parent.id].name, "the sunny cheek")
        self.assertIn("the sunny cheek", [x.name for x in found[on.id].recipe.ingredients])
        self.assertIn("the sunny cheek", found[on.id].recipe.why)
        self.assertNotIn(parent.name, found[on.id].recipe.why)

    def test_a_tube_whose_name_holds_the_old_one_keeps_its_own(self) -> None:
        planned = with_strings("demo")
        piles = [p for s in planned.mixed.strings for p in s.piles]
        known = {p.id for p in piles}
        on, parent = next((p, x) for p in piles for x in p.recipe.ingredients if x.id in known)
        its = next(p for p in piles if p.id == parent.id).target.notes[0]
        short = named(planned.with_note(planned.note(its).model_copy(update={"name": "light"})))
        again = named(short.with_note(short.note(its).model_copy(update={"name": "scarf"})))
        why = next(p for s in again.mixed.strings for p in s.piles if p.id == on.id).recipe.why
        self.assertIn("Mixed on from scarf", why)
        self.assertEqual(why.replace("scarf", parent.name), on.recipe.why, "white lightens, and is no scarf")

    def test_no_pile_is_called_as_a_tube(self) -> None:
        notes = (note(1, (60.0, 12.0, 45.0), "ochre", "wall"), note(2, (40.0, 12.0, 30.0), "wall below", "wall"))
        document = Document(notes=notes)
        names = pile_names(document.model_copy(update={"mixed": mix_strings(document)}))
        self.assertNotIn("ochre", [x.name for x in names.values()] + [x.short for x in names.values()])
        self.assertTrue(any(x.name.startswith("ochre, value") for x in names.values()))

    def test_steps_between_the_same_two_have_short_names_of_their_own(self) -> None:
        notes = (note(1, (22.0, 14.0, 18.0), "neck in shade"), note(2, (88.0, 12.0, 20.0), "cheek in the sun"))
        document = Document(notes=notes)
        names = pile_names(document.model_copy(update={"mixed": mix_strings(document)})).values()
        self.assertGreater(len(names), 4)
        self.assertEqual(len({x.short for x in names}), len(names))

    def test_two_notes_of_one_name_are_told_apart(self) -> None:
        notes = (note(1, (30.0, 16.0, 22.0), "neck"), note(2, PEACH, "neck"))
        document = Document(notes=notes)
        names = [x.name for x in pile_names(document.model_copy(update={"mixed": mix_strings(document)})).values()]
        self.assertEqual(len(set(names)), len(names))

    def test_heads(self) -> None:
        self.assertEqual(
            [head_of(n) for n in ("cheek in the sun", "wall, ochre", "hat", ", x")], ["cheek", "wall", "hat", ", x"]
        )


class ByValue(unittest.TestCase):
    def test_what_stands_on_no_note_is_called_by_its_string_and_value(self) -> None:
        demo = with_strings("demo")
        even = demo.model_copy(update={"mix": demo.mix.model_copy(update={"stand": "even", "steps": 3})})
        planned = mix_strings(even)
        skin = next(s for s in planned.strings if s.id == "skin")
        for p in skin.piles:
            self.assertIsInstance(p.target, PileTarget)
            self.assertEqual(p.name, f"skin at value {p.target.value:.1f}")


if __name__ == "__main__":
    unittest.main()
