"""What the easel shows, and where that lies in the photo: view, frame, marks, grid, and the pointer's reading."""

from collections.abc import Collection
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Protocol

from PyQt6.QtCore import QCoreApplication, QEvent, QObject, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent

from ochre_stone.core.colour.reading import read
from ochre_stone.core.picture.frame import Frame, Framed, framed
from ochre_stone.core.picture.picture import Floats, linear_to_lab
from ochre_stone.core.picture.views import View
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.overlays import canvas_grid, marks_of
from ochre_stone.desktop.easel.scenes import Drawing, DrawnScene, the_picture
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.widgets.image import to_image

if TYPE_CHECKING:
    from ochre_stone.desktop.easel.laidcover import LaidCover


class ShownPlace(Protocol):
    """Where the painter is: it says what the easel shows there, and is told what is done on it."""

    def plane(self) -> Frame | None: ...
    def cut(self) -> tuple[QRectF | None, float | None]: ...
    def drawn_scene(self, screen: Floats, view: View) -> Drawing | None: ...
    def spot_clicked(self, x: float, y: float) -> None: ...
    def drawn(self, name: str, points: list[tuple[float, float]]) -> None: ...
    def mark_moved(self, note_id: str, x: float, y: float) -> None: ...
    def tool_dropped(self) -> None: ...


class Showing(QObject):
    """Keeps an easel at what the session holds and the place in hand asks for."""

    pointed = pyqtSignal(str)
    """Value and colour under the pointer, in words; "" off the picture."""
    shown = pyqtSignal()
    """Another picture is on the easel."""

    def __init__(self, session: Session, easel: Easel) -> None:
        super().__init__(easel)
        self.session, self.studio, self.easel = session, session.studio, easel
        self.place: ShownPlace | None = None
        self._shown: tuple[Frame, Floats] | None = None
        """The frame that the easel shows and its linear copy, for the pointer."""
        self._glimpse = False
        self.cover: LaidCover | None = None
        """What lies over the block-in, once one was shown."""
        session.sight.changed.connect(self._seen_otherwise)
        self.studio.measuring.light_changed.connect(self.repaint)
        self.studio.masses_changed.connect(self.repaint)
        self.studio.masses_refined.connect(self.repaint)
        session.laid.changed.connect(self.repaint)
        self.studio.measuring.lost_changed.connect(self._lost_changed)
        self.studio.files.glimpsed.connect(self._glimpsed)
        easel.clicked.connect(self._clicked)
        easel.drawn.connect(self._drawn)
        easel.mark_moved.connect(self._mark_moved)
        easel.mark_chosen.connect(self.studio.select)
        easel.hovered.connect(self._read_under_pointer)
        easel.tool_dropped.connect(lambda: self.place.tool_dropped() if self.place is not None else None)

    # The view

    @property
    def view(self) -> View:
        return self.session.sight.view

    def _seen_otherwise(self, old: View, new: View) -> None:
        self.easel.isolate, self.easel.flip = new.isolate, new.mirror
        if new == old:
            return
        self.show_grid()
        if replace(new, isolate=old.isolate, grid=old.grid) == old:
            self.easel.update()  # only what lies over the picture is another
        else:
            self.repaint()

    def hold_before(self) -> None:
        """Show the photo as it was taken, until the key is let go."""
        app = QCoreApplication.instance()
        if self.studio.picture is None or app is None:
            return
        if self.view.before:
            self._let_go()
        else:
            app.installEventFilter(self)
            self.session.sight.set(before=True)

    def _let_go(self) -> None:
        app = QCoreApplication.instance()
        if app is not None:
            app.removeEventFilter(self)
        self.session.sight.set(before=False)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """While the picture is shown as before: the end of it."""
        if event is not None and self.view.before:
            released = (
                isinstance(event, QKeyEvent)
                and event.type() == QEvent.Type.KeyRelease
                and event.key() == Qt.Key.Key_B
                and not event.isAutoRepeat()
            )
            if released or event.type() == QEvent.Type.ApplicationDeactivate:
                self._let_go()
        return super().eventFilter(watched, event)

    def show_grid(self) -> None:
        """Lay the chosen grid over the picture."""
        canvas = self.studio.document.canvas
        seen = self.studio.seen
        self.easel.grid = canvas_grid(self.view.grid, canvas, seen) if seen is not None else None
        self.easel.update()

    # The picture

    @property
    def _frame(self) -> Frame:
        plane = self.place.plane() if self.place is not None else None
        return plane if plane is not None else self.studio.document.frame

    @property
    def seen(self) -> Framed | None:
        """The picture as the easel shows it."""
        picture = self.studio.picture
        return framed(picture, self._frame) if picture is not None else None

    def reframe(self) -> None:
        """Show the frame, or another plane with the cut on it."""
        if self.place is not None:
            self.easel.set_cut(*self.place.cut())
        self.repaint()

    def repaint(self) -> None:
        """Have what is to be seen drawn off the main thread, and show it."""
        if self._glimpse and self.studio.jobs.busy("load"):
            return  # the photo that is being opened is looked at already
        self._glimpse = False
        seen, screen = self.seen, self.studio.measuring.screen
        if seen is None or screen is None:
            self._shown = None
            self.easel.show_image(None)
            self.easel.show_labels(())
            self._lay_over(None)
            return
        full, frame = (seen.width, seen.height), seen.frame
        whole = frame == self.studio.document.frame
        if whole and self.studio.measuring.screen_is_coming:
            return  # painted when it is there
        draw = self.place.drawn_scene(screen, self.view) if self.place is not None and whole else None
        if draw is None:
            lost = self.studio.measuring.losses if self.view.lost and whole else None
            draw = the_picture(seen, screen if whole else None, self.studio.document, self.view, lost)

        def arrived(found: DrawnScene) -> None:
            self._shown = (frame, found.copy)
            self.easel.flip = self.view.mirror and found.flips
            self.easel.show_image(found.image, full, found.cover, found.photo)
            self.easel.show_labels(found.labels)
            self._lay_over(found)
            self.shown.emit()

        self.studio.jobs.start("view", lambda _: draw(), arrived, self.studio.failed.emit)

    def _lay_over(self, found: DrawnScene | None) -> None:
        """Over the block-in: piles to be taken in hand, and words; over all else nothing."""
        laid = found.laid if found is not None else None
        if self.cover is None:
            if laid is None:
                return
            from ochre_stone.desktop.easel.laidcover import LaidCover

            self.cover = LaidCover(self.easel, self.session.laid)
            self.cover.pointed.connect(self.pointed)
        halves = found is not None and found.photo is not None
        self.cover.show_laid(laid, found.missing if found is not None else None, halves)

    def _lost_changed(self) -> None:
        if self.view.lost:
            self.repaint()

    def _glimpsed(self, code: Any) -> None:
        """A quick copy of the photo that is being opened, to look at meanwhile."""
        self.studio.jobs.cancel("view")
        self._glimpse = True
        self.easel.show_marks_of(())
        self.easel.set_cut(None)
        self._lay_over(None)
        self.easel.show_image(to_image(code), (code.shape[1], code.shape[0]))

    # The easel's picture and the photo

    @property
    def _true(self) -> bool:
        """Whether what the easel shows is the picture, not the glimpse of one that is being opened."""
        return self.seen is not None and not self.studio.jobs.busy("load")

    def _in_photo(self, x: float, y: float) -> tuple[float, float]:
        seen = self.seen
        assert seen is not None
        px, py = seen.to_original(x, y)
        return min(max(px, 0.0), seen.picture.width - 1e-3), min(max(py, 0.0), seen.picture.height - 1e-3)

    def _clicked(self, x: float, y: float) -> None:
        if self._true and self.place is not None:
            self.place.spot_clicked(*self._in_photo(x, y))

    def _drawn(self, name: str, points: list[tuple[float, float]]) -> None:
        if self._true and self.place is not None:
            self.place.drawn(name, [self._in_photo(*p) for p in points])

    def _mark_moved(self, note_id: str, x: float, y: float) -> None:
        if self._true and self.place is not None:
            self.place.mark_moved(note_id, *self._in_photo(x, y))

    def read_with_reader(self) -> None:
        """Take a note with the spot reader, placed under the pointer or cross where that is on the picture."""
        spot = self.easel.pointed()
        place = self._in_photo(*spot) if spot is not None and self._true else None
        self.session.reader.read(place, self.session.notes.aperture)

    def _read_under_pointer(self, x: float, y: float) -> None:
        """Say what is under the pointer: a glance, from the screen copy; a click takes the true note."""
        seen = self.seen
        if self._shown is None or seen is None:
            self.pointed.emit("")
            return
        copy = self._shown[1]
        row = min(int(y / seen.height * copy.shape[0]), copy.shape[0] - 1)
        column = min(int(x / seen.width * copy.shape[1]), copy.shape[1] - 1)
        r = read(linear_to_lab(copy[row, column]))
        hue = "" if r.hue == "neutral" else f"; {r.hue.split(',')[0]}"
        self.pointed.emit(f"value {numbers.value(r.value)}, {r.name}{hue}")

    def show_marks(self, only: Collection[str] | None = None) -> None:
        """Mark the notes on the picture, or those ``only``; those that the filter leaves out are dimmed."""
        seen = self.seen
        if seen is not None and self.easel.show_marks:  # where none are shown, none are worked out
            notes = tuple(n for n in self.studio.document.notes if only is None or n.id in only)
            kept = {n.id for n in self.session.notes.shown()}
            self.easel.show_marks_of(marks_of(notes, seen, self.studio.selected, kept))
