"""The light of the scene as a painter thinks of it: from lamp to open sky, toward green or violet, on one field."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.picture.balance import LEAST_KELVIN, MOST_KELVIN, MOST_TINT, NEUTRAL_KELVIN
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.parts import set_tip

WARMEST, COOLEST = round(1e6 / LEAST_KELVIN), round(1e6 / MOST_KELVIN)
"""Ends of the field in mired, which lie even to the eye where kelvin do not."""
DAYLIGHT = round(1e6 / NEUTRAL_KELVIN)
_LIGHTS = ((2000.0, "candle"), (2900.0, "lamp"), (NEUTRAL_KELVIN, "day"), (12000.0, "open sky"))
"""Colour temperatures of common lights (common practice, no source)."""


def light_words(mired: int, tint: int) -> str:
    """Where the light stands, in words."""
    kelvin = 1e6 / mired
    near = min(_LIGHTS, key=lambda v: abs(1e6 / v[0] - mired))[1]
    said = "daylight" if mired == DAYLIGHT else f"{round(kelvin / 10) * 10:.0f} K, nearest to {near}"
    return f"{said}, {abs(tint)} toward {'green' if tint > 0 else 'violet'}" if tint else said


class LightField(Items):
    """A field with one mark: left is lamp light, right the open sky, up is greener, down more violet.

    Drag the mark, or move it by arrow keys (Shift is finer); a double click or Home brings daylight back.
    """

    moved = pyqtSignal(int, int)
    """Mired of the light, and its tint (.001 Duv, above 0 greener)."""

    def __init__(self) -> None:
        super().__init__("The light of the scene, from lamp to open sky and from violet to green")
        self.mired, self.tint = DAYLIGHT, 0
        self._dragged = False
        self.setMinimumHeight(150)
        set_tip(self, "Where the light came from: drag the mark, or use the arrow keys; Home is daylight")
        self.set_light(DAYLIGHT, 0)

    def sizeHint(self) -> QSize:
        return QSize(300, theme.sized(170))

    def set_light(self, mired: int, tint: int) -> None:
        """Show a light; nothing is told."""
        self.mired = min(max(mired, COOLEST), WARMEST)
        self.tint = min(max(tint, -int(MOST_TINT)), int(MOST_TINT))
        self.set_items([Item("light", "light of the scene", light_words(self.mired, self.tint))])
        self.hold("light")

    # Where it stands

    def _field(self) -> QRectF:
        line = theme.sized(20)
        return QRectF(self.rect()).adjusted(10, line, -10, -line - 2)

    def _x(self, mired: float) -> float:
        f = self._field()
        return f.left() + (WARMEST - mired) / (WARMEST - COOLEST) * f.width()

    def mark(self) -> QPointF:
        """Where the mark is."""
        f = self._field()
        return QPointF(self._x(self.mired), f.center().y() - self.tint / MOST_TINT * f.height() / 2)

    def boxes(self) -> list[QRectF]:
        at = self.mark()
        return [QRectF(at.x() - 10, at.y() - 10, 20, 20)]

    # Hands

    def _go(self, mired: float, tint: float) -> None:
        before = self.mired, self.tint
        self.set_light(round(mired), round(tint))
        if (self.mired, self.tint) != before:
            self.moved.emit(self.mired, self.tint)

    def _to(self, at: QPointF) -> None:
        f = self._field()
        mired = WARMEST - (at.x() - f.left()) / f.width() * (WARMEST - COOLEST)
        self._go(mired, (f.center().y() - at.y()) / (f.height() / 2) * MOST_TINT)

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and self.isEnabled():
            self._dragged = True
            self._to(e.position())

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and self._dragged:
            self._to(e.position())

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        self._dragged = False

    def mouseDoubleClickEvent(self, e: QMouseEvent | None) -> None:
        self._go(DAYLIGHT, 0)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None:
            return
        step = 1 if e.modifiers() & Qt.KeyboardModifier.ShiftModifier else 5
        moves = {Qt.Key.Key_Left: (step, 0), Qt.Key.Key_Right: (-step, 0), Qt.Key.Key_Up: (0, step),
                 Qt.Key.Key_Down: (0, -step)}  # fmt: skip
        key = Qt.Key(e.key())
        if key in moves:
            self._go(self.mired + moves[key][0], self.tint + moves[key][1])
        elif key == Qt.Key.Key_Home:
            self._go(DAYLIGHT, 0)
        else:
            e.ignore()

    # Drawing

    def paintEvent(self, e: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        f, ink = self._field(), theme.colour("on_surround")
        faint = theme.colour("on_surround")
        faint.setAlpha(110)
        painter.setPen(QPen(faint, 1))
        painter.drawRect(f)
        painter.drawLine(QPointF(f.left(), f.center().y()), QPointF(f.right(), f.center().y()))
        painter.setFont(theme.face(9))
        wide = theme.sized(60)
        for kelvin, word in _LIGHTS:
            x = self._x(1e6 / kelvin)
            painter.setPen(QPen(faint, 1))
            painter.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()))
            left = min(max(x - wide / 2, 2.0), self.width() - wide - 2.0)
            align = Qt.AlignmentFlag.AlignCenter
            if left > x - wide / 2:
                align = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
            elif left < x - wide / 2:
                align = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.setPen(ink)
            painter.drawText(QRectF(left, f.bottom() + 1, wide, theme.sized(19)), align, word)
        top = QRectF(f.left(), 1, f.width(), theme.sized(18))
        painter.drawText(top, Qt.AlignmentFlag.AlignVCenter, "greener above, more violet below")
        at = self.mark()
        held = self.hasFocus()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("deep"), 4.5))
        painter.drawEllipse(at, 7, 7)
        painter.setPen(QPen(theme.colour("accent") if held else ink, 2.4))
        painter.drawEllipse(at, 7, 7)
