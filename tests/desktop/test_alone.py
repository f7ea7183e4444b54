"""Session, stations and widgets without the window: each stands on what it is handed."""

import tempfile
import time
import unittest
from collections import Counter
from pathlib import Path
from types import SimpleNamespace
from unittest import mock

from PyQt6.QtWidgets import QPushButton, QWidget

from ochre_stone.core.mixing.recipe.recipe import Ingredient
from ochre_stone.core.mixing.session.adding import CUT, Step
from ochre_stone.core.store import boxfile, safecopy
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.showing import Showing
from ochre_stone.desktop.scale.scale import ValueScale
from ochre_stone.desktop.session import logkeeper
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.stations.mass.choice import Masses
from ochre_stone.desktop.stations.mass.light import FamilyPage
from ochre_stone.desktop.stations.station import Desk
from ochre_stone.desktop.widgets.addingview import AddingView
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.desktop.window.stations import STATIONS
from tests.desktop.helpers import app
from tests.support.made import small_project


class AloneCase(unittest.TestCase):
    """A session with the small project, in a home of its own, and no window."""

    def setUp(self) -> None:
        self.app = app()
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        folder = Path(held.name)
        for module, name in ((memory, "user_config_path"), (safecopy, "user_state_path"), (boxfile, "user_data_path")):
            patch = mock.patch.object(module, name, lambda app_name: folder / app_name)
            patch.start()
            self.addCleanup(patch.stop)
        self.session = Session(memory.Settings())
        self.addCleanup(self.session.close)
        self.studio = self.session.studio
        path = folder / "small.ochre"
        path.write_bytes(small_project())
        self.studio.files.load(path, as_copy=True)
        self.settle()

    def settle(self) -> None:
        end, quiet = time.monotonic() + 60, 0
        while quiet < 5:
            self.assertLess(time.monotonic(), end, "waited too long")
            self.app.processEvents()
            quiet = quiet + 1 if self.studio.idle else 0
            time.sleep(0.002)


class Sessions(AloneCase):
    def test_what_is_left_is_known_to_a_log_that_is_loaded_after_the_project(self):
        self.assertNotIn("log", vars(self.session))
        left = [SimpleNamespace(id="grey", ml=1.0)]
        with (
            mock.patch.object(logkeeper, "leftovers", lambda book, now: left),
            mock.patch.object(logkeeper, "as_supplies", lambda found, tubes: ["yesterday's grey"]),
        ):
            log = self.session.log
            while not log.idle:
                self.settle()
        self.assertEqual(self.session.bench.paints.leftovers(), ("yesterday's grey",))

    def test_the_document_its_history_and_what_is_in_hand(self):
        notes, piles = self.session.notes, self.session.piles
        self.assertEqual(len(self.studio.document.notes), 9)
        self.studio.select("n2")
        notes.remove_in_hand()
        self.assertEqual([n.id for n in self.studio.document.notes][:2], ["n1", "n3"])
        self.assertTrue(self.studio.undo.canUndo())
        self.studio.undo.undo()
        self.assertEqual(len(self.studio.document.notes), 9)
        piles.choose("sky-2")
        self.assertEqual(piles.in_hand, "sky-2")

    def test_a_closed_session_hears_of_no_file_any_more(self):
        with mock.patch.object(self.session.keeper, "read_anew") as heard:
            self.session.watch_files()
            self.session.close()
            file = boxfile.box_file()
            file.parent.mkdir(parents=True, exist_ok=True)
            file.write_text("{}")
            end = time.monotonic() + 0.4
            while time.monotonic() < end:
                self.app.processEvents()
                time.sleep(0.005)
        heard.assert_not_called()

    def test_masses_are_worked_out(self):
        plan = self.studio.masses
        assert plan is not None
        self.assertEqual(len(plan.masses), self.studio.document.masses.values)
        self.assertAlmostEqual(sum(m.share for m in plan.masses), 1.0, places=6)


class Stations(AloneCase):
    def test_each_stands_on_session_and_desk(self):
        easel, scale = Easel(), ValueScale()
        desk = Desk(easel, scale, Showing(self.session, easel))
        made = [make(self.session, desk) for make in STATIONS]
        self.assertEqual(len({s.title for s in made}), len(STATIONS))
        self.assertEqual(len({s.order for s in made}), len(STATIONS))
        for s in made:
            s.active = True
            s.ready()
            s.enter()
            self.settle()
            if s.title != "Paint box":
                self.assertTrue(s.done_words(), s.title)
            self.assertIsNone(s.parent(), s.title)
            s.leave()
            s.active = False

    def test_no_key_is_taken_twice(self):
        easel, scale = Easel(), ValueScale()
        desk = Desk(easel, scale, Showing(self.session, easel))
        commands = [c for make in STATIONS for c in make(self.session, desk).commands()]
        keys = Counter(k for c in commands for k in c.keys)
        self.assertEqual([k for k, n in keys.items() if n > 1], [])
        self.assertEqual({c.menu for c in commands} - {"File", "Edit", "View", "Go"}, set())
        self.assertIn("Del", keys)


class Pages(AloneCase):
    def test_the_light_page_needs_masses_only(self):
        side = QWidget()
        tray = Tray(side, (16, 12, 16, 12))
        page = FamilyPage(tray, Masses(self.studio))
        page.refresh()
        plan = self.studio.masses
        assert plan is not None
        self.assertAlmostEqual(page.division.value(), plan.division, places=2)
        before = plan.masses[0].family
        rows = [b for b in side.findChildren(QPushButton) if b.text() in ("light", "shadow")]
        self.assertEqual(len(rows), len(plan.masses))
        page.division.setValue(0.1)
        self.settle()
        after = self.studio.masses
        assert after is not None
        self.assertEqual((before, {m.family for m in after.masses}), ("shadow", {"light"}))
        page.refresh()
        page.suggested.click()
        self.settle()
        self.assertIsNone(self.studio.document.masses.division)


class Widgets(unittest.TestCase):
    def test_the_order_of_adding_is_read_out(self):
        app()
        view = AddingView()
        white, black = Ingredient("titanium-white", "white", 4.0), Ingredient("ivory-black", "black", 0.125)
        steps = [
            Step("add", (white,), 1.0, (97.0, 0, 1), "first"),
            Step("cut", (), 0.0, (97.0, 0, 1), CUT),
            Step("add", (black,), 0.06, (70.0, 0, 0), "sets the value", half=True),
            Step("join", (black,), 0.0, (70.0, 0, 0), "where the half is right"),
        ]
        view.show_steps(steps, (70.0, 0.0, 0.0))
        self.assertEqual(view.accessibleName(), "Order of adding")
        self.assertEqual(
            view.accessibleDescription(),
            "4 white: first; cut the pile in two, keep one half as it is; half a touch of black into the half: sets "
            "the value; half a touch of black into the half kept; join both: where the half is right",
        )
        plain = AddingView()
        plain.show_steps(steps[:1], (70.0, 0.0, 0.0))
        self.assertGreater(view.height(), 2 * plain.height() - 10)
        self.assertFalse(view.grab().isNull())
