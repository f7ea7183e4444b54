"""From choices to masses, targets and strings: areas through the frame, range, harmony, ladders, saved and read."""

import json
import unittest
import zipfile

import numpy as np
from pydantic import ValidationError

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.document.choices import (
    Area,
    DistanceLadder,
    HarmonyChoice,
    MassChoice,
    PaintedArea,
    RangeChoice,
    SkyLadder,
    Swap,
)
from ochre_stone.core.document.document import FORMAT_VERSION, Document, Note
from ochre_stone.core.errors import OchreError
from ochre_stone.core.harmony.schemes import places
from ochre_stone.core.masses.gradations import turns
from ochre_stone.core.picture.frame import Frame
from ochre_stone.core.planning import massing, planning, rows
from ochre_stone.core.store.files import open_project, save
from tests.support.made import FolderCase, demo_picture, orchard, picture

PICTURE = picture(orchard(), "orchard.png")


def note(i: int, lab: tuple[float, float, float], **fields) -> Note:
    return Note.model_validate({"id": f"n{i}", "name": f"note {i}", "lab": lab, "share": 0.1} | fields)


class Areas(unittest.TestCase):
    def test_an_area_lies_where_it_was_drawn_whatever_the_frame(self):
        area = ((125.0, 75.0), (155.0, 75.0), (155.0, 150.0), (125.0, 150.0))
        for frame in (
            Frame(),
            Frame(crop=(0.5, 0.5, 0.8, 0.8)),
            Frame(mirror=True),
            Frame(turn=5.0, crop=(0.5, 0.5, 0.7, 0.7)),
        ):
            d = Document(frame=frame, masses=MassChoice(focus=(Area(points=area),)))
            linear = d.seen(PICTURE, 20_000)
            mask = massing.focus_mask(PICTURE, d, linear.shape[:2])
            inside = linear[mask].mean(axis=0)
            flesh = ((np.array([205, 145, 110]) / 255 + 0.055) / 1.055) ** 2.4
            self.assertLess(float(np.abs(inside - flesh).max()), 0.04, frame)
            self.assertTrue(massing.note_in_focus(PICTURE, d, (140.0, 100.0)))
            self.assertFalse(massing.note_in_focus(PICTURE, d, (20.0, 20.0)))
        self.assertIsNone(massing.note_in_focus(PICTURE, Document(), (150.0, 100.0)))
        self.assertIsNone(massing.note_in_focus(PICTURE, d, None))

    def test_painted_families_survive_refining(self):
        area = ((205.0, 20.0), (315.0, 20.0), (315.0, 100.0), (205.0, 100.0))
        d = Document(masses=MassChoice(values=3, painted=(PaintedArea(points=area, family="shadow"),)))
        ground = massing.make_ground(PICTURE, d)
        for plan in (massing.make_plan(ground, PICTURE, d), massing.fine_masses(PICTURE, d)):
            self.assertEqual(plan.masses[massing.mass_at(plan, 260 / 320, 60 / 240)].family, "shadow")
            self.assertEqual(plan.masses[massing.mass_at(plan, 230 / 320, 180 / 240)].family, "light")

    def test_later_paint_covers_earlier(self):
        area = ((205.0, 20.0), (315.0, 20.0), (315.0, 100.0), (205.0, 100.0))
        both = tuple(PaintedArea(points=area, family=f) for f in ("shadow", "light"))
        d = Document(masses=MassChoice(painted=both))
        self.assertEqual(set(np.unique(massing.painted_map(PICTURE, d, (120, 160))).tolist()), {0, 2})

    def test_a_turn_becomes_a_blend_and_is_drawn(self):
        scene = demo_picture()
        d = Document(masses=MassChoice(values=4))
        ground = massing.make_ground(scene, d)
        plan = massing.make_plan(ground, scene, d)
        sky = turns(ground.lab, plan)[0]
        d = d.model_copy(update={"masses": d.masses.model_copy(update={"blends": (massing.blend_of(sky, scene, d),)})})
        plain = massing.draw_plan(plan, scene, Document(), 400, 300)
        drawn = massing.draw_plan(plan, scene, d, 400, 300)
        x, y = round(sky.x * 400), round(sky.y * 300)
        self.assertEqual(len(np.unique(plain[y - 15 : y + 15, x])), 1)
        self.assertGreater(len(np.unique(drawn[y - 15 : y + 15, x])), 8)
        self.assertEqual(int(plain[290, 10]), int(drawn[290, 10]))

    def test_a_blend_turns_with_the_frame(self):
        """Planned in one frame, it lies right in another: mirrored, its direction is mirrored, and so are the words."""
        rows = np.linspace(60, 200, 320)[None] + np.zeros((240, 1))
        scene = picture(np.dstack([rows] * 3).astype(np.uint8), "ramp.png")
        d = Document(masses=MassChoice(values=2))
        ground = massing.make_ground(scene, d)
        turn = turns(ground.lab, massing.make_plan(ground, scene, d))[0]
        blend = massing.blend_of(turn, scene, d)
        self.assertLess(min(blend.direction, 360 - blend.direction), 2, "lighter toward the right")
        mirrored = Document(frame=Frame(mirror=True), masses=d.masses.model_copy(update={"blends": (blend,)}))
        ramp = massing.ramps(scene, mirrored)[0]
        self.assertAlmostEqual(ramp.direction, 180, delta=2)
        grey = massing.draw_plan(massing.fine_masses(scene, mirrored), scene, mirrored, 320, 240).astype(int)
        self.assertLess(grey[120, 300], grey[120, 20])
        again = massing.blend_of(
            turns(massing.make_ground(scene, mirrored).lab, massing.fine_masses(scene, mirrored))[0], scene, mirrored
        )
        self.assertLess(min(again.direction, 360 - again.direction), 2, "and back in the reference")


class Choices(unittest.TestCase):
    def test_bad_choices_are_refused(self):
        for wrong in (
            {"values": 3, "cuts": (3.0, 6.0), "locked": (4.0,)},
            {"swaps": ({"mass": 1, "hue": 3, "chroma": 4}, {"mass": 1, "hue": 9, "chroma": 4})},
            {"focus": ({"points": ((0, 0), (1, 1))},)},
            {"range": {"keep": "lights", "white": 2, "black": 5}},
            {"edges": ((0, 1, "wobbly"),)},
            {"outline": 2.0},
        ):
            with self.assertRaises((ValidationError, OchreError), msg=str(wrong)):
                MassChoice.model_validate(wrong)
        for wrong in (
            {"accents": (1, 1)},
            {"push": 2.0},
            {"distance": {"near": "a", "horizon": "b", "first": 5, "last": 2}},
        ):
            with self.assertRaises(ValidationError, msg=str(wrong)):
                HarmonyChoice.model_validate(wrong)


class Targets(unittest.TestCase):
    def setUp(self) -> None:
        self.notes = (
            note(1, (70.0, 15.0, 25.0), subject="skin"),
            note(2, (35.0, 12.0, 14.0), subject="skin", role="core shadow"),
            note(3, (45.0, -16.0, 28.0), subject="foliage"),
            note(4, (82.0, -2.0, 4.0), subject="sky", x=10.0, y=200.0),
            note(5, (55.0, -2.0, -30.0), subject="sky", x=10.0, y=5.0),
            note(6, (8.0, 2.0, 2.0), subject="other", role="dark accent"),
        )

    def document(self, **fields) -> Document:
        return Document(notes=self.notes, **fields)

    def test_range_eases_values_and_harmony_keeps_them(self):
        eased = self.document(masses=MassChoice(range=RangeChoice(keep="lights", black=2.4, low=0.8, high=8.5)))
        goal = rows.note_targets(eased)
        self.assertGreaterEqual(float(value_of_lightness(goal[5, 0])), 2.3)
        self.assertAlmostEqual(float(goal[0, 0]), 70.0, delta=0.3)
        pulled = eased.model_copy(update={"harmony": HarmonyChoice(scheme="triad", rotation=15, amount=0.8, push=0.5)})
        np.testing.assert_array_equal(rows.note_targets(pulled)[:, 0], goal[:, 0])
        self.assertGreater(float(np.abs(rows.note_targets(pulled) - goal).max()), 3)

    def test_held_notes_are_left_alone(self):
        d = self.document(harmony=HarmonyChoice(scheme="triad", rotation=15, amount=1.0, push=0.5, held=("n1", "n3")))
        goal = rows.note_targets(d)
        np.testing.assert_array_equal(goal[[0, 2]], [self.notes[0].lab, self.notes[2].lab])
        self.assertTrue(places("triad", 15))

    def test_the_fingerprint_follows(self):
        plain = rows.fingerprint(self.document())
        for changed in (
            self.document(masses=MassChoice(range=RangeChoice(keep="even"))),
            self.document(harmony=HarmonyChoice(push=0.1)),
            self.document(harmony=HarmonyChoice(held=("n1",))),
            self.document(harmony=HarmonyChoice(sky=SkyLadder())),
        ):
            self.assertNotEqual(rows.fingerprint(changed), plain)
        self.assertEqual(rows.fingerprint(self.document(masses=MassChoice(values=7))), plain)

    def test_no_ways_where_nothing_moves(self):
        self.assertIsNone(rows.harmony_ways(self.document()))
        self.assertIsNone(rows.harmony_ways(Document()))
        self.assertIsNotNone(rows.harmony_ways(self.document(harmony=HarmonyChoice(push=0.4))))

    def test_ladders(self):
        ladder = DistanceLadder(near="n3", horizon="n4", steps=4, last=60.0)
        d = self.document(harmony=HarmonyChoice(distance=ladder, sky=SkyLadder(steps=3, band="pink")))
        found = rows.ladders(d)
        self.assertEqual({k: len(v) for k, v in found.items()}, {"distance": 4, "sky-ladder": 3})
        self.assertNotEqual(rows.distance_ladder(d, "painters"), found["distance"])
        np.testing.assert_allclose(found["sky-ladder"][-1].lab, self.notes[4].lab, atol=0.2)
        row = rows.ladder_targets(found["distance"])
        self.assertEqual([t.value for t in row], sorted(t.value for t in row))
        without = d.without_note("n4")
        self.assertEqual(rows.ladders(without), {})

    def test_ladders_are_mixed_as_strings(self):
        ladder = DistanceLadder(near="n3", horizon="n4", steps=3)
        d = Document(notes=self.notes[2:4], harmony=HarmonyChoice(distance=ladder))
        mixed = planning.mix_strings(d)
        string = next(s for s in mixed.strings if s.id == "distance")
        self.assertEqual((string.name, len(string.piles)), ("Distance", 3))
        for p in string.piles:
            self.assertLess(abs(p.recipe.value_error), 0.3)
        self.assertEqual(
            planning.pile_for(d.model_copy(update={"mixed": mixed}), string.piles[1].target.lab).id, string.piles[1].id
        )

    def test_reach_of_palettes(self):
        dark, light = planning.palette_reach(self.document())
        self.assertLess(dark, 2.0)
        self.assertGreater(light, 9.3)


class Kept(FolderCase):
    def test_everything_is_saved_and_read_again(self):
        area = ((10.0, 10.0), (60.0, 10.0), (60.0, 60.0))
        masses = MassChoice(
            values=3,
            cuts=(3.0, 6.0),
            locked=(6.0,),
            outline=0.4,
            division=4.5,
            apart=True,
            focus=(Area(points=area),),
            painted=(PaintedArea(points=area, family="light"),),
            range=RangeChoice(keep="drawn", drawn=((0.0, 2.0), (10.0, 9.0))),
            edges=((0, 1, "soft"),),
            swaps=(Swap(mass=1, hue=200.0, chroma=30.0),),
        )
        harmony = HarmonyChoice(
            locked=True,
            accents=(1,),
            held=("n1",),
            push=-0.3,
            sky=SkyLadder(band="warm"),
            distance=DistanceLadder(near="n1", horizon="n2"),
        )
        notes = (note(1, (50.0, 10, 10)), note(2, (80.0, 0, 0)))
        d = Document(uid="its-own", reference=PICTURE.name, masses=masses, harmony=harmony, notes=notes)
        save(self.folder / "a.ochre", d, PICTURE)
        self.assertEqual(open_project(self.folder / "a.ochre").document, d)

    def test_files_of_older_versions_open(self):
        """Versions 1 and 2 lacked the fields that came later."""
        raw = json.loads(Document(reference=PICTURE.name).model_dump_json())
        raw["masses"] = {
            "values": 5,
            "smallest": 0.3,
            "simplify": 0.4,
            "cuts": [2, 4, 6, 8],
            "families": [[2, "light"]],
        }
        raw["harmony"] = {"wheel": "perceptual", "scheme": "triad", "rotation": 30, "amount": 0.5}
        for version in (1, 2):
            with zipfile.ZipFile(self.folder / "old.ochre", "w") as old:
                old.writestr("project.json", json.dumps(raw | {"version": version}))
                old.writestr(f"reference/{PICTURE.name}", PICTURE.source)
            d = open_project(self.folder / "old.ochre").document
            self.assertEqual(d.version, FORMAT_VERSION)
            self.assertEqual((d.masses.cuts, d.masses.families), ((2, 4, 6, 8), ((2, "light"),)))
            self.assertEqual((d.harmony.scheme, d.harmony.push, d.masses.range.keep), ("triad", 0.0, "scene"))

    def damaged(self, **changes) -> str:
        save(self.folder / "a.ochre", Document(reference=PICTURE.name), PICTURE)
        with zipfile.ZipFile(self.folder / "a.ochre") as old:
            raw = json.loads(old.read("project.json"))
            raw["masses"] |= changes
            with zipfile.ZipFile(self.folder / "b.ochre", "w") as new:
                new.writestr("project.json", json.dumps(raw))
                new.writestr(f"reference/{PICTURE.name}", PICTURE.source)
        with self.assertRaises(OchreError) as caught:
            open_project(self.folder / "b.ochre")
        return str(caught.exception)

    def test_areas_outside_the_picture_are_refused(self):
        far = [[1e6, 0], [1e6, 50], [1e6 + 50, 50]]
        self.assertIn("outside the picture", self.damaged(focus=[{"points": far}]))
        self.assertIn("outside the picture", self.damaged(painted=[{"points": far, "family": "light"}]))
        blend = {"x": 1e6, "y": 1.0, "direction": 0, "dark": [20, 0, 0], "light": [60, 0, 0]}
        self.assertIn("outside the picture", self.damaged(blends=[blend]))

    def test_a_bad_field_is_named(self):
        self.assertIn("masses", self.damaged(locked=[3.0, 3.0]))
        self.assertIn("range", self.damaged(range={"keep": "lights", "white": 2.0, "black": 5.0}))
