"""The picture at the easel: where the pile in hand goes, the whole block-in, what is missing, the photo, and the canvas
as it is laid in."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, QRectF, pyqtSignal
from PyQt6.QtGui import QImage, QPainter

from ochre_stone.core.picture.views import View
from ochre_stone.desktop.easel.marks import paint_labels
from ochre_stone.desktop.easel.scenes import Drawing, DrawnScene, the_block_in, the_picture
from ochre_stone.desktop.session.laying import stage_words
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.widgets.image import to_image

SCENES = ("", "places", "block-in", "missing", "photo", "laying")
"""What one key goes through; "" is the recipe in huge type."""


class EaselPicture(QObject):
    """What is seen in place of the recipe, drawn off the main thread."""

    changed = pyqtSignal()

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self.session, self.studio, self.laid = session, session.studio, session.laid
        self.scene = ""
        self.stage = 0
        """How many piles are laid in, where it is laid in."""
        self._image: QImage | None = None
        self._drawn_of: object = None
        self._labels: tuple[tuple[float, float, str, bool], ...] = ()
        self.laid.changed.connect(self.refresh)
        session.laying.changed.connect(self.refresh)

    def next(self) -> None:
        """The next of the scenes, round and round; without a picture there is but the recipe."""
        if self.studio.picture is None:
            self.scene = ""
        else:
            self.scene = SCENES[(SCENES.index(self.scene) + 1) % len(SCENES)]
        self.stage = 0
        self._ask()

    def close(self) -> None:
        """Back to the recipe; nothing is worked out for the easel any more."""
        self.scene, self._image, self._drawn_of = "", None, None

    def _ask(self) -> None:
        self.laid.want(self.scene not in ("", "photo"), self.scene == "missing")
        if self.scene == "laying":
            self.session.laying.ask()
        self.refresh()

    def step(self, way: int) -> bool:
        """One pile more or less on the canvas, where it is laid in; whether that is what is seen."""
        if self.scene != "laying":
            return False
        most = max(len(self.session.laying.stages) - 1, 0)
        self.stage = min(max(self.stage + way, 0), most)
        self.refresh()
        return True

    # What is seen

    def refresh(self) -> None:
        """Have the scene drawn, where it is another."""
        if not self.scene:
            return
        draw, key = self._drawing()
        if key == self._drawn_of:
            self.changed.emit()
            return
        self._drawn_of = key
        if draw is None:
            self._image, self._labels = None, ()
            self.changed.emit()
            return

        def arrived(found: DrawnScene) -> None:
            if self._drawn_of == key:
                self._image = found.image
                missing = found.missing or ()
                self._labels = tuple((one.x, one.y, str(k), one.place.lab[0] < 55) for k, one in enumerate(missing, 1))
                self.changed.emit()

        self.studio.jobs.start("easel picture", lambda _: draw(), arrived, self.studio.failed.emit)

    def _drawing(self) -> tuple[Drawing | None, object]:
        screen, seen, view = self.studio.measuring.screen, self.studio.seen, View()
        if screen is None or seen is None:
            return None, None
        if self.scene == "photo":
            return the_picture(seen, screen, self.studio.document, view, None), ("photo", id(screen))
        if self.scene == "laying":
            stages = self.session.laying.stages
            if not stages:
                return None, "no stages"
            pixels = stages[min(self.stage, len(stages) - 1)].image
            return lambda: DrawnScene(to_image(pixels), screen), ("laying", id(pixels))
        found, held = self.laid.shown, self.session.piles.found()
        if found is None:
            return None, "nothing laid in"
        known, mine = self.laid.missing, held[1].id if held is not None else None
        missing = (known.found if known is not None else ()) if self.scene == "missing" else None
        draw = the_block_in(found, screen, view, mine, self.scene == "places", missing)
        return draw, (self.scene, id(found), mine, id(known))

    def lines(self, where: str) -> list[str]:
        """What is said beside it; ``where``: which pile is in hand, of how many."""
        found, held, needed = self.laid.shown, self.session.piles.found(), self.session.piles.needed()
        if self.scene == "photo":
            return ["The photo"]
        if self.scene == "laying":
            stages = self.session.laying.stages
            if not stages:
                return ["Laying in", "It is being worked out."]
            at = min(self.stage, len(stages) - 1)
            return [stage_words(stages, at), stages[at].words]
        if found is None or held is None:
            return [where, self.laid.words()]
        if self.scene == "places":
            pile, share = held[1].id, found.shares.get(held[1].id, 0.0)
            ml = f", {needed.piles[pile]:.1f} ml" if needed is not None and pile in needed.piles else ""
            covers = f"{share:.0%} of the picture" if share >= 0.01 else "Under 1% of the picture"
            covers = covers if share else "No place is its own"
            return [where, f"{covers}{ml}"]
        if self.scene == "block-in":
            return [where, self.laid.words()]
        missing = self.laid.missing
        if missing is None:
            return ["What is missing", "It is being looked for."]
        listed = [f"{k} {one.name}" for k, one in enumerate(missing.found, 1)]
        return ["What is missing", *(listed or ["Nothing that a note would mend."])]

    def paint(self, painter: QPainter, room: QRectF, write: Callable[[QRectF], None]) -> None:
        """The picture at the left of a room, and what ``write`` writes at its right."""
        left = QRectF(room.left(), room.top(), room.width() * 0.64, room.height())
        if self._image is not None:
            w, h = self._image.width(), self._image.height()
            scale = min(left.width() / w, left.height() / h)
            box = QRectF(0, 0, w * scale, h * scale)
            box.moveCenter(left.center())
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(box, self._image)
            if self._labels:
                paint_labels(painter, box, self._labels)
        write(QRectF(left.right() + 24, room.top(), room.width() - left.width() - 24, room.height()))
