"""A little of the random use of `make torture`."""

import unittest
from pathlib import Path
from unittest import mock

from tests.desktop.helpers import WindowCase
from tests.support.torture import actions, tally
from tests.support.torture.tally import Tally


class RandomUse(WindowCase):
    def test_some_actions_undone_saved_and_compared(self):
        found = Tally("actions", seed=5)
        with mock.patch.object(tally, "STATE", Path(self.folder) / "state"):
            actions.run(found, 60)
        self.assertEqual(found.other, [])
        self.assertEqual(found.counts, {"done": 60})


if __name__ == "__main__":
    unittest.main()
