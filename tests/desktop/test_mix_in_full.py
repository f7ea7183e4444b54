"""Mix in full: correcting a pile, building strings, the plan, the palette, loose mixing; with real clicks and keys."""

import xml.etree.ElementTree as ET
from unittest import mock

import numpy as np
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.choices import HandChoice
from ochre_stone.core.mixing.recipe.dose import Dose, contents
from ochre_stone.core.mixing.recipe.finding import FARTHEST
from ochre_stone.core.mixing.strings.schools import METHODS
from ochre_stone.core.paint.box import OwnPalette, OwnTube, PigmentPart
from ochre_stone.core.paint.optics import reflectance_to_lab
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.core.planning.mending import begun, last_reading, put
from ochre_stone.core.planning.planning import belief
from ochre_stone.core.planning.steps import bases_before
from ochre_stone.desktop.stations.mix.hand import HandDialog
from ochre_stone.devices.madeup import painted_patch
from tests.desktop.helpers import WindowCase
from tests.support.made import pdf_pages


class MixCase(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_project()
        self.window.go_to("Mix")
        self.settle()
        self.mix = self.window.at("Mix")
        self.studio = self.window.studio

    def open_project(self):
        self.open_small()

    def page(self, name):
        self.turn(self.mix.pages, name)
        self.settle()
        mix = self.mix
        pages = {
            "Pile": mix.pile_page, "Ways": mix.ways_page, "Correct": mix.correct_page, "String": mix.string_page,
            "All": mix.all_page, "Plan": mix.plan_page, "Palette": mix.board_page, "Loose": mix.loose_page,
            "Bench": mix.bench_page,
        }  # fmt: skip
        return pages[name]

    def take(self, pile_id):
        self.window.session.piles.choose(pile_id)
        self.settle()
        return self.window.session.piles.found()[1]


class Pile(MixCase):
    def test_order_of_adding_and_where_it_comes_from(self):
        page = self.page("Pile")
        p = self.take("skin-2")
        said = page.adding.accessibleDescription()
        for item in p.recipe.ingredients:
            self.assertIn(item.name, said)
        self.assertIn("from tubes", page.head.text())
        on = next(
            q
            for s in self.studio.document.mixed.strings
            for q in s.piles
            if any(i.id in self.window.session.piles.names() for i in q.recipe.ingredients)
        )
        self.take(on.id)
        self.assertIn("a tweak", page.head.text())

    def test_a_chosen_recipe_outlives_new_strings_until_it_is_let_go(self):
        page = self.page("Ways")
        p = self.take("skin-3")
        wanted = page.other_ways(p)[0]
        page.others.setCurrentRow(0)
        self.click(page.take)
        self.settle()
        self.assertTrue(self.window.session.piles.found()[1].pinned)
        self.studio.adjust("mix", "more", most_tubes=5)
        self.settle()
        self.assertEqual(self.window.session.piles.found()[1].recipe.ingredients, wanted.ingredients)
        self.assertTrue(page.loose.isVisible())
        self.click(page.loose)
        self.settle()
        self.assertFalse(self.window.session.piles.found()[1].pinned)
        self.assertFalse(page.loose.isVisible())

    def test_nothing_is_taken_where_nothing_is_marked(self):
        page = self.page("Ways")
        self.take("skin-3")
        page.others.setCurrentRow(-1)
        before = self.studio.document
        self.click(page.take)
        self.assertEqual(self.studio.document, before)
        self.assertIn("Mark one", self.window.last_told)

    def test_other_recipes_are_no_other_colours(self):
        page = self.page("Ways")
        for p in self.window.session.piles.order():
            self.take(p.id)
            for other in page.other_ways(p):
                self.assertLessEqual(other.de00, p.recipe.de00 + FARTHEST)
                self.assertLessEqual(other.by_eye, p.recipe.by_eye + FARTHEST)

    def test_lighter_and_darker_side_by_side(self):
        page = self.page("Ways")
        self.take("skin-2")
        self.assertIn("with white", page.moves.accessibleDescription())
        page.where.setCurrentIndex(page.where.findText("one value darker"))
        page.where.activated.emit(page.where.currentIndex())
        self.settle()
        said = page.moves.accessibleDescription()
        for kind in ("complement", "brown", "black"):
            self.assertIn(f"with {kind}", said)
        self.assertIn("chroma", said)
        self.assertFalse(page.moves.grab().isNull())
        self.assertIn("Step down", page.step.text())

    def test_the_hand_is_shown_and_what_more_parts_would_bring(self):
        page = self.page("Pile")
        p = self.take("skin-2")
        self.assertIn(f"{p.recipe.by_eye:.1f} as mixed by eye", page.result.text())
        self.assertIn("parts would bring", page.result.text())


class Correct(MixCase):
    def test_in_words_value_first_then_undo(self):
        page = self.page("Correct")
        p = self.take("skin-2")
        self.click(page.say)
        self.assertIn("words first", self.window.last_told)
        words = page.words.words
        self.click(words["too light"])
        self.click(words["too dark"])
        self.assertEqual(words["too light"].degree, 0)  # they exclude each other
        self.click(words["too light"])
        self.click(words["too light"])
        self.click(words["too red"])
        self.assertEqual(words["too light"].accessibleName(), "too light, clearly")
        self.assertFalse(page.words.grab().isNull())
        self.click(page.say)
        self.settle()
        held = last_reading(self.studio.document, p.id)
        self.assertEqual((held.how, held.said), ("words", "clearly too light, a little too red"))
        self.assertEqual(dict(held.amounts), contents(begun(self.studio.document, p)))
        self.assertEqual([b.degree for b in words.values() if b.degree], [])
        self.assertTrue(page.advice.isVisible())
        self.assertLess(page.work.answer.correction.de00, page.work.answer.correction.now)
        self.assertLess(page.work.answer.correction.expected[0], held.lab[0])  # it darkens
        self.studio.undo.undo()
        self.settle()
        self.assertEqual(self.studio.document.readings, ())
        self.assertFalse(page.advice.isVisible())

    def test_read_add_read_again_until_it_matches(self):
        """The simulated reader finds piles of tubes that are off: a few additions bring one home, and teach."""
        page = self.page("Correct")
        mixed = self.studio.document.mixed

        def off(p):
            tubes = [mixed.tube(i) for i, _ in p.recipe.shares]
            lab = reflectance_to_lab(painted_patch(tubes, begun(self.studio.document, p), f"{p.id}.0"))
            return float(ciede2000(lab, np.array(p.target.lab)))

        p = self.take(max((q for s in mixed.strings for q in s.piles if q.reachable), key=off).id)
        self.click(page.reader)
        self.assertIn("No reader", self.window.last_told)
        self.window.session.reader.connect_to("", ("--warm-up", "0"))
        self.wait(lambda: self.window.session.reader.connected)
        self.settle()
        self.window.session.reader.calibrate()
        self.settle()
        self.click(page.reader)
        self.settle()
        # A third too much of what colours it goes in.
        strong = max((i for i, _ in p.recipe.shares if not mixed.tube(i).is_white), key=dict(p.recipe.shares).get)
        first = begun(self.studio.document, p)
        slip = (*first, Dose(((strong, 1.0),), contents(first)[strong] / 3, 0.2))
        self.studio.change("A slip", put(self.studio.document, p.id, slip, 0))
        seen = []
        for _ in range(5):
            self.click(page.reader)
            self.settle()
            seen.append(
                float(ciede2000(np.array(last_reading(self.studio.document, p.id).lab), np.array(p.target.lab)))
            )
            if page.work.answer.correction.verdict == "home":
                break
            self.assertTrue(page.done.isVisible())
            self.click(page.done)
            self.assertIn("Mixed in", page.verdict.text())
        self.assertGreater(seen[0], 2.0)
        self.assertLess(seen[-1], 2.0)
        self.assertIn("It matches", page.verdict.text())
        self.assertGreater(abs(belief(self.studio.document).figures).max(), 0.05)
        self.assertTrue(next(q for s in self.studio.document.mixed.strings for q in s.piles if q.id == p.id).pinned)
        self.click(page.forget)
        self.settle()
        self.assertEqual(self.studio.document.readings, ())

    def test_it_matches_goes_on_to_the_next_pile(self):
        page, order = self.page("Correct"), [p.id for p in self.window.session.piles.order()]
        self.take(order[0])
        self.click(page.words.words["too red"])
        self.click(page.fits)
        self.settle()
        self.assertEqual(self.window.session.piles.in_hand, order[1])
        self.assertEqual(page.words.saying.pairs(), [])
        self.assertEqual(self.studio.document.readings, ())
        self.take(order[-1])
        self.click(page.fits)
        self.assertIn("last pile", self.window.last_told)

    def test_half_of_it_is_counted(self):
        page = self.page("Correct")
        p = self.take("skin-3")
        for box, v in zip(page.typed, (p.target.lab[0] + 6, *p.target.lab[1:]), strict=True):
            box.setValue(v)
        self.click(page.type)
        self.settle()
        added = sum(v for _, v in page.work.answer.correction.additions) * page.work.answer.correction.keep
        before = sum(d.volume for d in begun(self.studio.document, p))
        self.click(page.half_done)
        self.click(page.type)
        self.settle()
        now = sum(v for _, v in last_reading(self.studio.document, p.id).amounts)
        self.assertAlmostEqual(now, before * page_keep(page, before, now, added) + added / 2, delta=0.01)

    def test_from_a_photo_with_a_grey_card(self):
        page = self.page("Correct")
        p = self.take("skin-2")
        light = np.array([1.15, 1.0, 0.8]) * 0.8  # warm and dim: the card takes it out
        picture = np.zeros((120, 240, 3))
        picture[:, :120] = 0.18
        picture[:, 120:] = lab_to_linear(np.array([[p.target.lab]]))[0, 0] * 0.9
        file = self.folder / "palette.png"
        Image.fromarray(linear_to_code((picture * light).astype(np.float32))).save(file)
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(file), "")):
            self.click(page.spot)
        self.wait(lambda: page.dialog is not None and page.dialog.isVisible())
        dialog = page.dialog
        self.click(dialog.pile)
        self.assertIn("light first", dialog.says.text())
        self.click(dialog.card)
        self.click(dialog.easel, dialog.easel.to_widget(60, 60))
        self.assertFalse(dialog.take.isEnabled())
        self.click(dialog.easel, dialog.easel.to_widget(180, 60))
        self.assertIn("give or take", dialog.says.text())
        self.assertFalse(dialog.grab().isNull())
        self.click(dialog.take)
        self.settle()
        held = last_reading(self.studio.document, p.id)
        self.assertEqual(held.how, "photo")
        self.assertGreater(held.noise, 1.2)
        expected = np.array(p.target.lab) * [0.9 ** (1 / 3), 0.9 ** (1 / 3), 0.9 ** (1 / 3)]
        expected[0] = (p.target.lab[0] + 16) * 0.9 ** (1 / 3) - 16
        self.assertLess(float(ciede2000(np.array(held.lab), expected)), 2.5)

    def test_readings_teach_the_later_piles_or_not(self):
        first = {p.id: p.recipe.shares for s in self.studio.document.mixed.strings for p in s.piles}
        page = self.page("Correct")
        p = self.take("skin-2")
        L, a, b = p.recipe.lab
        page.work.take_reading((L + 7, a - 3, b - 6), "reader")
        self.settle()
        after = {p.id: p.recipe.shares for s in self.studio.document.mixed.strings for p in s.piles}
        self.assertNotEqual(first, after)
        self.page("All")
        self.click(self.mix.all_page.learn)
        self.settle()
        again = {p.id: p.recipe.shares for s in self.studio.document.mixed.strings for p in s.piles}
        self.assertEqual(first, again)


def page_keep(page, before, now, added):
    """What of the pile was kept: all of it, unless it was cut."""
    return 1.0 if now > before else (now - added / 2) / before


class Strings(MixCase):
    def test_methods_first_pile_and_rules_change_the_plan_and_come_back(self):
        page = self.page("String")
        self.take("skin-2")
        first = self.studio.document
        page.method.setCurrentIndex(page.method.findData("mother"))
        page.method.activated.emit(0)
        self.settle()
        self.assertTrue(page.mother.isVisible())
        page.mother.setCurrentIndex(page.mother.findData("raw-umber"))
        page.mother.activated.emit(0)
        self.settle()
        skin = next(s for s in self.studio.document.mixed.strings if s.id == "skin")
        self.assertEqual(skin.method, "mother")
        self.assertTrue(all("raw-umber" in dict(p.recipe.shares) for p in skin.piles))
        page.first.setCurrentIndex(page.first.findData("lightest"))
        page.first.activated.emit(0)
        self.settle()
        self.assertEqual(self.studio.document.mix.of_string("skin").first, "lightest")
        self.click(page.rule_boxes["ends-quiet"])
        self.settle()
        self.assertFalse(self.studio.document.mix.rule("ends-quiet"))
        while self.studio.undo.canUndo():
            self.studio.undo.undo()
        self.settle()
        self.assertEqual(self.studio.document.mix, first.mix)
        self.assertEqual(self.studio.document.mixed.strings, first.mixed.strings)

    def test_one_neutral_for_all_strings(self):
        page = self.page("String")
        self.take("skin-2")
        page.method.setCurrentIndex(page.method.findData("neutral"))
        page.method.activated.emit(0)
        self.settle()
        self.assertIn("a neutral of white and black", page.about.text())
        self.click(page.all_so)
        self.settle()
        strings = self.studio.document.mixed.strings
        self.assertEqual({s.method for s in strings}, {"neutral"})
        self.assertFalse(page.all_so.isEnabled())
        straight = [p.name for s in strings if s.id == "skin" for p in s.piles if p.recipe.why.startswith("Cleaner")]
        for name in straight:
            self.assertIn(name, page.about.text())
        self.studio.undo.undo()
        self.assertEqual(self.studio.document.mix.of_string("sky").method, "nearest")

    def test_another_mother_colour_is_another_way(self):
        page = self.page("String")
        strings = [{"id": s.id, "method": "mother", "mother": "raw-umber"} for s in self.studio.document.mixed.strings]
        other = [s | {"mother": "yellow-ochre"} if s["id"] == "skin" else s for s in strings]
        for chosen, may in ((strings, False), (other, True)):
            self.studio.adjust("mix", "Mother colours", strings=chosen)
            self.settle()
            self.take("skin-2")
            self.assertEqual(page.all_so.isEnabled(), may)

    def test_two_methods_side_by_side(self):
        page = self.page("String")
        self.take("skin-2")
        page.beside.setCurrentIndex(page.beside.findData("ladder"))
        self.click(page.compare)
        self.settle()
        self.assertTrue(page.rows.isVisible())
        for words in (METHODS["nearest"][0], METHODS["ladder"][0], "of the chroma", "tubes", "mud"):
            self.assertIn(words, page.figures.text())
        self.take("sky-2")
        self.assertFalse(page.rows.isVisible())  # they were another string's


class Plan(MixCase):
    def test_graph_list_and_amounts_agree(self):
        page = self.page("Plan")
        bases = sum(len(made) for made in bases_before(self.studio.document).values())
        self.assertEqual(page.list.count(), 6 + bases)
        self.assertIn("from another", page.words.text())
        self.assertIn("ml in all", page.amounts.text())
        rows = [page.list.item(i) for i in range(page.list.count())]
        self.assertEqual(sum(row.text().startswith("first ") for row in rows), bases)
        page.list.itemClicked.emit(next(row for row in rows if row.text().startswith("5. ")))
        fifth = next(p for s in self.studio.document.mixed.strings for p in s.piles if p.order == 5)
        self.assertEqual(self.window.session.piles.in_hand, fifth.id)
        root = next(i for i in page.view._at if i not in page.view._parent)
        self.click(page.view, page.view.box(root).center())
        self.assertEqual(self.window.session.piles.in_hand, root)
        order = next(p.order for s in self.studio.document.mixed.strings for p in s.piles if p.id == root)
        self.key(Qt.Key.Key_Down, widget=page.view)
        now = next(
            p for s in self.studio.document.mixed.strings for p in s.piles if p.id == self.window.session.piles.in_hand
        )
        self.assertEqual(now.order, order + 1)
        for child, parent in page.view._parent.items():
            self.assertGreater(page.view.box(child).left(), page.view.box(parent).left())

    def test_what_the_box_lacks(self):
        keeper = self.window.session.keeper
        tube = OwnTube(id="own-w", name="White", parts=(PigmentPart(pigment="titanium-white"),), stock_ml=2.0)
        keeper.change("Add", keeper.box.with_tube(tube))
        page = self.page("Plan")
        self.settle()
        page.refresh()
        self.assertIn("white", page.stock.text())
        self.assertIn("short", page.stock.text())

    def test_no_mixing_on(self):
        self.page("All")
        self.mix.all_page.on.setCurrentIndex(2)
        self.mix.all_page.on.activated.emit(2)
        self.settle()
        page = self.page("Plan")
        self.assertIn("Every pile starts from tubes", page.words.text())

    def test_across_families_and_back(self):
        page = self.page("All").on
        self.assertEqual((page.currentData(), self.studio.document.mix.across), ("family", False))
        for index, (mix_on, across) in ((1, (True, True)), (2, (False, False)), (0, (True, False))):
            page.setCurrentIndex(index)
            page.activated.emit(index)
            self.settle()
            mix = self.studio.document.mix
            self.assertEqual((mix.mix_on, mix.across, page.currentIndex()), (mix_on, across, index))
            self.assertTrue(page.currentText())

    def test_your_hand_is_the_plans(self):
        self.page("All").ask_hand()
        dialog = self.mix.all_page.hand.findChild(HandDialog)
        self.addCleanup(dialog.close)
        self.assertEqual(dialog.boxes["dose"].value(), 20)
        dialog.boxes["least_ml"].setValue(0.2)
        dialog.boxes["pile_ml"].setValue(3)
        self.settle()
        hand = self.studio.document.mix.hand
        self.assertEqual((hand.least_ml, hand.pile_ml), (0.2, 3.0))
        for p in self.window.session.piles.order():
            ml = self.studio.document.mixed.branching.ml[p.id]
            whole = sum(i.parts for i in p.recipe.ingredients)
            self.assertGreaterEqual(ml, 3.0)
            self.assertGreaterEqual(min(i.parts for i in p.recipe.ingredients) / whole * ml, 0.2 - 1e-9)
        self.studio.undo.undo()
        self.studio.undo.undo()
        self.assertEqual(dialog.boxes["least_ml"].value(), 0.05)
        dialog.boxes["touch"].setValue(60)
        dialog.usual.click()
        self.assertEqual(self.studio.document.mix.hand, HandChoice())
        self.settle()


class Palette(MixCase):
    def test_laid_out_clicked_and_saved(self):
        page = self.page("Palette")
        self.settle()
        self.assertTrue(page.board.fits)
        self.click(page.view, page.view.box("sky-2").center())
        self.assertEqual(self.window.session.piles.in_hand, "sky-2")
        page.width.setValue(12)
        page.height.setValue(9)
        self.settle()
        self.assertIn("too many", page.words.text())
        self.studio.undo.undo()
        self.settle()
        for suffix in ("pdf", "svg", "png"):
            out = self.folder / f"palette.{suffix}"
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(out), "")):
                self.click(page.print)
            self.settle()
            self.assertTrue(out.exists(), suffix)
        (page,) = pdf_pages(self.folder / "palette.pdf")
        drawn = "".join(ET.parse(self.folder / "palette.svg").getroot().itertext())
        for p in (p for s in self.studio.document.mixed.strings for p in s.piles):
            self.assertIn(p.name, " ".join(page.split()))
            self.assertIn(p.name, drawn)
        with Image.open(self.folder / "palette.png") as image:
            seen = np.asarray(image.convert("RGB")).reshape(-1, 3).astype(int)
        for p in (p for s in self.studio.document.mixed.strings for p in s.piles):
            colour = linear_to_code(lab_to_linear(np.array(p.recipe.lab))).astype(int)
            self.assertLess(int(np.abs(seen - colour).max(axis=1).min()), 3, p.id)


class LoosePage(MixCase):
    def test_parents_and_glaze_follow_the_pile(self):
        page = self.page("Loose")
        self.take("skin-3")
        self.assertIn("</b> of (", page.recipe.text())
        self.assertIn("two turns", page.view.accessibleDescription())
        self.assertIn("coat", page.glaze.text())
        first = page.recipe.text()
        self.click(page.next)
        self.settle()
        self.assertNotEqual(page.recipe.text(), first)
        page.under.setCurrentIndex(page.under.findData("white"))
        page.under.activated.emit(1)
        self.settle()
        self.assertIn("white ground", page.over.text())
        self.take("sky-1")
        self.assertNotEqual(page.recipe.text(), first)

    def test_parents_are_the_painters_choice_and_undone(self):
        page = self.page("Loose")
        self.take("skin-3")
        for box, parent in zip(page.parents, ("cadmium-red-light", "viridian", "sky-2"), strict=True):
            box.setCurrentIndex(box.findData(parent))
            box.activated.emit(box.currentIndex())
            self.settle()
        chosen = self.studio.document.mix.loose[0]
        self.assertEqual(chosen.parents, ("cadmium-red-light", "viridian", "sky-2"))
        self.assertTrue(self.studio.strings.ready(), "the strings stay")
        page.parts[1].setValue(5)
        self.settle()
        self.assertEqual(self.studio.document.mix.loose[0].parts[1], 5.0)
        self.assertNotIn("100%", page.recipe.text())
        self.assertIn("chroma", page.view.accessibleDescription())
        self.assertFalse(page.view.grab().isNull())
        for _ in range(4):
            self.studio.undo.undo()
        self.assertEqual(self.studio.document.mix.loose, ())
        self.settle()
        self.assertEqual(page.parents[2].currentData(), "", "the third parent went too")

    def test_a_palette_without_transparent_tubes(self):
        opaque = ("titanium-white", "yellow-ochre", "cadmium-red", "cadmium-yellow-medium")
        box = self.window.session.keeper.box.with_palette(OwnPalette(id="own-opaque", name="Opaque", paints=opaque))
        self.window.session.keeper.change("Add", box)
        self.window.session.palettes.use("own-opaque")
        self.settle()
        page = self.page("Loose")
        self.take("skin-2")
        self.assertIn("No glaze: no tube of this palette is transparent", page.glaze.text())


class Room(MixCase):
    def test_no_page_is_cut_at_the_smallest_size(self):
        w = self.window
        w.resize(1024, 700)
        for name in self.mix.pages.names:
            self.page(name)
            scroll = w.stage.trays.currentWidget()
            self.assertLessEqual(scroll.widget().minimumSizeHint().width(), scroll.viewport().width() + 1, name)

    def test_without_anything(self):
        """An empty project: every page says what is missing."""
        w = self.window
        from ochre_stone.core.document.document import Document
        from ochre_stone.core.store.files import Project

        w.studio.replace(Project(Document(), None), None)
        for name in self.mix.pages.names:
            self.page(name)
        self.assertIn("Take notes first", self.mix.board_page.view.hint)
        action = next(a for a, need in w.needing if "full screen" in a.text())
        self.assertFalse(action.isEnabled())
        self.assertIn("no piles yet", action.toolTip())
