"""The strip of stations along the top, in the order of the work; each says in a few words what is done there."""

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.desktop.widgets import theme

_GAP = 22.0


class Strip(QWidget):
    """Names and words of the stations; the active one stands on an ochre line."""

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("strip")
        self.setFixedHeight(54)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Stations")
        self.names: list[str] = []
        self.words: list[str] = []
        self.active = 0
        self.apart = 0
        """How many at the end stand apart from the order of the work."""

    def name(self, names: list[str], apart: int) -> None:
        """Names of the stations, in their order; ``apart`` many at the end stand apart from it."""
        self.names, self.words, self.apart = names, [""] * len(names), apart

    def show_state(self, active: int, words: list[str]) -> None:
        self.active, self.words = active, words
        self.setAccessibleDescription("; ".join(f"{n}: {w}" for n, w in zip(self.names, words, strict=True)))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(900, 54)

    def cell(self, index: int) -> QRectF:
        """Where a station stands."""
        width = min((self.width() - _GAP) / len(self.names), 190)
        gap = _GAP if index >= len(self.names) - self.apart else 0.0
        return QRectF(10 + index * width + gap, 0, width, self.height())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            for i in range(len(self.names)):
                if self.cell(i).contains(event.position()):
                    self.chosen.emit(i)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = 1 if event.key() == Qt.Key.Key_Right else -1
            self.chosen.emit(min(max(self.active + step, 0), len(self.names) - 1))
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("deep"))
        for i, (name, words) in enumerate(zip(self.names, self.words, strict=True)):
            cell = self.cell(i)
            here = i == self.active
            painter.setFont(theme.face(12, bold=here))
            painter.setPen(theme.colour("text" if here else "quiet"))
            painter.drawText(
                cell.adjusted(8, 7, -6, -24),
                Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                f"{i + 1}  {name}",
            )
            painter.setFont(theme.face(9))
            painter.setPen(theme.colour("quiet"))
            short = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, cell.width() - 14)
            painter.drawText(
                cell.adjusted(8, 28, -4, -4),
                Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                short,
            )
            if here:
                painter.fillRect(
                    QRectF(cell.left() + 8, cell.bottom() - 3, cell.width() - 22, 3), theme.colour("accent")
                )
                if self.hasFocus():
                    painter.setPen(QPen(theme.colour("accent"), 1))
                    painter.drawRoundedRect(cell.adjusted(2, 2, -8, -5), 4, 4)
