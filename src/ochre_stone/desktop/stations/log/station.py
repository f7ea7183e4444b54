"""Log: what was really mixed, found again, mixed again, and learnt from."""

from collections.abc import Callable, Iterator
from datetime import date
from typing import TYPE_CHECKING

from PyQt6.QtGui import QUndoStack
from PyQt6.QtWidgets import QComboBox, QSizePolicy, QStackedWidget

from ochre_stone.core.errors import OchreError
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.scale.ribbons import OnScale
from ochre_stone.desktop.stations.station import Station
from ochre_stone.desktop.widgets.parts import narrow, signals_blocked
from ochre_stone.desktop.widgets.tray import Pages

if TYPE_CHECKING:
    from ochre_stone.logbook.book import Book, Day
    from ochre_stone.logbook.entry import Entry

_SHOWN = 24
_NONE = (
    "Nothing is in the log yet. It fills by itself: begin a pile at Mix, say what went in at Correct or at the "
    "easel, or say of a pile on the bench that you mixed it."
)


class LogStation(Station):
    title = "Log"
    order = 101
    panel = "instead"
    shows = Shows.TUBES
    shows_marks = False
    by_itself = True

    def prepare(self) -> None:
        self.entries: list[Entry] = []
        self.in_hand = ""
        self.count = 0

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.bench.view import BenchView
        from ochre_stone.desktop.stations.log.pile import LogPilePage

        session = self.session
        self.log, self.bench = session.log, session.bench
        self.log.changed.connect(self._log_changed)
        self.day = narrow(QComboBox())
        self.day.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.day.setAccessibleName("Which piles")
        self.day.activated.connect(lambda _: self.read())
        self.tray.title("Log", self.day)
        self.pages = pages = Pages(self.tray, "Pile", "Find", "Left", "Learn", "Keep")
        settings, log = session.settings, self.log
        reader = session.reader
        self.pile_page = pages.fill("Pile", lambda tray: LogPilePage(tray, log, session.bench, settings, reader))
        yield
        from ochre_stone.desktop.stations.log.find import FindPage

        self.find_page = pages.fill("Find", lambda tray: FindPage(tray, log, session.notes, session.bench))
        yield
        from ochre_stone.desktop.stations.log.leftover import LeftPage

        self.left_page = pages.fill("Left", lambda tray: LeftPage(tray, log, session.bench))
        yield
        from ochre_stone.desktop.stations.log.learn import LearnPage

        self.learn_page = pages.fill("Learn", lambda tray: LearnPage(tray, log, session.bench, session.keeper))
        yield
        from ochre_stone.desktop.stations.log.keep import KeepPage

        self.keep_page = pages.fill("Keep", lambda tray: KeepPage(tray, log, settings))
        self.view = BenchView()
        self.view.upper = "target"
        self.view.hint = _NONE
        self.view.setAccessibleName("Piles of the log at their values")
        self.view.pile_taken.connect(self.take)
        self.side = self._panels = QStackedWidget()
        self._panels.addWidget(self.view)
        self._panels.addWidget(self.learn_page.panel)
        self.refreshers: dict[str, Callable[[], None]] = {
            "Left": self.left_page.refresh,
            "Learn": self.learn_page.refresh,
            "Keep": self.keep_page.refresh,
        }
        pages.changed = self.refresh
        self.find_page.chosen.connect(self.take_uid)
        self._log_changed()

    def history(self) -> QUndoStack:
        return self.session.log.undo if self.built else super().history()

    # What is done

    def take(self, uid: str) -> None:
        """Take an entry in hand; "" keeps the one that is."""
        if uid:
            self.in_hand = uid
            self._show()

    def take_uid(self, uid: str) -> None:
        """Take an entry in hand that need not be among those shown."""
        if any(e.uid == uid for e in self.entries):
            self.take(uid)
            return

        def arrived(found: "list[Entry]") -> None:
            if found:
                self.entries = [*found, *self.entries][:_SHOWN]
                self.take(uid)

        self.log.ask(lambda book: book.entries([uid]), arrived)

    def read(self) -> None:
        """Read the piles that are to be shown."""
        chosen = str(self.day.currentData() or "")
        day = date.fromisoformat(chosen) if chosen else None

        def work(book: "Book") -> "tuple[list[Entry], list[Day], int]":
            pasts = book.listed(day, None, 100 if day is not None else _SHOWN)
            return book.entries([p.uid for p in pasts]), book.days(60), book.count()

        def arrived(answer: "tuple[list[Entry], list[Day], int]") -> None:
            entries, days, self.count = answer
            self.entries = list(reversed(entries))
            with signals_blocked(self.day):
                self.day.clear()
                self.day.addItem("the last piles", "")
                for d in days:
                    self.day.addItem(f"{d.day.day} {d.day.strftime('%b %Y')}: {d.piles}", d.day.isoformat())
                self.day.setCurrentIndex(max(self.day.findData(chosen), 0))
            self._show()
            self.session.words_changed.emit()

        self.log.ask(work, arrived)

    # Showing

    def _log_changed(self) -> None:
        if self.active:
            self.refresh()
        else:
            self.log.ask(lambda book: book.count(), self._counted)

    def _counted(self, count: int) -> None:
        self.count = count
        self.session.words_changed.emit()

    def refresh(self) -> None:
        assert self.pages is not None
        here = self.pages.here
        self._panels.setCurrentIndex(1 if here == "Learn" else 0)
        self.read()
        if here in self.refreshers:
            self.refreshers[here]()

    def _show(self) -> None:
        from ochre_stone.desktop.stations.bench.view import ShownPile
        from ochre_stone.logbook.exchange import put_words

        if self.entries and all(e.uid != self.in_hand for e in self.entries):
            self.in_hand = self.entries[-1].uid
        found = next((e for e in self.entries if e.uid == self.in_hand), None)
        shown = []
        for e in self.entries:
            lab = e.came_out
            if lab is not None:
                words = f"{'seen' if e.was_read else 'as predicted'}, {put_words(e.puts)}"
                shown.append(ShownPile(e.uid, e.name, max(e.ml, 0.05), lab, e.target, None, words))
        self.view.show_bench(shown, self.in_hand)
        self.pile_page.show_entry(found, _NONE if not self.entries else "Take a pile in hand: click it.")
        self.fill_scale()

    def fill_scale(self) -> None:
        """The tubes of the pile in hand, as they are now."""
        found = next((e for e in self.entries if e.uid == self.in_hand), None)
        tubes = []
        for key in found.inside() if found is not None else ():
            try:
                t = self.bench.paints.find_tube(key.partition("@")[0])
            except OchreError:
                continue  # a tube that is nowhere any more has no place on the scale
            tubes.append(OnScale(t.id, t.name, t.lab))
        if self.active:
            self.desk.scale.show_tubes(tubes)

    def done_words(self) -> str:
        if not self.built:
            return ""
        if self.log.is_demo:
            return f"{self.count} made-up piles"
        words = f"{self.count} pile{'s' * (self.count != 1)}"
        return words if self.log.on else f"{words}, off"
