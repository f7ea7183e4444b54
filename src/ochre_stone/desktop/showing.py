"""What the easel shows, and where that lies in the photo: views, frame, marks, grid, and the pointer's reading."""

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication

from ochre_stone.core.colour.reading import read
from ochre_stone.core.masses.plan import label_places
from ochre_stone.core.masses.shapes import enlarge
from ochre_stone.core.masses.swap import swapped
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Frame, Framed, framed
from ochre_stone.core.picture.picture import Floats, lab_to_linear, linear_to_lab
from ochre_stone.core.picture.views import View, show
from ochre_stone.core.project.massing import draw_plan
from ochre_stone.desktop import display, numbers
from ochre_stone.desktop.massview import cover
from ochre_stone.desktop.overlays import canvas_grid, lost_cover, marks_of
from ochre_stone.desktop.studio import SCREEN_PIXELS
from ochre_stone.desktop.widgets.easel import to_image

if TYPE_CHECKING:
    from ochre_stone.desktop.window import Window


class Showing(QObject):
    """The window's easel: its view, its frame, and the way between its pixels and those of the photo."""

    def __init__(self, window: "Window") -> None:
        super().__init__(window)
        self.window_, self.studio, self.easel = window, window.studio, window.easel
        self.view = View()
        self._shown: tuple[Frame, Floats] | None = None
        """The frame that the easel shows and its linear copy, for the pointer."""
        self._glimpse = False

    def set_view(self, plain: bool = False, **parts: Any) -> None:
        """See the picture another way: ``parts`` are fields of ``View``; what is sampled never changes."""
        old = self.view
        self.view = View(strength=old.strength) if plain else replace(old, **parts)
        self.easel.isolate, self.easel.flip = self.view.isolate, self.view.mirror
        if self.view == old:
            self.window_.look.refresh_if_here()
            return
        self.window_.look.refresh_if_here()
        self.show_grid()
        only_overlaid = replace(self.view, isolate=old.isolate, grid=old.grid) == old
        if only_overlaid:
            self.easel.update()
        else:
            self.repaint()

    def toggle(self, part: str) -> None:
        """Switch a part of the view on or off."""
        self.set_view(**{part: not getattr(self.view, part)})

    def hold_before(self) -> None:
        """Show the photo as it was taken, until the key is let go."""
        app = QApplication.instance()
        if self.studio.picture is None or app is None:
            return
        if self.view.before:
            self._let_go()
        else:
            app.installEventFilter(self)
            self.set_view(before=True)

    def _let_go(self) -> None:
        app = QApplication.instance()
        if app is not None:
            app.removeEventFilter(self)
        self.set_view(before=False)

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

    def next_grid(self) -> None:
        """The next transfer grid."""
        kinds = ("none", "thirds", "squares")
        self.set_view(grid=kinds[(kinds.index(self.view.grid) + 1) % len(kinds)])

    def show_grid(self) -> None:
        """Lay the chosen grid over the picture."""
        canvas = self.studio.document.canvas
        seen = self.studio.seen
        self.easel.grid = canvas_grid(self.view.grid, canvas, seen) if seen is not None else None
        self.easel.update()

    @property
    def shown_frame(self) -> Frame:
        """What the easel shows: the document's frame, or the whole plane while it is being framed."""
        return self.window_.look.frame_page.plane() if self.window_.look.framing else self.studio.document.frame

    @property
    def shown(self) -> Framed | None:
        """The picture as the easel shows it."""
        picture = self.studio.picture
        return framed(picture, self.shown_frame) if picture is not None else None

    def reframe(self) -> None:
        """Show the frame, or the plane with the cut on it."""
        page = self.window_.look.frame_page
        canvas = self.studio.document.canvas
        keeps = page.canvas.currentIndex() > 0
        cut = page.cut() if self.window_.look.framing else None
        self.easel.set_cut(cut, canvas.width / canvas.height if keeps else None)
        self.repaint()

    def repaint(self) -> None:
        """Render the picture or the masses off the main thread and show them."""
        if self._glimpse and self.studio.jobs.busy("load"):
            return  # the photo that is being opened is looked at already
        self._glimpse = False
        seen, screen = self.shown, self.studio.screen
        if seen is None or screen is None:
            self._shown = None
            self.easel.show_image(None)
            self.easel.show_labels(())
            return
        full, frame = (seen.width, seen.height), seen.frame
        whole = frame == self.studio.document.frame
        if whole and self.studio.screen_is_coming:
            return  # painted when it is there
        plan = self.studio.masses
        mass, harmonise = self.window_.mass, self.window_.harmonise
        massing = self.window_.station is mass and mass.show_masses.isChecked()
        wants = (massing and not mass.shows_swap) or self.window_.station is self.window_.block_in
        document, encode, picture = self.studio.document, display.screen().encode, self.studio.picture
        if wants and plan is not None and picture is not None:
            copy, ground, wanted = screen, self.studio.ground, mass.overlay() if massing else None
            fine = self.studio.fine or plan

            def draw(_: Any) -> tuple[Any, Any, Any, Floats]:
                height, width = plan.labels.shape
                code = display.greys(draw_plan(fine, picture, document, width * 2, height * 2))
                dark = plan.greys() < 118
                over = cover(plan, fine, ground, wanted) if wanted is not None and ground is not None else None
                return to_image(code), over, [(x, y, str(i + 1), bool(dark[i])) for x, y, i in label_places(plan)], copy
        elif mass.shows_swap and plan is not None:
            copy, colours, view = screen, {s.mass: (s.hue, s.chroma) for s in document.masses.swaps}, self.view
            fine = self.studio.fine or plan

            def draw(_: Any) -> tuple[Any, Any, Any, Floats]:
                height, width = screen.shape[:2]
                new = swapped(linear_to_lab(screen), enlarge(fine.labels, len(fine.masses), width, height), colours)
                return to_image(show(lab_to_linear(new), view, encode)), None, (), copy
        elif self.window_.station is harmonise and harmonise.previews and whole:
            recolour, copy, view = harmonise.preview(), screen, self.view

            def draw(_: Any) -> tuple[Any, Any, Any, Floats]:
                return to_image(show(lab_to_linear(recolour(screen)), view, encode)), None, (), copy
        else:
            view = self.view
            found = self.studio.losses if view.lost else None

            def draw(_: Any) -> tuple[Any, Any, Any, Floats]:
                if view.before:
                    copy = Balance().apply(seen.reduced(SCREEN_PIXELS))
                else:
                    copy = screen if whole else document.the_balance().apply(seen.reduced(SCREEN_PIXELS))
                cover = lost_cover(found, view.mirror) if found is not None and whole else None
                return to_image(show(copy, view, encode)), cover, (), copy

        def arrived(answer: tuple[Any, Any, Any, Floats]) -> None:
            image, cover, labels, copy = answer
            self._shown = (frame, copy)
            self.easel.flip = self.view.mirror and not wants
            self.easel.show_image(image, full, cover)
            self.easel.show_labels(labels)
            self.window_.show_notes()

        self.studio.jobs.start("view", draw, arrived, self.window_.complain)

    def lost_changed(self) -> None:
        """What the photo lost is known now."""
        if self.view.lost:
            self.repaint()

    def glimpsed(self, code: Any) -> None:
        """A quick copy of the photo that is being opened, to look at meanwhile."""
        self.studio.jobs.cancel("view")
        self._glimpse = True
        self.easel.show_marks_of(())
        self.easel.set_cut(None)
        self.easel.show_image(to_image(code), (code.shape[1], code.shape[0]))

    def opening(self, share: float) -> None:
        """How far opening a file is."""
        self.window_.progress.setVisible(share < 1)
        self.window_.stop_opening.setVisible(share < 1)
        self.window_.progress.setValue(round(share * 100))

    # The easel's picture and the photo

    @property
    def _true(self) -> bool:
        """Whether what the easel shows is the picture, not the glimpse of one that is being opened."""
        return self.shown is not None and not self.studio.jobs.busy("load")

    def clicked(self, x: float, y: float) -> None:
        """The easel was clicked at these pixels of the frame."""
        if self._true:
            self.window_.station.spot_clicked(*self._in_photo(x, y))

    def _in_photo(self, x: float, y: float) -> tuple[float, float]:
        seen = self.shown
        assert seen is not None
        px, py = seen.to_original(x, y)
        return min(max(px, 0.0), seen.picture.width - 1e-3), min(max(py, 0.0), seen.picture.height - 1e-3)

    def drawn(self, name: str, points: list[tuple[float, float]]) -> None:
        """A tool of several points is done."""
        if self._true:
            self.window_.station.drawn(name, [self._in_photo(*p) for p in points])

    def mark_moved(self, note_id: str, x: float, y: float) -> None:
        """A note's mark was put down elsewhere."""
        if self._true:
            self.window_.note_station.mark_moved(note_id, *self._in_photo(x, y))

    def read_with_reader(self) -> None:
        """Take a note with the spot reader, placed under the pointer or cross where that is on the picture."""
        spot = self.easel.pointed()
        place = self._in_photo(*spot) if spot is not None and self._true else None
        self.window_.reader.read(place, self.window_.note_station.aperture.value())

    def read_under_pointer(self, x: float, y: float) -> None:
        """Say value and colour under the pointer: a glance, from the screen copy; a click takes the true note."""
        if self._shown is None or self.shown is None:
            self.window_.under_pointer.setText("")
            return
        copy = self._shown[1]
        row = min(int(y / self.shown.height * copy.shape[0]), copy.shape[0] - 1)
        column = min(int(x / self.shown.width * copy.shape[1]), copy.shape[1] - 1)
        r = read(linear_to_lab(copy[row, column]))
        self.window_.under_pointer.setText(f"value {numbers.value(r.value)}, {r.name}  ")

    def show_marks(self) -> None:
        """Mark the notes on the picture; those that the ledge leaves out are dimmed."""
        seen = self.shown
        if seen is not None and self.easel.show_marks:  # where none are shown, none are worked out
            kept = {n.id for n in self.window_.note_station.on_ledge()}
            self.easel.show_marks_of(marks_of(self.studio.document.notes, seen, self.studio.selected, kept))
