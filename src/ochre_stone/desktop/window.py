"""The window: stations on top, easel in the centre, tray beside it, ledge below."""

from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QAction, QActionGroup, QCloseEvent, QKeySequence, QResizeEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QMainWindow,
    QMenu,
    QMessageBox,
    QScrollArea,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ochre_stone import __version__
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses.plan import label_places
from ochre_stone.core.masses.shapes import enlarge
from ochre_stone.core.paint.cautions import NO_AUTHORITY
from ochre_stone.core.paint.tubes import data_note
from ochre_stone.core.picture.load import SUFFIXES
from ochre_stone.core.picture.views import View, render
from ochre_stone.core.project.atomic import write_bytes
from ochre_stone.core.project.document import Document
from ochre_stone.core.project.files import SUFFIX, save
from ochre_stone.core.project.planning import note_targets
from ochre_stone.desktop import settings as memory
from ochre_stone.desktop import theme
from ochre_stone.desktop.stations.base import Station
from ochre_stone.desktop.stations.blockin import BlockIn
from ochre_stone.desktop.stations.harmonise import Harmonise
from ochre_stone.desktop.stations.look import Look
from ochre_stone.desktop.stations.mass import Mass
from ochre_stone.desktop.stations.mix import Mix
from ochre_stone.desktop.stations.note import NoteStation
from ochre_stone.desktop.strip import Strip
from ochre_stone.desktop.studio import Studio
from ochre_stone.desktop.widgets.easel import Easel, to_image
from ochre_stone.desktop.widgets.ledge import Ledge
from ochre_stone.desktop.widgets.scale import ValueScale
from ochre_stone.desktop.widgets.score import Score
from ochre_stone.desktop.widgets.shapes import Lab
from ochre_stone.desktop.widgets.sheetview import SheetView
from ochre_stone.desktop.widgets.wheel import WheelView

_TRAY = 344
_AUTOSAVE_MS = 60_000
_READABLE = " ".join(f"*{s} *{s.upper()}" for s in SUFFIXES)


class Window(QMainWindow):
    """Owns the studio and the stations."""

    def __init__(self, settings: memory.Settings | None = None) -> None:
        super().__init__()
        self.settings = settings if settings is not None else memory.load()
        self.studio = Studio(self)
        self.view: View = "as-is"
        self.strength = 0.5
        self.grey = False
        self.demo = False
        self.last_told = ""
        self._build_centre()
        self.stations: list[Station] = [
            Look(self),
            NoteStation(self),
            Mass(self),
            Harmonise(self),
            Mix(self),
            BlockIn(self),
        ]
        for s in self.stations:
            self._add_tray(s)
        self.station: Station = self.stations[0]
        self._menus()
        self._connect()
        self.resize(self.settings.width, self.settings.height)
        self.setMinimumSize(1024, 700)
        self._autosave = QTimer(self)
        self._autosave.setInterval(_AUTOSAVE_MS)
        self._autosave.timeout.connect(self.autosave)
        self._autosave.start()
        self.go_to("Look")
        self._title()

    # Building

    def _build_centre(self) -> None:
        self.strip = Strip(["Look", "Note", "Mass", "Harmonise", "Mix", "Block in"])
        self.easel, self.ledge, self.scale = Easel(), Ledge(), ValueScale()
        self.easel.hint = (
            "Open a photo to begin: File, Open (Ctrl+O), or drop it here.\nOr look at the demo: File, Open the demo."
        )
        self.ledge.hint = "Notes will stand here, from dark to light."
        self.wheel, self.score, self.sheet = WheelView(), Score(), SheetView()
        self.wheel.hint = "Take notes first."
        self.score_scroll = QScrollArea()
        self.score_scroll.setObjectName("surround")
        self.score_scroll.setWidgetResizable(True)
        self.score_scroll.setWidget(self.score)
        self.sides = QStackedWidget()
        self.panels = {"wheel": self.wheel, "score": self.score_scroll, "sheet": self.sheet}
        for panel in self.panels.values():
            self.sides.addWidget(panel)
        picture = QWidget()
        line = QHBoxLayout(picture)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        line.addWidget(self.scale)
        line.addWidget(self.easel, 1)
        self.split = QSplitter(Qt.Orientation.Horizontal)
        self.split.setHandleWidth(3)
        self.split.addWidget(picture)
        self.split.addWidget(self.sides)
        self.split.setChildrenCollapsible(False)
        self.trays = QStackedWidget()
        self.trays.setMinimumWidth(_TRAY)
        self.outer = QSplitter(Qt.Orientation.Horizontal)
        self.outer.setHandleWidth(3)
        self.outer.addWidget(self.split)
        self.outer.addWidget(self.trays)
        self.outer.setStretchFactor(0, 1)
        self.outer.setStretchFactor(1, 0)
        self.outer.setChildrenCollapsible(False)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.outer, 1)
        column.addWidget(self.ledge)
        self.setCentralWidget(body)
        bar = self.statusBar()
        assert bar is not None
        bar.setSizeGripEnabled(False)

    def _add_tray(self, station: Station) -> None:
        scroll = QScrollArea()
        scroll.setObjectName("trayScroll")
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(station)
        self.trays.addWidget(scroll)

    def _action(self, menu: QMenu, words: str, keys: Any, call: Any) -> QAction:
        action = QAction(words, self)
        if keys:
            action.setShortcuts([QKeySequence(k) for k in (keys if isinstance(keys, list) else [keys])])
        action.triggered.connect(lambda: call())
        menu.addAction(action)
        return action

    def _menus(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        file, edit, view, go, about = (bar.addMenu(w) for w in ("&File", "&Edit", "&View", "&Go", "&Help"))
        assert file and edit and view and go and about
        self._action(file, "&Open…", "Ctrl+O", self.ask_open)
        self.recent = file.addMenu("Open &recent")
        assert self.recent is not None
        self.recent.aboutToShow.connect(self._fill_recent)
        self._action(file, "Open the &demo", None, self.ask_demo)
        file.addSeparator()
        self.save_action = self._action(file, "&Save", "Ctrl+S", self.save)
        self._action(file, "Save &as…", "Ctrl+Shift+S", self.save_as)
        self._action(file, "Save the sheet as &PDF…", "Ctrl+P", self.export_pdf)
        file.addSeparator()
        self._action(file, "&Quit", "Ctrl+Q", self.close)
        undo, redo = (
            self.studio.undo.createUndoAction(self, "&Undo"),
            self.studio.undo.createRedoAction(self, "&Redo"),
        )
        assert undo and redo
        undo.setShortcuts([QKeySequence("Ctrl+Z")])
        redo.setShortcuts([QKeySequence("Ctrl+Shift+Z"), QKeySequence("Ctrl+Y")])
        edit.addActions([undo, redo])
        edit.addSeparator()
        self._action(
            edit,
            "Rename note…",
            "F2",
            self.rename_selected,
        )
        self._action(
            edit,
            "Remove note",
            "Del",
            self.remove_selected,
        )
        for words, key, name in (
            ("&As it is", "A", "as-is"),
            ("&Values", "V", "value"),
            ("&Squint", "S", "squint"),
        ):
            self._action(view, words, key, lambda n=name: self.set_view(n))
        self._action(view, "&Masses or picture", "M", self._toggle_masses)
        view.addSeparator()
        self._action(view, "Zoom in", ["+", "="], lambda: self.easel.zoom_by(1.25))
        self._action(view, "Zoom out", "-", lambda: self.easel.zoom_by(0.8))
        self._action(view, "&Fit", "F", self.easel.fit)
        view.addSeparator()
        surround = view.addMenu("S&urround")
        assert surround is not None
        group = QActionGroup(self)
        for name in theme.THEMES:
            action = self._action(surround, f"{name.capitalize()} grey", None, lambda n=name: self.set_surround(n))
            action.setCheckable(True)
            action.setChecked(name == self.settings.surround)
            group.addAction(action)
        for i, s in enumerate(self.stations, 1):
            self._action(go, f"&{i} {s.title}", f"Ctrl+{i}", lambda t=s.title: self.go_to(t))
        note = self.stations[1]
        assert isinstance(note, NoteStation)
        self._action(go, "Set the light by a &grey", "G", lambda: self._arm_light("grey"))
        self._action(go, "Set the light by a &white", "W", lambda: self._arm_light("white"))
        self._action(go, "Smaller aperture", "[", lambda: note.aperture.setValue(note.aperture.value() - 2))
        self._action(go, "Larger aperture", "]", lambda: note.aperture.setValue(note.aperture.value() + 2))
        self._action(about, "About the &figures", None, self._about_figures)
        self._action(about, "&About Ochre Stone", None, self._about)

    def _connect(self) -> None:
        s = self.studio
        self.strip.chosen.connect(lambda i: self.go_to(self.stations[i].title))
        s.changed.connect(self._changed)
        s.light_changed.connect(self.repaint_easel)
        s.masses_changed.connect(self._masses_changed)
        s.selected_changed.connect(self._show_notes)
        s.notes_measured.connect(self._words)
        s.mixed_changed.connect(self._mixed)
        s.told.connect(self.tell)
        s.failed.connect(self.complain)
        s.path_changed.connect(self._title)
        s.undo.cleanChanged.connect(lambda _: self._title())
        self.easel.clicked.connect(lambda x, y: self.station.spot_clicked(x, y))
        self.easel.mark_chosen.connect(s.select)
        self.easel.files_dropped.connect(lambda path: self.open(Path(path)))
        note, mass, harmonise, mix = self.stations[1:5]
        assert isinstance(note, NoteStation) and isinstance(mass, Mass)
        assert isinstance(harmonise, Harmonise) and isinstance(mix, Mix)
        self.easel.mark_moved.connect(note.mark_moved)
        self.scale.cuts_moved.connect(mass.cuts_moved)
        self.wheel.turned.connect(harmonise.turned)
        self.wheel.note_chosen.connect(s.select)
        self.score.chosen.connect(mix.choose)
        self.ledge.chosen.connect(s.select)
        self.ledge.remove_asked.connect(self.remove_note)
        self.ledge.rename_asked.connect(self.rename_note)

    # Going about

    def go_to(self, title: str) -> None:
        """Come to a station."""
        index = next(i for i, s in enumerate(self.stations) if s.title == title)
        self.station.leave()
        self.station = self.stations[index]
        self.trays.setCurrentIndex(index)
        side = self.station.side
        self.sides.setVisible(bool(side))
        if side:
            self.sides.setCurrentWidget(self.panels[side])
        self.scale.setVisible(self.station.shows_scale)
        self.easel.show_marks = self.station.shows_marks
        self._split()
        self.station.enter()
        self._show_notes()
        self.repaint_easel()
        self._words()

    def _arm_light(self, kind: str) -> None:
        self.go_to("Look")
        look = self.stations[0]
        assert isinstance(look, Look)
        look.arm(kind)

    def _split(self) -> None:
        """Share the centre between picture and side panel."""
        whole = max(self.outer.width() - self.trays.width() - 3, 300) if self.isVisible() else self.width() - _TRAY
        share = {"wheel": 0.5, "score": 0.8, "sheet": 0.62}.get(self.station.side, 0.0)
        if share:
            self.split.setSizes([round(whole * (1 - share)), round(whole * share)])

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if hasattr(self, "station"):
            self._split()

    def set_view(self, view: View | None = None, strength: float | None = None, grey: bool | None = None) -> None:
        """See the picture another way; what is sampled never changes."""
        self.view = view or self.view
        self.strength = self.strength if strength is None else strength
        self.grey = self.grey if grey is None else grey
        if isinstance(self.station, Look):
            self.station.refresh()
        self.repaint_easel()

    def _toggle_masses(self) -> None:
        mass = self.stations[2]
        assert isinstance(mass, Mass)
        (mass.show_picture if mass.show_masses.isChecked() else mass.show_masses).setChecked(True)
        self.repaint_easel()

    def set_surround(self, name: str) -> None:
        """Another grey around the colours."""
        self.settings.surround = name
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply(app, name)
        self.sheet.restyle()
        for w in self.findChildren(QWidget):
            w.update()

    # Showing

    def repaint_easel(self) -> None:
        """Render the picture or the masses off the main thread and show them."""
        picture, screen = self.studio.picture, self.studio.screen
        if picture is None or screen is None:
            self.easel.show_image(None)
            self.easel.show_labels(())
            return
        full = (picture.width, picture.height)
        plan = self.studio.masses
        mass = self.stations[2]
        assert isinstance(mass, Mass)
        wants = (self.station is mass and mass.show_masses.isChecked()) or isinstance(self.station, BlockIn)
        if wants and plan is not None:

            def draw(_: Any) -> tuple[Any, Any]:
                height, width = plan.labels.shape
                code = plan.greys()[enlarge(plan.labels, len(plan.masses), width * 2, height * 2)]
                dark = plan.greys() < 118
                return to_image(code), [(x, y, str(i + 1), bool(dark[i])) for x, y, i in label_places(plan)]
        else:
            view, strength, grey = self.view, self.strength, self.grey

            def draw(_: Any) -> tuple[Any, Any]:
                return to_image(render(screen, view, strength, grey)), ()

        def arrived(answer: tuple[Any, Any]) -> None:
            self.easel.show_image(answer[0], full)
            self.easel.show_labels(answer[1])

        self.studio.jobs.start("view", draw, arrived, self.complain)

    def _masses_changed(self) -> None:
        self.repaint_easel()
        self._words()

    def _mixed(self) -> None:
        self._show_notes()
        self._words()

    def _changed(self, old: Document, new: Document) -> None:
        self._show_notes()
        self._words()
        self._title()

    def _targets(self) -> dict[str, Lab]:
        goal = note_targets(self.studio.document)
        return {n.id: (g[0], g[1], g[2]) for n, g in zip(self.studio.document.notes, goal.tolist(), strict=True)}

    def _mixtures(self) -> dict[str, Lab]:
        """For each note the pile of its string that stands nearest in value."""
        strings = {s.id: s for s in self.studio.document.mixed.strings}
        out: dict[str, Lab] = {}
        for n in self.studio.document.notes:
            string = strings.get(n.group) or strings.get(n.subject)
            if string is not None:
                value = float(value_of_lightness(min(n.lab[0], 100.0)))
                out[n.id] = min(string.piles, key=lambda p: abs(p.target.value - value)).recipe.lab
        return out

    def _show_notes(self) -> None:
        document = self.studio.document
        late = self.station.title in ("Mix", "Block in")
        targets = self._targets() if self.station.title in ("Harmonise", "Mix", "Block in") else {}
        mixtures = self._mixtures() if late and self.studio.strings_ready() else {}
        self.ledge.show_notes(document.notes, targets, mixtures, self.studio.selected)
        self.easel.show_notes(document.notes, self.studio.selected)
        if self.station.title == "Harmonise":
            self.station.refresh()

    def show_wheel(self, arms: tuple[float, ...]) -> None:
        """Show notes and scheme on the wheel."""
        h = self.studio.document.harmony
        targets = self._targets()
        pairs = [(n, targets[n.id]) for n in self.studio.document.notes]
        self.wheel.show_notes(h.wheel, pairs, arms, h.rotation, self.studio.selected)

    def _words(self) -> None:
        self.strip.show_state(self.stations.index(self.station), [s.done_words() for s in self.stations])

    def _title(self) -> None:
        mark = "" if self.studio.undo.isClean() else " •"
        self.setWindowTitle(f"{self.studio.title}{mark} – Ochre Stone")

    def tell(self, words: str) -> None:
        """One sentence in the status line."""
        self.last_told = words
        bar = self.statusBar()
        assert bar is not None
        bar.showMessage(words, 12_000)

    def complain(self, words: str) -> None:
        """What went wrong, in one sentence, until it is read."""
        self.tell(words)
        box = QMessageBox(QMessageBox.Icon.NoIcon, "Ochre Stone", words, QMessageBox.StandardButton.Ok, self)
        box.setObjectName("complaint")
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.open()

    # Notes

    def remove_selected(self) -> None:
        """Take the note in hand off the ledge."""
        if self.studio.selected is not None:
            self.remove_note(self.studio.selected)

    def rename_selected(self) -> None:
        """Ask for another name for the note in hand."""
        if self.studio.selected is not None:
            self.rename_note(self.studio.selected)

    def remove_note(self, note_id: str) -> None:
        """Take a note off the ledge."""
        if any(n.id == note_id for n in self.studio.document.notes):
            self.studio.change("Remove note", self.studio.document.without_note(note_id))

    def rename_note(self, note_id: str) -> None:
        """Ask for another name."""
        note = self.studio.document.note(note_id)
        name, fine = QInputDialog.getText(self, "Rename note", "Name of the note:", text=note.name)
        if fine and name.strip():
            self.studio.change(
                "Rename note",
                self.studio.document.with_note(note.model_copy(update={"name": name.strip()[:80]})),
            )

    # Files

    def ask_open(self) -> None:
        if not self.may_go_on():
            return
        name, _ = QFileDialog.getOpenFileName(
            self, "Open a photo or a project", self.settings.folder,
            f"Photos and projects ({_READABLE} *{SUFFIX});;Projects (*{SUFFIX});;All files (*)",
        )  # fmt: skip
        if name:
            self.open(Path(name), asked=True)

    def open(self, path: Path, asked: bool = False) -> None:
        """Open a photo or a project; unsaved work is asked about first."""
        if not asked and not self.may_go_on():
            return

        def done() -> None:
            self.demo = False
            self.settings.remember(path)
            memory.store(self.settings)
            self._title()

        self.tell(f"Opening {path.name}…")
        self.studio.load(path, done)

    def ask_demo(self) -> None:
        if self.may_go_on():
            self.open_demo()

    def open_demo(self) -> None:
        """Open the demo project as an untitled copy: the shipped one is never written to."""
        from ochre_stone.core.project.files import open_project
        from ochre_stone.resources import resource

        self.studio.replace(open_project(resource("demo", "orchard-keeper.ochre")), None)
        self.demo = True
        self.tell("This is a copy of the demo: try anything; Save asks where to keep it.")

    def _fill_recent(self) -> None:
        assert self.recent is not None
        self.recent.clear()
        for name in self.settings.recent:
            self._action(self.recent, name.replace("&", "&&"), None, lambda p=name: self.open(Path(p)))
        if not self.settings.recent:
            action = self.recent.addAction("nothing yet")
            assert action is not None
            action.setEnabled(False)

    def save(self) -> bool:
        """Save; asks where when that is not known."""
        if self.studio.path is None:
            return self.save_as()
        return self.save_to(self.studio.path)

    def save_as(self) -> bool:
        start = str(Path(self.settings.folder or Path.home()) / f"{self.studio.title}{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self, "Save the project", start, f"Projects (*{SUFFIX})")
        if not name:
            return False
        path = Path(name)
        return self.save_to(path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX))

    def save_to(self, path: Path) -> bool:
        """Save to a file; says what went wrong and gives False when it could not."""
        try:
            self.studio.save(path)
        except OchreError as error:
            self.complain(str(error))
            return False
        self.demo = False
        self.settings.remember(path)
        memory.store(self.settings)
        memory.autosave_file().unlink(missing_ok=True)
        self.tell(f"Saved {path.name}.")
        self._title()
        return True

    def export_pdf(self) -> bool:
        """Ask where to save the sheet."""
        block_in = self.stations[5]
        assert isinstance(block_in, BlockIn)
        if not block_in.pdf or self.station is not block_in:
            self.go_to("Block in")
            if not block_in.pdf:
                self.tell("The sheet is being made: save it when it is shown.")
                return False
        start = str(Path(self.settings.folder or Path.home()) / f"{self.studio.title} sheet.pdf")
        name, _ = QFileDialog.getSaveFileName(self, "Save the sheet", start, "PDF (*.pdf)")
        if not name:
            return False
        return self.write_pdf(Path(name if name.lower().endswith(".pdf") else name + ".pdf"))

    def write_pdf(self, path: Path) -> bool:
        """Write the sheet that is shown."""
        block_in = self.stations[5]
        assert isinstance(block_in, BlockIn)
        try:
            write_bytes(path, block_in.pdf)
        except OchreError as error:
            self.complain(str(error))
            return False
        self.tell(f"Saved {path.name}.")
        return True

    def may_go_on(self) -> bool:
        """False when there is unsaved work that the painter wants to keep at hand."""
        if self.studio.undo.isClean():
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self, "Ochre Stone", f"Save the changes to “{self.studio.title}” first?",
            buttons.Save | buttons.Discard | buttons.Cancel, buttons.Save,
        )  # fmt: skip
        if answer == buttons.Save:
            return self.save()
        return bool(answer == buttons.Discard)

    def autosave(self) -> None:
        """Keep a copy of unsaved work, off the main thread."""
        document, picture = self.studio.document, self.studio.picture
        if self.studio.undo.isClean() or picture is None:
            return
        path = self.studio.path
        place = path.with_name(f".{path.name}.autosave") if path is not None else memory.autosave_file()

        def work(_: Any) -> None:
            place.parent.mkdir(parents=True, exist_ok=True)
            save(place, document, picture)

        self.studio.jobs.start("autosave", work, lambda _: None, self.tell)

    def offer_autosave(self) -> None:
        """After a crash: bring unsaved work back, if the painter wants it."""
        place = memory.autosave_file()
        if not place.exists():
            return
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self,
            "Ochre Stone",
            "The last time ended before the work was saved. Bring it back?",
            buttons.Yes | buttons.No,
            buttons.Yes,
        )
        if answer == buttons.Yes:
            self.studio.load(place, lambda: self.studio.undo.resetClean())
        else:
            place.unlink(missing_ok=True)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.may_go_on():
            event.ignore()
            return
        self._autosave.stop()
        self.studio.stop()
        memory.autosave_file().unlink(missing_ok=True)
        if self.studio.path is not None:
            self.studio.path.with_name(f".{self.studio.path.name}.autosave").unlink(missing_ok=True)
        self.settings.width, self.settings.height = self.width(), self.height()
        memory.store(self.settings)
        event.accept()

    # Help

    def _about_figures(self) -> None:
        QMessageBox.information(
            self, "About the figures",
            f"{data_note()}\n\nTypically a mixture comes within 3 to 5 CIEDE2000 with generic tubes: "
            f"mix a little and compare.\n\n{NO_AUTHORITY}",
        )  # fmt: skip

    def _about(self) -> None:
        QMessageBox.about(
            self, "About Ochre Stone",
            f"Ochre Stone {__version__}\nFrom a reference picture to a printed mixing plan.\n\nGPL-3.0-or-later. "
            "Face: Atkinson Hyperlegible Next, SIL Open Font License 1.1.",
        )  # fmt: skip
