"""The command line, run as a program, without a display and without Qt."""

import contextlib
import io
import json
import os
import sqlite3
import subprocess
import sys
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from PIL import Image
from pypdf import PdfReader
from scipy import ndimage

from ochre_stone.cli import main
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.store.files import open_project
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.demo import demo_log
from ochre_stone.logbook.exchange import take_in
from tests.support.made import FolderCase, orchard

NO_DISPLAY = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}


def run(*args: str) -> subprocess.CompletedProcess:
    """The entry point in this process: what it prints and how it exits."""
    out, err, code = io.StringIO(), io.StringIO(), 0
    with (
        mock.patch.object(sys, "argv", ["ochre-stone", *args]),
        contextlib.redirect_stdout(out),
        contextlib.redirect_stderr(err),
    ):
        try:
            main()
        except SystemExit as end:
            code = end.code if isinstance(end.code, int) else int(end.code is not None)
    return subprocess.CompletedProcess(args, code, out.getvalue(), err.getvalue())


def run_alone(*args: str) -> subprocess.CompletedProcess:
    """As a program of its own, without a display."""
    return subprocess.run(
        [sys.executable, "-m", "ochre_stone", *args], capture_output=True, text=True, env=NO_DISPLAY, timeout=300
    )


class CommandCase(FolderCase):
    def setUp(self) -> None:
        super().setUp()
        self.photo = str(self.folder / "orchard.png")
        Image.fromarray(orchard()).save(self.photo)

    def json(self, *args: str) -> dict:
        done = run(*args, "--json")
        self.assertEqual((done.returncode, done.stderr), (0, ""), args)
        return json.loads(done.stdout)

    def expect_refusal(self, *args: str, code: int = 1) -> str:
        done = run(*args)
        self.assertEqual(done.returncode, code, done.stderr)
        self.assertNotIn("Traceback", done.stderr)
        if code == 1:
            self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)
        return done.stderr


class Contract(CommandCase):
    def test_paints_and_palettes(self):
        data = self.json("paints")
        self.assertEqual(len(data["wavelengths"]), 36)
        self.assertEqual((set(data["surface"]), data["surface"]["g"]), ({"k1", "k2", "g"}, 0.05))
        self.assertEqual((data["surfaces"]["anchors"]["g"], "usual" in data["seen"]), (0.3, True))
        wet, sunk = (self.json("predict", "ivory-black:1", "--film", "9", "--finish", f) for f in ("glossy", "sunk"))
        self.assertGreater(sunk["value"] - wet["value"], 0.7)
        self.assertGreater(sunk["film"]["value"], wet["film"]["value"])
        self.assertGreaterEqual(len(data["paints"]), 74)
        fields = {
            "id",
            "name",
            "ci",
            "opacity",
            "tinting_strength",
            "lightfastness",
            "hazards",
            "drying",
            "lab",
            "munsell",
            "confidence",
            "k",
            "s",
        }
        for p in data["paints"]:
            self.assertTrue(fields <= set(p), p["id"])
            self.assertEqual((len(p["k"]), len(p["s"])), (36, 36))
        known = {p["id"] for p in data["paints"]}
        palettes = self.json("palettes")["palettes"]
        self.assertEqual(len(palettes), 9)
        for p in palettes:
            self.assertTrue(set(p["paints"]) <= known)

    def test_predict_and_mix_agree(self):
        data = self.json("predict", "titanium-white:4 yellow-ochre:2 cadmium-red:1")
        self.assertTrue({"lab", "srgb", "munsell", "value", "chroma", "hue", "uncertainty"} <= set(data))
        for target in ("lab 62 14 22", "#c9a27e", "munsell 5YR 6.5/4"):
            mixed = self.json("mix", target, "--palette", "four-tube-earth", "--max-paints", "4")
            self.assertTrue({"target", "reachable", "recipes"} <= set(mixed))
            best = mixed["recipes"][0]
            self.assertTrue({"parts", "lab", "de00", "value_error", "uncertainty"} <= set(best))
            again = self.json("predict", " ".join(f"{i}:{n}" for i, n in best["parts"].items()))
            self.assertLess(float(ciede2000(again["lab"], best["lab"])), 0.01)
            self.assertAlmostEqual(float(ciede2000(best["lab"], mixed["target"]["lab"])), best["de00"], delta=0.01)
            for r in mixed["recipes"]:
                self.assertLessEqual(len(r["parts"]), 4)
                self.assertTrue(all(n in (0.25, 0.5) or n == int(n) for n in r["parts"].values()), r["parts"])

    def own_box(self) -> str:
        path = self.folder / "box.json"
        parts = [{"pigment": "ultramarine-blue", "parts": 1}]
        correction = {"strength": 0.3, "words": "from 3 swatches"}
        tubes = [
            {"id": "own-blue", "name": "My blue", "parts": parts, "price": 20, "corrections": [correction], "using": 0}
        ]
        palettes = [{"id": "own-three", "name": "Three", "paints": ["titanium-white", "own-blue", "burnt-sienna"]}]
        path.write_text(json.dumps({"version": 1, "tubes": tubes, "palettes": palettes}), encoding="utf-8")
        return str(path)

    def test_the_painters_own_box(self):
        box = self.own_box()
        mine = next(p for p in self.json("paints", "--box", box)["paints"] if p["id"] == "own-blue")
        generic = next(p for p in self.json("paints")["paints"] if p["id"] == "ultramarine-blue")
        self.assertGreater(max(mine["k"]), 1.2 * max(generic["k"]))
        self.assertEqual(self.json("palettes", "--box", box)["palettes"][-1]["paints"][1], "own-blue")
        stronger = self.json("predict", "own-blue:1 titanium-white:8", "--box", box)
        plain = self.json("predict", "ultramarine-blue:1 titanium-white:8")
        self.assertLess(stronger["value"], plain["value"] - 0.1)
        mixed = self.json("mix", "lab 45 0 -10", "--palette", "own-three", "--box", box)
        self.assertTrue(
            all(set(r["parts"]) <= {"titanium-white", "own-blue", "burnt-sienna"} for r in mixed["recipes"])
        )
        self.assertIn("own-three", self.expect_refusal("mix", "#808080", "--palette", "own-four", "--box", box))
        Path(box).write_text("{", encoding="utf-8")
        self.assertIn("box", self.expect_refusal("paints", "--box", box))
        self.assertIn("no paint box", self.expect_refusal("paints", "--box", str(self.folder / "none.json")))

    def test_every_figure_of_a_paint_has_a_source(self):
        for p in self.json("paints")["paints"]:
            for figure in ("k", "s", "lab", "tints", "undertone", "tolerance"):
                self.assertTrue(p["pigments"] or p["sources"][figure], (p["id"], figure))
            self.assertEqual([row[0] for row in p["tints"]], [1, 3, 10, 30])
            self.assertEqual(bool(p["substitutes"]), bool(p["hazards"]) or bool(p["cautions"]))

    def test_films_and_media(self):
        wet_dry = self.json("predict", "ivory-black", "--medium", "gouache")
        self.assertGreater(wet_dry["dry"]["value"], wet_dry["wet"]["value"] + 0.3)
        thin, thick, none = (
            self.json("predict", "ultramarine-blue", "--film", um, "--over", "#c0c0c0")["film"]
            for um in ("0.3", "200", "0")
        )
        self.assertGreater(thin["value"], thick["value"] + 2)
        self.assertAlmostEqual(thick["lab"][0], self.json("predict", "ultramarine-blue")["lab"][0], delta=0.2)
        self.assertAlmostEqual(none["lab"][0], 77.7, delta=0.5)
        self.assertIn("hue", self.expect_refusal("predict", "ultramarine-blue", "--film", "1", "--over", "#ff0000"))
        self.assertIn("film", self.expect_refusal("predict", "ultramarine-blue", "--film", "-1"))

    def test_mix_in_other_orders_and_with_more_tubes(self):
        for order in ("value", "hue", "even"):
            data = self.json("mix", "lab 55 60 -40", "--palette", "four-tube-earth", "--order", order)
            self.assertFalse(data["reachable"])
        data = self.json("mix", "lab 40 8 10", "--max-paints", "5")
        self.assertTrue(all(1 <= len(r["parts"]) <= 5 for r in data["recipes"]))
        self.assertTrue({r["kind"] for r in data["other_ways"]} & {"safest", "no black", "fewest tubes", "steadiest"})

    def test_a_palette_is_typed_by_usual_names(self):
        data = self.json("mix", "lab 60 20 25", "--palette", "white, gold ochre, light red, bone black")
        self.assertTrue(data["recipes"])
        self.assertIn("Not understood", self.expect_refusal("mix", "lab 60 20 25", "--palette", "white, moonshine"))

    def test_mix_for_a_medium(self):
        for medium, way in (("acrylic", 1), ("gouache", -1)):
            data = self.json("mix", "lab 40 8 10", "--medium", medium)
            self.assertEqual(data["medium"], medium)
            best = data["recipes"][0]
            self.assertGreater((best["wet"]["lab"][0] - best["lab"][0]) * way, 0.5)
        matt = self.json("mix", "lab 40 8 10", "--medium", "acrylic", "--finish", "matt")["recipes"][0]
        self.assertGreater(matt["lab"][0] - matt["wet"]["lab"][0], 0.5, "a matt film lightens as it dries")
        done = run("mix", "lab 40 8 10", "--medium", "acrylic")
        self.assertIn("Wet it looks", done.stdout)

    def test_palettes_say_what_each_tube_is_and_does(self):
        for p in self.json("palettes")["palettes"]:
            self.assertEqual((set(p["roles"]), p["roles"]["titanium-white"]), (set(p["paints"]), "light, cool"))
            self.assertTrue(p["does"]["lightens and warms"] and p["does"]["lightens and cools"], p["id"])

    def test_plan_through_the_notes_with_paints_by_name(self):
        out = self.folder / "through"
        data = self.json(
            "plan",
            self.photo,
            "--palette",
            "white, yellow ochre, cad red, ivory black, ultramarine",
            "--piles",
            "8",
            "--medium",
            "gouache",
            "--out",
            str(out),
        )
        piles = {p["id"]: p for s in data["strings"] for p in s["piles"]}
        self.assertEqual((len(piles), data["palette"], data["medium"]), (8, "own-these", "gouache"))
        self.assertIn("notes have their pile", data["coverage"])
        for n in data["notes"]:
            self.assertTrue({"pile", "de00", "reach"} <= set(n))
            if n["pile"]:
                self.assertTrue(n["de00"] <= 2.0 or n["id"] in piles[n["pile"]]["notes"])
            self.assertEqual(n["reach"] is True, n["near"] == "matches", n["near"])
        alone = sum(n["share"] for n in data["notes"] if not any(n["id"] in p["notes"] for p in piles.values()))
        self.assertGreaterEqual(data["amounts"]["uncovered"], 0.9 * alone, "it is not shared out")
        self.assertEqual(data["mixing"]["piles"], 8)
        self.assertEqual(json.loads((out / "plan.json").read_text())["coverage"], data["coverage"])
        made = [t for p in piles.values() for t in p["steps"] if t["act"] == "make"]
        for step in made:  # one figure for one tint, wherever it stands
            self.assertIn(f"{data['amounts']['bases_ml'][step['makes']]:.1f} ml", step["why"])
        self.assertEqual({s["makes"] for s in made}, set(data["amounts"]["bases_ml"]))

    def test_charts(self):
        for suffix in ("pdf", "svg", "csv", "cgats"):
            out = self.folder / f"chart.{suffix}"
            data = self.json("chart", "--palette", "four-tube-earth", "--values", "6", "--out", str(out))
            self.assertGreater(out.stat().st_size, 2000)
            self.assertEqual((len(data["values"]), data["rows"][0]["cells"][0]["label"]), (6, "A0"))
            self.assertEqual({len(r["cells"]) for r in data["rows"]}, {6})
            self.assertEqual(data["rows"][0]["cells"][2]["words"][-1], "w")
        same = self.json(
            "chart",
            "--palette",
            "four-tube-earth",
            "--values",
            "6",
            "--same-values",
            "--rows",
            "singles,darkened",
            "--out",
            str(self.folder / "same.svg"),
        )
        self.assertEqual([round(v, 3) for v in same["values"]], [round(10 * k / 7, 3) for k in range(1, 7)])
        self.assertEqual({r["kind"] for r in same["rows"]}, {"singles", "darkened"})
        for args, word in (
            (("--values", "2"), "3 to 10"),
            (("--rows", "fours"), "fours"),
            (("--palette", "ivory-black,yellow-ochre"), "white"),
        ):
            self.assertIn(word, self.expect_refusal("chart", *args, "--out", str(self.folder / "x.pdf")))
        self.assertIn(".docx", self.expect_refusal("chart", "--out", str(self.folder / "x.docx")))

    def test_mix_from_named_tubes(self):
        data = self.json("mix", "lab 60 0 0", "--palette", "titanium-white,ivory-black")
        self.assertTrue(set(data["recipes"][0]["parts"]) <= {"titanium-white", "ivory-black"})

    def test_masses_as_outlines(self):
        svg, pdf = self.folder / "o.svg", self.folder / "t.pdf"
        data = self.json(
            "masses",
            self.photo,
            "--values",
            "3",
            "--outline",
            "0.6",
            "--svg",
            str(svg),
            "--transfer",
            str(pdf),
            "--canvas",
            "30x40cm",
        )
        self.assertIn(data["range"], ("full range", "middle range", "narrow range"))
        self.assertIn('id="mass-3"', svg.read_text(encoding="utf-8"))
        pages = PdfReader(pdf).pages
        self.assertGreater(len(pages), 4)
        self.assertIn("Canvas 40 x 30 cm", pages[0].extract_text(), "the canvas lies as the photo does")

    def test_masses(self):
        out = str(self.folder / "masses.png")
        data = self.json("masses", self.photo, "--values", "5", "--smallest", "0.5", "--out", out)
        self.assertEqual((len(data["masses"]), len(data["thresholds"])), (5, 4))
        self.assertAlmostEqual(sum(m["share"] for m in data["masses"]), 1.0, delta=1e-3)
        image = np.asarray(Image.open(out))
        self.assertEqual(image.shape[:2], (240, 320))
        self.assertLessEqual(len(np.unique(image)), 5)
        sizes = []
        for grey, mass in zip(np.unique(image), data["masses"], strict=True):
            numbered, _count = ndimage.label(image == grey)
            sizes += np.bincount(numbered.ravel())[1:].tolist()
            self.assertAlmostEqual(float((image == grey).mean()), mass["share"], delta=1e-4)
        self.assertEqual(len(sizes), data["regions"], "as many shapes as are told")
        self.assertGreaterEqual(min(sizes), 0.005 * image.size, "none below the smallest")
        for b in data["borders"]:
            self.assertIn(b["kind"], ("lost", "soft", "firm", "hard"))
            self.assertLess(b["a"], b["b"])

    def test_a_photo_laid_in_with_another_palette_and_fewer_piles(self):
        out = self.folder / "laid.png"
        data = self.json("blockin", self.photo, "--palette", "four-tube-earth", "--piles", "4", "--out", str(out))
        self.assertEqual((data["palette"], len(data["shares"])), ("four-tube-earth", 4))
        with Image.open(out) as image:
            self.assertEqual((image.size, image.mode), ((1600, 1200), "RGB"))
            self.assertLessEqual(len(image.getcolors(100) or []), 4)
            self.assertIn(data["words"], image.text["Description"])
        self.assertIn("ends in .png, .svg or .pdf", run("blockin", self.photo, "--out", "x.jpg").stderr)

    def test_notes_and_harmony(self):
        data = self.json("notes", self.photo, "--count", "8")
        self.assertLessEqual(len(data["notes"]), 8)
        for n in data["notes"]:
            self.assertTrue({"x", "y", "lab", "srgb", "value", "munsell", "share"} <= set(n))
            self.assertTrue(0 <= n["x"] < 320 and 0 <= n["y"] < 240)
            self.assertEqual(n["subject"] == "other", n["sure"] < 0.5)
        self.assertEqual(set(data["left_over"]), {"mean", "p95"})
        inside = self.json("notes", self.photo, "--inside", "115,70,75,90", "--shape", "1-1-1")
        self.assertEqual(len(inside["notes"]), 3)
        for n in inside["notes"]:
            self.assertTrue(115 <= n["x"] <= 190 and 70 <= n["y"] <= 160, n)
        self.assertEqual(set(inside) - set(data), {"kept", "missing"})
        four = self.json("notes", self.photo, "--inside", "100,60,110,110", "--count", "4", "--all")
        self.assertEqual((len(four["notes"]), four["kept"]), (4, 1.0))
        for name in ("traditional", "perceptual"):
            schemes = self.json("harmony", self.photo, "--wheel", name)["schemes"]
            scores = [s["score"] for s in schemes]
            self.assertEqual(scores, sorted(scores, reverse=True))
            self.assertTrue({"name", "rotation", "score"} <= set(schemes[0]))

    def test_plan(self):
        out = self.folder / "plan"
        data = self.json(
            "plan", self.photo, "--palette", "four-tube-earth", "--canvas", "12x16in", "--out", str(out), "--steps", "3"
        )
        names = {"plan.ochre", "sheet.pdf", "recipes.csv", "palette.gpl", "plan.json", "block-in.png"}
        self.assertEqual({p.name for p in out.iterdir()}, names)
        shares = [p["share"] for s in data["strings"] for p in s["piles"]]
        self.assertAlmostEqual(sum(shares), 1.0, places=3)
        self.assertEqual(data["block_in"]["words"].split(" ")[1], "piles,")
        again = self.folder / "again.png"
        laid = self.json("blockin", str(out / "plan.ochre"), "--out", str(again), "--width", "1600")
        self.assertEqual(laid["shares"], data["block_in"]["shares"])
        self.assertEqual(again.read_bytes(), (out / "block-in.png").read_bytes(), "the same picture again")
        project = open_project(out / "plan.ochre")
        self.assertEqual(len(project.document.mixed.strings), len(data["strings"]))
        self.assertEqual(project.document.canvas.width, 16)  # the canvas lies as the picture does
        text = "".join(p.extract_text() for p in PdfReader(out / "sheet.pdf").pages)
        self.assertIn("16 x 12 in", text)
        self.assertEqual(json.loads((out / "plan.json").read_text())["palette"], "four-tube-earth")

    def test_plain_words_without_json(self):
        self.assertIn("in reach", run("mix", "lab 62 14 22").stdout)
        self.assertIn("shapes", run("masses", self.photo).stdout)
        self.assertIn("not measured", run("predict", "yellow-ochre:1").stdout)


class Mixing(CommandCase):
    def test_the_best_recipe_stands_first_whatever_its_kind(self) -> None:
        for target in ("lab 82 0 10", "lab 25 -7 12", "lab 62 14 22"):
            found = self.json("mix", target, "--palette", "four-tube-earth")["recipes"]
            off = [r["by_eye"] + 4 * max(abs(r["value_error"]) - 0.25, 0) for r in found]
            self.assertEqual(off, sorted(off), target)
        (first, *_) = self.json("mix", "lab 82 0 10", "--palette", "four-tube-earth")["recipes"]
        self.assertLess(first["de00"], 2.5)
        self.assertIn("A tint is a pile of its own", run("mix", "lab 82 0 10", "--palette", "four-tube-earth").stdout)


class TheLog(CommandCase):
    def test_listed_found_and_mixed_again(self) -> None:
        listed = self.json("log", "list", "--demo", "--count", "5")["piles"]
        self.assertEqual(len(listed), 5)
        self.assertEqual(set(listed[0]), {"id", "name", "project", "begun", "lab", "value", "read", "left_ml"})
        lab = " ".join(map(str, listed[2]["lab"]))
        found = self.json("log", "find", f"lab {lab}", "--demo")["found"]
        self.assertEqual(found[0]["id"], listed[2]["id"])
        self.assertLess(found[0]["de00"], 0.5)
        again = self.json("log", "again", listed[2]["id"], "--ml", "6", "--demo")
        self.assertAlmostEqual(sum(d["ml"] for d in again["doses"]), 6, places=3)
        self.assertEqual(self.json("log", "list", "--demo", "--day", "1999-01-01")["piles"], [])
        self.assertIn("left", run("log", "list", "--demo").stdout)

    def test_exported_and_read_from_a_file(self) -> None:
        out, table = str(self.folder / "log.json"), str(self.folder / "log.csv")
        self.assertEqual(self.json("log", "export", "--demo", "--out", out)["piles"], 18)
        self.assertEqual(self.json("log", "export", "--demo", "--out", table)["piles"], 18)
        self.assertEqual(Path(table).read_text(encoding="utf-8-sig").count("\r"), 0)  # as Python reads lines
        self.assertEqual(self.json("log", "list")["piles"], [])  # one's own: looking makes none

    def test_of_a_damaged_log_the_rest_is_told_and_one_without_rights_is_read(self) -> None:
        path = self.folder / "log.sqlite"
        with Book(path) as book:
            take_in(book, demo_log(1_790_000_000.0))
        with contextlib.closing(sqlite3.connect(path)) as db:
            db.execute("UPDATE pile SET medium = 'lard', planned = '[[[' WHERE uid = 'demo-pile-0003'")
            db.commit()
        for command in (("list",), ("export", "--out", str(self.folder / "out.json"))):
            done = run("log", *command, "--log", str(path))
            self.assertEqual(done.returncode, 0)
            self.assertIn("17 piles" if command[0] == "export" else "demo-pile-0004", done.stdout)
            self.assertNotIn("demo-pile-0003", done.stdout)
            self.assertRegex(done.stderr, "^One entry of the log cannot be read and is left out .pile demo-pile-0003.")
        with mock.patch.object(os, "open", side_effect=PermissionError(13, "Permission denied")):
            done = run("log", "list", "--log", str(path))
        self.assertIn("demo-pile-0004", done.stdout)
        self.assertIn("can only be read now (Permission denied)", done.stderr)
        path.write_bytes(path.read_bytes()[:5000])
        self.assertIn("damaged", self.expect_refusal("log", "export", "--log", str(path), "--out", "x.json"))

    def test_what_cannot_be_done_is_said(self) -> None:
        for args, words in (
            (("log", "list", "--day", "yesterday"), "yesterday"),
            (("log", "again", "demo", "--demo"), "18 piles"),
            (("log", "again", "nobody", "--demo"), "no pile"),
            (("log", "find", "blurple", "--demo"), "blurple"),
            (("log", "export", "--out", "log.txt"), "neither"),
            (("log", "list", "--log", "nowhere.sqlite"), "no log"),
            (("log", "again", "demo-pile-0001", "--ml", "0", "--demo"), "more than 0"),
        ):
            self.assertIn(words, self.expect_refusal(*args))


class OddNames(CommandCase):
    """A photo may be called anything that the disk takes: bytes that are no UTF-8, and 255 of them."""

    def test_planned_and_grouped_from_the_shell(self):
        photo, long = self.folder / os.fsdecode(b"caf\xe9.png"), self.folder / ("n" * 251 + ".png")
        for path in (photo, long):
            os.link(self.photo, path)
        out = self.folder / "plan"
        done = run_alone(
            "plan",
            str(photo),
            "--palette",
            "four-tube-earth",
            "--steps",
            "3",
            "--count",
            "2",
            "--out",
            str(out),
            "--json",
        )
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(len(json.loads(done.stdout)["files"]), 6)
        self.assertEqual(open_project(out / "plan.ochre").picture.width, 320)
        done = run("plan", str(long), "--palette", "four-tube-earth", "--steps", "3", "--count", "2", "--out", str(out))
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        out = self.folder / os.fsdecode(b"m\xe4sse.png")
        done = run("masses", str(photo), "--out", str(out), "--json")
        self.assertEqual((done.returncode, out.exists()), (0, True))
        missing = run("masses", str(self.folder / os.fsdecode(b"n\xf6.png")))
        self.assertEqual(missing.returncode, 1)
        self.assertEqual(len(missing.stderr.splitlines()), 1)


class Refusals(CommandCase):
    def test_bad_input_is_one_line_and_exit_1(self):
        text = self.folder / "text.png"
        text.write_text("hello")
        for args in (
            ("predict", "unobtainium:3"),
            ("predict", "yellow-ochre:-1"),
            ("predict", "yellow-ochre:x"),
            ("predict", ""),
            ("mix", "banana"),
            ("mix", "lab 62 14 22", "--palette", "none"),
            ("masses", str(self.folder / "no.jpg")),
            ("masses", str(text)),
            ("notes", str(self.folder)),
            ("notes", self.photo, "--count", "1"),
            ("notes", self.photo, "--shape", "1-1-1"),
            ("notes", self.photo, "--inside", "1,2,3"),
            ("notes", self.photo, "--inside", "100,60,110,110", "--count", "30"),
            ("notes", self.photo, "--inside", "1,2,0,4"),
            ("notes", self.photo, "--inside", "900,900,40,40"),
            ("notes", self.photo, "--inside", "5,5,nan,4"),
            ("masses", self.photo, "--values", "1"),
            ("masses", self.photo, "--smallest", "50"),
            ("masses", self.photo, "--outline", "2"),
            ("masses", self.photo, "--simplify", "-1"),
            ("masses", self.photo, "--transfer", str(self.folder / "t.pdf"), "--canvas", "wide"),
            ("masses", self.photo, "--svg", str(self.folder / "none" / "o.svg")),
            ("plan", self.photo, "--canvas", "huge", "--out", str(self.folder / "o")),
            ("plan", self.photo, "--steps", "2", "--out", str(self.folder / "o")),
            ("plan", self.photo, "--out", self.photo + "/sub"),
            ("nosuchfile.jpg",),
            ("masses", self.photo, "--out", str(self.folder / "none" / "m.png")),
        ):
            with self.subTest(args):
                self.expect_refusal(*args)

    def test_wrong_usage_is_exit_2(self):
        for args in (
            ("mix",),
            ("--nonsense",),
            ("mix", "lab 1 2 3", "--max-paints", "9"),
            ("harmony", self.photo, "--wheel", "x"),
        ):
            with self.subTest(args):
                self.expect_refusal(*args, code=2)

    def test_no_display_is_said_plainly(self):
        done = run_alone(self.photo)
        self.assertEqual(done.returncode, 1)
        self.assertIn("no display", done.stderr)

    def test_the_same_as_a_program(self):
        """Answers, refusals and wrong usage through a shell, not only through the entry point."""
        told = run_alone("predict", "yellow-ochre:1")
        self.assertEqual((told.returncode, told.stdout), (0, run("predict", "yellow-ochre:1").stdout))
        bad = run_alone("predict", "no-such-paint:1")
        self.assertEqual((bad.returncode, bad.stderr), (1, run("predict", "no-such-paint:1").stderr))
        self.assertEqual(run_alone("predict").returncode, 2)

    def test_help_and_version(self):
        self.assertIn("Usage", run("--help").stdout)
        self.assertIn("0.1.0", run("--version").stdout)


if __name__ == "__main__":
    unittest.main()
