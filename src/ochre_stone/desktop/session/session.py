"""All that the window is about, in one place, without one widget: stations are handed this and their part of the
screen."""

from functools import cached_property
from typing import TYPE_CHECKING, Literal

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.store import boxfile
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.keeping import Keeping
from ochre_stone.desktop.session.laidwork import LaidWork
from ochre_stone.desktop.session.notes import Notes
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.preferences import Preferences
from ochre_stone.desktop.session.reader import ReaderLink
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.session.settings import file as settings_file
from ochre_stone.desktop.session.sight import Sight
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.session.trying import Trying
from ochre_stone.desktop.session.watch import Watch

if TYPE_CHECKING:
    from ochre_stone.desktop.session.benchkeeping import BenchKeeping
    from ochre_stone.desktop.session.benchwork import BenchWork
    from ochre_stone.desktop.session.exports import Exports
    from ochre_stone.desktop.session.laying import Laying
    from ochre_stone.desktop.session.logkeeper import LogKeeper
    from ochre_stone.desktop.session.mendwork import MendWork
    from ochre_stone.desktop.session.practising import Practising

Need = Literal["", "picture", "notes", "note", "piles"]


class Session(QObject):
    """The document with what is worked out from it, the painter's box, reader and settings, and what is in hand."""

    go = pyqtSignal(str, str)
    """Another station is wanted, by its title, and a page of it; "" for the page that it shows."""
    test_card_wanted = pyqtSignal()
    """The test card of greys is to be shown."""
    words_changed = pyqtSignal()
    """What a station says of itself on the strip is another."""
    easel_view_wanted = pyqtSignal()
    """The piles are wanted one at a time, full screen."""

    def __init__(self, settings: Settings, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.settings = settings
        self.studio = Studio(self)
        self.keeping = Keeping(self.studio)
        self.keeper = BoxKeeper(self)
        self.reader = ReaderLink(self.studio)
        self.preferences = Preferences(settings, self.studio)
        self.notes = Notes(self.studio)
        self.piles = Piles(self.studio)
        self.laid = LaidWork(self.piles)
        self.palettes = Palettes(self.studio, self.keeper)
        self.trying = Trying(self.studio, self.palettes)
        self.sight = Sight(self)
        self.keeper.failed.connect(self.studio.failed)
        self._watches: list[Watch] = []
        self.watch_files()

    @cached_property
    def bench(self) -> "BenchWork":
        """Paint pushed about by hand: loaded with what first shows it."""
        from ochre_stone.desktop.session.benchwork import BenchWork

        return BenchWork(self.studio, self.palettes, self.keeper)

    @cached_property
    def bench_keeping(self) -> "BenchKeeping":
        """What is opened on the bench, and kept of it."""
        from ochre_stone.desktop.session.benchkeeping import BenchKeeping

        return BenchKeeping(self.bench)

    @cached_property
    def laying(self) -> "Laying":
        """The picture as it is laid in: loaded with the first page that plays it."""
        from ochre_stone.desktop.session.laying import Laying

        return Laying(self.studio)

    @cached_property
    def log(self) -> "LogKeeper":
        """What is really mixed: loaded with the first page on which something can be."""
        from ochre_stone.desktop.session.logkeeper import LogKeeper

        return LogKeeper(self.studio, self.piles, self.bench_keeping, self.settings)

    @cached_property
    def mending(self) -> "MendWork":
        """Piles brought home: loaded with the first page that does it."""
        from ochre_stone.desktop.session.mendwork import MendWork

        return MendWork(self.piles, self.reader, self.log)

    @cached_property
    def practising(self) -> "Practising":
        """The drills: loaded when the painter first comes to them."""
        from ochre_stone.desktop.session.practising import Practising

        return Practising(self.studio, self.log, self.settings)

    @cached_property
    def exports(self) -> "Exports":
        """What is written for the painter: loaded with the first thing that is."""
        from ochre_stone.desktop.session.exports import Exports

        return Exports(self.studio)

    def watch_files(self) -> None:
        """See what other windows write: the box and the settings."""
        self._stop_watching()
        self._watches = [
            Watch(boxfile.box_file(), self.keeper.read_anew, self),
            Watch(settings_file(), self.preferences.read_anew, self),
        ]

    def lacks(self, need: Need) -> str:
        """Why something cannot be done now, in one sentence; "" where what it needs is there."""
        document, none = (
            self.studio.document,
            {
                "picture": "Open a photo first.",
                "notes": "Take notes first.",
                "note": "Take a note in hand first: click its dab on the scale.",
                "piles": "There are no piles yet: take notes, and come to Mix.",
            },
        )
        there = {
            "": True,
            "picture": self.studio.picture is not None,
            "notes": bool(document.notes),
            "note": self.notes.in_hand() is not None,
            "piles": bool(document.mixed.strings),
        }
        return "" if there[need] else none[need]

    def close(self) -> None:
        """Before the window goes: the reader is let go, nothing is worked on or heard of any more."""
        self._stop_watching()
        self.keeping.stop()
        self.reader.close()
        self.studio.stop()
        if "log" in vars(self):
            self.log.stop()

    def _stop_watching(self) -> None:
        while self._watches:
            self._watches.pop().stop()
