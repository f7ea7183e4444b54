"""The document, its file, and the way from a picture to a sheet."""

import io
import json
import stat
import unittest
import zipfile
from pathlib import Path

import jsonschema
import numpy as np
from pydantic import ValidationError

from ochre_stone.core.document.choices import HarmonyChoice, MassChoice
from ochre_stone.core.document.document import Document, MixChoice, Mixed, Note
from ochre_stone.core.errors import OchreError
from ochre_stone.core.planning import massing, noting, planning, rows
from ochre_stone.core.planning.suggesting import suggest_notes
from ochre_stone.core.store.files import open_project, preview, save
from ochre_stone.resources import resource
from tests.support.made import FolderCase, orchard, picture

PICTURE = picture(orchard(), "orchard.png")


def made() -> Document:
    """A small project with notes and strings."""
    document = Document(title="Try", reference="orchard.png", mix=MixChoice(palette="four-tube-earth", steps=3))
    for x, y, subject, role in (
        (150, 100, "skin", "light"),
        (175, 140, "skin", "core shadow"),
        (30, 20, "sky", "light"),
        (30, 100, "foliage", "halftone"),
        (290, 200, "wall", "cast shadow"),
    ):
        note = noting.read_note(PICTURE, document, x, y, 9)
        document = document.with_note(note.model_copy(update={"subject": subject, "role": role}))
    document, _ = noting.with_shares(PICTURE, document)
    return document.model_copy(update={"mixed": planning.mix_strings(document)})


DOCUMENT = made()


class Documents(unittest.TestCase):
    def test_notes_are_added_changed_and_removed_without_touching_the_old(self):
        note = DOCUMENT.notes[0].model_copy(update={"name": "other"})
        changed = DOCUMENT.with_note(note)
        self.assertEqual(len(changed.notes), len(DOCUMENT.notes))
        self.assertEqual(changed.note(note.id).name, "other")
        self.assertNotEqual(DOCUMENT.note(note.id).name, "other")
        self.assertEqual(len(DOCUMENT.without_note(note.id).notes), len(DOCUMENT.notes) - 1)
        with self.assertRaises(KeyError):
            DOCUMENT.note("nobody")

    def test_ids_are_never_used_twice(self):
        self.assertNotIn(DOCUMENT.fresh_note_id(), {n.id for n in DOCUMENT.notes})
        with self.assertRaises(ValidationError):
            Document(notes=(DOCUMENT.notes[0], DOCUMENT.notes[0]))

    def test_impossible_fields_are_refused(self):
        good = DOCUMENT.notes[0].model_dump()
        for field, value in (
            ("subject", "dragon"),
            ("role", "extra"),
            ("lab", (500, 0, 0)),
            ("aperture", 0),
            ("x", -1),
            ("share", float("nan")),
            ("surprise", 1),
        ):
            with self.assertRaises(ValidationError, msg=field):
                Note.model_validate(good | {field: value})
        for model, fields in (
            (MassChoice, {"values": 12}),
            (MassChoice, {"values": 3, "cuts": (5, 4)}),
            (HarmonyChoice, {"scheme": "lucky"}),
            (MixChoice, {"palette": "all"}),
        ):
            with self.assertRaises((ValidationError, OchreError), msg=str(fields)):
                model.model_validate(fields)


class Files(FolderCase):
    def setUp(self) -> None:
        super().setUp()
        self.path = self.folder / "try.ochre"

    def test_round_trip(self):
        save(self.path, DOCUMENT, PICTURE)
        back = open_project(self.path)
        self.assertEqual(back.document.model_copy(update={"uid": ""}), DOCUMENT)
        self.assertEqual(back.picture.source, PICTURE.source)
        self.assertEqual([p.name for p in self.folder.iterdir()], ["try.ochre"])
        with zipfile.ZipFile(self.path) as archive:
            self.assertEqual(set(archive.namelist()), {"project.json", "reference/orchard.png", "preview.png"})

    def test_matches_the_published_schema(self):
        schema = json.loads((Path(__file__).parents[3] / "docs" / "project.schema.json").read_text())
        jsonschema.validate(json.loads(DOCUMENT.model_dump_json()), schema)
        self.assertEqual(schema, Document.model_json_schema(), "docs/project.schema.json: run tools/make_schema.py")

    def test_saving_is_all_or_nothing(self):
        save(self.path, DOCUMENT, PICTURE)
        before = self.path.read_bytes()
        with self.assertRaises(OchreError):
            save(self.folder / "none" / "x.ochre", DOCUMENT, PICTURE)
        from unittest import mock

        with (
            mock.patch("os.replace", side_effect=OSError(28, "No space left on device")),
            self.assertRaises(OchreError) as caught,
        ):
            save(self.path, DOCUMENT.without_note("n1"), PICTURE)
        self.assertIn("No space left", str(caught.exception))
        self.assertEqual(self.path.read_bytes(), before)
        self.assertEqual(len(list(self.folder.iterdir())), 1, "no litter")

    def test_permissions_of_an_older_file_stay(self):
        save(self.path, DOCUMENT, PICTURE)
        self.path.chmod(0o600)
        save(self.path, DOCUMENT, PICTURE)
        self.assertEqual(stat.S_IMODE(self.path.stat().st_mode), 0o600)

    def archive(self, **members: bytes) -> None:
        with zipfile.ZipFile(self.path, "w") as archive:
            for name, data in members.items():
                archive.writestr(name.replace("__", "/"), data)

    def expect_sentence(self) -> str:
        with self.assertRaises(OchreError) as caught:
            open_project(self.path)
        text = str(caught.exception)
        self.assertNotIn("\n", text)
        self.assertTrue(text.endswith("."), text)
        return text

    def test_damaged(self):
        save(self.path, DOCUMENT, PICTURE)
        whole = self.path.read_bytes()
        for data in (b"", b"words", whole[: len(whole) // 2], whole[:200] + whole[-50:]):
            self.path.write_bytes(data)
            self.assertIn("try.ochre", self.expect_sentence())
        rng = np.random.default_rng(3)
        directory = whole.rfind(b"PK\x01\x02")
        for low, high in ((0, len(whole)), (0, 4000), (directory - 300, len(whole))):
            for _ in range(60):  # damage anywhere, in the packed document, and in the directory
                hurt = bytearray(whole)
                for at in rng.integers(max(low, 0), high, 3):
                    hurt[at] ^= int(rng.integers(1, 256))
                self.path.write_bytes(hurt)
                try:
                    open_project(self.path)
                except OchreError as error:
                    self.assertNotIn("\n", str(error))

    def test_a_file_without_a_uid_has_the_same_one_in_every_window(self):
        uids = set()
        for title in ("One", "One", "Another"):
            save(self.path, DOCUMENT.model_copy(update={"title": title}), PICTURE)
            uids.add(open_project(self.path).document.uid)
        self.assertEqual(len(uids), 2)
        save(self.path, DOCUMENT.model_copy(update={"uid": "its-own"}), PICTURE)
        self.assertEqual(open_project(self.path).document.uid, "its-own")

    def test_hostile(self):
        good = json.loads(DOCUMENT.model_dump_json())
        cases = {
            "no project": b"{}]",
            "a list": b"[1, 2]",
            "deep": b"[" * 200_000,
            "escape": json.dumps(good | {"reference": "../../etc/passwd"}).encode(),
            "newer": json.dumps(good | {"version": 99}).encode(),
            "unknown field": json.dumps(good | {"script": "rm"}).encode(),
            "not a number": json.dumps(good).replace('"x": 150.0', '"x": NaN').encode(),
            "wrong kind": json.dumps(good | {"notes": "none"}).encode(),
        }
        for name, data in cases.items():
            with self.subTest(name):
                self.archive(**{"project.json": data, "reference__orchard.png": PICTURE.source})
                self.expect_sentence()
        self.archive(**{"project.json": json.dumps(good | {"version": 99}).encode()})
        self.assertIn("newer", self.expect_sentence())

    def test_bomb(self):
        """A member that unpacks to far more than a project can hold is not unpacked."""
        with zipfile.ZipFile(self.path, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("project.json", b" " * 40_000_000)
        self.assertLess(self.path.stat().st_size, 100_000)
        self.assertIn("MB", self.expect_sentence())

    def test_missing_parts_and_too_many(self):
        self.archive(**{"project.json": DOCUMENT.model_dump_json().encode()})
        self.assertIn("reference", self.expect_sentence())
        more = {f"m{i}": b"x" for i in range(16)}
        self.archive(**more)
        self.assertNotIn("more files", self.expect_sentence())
        self.archive(**more, m16=b"x")
        self.assertIn("more files", self.expect_sentence())
        out = io.BytesIO(b"no picture at all")
        self.archive(**{"project.json": DOCUMENT.model_dump_json().encode(), "reference__orchard.png": out.getvalue()})
        self.assertIn("orchard.png", self.expect_sentence())

    def test_notes_outside_the_picture(self):
        far = DOCUMENT.with_note(DOCUMENT.notes[0].model_copy(update={"x": 5000.0}))
        save(self.path, far, PICTURE)
        self.assertIn("outside", self.expect_sentence())

    def test_missing_file_and_folder(self):
        for path in (self.folder / "none.ochre", self.folder):
            with self.assertRaises(OchreError):
                open_project(path)


class Demo(unittest.TestCase):
    def test_demo_is_whole_and_up_to_date(self):
        project = open_project(resource("demo", "orchard-keeper.ochre"))
        d = project.document
        self.assertEqual(d.mixed.fingerprint, rows.fingerprint(d), "run python -m tools.make_demo")
        self.assertTrue({"skin", "foliage", "sky", "shadows"} <= {s.id for s in d.mixed.strings})
        self.assertNotEqual(d.harmony.scheme, "none")
        with zipfile.ZipFile(resource("demo", "orchard-keeper.ochre")) as packed:
            self.assertEqual(packed.read("preview.png"), preview(d, project.picture), "run python -m tools.make_demo")
        again = noting.read_note(project.picture, d, d.notes[0].x, d.notes[0].y, d.notes[0].aperture, d.notes[0])
        np.testing.assert_allclose(again.lab, d.notes[0].lab, atol=1e-3)


class Planning(unittest.TestCase):
    def test_suggested_notes_have_short_names_of_their_own(self):
        notes = suggest_notes(PICTURE, 10, Document()).notes
        self.assertGreaterEqual(len(notes), 8)
        self.assertEqual(len({n.name for n in notes}), len(notes))
        self.assertEqual(len({n.id for n in notes}), len(notes))

    def test_groups(self):
        self.assertEqual(list(rows.groups(DOCUMENT)), ["skin", "foliage", "sky", "shadows"])
        no_cast = DOCUMENT.without_note("n5")
        self.assertEqual(list(rows.groups(no_cast)), ["skin", "foliage", "sky"])  # a core shadow stays with its thing

    def test_moving_and_rereading_a_note_keeps_what_the_painter_said(self):
        note = DOCUMENT.notes[0].model_copy(update={"name": "my cheek"})
        moved = noting.read_note(PICTURE, DOCUMENT, 160, 110, 21, note)
        self.assertEqual((moved.id, moved.name, moved.subject, moved.role), (note.id, "my cheek", "skin", "light"))
        self.assertEqual((moved.x, moved.aperture), (160, 21))

    def test_light_changes_every_note(self):
        from ochre_stone.core.picture.balance import balance_from

        balance = balance_from(PICTURE.linear()[100, 230], "white")
        lit = noting.reread(PICTURE, DOCUMENT.model_copy(update={"balance": balance.matrix}))
        self.assertTrue(all(a.lab != b.lab for a, b in zip(lit.notes, DOCUMENT.notes, strict=True)))

    def test_shares_add_up(self):
        self.assertAlmostEqual(sum(n.share for n in DOCUMENT.notes), 1.0, places=6)
        shares, _ = planning.pile_cover(PICTURE, DOCUMENT)
        self.assertLess(0.5, sum(shares.values()))
        self.assertLess(sum(shares.values()), 1.0, "what lies far from all piles is not shared out")

    def test_a_plan_that_was_saved_before_tints_could_be_asked_for_stands_as_it_was(self):
        """What stands after the dash is as format 12 had it; before it stands the paint, and that has changed since."""
        paint, _, rest = rows.fingerprint(Document()).partition("-")
        self.assertEqual(rest, "744fd93226009fda")
        self.assertEqual(rows.palette_print(Document(), 1), "92415026", "the first edition of the pigments' figures")
        self.assertNotEqual(paint, "92415026")
        few = Document(mix=MixChoice(tints=2))
        self.assertNotEqual(rows.fingerprint(few), rows.fingerprint(Document()))

    def test_fingerprint_follows_what_strings_are_made_from(self):
        before = rows.fingerprint(DOCUMENT)
        same = DOCUMENT.model_copy(update={"title": "Other", "mixed": Mixed()})
        self.assertEqual(rows.fingerprint(same), before)
        for update in (
            {"mix": MixChoice(palette="portrait-ten")},
            {"harmony": HarmonyChoice(scheme="triad", amount=0.5)},
            {"notes": DOCUMENT.notes[:-1]},
        ):
            self.assertNotEqual(rows.fingerprint(DOCUMENT.model_copy(update=update)), before)

    def test_pull_moves_hues_only(self):
        pulled = rows.note_targets(
            DOCUMENT.model_copy(update={"harmony": HarmonyChoice(scheme="monochrome", rotation=60, amount=1)})
        )
        lab = np.array([n.lab for n in DOCUMENT.notes])
        np.testing.assert_allclose(pulled[:, 0], lab[:, 0])
        self.assertGreater(np.abs(pulled[:, 1:] - lab[:, 1:]).max(), 3)

    def test_unwanted_strings_are_left_out(self):
        less = DOCUMENT.model_copy(update={"mix": DOCUMENT.mix.model_copy(update={"left_out": ("sky", "shadows")})})
        self.assertEqual([s.id for s in planning.mix_strings(less).strings], ["skin", "foliage"])

    def test_sheet(self):
        sheet = planning.make_sheet(PICTURE, DOCUMENT, massing.fine_masses(PICTURE, DOCUMENT))
        self.assertGreater(sheet.amounts.total, 5)
        self.assertEqual({t.id for t in sheet.tubes}, set(sheet.amounts.tubes))
