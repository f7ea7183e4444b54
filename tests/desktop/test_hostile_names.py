"""Names out of files that look like marks: every word, tip, list and title of the window shows them as they are."""

import json
import shutil
import unittest
from typing import Any

from PyQt6.QtCore import QAbstractItemModel, QModelIndex, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QAbstractItemView, QComboBox, QLabel, QMessageBox, QWidget

from ochre_stone.core.document.document import Document
from ochre_stone.core.planning.rows import fingerprint
from ochre_stone.core.store.boxfile import OwnPalette, OwnTube, PigmentPart
from ochre_stone.core.store.files import Project, open_project
from tests.desktop.helpers import PictureCase
from tests.logbook.made import THEN, entry
from tests.support.made import small_project

EVIL = "<img src='/dev/zero'>"
_RICH = ("<img", "&lt;img src='/dev/zero'")
_ROLES = (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.WhatsThisRole, Qt.ItemDataRole.StatusTipRole)


def named(held: Any) -> Any:
    """A document's data in which every name that a file can bring is hostile."""
    if isinstance(held, dict):
        free = ("name", "title", "why", "balance_words", "balance_from", "target_name")
        return {k: f"{EVIL} {v}"[:60] if k in free else named(v) for k, v in held.items()}
    return [named(v) for v in held] if isinstance(held, list) else held


class Hostile(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.seen: set[str] = set()
        """Kinds of places in which a hostile name stood."""
        session = self.window.session
        (self.folder / "small.ochre").write_bytes(small_project())
        project = open_project(self.folder / "small.ochre")
        document = Document.model_validate(named(json.loads(project.document.model_dump_json())))
        document = document.model_copy(update={"uid": "my-orchard"})
        document = document.model_copy(
            update={"mixed": document.mixed.model_copy(update={"fingerprint": fingerprint(document)})}
        )
        part = (PigmentPart(pigment="titanium-white"),)
        box = session.keeper.box.with_tube(OwnTube(id="own-w", name=EVIL, parts=part, remark=EVIL, stock_ml=2.0))
        box = box.with_palette(OwnPalette(id="own-p", name=EVIL, paints=("own-w", "ivory-black", "yellow-ochre")))
        session.keeper.attempt("Add", lambda: box)
        session.settings.recent = [str(self.folder / f"{EVIL.replace('/', '-')}.ochre")]
        self.window.studio.replace(Project(document, project.picture), None)
        self.settle()
        doses = entry({"titanium-white": 1.0, "yellow-ochre": 0.2}, n=1, lab=(70.0, 5.0, 20.0))
        evil = named(json.loads(doses.model_dump_json())) | {"line": EVIL, "uid": doses.uid, "left_ml": 1.0}
        log = {"format": "ochre-stone-log", "piles": [evil], "tubes": self.tubes()}
        file = self.folder / "log.json"
        file.write_text(json.dumps(log))
        self.window.at("Log").keep_page.take_in(file)
        self.settle()

    def tubes(self) -> list[dict[str, Any]]:
        return [json.loads(t.model_dump_json()) | {"name": EVIL} for t in THEN.values()]

    def look(self, where: str) -> None:
        for w in [self.window, *self.window.findChildren(QWidget), *self.app.topLevelWidgets()]:
            for kind, words in (("tip", w.toolTip()), ("what's this", w.whatsThis()), ("status tip", w.statusTip())):
                self.plain(f"{kind} of {w.accessibleName() or type(w).__name__} at {where}", kind, words)
            if isinstance(w, QLabel):
                if w.textFormat() != Qt.TextFormat.PlainText:
                    self.plain(f"{w.accessibleName() or w.text()[:40]!r} at {where}", "label", w.text())
                elif EVIL in w.text():
                    self.seen.add("label")
            if isinstance(w, QMessageBox):
                self.assertEqual(w.textFormat(), Qt.TextFormat.PlainText)
            if isinstance(w, QAbstractItemView | QComboBox):
                self.look_at(w.model(), f"{w.accessibleName() or type(w).__name__} at {where}")
        for action in self.window.findChildren(QAction):
            self.plain(f"action {action.text()} at {where}", "action", action.toolTip())

    def look_at(self, model: QAbstractItemModel | None, where: str) -> None:
        if model is None:
            return
        for row in range(min(model.rowCount(QModelIndex()), 60)):
            index = model.index(row, 0)
            if EVIL in str(index.data() or ""):
                self.seen.add("list")
            for role in _ROLES:
                self.plain(f"row {row} of {where}", "list tip", str(index.data(role) or ""))

    def plain(self, where: str, kind: str, words: str) -> None:
        self.assertNotIn("<img", words, where)
        if "&lt;img" in words:
            self.seen.add(kind)
            self.assertTrue(words.startswith("<"), f"{where}: {words!r} would be taken for marks")

    def test_every_station_shows_them_as_they_are(self) -> None:
        for station in self.window.stations:
            self.window.make_ready(station)
            names = list(station.pages.names) if station.pages is not None else [""]
            for page in names:
                self.window.go_to(station.title, page)
                self.settle()
            self.look(station.title)  # at all its pages: they stay as they were left
        self.assertIn(EVIL, self.window.windowTitle())  # titles are plain by themselves
        self.window.go_to("Log", "Pile")
        self.settle()
        log = self.window.at("Log")
        log.take_uid("made-00000001")
        self.settle()
        self.look("a pile of the log")
        self.assertIn(EVIL, log.pile_page.course.text())
        self.assertEqual(self.seen & {"tip", "label", "list"}, {"tip", "label", "list"})

    def test_a_file_named_so_is_told_as_it_is(self) -> None:
        photo = self.folder / "<img src='x'>&lt;b>.png"
        shutil.copy(self.photo, photo)
        self.window.files.open(photo, asked=True)
        self.settle()
        self.assertIn(photo.stem, self.window.windowTitle())
        self.window.complain(f"'{photo.name}' cannot be read.")
        self.app.processEvents()
        (box,) = (b for b in self.window.findChildren(QMessageBox) if b.isVisible())
        self.assertIn(photo.name, box.text())
        self.look("a complaint about a photo of that name")


if __name__ == "__main__":
    unittest.main()
