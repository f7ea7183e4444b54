"""The piles of the strings: the one in hand, their names and order, and how much paint they take."""

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.strings.targets import MixString, Pile
from ochre_stone.desktop.session.studio import Studio

if TYPE_CHECKING:
    from ochre_stone.core.mixing.session.amounts import Amounts


class Piles(QObject):
    """What stations and the view at the easel show of the strings."""

    chosen = pyqtSignal()
    """Another pile is in hand."""
    measured = pyqtSignal()
    """How much paint is needed is worked out."""

    def __init__(self, studio: Studio) -> None:
        super().__init__(studio)
        self.studio = studio
        self.in_hand: str | None = None
        """Id of the pile in hand."""
        self._needed: tuple[object, Amounts] | None = None
        self._fits: tuple[object, object, bool] = (None, None, True)
        studio.selected_changed.connect(self._follow_note)

    @property
    def _document(self) -> Document:
        return self.studio.document

    def _follow_note(self) -> None:
        """A note that is taken in hand has its pile taken in hand."""
        note = self.studio.selected
        piles = [p for s in self._document.mixed.strings for p in s.piles if note in p.target.notes]
        if piles and self.settled and piles[0].id != self.in_hand:
            self.choose(piles[0].id)

    def choose(self, pile_id: str) -> None:
        """Take a pile in hand."""
        self.in_hand = pile_id
        self.chosen.emit()

    @property
    def settled(self) -> bool:
        """Whether the strings are of the palette that is chosen; else they are about to be mixed anew."""
        from ochre_stone.core.planning.rows import of_this_palette

        d = self._document
        if self._fits[0] is not d.mix or self._fits[1] is not d.mixed:
            self._fits = d.mix, d.mixed, of_this_palette(d)
        return self._fits[2]

    def found(self) -> tuple[MixString, Pile] | None:
        """The string and the pile in hand; the middle of the first string where none is. None while the strings are of
        another palette than the one chosen: nothing is mixed from both."""
        strings = self._document.mixed.strings if self.settled else ()
        for s in strings:
            for p in s.piles:
                if p.id == self.in_hand:
                    return s, p
        return (strings[0], strings[0].piles[len(strings[0].piles) // 2]) if strings else None

    def order(self) -> list[Pile]:
        """All piles in the order of mixing."""
        return sorted((p for s in self._document.mixed.strings for p in s.piles), key=lambda p: p.order)

    def names(self) -> dict[str, str]:
        """Names of all piles by their ids."""
        return {p.id: p.name for s in self._document.mixed.strings for p in s.piles}

    def none_words(self) -> str:
        """Why there are no strings to show, and what to do; true at the moment it is asked."""
        studio = self.studio
        if not self._document.notes:
            return "Take notes first: strings are built from them."
        if studio.jobs.busy("mix") or studio.strings.waiting:
            return "The strings are being worked out."
        if not self.settled:
            return "These piles are of another palette: press Work out the strings."
        if studio.strings.ready():
            return "No string is wanted: choose some on the page All."
        return "The strings are not worked out: press Work out the strings."

    def spectra_in_hand(self) -> tuple[str, Array, Array] | None:
        """Name, K and S (36,) of the pile in hand; None where none was chosen."""
        from ochre_stone.core.paint.predict import spectra

        mixed = self._document.mixed
        for s in mixed.strings:
            for p in s.piles:
                if p.id == self.in_hand:
                    K, S = spectra([mixed.tube(i) for i, _ in p.recipe.shares], [c for _, c in p.recipe.shares])
                    return p.name, K, S
        return None

    def needed(self) -> "Amounts | None":
        """How much paint the plan takes; None until it is worked out, off the main thread."""
        document, picture = self._document, self.studio.picture
        if not document.mixed.strings or not self.studio.strings.ready():
            return None
        hand = document.mix.hand
        key = (document.mixed, document.canvas, document.light_key, document.masses, document.notes, hand)
        if self._needed is not None and self._needed[0] == key:
            return self._needed[1]

        def work(_: Any) -> "Amounts":
            from ochre_stone.core.planning.massing import fine_masses
            from ochre_stone.core.planning.planning import note_shares, paint_needed, pile_cover

            shares, thick = note_shares(document), dict[str, float]()
            if picture is not None:
                masses = fine_masses(picture, document) if document.canvas.thick else None
                shares, thick = pile_cover(picture, document, masses)
            return paint_needed(document, shares, thick)

        def arrived(found: "Amounts") -> None:
            self._needed = key, found
            self.measured.emit()

        if not self.studio.jobs.busy("amounts"):
            self.studio.jobs.start("amounts", work, arrived, self.studio.failed.emit)
        return None

    def shortages(self, stock: Mapping[str, float]) -> list[str]:
        """What a stock (millilitres by tube) has too little of, in words; nothing where there is no stock."""
        from ochre_stone.core.mixing.session.amounts import shopping

        if self._needed is None or not stock:
            return []
        return [
            f"{self._document.mixed.tube(s.tube).short} {s.short:.0f} ml short (buy {s.to_buy()} of 40 ml)"
            for s in shopping(self._needed[1], stock)
        ]
