"""The window: stations on top, value scale at the left, easel in the centre, tray at the right."""

from functools import cached_property
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QScreen, QShowEvent, QUndoGroup
from PyQt6.QtWidgets import QApplication, QMainWindow, QScrollArea, QVBoxLayout, QWidget

from ochre_stone.core.document.document import Document
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.showing import Showing
from ochre_stone.desktop.scale.dabs import Dabs
from ochre_stone.desktop.scale.scale import ValueScale
from ochre_stone.desktop.session import settings
from ochre_stone.desktop.session.session import Need, Session
from ochre_stone.desktop.stations.station import Desk, Station
from ochre_stone.desktop.widgets import asking, theme
from ochre_stone.desktop.widgets.parts import set_tip
from ochre_stone.desktop.window import menus
from ochre_stone.desktop.window.drops import Drops, has_something
from ochre_stone.desktop.window.files import Files
from ochre_stone.desktop.window.place import Place
from ochre_stone.desktop.window.seen import SeenAs
from ochre_stone.desktop.window.stage import Stage
from ochre_stone.desktop.window.start import StartPage
from ochre_stone.desktop.window.stations import STATIONS
from ochre_stone.desktop.window.status import StatusLine
from ochre_stone.desktop.window.strip import Strip
from ochre_stone.desktop.window.warming import warm_strings, warm_up

if TYPE_CHECKING:
    from ochre_stone.desktop.window.easelview import EaselPage
    from ochre_stone.desktop.window.guide import Guide


_FIRST_MS = 60
"""What the painter came for is shown before anything else is built."""


class Window(QMainWindow):
    """Holds the session, gives each station its part of the screen, and goes from one to another.

    Stations are built when the painter comes to them; those that nobody came to yet are built piece by piece, while
    nothing else is to be done, so that a first visit waits for nothing.
    """

    built = pyqtSignal()
    """All stations are there."""

    def __init__(self, chosen: settings.Settings | None = None) -> None:
        super().__init__()
        self.session = Session(chosen if chosen is not None else settings.load_settings(), self)
        self.settings, self.studio = self.session.settings, self.session.studio
        self.studio.strings.prepare = warm_strings
        self.last_told = ""
        self._follows = False
        self.guide: Guide | None = None
        self._build_centre()
        self.desk = Desk(self.easel, self.scale, self.showing)
        self._builder = QTimer(self)
        self._builder.timeout.connect(self._build_on)
        made = (make(self.session, self.desk) for make in STATIONS)
        self.stations: list[Station] = sorted(made, key=lambda s: s.order)
        for s in self.stations:
            self._add(s)
        self.strip.name([s.title for s in self.stations], sum(s.order >= 100 for s in self.stations))
        self.station = self.stations[0]
        self.seen = SeenAs(self, self.showing.repaint)
        self.files = Files(self, self.session)
        self.drops = Drops(self.files)
        self.setAcceptDrops(True)
        self.undo_actions: list[QAction] = []
        self.needing: list[tuple[QAction, Need]] = []
        self.undo_group = QUndoGroup(self)
        for station in self.stations:
            self.undo_group.addStack(station.history())
        for s in self.stations:
            s.history_changed.connect(self._history)
            s.scene_changed.connect(self.seen.changed)
        menus.build(self, self)
        for part in (self.menuBar(), self.statusBar(), *self.stage.parts()):
            if part is not None:
                theme.style(part)
        self._connect()
        self.place = Place(self, self.stage, self.settings)
        self.place.come_back()
        titles = [s.title for s in self.stations]
        self.go_to(self.settings.station if self.settings.station in titles else titles[0], self.settings.page)
        self.place.grow()
        self.show_title()
        if self.session.keeper.wrong:
            self.complain(self.session.keeper.wrong)

    # Building

    def _screen_changed(self, screen: QScreen | None) -> None:
        """The profile is that of the screen that the window is on."""
        name = screen.name() if screen is not None else ""
        if name != self.session.preferences.output or not name:
            self.session.preferences.output = name
            self.session.preferences.find_display()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        handle = self.windowHandle()
        if not self._follows:
            QTimer.singleShot(_FIRST_MS, self._go_on)
        if handle is not None and not self._follows:
            self._follows = True
            handle.screenChanged.connect(self._screen_changed)

    def _build_centre(self) -> None:
        self.strip = Strip()
        self.easel, self.scale = Easel(), ValueScale()
        self.showing = Showing(self.session, self.easel)
        self.scale.hint = "Notes will stand here at their value."
        self.stage = Stage(self.easel, self.scale)
        self.start = StartPage(self.settings, self.studio.jobs)
        self.stage.centre.cover(self.start)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.stage, 1)
        self.setCentralWidget(body)
        self.status = StatusLine(self.studio.files.cancel_opening)
        self.setStatusBar(self.status)

    def _add(self, station: Station) -> None:
        scroll = QScrollArea()
        scroll.setObjectName("trayScroll")
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(station)
        self.stage.trays.addWidget(scroll)
        theme.style(scroll)

    def _connect(self) -> None:
        s, session = self.studio, self.session
        self.stage.splitterMoved.connect(lambda *_: self.place.remember_widths())
        self.strip.chosen.connect(lambda i: self.go_to(self.stations[i].title))
        session.go.connect(self.go_to)
        session.easel_view_wanted.connect(self.to_easel_view)
        session.words_changed.connect(self._words)
        session.test_card_wanted.connect(self.show_test_card)
        session.notes.filtered.connect(self.show_notes)
        session.keeper.changed.connect(self._words)
        session.preferences.changed.connect(self._preferences_changed)
        session.preferences.surround_changed.connect(lambda: self.set_surround(self.settings.surround))
        session.preferences.text_changed.connect(self.size_text)
        session.preferences.display_changed.connect(self._display_changed)
        s.changed.connect(self._changed)
        s.benched.connect(lambda *_: self.show_title())
        s.masses_changed.connect(self._words)
        s.selected_changed.connect(self.show_notes)
        s.selected_changed.connect(self._words)
        s.files.opening.connect(self.status.show_opening)
        s.measuring.notes_measured.connect(self._words)
        s.strings.changed.connect(self._words)
        s.told.connect(self.tell)
        s.failed.connect(self.complain)
        s.path_changed.connect(self.show_title)
        s.undo.cleanChanged.connect(lambda _: self.show_title())
        self.showing.shown.connect(self.show_notes)
        self.showing.shown.connect(self.stage.centre.arrange)
        self.showing.pointed.connect(lambda words: self.status.under_pointer.setText(f"{words}  " if words else ""))
        self.start.open_wanted.connect(self.files.ask_open)
        self.start.demo_wanted.connect(self.files.ask_demo)
        self.start.scene_wanted.connect(lambda: self.go_to("Look", "Scene"))
        self.start.recent_wanted.connect(self.files.open)
        s.jobs.busy_changed.connect(self._show_start)
        self.scale.note_chosen.connect(s.select)
        self.scale.remove_asked.connect(session.notes.remove)
        self.scale.rename_asked.connect(session.notes.name_wanted)

    # Going about

    def at(self, title: str) -> Station:
        """The station of that title, all of it."""
        station = next(s for s in self.stations if s.title == title)
        self.make_ready(station)
        return station

    def make_ready(self, station: Station) -> None:
        """Build what is not there yet of a station."""
        station.ready()
        self.undo_group.addStack(station.history())
        if station.side is not None and self.stage.sides.indexOf(station.side) < 0:
            self.stage.sides.addWidget(station.side)

    def _go_on(self) -> None:
        """What can wait until the window is seen."""
        if self.isVisible():  # it may be closed by now
            self._screen_changed(self.screen())
            self._builder.start()

    def _build_on(self) -> None:
        """A piece of a station that is not there yet, while nothing else is to be done."""
        station = next((s for s in self.stations if not s.built), None)
        if station is None:
            self._builder.stop()
            # Tables and libraries that the first picture and the first strings need: nobody should wait for them.
            self.studio.jobs.start("warm", lambda _: warm_up(), lambda _: None, outlives=True)
            self.built.emit()
        elif not station.go_on_building():
            self.make_ready(station)
            self._words()

    def go_to(self, title: str, page: str = "") -> None:
        """Come to a station, and to a page of it where one is named."""
        if self.station.active:
            self.station.leave()
        self.station.active = False
        self.station = station = self.at(title)
        station.active = True
        self.stage.trays.setCurrentIndex(self.stations.index(station))
        self.stage.refresh_style()
        if station.side is not None:
            self.stage.sides.setCurrentWidget(station.side)
        self.undo_group.setActiveStack(station.history())
        self.scale.show_as(station.shows)
        self.easel.show_marks = station.shows_marks
        self.showing.place = station
        station.enter()
        self.seen.arrange()
        station.fill_scale()
        self.showing.reframe()
        self.show_notes()
        self._words()
        self._show_start()
        if station.pages is not None and page in station.pages.names:
            station.pages.show(page)

    def _history(self) -> None:
        """What Undo takes back where the painter is."""
        self.undo_group.setActiveStack(self.station.history())

    def turn_page(self, step: int) -> None:
        """The next or previous page of the tray, where the station has pages."""
        if self.station.pages is not None:
            self.station.pages.turn(step)

    @cached_property
    def easel_page(self) -> "EaselPage":
        """The piles one at a time, full screen."""
        from ochre_stone.desktop.window.easelview import EaselPage

        page = EaselPage(self, self.session)
        page.closed.connect(self._back_from_easel)
        return page

    def _back_from_easel(self) -> None:
        self.station.want()
        self.station.refresh()

    def show_test_card(self) -> None:
        """The test card of greys."""
        from ochre_stone.desktop.window.testcard import TestCard

        TestCard(self).open()

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
        self._restyled()

    def _restyled(self) -> None:
        for s in self.stations:
            if s.built:
                s.restyle()
        self._draw_anew()

    def size_text(self) -> None:
        """Draw all text at the size that is set."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.scale_text(self.settings.text_size / 100 * theme.of_the_desktop())
        theme.apply(app, self.settings.surround)
        self.strip.fit()
        self.status.fit()
        self.stage.share(self.settings.scale_width, self.settings.tray_width)
        self._restyled()

    # What arrives

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and has_something(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is not None and self.drops.take(event.mimeData()):
            event.acceptProposedAction()

    def show_guide(self) -> None:
        """The guide, at the page of the station in hand."""
        from ochre_stone.desktop.window.guide import FRONT, PAGES, Guide

        if self.guide is None:
            self.guide = Guide(self)
        self.guide.show_page(PAGES.get(self.station.title, FRONT))
        self.guide.show()
        self.guide.raise_()

    def paste(self) -> None:
        """Open the picture or the files that were copied elsewhere."""
        clipboard = QApplication.clipboard()
        if clipboard is None or not self.drops.take(clipboard.mimeData()):
            self.tell("There is no picture to paste: copy one first.")

    # Showing

    def _show_start(self) -> None:
        """The start page while the window is empty, where the easel would be."""
        empty = self.files.blank and not self.station.by_itself
        if empty:
            self.start.refresh()
        self.start.setVisible(empty)

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
        self.status.show_display()
        if anew:
            self.showing.repaint()
            self._draw_anew()

    def _changed(self, old: Document, new: Document) -> None:
        if old.frame != new.frame or old.canvas != new.canvas:
            self.showing.show_grid()
        self.show_notes()
        self._words()
        self.show_title()
        self._show_start()
        if bool(old.notes) != bool(new.notes):
            self.seen.show()

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
        for action, need in self.needing:
            why = self.session.lacks(need)
            action.setEnabled(not why)
            set_tip(action, why or action.text().replace("&", ""))
        self.strip.show_state(self.stations.index(self.station), [s.done_words() for s in self.stations])

    def show_title(self) -> None:
        """Name of the project, with a mark while there is unsaved work."""
        mark = "" if self.studio.undo.isClean() else " •"
        self.setWindowTitle(f"{self.studio.title}{mark} – Ochre Stone")

    def tell(self, words: str) -> None:
        """One sentence in the status line."""
        self.last_told = words
        self.status.showMessage(words, 12_000)

    def complain(self, words: str) -> None:
        """What went wrong, in one sentence, until it is read."""
        self.tell(words)
        asking.say(self, "Ochre Stone", words).setObjectName("complaint")

    def _log_may_go(self) -> bool:
        """Whether nothing is lost, or the painter wants to lose it."""
        lost = self.session.log.file.unsafe if "log" in vars(self.session) else 0
        words = "What you mixed last is not in the log yet, and there is no room to keep it: closing now loses it."
        return not lost or asking.ask(self, words, ("Close all the same", "Stay")) == "Close all the same"

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.files.may_go_on() or not self._log_may_go():
            event.ignore()
            return
        self._builder.stop()
        self.session.close()
        self.files.close()
        self.place.remember(self.station.title, self.station.pages.here if self.station.pages is not None else "")
        event.accept()
