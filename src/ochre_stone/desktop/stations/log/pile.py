"""The Pile page of Log: a pile as it was really mixed; what is left, how it dried, a picture, a line; mix it again."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, Qt, QTimer
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QImage, QPixmap
from PyQt6.QtWidgets import QDoubleSpinBox, QInputDialog, QLineEdit, QMenu

from ochre_stone.core.colour.parse import parse_colour
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import Picture
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.session.benchwork import BenchWork
from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.session.reader import ReaderLink
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.stations.log.words import course_of, day_words, planned_against
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.asking import PHOTOS, ask, ask_open
from ochre_stone.desktop.widgets.image import to_image
from ochre_stone.desktop.widgets.parts import Words, button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.swatch import PileSwatch
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.devices.madeup import painted_patch
from ochre_stone.devices.reader import lab_of
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.entry import Entry
from ochre_stone.logbook.remixing import Remix, mix_again

_PIXELS = 240_000


class _Drop(Words):
    """A picture, or room for one."""

    def __init__(self, take: Callable[[Path], None]) -> None:
        super().__init__("")
        self._take = take
        self.setAcceptDrops(True)
        self.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.setProperty("kind", "quiet")
        self.setFixedHeight(44)
        self.setAccessibleName("Picture of the pile")

    def dragEnterEvent(self, a0: QDragEnterEvent | None) -> None:
        data = a0.mimeData() if a0 is not None else None
        if a0 is not None and data is not None and data.hasUrls():
            a0.acceptProposedAction()

    def dropEvent(self, a0: QDropEvent | None) -> None:
        data = a0.mimeData() if a0 is not None else None
        if a0 is not None and data is not None and data.hasUrls() and data.urls()[0].isLocalFile():
            self._take(Path(data.urls()[0].toLocalFile()))
            a0.acceptProposedAction()


class LogPilePage:
    """The entry in hand."""

    def __init__(self, tray: Tray, log: LogKeeper, bench: BenchWork, settings: Settings, link: ReaderLink) -> None:
        self.tray, self.log, self.bench, self.settings, self.studio = tray, log, bench, settings, log.studio
        self.link = link
        self.entry: Entry | None = None
        self.remix: Remix | None = None
        self.head = tray.head("")
        self.swatch = PileSwatch()
        tray.rows.addWidget(self.swatch)
        self.against = tray.label("")
        self.course = tray.label("", "quiet")
        self.left = QDoubleSpinBox()
        self.left.setRange(0, 1000)
        self.left.setDecimals(1)
        self.left.setSingleStep(0.1)
        self.left.setSuffix(" ml")
        self.left.setFixedWidth(theme.sized(96))
        self.left.setAccessibleName("What is left of it")
        self.left.editingFinished.connect(self._set_left)
        self.dried = button("Dried", "How it looks dry", "small")
        how = QMenu(self.dried)
        how.addAction("Type its colour…", self.ask_dried)
        how.addAction("Read it with the spot reader", self.read_dried)
        self.dried.setMenu(how)
        self.remove = button("Remove…", "Take this pile out of the log", "small")
        self.remove.clicked.connect(self.ask_remove)
        tray.row(Words("Left"), self.left, None, self.dried, self.remove)
        self.line = QLineEdit()
        self.line.setMaxLength(2000)
        self.line.setPlaceholderText("A line about it")
        self.line.setAccessibleName("A line about it")
        self.line.editingFinished.connect(self._set_line)
        tray.rows.addWidget(self.line)
        self.picture = _Drop(self.take_picture)
        self.choose = button("Picture…", "A picture of the pile; one can be dropped here too", "small")
        self.choose.clicked.connect(self.ask_picture)
        tray.row(self.picture, self.choose).setStretch(0, 1)
        self.amount = QDoubleSpinBox()
        self.amount.setRange(0.1, 1000)
        self.amount.setDecimals(1)
        self.amount.setSuffix(" ml")
        self.amount.setFixedWidth(theme.sized(96))
        self.amount.setAccessibleName("How much of it")
        self.again = button("Mix it again", "Exactly what went in, corrected for tubes that are others since", "main")
        self.again.clicked.connect(self.mix_it_again)
        self.lay = button("Bench", "Lay it on the bench", "small")
        self.lay.clicked.connect(self.to_bench)
        tray.row(self.again, self.amount, self.lay, None)
        self.recipe = tray.label("")
        self.empty = tray.label("", "quiet")

    # What is done

    def _set_left(self) -> None:
        e = self.entry
        if e is not None and abs(self.left.value() - (e.left_ml or 0.0)) > 0.04:
            self.log.set_left(e, self.left.value() or None)

    def _set_line(self) -> None:
        if self.entry is not None and self.line.text() != self.entry.line:
            self.log.change(self.entry, "A line about a pile", line=self.line.text())

    def ask_dried(self) -> None:
        """Ask how it dried."""
        text, said = QInputDialog.getText(
            self.tray.widget, "How it dried", "Its colour, dry: “lab 62 14 22”, “#c9a27e” or “munsell 5YR 6/4”"
        )
        if said and text.strip():
            self.take_dried(text)

    def take_dried(self, text: str) -> None:
        """How it dried, as typed; what is no colour is said."""
        if self.entry is None:
            return
        try:
            self.log.set_dried(self.entry, as_lab(parse_colour(text)))
        except OchreError as error:
            self.studio.failed.emit(str(error))

    def read_dried(self) -> None:
        """How it dried, with the spot reader; the simulated one finds the pile of the made-up tubes under it."""
        e = self.entry
        if e is None:
            return
        if not self.link.connected:
            self.studio.told.emit("No reader is connected: connect one at Look, on its Scene page.")
            return
        doses = [Dose.of_tube(k.partition("@")[0], ml) for k, ml in e.inside().items() if ml > 0]
        try:
            tubes = [self.bench.paints.find_tube(d.shares[0][0]) for d in doses]
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        patch = painted_patch(tubes, doses, e.uid, self.bench.palette.surface)
        self.link.read_pile(patch.tolist(), lambda reading: self.log.set_dried(e, lab_of(reading)))

    def ask_picture(self) -> None:
        """Ask for a picture of the pile."""
        kinds = f"Photos ({PHOTOS});;All files (*)"
        path = ask_open(self.tray.widget, "A picture of the pile", self.settings.folder, kinds)
        if path is not None:
            self.take_picture(path)

    def take_picture(self, path: Path) -> None:
        """Keep a small copy of a picture with the pile."""
        entry = self.entry
        if entry is None:
            return

        def work(_: object) -> Picture:
            picture = load(path)
            picture.reduced(_PIXELS)
            return picture

        def arrived(picture: Picture) -> None:
            image = to_image(display.screen().encode(picture.reduced(_PIXELS)))
            self.log.change(entry, "A picture of a pile", picture=_jpeg(image))

        self.studio.jobs.start("log-picture", work, arrived, self.studio.failed.emit)

    def mix_it_again(self) -> None:
        """What goes in to mix it again."""
        entry, ml = self.entry, self.amount.value()
        if entry is None:
            return
        find, surface, opened = self.bench.paints.find_tube, self.bench.palette.surface, self.bench.paints.opened()
        hand = self.studio.document.mix.hand.made()

        def work(book: Book) -> Remix:
            return mix_again(entry, book.tubes(), find, surface, ml, opened, hand)

        def arrived(found: Remix) -> None:
            if self.entry == entry:
                self.remix = found
                self._show_remix()
                QTimer.singleShot(0, lambda: self.tray.bring_up(self.recipe))  # once it has its height

        self.log.ask(work, arrived)

    def _show_remix(self) -> None:
        r = self.remix
        self.recipe.setVisible(r is not None)
        if r is not None:
            self.recipe.mark_up(f"<b>{r.parts_words()}</b>. {r.why} In millilitres: {r.ml_words()}.")

    def to_bench(self) -> None:
        """What went in, or goes in again, on the bench."""
        entry = self.entry
        if entry is None:
            return
        if self.remix is None or self.remix.entry != entry:
            self.mix_it_again()
            self.log.ask(lambda _: None, lambda _: self._lay())
        else:
            self._lay()

    def _lay(self) -> None:
        if self.remix is not None and self.entry is not None:
            self.log.keeping.lay_doses(self.entry.name, self.remix.doses, self.entry.target)
            self.studio.told.emit(f"{self.entry.name} is on the bench, at the Paint box and at Mix.")

    def ask_remove(self) -> None:
        """Take the pile out of the log; Undo brings it back."""
        e = self.entry
        if e is None:
            return
        words = f"Take {e.name} of {day_words(e.begun)} out of the log?"
        if ask(self.tray.widget, words, ("Remove", "Keep")) == "Remove":
            self.log.edit("Take a pile out of the log", [e], [])

    # Showing

    def show_entry(self, e: Entry | None, why: str) -> None:
        """An entry, or why there is none."""
        if e is None or self.entry is None or e.uid != self.entry.uid:
            self.remix = None
        self.entry = e
        parts = (self.head, self.swatch, self.against, self.course, self.left, self.dried, self.line, self.picture,
                 self.choose, self.amount, self.again, self.lay, self.recipe, self.remove)  # fmt: skip
        for w in parts:
            w.setVisible(e is not None)
        self.empty.setText(why)
        self.empty.setVisible(e is None)
        self._show_remix()
        if e is None:
            return
        out = e.came_out or (50.0, 0.0, 0.0)
        r = read(out)
        self.head.setText(f"{e.name}, {day_words(e.begun)}: {numbers.value(r.value)} {r.name}")
        self.swatch.show_pile(e.uid, e.target or out, out)
        self.against.setText(planned_against(e))
        course = course_of(e)
        self.course.setText("\n".join(course[-6:]))
        set_tip(self.course, "\n".join(course))
        with signals_blocked(self.left), signals_blocked(self.amount), signals_blocked(self.line):
            if not self.left.hasFocus():
                self.left.setValue(e.left_ml or 0.0)
            self.amount.setValue(max(e.ml, 0.1))
            if not self.line.hasFocus():
                self.line.setText(e.line)
        enable(self.dried)
        if e.picture:
            pixmap = QPixmap()
            pixmap.loadFromData(e.picture)
            self.picture.setPixmap(pixmap.scaledToHeight(42, Qt.TransformationMode.SmoothTransformation))
        else:
            self.picture.setText("drop a picture here")


def _jpeg(image: QImage) -> bytes:
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "JPEG", 85)
    return data.data()
