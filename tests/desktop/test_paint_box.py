"""The Paint box by mouse and keys: tubes, palettes, reach, charts, calibration, and what Mix makes of them."""

from dataclasses import replace
from unittest import mock

import numpy as np
from PIL import Image
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.paint.box import OwnTube, Part
from ochre_stone.core.paint.calibrate import Swatch, perturbed
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.core.project import boxfile
from ochre_stone.desktop.tubedialog import TubeDialog
from ochre_stone.desktop.widgets.easel import Tool
from tests.desktop.helpers import WindowCase


class BoxCase(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.station = self.window.paint_box
        self.keeper, self.studio = self.window.keeper, self.window.studio
        self.key(Qt.Key.Key_7, Qt.KeyboardModifier.ControlModifier)
        self.assertIs(self.window.station, self.station)

    def page(self, name: str):
        self.click(self.station.pages_.buttons[name])
        self.settle()
        return getattr(self.station, f"{name.lower()}_page")

    def demo(self) -> None:
        self.window.filing.open_demo()
        self.settle()
        self.window.go_to("Paint box")
        self.settle()

    def fill(self, **fields):
        """Answer the next tube dialog."""

        def answer(dialog: TubeDialog) -> int:
            for name, value in fields.items():
                field = getattr(dialog, name)
                (field.setText if isinstance(value, str) else field.setValue)(value)
            dialog.accept()
            return int(dialog.result())

        return mock.patch.object(TubeDialog, "exec", answer)


class Tubes(BoxCase):
    def test_add_edit_put_away_and_back_by_keys(self):
        page = self.station.tubes_page
        page.search.setText("pb29")
        self.key(Qt.Key.Key_Down, widget=page.shelf)
        self.key(Qt.Key.Key_Home, widget=page.shelf)
        self.assertEqual(page.selected, "ultramarine-blue")
        with self.fill(name="My blue", price=18.0, stock=20.0):
            self.key(Qt.Key.Key_Return, widget=page.shelf)
        self.assertEqual([(t.name, t.price, t.stock_ml) for t in self.keeper.box.tubes], [("My blue", 18.0, 20.0)])
        self.assertEqual(page.which.currentData(), "own")
        self.assertIn("1 tube", self.station.done_words())
        self.assertEqual(boxfile.load_box(), self.keeper.box, "saved at once")
        with self.fill(name="My best blue", remark="from the market"):
            self.click(page.edit_button)
        self.assertEqual(self.keeper.box.tubes[0].remark, "from the market")
        self.click(page.away_button)
        self.assertTrue(self.keeper.box.tubes[0].archived)
        self.assertIn("All pigments", page.shelf.hint)
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertFalse(self.keeper.box.tubes[0].archived, "Ctrl+Z undoes the box while the painter is here")
        self.click(page.remove_button)
        self.assertEqual(self.keeper.box.tubes, ())
        for _ in range(2):
            self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.keeper.box.tubes[0].name, "My blue")
        self.assertTrue(self.window.studio.undo.isClean(), "the project has not changed")

    def test_what_is_wrong_is_said_in_the_dialog(self):
        start = OwnTube(id="own-x", name="X", parts=(Part(pigment="ivory-black"),))
        dialog = TubeDialog(self.window, start, "X")
        for field, value, words in (
            (dialog.pigments, "moon-blue", "moon-blue"), (dialog.opened, "in May", "day"), (dialog.name, " ", "Name"),
        ):  # fmt: skip
            before = field.text()
            field.setText(value)
            dialog.accept()
            self.assertIn(words, dialog.wrong.text())
            self.assertNotEqual(dialog.result(), QDialog.DialogCode.Accepted)
            field.setText(before)
        dialog.pigments.setText("ultramarine-blue:3 ivory-black:2")
        dialog.accept()
        self.assertEqual(len(dialog.made.parts), 2)

    def test_every_pigment_says_what_it_is(self):
        page = self.station.tubes_page
        page.choose("alizarin-crimson")
        self.assertIn("PR83", page.says.text())
        self.assertIn("fades", page.caution.text())
        self.assertIn("nearest", page.caution.text())
        self.assertIn("from memory", page.sure.text())
        page.choose("yellow-ochre")
        self.assertFalse(page.caution.isVisible())
        self.assertIn("Dries in oil", page.drying.text())

    def test_import_and_export(self):
        page = self.station.tubes_page
        file = self.folder / "tubes.csv"
        file.write_text("name,pigments,medium,stock_ml\nSea,phthalo-blue-green-shade:1 titanium-white:4,gouache,15\n")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(file), "")):
            self.click(page.import_button)
        self.assertEqual(self.keeper.box.tubes[0].medium, "gouache")
        self.assertIn("1 tube came", self.window.last_told)
        out = self.folder / "out.json"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(out), "")):
            self.click(page.export_button)
        self.assertIn("Sea", out.read_text())
        file.write_text("nothing")
        page.import_file(file)
        self.assertIn("columns", self.window.last_told)
        self.assertEqual(len(self.keeper.box.tubes), 1)

    def test_a_damaged_box_is_kept_aside(self):
        path = boxfile.box_file()
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text("{ not a box")
        keeper = type(self.keeper)()
        self.assertIn("kept beside", keeper.wrong)
        keeper.change("Add", keeper.box.with_tube(OwnTube(id="own-x", name="X", parts=(Part(pigment="ivory-black"),))))
        self.assertEqual(path.with_suffix(".json.damaged").read_text(), "{ not a box")
        self.assertEqual(len(boxfile.load_box().tubes), 1)


class Palettes(BoxCase):
    def test_copy_order_lay_on_and_take_off(self):
        page = self.page("Palettes")
        self.assertFalse(page.off.isEnabled(), "one that ships stays as it is")
        page.take_off()
        self.assertIn("copy it", self.window.last_told)
        with mock.patch.object(QInputDialog, "getText", return_value=("Morning", True)):
            self.click(page.copy)
        self.assertEqual(self.station.chosen().name, "Morning")
        page.choose_tube("raw-umber")
        self.click(page.up)
        self.assertEqual(self.station.chosen().paints[5:7], ("raw-umber", "burnt-sienna"))
        self.click(page.off)
        self.assertNotIn("raw-umber", self.station.chosen().paints)
        page.more.setCurrentIndex(page.more.findData("cobalt-blue"))
        self.click(page.lay)
        self.assertEqual(self.station.chosen().paints[-1], "cobalt-blue")
        self.click(page.lay)
        self.assertIn("already", self.window.last_told)
        with mock.patch.object(QInputDialog, "getText", return_value=("Evening", True)):
            self.click(page.rename)
        self.assertEqual(self.keeper.box.palettes[0].name, "Evening")
        self.key(Qt.Key.Key_Right, widget=page.panel)
        self.assertIsNotNone(page.tube_id)
        self.click(page.delete)
        self.assertEqual(self.keeper.box.palettes, ())
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(len(self.keeper.box.palettes), 1)

    def test_roles_and_what_does_what(self):
        page = self.page("Palettes")
        self.station.take_palette("four-tube-earth")
        self.assertEqual(page.list.item(1).text(), "ochre: light, warm")
        page.base.setCurrentIndex(page.base.findData("cadmium-red"))
        page.base.activated.emit(page.base.currentIndex())
        self.assertIn("<b>Lightens and cools</b>: white", page.four.text())
        places = page.panel.places()
        self.assertEqual(len(places), 4)
        self.assertTrue(all(not a.intersects(b) for i, a in enumerate(places) for b in places[:i]))
        self.window.resize(1024, 700)
        for name in ("portrait-ten", "landscape-greens", "many-blues"):
            self.station.take_palette(name)
            self.settle()
            places = page.panel.places()
            self.assertTrue(all(not a.intersects(b) for i, a in enumerate(places) for b in places[:i]), name)
            self.assertTrue(all(page.panel.rect().contains(p.toRect()) for p in places), name)

    def test_printed(self):
        page = self.page("Palettes")
        for name in ("p.pdf", "p.csv", "p.json"):
            out = self.folder / name
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(out), "")):
                self.click(page.save)
            self.assertGreater(out.stat().st_size, 500)


class Reach(BoxCase):
    def test_notes_outside_what_would_help_and_the_fewest_tubes(self):
        self.demo()
        page = self.page("Reach")
        self.assertEqual(len(page.slices), 17)
        outside = [r for r in page.found if not r.inside]
        self.assertEqual(page.list.count(), len(outside))
        self.assertIn(f"{24 - len(outside)} of 24 notes in reach", page.says.text())
        page.list.itemActivated.emit(page.list.item(0))
        worst = max(page.found, key=lambda r: r.far)
        self.assertAlmostEqual(page.value, min(max(float(worst.lab[0]) / 10, 1), 9), delta=0.8)
        before = page.value
        self.key(Qt.Key.Key_Right, widget=page.panel)
        self.assertEqual(page.value, min(before + 0.5, 9.0))
        self.click(page.help)
        self.wait(lambda: bool(page.helps.text()), 60)
        self.assertIn(f"of {len(outside)} in", page.helps.text())
        keep = next(page.keep.item(i) for i in range(page.keep.count()) if page.keep.item(i).text() == "Viridian")
        keep.setCheckState(Qt.CheckState.Checked)
        self.click(page.find)
        self.wait(lambda: page.smallest is not None, 90)
        self.assertIn("viridian", [t.id for t in page.smallest.tubes])
        self.assertTrue(page.smallest.proven)
        self.assertIn("fewer cannot", page.answer.text())
        count = len(page.smallest.tubes)
        self.click(page.take)
        self.settle()
        self.assertEqual(len(self.station.chosen().paints), count)
        self.assertGreaterEqual(sum(r.inside for r in page.found), 24 - len(outside) - 1)

    def test_where_nothing_can_be_reached_it_says_so(self):
        self.demo()
        d = self.studio.document
        vivid = d.notes[0].model_copy(update={"lab": (60.0, -90.0, 70.0)})
        self.studio.change("One vivid green", d.model_copy(update={"notes": (vivid,)}))
        page = self.page("Reach")
        self.click(page.find)
        self.wait(lambda: page.smallest is not None, 60)
        self.assertIn("None of the notes", page.answer.text())
        self.assertFalse(page.take.isVisible())

    def test_without_notes_it_says_so(self):
        page = self.page("Reach")
        self.assertIn("Take notes", page.says.text())
        self.assertFalse(page.find.isEnabled())
        self.assertEqual(len(page.slices), 17)


class Charts(BoxCase):
    def test_made_walked_found_and_saved(self):
        self.demo()
        self.station.take_palette("four-tube-earth")
        page = self.page("Charts")
        self.assertEqual({r.kind for r in page.chart.rows}, {"singles", "pairs", "triples"})
        self.click(page.view, QPointF(page.view.box_of("B4").center()))
        self.assertIn("B4", page.head.text())
        self.key(Qt.Key.Key_Down, widget=page.view)
        self.assertEqual(page.selected, "C4")
        self.key(Qt.Key.Key_Left, widget=page.view)
        self.assertEqual(page.selected, "C3")
        page.find_note()
        self.assertIn("Take a note", page.found.text())
        self.studio.select(self.studio.document.notes[0].id)
        self.click(page.find)
        self.assertEqual(len(page.near), 3)
        self.assertEqual(page.selected, page.near[0][0].label)
        for name, blank in (("a.pdf", False), ("b.pdf", True), ("c.svg", False), ("d.csv", False), ("e.cgats", False)):
            out = self.folder / name
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(out), "")):
                self.click(page.blank if blank else page.save)
            self.wait(out.exists)
            self.settle()
        page.values.setValue(9)
        self.settle()
        self.assertEqual(len(page.chart.values), 9)
        for box in page.kinds.values():
            if box.isChecked():
                self.key(Qt.Key.Key_Space, widget=box)
        self.settle()
        self.assertIsNone(page.chart)
        self.assertIn("no rows", page.view.hint)


class Calibration(BoxCase):
    def swatches(self, chart, noise=0.6):
        rng = np.random.default_rng(4)
        real = {t.id: perturbed(t, rng) for t in self.station.chosen().tubes}
        out = []
        for c in chart.cells:
            lab = layer_lab(*spectra([real[i] for i, _ in c.parts], [n for _, n in c.parts])) + rng.normal(0, noise, 3)
            out.append(Swatch(c.label, dict(c.parts), (float(lab[0]), float(lab[1]), float(lab[2]))))
        return out

    def earth_chart(self):
        self.station.take_palette("four-tube-earth")
        return self.page("Charts").chart

    def test_from_a_file_to_strings(self):
        self.demo()
        chart = self.earth_chart()
        page = self.page("Calibrate")
        swatches = self.swatches(chart)
        swatches[7] = replace(swatches[7], lab=swatches[30].lab)
        file = self.folder / "measured.csv"
        lines = [f"{s.label},{s.lab[0]:.3f},{s.lab[1]:.3f},{s.lab[2]:.3f}" for s in swatches]
        file.write_text("\n".join(["label,lab_l,lab_a,lab_b", *lines]))
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(file), "")):
            self.click(page.file)
        self.assertEqual(len(page.swatches), len(swatches))
        self.click(page.fit_button)
        self.wait(lambda: page.found is not None, 60)
        self.assertLess(page.found.after, page.found.before / 2)
        self.assertIn(swatches[7].label, page.result.text())
        self.click(page.keep_button)
        self.settle()
        own = self.keeper.box.tubes
        self.assertEqual(len(own), 4)
        self.assertTrue(all(t.using == 0 for t in own))
        self.assertEqual(self.station.chosen().name, "My four-tube earth")
        self.click(self.station.use)
        self.assertEqual(self.studio.document.mix.laid.palette.id, self.station.palette_id)
        self.window.go_to("Mix")
        self.settle()
        self.assertTrue(self.studio.strings_ready())
        self.assertIn("your own calibrated tubes", self.window.mix.trust.text())
        path = self.folder / "mine.ochre"
        self.assertEqual(self.studio.save(path), "")
        # Versions: back to the generic figures, and the picture may follow.
        self.window.go_to("Paint box")
        tubes = self.page("Tubes")
        tubes.which.setCurrentIndex(0)
        tubes.refresh()
        tubes.choose(own[1].id)
        self.assertEqual(tubes.figures.count(), 2)
        tubes.figures.setCurrentIndex(0)
        tubes.figures.activated.emit(0)
        self.assertEqual(self.keeper.box.tubes[1].using, -1)
        self.window.go_to("Mix")
        self.assertTrue(self.window.mix.renew.isVisible())
        self.click(self.window.mix.renew)
        self.assertFalse(self.window.mix.renew.isVisible())
        self.assertEqual(self.studio.document.mix.laid.tubes[1].using, -1)

    def test_a_project_opens_where_the_box_is_not(self):
        self.demo()
        tube = OwnTube(id="own-blue", name="Far blue", parts=(Part(pigment="ultramarine-blue"),))
        self.keeper.change("Add", self.keeper.box.with_tube(tube))
        self.station.take_palette("four-tube-earth")
        page = self.page("Palettes")
        page.copy_as("With blue")
        page.lay_on("own-blue")
        self.station.use_it()
        path = self.folder / "there.ochre"
        self.assertEqual(self.studio.save(path), "")
        self.keeper.change("Empty", type(self.keeper.box)())
        self.window.filing.open(path, asked=True)
        self.settle()
        self.assertEqual(self.studio.document.mix.chosen().tube("own-blue").name, "Far blue")
        self.window.go_to("Mix")
        self.settle()
        self.assertIn("this picture's", self.window.mix.palette_box.currentText())
        self.assertTrue(self.studio.document.mixed.strings)
        self.window.go_to("Block in")
        self.settle()
        self.assertTrue(self.window.block_in.pdf)

    def test_swatch_by_swatch(self):
        self.earth_chart()
        page = self.page("Calibrate")
        page.mixture.setText("b4")
        page.colour.setText("lab 60 30 12")
        self.click(page.add_button)
        page.mixture.setText("ivory-black:1 titanium-white:5")
        page.colour.setText("#808080")
        self.click(page.add_button)
        self.assertEqual([s.label for s in page.swatches], ["B4", "ivory-black:1 titanium-white:5"])
        for mixture, colour, words in (
            ("viridian:1", "#808080", "no tube of this palette"), ("ivory-black:0", "#808080", "above 0"),
            ("", "#808080", "mixed of"), ("B4", "nothing", "not a colour"),
        ):  # fmt: skip
            page.mixture.setText(mixture)
            page.colour.setText(colour)
            page.add_typed()
            self.assertIn(words, self.window.last_told)
        page.mixture.setText("B4")
        page.add_note()
        self.assertIn("note", self.window.last_told)
        self.assertEqual(len(page.swatches), 2)
        self.station.take_palette("prismatic")
        self.assertEqual(page.swatches, [])
        self.station.take_palette("four-tube-earth")
        self.assertEqual(len(page.swatches), 2, "what was gathered for a palette is not lost by a look at another")
        self.click(page.clear_button)
        self.assertEqual(page.swatches, [])

    def test_from_a_photo(self):
        chart = self.earth_chart()
        page = self.page("Calibrate")
        sheet, scale = np.full((297 * 4, 210 * 4, 3), 0.75), 4
        dialog_page = None
        from ochre_stone.core.paint.chartpage import pages

        dialog_page = pages(chart)[0]
        for c, box in dialog_page.cells:
            y, x = int(box.y * scale), int(box.x * scale)
            sheet[y : y + int(box.height * scale), x : x + int(box.width * scale)] = lab_to_linear(np.array(c.lab))
        sheet[20:90, 20:120] = 0.18
        light = np.array([0.85, 0.8, 0.6])
        file = self.folder / "painted.png"
        Image.fromarray(linear_to_code(np.clip(sheet * light, 0, 1))).save(file)
        dialog = page.dialog(load(file))
        dialog.show()
        self.addCleanup(dialog.close)
        self.assertFalse(dialog.done_button.isEnabled())
        for x, y in dialog_page.corners:
            self.click(dialog.easel, dialog.easel.to_widget(x * scale, y * scale))
        self.assertTrue(dialog.done_button.isEnabled())
        self.click(dialog.card)
        self.assertEqual(dialog.easel.tool, Tool("card", 1, 21))
        self.click(dialog.easel, dialog.easel.to_widget(70, 55))
        self.assertIn("grey card", dialog.says.text())
        self.click(dialog.done_button)
        self.wait(lambda: bool(dialog.swatches))
        cells = {c.label: c for c in chart.cells}
        off = [float(ciede2000(s.lab, cells[s.label].lab)) for s in dialog.swatches]
        self.assertLess(np.median(off), 1.2)
        self.assertGreater(len(off), 50)


class OtherWays(BoxCase):
    def test_mix_offers_the_best_of_each_kind(self):
        self.demo()
        self.window.go_to("Mix")
        self.settle()
        mix = self.window.mix
        texts = [mix.others.item(i).text() for i in range(mix.others.count())]
        self.assertTrue(any(t.startswith(("Nothing that hurts", "Without black", "Fewest", "Least white", "Steadiest"))
                            for t in texts), texts)  # fmt: skip
        kinds = [r.kind for r in mix._other_ways(mix._found()[1])]
        leaf = next(i for i, k in enumerate(kinds) if k)
        pile = next(p for s in self.studio.document.mixed.strings for p in s.piles
                    if not any(i.id == p.id for q in s.piles for i in q.recipe.ingredients))  # fmt: skip
        mix.choose(pile.id)
        self.settle()
        wanted = mix._other_ways(mix._found()[1])[0]
        mix.others.setCurrentRow(0)
        self.click(mix.take)
        self.assertEqual(mix._found()[1].recipe.ingredients, wanted.ingredients)
        self.assertGreaterEqual(leaf, 0)
        used = {t.id for p in mix._found()[0].piles for t in p.recipe.tints}
        self.assertEqual(used, {t.id for t in mix._found()[0].tints})

    def test_the_order_of_judging_and_the_way_to_reach(self):
        self.demo()
        self.window.go_to("Mix")
        self.settle()
        mix = self.window.mix
        mix.order.setCurrentIndex(mix.order.findData("even"))
        mix.order.activated.emit(mix.order.currentIndex())
        self.assertEqual(self.studio.document.mix.order, "even")
        self.assertFalse(self.studio.strings_ready())
        self.settle()
        self.assertTrue(self.studio.strings_ready())
        self.click(mix.reach)
        self.assertIs(self.window.station, self.station)
        self.assertEqual(self.station.pages_.here, "Reach")
