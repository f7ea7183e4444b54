"""The window: stations on top, easel in the centre, tray beside it, ledge below."""

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QCloseEvent, QResizeEvent, QUndoGroup
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QMainWindow,
    QMessageBox,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.reading import read
from ochre_stone.core.paint.tubes import all_tubes
from ochre_stone.core.project.document import Document, Mixed
from ochre_stone.core.project.rows import note_targets, string_of
from ochre_stone.desktop import menus, theme
from ochre_stone.desktop import settings as memory
from ochre_stone.desktop.boxwork import BoxKeeper
from ochre_stone.desktop.easelpage import EaselPage
from ochre_stone.desktop.filing import Filing
from ochre_stone.desktop.preferences import Preferences
from ochre_stone.desktop.readerlink import ReaderLink
from ochre_stone.desktop.showing import Showing
from ochre_stone.desktop.stations.base import Station
from ochre_stone.desktop.stations.blockin import BlockIn
from ochre_stone.desktop.stations.harmonise import Harmonise
from ochre_stone.desktop.stations.look import Look
from ochre_stone.desktop.stations.mass import Mass
from ochre_stone.desktop.stations.mix import Mix
from ochre_stone.desktop.stations.note import NoteStation
from ochre_stone.desktop.stations.paintbox import PaintBoxStation
from ochre_stone.desktop.strip import Strip
from ochre_stone.desktop.studio import Studio
from ochre_stone.desktop.widgets.easel import Easel
from ochre_stone.desktop.widgets.ledge import Ledge
from ochre_stone.desktop.widgets.scale import ValueScale
from ochre_stone.desktop.widgets.score import Score
from ochre_stone.desktop.widgets.shapes import Lab, warm
from ochre_stone.desktop.widgets.sheetview import SheetView
from ochre_stone.desktop.widgets.wheel import WheelView

_TRAY = 350


def warm_strings(mixed: Mixed) -> None:
    """Screen colours of all that a score shows: piles, targets and tubes."""
    recipes = [p.recipe for s in mixed.strings for p in s.piles]
    warm([*(r.lab for r in recipes), *(r.target for r in recipes)])
    warm({mixed.tube(i).lab for r in recipes for i, _ in r.shares})


class Window(QMainWindow):
    """Owns the studio and the stations."""

    def __init__(self, settings: memory.Settings | None = None) -> None:
        super().__init__()
        self.settings = settings if settings is not None else memory.load()
        self.studio = Studio(self)
        self.last_told = ""
        self.reader = ReaderLink(self.studio)
        self.keeper = BoxKeeper(self)
        self._build_centre()
        self.preferences = Preferences(self)
        self.showing = Showing(self)
        self.studio.prepare = warm_strings
        self.ledge.by_subject = self.settings.ledge_order == "subject"
        self.look = Look(self)
        self.note_station = NoteStation(self)
        self.mass = Mass(self)
        self.harmonise = Harmonise(self)
        self.mix = Mix(self)
        self.block_in = BlockIn(self)
        self.paint_box = PaintBoxStation(self)
        self.stations: list[Station] = [
            self.look, self.note_station, self.mass, self.harmonise, self.mix, self.block_in,
            self.paint_box,
        ]  # fmt: skip
        for s in self.stations:
            self._add_tray(s)
        self.station: Station = self.look
        self.filing = Filing(self)
        self.easel_page = EaselPage(self)
        self.undo_actions: list[QAction] = []
        self.undo_group = QUndoGroup(self)
        self.undo_group.addStack(self.studio.undo)
        self.undo_group.addStack(self.keeper.undo)
        menus.build(self)
        self._connect()
        self.resize(self.settings.width, self.settings.height)
        self.setMinimumSize(1024, 700)
        self.outer.setSizes([self.width() - _TRAY - 3, _TRAY])  # not as wide as the longest list would like
        self.go_to("Look")
        self.show_title()
        self.preferences.find_display()
        # Tables that the first reading of a colour needs: a fifth of a second that nobody should wait for.
        self.studio.jobs.start("warm", lambda _: read((50.0, 20.0, 20.0)) and all_tubes(), lambda _: None)
        if self.keeper.wrong:
            self.complain(self.keeper.wrong)

    # Building

    def _build_centre(self) -> None:
        self.strip = Strip(["Look", "Note", "Mass", "Harmonise", "Mix", "Block in", "Paint box"], apart=1)
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
        self.mix_panel, self.block_panel = QStackedWidget(), QStackedWidget()
        self.block_panel.addWidget(self.sheet)
        self.mix_panel.addWidget(self.score_scroll)
        self.box_panel = QStackedWidget()
        self.panels = {
            "wheel": self.wheel, "score": self.mix_panel, "sheet": self.block_panel, "box": self.box_panel,
        }  # fmt: skip
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
        bar.setFixedHeight(26)
        self.under_pointer = QLabel("")
        self.under_pointer.setAccessibleName("Colour under the pointer")
        bar.addPermanentWidget(self.under_pointer)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setFixedWidth(140)
        self.progress.setAccessibleName("How far opening is")
        self.progress.hide()
        self.stop_opening = QPushButton("Cancel")
        self.stop_opening.setProperty("kind", "small")
        self.stop_opening.clicked.connect(self.studio.cancel_opening)
        self.stop_opening.hide()
        bar.addPermanentWidget(self.progress)
        bar.addPermanentWidget(self.stop_opening)
        self.display_words = QLabel("")
        self.display_words.setContentsMargins(8, 0, 12, 0)
        self.display_words.setAccessibleName("Monitor profile")
        bar.addPermanentWidget(self.display_words)

    def _add_tray(self, station: Station) -> None:
        scroll = QScrollArea()
        scroll.setObjectName("trayScroll")
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(station)
        self.trays.addWidget(scroll)

    def _connect(self) -> None:
        s = self.studio
        self.strip.chosen.connect(lambda i: self.go_to(self.stations[i].title))
        s.changed.connect(self._changed)
        s.light_changed.connect(self.showing.repaint)
        s.masses_changed.connect(self._masses_changed)
        s.masses_refined.connect(self.showing.repaint)
        s.selected_changed.connect(self.show_notes)
        s.glimpsed.connect(self.showing.glimpsed)
        s.opening.connect(self.showing.opening)
        s.lost_changed.connect(self.showing.lost_changed)
        s.notes_measured.connect(self._words)
        s.mixed_changed.connect(self._words)
        s.told.connect(self.tell)
        s.failed.connect(self.complain)
        s.path_changed.connect(self.show_title)
        s.undo.cleanChanged.connect(lambda _: self.show_title())
        self.easel.clicked.connect(self.showing.clicked)
        self.easel.drawn.connect(self.showing.drawn)
        self.easel.tool_dropped.connect(lambda: self.station.tool_dropped())
        self.easel.mark_chosen.connect(s.select)
        self.easel.hovered.connect(self.showing.read_under_pointer)
        self.easel.files_dropped.connect(lambda path: self.filing.open(Path(path)))
        self.easel.mark_moved.connect(self.showing.mark_moved)
        self.scale.cuts_moved.connect(self.mass.cuts_moved)
        self.scale.division_moved.connect(self.mass.division_moved)
        self.wheel.turned.connect(self.harmonise.turned)
        self.wheel.note_chosen.connect(s.select)
        self.score.chosen.connect(self.mix.choose)
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
        self.undo_group.setActiveStack(self.keeper.undo if self.station is self.paint_box else self.studio.undo)
        self.scale.setVisible(self.station.shows_scale)
        self.easel.show_marks = self.station.shows_marks
        self._split()
        self.station.enter()
        self.showing.reframe()
        self.show_notes()
        self._words()

    def turn_page(self, step: int) -> None:
        """The next or previous page of the tray, where the station has pages."""
        pages = self.station.tray_pages
        if pages is not None:
            pages.show(pages.names[(pages.names.index(pages.here) + step) % len(pages.names)])

    def take_tool(self, name: str) -> None:
        """Come to Note with this tool in hand, ready for keys on the easel."""
        self.go_to("Note")
        self.note_station.take(name)
        self.easel.setFocus()

    def to_panel(self, station: str, panel: QWidget) -> None:
        """Come to a station with the keys on what stands beside its easel."""
        self.go_to(station)
        panel.setFocus()

    def draw_on_masses(self, page: str, purpose: str) -> None:
        """Come to a page of Mass with the area tool in hand."""
        self.go_to("Mass")
        self.mass.pages_.show(page)
        self.mass.draw_for(purpose)

    def find_in_chart(self) -> None:
        """The cells of the palette's chart that come nearest to the note in hand."""
        self.go_to("Paint box")
        self.paint_box.pages_.show("Charts")
        self.paint_box.charts_page.find_soon()

    def next_harmony_sight(self) -> None:
        """At Harmonise: the picture, then as it would be pulled, then the masses."""
        self.go_to("Harmonise")
        self.harmonise.next_sight()

    def to_easel_view(self) -> None:
        """One pile at a time, full screen."""
        if self.mix.found() is None:
            self.tell("There are no piles yet: take notes, and come to Mix.")
            return
        self.easel_page.show_it()

    def arm_light(self, kind: str) -> None:
        """Make the next click set the light."""
        self.go_to("Look")
        self.look.arm(kind)

    def _split(self) -> None:
        """Share the centre between picture and side panel."""
        whole = max(self.outer.width() - self.trays.width() - 3, 300) if self.isVisible() else self.width() - _TRAY
        share = {"wheel": 0.5, "score": 0.8, "sheet": 0.62, "box": 0.72}.get(self.station.side, 0.0)
        if share:
            self.split.setSizes([round(whole * (1 - share)), round(whole * share)])

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if hasattr(self, "station"):
            self._split()

    def toggle_masses(self) -> None:
        """Show the picture instead of the masses, or back."""
        (self.mass.show_picture if self.mass.show_masses.isChecked() else self.mass.show_masses).setChecked(True)
        self.showing.repaint()

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

    def _masses_changed(self) -> None:
        self.showing.repaint()
        self._words()

    def _changed(self, old: Document, new: Document) -> None:
        if old.frame != new.frame or old.canvas != new.canvas:
            self.showing.show_grid()
            if self.look.framing:
                self.showing.reframe()
        self.show_notes()
        self._words()
        self.show_title()

    def _targets(self) -> dict[str, Lab]:
        goal = note_targets(self.studio.document)
        return {n.id: (g[0], g[1], g[2]) for n, g in zip(self.studio.document.notes, goal.tolist(), strict=True)}

    def _mixtures(self) -> dict[str, Lab]:
        """For each note the pile of its string that stands nearest in value."""
        strings = {s.id: s for s in self.studio.document.mixed.strings}
        out: dict[str, Lab] = {}
        for n in self.studio.document.notes:
            string = strings.get(string_of(self.studio.document, n)) or strings.get(n.subject)
            if string is not None:
                value = float(value_of_lightness(min(n.lab[0], 100.0)))
                out[n.id] = min(string.piles, key=lambda p: abs(p.target.value - value)).recipe.lab
        return out

    def show_notes(self) -> None:
        """Stand the notes on the ledge, with targets and mixtures where the station has them, and mark them."""
        late = self.station.title in ("Mix", "Block in")
        targets = self._targets() if self.station.title in ("Harmonise", "Mix", "Block in") else {}
        mixtures = self._mixtures() if late and self.studio.strings_ready() else {}
        on_ledge = self.note_station.on_ledge()
        self.ledge.show_notes(on_ledge, targets, mixtures, self.studio.selected)
        self.showing.show_marks()

    def show_wheel(self, arms: tuple[float, ...]) -> None:
        """Show notes and scheme on the wheel."""
        h = self.studio.document.harmony
        targets = self._targets()
        pairs = [(n, targets[n.id]) for n in self.studio.document.notes]
        plan = self.studio.masses if self.harmonise.masses_too.isChecked() else None
        masses = [(m.index + 1, m.lab, m.share) for m in plan.masses] if plan is not None else []
        self.wheel.show_notes(h.wheel, pairs, arms, h.rotation, self.studio.selected, masses, h.accents, h.held)

    def _words(self) -> None:
        self.strip.show_state(self.stations.index(self.station), [s.done_words() for s in self.stations])

    def show_title(self) -> None:
        """Name of the project, with a mark while there is unsaved work."""
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
        """Take a note off the ledge, unless it is locked."""
        note = next((n for n in self.studio.document.notes if n.id == note_id), None)
        if note is not None and note.locked:
            self.tell(f"“{note.name}” is locked: unlock it (Ctrl+L) before you remove it.")
        elif note is not None:
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

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.filing.may_go_on():
            event.ignore()
            return
        self.reader.close()
        self.studio.stop()
        self.filing.close()
        self.settings.width, self.settings.height = self.width(), self.height()
        memory.store(self.settings)
        event.accept()
