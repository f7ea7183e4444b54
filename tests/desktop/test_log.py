"""The log in a real window: written by itself, undone with the work, found, mixed again, learnt from, deleted."""

import unittest
from unittest import mock

from ochre_stone.core.planning.mending import last_reading
from ochre_stone.core.planning.rows import fingerprint
from ochre_stone.core.store.files import Project, open_project
from ochre_stone.desktop.stations.log import keep, pile
from ochre_stone.desktop.stations.log.station import LogStation
from ochre_stone.logbook.book import Book, log_file
from ochre_stone.logbook.demo import DEMO
from ochre_stone.logbook.entry import Entry
from ochre_stone.resources import resource
from tests.desktop.helpers import PictureCase, WindowCase


class LogCase(PictureCase):
    """With the demo's plan as a project of the painter's own."""

    def setUp(self) -> None:
        super().setUp()
        project = open_project(resource("demo", "orchard-keeper.ochre"))
        mix = project.document.mix.model_copy(update={"learn": False})  # strings stay as they are
        document = project.document.model_copy(update={"uid": "my-orchard", "mix": mix})
        same = document.mixed.model_copy(update={"fingerprint": fingerprint(document)})
        self.window.studio.replace(Project(document.model_copy(update={"mixed": same}), None), None)
        self.window.go_to("Mix", "Pile")
        self.settle()
        self.log, self.piles = self.window.session.log, self.window.session.piles
        self.mix = self.window.at("Mix")
        self.station: LogStation = self.window.at("Log")

    def entries(self) -> list[Entry]:
        """What the file holds now, the newest first."""
        self.settle()
        with Book(log_file()) as book:
            return book.entries([p.uid for p in book.listed()])

    def read(self, pile_id: str, dL: float = 4.0) -> None:
        """Type what an instrument reads of a pile."""
        self.piles.choose(pile_id)
        found = self.piles.found()
        assert found is not None
        L, a, b = found[1].recipe.lab
        self.mix.correct_page.work.take_reading((L + dL, a - 1, b - 3), "reader")
        self.settle()


class ByItself(LogCase):
    def test_what_is_mixed_is_written_and_undone_with_the_work(self) -> None:
        self.assertEqual(self.entries(), [])
        self.window.go_to("Mix", "Correct")
        self.read("skin-3")
        (first,) = self.entries()
        self.assertEqual((first.pile, first.name, first.project), ("skin-3", "cheek in the sun", "my-orchard"))
        self.assertEqual([p.dose.name for p in first.puts], ["white", "ochre", "cadmium red light"])
        self.assertEqual([s.how for s in first.seen], ["reader"])
        self.assertTrue(all(p.first for p in first.puts))
        self.click(self.mix.correct_page.done)
        (second,) = self.entries()
        self.assertEqual(second.uid, first.uid)
        self.assertGreater(len(second.puts), 3)
        self.assertFalse(second.puts[-1].first)
        self.assertEqual(second.puts[:3], first.puts)
        self.window.studio.undo.undo()
        self.assertEqual(len(self.entries()[0].puts), 3)
        self.window.studio.undo.undo()
        self.assertEqual(self.entries(), [])
        self.window.studio.undo.redo()
        self.assertEqual(len(self.entries()), 1)

    def test_what_was_mixed_on_another_day_is_never_written_over(self) -> None:
        self.window.go_to("Mix", "Correct")
        self.read("skin-3")
        (first,) = self.entries()
        kept, picture = self.window.studio.document, self.window.studio.picture
        # The same project without that reading: it is another pile, and undoing it leaves the first alone.
        bare = kept.model_copy(update={"readings": (), "put_in": ()})
        self.window.studio.replace(Project(bare, picture), None)
        self.settle()
        self.read("skin-3", 2.0)
        self.assertEqual(len(self.entries()), 2)
        self.window.studio.undo.undo()
        self.assertEqual(self.entries(), [first])
        # Opened again as it was: the pile goes on.
        self.window.studio.replace(Project(kept, picture), None)
        self.settle()
        self.read("skin-3", 1.0)
        (again,) = self.entries()
        self.assertEqual((again.uid, len(again.seen)), (first.uid, 2))
        self.assertEqual(again.seen[0], first.seen[0])
        self.click(self.mix.correct_page.forget)
        self.assertEqual(len(self.entries()), 1)

    def test_begun_and_done_are_said_and_a_second_time_is_another_pile(self) -> None:
        self.piles.choose("sky-1")
        self.click(self.mix.pile_page.begin)
        (e,) = self.entries()
        self.assertIsNone(e.finished)
        self.assertEqual(e.seen, ())
        self.assertEqual(self.mix.pile_page.begin.text(), "Done")
        self.click(self.mix.pile_page.begin)
        (e,) = self.entries()
        assert e.finished is not None
        self.assertGreaterEqual(e.finished, e.begun)
        self.read("sky-1")
        self.assertEqual(len(self.entries()), 1)
        self.window.go_to("Mix", "Pile")
        self.assertEqual(self.mix.pile_page.begin.text(), "Begin anew")
        self.click(self.mix.pile_page.begin)
        both = self.entries()
        self.assertEqual(sorted(e.number for e in both), [0, 1])
        self.window.go_to("Mix", "Correct")
        self.click(self.mix.correct_page.fits)
        self.assertIsNotNone(next(e for e in self.entries() if e.number == 1).finished)

    def test_at_the_easel_one_key_begins_and_finishes(self) -> None:
        self.piles.choose("skin-2")
        page = self.window.easel_page
        page.show_it()
        page.begin_or_finish()
        self.assertIn("being mixed", " ".join(page.lines()))
        page.begin_or_finish()
        page.close()
        (e,) = self.entries()
        self.assertIsNotNone(e.finished)

    def test_looking_about_writes_nothing_and_a_switch_turns_it_off(self) -> None:
        for title in ("Look", "Mix", "Paint box", "Log"):
            self.window.go_to(title)
            self.settle()
        self.window.session.bench.choose_supply("yellow-ochre")
        self.window.session.bench.add("part")  # pushed about on the screen: nothing was mixed
        self.assertEqual(self.entries(), [])
        self.window.go_to("Log", "Keep")
        self.settle()
        self.station.keep_page.on.click()
        self.assertFalse(self.window.settings.log)
        self.read("skin-3")
        self.assertIsNotNone(last_reading(self.window.studio.document, "skin-3"))
        self.assertEqual(self.entries(), [])

    def test_a_pile_of_the_bench_is_a_leftover_and_at_hand(self) -> None:
        work = self.window.session.bench
        work.choose_supply("yellow-ochre")
        for _ in range(3):
            work.add("part")
        self.window.session.bench_keeping.keep_as_leftover()
        (e,) = self.entries()
        self.assertEqual((e.origin, e.left_ml), ("bench", 1.2))
        left = [s for s in work.paints.supplies() if s.kind == "leftover"]
        self.assertEqual([round(s.ml, 2) for s in left], [1.2])
        self.window.go_to("Log", "Left")
        self.settle()
        self.click(self.station.left_page.use)
        self.assertEqual(len(work.bench.piles), 2)
        self.click(self.station.left_page.gone)
        self.assertIsNone(self.entries()[0].left_ml)
        self.window.undo_group.undo()
        self.assertEqual(self.entries()[0].left_ml, 1.2)


class AtTheStation(LogCase):
    def setUp(self) -> None:
        super().setUp()
        self.read("skin-3")
        self.read("foliage-2", 2.0)
        self.window.go_to("Log", "Pile")
        self.settle()

    def test_a_pile_is_shown_with_its_course_and_kept_facts(self) -> None:
        page = self.station.pile_page
        self.station.take(next(e.uid for e in self.entries() if e.pile == "skin-3"))
        self.assertIn("cheek in the sun", page.head.text())
        self.assertIn("too light", page.course.text())
        page.left.setValue(0.6)
        page.left.editingFinished.emit()
        page.line.setText("for the cheek")
        page.line.editingFinished.emit()
        self.settle()
        page.take_dried("lab 66 15 28")
        self.settle()
        page.take_picture(self.photo)
        self.settle()
        e = next(e for e in self.entries() if e.pile == "skin-3")
        self.assertEqual((e.left_ml, e.line, e.came_out), (0.6, "for the cheek", (66.0, 15.0, 28.0)))
        self.assertTrue(e.picture.startswith(b"\xff\xd8"))
        for _ in range(4):
            self.window.undo_group.undo()
        e = next(e for e in self.entries() if e.pile == "skin-3")
        self.assertEqual((e.left_ml, e.line, e.dried, e.picture), (None, "", None, b""))
        page.take_dried("no colour")
        self.assertIn("no colour", self.window.last_told)

    def test_dried_and_read(self) -> None:
        page = self.station.pile_page
        self.station.take(next(e.uid for e in self.entries() if e.pile == "skin-3"))
        page.read_dried()
        self.assertIn("No reader", self.window.last_told)
        reader = self.window.session.reader
        reader.connect_to("", ("--warm-up", "0"))
        self.wait(lambda: reader.connected)
        reader.calibrate()
        self.settle()
        page.read_dried()
        self.wait(lambda: next(e for e in self.entries() if e.pile == "skin-3").dried is not None)

    def test_mixed_again_for_the_amount_wanted_and_laid_on_the_bench(self) -> None:
        page = self.station.pile_page
        e = next(e for e in self.entries() if e.pile == "skin-3")
        self.station.take(e.uid)
        page.amount.setValue(2 * round(e.ml, 1))
        self.click(page.again)
        self.settle()
        assert page.remix is not None
        self.assertAlmostEqual(page.remix.ml, 2 * round(e.ml, 1), places=6)
        self.assertIn("Exactly what went in", page.recipe.text())
        self.window.resize(1024, 700)
        self.click(page.again)
        self.settle()
        self.assertTrue(page.recipe.visibleRegion().boundingRect().contains(page.recipe.rect()), "all of it is seen")
        self.click(page.lay)
        self.settle()
        self.assertAlmostEqual(self.window.session.bench.bench.piles[-1].ml, 2 * round(e.ml, 1), places=5)

    def test_undoing_an_edit_leaves_what_was_mixed_since(self) -> None:
        e = next(e for e in self.entries() if e.pile == "skin-3")
        self.log.change(e, "A line about a pile", line="for the cheek")
        self.settle()
        self.window.go_to("Mix", "Correct")
        self.read("skin-3", 1.0)
        self.window.go_to("Log", "Pile")
        self.settle()
        self.window.undo_group.undo()
        after = next(e for e in self.entries() if e.pile == "skin-3")
        self.assertEqual((after.line, len(after.seen)), ("", 2))

    def test_a_note_finds_its_pile_of_the_past(self) -> None:
        self.window.studio.select("n1")
        self.window.go_to("Log", "Find")
        self.click(self.station.find_page.of_note)
        self.settle()
        page = self.station.find_page
        self.assertEqual(len(page.found), 2)
        self.assertEqual(page.found[0].off, min(f.off for f in page.found))
        self.assertEqual(self.station.in_hand, page.found[0].entry.uid)
        page.typed.setText("munsell 5G 4/6")
        self.click(page.look)
        self.settle()
        self.assertEqual(page.found[0].entry.pile, "foliage-2")
        page.typed.setText("gibberish")
        self.click(page.look)
        self.assertIn("gibberish", self.window.last_told)

    def test_a_day_and_a_project_are_deleted_and_come_back(self) -> None:
        self.window.go_to("Log", "Keep")
        self.settle()
        page = self.station.keep_page
        for b in (page.day, page.project):
            with mock.patch.object(keep, "ask", return_value="Keep"):
                self.click(b)
            self.assertEqual(len(self.entries()), 2)
            with mock.patch.object(keep, "ask", return_value="Delete"):
                self.click(b)
            self.assertEqual(self.entries(), [])
            self.window.undo_group.undo()
            self.assertEqual(len(self.entries()), 2)
            self.settle()
        with mock.patch.object(pile, "ask", return_value="Remove"):
            self.station.pile_page.ask_remove()
        self.assertEqual(len(self.entries()), 1)
        with mock.patch.object(keep, "ask", return_value="Delete all"):
            self.click(page.all)
        self.assertEqual(self.entries(), [])

    def test_out_and_in_again(self) -> None:
        self.window.go_to("Log", "Keep")
        self.settle()
        page = self.station.keep_page
        out, table = self.folder / "log.json", self.folder / "log.csv"
        page.save_to(out)
        page.save_to(table)
        self.settle()
        self.assertEqual(table.read_text(encoding="utf-8-sig").count("\n"), 3)
        with mock.patch.object(keep, "ask", return_value="Delete all"):
            self.click(page.all)
        page.take_in(out)
        self.settle()
        self.assertEqual(len(self.entries()), 2)
        out.write_text("{}")
        page.take_in(out)
        self.settle()
        self.assertIn("no log that can be read: format", self.window.last_told)
        self.assertEqual(len(self.entries()), 2)

    def test_a_damaged_log_is_said_once_and_painting_goes_on(self) -> None:
        for path in log_file().parent.iterdir():
            path.unlink() if path.is_file() else None
        log_file().write_bytes(b"not a database " * 1000)
        self.read("sky-1")
        self.settle()
        self.assertIn("is damaged", self.window.last_told)
        self.assertIsNotNone(last_reading(self.window.studio.document, "sky-1"))


class TheDemo(WindowCase):
    def test_the_demo_opens_alive_and_leaves_the_painters_log_alone(self) -> None:
        self.window.files.open_demo()
        self.settle()
        self.assertEqual(self.window.studio.document.uid, DEMO)
        self.window.go_to("Log", "Pile")
        self.settle()
        station: LogStation = self.window.at("Log")
        self.assertGreaterEqual(len(station.entries), 18)
        self.assertIn("made-up", station.done_words())
        self.window.go_to("Log", "Left")
        self.settle()
        self.assertGreater(len(self.window.session.log.left), 0)
        self.window.go_to("Log", "Learn")
        self.settle()
        self.assertGreater(len(station.learn_page.learnt), 3)
        self.assertGreater(station.learn_page.tubes.count(), 3)
        one = next(k for k, x in enumerate(station.learn_page.learnt) if x.clear)
        station.learn_page.tubes.setCurrentRow(one)
        name = station.learn_page.learnt[one].name
        self.click(station.learn_page.take)
        own = self.window.session.keeper.box.tubes[-1]
        self.assertEqual(own.name, f"My {name}")
        self.assertIsNotNone(own.correction)
        self.assertFalse(log_file().exists())

    def test_learning_can_be_stopped(self) -> None:
        self.window.files.open_demo()
        self.settle()
        self.window.go_to("Log", "Learn")
        page = self.window.at("Log").learn_page
        self.wait(lambda: self.window.studio.jobs.busy("learn"))
        self.assertTrue(page.stop.isVisible())
        self.click(page.stop)
        self.settle()
        self.assertIn("Stopped", page.says.text())
        self.assertFalse(page.stop.isVisible())

    def test_habits_are_allowed_for_and_taken_back(self) -> None:
        self.window.files.open_demo()
        self.settle()
        self.window.go_to("Log", "Learn")
        self.settle()
        page = self.window.at("Log").learn_page
        from ochre_stone.logbook.habits import DosingHabit

        page.habits = [DosingHabit("made up", 0.3, 0.05, 6, "cadmium-red-light", 1.4)]
        page.refresh_buttons()
        before = self.window.studio.document.mixed
        self.click(page.allow_for)
        self.assertEqual(dict(self.window.studio.document.mix.hand.habits), {"cadmium-red-light": 1.4})
        self.window.go_to("Mix", "Pile")
        self.settle()
        now = self.window.studio.document.mixed
        red = [
            sum(dict(p.recipe.shares).get("cadmium-red-light", 0) for s in m.strings if s.id == "skin" for p in s.piles)
            for m in (before, now)
        ]
        self.assertLess(red[1], red[0])  # who takes 1.4 of what is meant is told to take less
        self.window.go_to("Log", "Learn")
        self.settle()
        self.click(page.forget)
        self.assertEqual(self.window.studio.document.mix.hand.habits, ())


if __name__ == "__main__":
    unittest.main()
