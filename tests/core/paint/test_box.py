"""The painter's tubes and palettes: what is kept, what is refused, and how they move in and out of files."""

import tempfile
import unittest
from pathlib import Path

import numpy as np
from pydantic import ValidationError

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.box import Laid, OwnPalette, OwnTube, PaintBox, PigmentPart
from ochre_stone.core.paint.calibration import TubeCorrection
from ochre_stone.core.paint.optics import USUAL
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import aliases, all_tubes, find, tube
from ochre_stone.core.store.boxfile import box_json, imported, load_box, parse_pigments, save_box, tubes_csv


def blue(**fields) -> OwnTube:
    start = {"id": "own-blue", "name": "My blue", "parts": (PigmentPart(pigment="ultramarine-blue"),)}
    return OwnTube.model_validate(start | fields)


def grey_box() -> PaintBox:
    box = PaintBox().with_tube(blue(price=18.5, stock_ml=20, opened="2026-05-31", remark="from the market"))
    parts = (PigmentPart(pigment="ultramarine-blue", parts=3), PigmentPart(pigment="ivory-black", parts=2))
    mixed = OwnTube(id="own-grey", name="Grey, mine", parts=parts)
    box = box.with_tube(mixed)
    return box.with_palette(OwnPalette(id="own-two", name="Two", paints=("titanium-white", "own-blue", "own-grey")))


class Tubes(unittest.TestCase):
    def test_a_tube_of_one_pigment_is_that_pigment(self):
        mine = blue().tube()
        np.testing.assert_allclose(mine.K, tube("ultramarine-blue").K)
        np.testing.assert_allclose(mine.lab, tube("ultramarine-blue").lab, atol=0.02)
        self.assertEqual((mine.ci, mine.opacity, mine.confidence), ("PB29", "T", "A"))

    def test_a_calibration_that_found_nothing_changes_nothing(self):
        t = tube("ultramarine-blue")
        K, S = TubeCorrection().apply(t.K, t.S)
        np.testing.assert_allclose(K, t.K)
        np.testing.assert_allclose(S, t.S)

    def test_names_have_up_to_80_letters(self):
        self.assertEqual(len(blue(name="x" * 80).name), 80)
        for name in ("", "x" * 81):
            with self.assertRaises(ValidationError):
                blue(name=name)

    def test_its_ladder_of_tints_is_one_to_one_three_ten_and_thirty_of_white(self):
        """The tube is 1 part; each rung is what mixing it so gives, and they grow lighter."""
        parts = (PigmentPart(pigment="ultramarine-blue", parts=3), PigmentPart(pigment="ivory-black", parts=1))
        for own, content in (
            (blue(), {"ultramarine-blue": 1.0}),
            (blue(parts=parts), {"ultramarine-blue": 0.75, "ivory-black": 0.25}),
        ):
            tints = own.tube().tints
            self.assertEqual([t[0] for t in tints], [1.0, 3.0, 10.0, 30.0])
            for n, *lab in tints:
                np.testing.assert_allclose(lab, predict({**content, "titanium-white": n}).lab, atol=1e-6)
            self.assertEqual([t[1] for t in tints], sorted(t[1] for t in tints))
        self.assertAlmostEqual(blue().tube().tinting_strength, 1.0, places=6)

    def test_a_convenience_tube_takes_the_worst_of_its_labels(self):
        parts = (
            PigmentPart(pigment="ultramarine-blue"),
            PigmentPart(pigment="alizarin-crimson"),
            PigmentPart(pigment="cadmium-red"),
        )
        mine = blue(parts=parts).tube()
        self.assertEqual(
            (mine.lightfastness, mine.hazard, mine.drying, mine.opacity), ("III", "cadmium", "very slow", "O")
        )

    def test_a_correction_changes_the_tube_and_nothing_else_does(self):
        strong = TubeCorrection(strength=0.3, shift=4.0, strength_sd=0.05, scatter_sd=0.1, hue_sd=1.0)
        own = blue(corrections=(strong,), using=0)
        self.assertGreater(own.tube().K.max(), own.generic().K.max() * 1.2)
        self.assertEqual(own.tube().tolerance.strength, 0.05)
        self.assertNotEqual(own.tube(), own.generic())
        self.assertEqual(own.tube(), own.model_copy(update={"price": 3.0}).tube())
        self.assertEqual(hash(own.tube()), hash(own.tube()))

    def test_short_names_are_never_empty(self):
        self.assertEqual(blue(name="(mine)").tube().short, "(mine)")
        self.assertEqual(blue(name="Blue (mine)").tube().short, "blue")

    def test_what_is_refused(self):
        for fields, word in (
            ({"name": ""}, "name"),
            ({"parts": ()}, "parts"),
            ({"size_ml": 0}, "size"),
            ({"opened": "May"}, "day"),
            ({"using": 0}, "calibration"),
            ({"id": "blue"}, "id"),
            ({"medium": "tempera"}, "medium"),
            ({"parts": ({"pigment": "moon-blue"},)}, "moon-blue"),
            ({"parts": (PigmentPart(pigment="ivory-black"), PigmentPart(pigment="ivory-black"))}, "twice"),
        ):
            with self.subTest(fields=str(fields)), self.assertRaises(ValidationError) as caught:
                blue(**fields)
            self.assertIn(word, str(caught.exception))

    def test_finding_pigments(self):
        self.assertEqual({t.id for t in find("pb29")}, {"ultramarine-blue", "blue-grey-dark"})
        self.assertIn("phthalo-blue-green-shade", {t.id for t in find("phthalocyanine blue")})
        self.assertEqual(len(find("")), len(all_tubes()))
        self.assertEqual(find("no such paint"), [])

    def test_found_by_any_of_its_usual_names(self):
        known = {i: aliases(i) for i in all_tubes()}
        self.assertGreater(sum(map(len, known.values())), 450)
        for paint_id, names in known.items():
            for name in names:
                self.assertIn(paint_id, [t.id for t in find(name)][:3], name)
                self.assertNotIn("bright", name)
        for typed, first in (
            ("lemon", "azo-yellow-light"),
            ("terre verte", "green-earth"),
            ("light red", "venetian-red"),
            ("permanent rose", "quinacridone-rose"),
            ("viridian hue", "phthalo-green-blue-shade"),
            ("olive", "olive-green"),
            ("white", "titanium-white"),
        ):
            self.assertEqual(find(typed)[0].id, first)
        self.assertIn("phthalo-green-yellow-shade", {t.id for t in find("forest green")}, "by its look")
        with self.assertRaisesRegex(OchreError, "venetian-red"):
            tube("light-red")


class Box(unittest.TestCase):
    def test_palettes_of_own_tubes(self):
        box = grey_box()
        palette = box.palette("own-two")
        self.assertEqual([t.id for t in palette.tubes], ["titanium-white", "own-blue", "own-grey"])
        self.assertEqual(palette.tube("own-grey").name, "Grey, mine")
        self.assertEqual(palette.tube("yellow-ochre").id, "yellow-ochre")
        self.assertEqual(box.palette("portrait-ten").name, "Portrait of ten")
        with self.assertRaises(OchreError) as caught:
            box.palette("own-three")
        self.assertIn("own-two", str(caught.exception))

    def test_a_tube_on_a_palette_stays(self):
        box = grey_box()
        with self.assertRaises(OchreError) as caught:
            box.without_tube("own-blue")
        self.assertIn("Two", str(caught.exception))
        box = box.without_palette("own-two").without_tube("own-blue")
        self.assertEqual([t.id for t in box.tubes], ["own-grey"])

    def test_ids_are_fresh(self):
        box = grey_box()
        self.assertEqual(box.fresh_id("Blue"), "own-blue-2")
        self.assertEqual(box.fresh_id("Bleu d'été"), "own-bleu-d-t")
        self.assertEqual(box.fresh_id("黒"), "own-tube")

    def test_media_that_do_not_mix(self):
        box = grey_box().with_tube(blue(id="own-acryl", medium="acrylic"))
        laid = box.with_palette(OwnPalette(id="own-m", name="Mixed", paints=("own-acryl", "own-grey"))).laid("own-m")
        self.assertIn(" is oil, the picture is acrylic: these do not mix in one pile.", laid.strangers())
        self.assertIn(" is acrylic, the picture is oil", laid.strangers("oil"))
        self.assertIn(" are ", laid.strangers("gouache").replace("; ", ", are ") or "")
        self.assertEqual(grey_box().laid("own-two").strangers(), "")

    def test_the_surface_follows_the_medium(self):
        box = PaintBox().with_tube(blue(medium="gouache"))
        box = box.with_palette(OwnPalette(id="own-g", name="Gouache", paints=("own-blue",)))
        self.assertEqual(box.palette("own-g").surface.g, 1.0)
        self.assertEqual(box.palette("portrait-ten").surface.g, USUAL.g)

    def test_a_laid_palette_knows_its_tubes(self):
        with self.assertRaises(ValidationError):
            Laid(palette=OwnPalette(id="own-x", name="X", paints=("own-missing",)))


class Files(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.path = Path(held.name) / "deep" / "paintbox.json"

    def test_saved_and_loaded(self):
        self.assertEqual(load_box(self.path), PaintBox())
        save_box(grey_box(), self.path)
        self.assertEqual(load_box(self.path), grey_box())

    def test_damage_is_told_and_the_file_stays(self):
        self.path.parent.mkdir()
        self.path.write_text('{"version": 1, "tubes": [{"id": "own-a", "name": ""}]}')
        before = self.path.read_bytes()
        with self.assertRaises(OchreError) as caught:
            load_box(self.path)
        self.assertIn("name", str(caught.exception))
        self.assertEqual(self.path.read_bytes(), before)

    def test_json_goes_round_with_palettes_and_corrections(self):
        box = grey_box().with_tube(blue(id="own-c", corrections=(TubeCorrection(strength=0.1),), using=0))
        there, count = imported(box_json(box).encode(), "box.json", grey_box())
        self.assertEqual((count, len(there.tubes), len(there.palettes)), (3, 5, 2))
        came = there.palettes[1]
        self.assertEqual([there.tube(i).name for i in came.paints], ["Titanium white", "My blue", "Grey, mine"])
        self.assertEqual(there.tubes[-1].corrections[0].strength, 0.1)

    def test_csv_goes_round(self):
        there, count = imported(tubes_csv(grey_box()).encode(), "tubes.csv", PaintBox())
        self.assertEqual(count, 2)
        fields = ("name", "parts", "price", "stock_ml", "opened", "remark")
        for came, was in zip(there.tubes, grey_box().tubes, strict=True):
            self.assertEqual([getattr(came, f) for f in fields], [getattr(was, f) for f in fields])

    def test_names_that_a_spreadsheet_would_run_go_round_unchanged(self):
        evil = ("=HYPERLINK(1)", "+1-2", "-cmd", "@SUM", "'=x", "plain")
        box = PaintBox()
        for k, name in enumerate(evil):
            part = (PigmentPart(pigment="titanium-white"),)
            box = box.with_tube(OwnTube(id=f"own-{k}", name=name, parts=part, remark=name))
        text = tubes_csv(box)
        self.assertNotRegex(text, r"(?m)(^|,)[=+@-]")
        there, _ = imported(text.encode(), "tubes.csv", PaintBox())
        self.assertEqual([(t.name, t.remark) for t in there.tubes], [(n, n) for n in evil])

    def test_bad_files_say_where(self):
        for text, words in (
            ("nothing", "columns 'name' and 'pigments'"),
            ("name,pigments\nA,moon-blue\n", "line 2: 'moon-blue'"),
            ("name,pigments\nA,ivory-black:x\n", "parts must be a number"),
            ("name,pigments\nA,\n", "empty"),
            ("name,pigments,price\nA,ivory-black,dear\n", "price"),
            ("name,pigments\n", "no tubes"),
            ('{"tubes": 3}', "tubes"),
            ("name,pigments\n,ivory-black\n", "name"),
            ("name,pigments\nA," + " ".join(list(all_tubes())[:7]) + "\n", "at most 6"),
        ):
            with self.subTest(text=text), self.assertRaises(OchreError) as caught:
                imported(text.encode(), "file", PaintBox())
            self.assertIn(words, str(caught.exception))
        with self.assertRaises(OchreError):
            imported(b"\xff\xfe\x00name", "file", PaintBox())
        self.assertEqual(parse_pigments("ultramarine-blue:3, ivory-black")[1], PigmentPart(pigment="ivory-black"))
