"""The strip of stations along the top, in the order of the work; each says in a few words what is done there."""

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen

from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items

_GAP = 22.0


class Strip(Items):
    """Names and words of the stations; the active one stands on an ochre line."""

    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__("Stations")
        self.setObjectName("strip")
        self.fit()
        self.names: list[str] = []
        self.words: list[str] = []
        self.active = 0
        self.taken.connect(lambda i: self.chosen.emit(int(i)))
        self.apart = 0
        """How many at the end stand apart from the order of the work."""

    def fit(self) -> None:
        """As high as its two lines of text need."""
        self.setFixedHeight(theme.sized(54))

    def name(self, names: list[str], apart: int) -> None:
        """Names of the stations, in their order; ``apart`` many at the end stand apart from it."""
        self.names, self.words, self.apart = names, [""] * len(names), apart

    def show_state(self, active: int, words: list[str]) -> None:
        self.active, self.words = active, words
        self.setAccessibleDescription("; ".join(f"{n}: {w}" for n, w in zip(self.names, words, strict=True)))
        self.set_items(
            [Item(str(i), f"{i + 1} {n}", w) for i, (n, w) in enumerate(zip(self.names, words, strict=True))]
        )
        self.hold(str(active))

    def boxes(self) -> list[QRectF]:
        return [self.cell(i) for i in range(len(self.names))]

    def sizeHint(self) -> QSize:
        return QSize(900, theme.sized(54))

    def cell(self, index: int) -> QRectF:
        """Where a station stands."""
        width = min((self.width() - _GAP - 12) / max(len(self.names), 1), 190)
        gap = _GAP if index >= len(self.names) - self.apart else 0.0
        return QRectF(10 + index * width + gap, 0, width, self.height())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = 1 if event.key() == Qt.Key.Key_Right else -1
            self.chosen.emit(min(max(self.active + step, 0), len(self.names) - 1))
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("deep"))
        for i, (name, words) in enumerate(zip(self.names, self.words, strict=True)):
            cell = self.cell(i)
            here = i == self.active
            painter.setFont(theme.face(12, bold=here))
            painter.setPen(theme.colour("text" if here else "quiet"))
            painter.drawText(
                QRectF(cell.left() + 8, theme.sized(5), cell.width() - 14, theme.sized(24)),
                Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                f"{i + 1}  {name}",
            )
            painter.setFont(theme.face(9))
            painter.setPen(theme.colour("quiet"))
            short = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, cell.width() - 14)
            painter.drawText(
                QRectF(cell.left() + 8, theme.sized(28), cell.width() - 12, theme.sized(20)),
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
