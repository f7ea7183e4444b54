"""What all stations share: a tray, words for the strip, what they show on easel and scale, and their actions."""

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from PyQt6.QtCore import QEvent, QRectF, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoStack
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.document.document import Document
from ochre_stone.core.picture.frame import Frame
from ochre_stone.core.picture.picture import Floats
from ochre_stone.core.picture.views import View
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.scenes import Drawing
from ochre_stone.desktop.easel.showing import Showing
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.scale.scale import ValueScale
from ochre_stone.desktop.session.session import Need, Session
from ochre_stone.desktop.session.trying import Choosing
from ochre_stone.desktop.widgets.parts import guard, tab_in_order, tips
from ochre_stone.desktop.widgets.scenebar import BLOCK_IN, MISSING, PHOTO, SceneWord
from ochre_stone.desktop.widgets.tray import Pages, Tray


@dataclass(frozen=True)
class Command:
    """Something the painter can do by menu or key."""

    menu: str
    """Where it stands: "File", "Edit", "View" or "Go"."""
    words: str
    keys: tuple[str, ...]
    call: Callable[[], Any]
    apart: bool = False
    """Whether a line parts it from what stands before it."""
    needs: Need = ""
    """What there must be for it; without that it is disabled and says why."""
    repeats: bool = True
    """Whether a key that is held down calls it again and again."""


@dataclass(frozen=True, eq=False)
class Desk:
    """The part of the screen that stations share; each has it while the painter is there."""

    easel: Easel
    scale: ValueScale
    showing: Showing


class Station(QWidget):
    """One place of the work. It knows the session and its part of the screen, no window and no other station."""

    history_changed = pyqtSignal()
    """Undo takes back something else here from now on."""
    title = ""
    order = 0
    """Its place in the order of the work; from 100 on it stands apart from it."""
    panel: Literal["", "beside", "instead"] = ""
    """Where its panel stands: none, sharing the centre with the easel, or in place of it."""
    panel_least = 0
    """Pixels that a panel beside the easel needs at least."""
    shows = Shows.NOTES
    """What stands on the value scale."""
    shows_marks = True
    compares = "nothing"
    """What the notes are shown against: "nothing", their "target", or also the "mixture" for it."""
    by_itself = False
    """Whether there is something to do here without picture and notes."""
    needs_strings = False
    """Whether strings are worked out while the painter is here."""
    sees_block_in = False
    """Whether the picture can be seen as its block-in here."""
    points_at_pile = False
    """Whether the small picture at the tray's foot shows where the pile in hand goes."""
    scene_changed = pyqtSignal()
    """The picture is seen as something else, or it stands elsewhere."""

    def __init__(self, session: Session, desk: Desk) -> None:
        super().__init__()
        self.session, self.desk, self.studio = session, desk, session.studio
        self._ordering = QTimer(self)
        self._ordering.setSingleShot(True)
        self._ordering.timeout.connect(self._put_in_order)
        self.active = False
        """Whether the painter is here."""
        self.scene = ""
        """What the picture is seen as: one of the keys of :meth:`scenes`; "" for the first."""
        self.side: QWidget | None = None
        """The panel in the centre, if any."""
        self.pages: Pages | None = None
        self.tray = Tray(self, (16, 10, 16, 3))
        self._building: Iterator[None] | None = None
        self.built = False
        """Whether tray and panel are there: they are made when the painter first comes, or when there is time."""
        self.prepare()

    def _put_in_order(self) -> None:
        tab_in_order(self)
        new = [w for w in self.findChildren(QWidget) if not w.property("orderly")]
        if new:  # controls came
            tips(self)
            guard(self)
        for w in new:
            w.setProperty("orderly", True)

    def event(self, a0: QEvent | None) -> bool:
        """Rows came or went: Tab goes through them as they stand now."""
        if a0 is not None and a0.type() == QEvent.Type.LayoutRequest and not self._ordering.isActive():
            self._ordering.start()
        return super().event(a0)

    @property
    def document(self) -> Document:
        return self.studio.document

    def prepare(self) -> None:
        """What there must be before the painter comes here: what the strip says of it, and what its keys act on."""

    def build(self) -> Iterator[None]:
        """Fill the tray, in pieces that each take less than a frame. What a page needs is loaded with it."""
        return iter(())

    def go_on_building(self) -> bool:
        """Build one more piece; False where all is there."""
        if self.built:
            return False
        if self._building is None:
            self._building = self.build()
        if next(self._building, self) is not self:
            return True
        self._building, self.built = None, True
        self.tray.rows.addStretch(1)
        self._put_in_order()
        self.studio.changed.connect(self.document_changed)
        return False

    def ready(self) -> None:
        """Build what is not there yet."""
        while self.go_on_building():
            pass

    def commands(self) -> list[Command]:
        """What can be done here by menu or key."""
        return []

    def history(self) -> QUndoStack:
        """What Undo takes back here."""
        return self.studio.undo

    def come(self) -> None:
        """Ask for this station, from wherever the painter is."""
        self.session.go.emit(self.title, "")

    # Coming and going

    def enter(self) -> None:
        """The painter comes here; all of it is built."""
        self.want()
        self.refresh()

    def leave(self) -> None:
        """The painter goes elsewhere."""

    def want(self) -> None:
        """Have worked out what is shown here, and nothing else."""
        laid = self.scene_now in (BLOCK_IN.key, MISSING.key)
        self.studio.strings.want(self.needs_strings or laid)
        self.session.laid.want(laid or self.points_at_pile, self.scene_now == MISSING.key)
        self.session.trying.want(self.choosing())

    def choosing(self) -> Choosing | None:
        """What is chosen by looking here, as things are."""
        return None

    # What the picture is seen as

    def scenes(self) -> Sequence[SceneWord]:
        """What the picture can be seen as here, the usual first; none where there is nothing to choose."""
        if not self.sees_block_in:
            return ()
        without = self.session.lacks("picture") or self.session.lacks("notes")
        return (PHOTO, *(replace(word, why_not=without) for word in (BLOCK_IN, MISSING)))

    @property
    def scene_now(self) -> str:
        """Key of what the picture is seen as; "" where there is nothing to choose."""
        words = self.scenes()
        there = [w.key for w in words if not w.why_not]
        return self.scene if self.scene in there else words[0].key if words else ""

    def see(self, scene: str) -> None:
        """See the picture as something else."""
        self.scene = scene
        if self.active:
            self.want()
            self.scene_changed.emit()

    def next_scene(self) -> None:
        """What comes next of what it can be seen as, round and round."""
        there = [w.key for w in self.scenes() if w.round and not w.why_not]
        if len(there) > 1:
            now = there.index(self.scene_now) if self.scene_now in there else -1
            self.see(there[(now + 1) % len(there)])

    def panel_now(self) -> Literal["", "beside", "instead"]:
        """Where the panel stands as things are."""
        return self.panel

    def refresh(self) -> None:
        """Show the document as it is."""

    def refresh_if_here(self) -> None:
        """Show what was worked out, where the painter is looking."""
        if self.active:
            self.refresh()

    def document_changed(self, old: Document, new: Document) -> None:
        self.refresh_if_here()

    def restyle(self) -> None:
        """The greys around the colours are others: what was drawn with the old ones is drawn anew."""

    def marked(self) -> Collection[str] | None:
        """Ids of the notes that are marked on the picture here; None for all that the filter shows."""
        return None

    def fill_scale(self) -> None:
        """Stand on the scale what is this station's own; the notes stand there already."""

    def done_words(self) -> str:
        """What is done here, in a few words, for the strip."""
        return ""

    # The easel

    def plane(self) -> Frame | None:
        """Another frame than the document's for the easel to show; None for the document's."""
        return None

    def cut(self) -> tuple[QRectF | None, float | None]:
        """A cut to lay over the picture, in pixels of what is shown, and the width over height that it keeps."""
        return None, None

    def drawn_scene(self, screen: Floats, view: View) -> Drawing | None:
        """The block-in where that is wanted and there, else what the station draws."""
        laid = self.session.laid
        scene = self.scene_now
        at_foot = self.points_at_pile and self.panel_now() == "instead"
        if (scene in (BLOCK_IN.key, MISSING.key) or at_foot) and laid.shown is not None and not view.before:
            from ochre_stone.desktop.easel.scenes import the_block_in

            held = self.session.piles.found()
            known = laid.missing
            missing = (known.found if known is not None else ()) if scene == MISSING.key and not at_foot else None
            alone = laid.alone or at_foot
            halves = laid.border is not None and scene == BLOCK_IN.key and not at_foot
            return the_block_in(laid.shown, screen, view, held[1].id if held else None, alone, missing, halves, at_foot)
        return self.drawing(screen, view)

    def drawing(self, screen: Floats, view: View) -> Drawing | None:
        """What the easel is to show instead of the picture, to be drawn off the main thread from the linear-light
        screen copy (h, w, 3); None for the picture."""
        return None

    def spot_clicked(self, x: float, y: float) -> None:
        """The picture was clicked at these pixels of the photo."""

    def drawn(self, name: str, points: list[tuple[float, float]]) -> None:
        """A tool of several points is done; points in pixels of the photo."""

    def mark_moved(self, note_id: str, x: float, y: float) -> None:
        """A note's mark was put down at these pixels of the photo."""

    def tool_dropped(self) -> None:
        """The painter put the tool away."""
