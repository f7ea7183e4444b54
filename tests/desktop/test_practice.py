"""Practice in a real window: begun, answered by mouse and keys, judged, kept, and planned anew."""

import unittest

import numpy as np
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from ochre_stone.core.paint.predict import predict
from ochre_stone.core.practice.every import DRILLS
from ochre_stone.core.practice.trial import Adjust, Match, Number, OneOf, PlacedCuts
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.stations.practice.station import Practice
from ochre_stone.desktop.window.testcard import TestCard
from ochre_stone.logbook.book import Book, log_file
from tests.desktop.helpers import WindowCase
from tests.logbook.made import entry as log_entry


class Drilling(WindowCase):
    """Without a photo: the made-up picture is there for all."""

    def setUp(self) -> None:
        super().setUp()
        self.window.settings.card_seen = True
        self.window.go_to("Practice", "Today")
        self.settle()
        self.station: Practice = self.window.at("Practice")
        self.work = self.window.session.practising
        self.work.rng = np.random.default_rng(7)
        self.addCleanup(self.work.stop)

    def begin(self, drill_id: str) -> None:
        self.station.start(drill_id)
        self.settle()
        assert self.work.trial is not None

    def give_best(self) -> None:
        """The right answer, by the controls."""
        trial, answering, view = self.work.trial, self.station.answering, self.station.view
        assert trial is not None
        asked = trial.asked
        if isinstance(asked, OneOf):
            box = view.boxes()[asked.right]
            QTest.mouseClick(view.viewport_(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        elif isinstance(asked, Number):
            answering.sliders[0].setValue(round(asked.right * 100))
            self.click(answering.ready)
        elif isinstance(asked, PlacedCuts):
            for s, v in zip(answering.sliders, asked.best, strict=False):
                s.setValue(round(v * 100))
            self.click(answering.ready)
        elif isinstance(asked, Adjust):
            for k, goal in enumerate(asked.best):
                view.picked.emit(k)
                step = 1 if goal > view.places[k] else -1
                for _ in range(abs(goal - view.places[k])):
                    answering.step(step)
            self.click(answering.ready)
        self.settle()

    def test_every_drill_is_asked_answered_and_told(self) -> None:
        for drill in DRILLS.values():
            self.begin(drill.id)
            self.station.view.grab()
            if isinstance(self.work.trial.asked, Match):  # type: ignore[union-attr]
                self.station.answering.give()
                self.settle()
                self.assertEqual(bool(self.work.trial.asked.own_way), "The program" in self.station.own_way.text())
                self.assertIn("the program", self.station.verdict.text())
            else:
                self.give_best()
                assert self.work.verdict is not None
                self.assertTrue(self.work.verdict.right, (drill.id, self.work.verdict.words))
            self.station.view.grab()
            self.assertTrue(self.station.on.isVisible(), drill.id)
            self.work.stop()
        with Book(log_file()) as book:
            self.assertEqual({a.drill for a in book.answers()}, set(DRILLS))

    def test_undo_at_practice_takes_nothing_back_that_was_done_at_log(self) -> None:
        log = self.window.session.log
        entry = log_entry({"titanium-white": 1.0, "yellow-ochre": 1.0}, n=1)
        log.edit("Add a pile", [], [entry])
        self.settle()
        self.window.undo_group.undo()
        self.window.go_to("Log", "Pile")
        self.assertTrue(self.window.undo_group.canUndo())
        self.window.go_to("Practice", "Today")
        self.assertFalse(self.window.undo_group.canUndo())

    def test_a_round_by_keys_and_its_end(self) -> None:
        self.begin("lighter")
        for _ in range(DRILLS["lighter"].questions):
            asked = self.work.trial.asked  # type: ignore[union-attr]
            assert isinstance(asked, OneOf)
            QTest.keyClicks(self.station.view, str(asked.right + 1))
            self.settle()
            self.assertTrue(self.work.verdict.right)  # type: ignore[union-attr]
            self.assertEqual(len(self.work.verdict.truth), 2)  # type: ignore[union-attr]
            QTest.keyClick(self.station.on, Qt.Key.Key_Space)
            self.settle()
        self.assertFalse(self.work.under_way)
        self.assertIn("20 of 20 right", self.window.last_told)
        figure = self.work.figure_of(DRILLS["lighter"])
        assert figure is not None
        self.assertLess(figure.value, 0.6)
        self.assertNotIn("lighter", [p.drill.id for p in self.work.proposed()])

    def test_the_scale_is_covered_where_a_value_is_to_be_named_without_it(self) -> None:
        scale = self.window.scale
        self.begin("value")
        self.assertIs(scale.shows, Shows.COVERED)
        self.assertTrue(scale.covered)
        plain = scale.grab().toImage()
        colours = {plain.pixel(x, y) for x in range(2, 60, 7) for y in range(30, 600, 31)}
        self.assertEqual(len(colours), 1)
        self.begin("value-scale")
        self.assertFalse(scale.covered)
        self.begin("value")
        self.window.go_to("Look")
        self.assertFalse(scale.covered)

    def test_spots_are_pointed_at_and_patches_moved_by_keys(self) -> None:
        self.begin("darker-spot")
        trial, view = self.work.trial, self.station.view
        assert trial is not None and trial.scene is not None and isinstance(trial.asked, OneOf)
        place, scale = view._scene_place()
        _, x, y = trial.scene.marks[trial.asked.right]
        at = QPoint(round(place.left() + x * scale), round(place.top() + y * scale))
        QTest.mouseClick(view.viewport_(), Qt.MouseButton.LeftButton, pos=at)
        self.settle()
        assert self.work.verdict is not None
        self.assertTrue(self.work.verdict.right)
        self.assertEqual(len(self.work.verdict.truth), 2)
        self.begin("grey-scale")
        before = view.places
        QTest.keyClick(view, Qt.Key.Key_Right)
        QTest.keyClick(view, Qt.Key.Key_PageUp)
        self.assertEqual(view.places[1], before[1] + 1)
        QTest.keyClick(view, Qt.Key.Key_PageDown)
        self.assertEqual(view.places, before)

    def test_matching_counts_additions_and_takes_them_back(self) -> None:
        self.begin("match")
        answering = self.station.answering
        asked = self.work.trial.asked  # type: ignore[union-attr]
        assert isinstance(asked, Match)
        before = answering.view.mixed
        answering.supplies.take(asked.supplies[0].id)
        answering.dose("touch")
        answering.dose("part")
        self.assertEqual(answering.additions(), 1)  # of one paint in a row
        answering.supplies.take(asked.start[-1][0])  # what the pile was begun with counts like any other
        answering.dose("touch")
        self.assertEqual(answering.additions(), 2)
        self.click(answering.undo)
        answering.supplies.take(asked.supplies[-1].id)
        answering.dose("tip")
        self.assertEqual(answering.additions(), 2)
        self.assertNotEqual(answering.view.mixed, before)
        for _ in range(3):
            self.click(answering.undo)
        self.assertEqual(answering.view.mixed, before)
        self.assertEqual(answering.additions(), 0)

    def test_a_match_can_be_reached_in_any_medium(self) -> None:
        self.window.studio.adjust("mix", "medium", medium="gouache")
        self.begin("match")
        asked = self.work.trial.asked  # type: ignore[union-attr]
        assert isinstance(asked, Match)
        palette = self.window.studio.document.mix.chosen()
        said = predict(dict(asked.start), palette.tube, palette.surface).lab
        self.assertEqual(self.station.answering.view.mixed, said)

    def test_value_drills_only_and_the_test_card_once(self) -> None:
        self.station.hues.click()
        self.assertTrue(self.window.settings.value_drills)
        self.assertTrue(all(not p.drill.hue for p in self.work.proposed()))
        self.window.settings.card_seen = False
        self.click(self.station.begin)
        self.settle()
        cards = [d for d in self.window.findChildren(TestCard) if d.isVisible()]
        self.assertEqual(len(cards), 1)
        cards[0].close()
        self.assertTrue(self.window.settings.card_seen)
        self.assertEqual(self.work.drill.id, self.work.proposed()[0].drill.id)  # type: ignore[union-attr]

    def test_results_of_the_demo(self) -> None:
        self.window.files.open_demo()
        self.settle()
        self.window.go_to("Practice", "Results")
        self.settle()
        self.assertGreater(len(self.work.answers), 300)
        self.assertIn("judgement", self.station.figure.text())
        self.assertIn("Value beside a scale", self.station.results.item(0).text())
        self.assertGreater(len(self.station.over._lines[0].points), 3)
        self.assertGreater(self.station.today.count(), 0)
        self.assertFalse(log_file().exists())

    def test_no_page_scrolls_at_the_usual_size(self) -> None:
        self.window.files.open_demo()
        self.settle()
        for title in ("Log", "Practice", "Mix", "Paint box"):
            names = self.window.at(title).pages.names if title in ("Log", "Practice") else ("Bench",)
            for name in names:
                self.window.go_to(title, name)
                self.settle()
                area = self.window.stage.trays.currentWidget()
                self.assertEqual(area.verticalScrollBar().maximum(), 0, (title, name))
                least = area.widget().minimumSizeHint().width()
                self.assertLessEqual(least, area.viewport().width() + 1, (title, name))


if __name__ == "__main__":
    unittest.main()
