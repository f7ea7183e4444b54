"""Notes taken, moved, read anew, split, merged and locked; older files."""

import io
import json
import unittest
import zipfile

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.document import FORMAT_VERSION, Document, LightChoice, Note
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.frame import Frame
from ochre_stone.core.picture.sampling import sample
from ochre_stone.core.planning import noting
from ochre_stone.core.planning.suggesting import suggest_notes
from ochre_stone.core.store.files import open_project, save
from tests.support.made import FolderCase, blocks, demo_picture, orchard, picture

PICTURE = picture(orchard(), "orchard.png")
TWO = picture(blocks((200, 60, 60), (60, 60, 200), side=100), "two.png")


def note(number: int, lab: tuple[float, float, float], **fields: object) -> Note:
    return Note.model_validate({"id": f"n{number}", "name": f"note {number}", "lab": lab, "x": 5, "y": 5, **fields})


class Taken(unittest.TestCase):
    def test_an_area_knows_its_shape_and_moves_as_a_whole(self):
        taken = noting.read_area(PICTURE, Document(), [(10, 5), (70, 5), (70, 30), (10, 30)])
        assert taken.place is not None
        self.assertEqual(len(taken.area), 4)
        self.assertTrue(10 < taken.place[0] < 70 and 5 < taken.place[1] < 30)
        document = Document().with_note(taken)
        moved = noting.move_note(PICTURE, document, taken, taken.place[0] + 150, taken.place[1] + 100)
        self.assertAlmostEqual(moved.area[0][0], 160, delta=1)
        self.assertGreater(float(ciede2000(np.array(moved.lab), np.array(taken.lab))), 20)

    def test_an_area_that_reaches_outside_is_clipped(self):
        taken = noting.read_area(PICTURE, Document(), [(-50, -50), (60, -50), (60, 60), (-50, 60)])
        self.assertTrue(all(0 <= x < 320 and 0 <= y < 240 for x, y in taken.area))

    def test_a_gradation_is_two_notes_that_know_each_other(self):
        first, last, found = noting.read_line(demo_picture(), Document(), (1008, 10), (560, 330), 21)
        self.assertEqual((first.gradation, last.gradation), (last.id, first.id))
        self.assertNotEqual(first.id, last.id)
        self.assertTrue(found.smooth)
        self.assertLess(first.lab[0], last.lab[0], "the sky is lighter at the hills")

    def test_the_light_is_in_every_reading_and_lifted_darks_are_marked(self):
        document = Document(light=LightChoice(stops=1.0, lift=1.0))
        dark = noting.read_note(demo_picture(), document, 743, 882, 9)
        plain = noting.read_note(demo_picture(), Document(), 743, 882, 9)
        self.assertGreater(dark.lab[0], plain.lab[0] + 5)
        self.assertGreater(dark.lifted, 1.3)
        self.assertIn("raised", dark.unreliable)
        self.assertEqual(plain.unreliable, "")

    def test_readings_of_the_scene(self):
        made = noting.note_of_reading(Document(), (50.0, 5.0, 5.0), [0.2] * 36, None)
        self.assertIsNone(made.place)
        self.assertEqual(made.source, "reader")
        document = Document(reference="orchard.png").with_note(made)
        self.assertEqual(noting.reread(PICTURE, document), document, "no light changes what was measured")
        self.assertIsNone(noting.surround_of(PICTURE, document, made))
        measured, _ = noting.with_shares(PICTURE, document)
        self.assertAlmostEqual(measured.notes[0].share, 1.0)
        for wrong in ([0.2] * 5, [-1.0] * 36):
            with self.assertRaises(ValueError):
                noting.note_of_reading(Document(), (50.0, 5.0, 5.0), wrong, None)

    def test_suggestions_stay_in_the_frame(self):
        frame = Frame(crop=(0.25, 0.3, 0.4, 0.4), mirror=True)
        found = suggest_notes(demo_picture(), 8, Document(frame=frame))
        for n in found.notes:
            assert n.place is not None
            self.assertTrue(0.05 * 1600 <= n.place[0] <= 0.45 * 1600 and 0.1 * 1200 <= n.place[1] <= 0.5 * 1200)
            again = sample(demo_picture(), *n.place, n.aperture)
            self.assertEqual(again.lab, n.lab, "each is a real spot of the photo")
        self.assertIn(f"{len(found.notes)} notes", found.rest.words(len(found.notes)))

    def test_surround(self):
        document = Document()
        red = noting.read_note(TWO, document, 85, 50, 15)
        around = noting.surround_of(TWO, document, red)
        assert around is not None
        self.assertGreater(float(ciede2000(np.array(around), np.array(red.lab))), 5, "the ring reaches the blue")


class TwoColours(unittest.TestCase):
    def test_a_part_stays_the_part_when_read_anew(self):
        mixed = noting.read_note(TWO, Document(), 96, 50, 41)
        self.assertEqual(len(mixed.pair), 2)
        for part, index in (("larger", 0), ("smaller", 1)):
            document = noting.choose_part(Document().with_note(mixed), mixed, part)
            self.assertEqual(document.notes[0].lab, mixed.pair[index].lab)
            again = noting.reread(TWO, document)
            self.assertEqual(again.notes[0].lab, mixed.pair[index].lab)
        both = noting.choose_part(Document().with_note(mixed), mixed, "both")
        self.assertEqual([n.lab for n in both.notes], [p.lab for p in mixed.pair])
        self.assertEqual(len({n.id for n in both.notes}), 2)

    def test_moved_off_the_border_it_is_whole_again(self):
        mixed = noting.read_note(TWO, Document(), 96, 50, 41)
        document = noting.choose_part(Document().with_note(mixed), mixed, "smaller")
        moved = noting.move_note(TWO, document, document.notes[0], 40, 50)
        self.assertEqual((moved.part, moved.pair), ("all", ()))


class Kept(unittest.TestCase):
    def test_locked_notes_do_not_change(self):
        locked = note(1, (50.0, 1.0, 1.0), locked=True)
        document = Document(light=LightChoice(stops=1.0)).with_note(locked)
        self.assertEqual(noting.reread(PICTURE, document).notes[0], locked)
        with self.assertRaises(OchreError) as caught:
            noting.move_note(PICTURE, document, locked, 50, 50)
        self.assertIn("locked", str(caught.exception))

    def test_near_duplicates_merge_into_the_larger_or_locked(self):
        notes = (
            note(1, (50.0, 20.0, 20.0), share=0.1, subject="skin"),
            note(2, (51.0, 20.5, 20.0), share=0.3, subject="skin"),
            note(3, (50.5, 20.0, 20.0), share=0.2, subject="cloth"),
            note(4, (50.0, 20.0, 20.5), share=0.05, subject="skin", locked=True, gradation="n1"),
            note(5, (80.0, 0.0, 0.0), share=0.2, subject="skin"),
        )
        document = Document(notes=notes)
        self.assertEqual(sorted(noting.near_duplicates(document)), [("n4", "n1"), ("n4", "n2")])
        after = noting.merged(document)
        self.assertEqual([n.id for n in after.notes], ["n3", "n4", "n5"])
        self.assertAlmostEqual(after.note("n4").share, 0.45)
        self.assertEqual(after.note("n4").gradation, "")
        self.assertEqual(noting.near_duplicates(after), [])

    def test_two_locked_and_two_ends_stay(self):
        a = note(1, (50.0, 0.0, 0.0), locked=True)
        b = note(2, (50.0, 0.0, 0.0), locked=True)
        self.assertEqual(noting.near_duplicates(Document(notes=(a, b))), [])
        c = note(3, (50.0, 0.0, 0.0), gradation="n4")
        d = note(4, (50.5, 0.0, 0.0), gradation="n3")
        self.assertEqual(noting.near_duplicates(Document(notes=(c, d))), [])

    def test_guesses_on_the_demo_agree_with_its_truth(self):
        """Subjects against the demo's labels and roles against where its sun falls: most must be right."""
        import json

        from PIL import Image

        from ochre_stone.resources import resource

        names = json.loads(resource("demo", "labels.json").read_text(encoding="utf-8"))["labels"]
        label, sun = (np.asarray(Image.open(resource("demo", f))) for f in ("labels.png", "light_mask.png"))
        same = {
            "sky": "sky", "hills": "sky", "skin": "skin", "shirt": "cloth", "wall": "wall", "near_foliage": "foliage",
            "far_foliage": "foliage", "fruit": "fruit", "ground": "ground", "bark": "ground", "hair": "hair",
        }  # fmt: skip
        right, lit, total, judged = 0, 0, 0, 0
        for count in (12, 18, 24):
            for n in suggest_notes(demo_picture(), count, Document()).notes:
                x, y = int(n.place[0]), int(n.place[1])
                total += 1
                right += same.get(names[str(label[y, x])], "other") == n.subject
                if sun[y, x] != 128 and n.role != "dark accent":
                    judged += 1
                    lit += (sun[y, x] == 255) == (n.role in ("light", "highlight", "halftone"))
        self.assertGreater(right / total, 0.75)
        self.assertGreater(lit / judged, 0.8)

    def test_guesses(self):
        self.assertEqual(noting.guess_role(3.0, 5.0, "wall"), "cast shadow")
        self.assertEqual(noting.guess_role(3.0, 5.0, "skin"), "core shadow")
        self.assertEqual(noting.guess_role(4.5, 5.0, "sky"), "light")


class Files(FolderCase):
    def test_everything_of_a_note_is_kept(self):
        document = Document(
            uid="its-own",
            reference="two.png",
            frame=Frame(turn=2.5, crop=(0.5, 0.5, 0.8, 0.8), mirror=True),
            light=LightChoice(kelvin=4000, tint=-3, stops=0.5, lift=0.4),
            balance_words="24 patches",
        )
        mixed = noting.read_area(TWO, document, [(60, 20), (140, 20), (140, 80), (60, 80)])
        document = noting.choose_part(document.with_note(mixed), mixed, "both")
        document = document.with_note(noting.note_of_reading(document, (40.0, 1.0, 2.0), [0.1] * 36, None))
        path = self.folder / "all.ochre"
        save(path, document, TWO)
        self.assertEqual(open_project(path).document, document)

    def test_a_project_of_the_first_version_opens(self):
        document = Document(uid="its-own", reference="two.png").with_note(note(1, (50.0, 0.0, 0.0)))
        path = self.folder / "old.ochre"
        save(path, document, TWO)
        raw = json.loads(zipfile.ZipFile(path).read("project.json"))
        raw["version"] = 1
        for field in ("frame", "light", "balance_words"):
            del raw[field]
        for field in ("area", "source", "spectrum", "lifted", "pair", "part", "gradation", "locked"):
            del raw["notes"][0][field]
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr("project.json", json.dumps(raw))
            archive.writestr("reference/two.png", TWO.source)
        path.write_bytes(out.getvalue())
        opened = open_project(path).document
        self.assertEqual(opened, document)
        self.assertEqual(opened.version, FORMAT_VERSION)

    def test_hostile_frames_and_parts_are_refused_in_a_sentence(self):
        document = Document(reference="two.png").with_note(noting.read_note(TWO, Document(), 96, 50, 41))
        path = self.folder / "bad.ochre"
        save(path, document, TWO)
        raw = json.loads(zipfile.ZipFile(path).read("project.json"))
        frames = (
            {"corners": [[0, 0], [1e9, 0], [1e9, 1e9], [0, 1e9]]},
            {"crop": [0.0, 0.0, 1.0, 1.0]},
            {"crop": [0.5, 0.5, 1e-9, 1e-9]},
            {"turn": float("nan")},
            {"turn": 400},
            {"corners": [[0, 0]]},
        )
        notes = ({"pair": [{"lab": [float("nan"), 0, 0], "share": 0.5}]}, {"pair": [{"lab": [50, 0, 0], "share": 7}]},
                 {"area": [[0, 0], [1e300, 0], [5, 5]]})  # fmt: skip
        for frame in frames:
            self.assert_refused(path, raw | {"frame": raw["frame"] | frame})
        for fields in notes:
            self.assert_refused(path, raw | {"notes": [raw["notes"][0] | fields]})

    def assert_refused(self, path, raw) -> None:
        with zipfile.ZipFile(path, "w") as archive:
            archive.writestr("project.json", json.dumps(raw))
            archive.writestr("reference/two.png", TWO.source)
        with self.assertRaises(OchreError) as caught:
            open_project(path)
        self.assertTrue(str(caught.exception).startswith("'bad.ochre'"), str(caught.exception))
        self.assertNotIn("\n", str(caught.exception))

    def test_impossible_notes_are_refused_with_their_field(self):
        for fields, word in (
            ({"x": 5, "y": None}, "both"),
            ({"area": ((1, 1), (2, 2))}, "area"),
            ({"spectrum": (0.5,) * 7}, "spectrum"),
        ):
            with self.assertRaises(ValueError) as caught:
                note(1, (50.0, 0.0, 0.0), **fields)
            self.assertIn(word, str(caught.exception))
