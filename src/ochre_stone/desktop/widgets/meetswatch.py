"""Two colours and what they make together, all three touching."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import paint_colour
from ochre_stone.desktop.widgets.touching import across, captions


class MeetSwatch(QWidget):
    """The first colour on the left, the second on the right, their mixture laid over both in the middle."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(84)
        self._labs: tuple[Lab, Lab, Lab] | None = None

    def show_meeting(self, first: Lab, mixed: Lab, second: Lab) -> None:
        self._labs = (first, mixed, second)
        self.setAccessibleName(f"{read(first).name} and {read(second).name} touching their mixture, {read(mixed).name}")
        self.update()

    def clear(self) -> None:
        """Show nothing."""
        self._labs = None
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 84)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._labs is None:
            return
        first, mixed, second = self._labs
        box = QRectF(self.rect()).adjusted(12, 12, -12, -12)
        half = box.width() / 2
        across(painter, box, (first, second))
        painter.setBrush(paint_colour(mixed))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(box.center(), half * 0.42, box.height() * 0.42)
        painter.setFont(theme.face(9))
        side = half * 0.55
        starts = (box.left(), box.center().x() - side / 2, box.right() - side)
        places = [QRectF(x, box.top(), side, box.height()) for x in starts]
        captions(painter, places, self._labs, [numbers.value(read(lab).value) for lab in self._labs])
