"""Mix with the whole demo, and the picture's paint: a pile on each note, how many, rules, medium and finish."""

from unittest import mock

from PyQt6.QtCore import QPointF, Qt

from ochre_stone.core.masses.tone import DARKEST as BLACKS
from ochre_stone.core.mixing.strings.subjects import RULES
from ochre_stone.core.paint.box import OwnPalette, OwnTube, PigmentPart
from ochre_stone.core.planning.drying import wet_piles
from ochre_stone.core.planning.steps import bases_before, steps_of
from tests.desktop.test_mix_in_full import MixCase


class Demo(MixCase):
    """What needs the whole demo: its shadows, its distances, its rules."""

    def open_project(self):
        self.window.files.open_demo()
        self.settle()

    def test_where_a_pile_comes_from_and_the_whole_plan(self):
        page = self.page("Pile")
        count = sum(len(s.piles) for s in self.studio.document.mixed.strings)
        first = sum(len(made) for made in bases_before(self.studio.document).values())
        self.assertEqual(self.page("Plan").list.count(), count + first)
        self.studio.adjust("mix", "Even steps", stand="even")
        self.settle()
        self.page("Pile")
        ruled = next(q for s in self.studio.document.mixed.strings for q in s.piles if q.target.rules)
        self.take(ruled.id)
        self.assertIn("(", page.trust.text())

    def test_a_pile_of_one_word_is_drawn_on_the_palette_like_any_other(self):
        page = self.page("Palette")
        note = next(n for n in self.studio.document.notes if n.name == "straw hat")
        self.window.session.notes.rename(note.id, "hat")
        self.settle()
        self.assertIn("hat", [i.name for i in page.view.items])
        self.assertFalse(page.view.grab().isNull())

    def test_how_many_piles_and_where_they_stand(self):
        page = self.page("All")
        self.assertEqual((page.stand.currentData(), page.count.value(), page.steps.isVisible()), ("notes", 0, False))
        self.assertIn("of 18 notes have their pile", self.mix.reach.toolTip())
        page.count.setValue(12)
        self.settle()
        self.assertEqual(len(self.window.session.piles.order()), 12)
        self.assertIn("no pile of its own", self.mix.reach.toolTip())
        self.studio.undo.undo()
        self.settle()
        self.assertEqual(len(self.window.session.piles.order()), 18)
        page.step.setValue(1.0)
        self.settle()
        self.assertGreater(len(self.window.session.piles.order()), 24)
        page.stand.setCurrentIndex(page.stand.findData("even"))
        page.stand.activated.emit(1)
        self.settle()
        self.assertEqual((page.step.isVisible(), page.steps.isVisible(), page.count.isEnabled()), (False, True, False))
        self.assertEqual({len(s.piles) for s in self.studio.document.mixed.strings}, {5})

    def test_a_string_has_a_number_or_a_shape_of_its_own(self):
        page = self.page("String")
        self.window.session.piles.choose("skin-3")

        def skin() -> int:
            self.settle()
            return len(self.studio.document.mixed.strings[0].piles)

        page.count.setValue(2)
        self.assertEqual(skin(), 2)
        page.stand.setCurrentIndex(page.stand.findData("1-2-3"))
        page.stand.activated.emit(page.stand.currentIndex())
        self.assertEqual(skin(), 6)
        self.assertEqual((page.count.value(), page.count.isEnabled()), (0, False))
        self.assertIn("its own number", page.count.toolTip())
        page.stand.setCurrentIndex(page.stand.findData("even"))
        page.stand.activated.emit(page.stand.currentIndex())
        self.assertEqual(skin(), self.studio.document.mix.steps)
        self.assertTrue(page.rule_boxes["skin-halftone"].isEnabled(), "even steps are shaped by rules")
        page.count.setValue(3)
        self.assertEqual(skin(), 3)
        others = {s.id: s for s in self.studio.document.mixed.strings[1:]}
        self.assertTrue(all(p.target.notes or p.target.origin == "between" for s in others.values() for p in s.piles))
        for _ in range(4):
            self.studio.undo.undo()
        self.assertEqual(self.studio.document.mix.strings, ())

    def test_the_tube_that_is_missing_is_named(self):
        mix = self.window.at("Mix")
        mix.reached.look_for_tubes()
        self.settle()
        said = mix.reach.accessibleName()
        self.assertRegex(said, r"out of reach of this palette: .+ would bring (\d|it) in\.$")
        tip = mix.reach.toolTip()
        self.assertIn(said, tip)
        self.assertRegex(tip, r"leaves in shade: \d+\.\d off, too strong by \d\.\d in chroma")

    def test_a_moved_note_is_glimpsed_in_its_string_before_the_whole_is_planned(self):
        mix, document = self.window.at("Mix"), self.studio.document
        shown: list[object] = []
        note = next(n for n in document.notes if n.subject == "cloth")
        moved = note.model_copy(update={"lab": (note.lab[0] + 8, note.lab[1], note.lab[2] - 6)})
        before = {s.id: s for s in document.mixed.strings}
        with mock.patch.object(mix.strings, "show_strings", side_effect=lambda m, *_: shown.append(m)):
            self.studio.change("Move note", document.with_note(moved))
            self.settle()
        old, new = document.mixed, self.studio.document.mixed
        glimpsed = [m for m in shown if m.fingerprint == old.fingerprint and m.strings != old.strings]
        self.assertGreaterEqual(len(glimpsed), 1)
        self.assertLess(shown.index(glimpsed[0]), shown.index(new), "it comes before the whole")
        for s in glimpsed[0].strings:
            self.assertEqual(s == before[s.id], note.id not in {i for p in s.piles for i in p.target.notes}, s.id)
        self.assertTrue(self.studio.strings.ready(), "the whole came after it")

    def test_a_touch_is_chosen(self):
        page = self.page("All")
        before = sum(len(s.piles) for s in self.studio.document.mixed.strings)
        page.touch.setValue(6)
        self.settle()
        self.assertEqual(self.studio.document.mix.touch, 6)
        self.assertLess(sum(len(s.piles) for s in self.studio.document.mixed.strings), before)

    def test_lone_notes_stand_together_as_accents(self):
        view = self.mix.strings
        accents = view._columns[-1]
        self.assertEqual(accents.title, "Accents")
        self.assertEqual({s.id for s, _ in accents.piles}, {"ground", "wall", "fruit", "other-yellows"})
        last = accents.piles[0][1]
        self.click(view, view.box_of(last.id).center())
        self.assertEqual(self.window.session.piles.in_hand, last.id)

    def test_rules_that_shape_even_steps_are_off_on_the_notes(self):
        page = self.page("String")
        self.take("skin-2")
        self.assertFalse(page.rule_boxes["ends-quiet"].isEnabled())
        self.assertIn("even steps only", page.rule_boxes["ends-quiet"].toolTip())
        self.assertTrue(page.rule_boxes["skin-flush"].isEnabled())

    def test_the_longest_recipes_fit_their_page(self):
        self.page("Pile")
        piles = self.window.session.piles.order()
        for pile in sorted(piles, key=lambda p: -len(steps_of(self.studio.document, p)))[:3]:
            self.take(pile.id)
            bar = self.window.stage.trays.currentWidget().verticalScrollBar()
            self.assertEqual(bar.maximum(), 0, pile.id)

    def test_no_page_scrolls_at_the_usual_size(self):
        for name in ("Ways", "All", "String", "Loose"):
            self.page(name)
            self.take("skin-3")
            bar = self.window.stage.trays.currentWidget().verticalScrollBar()
            self.assertEqual(bar.maximum(), 0, name)

    def test_strings_that_rules_add(self):
        page, wanted = self.page("String"), []
        for pile, rule, string in (
            ("skin-3", "skin-flush", "skin-flush"),
            ("sky-2", "sky-clouds", "sky-clouds"),
            ("foliage-3", "foliage-through", "foliage-through"),
            ("shadows-3", "shadows-cast", "shadows-cast"),
        ):
            self.window.session.piles.choose(pile)
            self.wait(lambda r=rule: page.rule_boxes[r].height() > 8)
            self.assertEqual(page.rule_boxes[rule].toolTip(), next(r.why for r in RULES if r.id == rule))
            box = page.rule_boxes[rule]
            self.click(box, QPointF(8, box.height() / 2))
            self.assertTrue(self.studio.document.mix.rule(rule), rule)
            wanted.append(string)
        self.settle()
        self.assertLessEqual(set(wanted), {s.id for s in self.studio.document.mixed.strings})
        self.assertEqual(len(wanted), 4)
        self.take("shadows-3")
        self.assertIn("stops lower", page.light.text())
        self.assertEqual(len(self.studio.document.mixed.tweaks), 4)
        self.page("Plan")
        self.assertTrue(self.mix.plan_page.words.text())

    def test_one_subject_in_two_strings(self):
        page = self.page("String")
        self.take("skin-3")
        page.apart.setCurrentIndex(page.apart.findData("light"))
        page.apart.activated.emit(0)
        self.settle()
        ids = [s.id for s in self.studio.document.mixed.strings]
        self.assertIn("skin-lit", ids)
        self.assertIn("skin-shade", ids)
        self.assertNotIn("skin", ids)
        names = {s.name for s in self.studio.document.mixed.strings}
        self.assertIn("Skin, shaded", names)
        self.take("foliage-3")
        page.apart.setCurrentIndex(page.apart.findData("distance"))
        page.apart.activated.emit(0)
        self.settle()
        ids = [s.id for s in self.studio.document.mixed.strings]
        self.assertTrue({"foliage-near", "foliage-middle", "foliage-far"} <= set(ids))


class PicturesPaint(MixCase):
    def choose(self, box, data):
        box.setCurrentIndex(box.findData(data))
        box.activated.emit(box.currentIndex())
        self.settle()

    def test_medium_is_chosen_once_and_wet_stands_beside_dry(self):
        page = self.page("All")
        self.assertEqual((page.medium.currentText(), page.finish.currentText()), ("Oil", "usual finish"))
        self.choose(page.medium, "acrylic")
        self.assertEqual(self.studio.document.mix.chosen().medium, "acrylic")
        self.assertEqual(self.window.session.palettes.chosen().medium, "acrylic", "the Paint box too")
        middle = next(i for i in wet_piles(self.studio.document))
        pile_page = self.page("Pile")
        p = self.take(middle)
        self.assertIn("wet, ", pile_page.swatch.accessibleName())
        self.assertTrue(pile_page.wet.isVisible() and pile_page.wet.text().startswith("Wet it looks"))
        board = self.page("Palette")
        self.assertTrue(board.wet.isVisible())
        self.assertIn(p.id, board.view._wet)
        self.assertIn(p.id, self.mix.strings._wet)
        self.key(Qt.Key.Key_F11)
        easel = self.window.easel_page
        self.addCleanup(easel.close)
        self.assertTrue(easel.lines()[-1].startswith("Wet it looks"), easel.lines())
        easel.close()
        self.studio.undo.undo()
        self.settle()
        self.assertEqual(self.studio.document.mix.chosen().medium, "oil")
        self.assertEqual(self.page("Palette").wet.isVisible(), bool(wet_piles(self.studio.document)))

    def test_finish_goes_with_the_range_both_ways(self):
        page = self.page("All")
        self.choose(page.finish, "matt")
        self.assertAlmostEqual(self.studio.document.masses.range.black, BLACKS["matt"], delta=0.01)
        self.window.go_to("Mass", "Range")
        self.settle()
        of_range = self.window.at("Mass").range_page
        self.assertEqual(of_range.finish.currentData(), "matt")
        self.choose(of_range.finish, "glossy")
        self.assertEqual(self.studio.document.mix.finish, "glossy")
        self.assertAlmostEqual(self.studio.document.masses.range.black, BLACKS["glossy"], delta=0.01)

    def test_own_tubes_of_another_medium_are_told(self):
        keeper = self.window.session.keeper
        tube = OwnTube(
            id="own-a", name="Acrylic blue", parts=(PigmentPart(pigment="ultramarine-blue"),), medium="acrylic"
        )
        ids = ("titanium-white", "yellow-ochre", "cadmium-red", "own-a")
        box = keeper.box.with_tube(tube).with_palette(OwnPalette(id="own-p", name="Mixed", paints=ids))
        keeper.change("Add", box)
        self.window.session.palettes.use("own-p")
        self.settle()
        page = self.page("All")
        self.assertEqual((page.medium.currentData(), page.strangers.isVisible()), ("acrylic", False))
        self.choose(page.medium, "oil")
        self.assertIn("Acrylic blue is acrylic, the picture is oil", page.strangers.text())
        self.assertTrue(page.strangers.isVisible())
