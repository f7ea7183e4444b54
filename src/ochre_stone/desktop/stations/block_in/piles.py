"""The Piles page of Block in: the picture in exactly the plan's piles, before one is mixed."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QIcon, QImage, QPixmap
from PyQt6.QtWidgets import QListWidgetItem

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.picture.picture import linear_to_code
from ochre_stone.core.planning.blockin import LaidIn, block_in
from ochre_stone.core.planning.lacking import AllLacking, Lacking, lacking, note_of_lacking
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.stations.block_in.laidview import LaidView
from ochre_stone.desktop.widgets.parts import ListBox, button, enable, signals_blocked
from ochre_stone.desktop.widgets.shapes import paint_colour
from ochre_stone.desktop.widgets.tray import Tray

_PHOTO_PIXELS = 600_000


class PilesPage:
    """One look tells whether the face reads, and which pile does nothing."""

    def __init__(self, tray: Tray, studio: Studio, piles: Piles) -> None:
        self.studio, self.piles = studio, piles
        self._listed: AllLacking | None = None
        self.view = LaidView()
        self.view.chosen.connect(piles.choose)
        self.photo = button("Photo", "The photo instead, to compare (Shift+B)", "small")
        self.photo.setCheckable(True)
        self.photo.clicked.connect(lambda _: self._show_photo())
        self.alone = button("Only this pile", "Its places in colour, all else pale (Shift+A)", "small")
        self.alone.setCheckable(True)
        self.alone.clicked.connect(lambda _: self._show())
        tray.row(self.photo, self.alone, None)
        self.words = tray.label("")
        self.held = tray.label("", "head")
        self.recipe = tray.label("")
        tray.label("What each pile covers", "head")
        self.list = ListBox("Piles by what they cover", 90)
        self.list.itemClicked.connect(lambda item: piles.choose(item.data(Qt.ItemDataRole.UserRole)))
        self.list.itemActivated.connect(lambda item: piles.choose(item.data(Qt.ItemDataRole.UserRole)))
        tray.list(self.list)
        tray.label("What is missing", "head")
        self.missing_words = tray.label("", "quiet")
        self.missing = ListBox("What no pile comes near", 74)
        self.missing.currentRowChanged.connect(lambda _: self._mark())
        tray.list(self.missing)
        self.note_it = button("Note it", "A note of that place, as Suggest would take it; the plan follows")
        self.note_it.clicked.connect(self.take_note)
        tray.row(self.note_it, None)
        self.lacks: Question[AllLacking | None] = Question(
            studio.jobs, "missing", self._key, lambda _: self._show_missing(), studio.failed.emit
        )
        self.question: Question[LaidIn | None] = Question(
            studio.jobs, "placing", self._key, lambda _: self._arrived(), studio.failed.emit
        )

    def _key(self) -> object:
        d = self.studio.document
        return self.studio.picture, d.mixed, d.masses, d.light_key, d.harmony, d.notes

    def refresh(self) -> None:
        """Lay the picture in; off the main thread where it is new."""
        document, picture = self.studio.document, self.studio.picture
        if picture is None:
            self.view.hint = "Open a picture first: it is laid in here with the piles of its plan."
            self.question.forget()
        else:
            self.view.hint = self.piles.none_words()
            if self.piles.settled and document.mixed.strings:
                if self.question.ask(lambda _: block_in(picture, document)):
                    self._ask_what_is_missing()
                self.view.hint = "The picture is being laid in."
        self._show()

    def _arrived(self) -> None:
        self._show()
        self._ask_what_is_missing()

    def _ask_what_is_missing(self) -> None:
        found, document, picture = self.found, self.studio.document, self.studio.picture
        if found is not None and picture is not None:
            self.lacks.ask(lambda _: lacking(picture, document, found))
            self._show_missing()

    def take_note(self) -> None:
        """Note what is missing at the place that is chosen."""
        one, picture = self._one(), self.studio.picture
        if one is None or picture is None:
            return
        note = note_of_lacking(picture, self.studio.document, one)
        self.studio.change(f"Note {note.name}", self.studio.document.with_note(note))
        self.studio.select(note.id)
        self.studio.told.emit(f"Noted: {note.name}. The plan follows.")

    def _one(self) -> Lacking | None:
        answer, row = self.lacks.answer, self.missing.currentRow()
        return answer.found[row] if answer is not None and 0 <= row < len(answer.found) else None

    def _mark(self) -> None:
        one = self._one()
        self.view.mark((one.x, one.y) if one is not None else None)
        enable(self.note_it, "" if one is not None else "Choose first what is missing")

    def _show_missing(self) -> None:
        answer = self.lacks.answer if self.found is not None else None
        with signals_blocked(self.missing):
            row = self.missing.currentRow() if answer is self._listed else -1
            self._listed = answer
            self.missing.clear()
            for one in answer.found if answer is not None else ():
                self.missing.addItem(QListWidgetItem(_swatch_of(one.place.lab), f"{one.name}: {one.words}"))
            self.missing.setCurrentRow(row)
        if answer is None:
            said = "Being looked for." if self.found is not None else ""
        else:
            said = answer.words or ("" if answer.found else "Nothing that a note would mend.")
        self.missing_words.setText(said)
        self.missing_words.setVisible(bool(said))
        for w in (self.missing, self.note_it):
            w.setVisible(answer is not None and bool(answer.found))
        self._mark()

    @property
    def found(self) -> LaidIn | None:
        """The block-in of what is planned now, once it is made."""
        there = self.studio.picture is not None and self.piles.settled and bool(self.studio.document.mixed.strings)
        return self.question.answer if there else None

    def show_alone(self) -> None:
        """The pile in hand alone, or all of them again."""
        self.alone.click()

    def show_photo(self) -> None:
        """The photo, or the block-in again."""
        self.photo.click()

    def _show_photo(self) -> None:
        picture = self.studio.picture
        image = None
        if self.photo.isChecked() and picture is not None:
            code = linear_to_code(self.studio.document.seen(picture, _PHOTO_PIXELS))
            h, w = code.shape[:2]
            image = QImage(code.tobytes(), w, h, 3 * w, QImage.Format.Format_RGB888).copy()
        self.view.show_photo(image)

    def _show(self) -> None:
        found, held = self.found, self.piles.found()
        self.view.alone = self.alone.isChecked()
        self.view.show_block_in(found, held[1].id if held is not None else None)
        for w in (self.photo, self.alone, self.words, self.held, self.recipe, self.list):
            w.setVisible(found is not None)
        self.list.clear()
        self._show_missing()
        if found is None:
            return
        shares = found.shares
        idle = [p.name for g in found.piles for p in g[:1] if shares[p.id] == 0.0]
        needed = self.piles.needed()
        said = [f"No place is left for {', '.join(idle)}."] if idle else []
        said += [needed.uncovered_words] if needed is not None and needed.uncovered_words else []
        self.words.setText(" ".join(said))
        self.words.setVisible(bool(said))
        if held is not None:
            self._tell(held[1])
        for p in sorted((p for g in found.piles for p in g), key=lambda p: -shares[p.id]):
            twin = next((g[0] for g in found.piles if p in g[1:]), None)
            how = f"as {twin.name}" if twin is not None else _percent(shares[p.id])
            ml = f", {needed.piles[p.id]:.1f} ml" if needed is not None and p.id in needed.piles else ""
            row = QListWidgetItem(_swatch(p), f"{p.order}  {p.name}: {how}{ml}")
            row.setData(Qt.ItemDataRole.UserRole, p.id)
            self.list.addItem(row)
            if held is not None and p.id == held[1].id:
                self.list.setCurrentItem(row)
        if self.list.currentItem() is not None:
            self.list.scrollToItem(self.list.currentItem())

    def _tell(self, p: Pile) -> None:
        self.held.setText(f"{p.name[:1].upper()}{p.name[1:]}")
        self.recipe.setText(f"{', '.join(i.said for i in p.recipe.ingredients)}. {p.nearness.words.capitalize()}.")


def _percent(share: float) -> str:
    return "no place" if share == 0 else f"{share:.0%}" if share >= 0.01 else "under 1%"


def _swatch(p: Pile) -> QIcon:
    return _swatch_of(p.recipe.lab)


def _swatch_of(lab: Lab) -> QIcon:
    image = QPixmap(26, 16)
    image.fill(QColor(paint_colour(lab)))
    return QIcon(image)
