"""What lies over the easel while it shows the block-in: a click takes the pile of a place, or what is missing there."""

from PyQt6.QtCore import QEvent, QObject, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.placing.numbers import NumberSpot
from ochre_stone.core.planning.blockin import LaidIn
from ochre_stone.core.planning.lacking import Lacking
from ochre_stone.desktop.easel.view import EaselView
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.laidwork import LaidWork
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.parts import set_tip
from ochre_stone.desktop.widgets.shapes import ink_on

_NAMES_FROM = 500.0
"""Pixels across from which shapes carry their names."""
_WORDS_FROM, _SIZE, _EDGE = 300, 10.5, 10
"""Height from which words stand under the picture; their size in points; pixels kept free beside them."""
_LINE, _RING, _NEAR = 26, 12.0, 8.0
_STEP = 0.02
_SHORTEST = 0.75


class LaidCover(Items):
    """See-through; the easel under it shows the picture. Arrows go from pile to pile, Ctrl with left and right moves
    the border to the photo."""

    pointed = pyqtSignal(str)
    """The pile under the pointer and its recipe, in words; "" off the picture."""

    def __init__(self, easel: EaselView, work: LaidWork) -> None:
        super().__init__("The block-in: the picture in the plan's piles", easel)
        self.easel, self.work = easel, work
        self.setStyleSheet("background: transparent;")
        self.viewport_().setAutoFillBackground(False)
        self._laid: LaidIn | None = None
        self._missing: tuple[Lacking, ...] | None = None
        self.spots: tuple[NumberSpot, ...] = ()
        self._halves = False
        self._pressed: QPoint | None = None
        self._drags = ""
        self.taken.connect(self._took)
        easel.installEventFilter(self)
        self.hide()

    @property
    def small(self) -> bool:
        """Whether there is no room for words: they would be noise."""
        return self.easel.picture_box().width() < _NAMES_FROM and self.easel.height() < _WORDS_FROM

    def show_laid(self, laid: LaidIn | None, missing: tuple[Lacking, ...] | None, halves: bool) -> None:
        """A block-in, and what is missing in it where that is shown, or the photo at its left; None: the easel shows
        something else."""
        self._halves = halves
        if laid is None:
            self._laid = self._missing = None
            self.hide()
            self._make_room()
            return
        self._laid, self._missing, self.spots = laid, missing, laid.spots
        self.setAccessibleDescription(self.work.words())
        if missing is None:
            shares = laid.shares
            piles = [laid.piles[s.pile][0] for s in self.spots if s.largest]
            self.set_items(
                [Item(p.id, p.name, f"{shares[p.id]:.0%}, value {numbers.value(p.target.value)}") for p in piles]
            )
            held = self.work.piles.found()
            self.hold(self._first_of(held[1].id if held is not None else None))
        else:
            self.set_items([Item(str(k), one.name, one.words) for k, one in enumerate(missing)])
            self.hold(str(self.work.missed))
        self.setGeometry(self.easel.rect())
        self.show()
        self._make_room()
        self.update()

    def _make_room(self) -> None:
        below = 0
        if not self.isHidden() and self.easel.height() >= _WORDS_FROM:
            words = QFontMetricsF(theme.face(_SIZE)).horizontalAdvance(self._caption())
            below = _LINE if words < self.easel.width() - 2 * _EDGE else round(1.7 * _LINE)
        self.easel.below, self.easel.border = below, self.border
        self.easel.covered = not self.isHidden()
        self.easel.setFocusProxy(self if not self.isHidden() else None)
        self.easel.update()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Resize and not self.isHidden():
            self.setGeometry(self.easel.rect())
            self._make_room()
        return super().eventFilter(watched, event)

    def _first_of(self, pile_id: str | None) -> str | None:
        """The pile that stands for one of its colour."""
        groups = self._laid.piles if self._laid is not None else ()
        return next((g[0].id for g in groups if any(p.id == pile_id for p in g)), None)

    def _took(self, item_id: str) -> None:
        if self._missing is None:
            self.work.piles.choose(item_id)
        else:
            self.work.choose_missed(int(item_id))

    # Where things lie

    def place(self, x: float, y: float) -> QPointF:
        """Where a place, given as shares of width and height, lies on the screen."""
        box = self.easel.picture_box()
        x = 1 - x if self.easel.flip else x
        return QPointF(box.left() + x * box.width(), box.top() + y * box.height())

    def share(self, at: QPointF) -> tuple[float, float] | None:
        """The place under a point of the screen, as shares; None off the picture."""
        box = self.easel.picture_box()
        if not box.contains(at):
            return None
        x = (at.x() - box.left()) / box.width()
        return 1 - x if self.easel.flip else x, (at.y() - box.top()) / box.height()

    def boxes(self) -> list[QRectF]:
        if self._missing is not None:
            middles = [self.place(one.x, one.y) for one in self._missing]
        else:
            middles = [self.place(s.x, s.y) for s in self.spots if s.largest]
        return [QRectF(m.x() - _RING, m.y() - _RING, 2 * _RING, 2 * _RING) for m in middles]

    @property
    def border(self) -> float | None:
        """Where the photo meets the block-in, as a share of the width as it is seen; None where it is not shown."""
        return self.work.border if self._halves and not self.isHidden() else None

    def _border_at(self) -> float | None:
        box, border = self.easel.picture_box(), self.border
        return box.left() + border * box.width() if border is not None else None

    def pile_at(self, at: QPointF) -> Pile | None:
        """The pile of a place on the screen."""
        found = self.share(at)
        return self._laid.at(*found) if found is not None and self._laid is not None else None

    def at(self, place: QPoint) -> str | None:
        """Id of the pile, or of what is missing, at a place."""
        if self._missing is None:
            found = self.pile_at(place.toPointF())
            return found.id if found is not None else None
        own, share = super().at(place), self.share(place.toPointF())
        if own is not None or share is None:
            return own
        for k, one in enumerate(self._missing):
            h, w = one.place.where.shape
            if one.place.where[min(int(share[1] * h), h - 1), min(int(share[0] * w), w - 1)]:
                return str(k)
        return None

    # The mouse and the keys

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        self._pressed, border = e.position().toPoint(), self._border_at()
        self._drags = "border" if border is not None and abs(e.position().x() - border) < _NEAR else ""

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        """What lies under the pointer is told; dragging moves the border, or the picture."""
        if e is None:
            return
        at, border = e.position(), self._border_at()
        if self._drags == "border":
            box = self.easel.picture_box()
            self._move_border((at.x() - box.left()) / box.width())
        elif self._pressed is not None:
            step = at.toPoint() - self._pressed
            if self._drags or step.manhattanLength() > 5:
                self._drags = "picture"
                self.easel.move_by(step.toPointF())
                self._pressed = at.toPoint()
                self.update()
        else:
            on_border = border is not None and abs(at.x() - border) < _NEAR
            shape = Qt.CursorShape.SplitHCursor if on_border else Qt.CursorShape.ArrowCursor
            self.viewport_().setCursor(shape)
            self._tell(at)

    def _tell(self, at: QPointF) -> None:
        pile, item = self.pile_at(at), self.at(at.toPoint())
        words = ""
        if self._missing is not None and item is not None:
            one = self._missing[int(item)]
            words = f"{one.name}: {one.words}"
        elif pile is not None:
            recipe = ", ".join(i.said for i in pile.recipe.ingredients)
            words = f"{pile.name}, value {numbers.value(pile.target.value)}: {recipe}"
        set_tip(self.viewport_(), words)
        self.pointed.emit(words)

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        pressed, dragged = self._pressed, self._drags
        self._pressed, self._drags = None, ""
        if e is None or pressed is None or dragged:
            return
        found = self.at(pressed)
        if found is not None and self._missing is None:
            self.take(self._first_of(found) or found)
        elif found is not None:
            self.take(found)

    def leaveEvent(self, event: QEvent | None) -> None:
        self.pointed.emit("")
        super().leaveEvent(event)

    def _move_border(self, share: float) -> None:
        self.work.border = self.easel.border = min(max(share, 0.0), 1.0)
        self.easel.update()
        self.update()

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        """An arrow goes to the nearest pile that way."""
        if e is None:
            return
        ways = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        key = Qt.Key(e.key())
        if self.border is not None and key in ways and e.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._move_border(self.border + ways[key] * _STEP)
        elif not self.walk(e):
            super().keyPressEvent(e)

    # Drawing

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._laid is None:
            return
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = self.easel.picture_box()
        if self._missing is not None:
            self._paint_missing(painter)
        elif not self.small and not self.work.alone:
            self._paint_names(painter, box)
        border = self._border_at()
        if border is not None:
            self._paint_border(painter, box, border)
        if self.easel.below:
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(_SIZE))
            high = self.easel.below
            top = min(box.bottom(), self.height() - high - 2) + 3
            below = QRectF(_EDGE, top, self.width() - 2 * _EDGE, high)
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self._caption())
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _caption(self) -> str:
        if self._missing is None:
            return self.work.words()
        one, found = self.work.missed_one(), self.work.missing
        if one is not None:
            return f"{one.name}: {one.words}."
        if found is None:
            return "What is missing is being looked for."
        beyond = f" {found.words}" if found.words else ""
        if not found.found:
            return f"Nothing that a note would mend.{beyond}"
        return f"Choose a place: a note there is worth a pile.{beyond}"

    def _paint_names(self, painter: QPainter, box: QRectF) -> None:
        """The pile's name on each shape that has room for it, else its number in the order of mixing."""
        assert self._laid is not None
        border = self._border_at()
        face = theme.face(9)
        bold = theme.face(9, bold=True)
        measure = QFontMetricsF(face)
        for s in self.spots:
            pile = self._laid.piles[s.pile][0]
            at, free = self.place(s.x, s.y), s.room * box.width()
            if free < _SHORTEST * measure.height() or (border is not None and at.x() < border):
                continue
            named = s.largest and measure.horizontalAdvance(pile.name) < 1.9 * free
            painter.setFont(face if named else bold)
            painter.setPen(ink_on(pile.recipe.lab))
            room = QRectF(at.x() - 100, at.y() - 10, 200, 20)
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, pile.name if named else str(pile.order))

    def _paint_missing(self, painter: QPainter) -> None:
        """A number on each place that is missing, the one in hand in the accent."""
        assert self._missing is not None
        painter.setFont(theme.face(9, bold=True))
        for k in range(len(self._missing)):
            held = k == self.work.missed
            at = self.boxes()[k]
            painter.setBrush(theme.colour("text" if not held else "accent"))
            painter.setPen(QPen(theme.colour("deep"), 1.5))
            painter.drawEllipse(at)
            painter.setPen(theme.colour("deep" if not held else "accent_text"))
            if not self.small:
                painter.drawText(at, Qt.AlignmentFlag.AlignCenter, str(k + 1))

    def _paint_border(self, painter: QPainter, box: QRectF, x: float) -> None:
        """The line between photo and block-in, with a grip; nothing between the colours but a hair."""
        top, bottom = max(box.top(), 0.0), min(box.bottom(), float(self.height()))
        painter.setPen(QPen(theme.colour("text"), 1))
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        grip = QRectF(x - 7, (top + bottom) / 2 - 18, 14, 36)
        painter.setBrush(theme.colour("deep"))
        painter.drawRoundedRect(grip, 5, 5)
