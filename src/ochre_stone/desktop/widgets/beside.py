"""Colours beside colours: a note on several surrounds, and two notes as halves that touch."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.desktop import numbers, theme
from ochre_stone.desktop.widgets.shapes import Lab, dab, halves, ink_on, paint_colour

_WORDS = 17


class SurroundSwatch(QWidget):
    """The same colour on each of several grounds, touching them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(92)
        self._lab: Lab | None = None
        self._grounds: list[tuple[str, Lab]] = []

    def show_note(self, lab: Lab, grounds: list[tuple[str, Lab]]) -> None:
        """A colour, and the grounds with a word for each."""
        self._lab, self._grounds = lab, grounds
        self.setAccessibleName(
            f"{read(lab).name} " + ", ".join(f"{words}: {read(ground).name}" for words, ground in grounds)
        )
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 92)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._lab is None or not self._grounds:
            return
        wide = self.width() / len(self._grounds)
        painter.setFont(theme.face(8.5))
        for i, (words, ground) in enumerate(self._grounds):
            box = QRectF(round(i * wide), 0, round((i + 1) * wide) - round(i * wide), self.height() - _WORDS)
            painter.fillRect(box, paint_colour(ground))
            side = min(box.width(), box.height()) * 0.44
            spot = QRectF(box.center().x() - side / 2, box.center().y() - side / 2, side, side)
            painter.fillPath(dab("surround", spot), paint_colour(self._lab))
            painter.setPen(theme.colour("on_surround"))
            painter.drawText(
                QRectF(box.left(), self.height() - _WORDS, box.width(), _WORDS), Qt.AlignmentFlag.AlignCenter, words
            )


class HalvesSwatch(QWidget):
    """Two colours as the halves of one shape, without a gap."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(76)
        self._pair: tuple[Lab, Lab, str, str] | None = None

    def show_pair(self, upper: Lab, lower: Lab, upper_name: str, lower_name: str) -> None:
        self._pair = (upper, lower, upper_name, lower_name)
        self.setAccessibleName(f"{upper_name}, {read(upper).name}, touching {lower_name}, {read(lower).name}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 76)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._pair is None:
            return
        upper, lower, upper_name, lower_name = self._pair
        box = QRectF(self.rect()).adjusted(12, 8, -12, -8)
        halves(painter, dab("halves", box), upper, lower)
        painter.setFont(theme.face(9))
        metrics = QFontMetricsF(painter.font())
        for name, lab, place in ((upper_name, upper, 0.28), (lower_name, lower, 0.72)):
            painter.setPen(ink_on(lab))
            words = metrics.elidedText(name, Qt.TextElideMode.ElideRight, box.width() * 0.55)
            at = QRectF(box.left(), box.top() + box.height() * place - 9, box.width(), 18)
            painter.drawText(at, Qt.AlignmentFlag.AlignCenter, f"{words}  {numbers.value(read(lab).value)}")
