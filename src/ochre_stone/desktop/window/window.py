"""The window: stations on top, value scale at the left, easel in the centre, tray at the right."""

from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QAction, QCloseEvent, QUndoGroup
from PyQt6.QtWidgets import (
    QApplication,
    QMainWindow,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ochre_stone.core.colour.reading import read
from ochre_stone.core.paint.tubes import all_tubes
from ochre_stone.core.project.document import Document, Mixed
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.showing import Showing
from ochre_stone.desktop.scale.dabs import Dabs
from ochre_stone.desktop.scale.scale import ValueScale
from ochre_stone.desktop.session import display, settings
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.stations.station import Desk, Station
from ochre_stone.desktop.widgets import asking, theme
from ochre_stone.desktop.widgets.parts import Words, plain
from ochre_stone.desktop.widgets.shapes import warm
from ochre_stone.desktop.window import menus
from ochre_stone.desktop.window.easelview import EaselPage
from ochre_stone.desktop.window.files import Files
from ochre_stone.desktop.window.stage import Stage
from ochre_stone.desktop.window.stations import STATIONS
from ochre_stone.desktop.window.strip import Strip


def warm_strings(mixed: Mixed) -> None:
    """Screen colours of all that the strings show: piles, targets and tubes."""
    recipes = [p.recipe for s in mixed.strings for p in s.piles]
    warm([*(r.lab for r in recipes), *(r.target for r in recipes)])
    warm({mixed.tube(i).lab for r in recipes for i, _ in r.shares})


class Window(QMainWindow):
    """Holds the session, gives each station its part of the screen, and goes from one to another."""

    def __init__(self, chosen: settings.Settings | None = None) -> None:
        super().__init__()
        self.session = Session(chosen if chosen is not None else settings.load(), self)
        self.settings, self.studio = self.session.settings, self.session.studio
        self.studio.prepare = warm_strings
        self.last_told = ""
        self._build_centre()
        self.desk = Desk(self.easel, self.scale, self.showing)
        made = (make(self.session, self.desk) for make in STATIONS)
        self.stations: list[Station] = sorted(made, key=lambda s: s.order)
        for s in self.stations:
            self._add(s)
        self.strip.name([s.title for s in self.stations], sum(s.order >= 100 for s in self.stations))
        self.station = self.stations[0]
        self.files = Files(self, self.session)
        self.easel_page = EaselPage(self, self.session)
        self.undo_actions: list[QAction] = []
        self.undo_group = QUndoGroup(self)
        for stack in {id(h): h for h in (s.history() for s in self.stations)}.values():
            self.undo_group.addStack(stack)
        menus.build(self, self)
        self._connect()
        self.resize(self._room().boundedTo(QSize(self.settings.width, self.settings.height)))
        self.setMinimumSize(1024, 700)
        self.stage.share(whole=self.width())  # not as wide as the longest list would like
        self.go_to(self.stations[0].title)
        self.show_title()
        screen = self.screen()
        self.session.preferences.output = screen.name() if screen is not None else ""
        self.session.preferences.find_display()
        # Tables that the first reading of a colour needs: a fifth of a second that nobody should wait for.
        self.studio.jobs.start("warm", lambda _: read((50.0, 20.0, 20.0)) and all_tubes(), lambda _: None)
        if self.session.keeper.wrong:
            self.complain(self.session.keeper.wrong)

    # Building

    def _room(self) -> QSize:
        """How large a window can be here."""
        screen = self.screen()
        return screen.availableSize() if screen is not None else QSize(1280, 800)

    def _build_centre(self) -> None:
        self.strip = Strip()
        self.easel, self.scale = Easel(), ValueScale()
        self.showing = Showing(self.session, self.easel)
        self.easel.hint = (
            "Open a photo to begin: File, Open (Ctrl+O), or drop it here.\nOr look at the demo: File, Open the demo."
        )
        self.scale.hint = "Notes will stand here at their value."
        self.stage = Stage(self.easel, self.scale)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.stage, 1)
        self.setCentralWidget(body)
        self._build_status()

    def _build_status(self) -> None:
        bar = self.statusBar()
        assert bar is not None
        bar.setSizeGripEnabled(False)
        bar.setFixedHeight(26)
        self.under_pointer = Words("")
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
        self.display_words = Words("")
        self.display_words.setContentsMargins(8, 0, 12, 0)
        self.display_words.setAccessibleName("Monitor profile")
        bar.addPermanentWidget(self.display_words)

    def _add(self, station: Station) -> None:
        scroll = QScrollArea()
        scroll.setObjectName("trayScroll")
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(station)
        self.stage.trays.addWidget(scroll)
        if station.side is not None:
            self.stage.sides.addWidget(station.side)

    def _connect(self) -> None:
        s, session = self.studio, self.session
        self.strip.chosen.connect(lambda i: self.go_to(self.stations[i].title))
        session.go.connect(self.go_to)
        session.easel_view_wanted.connect(self.to_easel_view)
        session.notes.filtered.connect(self.show_notes)
        session.keeper.changed.connect(self._words)
        session.preferences.changed.connect(self._preferences_changed)
        session.preferences.surround_changed.connect(lambda: self.set_surround(self.settings.surround))
        session.preferences.display_changed.connect(self._display_changed)
        s.changed.connect(self._changed)
        s.masses_changed.connect(self._words)
        s.selected_changed.connect(self.show_notes)
        s.opening.connect(self._opening)
        s.notes_measured.connect(self._words)
        s.mixed_changed.connect(self._words)
        s.told.connect(self.tell)
        s.failed.connect(self.complain)
        s.path_changed.connect(self.show_title)
        s.undo.cleanChanged.connect(lambda _: self.show_title())
        self.showing.shown.connect(self.show_notes)
        self.showing.pointed.connect(lambda words: self.under_pointer.setText(f"{words}  " if words else ""))
        self.easel.files_dropped.connect(lambda path: self.files.open(Path(path)))
        self.easel.address_dropped.connect(self.files.no_address)
        self.scale.note_chosen.connect(s.select)
        self.scale.remove_asked.connect(session.notes.remove)
        self.scale.rename_asked.connect(session.notes.name_wanted)
        self.easel_page.closed.connect(lambda: self.station.refresh())

    # Going about

    def at(self, title: str) -> Station:
        """The station of that title."""
        return next(s for s in self.stations if s.title == title)

    def go_to(self, title: str, page: str = "") -> None:
        """Come to a station, and to a page of it where one is named."""
        self.station.leave()
        self.station.active = False
        self.station = station = self.at(title)
        station.active = True
        self.stage.trays.setCurrentIndex(self.stations.index(station))
        if station.side is not None:
            self.stage.sides.setCurrentWidget(station.side)
        self.undo_group.setActiveStack(station.history())
        self.scale.show_as(station.shows)
        self.easel.show_marks = station.shows_marks
        self.showing.place = station
        self.stage.arrange(station.panel, station.panel_least)
        station.enter()
        station.fill_scale()
        self.showing.reframe()
        self.show_notes()
        self._words()
        if page and station.pages is not None:
            station.pages.show(page)

    def turn_page(self, step: int) -> None:
        """The next or previous page of the tray, where the station has pages."""
        if self.station.pages is not None:
            self.station.pages.turn(step)

    def to_easel_view(self) -> None:
        """One pile at a time, full screen."""
        if self.session.piles.found() is None:
            self.tell("There are no piles yet: take notes, and come to Mix.")
            return
        self.easel_page.show_it()

    def set_surround(self, name: str) -> None:
        """Another grey around the colours."""
        if name != self.settings.surround:
            self.settings.surround = name
            settings.store(self.settings)
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply(app, name)
        for s in self.stations:
            s.restyle()
        self._draw_anew()

    # Showing

    def _draw_anew(self) -> None:
        for w in self.findChildren(QWidget):
            if w.isVisible():
                w.update()

    def _preferences_changed(self) -> None:
        self.show_notes()
        self.station.refresh()
        self._words()
        self._draw_anew()

    def _display_changed(self, anew: bool) -> None:
        self.display_words.setText(display.words())
        self.display_words.setToolTip(plain(display.details()))
        if anew:
            self.showing.repaint()
            self._draw_anew()

    def _opening(self, share: float) -> None:
        self.progress.setVisible(share < 1)
        self.stop_opening.setVisible(share < 1)
        self.progress.setValue(round(share * 100))

    def _changed(self, old: Document, new: Document) -> None:
        if old.frame != new.frame or old.canvas != new.canvas:
            self.showing.show_grid()
        self.show_notes()
        self._words()
        self.show_title()

    def show_notes(self) -> None:
        """Stand the notes on the scale, with targets and mixtures where the station has them, and mark them."""
        notes, station = self.session.notes, self.station
        ready = station.compares == "mixture"
        mixtures = notes.mixtures() if ready else {}
        shown = Dabs(
            notes.shown(),
            notes.targets() if station.compares != "nothing" else {},
            mixtures,
            notes.without_pile(mixtures),
            by_subject=self.settings.note_order == "subject",
        )
        self.scale.show_notes(shown, self.studio.selected)
        self.showing.show_marks(station.marked())

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
        asking.say(self, "Ochre Stone", words).setObjectName("complaint")

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.files.may_go_on():
            event.ignore()
            return
        self.session.close()
        self.files.close()
        self.settings.width, self.settings.height = self.width(), self.height()
        settings.store(self.settings)
        event.accept()
