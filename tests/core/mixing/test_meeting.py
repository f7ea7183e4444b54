"""What happens when two notes meet on the palette."""

import unittest

from ochre_stone.core.colour.reading import read
from ochre_stone.core.mixing.technique.meeting import meetings
from ochre_stone.core.paint.palettes import palette


class Meetings(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.notes = [(60.0, 30.0, 35.0), (55.0, -5.0, -28.0), (70.0, 12.0, 45.0), (50.0, 0.5, 0.5)]
        cls.seen = []
        chosen = palette("portrait-ten")
        cls.found = meetings(cls.notes, chosen.tubes, chosen.name, progress=cls.seen.append)

    def test_greys_have_nothing_to_lose(self):
        self.assertEqual({(m.first, m.second) for m in self.found}, {(0, 1), (0, 2), (1, 2)})
        self.assertEqual(self.seen[-1], 1.0)

    def test_orange_and_blue_go_dull_orange_and_yellow_stay_lively(self):
        of = {(m.first, m.second): m for m in self.found}
        self.assertEqual(self.found[0], min(self.found, key=lambda m: m.kept))
        self.assertEqual(of[0, 1].verdict, "goes dull")
        self.assertEqual(of[0, 2].verdict, "stays lively")
        self.assertLess(read(of[0, 1].lab).chroma, read(self.notes[0]).chroma / 2)

    def test_shared_tubes_leave_white_out(self):
        for m in self.found:
            self.assertNotIn("titanium-white", m.tubes)
        warm = next(m for m in self.found if (m.first, m.second) == (0, 2))
        self.assertTrue(warm.tubes, "two warm colours of one palette hold a tube in common")
