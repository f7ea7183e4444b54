"""The block-in of what is planned now, worked out where somebody shows it, how it is looked at, and what it misses."""

from typing import TYPE_CHECKING, Literal

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.picture.picture import Picture
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.question import Question

if TYPE_CHECKING:
    from ochre_stone.core.planning.blockin import LaidIn
    from ochre_stone.core.planning.lacking import AllLacking, Lacking
    from ochre_stone.core.planning.leaving import Missed

Wish = Literal["", "keep", "none"]


class LaidWork(QObject):
    """One block-in for all stations: a pile in hand anywhere lights up its places everywhere."""

    changed = pyqtSignal()
    """Another block-in is there, or what is missing in it, or it is looked at in another way."""

    def __init__(self, piles: Piles) -> None:
        super().__init__(piles)
        self.piles, self.studio = piles, piles.studio
        self.alone = False
        """Whether only the places of the pile in hand are in colour, all else pale."""
        self.border: float | None = None
        """Where the photo at its left meets the block-in, as a share of the width; None without the photo."""
        self.missed = -1
        """Which of what is missing is in hand, by its place in the list."""
        self._wants = self._wants_missing = False
        self._kept: tuple[Picture, LaidIn] | None = None
        self.question: Question[LaidIn | None] = Question(
            self.studio.jobs, "placing", self._key, self._arrived, self.studio.failed.emit
        )
        self.lacks: Question[AllLacking] = Question(
            self.studio.jobs, "missing", self._key, self._lacks_arrived, self.studio.failed.emit
        )
        self.fewer: Question[Missed | None] = Question(
            self.studio.jobs, "fewer", self._key, lambda _: self.changed.emit(), self.studio.failed.emit
        )
        self.studio.changed.connect(lambda *_: self._follow())
        self.studio.strings.changed.connect(self._follow)
        self.studio.masses_changed.connect(self._follow)
        self.studio.replaced.connect(self.begin_anew)
        piles.chosen.connect(self.changed)

    def begin_anew(self) -> None:
        """Another project comes: nothing is known of it, and it is looked at as usual."""
        self._kept, self.missed, self.alone, self.border = None, -1, False, None
        for question in (self.question, self.lacks, self.fewer):
            question.forget()

    def _key(self) -> object:
        d = self.studio.document
        return self.studio.picture, d.mixed, d.masses, d.light_key, d.harmony, d.notes

    # What there is

    @property
    def _planned(self) -> bool:
        return self.studio.picture is not None and self.piles.settled and bool(self.studio.document.mixed.strings)

    @property
    def found(self) -> "LaidIn | None":
        """The block-in of what is planned now, once it is made."""
        return self.question.answer if self._planned else None

    @property
    def shown(self) -> "LaidIn | None":
        """The same, or the one before as long as another is being worked out."""
        found = self.found
        if found is None and self._kept is not None and self._kept[0] is self.studio.picture and self._planned:
            return self._kept[1]
        return found

    @property
    def missing(self) -> "AllLacking | None":
        """What is missing in the block-in that was found, once it is known."""
        return self.lacks.answer if self.found is not None else None

    @property
    def least(self) -> "Missed | None":
        """The pile that the picture would miss least; None where that is not known, or there is none."""
        return self.fewer.answer if self.found is not None else None

    def missed_one(self) -> "Lacking | None":
        """What is in hand of it."""
        all_of_it = self.missing
        there = all_of_it.found if all_of_it is not None else ()
        return there[self.missed] if 0 <= self.missed < len(there) else None

    def words(self) -> str:
        """How near the block-in is, or why there is none."""
        found = self.shown
        if found is not None:
            return f"{'As it was: ' if self.found is None else ''}{found.figures.words}."
        if self.studio.picture is None:
            return "Open a picture first: it is laid in here with the piles of its plan."
        if self._planned:
            return "The picture is being laid in."
        return self.piles.none_words()

    # What is asked for

    def want(self, laid: bool, missing: bool = False) -> None:
        """Whether somebody shows the block-in, and what is missing in it: nobody else should pay for them."""
        self._wants, self._wants_missing = laid or missing, missing
        self._follow()

    def _follow(self) -> None:
        document, picture = self.studio.document, self.studio.picture
        if not self._wants or picture is None or not self._planned:
            return
        from ochre_stone.core.planning.blockin import block_in

        if self.question.ask(lambda _: block_in(picture, document)):
            self._ask_what_is_missing()

    def _arrived(self, found: "LaidIn | None") -> None:
        if found is not None and self.studio.picture is not None:
            self._kept = self.studio.picture, found
        self._ask_what_is_missing()
        self.changed.emit()

    def _ask_what_is_missing(self) -> None:
        found, document, picture = self.found, self.studio.document, self.studio.picture
        if self._wants_missing and found is not None and picture is not None:
            from ochre_stone.core.planning.lacking import lacking
            from ochre_stone.core.planning.leaving import least_missed

            self.fewer.ask(lambda _: least_missed(picture, document, found))
            self.lacks.ask(lambda _: lacking(picture, document, found))

    def _lacks_arrived(self, _: "AllLacking") -> None:
        self.missed = -1
        self.changed.emit()

    # What is done

    def show_alone(self, alone: bool) -> None:
        """The places of the pile in hand alone in colour, or all of them."""
        self.alone = alone
        self.changed.emit()

    def show_halves(self, halves: bool) -> None:
        """The photo at the left of a border that can be moved, or the block-in alone."""
        self.border = 0.5 if halves else None
        self.changed.emit()

    def choose_missed(self, row: int) -> None:
        """Take what is missing in hand, by its place in the list."""
        if row != self.missed:
            self.missed = row
            self.changed.emit()

    def wish(self, pile: Pile, wish: Wish) -> None:
        """Keep a pile however few are mixed, leave it out, or leave it to the plan."""
        from ochre_stone.core.planning.leaving import with_wish

        words = {"keep": "Keep", "none": "Leave out", "": "Leave to the plan"}[wish]
        self.studio.change(f"{words} {pile.name}", with_wish(self.studio.document, pile, wish))

    def bring_back(self, note_id: str) -> None:
        """Give a note that was left out its pile again."""
        document = self.studio.document
        note = document.note(note_id).model_copy(update={"pile": ""})
        self.studio.change(f"Bring back {note.name}", document.with_note(note))

    def note_it(self) -> None:
        """A note of the missing place in hand, as it would be suggested there: one step to undo."""
        one, picture = self.missed_one(), self.studio.picture
        if one is None or picture is None:
            return
        from ochre_stone.core.planning.lacking import note_of_lacking

        document: Document = self.studio.document
        note = note_of_lacking(picture, document, one)
        self.missed = -1
        self.studio.change(f"Note {note.name}", document.with_note(note))
        self.studio.select(note.id)
        self.studio.told.emit(f"Noted: {note.name}. The plan follows.")
