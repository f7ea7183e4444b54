"""How to photograph the palette: four lines and a picture."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.desktop.widgets import theme

LINES = (
    "Daylight without sun, from straight above; the whole palette, and a hand's breadth about it.",
    "A grey card with a white border on the palette, clear of the piles (a white palette can do without).",
    "Darker, until the white border is not burnt out; the phone's own white balance stays on.",
    "Piles a finger apart, about where the plan has them; no smear wider than a finger.",
)
_PILES = (
    (0.16, 0.34, 232), (0.36, 0.30, 205), (0.58, 0.36, 190), (0.20, 0.60, 140), (0.42, 0.58, 120), (0.30, 0.84, 62),
    (0.56, 0.82, 40),
)  # fmt: skip
"""Of the drawing: place as shares of the palette, and grey."""


class HowToView(QWidget):
    """The palette from above with all that has to be in the photo."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(QSize(360, 250))
        self.setAccessibleName("How to photograph the palette")
        self.setAccessibleDescription(" ".join(LINES))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        frame = QRectF(self.rect()).adjusted(24, 20, -24, -20)
        wide = min(frame.width(), frame.height() * 4 / 3)
        frame = QRectF(frame.center().x() - wide / 2, frame.center().y() - wide * 3 / 8, wide, wide * 3 / 4)
        painter.setPen(QPen(theme.colour("on_surround"), 1.5, Qt.PenStyle.DashLine))
        painter.drawRect(frame)
        board = frame.adjusted(wide * 0.11, wide * 0.10, -wide * 0.11, -wide * 0.10)
        painter.setPen(QPen(QColor("#303030"), 1.5))
        painter.setBrush(QColor("#b9b9b9"))
        painter.drawRoundedRect(board, 8, 8)
        for x, y, grey in _PILES:
            at = QPointF(board.left() + x * board.width(), board.top() + y * board.height())
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(0, 0, 0, 60))
            painter.drawEllipse(at + QPointF(3, 3), wide * 0.042, wide * 0.036)
            painter.setBrush(QColor(grey, grey, grey))
            painter.drawEllipse(at, wide * 0.042, wide * 0.036)
        card = QRectF(
            board.right() - board.width() * 0.26,
            board.bottom() - board.height() * 0.34,
            board.width() * 0.21,
            board.height() * 0.26,
        )
        painter.setBrush(QColor("#ffffff"))
        painter.drawRect(card)
        painter.setBrush(QColor("#777777"))
        rim = card.width() * 0.13
        painter.drawRect(card.adjusted(rim, rim, -rim, -rim))
        self._name(painter, frame, board, card)

    def _name(self, painter: QPainter, frame: QRectF, board: QRectF, card: QRectF) -> None:
        """The numbers of the lines, where they belong."""
        painter.setFont(theme.face(12, bold=True))
        places = (
            QPointF(frame.left() + 14, frame.top() + 16),
            QPointF(card.left() - 16, card.center().y()),
            QPointF(card.right() - 10, card.top() - 14),
            QPointF(board.left() + board.width() * 0.27, board.top() + board.height() * 0.32),
        )
        for number, at in enumerate(places, 1):
            painter.setPen(QPen(QColor("#1a1a1a"), 1))
            painter.setBrush(theme.colour("accent"))
            painter.drawEllipse(at, 10, 10)
            painter.setPen(theme.colour("accent_text"))
            painter.drawText(QRectF(at.x() - 10, at.y() - 10, 20, 20), Qt.AlignmentFlag.AlignCenter, str(number))
