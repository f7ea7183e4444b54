"""A little of each torture of `make torture`: nothing but what is promised may come of it."""

import tempfile
import unittest
from pathlib import Path
from unittest import mock

import numpy as np

from ochre_stone.core.store import safecopy
from ochre_stone.desktop.session import settings
from ochre_stone.logbook.openlog import OpenLog
from tests.support.torture import corpus, inputs, kills, logs, tally, unplug, windows, writers
from tests.support.torture.mutate import mutated
from tests.support.torture.tally import Tally


class TortureCase(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        for place, name, value in (
            (tally, "STATE", self.folder / "state"),
            (safecopy, "root", safecopy.root),
            (settings, "file", settings.file),
        ):
            patch = mock.patch.object(place, name, value)
            patch.start()
            self.addCleanup(patch.stop)

    def clean(self, found: Tally) -> None:
        self.assertEqual(found.other, [])
        self.assertEqual(found.others, 0)


class Short(TortureCase):
    def test_mutated_inputs(self):
        found, folder = Tally("inputs", seed=2), self.folder / "inputs"
        folder.mkdir()
        with mock.patch.object(inputs, "_EVERY", 10**9):  # pictures of real size are left to the long run
            for number in range(110):
                what, words = inputs.one(number, found.seed, folder)
                found.add(what, words=words)
        self.clean(found)
        self.assertGreater(min(found.counts["opened"], found.counts["refused"]), 10)

    def test_kills(self):
        found = Tally("kills", seed=2)
        kills.run(found, 24)
        self.clean(found)
        self.assertGreater(found.counts["saves"], 24, "they were in the middle of saving")

    def test_writers_full_disk_and_read_only(self):
        found = Tally("writers", seed=2)
        writers.run(found, 6)
        self.clean(found)
        self.assertEqual((found.done, sum(found.counts.values()), len(found.counts)), (6, 6, 6), "one of each kind")

    def test_windows_that_write_to_one_log_and_what_comes_in_their_way(self):
        found = Tally("logs", seed=3)
        logs.run(found, 7)
        self.clean(found)
        self.assertEqual(set(found.counts), set(logs.ROUNDS))

    def test_a_whole_window_is_killed(self):
        found = Tally("windows", seed=2)
        windows.run(found, 1)
        self.clean(found)
        self.assertGreater(found.counts["acts"], 3)

    def test_cables_pulled_and_garbled(self):
        found = Tally("unplug", seed=2)
        unplug.run(found, 30)
        self.clean(found)
        self.assertGreater(found.counts["refused"], 5)


class Harness(TortureCase):
    def test_it_goes_on_where_it_was_left(self):
        first = Tally.load("x", 1)
        first.add("opened", 2.0)
        first.add("other", words="this")
        first.save()
        again = Tally.load("x", 1)
        self.assertEqual((again.done, again.others, again.slowest), (2, 1, 2.0))
        self.assertEqual(Tally.load("x", 2).done, 0, "another seed")
        self.assertEqual(Tally.load("x", 1, again=True).done, 0)

    def test_an_input_follows_from_its_number(self):
        samples = corpus.small()
        kinds = {"picture", "project", "box", "tubes", "work", "swatches", "profile", "settings"}
        self.assertGreaterEqual({s.kind for s in samples}, kinds)
        for s in samples[::5]:
            one, two = (mutated(s, np.random.default_rng(4), samples) for _ in range(2))
            self.assertEqual(one, two)

    def test_what_must_not_be_is_noticed(self):
        """A program that loses what it saves, or raises, is not called clean."""
        found = Tally("kills", seed=2)
        lost = kills.Target("lost", lambda n: None, lambda: False)
        with mock.patch.object(kills, "targets", return_value=[lost]):
            kills.run(found, 2)
        self.assertEqual(found.others, 2)
        with mock.patch.object(OpenLog, "flush", return_value=0):  # what is mixed never gets into the log
            lost = logs.run_one("two windows", self.folder / "logs", np.random.default_rng(1))
        self.assertIn("wait", lost)
        folder = self.folder / "inputs"
        folder.mkdir()
        with mock.patch.object(inputs, "_read", side_effect=ZeroDivisionError):
            self.assertEqual(inputs.one(0, 1, folder)[0], "other")


if __name__ == "__main__":
    unittest.main()
