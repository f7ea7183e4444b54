"""Notes that are proposed: of the whole picture, or of an area that the painter draws."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QPushButton, QSpinBox

from ochre_stone.core.document.document import Document
from ochre_stone.core.keys.area import AREA_SHAPES
from ochre_stone.core.keys.area import MOST_COLOURS as MOST_HERE
from ochre_stone.core.keys.whole import FEWEST, MOST
from ochre_stone.core.picture.frame import Point
from ochre_stone.core.planning.ranging import with_proposed_range
from ochre_stone.core.planning.suggesting import Suggested, added, suggest_here, suggest_notes
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.widgets.parts import button, counts, enable, set_tip
from ochre_stone.desktop.widgets.tray import Tray


def _noted(document: Document) -> list[tuple[object, ...]]:
    return [(n.id, n.place, n.lab) for n in document.notes]


def _without(document: Document, ids: tuple[str, ...]) -> Document:
    """Locked notes stay."""
    for n in document.notes:
        if n.id in ids and not n.locked:
            document = document.without_note(n.id)
    return document


class Proposals:
    """Two rows of the tray, and what they ask for. Each answer is one undoable step; the painter's own notes stay."""

    def __init__(self, tray: Tray, session: Session) -> None:
        self.session, self.studio = session, session.studio
        self.count = QSpinBox()
        self.count.setRange(FEWEST, MOST)
        self.count.setValue(12)
        counts(self.count, "note")
        self.count.setAccessibleName("How many notes to suggest")
        self.whole = button("Suggest", "Key colours that cover the picture, thing by thing; your notes stay", "main")
        self.whole.clicked.connect(self.ask_whole)
        self.here: QPushButton = button(
            "Here",
            "Key colours of one thing: drag around it, or click its corners and close with Enter (Shift+O)",
            checkable=True,
        )
        self.shape = QComboBox()
        self.shape.setAccessibleName("What is asked of the drawn area")
        set_tip(self.shape, "What is asked of the area that you draw")
        for s in AREA_SHAPES:
            self.shape.addItem(s.title, s.id)
        self.all_of_it = button("All of it", "All of the outline, not only its main thing", "small")
        self.all_of_it.clicked.connect(self.ask_all_of_it)
        self.all_of_it.hide()
        tray.row(self.whole, self.count, None, self.all_of_it)
        tray.row(self.here, self.shape).setStretch(1, 1)
        self._drawn: tuple[list[Point], Document, tuple[str, ...]] | None = None
        """The outline whose main thing alone was looked at, the document after it, and the notes that it brought."""
        self.studio.changed.connect(self._forget)

    def refresh(self) -> None:
        """Show what can be asked."""
        busy = "Key colours are being looked for." if self.studio.jobs.busy("suggest") else ""
        for b in (self.whole, self.here):
            enable(b, self.session.lacks("picture") or busy)

    def ask_whole(self) -> None:
        """Key colours of the picture."""
        picture, document, count = self.studio.picture, self.studio.document, self.count.value()
        if picture is not None:
            self._ask("Suggest notes", lambda: suggest_notes(picture, count, document))

    def ask_here(self, points: list[Point]) -> None:
        """Key colours of a drawn area."""
        self._ask_area(points)

    def ask_all_of_it(self) -> None:
        """The same outline once more, with everything in it; what was found before goes."""
        if self._drawn is not None:
            points, _, brought = self._drawn
            self._ask_area(points, brought, True)

    def _ask_area(self, points: list[Point], again: tuple[str, ...] = (), all_of_it: bool = False) -> None:
        """``again``: ids of notes that the answer takes the place of."""
        picture, shape, count = self.studio.picture, str(self.shape.currentData()), min(self.count.value(), MOST_HERE)
        if picture is None:
            return

        document = _without(self.studio.document, again)

        def done(found: Suggested, before: Document) -> None:
            trimmed = found.kept < 0.97 and not all_of_it
            old = {n.id for n in before.notes}
            brought = tuple(n.id for n in self.studio.document.notes if n.id not in old)
            self._drawn = (points, self.studio.document, brought) if trimmed else None
            self.all_of_it.setVisible(trimmed)

        def work() -> Suggested:
            return suggest_here(picture, document, points, shape, count, all_of_it)

        self._ask("Key colours of an area", work, again, done)

    def _ask(
        self,
        words: str,
        work: Callable[[], Suggested],
        again: tuple[str, ...] = (),
        done: Callable[[Suggested, Document], None] | None = None,
    ) -> None:
        """Work beside the window; the answer goes onto the document as it is then, in place of the notes ``again``."""

        def arrived(found: Suggested) -> None:
            before = _without(self.studio.document, again)
            new, notes = added(before, found)
            ranged = ""
            if not before.notes:  # a new photo
                new, ranged = with_proposed_range(new)
            self.studio.change(words, new)
            if notes:
                self.studio.select(new.notes[-1].id)
            if done is not None:
                done(found, before)
            self.refresh()
            said = found.words(notes) if notes else "The notes on the scale already hold these colours."
            if said or ranged:
                self.studio.told.emit(" ".join(w for w in (said, ranged) if w))

        def failed(message: str) -> None:
            self.refresh()
            self.studio.failed.emit(message)

        self.studio.jobs.start("suggest", lambda _: work(), arrived, failed)
        self.refresh()

    def _forget(self, *_: object) -> None:
        """Another change came: the outline is no longer the last word."""
        if self._drawn is not None and _noted(self.studio.document) != _noted(self._drawn[1]):
            self._drawn = None
            self.all_of_it.hide()
