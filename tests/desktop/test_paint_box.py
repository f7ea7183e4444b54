"""The Paint box by mouse and keys: tubes, palettes, reach, charts, calibration, and what Mix makes of them."""

from unittest import mock

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog

from ochre_stone.core.paint.box import OwnTube, PigmentPart
from ochre_stone.core.paint.palettes import MOST_TUBES
from ochre_stone.core.paint.tubes import all_tubes
from ochre_stone.core.store import boxfile
from ochre_stone.desktop.stations.paint_box.dialog import TubeDialog
from tests.desktop.helpers import WindowCase


class BoxCase(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.station = self.window.at("Paint box")
        self.keeper, self.studio = self.window.session.keeper, self.window.studio
        self.key(Qt.Key.Key_7, Qt.KeyboardModifier.ControlModifier)
        self.assertIs(self.window.station, self.station)

    def page(self, name: str):
        self.turn(self.station.pages, name)
        self.settle()
        return getattr(self.station, f"{name.lower()}_page")

    def small(self) -> None:
        self.open_small()
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


class OnePalette(BoxCase):
    def test_another_palette_is_looked_at_here_only(self):
        """Reach, charts and Mix look at the picture's palette; another can be tried, and is told from it."""
        self.small()
        palettes, mix = self.window.session.palettes, self.studio.document.mix
        self.page("Charts")
        self.assertEqual((palettes.chosen().id, self.station.use.isVisible()), (mix.palette, False))
        self.station.choice.setCurrentIndex(self.station.choice.findData("prismatic"))
        self.station.choice.activated.emit(0)
        self.settle()
        self.assertTrue(self.station.use.isVisible())
        self.assertIn(mix.chosen().name, self.station.use.toolTip())
        self.assertEqual(self.station.charts_page.chart.palette.id, "prismatic")
        self.window.go_to("Mix")
        self.window.go_to("Paint box")
        self.settle()
        self.assertEqual(palettes.chosen().id, mix.palette)
        palettes.use("many-blues")
        self.settle()
        self.page("Reach")
        self.assertEqual((palettes.chosen().id, self.station.use.isVisible()), ("many-blues", False))


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
        start = OwnTube(id="own-x", name="X", parts=(PigmentPart(pigment="ivory-black"),))
        dialog = TubeDialog(self.window, start, "X")
        for field, value, words in (
            (dialog.pigments, "moon-blue", "moon-blue"),
            (dialog.opened, "in May", "day"),
            (dialog.name, " ", "Name"),
        ):
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
        keeper.change(
            "Add", keeper.box.with_tube(OwnTube(id="own-x", name="X", parts=(PigmentPart(pigment="ivory-black"),)))
        )
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
        self.assertEqual(self.window.session.palettes.chosen().name, "Morning")
        page.choose_tube("raw-umber")
        self.click(page.up)
        self.assertEqual(self.window.session.palettes.chosen().paints[5:7], ("raw-umber", "burnt-sienna"))
        self.click(page.off)
        self.assertNotIn("raw-umber", self.window.session.palettes.chosen().paints)
        page.more.setCurrentIndex(page.more.findData("cobalt-blue"))
        self.click(page.lay)
        self.assertEqual(self.window.session.palettes.chosen().paints[-1], "cobalt-blue")
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

    def test_a_palette_is_typed(self):
        page = self.page("Palettes")
        typed = "white, yellow ochre, light red, french ultramarine, moonstone"
        with mock.patch.object(QInputDialog, "getText", return_value=(typed, True)):
            self.click(page.new)
        chosen = self.window.session.palettes.chosen()
        self.assertEqual(chosen.paints, ("titanium-white", "yellow-ochre", "venetian-red", "ultramarine-blue"))
        self.assertIn("moonstone", self.complaint())
        self.assertEqual(chosen.name, "My ochre, venetian / light red, ultramarine")
        page.more.setCurrentText("terre verte")
        self.click(page.lay)
        last = self.window.session.palettes.chosen().paints[-1]
        self.assertEqual(last, "green-earth", "what was typed, not the first of the list")
        page.more.setCurrentText("cadmium")
        self.click(page.lay)
        self.assertIn("do you mean", self.window.last_told)
        self.assertEqual(len(self.window.session.palettes.chosen().paints), 5)
        page.new_of("moonstone")
        self.assertIn("Not understood", self.complaint())
        self.assertEqual(len(self.keeper.box.palettes), 1)
        page.new_of(", ".join(t.name for t in list(all_tubes().values())[: MOST_TUBES + 2] if "," not in t.name))
        self.assertIn(f"first {MOST_TUBES}", self.complaint())

    def test_letters_take_the_place_of_the_name_that_stood_there_and_enter_lays_on(self):
        page = self.page("Palettes")
        page.new_of("titanium white, yellow ochre")
        line = page.more.lineEdit()
        page.more.setCurrentIndex(page.more.findData("cobalt-blue"))
        QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=line.rect().center())
        self.app.processEvents()
        QTest.keyClicks(self.app.focusWidget(), "terre verte")
        self.assertEqual(line.text(), "terre verte")
        QTest.keyClick(line, Qt.Key.Key_Return)
        self.assertEqual(self.window.session.palettes.chosen().paints[-1], "green-earth")
        self.assertIn("Green earth lies on", self.window.last_told)
        for nothing in ("", "   "):
            page.more.setCurrentText(nothing)
            self.click(page.lay)
            self.assertEqual(self.window.last_told, "Type the name of one tube.")

    def test_roles_and_what_does_what(self):
        page = self.page("Palettes")
        self.window.session.palettes.take("four-tube-earth")
        self.assertEqual(page.list.item(1).text(), "ochre: light, warm")
        page.base.setCurrentIndex(page.base.findData("cadmium-red"))
        page.base.activated.emit(page.base.currentIndex())
        self.assertIn("<b>Lightens and cools</b>: white", page.four.text())
        places = page.panel.places()
        self.assertEqual(len(places), 4)
        self.assertTrue(all(not a.intersects(b) for i, a in enumerate(places) for b in places[:i]))
        self.window.resize(1024, 700)
        for name in ("portrait-ten", "landscape-greens", "many-blues"):
            self.window.session.palettes.take(name)
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
            self.settle()
            self.assertGreater(out.stat().st_size, 500)


class Reach(BoxCase):
    def test_notes_outside_what_would_help_and_the_fewest_tubes(self):
        self.small()
        page = self.page("Reach")
        self.assertEqual(len(page.slices), 17)
        outside = [r for r in page.found if not r.inside]
        self.assertEqual(page.list.count(), len(outside))
        self.assertIn(f"{9 - len(outside)} of 9 notes in reach", page.says.text())
        page.list.itemActivated.emit(page.list.item(0))
        worst = max(page.found, key=lambda r: r.far)
        self.assertAlmostEqual(page.value, min(max(float(worst.lab[0]) / 10, 1), 9), delta=0.8)
        before = page.value
        self.key(Qt.Key.Key_Right, widget=page.panel)
        self.assertEqual(page.value, min(before + 0.5, 9.0))
        self.click(page.help)
        self.wait(lambda: bool(page.helps.text()), 60)
        self.assertIn(f"of {len(outside)} in", page.helps.text())
        fewest = self.page("Fewest")
        keep = next(fewest.keep.item(i) for i in range(fewest.keep.count()) if fewest.keep.item(i).text() == "Viridian")
        keep.setCheckState(Qt.CheckState.Checked)
        self.click(fewest.find)
        self.wait(lambda: fewest.smallest is not None, 90)
        self.assertIn("viridian", [t.id for t in fewest.smallest.tubes])
        self.assertTrue(fewest.smallest.proven)
        self.assertIn("fewer cannot", fewest.answer.text())
        count = len(fewest.smallest.tubes)
        self.click(fewest.take)
        self.settle()
        self.assertEqual(len(self.window.session.palettes.chosen().paints), count)
        self.assertGreaterEqual(sum(r.inside for r in page.found), 9 - len(outside) - 1)

    def test_where_nothing_can_be_reached_it_says_so(self):
        self.small()
        d = self.studio.document
        vivid = d.notes[0].model_copy(update={"lab": (60.0, -90.0, 70.0)})
        self.studio.change("One vivid green", d.model_copy(update={"notes": (vivid,)}))
        page = self.page("Fewest")
        self.click(page.find)
        self.wait(lambda: page.smallest is not None, 60)
        self.assertIn("None of the notes", page.answer.text())
        self.assertFalse(page.take.isVisible())

    def test_without_notes_it_says_so(self):
        page = self.page("Reach")
        self.assertIn("Take notes", page.says.text())
        self.assertFalse(self.page("Fewest").find.isEnabled())
        self.assertEqual(len(page.slices), 17)


class Charts(BoxCase):
    def test_made_walked_found_and_saved(self):
        self.small()
        self.window.session.palettes.take("four-tube-earth")
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
        self.assertEqual((page.chart.columns, page.chart.values), (9, ()))
        self.click(page.same)
        self.settle()
        self.assertEqual(len(page.chart.values), 9)
        self.click(page.kinds["darkened"])
        self.settle()
        self.assertIn("darkened", {r.kind for r in page.chart.rows})
        for box in page.kinds.values():
            if box.isChecked():
                self.key(Qt.Key.Key_Space, widget=box)
        self.settle()
        self.assertIsNone(page.chart)
        self.assertIn("no rows", page.view.hint)
