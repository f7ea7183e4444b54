"""What the picture is seen as: the words over it, kept at what the station in hand offers, and the keys for it."""

from collections.abc import Callable
from typing import Protocol

from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.stations.station import Station
from ochre_stone.desktop.widgets.scenebar import BLOCK_IN, MISSING
from ochre_stone.desktop.window.stage import Stage


class Here(Protocol):
    """What is needed of the window."""

    session: Session
    stage: Stage
    station: Station

    def go_to(self, title: str, page: str = "") -> None: ...
    def tell(self, words: str) -> None: ...


class SeenAs:
    """Of the station in hand; ``repaint`` has the picture drawn anew."""

    def __init__(self, here: Here, repaint: Callable[[], None]) -> None:
        self.here, self.repaint = here, repaint
        self.bar, self.laid, self.trying = here.stage.centre.bar, here.session.laid, here.session.trying
        self.bar.chosen.connect(lambda key: here.station.see(key))
        self.bar.alone_asked.connect(self.laid.show_alone)
        self.bar.halves_asked.connect(self.laid.show_halves)
        self.bar.note_asked.connect(self.laid.note_it)
        self.bar.take_asked.connect(lambda: self.trying.take(self.trying.looked_at))
        self.laid.changed.connect(self.show)
        self.trying.changed.connect(self.show)

    def arrange(self) -> None:
        """The words, and where picture and panel stand."""
        self.show()
        station = self.here.station
        self.here.stage.arrange(station.panel_now(), station.panel_least)

    def changed(self) -> None:
        """It is seen as something else."""
        self.arrange()
        self.repaint()

    def show(self) -> None:
        """The words of the station in hand, and what can be done where the picture is seen so."""
        station, bar, laid = self.here.station, self.bar, self.laid
        scene, high = station.scene_now, bar.high(bar.width())
        bar.show_scenes(station.scenes(), scene)
        if scene == BLOCK_IN.key:
            on = [b for b, is_on in ((bar.alone, laid.alone), (bar.halves, laid.border is not None)) if is_on]
            bar.show_ways((bar.alone, bar.halves), on)
        elif scene == MISSING.key:
            why = "" if laid.missed_one() is not None else "Choose first what is missing: click a place"
            bar.show_ways((bar.note_it,), (), why)
        elif self.trying.choosing is not None:
            why = "This is what the picture has." if self.trying.looked_at in ("", self.trying.chosen()) else ""
            bar.show_ways((bar.take_it,), (), why)
        else:
            bar.show_ways(())
        if bar.high(bar.width()) != high:
            self.here.stage.centre.arrange()

    def next_scene(self) -> None:
        """Photo, block-in, what is missing, and round again."""
        if not self.here.station.scenes():
            self.here.tell("The block-in is seen at Note, Mass, Harmonise, Mix, and on the page Piles of Block in.")
        self.here.station.next_scene()

    def show_alone(self) -> None:
        """The places of the pile in hand alone, or all of them again."""
        self._see_block_in()
        self.laid.show_alone(not self.laid.alone)

    def show_halves(self) -> None:
        """The photo at the left of a border, or the block-in alone again."""
        self._see_block_in()
        self.laid.show_halves(self.laid.border is None)

    def _see_block_in(self) -> None:
        if all(w.key != BLOCK_IN.key for w in self.here.station.scenes()):
            self.here.go_to("Block in", "Piles")
        if self.here.station.scene_now != BLOCK_IN.key:
            self.here.station.see(BLOCK_IN.key)
