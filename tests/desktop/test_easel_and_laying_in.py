"""At the easel, and Block in: one pile at a time in huge type; the masses laid in; the sheet as SVG and PNG."""

import xml.etree.ElementTree as ET
from unittest import mock

import numpy as np
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QFileDialog

from ochre_stone.core.document.document import Mixed
from ochre_stone.core.masses.laying import LAYINGS, order
from ochre_stone.core.mixing.correcting.words import WORDS
from ochre_stone.core.planning.blockin import block_in
from ochre_stone.core.planning.blocking import pile_order
from ochre_stone.core.planning.mending import last_reading, put_since
from ochre_stone.desktop.window.awake import Awake
from ochre_stone.desktop.window.easelpicture import SCENES
from tests.desktop.helpers import WindowCase
from tests.support.made import pdf_pages


class EaselCase(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_small()


class AtTheEasel(EaselCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Mix")
        self.settle()
        self.key(Qt.Key.Key_F11)
        self.page = self.window.easel_page
        self.addCleanup(self.page.close)

    def shown_keys(self):
        return [k.text() for row in self.page.keys for k in row if k.isVisible()]

    def test_buttons_by_tab_are_named_and_leave_the_one_key_alone(self):
        """They were painted: nothing could reach them but the mouse."""
        first, second = self.page.keys[0][:2]
        self.key(Qt.Key.Key_Tab, widget=self.page)
        self.assertIs(self.page.focusWidget(), first)
        self.key(Qt.Key.Key_Tab, widget=first)
        self.assertIs(self.page.focusWidget(), second)
        self.key(Qt.Key.Key_Space, widget=second)
        self.assertEqual(self.page.step, 1)
        self.key(Qt.Key.Key_Left, widget=second)
        self.assertEqual(self.page.step, 0)
        self.assertEqual(second.accessibleName(), "next")
        self.page.setFocus()
        self.click(second)
        self.assertIs(self.page.focusWidget(), self.page)
        self.key(Qt.Key.Key_O, widget=self.page)
        word = self.page.keys[1][0]
        self.key(Qt.Key.Key_1, widget=self.page)
        self.assertEqual(word.accessibleName(), "too light, 1 of 3")

    def test_one_key_shows_where_the_pile_goes_the_block_in_and_what_is_missing(self):
        page, picture = self.page, self.page.picture
        seen, images = [], []
        for _ in SCENES:
            seen.append(picture.scene)
            images.append(page.grab().toImage())
            self.key(Qt.Key.Key_K, widget=page)
            self.settle()
        self.assertEqual(tuple(seen), SCENES)
        self.assertEqual(picture.scene, "", "round to the recipe")
        self.assertTrue(all(a != b for k, a in enumerate(images) for b in images[:k]), "each looks different")
        self.click(page.keys[0][6])
        self.settle()
        self.assertIn("% of the picture", page.lines()[1])
        before = self.window.session.piles.in_hand
        self.key(Qt.Key.Key_Space, widget=page)
        self.assertNotEqual(self.window.session.piles.in_hand, before, "the next pile, and where it goes")
        self.key(Qt.Key.Key_K, widget=page)
        self.settle()
        self.assertIn(self.window.session.laid.found.figures.words, page.lines()[1])
        self.key(Qt.Key.Key_O, widget=page)
        self.assertEqual(picture.scene, "", "what is said is said of the pile")

    def test_without_a_picture_the_key_says_that_there_is_none(self):
        with mock.patch.object(self.window.studio, "picture", None):
            self.page._shown()
            key = self.page.keys[0][6]
            self.assertFalse(key.isEnabled())
            self.assertIn("there is none", key.accessibleName())
            self.key(Qt.Key.Key_K, widget=self.page)
            self.assertEqual(self.page.picture.scene, "")

    def test_laid_in_pile_by_pile_with_the_one_key(self):
        page, picture = self.page, self.page.picture
        while picture.scene != "laying":
            page.next_picture()
        self.settle()
        stages = self.window.session.laying.stages
        self.assertIn("the bare ground", page.lines()[0])
        for k in (1, 2):
            self.key(Qt.Key.Key_Space, widget=page)
            self.settle()
            self.assertIn(f"{k} of {len(stages) - 1}: {stages[k].name}", page.lines()[0])
        self.assertEqual(page.lines()[1], stages[2].words)
        self.key(Qt.Key.Key_Left, widget=page)
        self.assertEqual(picture.stage, 1)
        page.close()
        self.assertEqual(picture.scene, "")

    def test_one_key_goes_through_everything(self):
        order = self.page.piles.order()
        self.window.session.piles.choose(order[0].id)
        for p in order[:4]:
            self.assertEqual(self.page.pile().id, p.id)
            for k in range(len(self.page.steps()) + 1):
                self.assertEqual(self.page.step, k)
                self.key(Qt.Key.Key_Space, widget=self.page)
        self.key(Qt.Key.Key_PageUp, widget=self.page)  # a foot switch sends these
        self.assertEqual(self.page.pile().id, order[3].id)
        self.key(Qt.Key.Key_PageDown, widget=self.page)
        self.assertEqual(self.page.step, 1)

    def test_what_is_said_is_what_is_planned(self):
        p = self.page.pile()
        said = self.page.accessibleName()
        for item in p.recipe.ingredients:
            self.assertIn(item.name, said)
        self.page.resize(1000, 700)
        self.page.grab()
        names = ["previous", "next", "begin", "too …", "read", "all piles", "picture", "done"]
        self.assertEqual(self.shown_keys(), names)
        self.click(self.page.keys[0][1])
        self.assertEqual(self.page.step, 1)
        self.click(self.page.keys[0][0])
        self.assertEqual(self.page.step, 0)

    def test_several_words_by_keys_then_put_in(self):
        p = self.page.pile()
        self.key(Qt.Key.Key_O, widget=self.page)
        self.page.grab()
        self.assertEqual(self.shown_keys(), [*list(WORDS)[:7], "back", *list(WORDS)[7:], "say so"])
        self.key(Qt.Key.Key_1, widget=self.page)
        self.key(Qt.Key.Key_1, widget=self.page)
        self.key(Qt.Key.Key_W, widget=self.page)
        self.page.grab()
        self.assertIn("clearly too light, a little too warm", self.page.accessibleName())
        self.key(Qt.Key.Key_Space, widget=self.page)
        self.wait(lambda: self.page.advice is not None)
        self.settle()
        self.assertEqual(last_reading(self.window.studio.document, p.id).said, "clearly too light, a little too warm")
        self.assertIn("Add", self.page.accessibleName())
        self.assertTrue(self.page.accessibleName().endswith(self.page.why()))
        self.assertTrue(self.page.why().startswith("Too light: "), self.page.why())
        self.assertNotIn("Too light", " ".join(self.page.lines()), "the dose stands alone in large type")
        self.page.grab()
        self.key(Qt.Key.Key_Space, widget=self.page)
        self.assertIsNone(self.page.advice)
        self.assertEqual(self.page.why(), "")
        held = put_since(self.window.studio.document, p.id)
        self.assertGreater(len(held.doses), len(last_reading(self.window.studio.document, p.id).doses))
        self.key(Qt.Key.Key_O, widget=self.page)
        self.key(Qt.Key.Key_K, widget=self.page)
        self.key(Qt.Key.Key_Return, widget=self.page)
        self.wait(lambda: self.page.advice is not None)
        self.assertEqual(last_reading(self.window.studio.document, p.id).doses, held.doses)
        self.window.studio.undo.undo()
        self.assertEqual(len(self.window.studio.document.readings), 1)

    def test_the_reader_and_the_photo_of_all_piles(self):
        self.key(Qt.Key.Key_R, widget=self.page)
        self.assertIn("No reader", self.window.last_told)
        reader = self.window.session.reader
        reader.connect_to("", ("--warm-up", "0"))
        self.wait(lambda: reader.connected)
        self.settle()
        reader.calibrate()
        self.settle()
        self.key(Qt.Key.Key_R, widget=self.page)
        self.wait(lambda: self.page.advice is not None)
        self.assertEqual(self.window.studio.document.readings[0].how, "reader")
        self.key(Qt.Key.Key_Space, widget=self.page)
        self.key(Qt.Key.Key_P, widget=self.page)
        dialog = next(d for d in self.page.findChildren(QDialog) if d.isVisible())
        self.assertIn("one photo", dialog.windowTitle())
        dialog.close()

    def test_by_mouse_and_taken_back(self):
        p = self.page.pile()
        self.page.resize(1000, 700)

        def press(name):
            self.click(next(k for row in self.page.keys for k in row if k.isVisible() and k.text() == name))

        press("too …")
        press("too muddy")
        press("too muddy")
        press("back")
        self.assertFalse(self.page.saying)
        press("too …")
        self.assertEqual(self.page.work.saying.pairs(), [])  # nothing is kept of what was taken back
        press("say so")
        self.assertEqual(self.window.studio.document.readings, ())
        press("too …")
        press("too muddy")
        press("say so")
        self.wait(lambda: self.page.advice is not None)
        self.assertEqual(last_reading(self.window.studio.document, p.id).said, "a little too muddy")

    def test_timer_and_leaving(self):
        self.key(Qt.Key.Key_T, widget=self.page)
        self.assertTrue(self.page.timing)
        self.page.grab()
        self.key(Qt.Key.Key_T, widget=self.page)
        self.assertFalse(self.page.timing)
        self.key(Qt.Key.Key_Escape, widget=self.page)
        self.assertFalse(self.page.isVisible())

    def test_letters_are_two_centimetres_where_they_fit(self):
        """Read from the picture: the height of the capitals on the screen that the page is on."""
        self.page.resize(1600, 1000)
        p = min(self.page.piles.order(), key=lambda q: len(q.recipe.ingredients))
        self.window.session.piles.choose(p.id)
        shot = self.page.grab().toImage()
        ground = shot.pixelColor(shot.width() - 2, 2).lightness()
        column = np.array(
            [[abs(shot.pixelColor(x, y).lightness() - ground) for x in range(840, 1560, 2)] for y in range(160, 900, 2)]
        )
        inked = (column > 60).any(axis=1)
        runs = np.diff(np.flatnonzero(np.diff(np.concatenate([[0], inked.view(np.int8), [0]]))))[::2] * 2
        dots = self.page.screen().physicalDotsPerInch()
        self.assertGreater(runs.max(), 0.5 * 2.0 / 2.54 * dots)


class KeptAwake(EaselCase):
    def test_a_service_is_asked_and_let_go(self):
        asked = []

        class Service:
            def call(self, name, *words):
                asked.append((name, *words))
                return self

            def arguments(self):
                return [7]

        with mock.patch("ochre_stone.desktop.window.awake._interface", return_value=Service()):
            awake = Awake()
            self.assertTrue(awake.hold())
            self.assertTrue(awake.hold())
            awake.let_go()
        self.assertEqual([a[0] for a in asked], ["Inhibit", "UnInhibit"])
        self.assertEqual(asked[1][1], 7)

    def test_no_service_no_harm(self):
        with mock.patch("ochre_stone.desktop.window.awake._interface", return_value=None):
            awake = Awake()
            self.assertFalse(awake.hold())
            awake.let_go()


class LayIn(EaselCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Block in", "Sheet")
        self.settle()
        self.block = self.window.at("Block in")
        self.turn(self.block.pages, "Lay in")
        self.settle()
        self.lay = self.block.lay_page

    def test_each_school_lays_all_piles_in_its_own_order(self):
        found = block_in(self.window.studio.picture, self.window.studio.document)
        names = self.window.session.piles.names()
        for school in LAYINGS:
            self.lay.school.setCurrentIndex(self.lay.school.findData(school))
            self.lay.school.activated.emit(0)
            self.settle()
            laid = [s.mass for s in self.lay.stages[1:]]
            self.assertEqual(laid, pile_order(found, school), school)
            self.assertAlmostEqual(self.lay.stages[-1].covered, 1.0, places=3)
            self.assertLessEqual({s.name for s in self.lay.stages[1:]}, set(names.values()))
        self.lay.slider.setValue(2)
        self.assertIn(self.lay.stages[2].name, self.lay.step.text())
        self.assertIn("off by", self.lay.step.text())

    def test_by_itself_the_ground_decides(self):
        lay, canvas = self.lay, self.window.studio.document.canvas
        self.assertEqual((canvas.laying, canvas.school), ("", "dark"), "white: dark to light")
        self.assertIn("Dark to light here", lay.reason.text())
        white = [s.mass for s in lay.stages]
        lay.ground.setCurrentIndex(3)
        lay.ground.activated.emit(3)
        self.settle()
        self.assertEqual(self.window.studio.document.canvas.school, "large", "toned: the largest first")
        self.assertIn("Largest first here", lay.reason.text())
        self.assertNotEqual([s.mass for s in lay.stages], white)
        self.window.studio.adjust("canvas", "Mine", laying="light")
        self.assertEqual(self.window.studio.document.canvas.school, "light", "the painter's school stays")

    def test_a_thickness_that_is_being_set_stays_under_the_hand(self):
        box = self.lay.thick.itemAt(1).widget()
        for mm in (0.3, 0.35):
            box.setValue(mm)
            self.settle()
            self.assertEqual(dict(self.window.studio.document.canvas.thick)[0], mm)
            self.assertIs(self.lay.thick.itemAt(1).widget(), box, "no other box takes its place")

    def test_without_a_plan_the_masses_are_laid_in(self):
        studio = self.window.studio
        studio.change("No notes", studio.document.model_copy(update={"notes": (), "mixed": Mixed()}))
        self.settle()
        laid = [s.mass for s in self.lay.stages[1:]]
        self.assertEqual(laid, order(studio.masses.masses, studio.document.canvas.school))

    def test_forward_and_back_with_why_it_looks_wrong(self):
        self.lay.slider.setValue(1)
        self.assertIn("darker than it is", self.lay.words.text())  # a dark on a white ground
        bare = self.lay.stages[0].image
        self.assertEqual(len(np.unique(bare.reshape(-1, 3), axis=0)), 1)
        self.lay.ground.setCurrentIndex(2)
        self.lay.ground.activated.emit(2)
        self.settle()
        self.assertNotEqual(bare[0, 0].tolist(), self.lay.stages[0].image[0, 0].tolist())
        self.lay.slider.setValue(len(self.lay.stages) - 1)
        self.assertIn("compare", self.lay.words.text())

    def test_play_and_stop(self):
        self.lay.slider.setValue(0)
        self.lay._timer.setInterval(10)
        self.click(self.lay.play)
        self.wait(lambda: self.lay.slider.value() == self.lay.slider.maximum())
        self.assertEqual(self.lay.play.text(), "Play")
        self.click(self.lay.play)
        self.assertEqual(self.lay.play.text(), "Stop")
        self.window.go_to("Mix")
        self.assertFalse(self.lay._timer.isActive())

    def test_a_thick_mass_takes_more_paint(self):
        self.turn(self.block.pages, "Sheet")
        self.settle()
        thin = self.block.sheet_page.sheet.amounts.total
        self.block.sheet_page.set_canvas("Thick", thick=((0, 1.0), (1, 1.0), (2, 1.0)))
        self.settle()
        self.assertGreater(self.block.sheet_page.sheet.amounts.total, thin * 1.3)
        self.window.studio.undo.undo()
        self.settle()
        self.assertAlmostEqual(self.block.sheet_page.sheet.amounts.total, thin, places=2)

    def test_nothing_is_cut_at_the_smallest_size(self):
        self.window.resize(1024, 700)
        for name in self.block.pages.names:
            self.turn(self.block.pages, name)
            self.settle()
            scroll = self.window.stage.trays.currentWidget()
            self.assertLessEqual(scroll.widget().minimumSizeHint().width(), scroll.viewport().width() + 1, name)


class Sheets(EaselCase):
    def test_pdf_svg_and_png_on_a3(self):
        w = self.window
        w.go_to("Block in", "Sheet")
        self.settle()
        w.at("Block in").sheet_page.paper.setCurrentText("A3")
        w.at("Block in").sheet_page.paper.activated.emit(1)
        self.settle()
        for suffix in ("pdf", "svg", "png"):
            out = self.folder / f"sheet.{suffix}"
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(out), "")):
                self.click(w.at("Block in").sheet_page.save)
            self.settle()
        printed = pdf_pages(self.folder / "sheet.pdf")
        pages = sorted(self.folder.glob("sheet*.svg"))
        self.assertGreater(len(pages), 1)
        words = "".join("".join(ET.parse(p).getroot().itertext()) for p in pages)
        for said in ("Small", "Portrait of ten", "In this order", "On the palette", "Cautions", "value"):
            self.assertIn(said, words)
            self.assertTrue(any(said in p for p in printed), said)
        self.assertEqual(len(printed), len(pages))
        with Image.open(min(self.folder.glob("sheet*.png"))) as page:
            self.assertAlmostEqual(page.height / page.width, 420 / 297, delta=0.01)
            self.assertAlmostEqual(page.info["dpi"][0], 150, delta=1)

    def test_another_ending_is_refused_in_one_sentence(self):
        w = self.window
        w.go_to("Block in", "Sheet")
        self.settle()
        self.assertFalse(w.session.exports.sheet(self.folder / "sheet.doc", None, b""))
        self.assertIn("choose .pdf, .svg or .png", self.complaint())
