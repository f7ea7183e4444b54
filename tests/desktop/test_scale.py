"""The value scale: where things stand on it, at every station, with few notes and with forty."""

import unittest
from itertools import pairwise
from unittest import mock

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog
from scipy.optimize import minimize

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.document.document import Document, Note
from ochre_stone.core.store.files import Project
from ochre_stone.desktop.scale.axis import lanes, spread_apart, value_at, y_of
from ochre_stone.desktop.scale.dabs import Dabs, column
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.widgets import theme
from tests.desktop.helpers import PictureCase, WindowCase, app


def notes(values: list[float], subject: str = "skin") -> tuple[Note, ...]:
    """A note for each value."""
    return tuple(
        Note(
            id=f"n{i}",
            name=f"note number {i}",
            lab=(float(lightness_of_value(v)), 5.0, 10.0),
            x=1.0,
            y=1.0,
            subject=subject,
        )
        for i, v in enumerate(values, 1)
    )


class Spread(unittest.TestCase):
    def test_what_is_apart_already_stays(self):
        self.assertEqual(spread_apart([10, 40, 90], 20, 0, 100), [10, 40, 90])

    def test_a_crowd_is_moved_least(self):
        """Against a general minimiser: least squares over all places that keep their order, gap and bounds."""
        rng, gap, low, high = np.random.default_rng(4), 11.0, 5.0, 95.0
        for _ in range(6):
            places = np.sort(rng.uniform(low, high, 7))
            found = np.array(spread_apart(places.tolist(), gap, low, high))
            rules = [{"type": "ineq", "fun": lambda x: np.diff(x) - gap}]
            best = minimize(
                lambda x, p=places: ((x - p) ** 2).sum(),
                np.linspace(low, high, 7),
                method="SLSQP",
                bounds=[(low, high)] * 7,
                constraints=rules,
                options={"ftol": 1e-12, "maxiter": 500},
            )
            self.assertTrue((np.diff(found) >= gap - 1e-9).all() and found.min() >= low and found.max() <= high)
            self.assertLess(((found - places) ** 2).sum(), best.fun + 1e-4)

    def test_without_room_the_gap_gives_way(self):
        found = spread_apart([50.0] * 11, 20, 0, 100)
        self.assertEqual((found[0], found[-1]), (0, 100))
        self.assertAlmostEqual(min(b - a for a, b in pairwise(found)), 10)
        self.assertEqual(spread_apart([], 5, 0, 10), [])

    def test_lanes_take_equals_side_by_side(self):
        self.assertEqual(lanes([5, 5, 5], 20, 3, 0, 100), [(0, 5), (1, 5), (2, 5)])
        found = lanes([5, 6, 7, 8], 20, 2, 0, 100)
        for lane in (0, 1):
            mine = [y for k, y in found if k == lane]
            self.assertTrue(all(b - a >= 20 - 1e-9 for a, b in pairwise(mine)))

    def test_values_and_places_turn_back(self):
        for v in (0, 3.3, 10):
            self.assertAlmostEqual(value_at(y_of(v, 690), 690), v)
        self.assertLess(y_of(9, 690), y_of(1, 690), "light is above")


class Column(unittest.TestCase):
    def setUp(self) -> None:
        app()

    def test_names_are_there_while_there_is_room(self):
        self.assertTrue(all(p.named for p in column(Dabs(notes([5.0] * 24)), 210, 690).places))
        forty = column(Dabs(notes(np.linspace(1, 9, 40).tolist())), 210, 560)
        self.assertFalse(any(p.named for p in forty.places), "names give way first")
        self.assertFalse(any(p.named for p in column(Dabs(notes([5.0])), 110, 690).places), "a narrow scale")

    def test_without_names_dabs_stay_near_their_values(self):
        rng = np.random.default_rng(2)
        values = rng.uniform(1, 9.4, 40).tolist()
        shown = Dabs(notes(values))
        exact = {n.id: y_of(v, 560) for n, v in zip(shown.notes, values, strict=True)}
        for small in (False, True):
            shown = Dabs(notes(values), small=small)
            for n, place in zip(shown.ordered(), column(shown, 210, 560, 180).places, strict=True):
                self.assertLess(abs(place.dab.center().y() - exact[n.id]), 12.5)
                self.assertLessEqual(place.dab.right(), 212)

    def test_subjects_stand_in_groups_from_light_to_dark(self):
        mixed = (*notes([3, 7], "sky"), *notes([6, 2], "skin"))
        mixed = tuple(n.model_copy(update={"id": f"m{i}"}) for i, n in enumerate(mixed))
        shown = Dabs(mixed, by_subject=True)
        found = column(shown, 210, 690)
        self.assertEqual([w for w, _ in found.heads], ["skin", "sky"])
        rows = [p.row.center().y() for p in found.places]
        self.assertEqual(rows, sorted(rows))
        self.assertEqual([n.subject for n in shown.ordered()], ["skin", "skin", "sky", "sky"])
        for group in (shown.ordered()[:2], shown.ordered()[2:]):
            self.assertGreater(group[0].lab[0], group[1].lab[0])

    def test_marks_are_said_in_words(self):
        plain, kept = notes([5, 6])
        kept = kept.model_copy(update={"locked": True, "source": "reader"})
        said = {i.id: i.state for i in Dabs((plain, kept), without_pile=frozenset({plain.id})).items()}
        self.assertIn("no pile", said[plain.id])
        self.assertIn("locked", said[kept.id])
        self.assertIn("from the reader", said[kept.id])
        self.assertNotIn("locked", said[plain.id])


class Stations(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_small()

    def test_what_stands_on_it_goes_with_the_station(self):
        w = self.window
        place = w.scale.geometry()
        shown = {}
        for s in w.stations:
            w.go_to(s.title)
            self.settle()
            self.assertTrue(w.scale.isVisible())
            self.assertEqual(w.scale.geometry(), place, "always in the same place and as large")
            shown[s.title] = [i.id for i in w.scale.items]
        ids = [n.id for n in w.scale._dabs.ordered()]
        self.assertEqual(shown["Note"], ids)
        self.assertEqual(shown["Harmonise"], ids)
        self.assertEqual(shown["Mix"], ids)
        self.assertEqual(shown["Look"], [])
        self.assertIn("division", shown["Mass"])
        self.assertEqual([i for i in shown["Mass"] if i.startswith("n")], ids)
        tubes = {t.id for t in w.session.palettes.chosen().tubes}
        self.assertEqual(set(shown["Paint box"]), tubes)

    def test_the_cuts_go_with_their_picture(self):
        w = self.window
        w.go_to("Mass")
        self.settle()
        scene = Document(notes=notes([3.0, 7.0]))
        for title in ("Mass", "Block in"):
            self.open_small()
            w.go_to(title)
            self.settle()
            self.assertIsNotNone(w.scale.cuts.plan)
            w.studio.replace(Project(scene, None), None)
            self.settle()
            self.assertIsNone(w.scale.cuts.plan, title)
            self.assertEqual(w.scale.cuts.values, [])
            self.assertFalse([i.id for i in w.scale.items if not i.id.startswith("n")])
        w.go_to("Mass")
        dab = w.scale.places()[0][1].center().toPoint()
        ground = QColor(theme.current().surround)
        self.assertNotEqual(w.scale.viewport().grab().toImage().pixelColor(dab), ground, "the notes stay in sight")

    def test_from_mix_on_the_mixture_touches_the_target(self):
        w = self.window
        w.go_to("Note")
        self.assertEqual(w.scale._dabs.mixtures, {})
        w.go_to("Mix")
        self.settle()
        mixed = w.scale._dabs.mixtures
        self.assertTrue(mixed)
        without = w.scale._dabs.without_pile
        self.assertTrue({n.id for n in w.studio.document.notes} - set(mixed) <= without)
        self.assertFalse(w.scale.named)

    def test_the_order_of_laying_in(self):
        w = self.window
        w.go_to("Block in", "Sheet")
        self.settle()
        self.assertIs(w.scale.shows, Shows.ORDER)
        self.assertEqual(sorted(w.scale._order), [m.index for m in w.studio.masses.masses])

    def test_a_tube_is_taken_on_it(self):
        w = self.window
        w.go_to("Paint box")
        self.settle()
        first = w.scale.items[0]
        self.click(w.scale, w.scale.boxes()[0].center())
        self.assertEqual(w.at("Paint box").tubes_page.selected, first.id)
        self.key(Qt.Key.Key_Down, widget=w.scale)
        self.assertEqual(w.at("Paint box").tubes_page.selected, w.scale.items[1].id)
        self.assertIn("value", first.state)


class Forty(PictureCase):
    def test_forty_notes_in_the_smallest_window(self):
        w = self.window
        forty = notes(np.linspace(1.2, 9.3, 40).tolist())
        w.studio.replace(Project(Document(notes=forty, reference="x"), w.studio.picture), None)
        w.resize(1024, 700)
        w.go_to("Note")
        self.settle()
        self.assertFalse(w.scale.named)
        for note_id, box in w.scale.places():
            self.assertTrue(w.scale.rect().toRectF().adjusted(0, -1, 1, 1).contains(box), note_id)
        note_id, box = w.scale.places()[20]
        self.click(w.scale, box.center())
        self.assertEqual(w.studio.selected, note_id)
        with mock.patch.object(QInputDialog, "getText", return_value=("the one", True)):
            QTest.mouseDClick(w.scale.viewport(), Qt.MouseButton.LeftButton, pos=box.center().toPoint())
        self.assertEqual(w.studio.document.note(note_id).name, "the one", "a double click renames")


if __name__ == "__main__":
    unittest.main()
